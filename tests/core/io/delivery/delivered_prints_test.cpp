// Printed tracks in a delivered file, read with the plain reader.
#include <gtest/gtest.h>
#include <tiny_gltf.h>

#include "core/io/delivery/deliver.h"
#include "core/io/gltf/gltf_read.h"
#include "core/io/gltf/gltf_sample.h"
#include "tests/support/cart.h"

namespace pivrak {
namespace {

using test::Cart;

Cart driving() {
    Cart c;
    c.key(ChannelKind::ShiftX,
          {{0, 0, Interpolation::Linear}, {40, 5, Interpolation::Linear}, {96, 5, Interpolation::Linear}});
    c.document = test::run(c.document, {{"op", "print.add"}, {"parts", {"wheel"}}});
    return c;
}

/// The farthest x that a print shows in a file at a time.
double shown_end(const tinygltf::Model& model, const GltfPlayer& player, const std::string& print,
                 double seconds) {
    const auto world = player.world_from_nodes(seconds);
    double end = 0;
    for (const tinygltf::Node& top : model.nodes) {
        if (top.name != print) continue;
        for (const int child : top.children) {
            const auto mesh = read_mesh(model, model.nodes[static_cast<std::size_t>(child)].mesh);
            const Vec3 scale = player.scale_of(child, seconds);
            if (scale.x() == 0) continue;
            for (const Vec3f& p : mesh->positions)
                end = std::max(
                    end,
                    world[static_cast<std::size_t>(child)].point(scale.cwiseProduct(p.cast<double>())).x());
        }
    }
    return end;
}

TEST(DeliveredPrints, AtEveryFrameTheyEndWhereTheWheelIs) {
    const Cart c = driving();
    const auto made = delivery_bytes(c.document);
    ASSERT_TRUE(made.ok()) << made.error().message;
    const auto model = read_glb(made->bytes, "made");
    ASSERT_TRUE(model.ok());
    const auto player = GltfPlayer::make(*model, 0);
    ASSERT_TRUE(player.ok()) << player.error().message;
    for (const double frame : {1.0, 13.0, 26.0, 40.0, 70.0})
        EXPECT_NEAR(shown_end(*model, *player, "wheel print", frame / 24), std::min(5.0, frame / 8), 1e-5)
            << frame;
    EXPECT_EQ(shown_end(*model, *player, "wheel print", 0), 0);
    const auto read_back = compare_delivery(c.document, made->bytes, "made");
    ASSERT_TRUE(read_back.ok());
    EXPECT_LT(read_back->print_error_m, 1e-5);
    EXPECT_EQ(made->report.prints, 1u);
}

TEST(DeliveredPrints, AFileWhosePrintIsTooShortIsFound) {
    const Cart c = driving();
    auto other = driving();
    other.key(
        ChannelKind::ShiftX,
        {{0, 0, Interpolation::Linear}, {40, 4, Interpolation::Linear}, {96, 5, Interpolation::Linear}});
    const auto made = delivery_bytes(other.document);
    const auto read_back = compare_delivery(c.document, made->bytes, "other");
    ASSERT_TRUE(read_back.ok());
    EXPECT_NEAR(read_back->print_error_m, 1, 1e-3);
}

TEST(DeliveredPrints, AClipHidesThePrintsOfOthers) {
    Cart c = driving();
    Clip second = clip_or_first(c.document);
    second.id = c.document.new_id<ClipId>();
    second.name = "second";
    second.track_or_new({c.cart, ChannelKind::ShiftX}).keys = {{0, 0, Interpolation::Linear},
                                                               {48, 2, Interpolation::Linear}};
    c.document.clips.set(second);
    const auto made = delivery_bytes(c.document);
    ASSERT_TRUE(made.ok());
    const auto model = read_glb(made->bytes, "made");
    const std::string first_name = "wheel print of " + clip_or_first(c.document).name;
    for (const int a : {0, 1}) {
        const auto player = GltfPlayer::make(*model, a);
        ASSERT_TRUE(player.ok());
        EXPECT_EQ(shown_end(*model, *player, first_name, 1) > 0, a == 0);
        EXPECT_EQ(shown_end(*model, *player, "wheel print of second", 1) > 0, a == 1);
    }
    const auto read_back = compare_delivery(c.document, made->bytes, "made");
    EXPECT_LT(read_back->print_error_m, 1e-5);
}

}  // namespace
}  // namespace pivrak
