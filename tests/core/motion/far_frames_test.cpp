// Far frames are worked out in stretches at the same time; what comes of it is what one after the other
// gives.
#include "tests/core/motion/carts.h"

namespace pivrak {
namespace {

/// A car on four sprung wheels on a ground.
Document car_on(Mesh ground) {
    Document d = empty_document();
    json wheels = json::array();
    for (const double x : {1.2, -1.2})
        for (const double y : {0.8, -0.8}) {
            const std::string name = "wheel " + std::to_string(wheels.size());
            d = test::run(d, {{"op", "stand_in.add"},
                              {"kind", "wheel"},
                              {"name", name},
                              {"diameter", 0.7},
                              {"width", 0.2},
                              {"axis", "y"},
                              {"at", {x, y, 0.35}}});
            wheels.push_back(name);
        }
    test::add_shaped(d, "ground", std::move(ground), {}, Frame{});
    return test::run(d, {{"op", "vehicle.make"}, {"parts", wheels}, {"name", "Car"}, {"ground", "ground"}});
}

/// One that drives over bumps for 2000 frames.
Document car_on_bumps() {
    Mesh mesh;
    constexpr int cells = 60;
    for (int i = 0; i <= cells; ++i)
        for (int j = 0; j <= cells; ++j) {
            const double x = -15 + 0.5 * i, y = -15 + 0.5 * j;
            mesh.positions.push_back(Vec3(x, y, 0.1 * std::sin(x) * std::cos(0.7 * y)).cast<float>());
        }
    for (std::uint32_t i = 0; i < cells; ++i)
        for (std::uint32_t j = 0; j < cells; ++j) {
            const std::uint32_t a = i * (cells + 1) + j, b = a + cells + 1;
            mesh.indices.insert(mesh.indices.end(), {a, b, b + 1, a, b + 1, a + 1});
        }
    Document d = car_on(std::move(mesh));
    Clip clip = clip_or_first(d);
    clip.first_frame = 1;
    clip.last_frame = 2000;
    clip.track_or_new({*find_part(d, "Car place"), ChannelKind::ShiftX}).keys = {
        {1, 0}, {900, 9}, {2000, -8}};
    clip.track_or_new({*find_part(d, "Car place"), ChannelKind::TurnZ}).keys = {
        {1, 0}, {700, 1.8}, {2000, -1}};
    d.clips.set(clip);
    return d;
}

/// A ground that goes up and down across the way of a car, by heights at places along it.
Mesh ridges(const std::vector<std::pair<double, double>>& heights) {
    Mesh mesh;
    for (const auto& [x, z] : heights)
        for (const double y : {-5.0, 5.0}) mesh.positions.push_back(Vec3(x, y, z).cast<float>());
    for (std::uint32_t i = 0; i + 3 < mesh.positions.size(); i += 2)
        mesh.indices.insert(mesh.indices.end(), {i, i + 2, i + 3, i, i + 3, i + 1});
    return mesh;
}

/// Frames that are asked for one by one, so near to each other that each is reached from the one before.
void expect_as_step_by_step(const Document& document, const std::vector<double>& frames) {
    const auto evaluator = Evaluator::compile(document);
    ASSERT_TRUE(evaluator.ok()) << evaluator.error().message;
    Pose slow = evaluator->make_pose();
    double at = 0;
    for (const double frame : frames) {
        for (; at < frame; at += 50) evaluator->evaluate(at, slow);
        evaluator->evaluate(frame, slow);
        Pose fast = evaluator->make_pose();
        evaluator->evaluate(frame, fast);
        EXPECT_EQ(fast.states, slow.states) << frame;
        for (std::size_t i = 0; i < fast.world_from_part.size(); ++i) {
            const Frame &a = fast.world_from_part[i], &b = slow.world_from_part[i];
            ASSERT_TRUE(a.translation == b.translation && a.rotation.coeffs() == b.rotation.coeffs())
                << frame << ": " << document.parts.find(evaluator->parts()[i])->name;
        }
    }
}

TEST(FarFrames, OfACarOnBumpsAreThoseOfEachFrameInTurn) {
    expect_as_step_by_step(car_on_bumps(), {700, 1203.25, 2000});
}

/// Source: geometry. A hub goes straight beside each face, in a corner where faces rise, and on an arc as
/// large as the wheel where they fall. There and back, slowly and fast, the wheel turns by just that way.
TEST(FarFrames, AWheelTurnsByTheWayOfItsHubOverRidges) {
    constexpr double slope = 0.25, far = 10;
    for (const auto& [frames, allowed_m] : {std::pair(3000, 1e-5), {600, 1e-5}, {60, 2e-3}}) {
        Document d = car_on(ridges({{-9, 0}, {3, 0}, {5, slope * 2}, {7, 0}, {20, 0}}));
        Clip clip = clip_or_first(d);
        clip.first_frame = 0;
        clip.last_frame = 2 * frames;
        clip.track_or_new({*find_part(d, "Car place"), ChannelKind::ShiftX}).keys = {
            {0, 0, Interpolation::Linear},
            {static_cast<double>(frames), far, Interpolation::Linear},
            {2.0 * frames, 0, Interpolation::Linear}};
        d.clips.set(clip);
        const auto evaluator = Evaluator::compile(d);
        ASSERT_TRUE(evaluator.ok());
        for (const char* name : {"wheel 0", "wheel 3"}) {
            const PartId wheel = *find_part(d, name);
            const double r = evaluator->rolling_radius(wheel), rise = std::atan(slope),
                         shortened = r * std::tan(rise / 2), face = 2 / std::cos(rise);
            const double way = far - 4 + 2 * face - 4 * shortened + 2 * rise * r;
            Pose pose = evaluator->make_pose();
            EXPECT_NEAR(r * turn_at(*evaluator, pose, wheel, frames), way, allowed_m)
                << name << ", " << frames;
            EXPECT_NEAR(r * turn_at(*evaluator, pose, wheel, 2 * frames), 0, allowed_m)
                << name << ", " << frames;
        }
    }
}

/// Source: geometry. On a ground that is alike all along, a wheel's forward is along it, however it slides
/// across.
TEST(FarFrames, AWheelThatSlidesAcrossATroughTurnsByItsWayAhead) {
    Mesh trough;
    for (const double x : {-9.0, 20.0})
        for (const double y : {-5.0, 0.0, 5.0})
            trough.positions.push_back(Vec3(x, y, 0.2 * std::abs(y)).cast<float>());
    trough.indices = {0, 3, 4, 0, 4, 1, 1, 4, 5, 1, 5, 2};
    for (const double frames : {2000.0, 50.0}) {
        Document d = car_on(trough);
        Clip clip = clip_or_first(d);
        clip.first_frame = 0;
        clip.last_frame = static_cast<int>(frames);
        clip.track_or_new({*find_part(d, "Car place"), ChannelKind::ShiftX}).keys = {
            {0, 0, Interpolation::Linear}, {frames, 2, Interpolation::Linear}};
        clip.track_or_new({*find_part(d, "Car place"), ChannelKind::ShiftY}).keys = {
            {0, -0.5, Interpolation::Linear}, {frames, 0.5, Interpolation::Linear}};
        d.clips.set(clip);
        const auto evaluator = Evaluator::compile(d);
        Pose pose = evaluator->make_pose();
        for (const char* name : {"wheel 0", "wheel 1"}) {
            const PartId wheel = *find_part(d, name);
            EXPECT_NEAR(evaluator->rolling_radius(wheel) * turn_at(*evaluator, pose, wheel, frames), 2, 1e-4)
                << name << ", " << frames;
        }
    }
}

/// What is added up from few moments meets what is integrated step by step: no frame is a jump.
TEST(FarFrames, NoFrameIsAJump) {
    const Document d = car_on_bumps();
    const auto evaluator = Evaluator::compile(d);
    Pose pose = evaluator->make_pose();
    const PartId wheel = *find_part(d, "wheel 1");
    double largest = 0;
    for (int frame = 2; frame < 700; ++frame) {
        const double near = turn_at(*evaluator, pose, wheel, frame - 0.01),
                     at = turn_at(*evaluator, pose, wheel, frame),
                     ahead = turn_at(*evaluator, pose, wheel, frame + 0.01);
        largest = std::max(largest, std::abs((at - near) - (ahead - at)));
    }
    EXPECT_LT(largest, 3e-5) << "a hundredth of a millimetre on the rim";
}

/// The second wheel is carried by what the first one drives: its way depends on the state of the first.
TEST(FarFrames, OfAWheelThatIsMovedByAnotherOne) {
    Cart c;
    const PartId arm = test::add_part(c.document, "arm", c.cart);
    c.set_joint(arm, JointKind::Slide, 0);
    Solid solid = shaft(500, -50, 50, 0, 48);
    solid.lay_along(1);
    const PartId second = test::add_shaped(c.document, "second", test::to_mesh(solid), arm,
                                           {Quat(1, 0, 0, 0), Vec3(2, 0, 0.5)});
    c.set_joint(second, JointKind::Hinge, 1);
    c.document = test::run(c.document, {{"op", "coupling.roll"}, {"parts", {"second"}}});
    c.document =
        test::run(c.document, {{"op", "follow.add"}, {"parts", {"arm"}}, {"driver", "wheel"}, {"gain", 0.1}});
    c.document = test::run(c.document, {{"op", "clip.set"}, {"first_frame", 0}, {"last_frame", 2000}});
    c.key(ChannelKind::ShiftX, {{0, 0}, {900, 5}, {2000, 1}});
    c.key(ChannelKind::TurnZ, {{0, 0}, {500, 1.5}, {2000, -0.4}});
    expect_as_step_by_step(c.document, {800, 1777.5});
    // It goes as far as the first turns, a tenth of it more.
    const auto evaluator = Evaluator::compile(c.document);
    Pose pose = evaluator->make_pose();
    EXPECT_GT(std::abs(turn_at(*evaluator, pose, second, 900) - turn_at(*evaluator, pose, c.wheel, 900)),
              0.1);
}

}  // namespace
}  // namespace pivrak
