#pragma once

#include "tests/support/documents.h"

namespace pivrak::test {

/// A cart (free) with a wheel whose axle points left.
struct Cart {
    static constexpr double radius = 0.5, half_width = 0.08;

    Document document = empty_document();
    PartId cart, wheel;

    Cart() {
        cart = add_part(document, "cart");
        set_joint(cart, JointKind::Free, 0);
        Solid solid = pivrak::shaft(1000 * radius, -1000 * half_width, 1000 * half_width, 0, 96);
        solid.lay_along(1);
        wheel = add_shaped(document, "wheel", to_mesh(solid), cart, {Quat(1, 0, 0, 0), Vec3(0, 0, radius)});
        set_joint(wheel, JointKind::Hinge, 1);
        document = run(document, {{"op", "coupling.roll"}, {"parts", {"wheel"}}});
        document = run(document, {{"op", "clip.set"}, {"first_frame", 0}, {"last_frame", 96}});
    }
    void set_joint(PartId id, JointKind kind, int axis) {
        Part part = *document.parts.find(id);
        part.joint.kind = kind;
        part.joint.axis = axis;
        document.parts.set(part);
    }
    void key(ChannelKind kind, std::vector<Key> keys) {
        Clip clip = clip_or_first(document);
        clip.track_or_new({cart, kind}).keys = std::move(keys);
        document.clips.set(clip);
    }
};

}  // namespace pivrak::test
