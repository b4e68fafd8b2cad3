// What a view shows of a surface: pixels of a plate that faces the eye, against what its pictures say.
#include <gtest/gtest.h>

#include <QBuffer>

#include "app/film/offscreen_picture.h"
#include "tests/app/app_test.h"

namespace pivrak {
namespace {

constexpr int picture_px = 120;

/// A picture of two halves, left and right, as PNG.
std::shared_ptr<const std::vector<unsigned char>> halves(const QColor& left, const QColor& right) {
    QImage image(2, 2, QImage::Format_RGBA8888);
    for (int y = 0; y < 2; ++y) {
        image.setPixelColor(0, y, left);
        image.setPixelColor(1, y, right);
    }
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    // Large enough that the middle of each half is not mixed with the other.
    image.scaled(64, 64).save(&buffer, "PNG");
    return std::make_shared<const std::vector<unsigned char>>(bytes.begin(), bytes.end());
}

/// Two metres wide and high, in front of the eye; texture places run from the top left, as glTF has them.
std::shared_ptr<const Mesh> plate() {
    Mesh mesh;
    for (const auto& [y, z] : {std::pair(-1.f, 0.f), {1.f, 0.f}, {1.f, 2.f}, {-1.f, 2.f}}) {
        mesh.positions.emplace_back(0.f, y, z);
        mesh.normals.emplace_back(1.f, 0.f, 0.f);
        mesh.uvs.emplace_back((y + 1) / 2, 1 - z / 2);
        mesh.second_uvs.emplace_back((1 - y) / 2, 1 - z / 2);  // left is right
    }
    mesh.indices = {0, 1, 2, 0, 2, 3};
    mesh.submeshes = {{MaterialId{1}, 0, 6, {}}};
    return std::make_shared<const Mesh>(std::move(mesh));
}

struct Seen {
    QColor left, right;
};

/// The middle of each half of the plate.
Seen seen(const SurfacePaint& surface, const QColor& color = QColor(200, 200, 200)) {
    auto picture = OffscreenPicture::make({picture_px, picture_px});
    EXPECT_TRUE(picture.ok());
    Camera camera;
    camera.resize(picture_px, picture_px);
    camera.azimuth = 0;
    camera.elevation = 0;
    camera.target = Vec3(0, 0, 1);
    camera.distance = 5;
    DrawItem item{plate(), Frame{}, std::make_shared<const Paint>(Paint{{color}, {surface}})};
    SceneRenderer::Options options;
    options.shadow = false;
    options.edges = false;
    const QImage image = (*picture)->draw({item}, camera, test::look().theme(), options);
    const auto at = [&](double y) {
        const Vec3 pixel = camera.project(Vec3(0, y, 1));
        return image.pixelColor(static_cast<int>(pixel.x()), static_cast<int>(pixel.y()));
    };
    return {at(-0.5), at(0.5)};
}

SurfacePaint with_picture(SurfacePaint::Picture which,
                          std::shared_ptr<const std::vector<unsigned char>> bytes, PictureUse how = {}) {
    SurfacePaint surface;
    surface.pictures[which] = {std::move(bytes), how};
    return surface;
}

bool is_red(const QColor& c) {
    return c.red() > 2 * c.green();
}

bool is_green(const QColor& c) {
    return c.green() > 2 * c.red();
}

TEST(Surfaces, ColourPicturesLieAsTheirTransformSays) {
    const auto bytes = halves(QColor(220, 20, 20), QColor(20, 220, 20));
    const Seen plain = seen(with_picture(SurfacePaint::Color, bytes), Qt::white);
    EXPECT_TRUE(is_red(plain.left) && is_green(plain.right));
    PictureUse moved;
    moved.offset = {0.5, 0};
    const Seen half_on = seen(with_picture(SurfacePaint::Color, bytes, moved), Qt::white);
    EXPECT_TRUE(is_green(half_on.left) && is_red(half_on.right)) << "half a picture on, and round again";
    moved.wrap_s = PictureUse::clamp;
    const Seen held = seen(with_picture(SurfacePaint::Color, bytes, moved), Qt::white);
    EXPECT_TRUE(is_green(held.left) && is_green(held.right)) << "its edge goes on";
    moved.wrap_s = PictureUse::mirror;
    moved.offset = {1, 0};
    const Seen mirrored = seen(with_picture(SurfacePaint::Color, bytes, moved), Qt::white);
    EXPECT_TRUE(is_green(mirrored.left) && is_red(mirrored.right));
    PictureUse turned;
    turned.turn_rad = pi;
    const Seen round = seen(with_picture(SurfacePaint::Color, bytes, turned), Qt::white);
    EXPECT_TRUE(is_green(round.left) && is_red(round.right)) << "half a turn";
}

TEST(Surfaces, PicturesLieByTheSecondPlacesWhereTheyAskForThem) {
    PictureUse second;
    second.coords = 1;
    const auto bytes = halves(QColor(220, 20, 20), QColor(20, 220, 20));
    const Seen turned = seen(with_picture(SurfacePaint::Color, bytes, second), Qt::white);
    EXPECT_TRUE(is_green(turned.left) && is_red(turned.right));
}

TEST(Surfaces, WhatAMaskTakesAwayIsNotThere) {
    SurfacePaint surface =
        with_picture(SurfacePaint::Color, halves(QColor(255, 0, 0, 60), QColor(255, 0, 0, 255)));
    EXPECT_TRUE(is_red(seen(surface, Qt::white).left))
        << "opaque: what a picture says of opacity is not asked";
    surface.cutoff = 0.5f;
    const Seen masked = seen(surface, Qt::white);
    EXPECT_FALSE(is_red(masked.left));
    EXPECT_TRUE(is_red(masked.right));
}

TEST(Surfaces, MetalAndRoughnessFollowTheirPicture) {
    const QColor copper(200, 110, 70);
    SurfacePaint metal;
    metal.metallic = 1;
    metal.roughness = 0.3f;
    SurfacePaint dull;
    dull.metallic = 0;
    dull.roughness = 0.3f;
    // Green is roughness and blue is metal: all on the left, none on the right.
    SurfacePaint both =
        with_picture(SurfacePaint::MetalRough, halves(QColor(0, 255, 255), QColor(0, 255, 0)));
    both.metallic = 1;
    both.roughness = 0.3f;
    EXPECT_NE(seen(metal, copper).left, seen(dull, copper).left);
    const Seen mixed = seen(both, copper);
    const auto near = [](const QColor& a, const QColor& b) {
        return std::abs(a.red() - b.red()) + std::abs(a.green() - b.green()) + std::abs(a.blue() - b.blue()) <
               6;
    };
    EXPECT_TRUE(near(mixed.left, seen(metal, copper).left));
    EXPECT_TRUE(near(mixed.right, seen(dull, copper).right));
}

TEST(Surfaces, BumpsTurnTowardsTheLightAndAway) {
    const int even = seen(SurfacePaint{}).left.lightness();
    const QColor flat(128, 128, 255);
    EXPECT_NEAR(seen(with_picture(SurfacePaint::Bumps, halves(flat, flat))).left.lightness(), even, 4);
    // Up in the picture is up on the plate: green is where it leans up, to the sky.
    const QColor up(128, 230, 200), down(128, 26, 200);
    const Seen leaning = seen(with_picture(SurfacePaint::Bumps, halves(up, down)));
    EXPECT_GT(leaning.left.lightness(), even + 8);
    EXPECT_LT(leaning.right.lightness(), even - 8);
}

TEST(Surfaces, WhatGlowsAndWhatTakesNoLight) {
    SurfacePaint lamp = with_picture(SurfacePaint::Glow, halves(Qt::white, Qt::black));
    lamp.glow = QColor(0, 200, 0);
    const Seen glowing = seen(lamp, QColor(40, 40, 40));
    EXPECT_TRUE(is_green(glowing.left));
    EXPECT_FALSE(is_green(glowing.right));
    SurfacePaint sign;
    sign.unlit = true;
    EXPECT_EQ(seen(sign, QColor(10, 120, 240)).left.rgb(), QColor(10, 120, 240).rgb());
}

}  // namespace
}  // namespace pivrak
