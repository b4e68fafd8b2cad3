// Riders and rolling wheels in one frame; a far frame of a long clip after an edit at its start.
#include <benchmark/benchmark.h>

#include <cmath>

#include "core/motion/evaluator.h"
#include "core/operations/registry.h"
#include "core/rig/paths/ride_frame.h"

namespace pivrak::bench {
namespace {

using nlohmann::json;

constexpr std::size_t rider_count = 200;
constexpr double last_frame = 10000;

Document after(const Document& document, const json& step) {
    auto outcome = make_registry().run(document, step);
    if (!outcome) std::abort();
    return outcome->document;
}

/// Riders spaced along a winding closed path, each with two wheels that roll by how far it rides.
Document riders() {
    Document d = after(empty_document(),
                       {{"op", "path.add"},
                        {"name", "loop"},
                        {"closed", true},
                        {"points", json::array({{0, 0, 0}, {60, 10, 4}, {90, 80, 0}, {20, 60, -3}})}});
    const PathId path = d.paths.begin()->id;
    PartId ahead;
    for (std::size_t i = 0; i < rider_count; ++i) {
        Part part;
        part.id = d.new_id<PartId>();
        part.name = "rider " + std::to_string(i);
        part.ride = Ride{path};
        part.ride->upright = Upright::Path;
        part.ride->ahead = ahead;
        part.ride->along_path = true;
        part.ride->gap_m = 1.2;
        d.parts.set(part);
        ahead = part.id;
        for (int k = 0; k < 2; ++k) {
            Part wheel;
            wheel.id = d.new_id<PartId>();
            wheel.name = "wheel";
            wheel.parent = part.id;
            wheel.parent_from_rest.translation = Vec3(0.3 * k, 0, 0.2);
            wheel.joint = {JointKind::Hinge, 1, {}};
            d.parts.set(wheel);
            d.couplings.set({d.new_id<CouplingId>(), Roll{{wheel.id, ChannelKind::Turn}, part.id, 0.2}});
        }
    }
    Clip clip = clip_or_first(d);
    clip.track_or_new({d.parts.begin()->id, ChannelKind::Along}).keys = {{0, 0, Interpolation::Linear},
                                                                         {120, 500, Interpolation::Linear}};
    d.clips.set(clip);
    return d;
}

void BM_riders(benchmark::State& state) {
    const auto evaluator = Evaluator::compile(riders());
    Pose pose = evaluator->make_pose();
    double frame = 0;
    for (auto _ : state) {
        evaluator->evaluate(frame, pose);
        benchmark::DoNotOptimize(pose.world_from_part.data());
        frame = frame > 119 ? 0 : frame + 1;
    }
}
BENCHMARK(BM_riders)->Repetitions(5);

/// No more than the places and frames themselves.
void BM_riders_by_hand(benchmark::State& state) {
    const Document d = riders();
    const auto curve = PathCurve::make(*d.paths.begin());
    Ride ride;
    ride.upright = Upright::Path;
    double frame = 0;
    for (auto _ : state) {
        for (std::size_t i = 0; i < rider_count; ++i) {
            const Frame world =
                ride_frame({*curve, {}, {}}, ride, 500 * frame / 120 - 1.2 * static_cast<double>(i));
            benchmark::DoNotOptimize(world);
        }
        frame = frame > 119 ? 0 : frame + 1;
    }
}
BENCHMARK(BM_riders_by_hand)->Repetitions(5);

/// A car of four sprung wheels on a field of 60 000 triangles, and without it on the floor.
Document car(bool field) {
    Document d = empty_document();
    json wheels = json::array();
    for (const double x : {1.2, -1.2})
        for (const double y : {0.8, -0.8}) {
            const std::string name = "wheel " + std::to_string(wheels.size());
            d = after(d, {{"op", "stand_in.add"},
                          {"kind", "wheel"},
                          {"name", name},
                          {"diameter", 0.7},
                          {"width", 0.2},
                          {"axis", "y"},
                          {"at", {x, y, 0.35}}});
            wheels.push_back(name);
        }
    json make{{"op", "vehicle.make"}, {"parts", wheels}, {"name", "Car"}};
    if (field) {
        Mesh mesh;
        constexpr int cells = 173;
        for (int i = 0; i <= cells; ++i)
            for (int j = 0; j <= cells; ++j) {
                const double x = -20 + 0.5 * i, y = -43 + 0.5 * j;
                mesh.positions.push_back(Vec3(x, y, 0.1 * std::sin(x) * std::cos(0.7 * y)).cast<float>());
            }
        for (std::uint32_t i = 0; i < cells; ++i)
            for (std::uint32_t j = 0; j < cells; ++j) {
                const std::uint32_t a = i * (cells + 1) + j, b = a + cells + 1;
                mesh.indices.insert(mesh.indices.end(), {a, b, b + 1, a, b + 1, a + 1});
            }
        const ShapeId shape = d.new_id<ShapeId>();
        d.shapes.set(make_shape(shape, "field", std::move(mesh)));
        Part part;
        part.id = d.new_id<PartId>();
        part.name = "field";
        part.shape = shape;
        d.parts.set(part);
        make["ground"] = "field";
    }
    d = after(d, make);
    Clip clip = clip_or_first(d);
    clip.last_frame = last_frame;
    clip.track_or_new({*find_part(d, "Car place"), ChannelKind::ShiftX}).keys = {
        {0, 0}, {5000, 40}, {last_frame, 3}};
    clip.track_or_new({*find_part(d, "Car place"), ChannelKind::TurnZ}).keys = {
        {0, 0}, {4000, 0.8}, {last_frame, -1}};
    d.clips.set(clip);
    return d;
}

void far_frame(benchmark::State& state, bool field) {
    const Document d = car(field);
    RigFacts facts;
    (void)Evaluator::compile(d, {}, &facts);
    double nudge = 0;
    for (auto _ : state) {
        Document edited = d;
        Clip clip = clip_or_first(edited);
        clip.tracks.front().keys.front().value = nudge += 1e-3;
        edited.clips.set(clip);
        const auto evaluator = Evaluator::compile(edited, {}, &facts);
        Pose pose = evaluator->make_pose();
        evaluator->evaluate(5000, pose);
        benchmark::DoNotOptimize(pose.world_from_part.data());
    }
}
void BM_far_frame_floor(benchmark::State& state) {
    far_frame(state, false);
}
void BM_far_frame_field(benchmark::State& state) {
    far_frame(state, true);
}
/// 400 wheels by way of their path, in the same clip length: nothing to integrate.
void BM_far_frame_riders(benchmark::State& state) {
    Document d = riders();
    RigFacts facts;
    double nudge = 0;
    for (auto _ : state) {
        Clip clip = clip_or_first(d);
        clip.last_frame = last_frame;
        clip.tracks.front().keys.front().value = nudge += 1e-3;
        d.clips.set(clip);
        const auto evaluator = Evaluator::compile(d, {}, &facts);
        Pose pose = evaluator->make_pose();
        evaluator->evaluate(5000, pose);
        benchmark::DoNotOptimize(pose.world_from_part.data());
    }
}
BENCHMARK(BM_far_frame_floor)->Unit(benchmark::kMillisecond)->Repetitions(3);
BENCHMARK(BM_far_frame_field)->Unit(benchmark::kMillisecond)->Repetitions(3);
BENCHMARK(BM_far_frame_riders)->Unit(benchmark::kMillisecond)->Repetitions(3);

}  // namespace
}  // namespace pivrak::bench
