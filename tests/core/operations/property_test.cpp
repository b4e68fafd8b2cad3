// Random edits of random trees: nothing moves that should not, frames stay rigid, undo gives equal documents.
#include <gtest/gtest.h>

#include <map>
#include <random>

#include "core/io/project/project_file.h"
#include "core/motion/evaluator.h"
#include "core/operations/history.h"
#include "tests/support/documents.h"

namespace pivrak {
namespace {

using nlohmann::json;

class Edits {
public:
    explicit Edits(unsigned seed) : random_(seed) {}

    Document random_tree() {
        Document d = empty_document();
        std::vector<PartId> parts;
        for (int i = 0; i < 24; ++i) {
            const PartId parent = parts.empty() || chance(0.2) ? PartId{} : parts[pick(parts.size())];
            const Frame rest{
                Quat(Eigen::AngleAxisd(3 * share(), Vec3(share(), share(), share() + 1.5).normalized())),
                Vec3(share(), share(), share())};
            const std::string name = fmt::format("part {}", i);
            parts.push_back(chance(0.3)
                                ? test::add_part(d, name, parent, rest)
                                : test::add_shaped(d, name, test::box({0, 0, 0}, {0.2 + 0.01 * i, 0.3, 0.1}),
                                                   parent, rest));
        }
        return d;
    }

    /// An edit that must keep every vertex where it stands.
    json still_edit(const Document& d) {
        const std::vector<PartId> all = Tree(d).all();
        const std::uint64_t one = all[pick(all.size())].value, other = all[pick(all.size())].value;
        switch (pick(15)) {
            case 0:
                return {{"op", "tree.parent"}, {"parts", {one}}, {"under", other}};
            case 1:
                return {{"op", "tree.release"}, {"parts", {one}}};
            case 2:
                return {{"op", "tree.group"}, {"parts", {one, other}}};
            case 3:
                return {{"op", "tree.flatten"}, {"parts", {one}}};
            case 4:
                return {{"op", "tree.tidy"}, {"what", "chains"}};
            case 5:
                return {{"op", "pivot.bounds"}, {"parts", {one}}, {"at", chance(0.5) ? "base" : "middle"}};
            case 6:
                return {{"op", "part.find_repeats"}, {"tolerance", "0.01 mm"}};
            case 7:
                return {{"op", "tree.frame_above"}, {"parts", {one}}, {"takes_joint", chance(0.5)}};
            case 8:
                return {{"op", "control.add"}, {"parts", {one}}, {"form", chance(0.5) ? "ring" : "box"}};
            case 9:
                return {{"op", "pivot.to"}, {"parts", {one, other}}, {"place", {share(), share(), share()}}};
            case 10:
                return {{"op", "pivot.aim"}, {"parts", {one}}, {"direction", {share(), share(), share()}}};
            case 11:
                return {{"op", "pivot.turn"}, {"parts", {one, other}}, {"axis", "y"}, {"angle", share()}};
            case 12:
                return {
                    {"op", "joint.set"}, {"parts", {one, other}}, {"kind", chance(0.5) ? "free" : "hinge"}};
            case 13:
                return {{"op", "name.pattern"}, {"parts", {one, other}}, {"pattern", "<base> <number>"}};
            default:
                return {{"op", "tree.tidy"}, {"what", "empty"}};
        }
    }

private:
    double share() { return std::uniform_real_distribution<double>(-1, 1)(random_); }
    bool chance(double p) { return std::uniform_real_distribution<double>(0, 1)(random_) < p; }
    std::size_t pick(std::size_t n) { return std::uniform_int_distribution<std::size_t>(0, n - 1)(random_); }
    std::mt19937 random_;
};

/// Vertices in the world, by the part that shows them.
std::map<PartId, std::vector<Vec3>> places(const Document& d) {
    std::map<PartId, std::vector<Vec3>> out;
    for (const Part& part : d.parts) {
        const Shape* shape = d.shapes.find(part.shape);
        if (!shape) continue;
        const Frame world = world_from_rest(d, part.id) * part.part_from_shape;
        Bounds bounds;
        for (const Vec3f& p : shape->mesh->positions) bounds.add(world.point(p.cast<double>()));
        out[part.id] = {bounds.min, bounds.max};
    }
    return out;
}

TEST(Property, RandomEditsMoveNothingAndUndoGivesItBack) {
    const Registry registry = make_registry();
    for (unsigned seed = 1; seed <= 12; ++seed) {
        SCOPED_TRACE(seed);
        Edits edits(seed);
        const Document first = edits.random_tree();
        const auto wanted = places(first);
        History history(first);
        std::vector<Document> states{first};
        for (int i = 0; i < 30; ++i) {
            const json step = edits.still_edit(history.document());
            auto outcome = registry.run(history.document(), step);
            if (!outcome) {
                EXPECT_FALSE(outcome.error().message.empty()) << step.dump();
                continue;
            }
            history.push(std::move(outcome->document), "edit", step);
            states.push_back(history.document());
            const Document& now = history.document();
            const auto here = places(now);
            ASSERT_EQ(here.size(), wanted.size()) << step.dump();
            for (const auto& [part, corners] : here)
                for (std::size_t k = 0; k < 2; ++k)
                    EXPECT_LT((corners[k] - wanted.at(part)[k]).norm(), 2e-5) << step.dump();
            for (const Part& part : now.parts) {
                const Mat3 r = part.parent_from_rest.rotation.toRotationMatrix();
                EXPECT_LT((r * r.transpose() - Mat3::Identity()).norm(), 1e-12)
                    << "no frame loses orthonormality";
            }
            EXPECT_TRUE(Evaluator::compile(now).ok());
        }
        const auto reopened = project_from_bytes(*project_bytes(history.document()), "p");
        ASSERT_TRUE(reopened.ok()) << reopened.error().message;
        EXPECT_TRUE(*reopened == history.document());
        for (std::size_t i = states.size(); i-- > 0;) {
            EXPECT_TRUE(history.document() == states[i]);
            if (history.can_undo()) history.undo();
        }
    }
}

TEST(Property, EditsOfFramesMoveNoVertexByABillionthOfAMetre) {
    const Registry registry = make_registry();
    for (unsigned seed = 100; seed < 110; ++seed) {
        SCOPED_TRACE(seed);
        Edits edits(seed);
        Document d = edits.random_tree();
        const auto wanted = places(d);
        for (int i = 0; i < 40; ++i) {
            const json step = edits.still_edit(d);
            // Repeats are equal within their tolerance only.
            if (step["op"] == "part.find_repeats") continue;
            if (auto outcome = registry.run(d, step)) d = outcome->document;
        }
        for (const auto& [part, corners] : places(d))
            for (std::size_t k = 0; k < 2; ++k) EXPECT_LT((corners[k] - wanted.at(part)[k]).norm(), 1e-9);
    }
}

}  // namespace
}  // namespace pivrak
