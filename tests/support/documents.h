#pragma once

#include <gtest/gtest.h>

#include "core/operations/registry.h"
#include "tests/support/shapes.h"

namespace pivrak::test {

inline PartId add_part(Document& document, const std::string& name, PartId parent = {},
                       const Frame& rest = {}) {
    Part part;
    part.id = document.new_id<PartId>();
    part.name = name;
    part.parent = parent;
    part.parent_from_rest = rest;
    document.parts.set(part);
    return part.id;
}

inline PartId add_shaped(Document& document, const std::string& name, Mesh mesh, PartId parent = {},
                         const Frame& rest = {}) {
    const ShapeId shape = document.new_id<ShapeId>();
    document.shapes.set(make_shape(shape, name, std::move(mesh)));
    const PartId id = add_part(document, name, parent, rest);
    Part part = *document.parts.find(id);
    part.shape = shape;
    document.parts.set(part);
    return id;
}

inline void make_hinge(Document& document, PartId id, int axis = 2, double value = 0) {
    Part part = *document.parts.find(id);
    part.joint.kind = JointKind::Hinge;
    part.joint.axis = axis;
    part.joint.turn.value = value;
    document.parts.set(part);
}

inline void couple(Document& document, PartId driver, PartId driven, int driver_teeth, int driven_teeth,
                   double phase = 0) {
    document.couplings.set({document.new_id<CouplingId>(), GearPair{{driver, ChannelKind::Turn},
                                                                    {driven, ChannelKind::Turn},
                                                                    driver_teeth,
                                                                    driven_teeth,
                                                                    phase,
                                                                    false}});
}

inline void key(Document& document, PartId part, std::vector<Key> keys) {
    Clip clip = clip_or_first(document);
    clip.track_or_new({part, ChannelKind::Turn}).keys = std::move(keys);
    document.clips.set(clip);
}

inline PartId named(const Document& document, const std::string& name) {
    const auto found = find_part(document, name);
    EXPECT_TRUE(found.ok()) << name;
    return found ? *found : PartId{};
}

/// Runs a step that is expected to work, and answers the document after it.
inline Document run(const Document& document, const nlohmann::json& step) {
    const auto outcome = make_registry().run(document, step);
    EXPECT_TRUE(outcome.ok()) << step.dump() << "\n" << (outcome ? "" : outcome.error().message);
    return outcome ? outcome->document : document;
}

/// Runs a step that is expected to be refused, and answers the refusal.
inline Error refusal(const Document& document, const nlohmann::json& step) {
    const auto outcome = make_registry().run(document, step);
    EXPECT_FALSE(outcome.ok()) << step.dump();
    return outcome ? Error{} : outcome.error();
}

/// Runs a step that is expected to find nothing to do, and answers what it says.
inline std::string nothing_done(const Document& document, const nlohmann::json& step) {
    const auto outcome = make_registry().run(document, step);
    EXPECT_TRUE(outcome.ok()) << step.dump() << "\n" << (outcome ? "" : outcome.error().message);
    if (!outcome) return "";
    EXPECT_TRUE(outcome->unchanged) << step.dump();
    EXPECT_TRUE(outcome->document == document);
    EXPECT_EQ(outcome->messages.size(), 1u);
    return outcome->messages.empty() ? "" : outcome->messages.front();
}

/// World places of every vertex of every part, at rest.
inline std::vector<Vec3> vertex_places(const Document& document) {
    std::vector<Vec3> places;
    for (const Part& part : document.parts) {
        const Shape* shape = document.shapes.find(part.shape);
        if (!shape) continue;
        const Frame world = world_from_rest(document, part.id) * part.part_from_shape;
        for (const Vec3f& p : shape->mesh->positions) places.push_back(world.point(p.cast<double>()));
    }
    return places;
}

inline double largest_move(const std::vector<Vec3>& a, const std::vector<Vec3>& b) {
    EXPECT_EQ(a.size(), b.size());
    double largest = a.size() == b.size() ? 0 : 1e300;
    for (std::size_t i = 0; i < std::min(a.size(), b.size()); ++i)
        largest = std::max(largest, (a[i] - b[i]).norm());
    return largest;
}

}  // namespace pivrak::test
