#include <fmt/format.h>

#include <cmath>

#include "core/model/control_sizes.h"
#include "core/model/edits/edits.h"
#include "core/model/names/names.h"
#include "core/motion/seam.h"
#include "core/operations/all_operations.h"
#include "core/operations/element_arguments.h"
#include "core/operations/keys/clip_access.h"
#include "core/rig/driven_by.h"
#include "core/rig/rig_facts.h"
#include "core/rig/vehicles/wheel_axis.h"

namespace pivrak {
namespace {

Result<Outcome> coupling_roll(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    RigFacts facts;
    const Tree tree(document);
    const Drivers drivers(document);
    for (const PartId id : a.parts("parts")) {
        const Part& wheel = *document.parts.find(id);
        const ChannelRef driven{id, ChannelKind::Turn};
        if (!wheel.joint.has(ChannelKind::Turn))
            return Error{"roll.not_hinge",
                         fmt::format("'{}' is no hinge: give it a pivot and a hinge joint first", wheel.name),
                         wheel.name};
        if (const auto other = drivers.name(driven))
            return Error{"roll.driven_twice",
                         fmt::format("'{}' is driven by '{}' already; remove that first", wheel.name, *other),
                         wheel.name};
        Roll roll{driven};
        take_arguments(a, roll);
        if (const Part* like = document.parts.find(roll.like); like && !like->joint.has(ChannelKind::Turn))
            return Error{"roll.not_hinge", fmt::format("'{}' is no hinge", like->name), "like"};
        if (const Part* rider = document.parts.find(roll.rider); rider && !rider->ride)
            return Error{"roll.no_path", fmt::format("'{}' rides no path", rider->name), "rider"};
        const double radius = roll.radius_m > 0 ? roll.radius_m : facts.wheel(document, tree, id).radius_m;
        if (!(radius > 1e-6) || roll.radius_m < 0)
            return Error{
                "roll.radius",
                fmt::format("'{}' has no radius: its shape shows none, and none was given", wheel.name),
                wheel.name};
        if (const auto across = roll.radius_m > 0 ? std::nullopt : round_across(document, id))
            return Error{"roll.across", across_words(document, id, *across), wheel.name};
        out.document.couplings.set({out.document.new_id<CouplingId>(), roll});
        out.messages.push_back(fmt::format("'{}' rolls on a radius of {}{}", wheel.name,
                                           format_length(radius, document),
                                           roll.radius_m > 0 ? "" : ", measured"));
        out.readings["radius_m"].push_back(radius);
    }
    return out;
}

/// The rolling coupling of a wheel. Errors: `roll.none`.
Result<Coupling> rolling_of(const Document& document, PartId wheel) {
    for (const Coupling& c : document.couplings)
        if (const Roll* roll = c.as<Roll>(); roll && roll->driven.part() == wheel && !roll->like) return c;
    const std::string& name = document.parts.find(wheel)->name;
    return Error{"roll.none", fmt::format("'{}' does not roll by itself", name), name};
}

/// How far a wheel turns from a clip's start to where its loop closes [rad].
Result<double> turn_of_lap(const Document& document, const Clip& clip, PartId wheel) {
    PIVRAK_TRY(evaluator, Evaluator::compile(document, clip.id));
    const std::string& name = document.parts.find(wheel)->name;
    const auto seam = seam_frame(evaluator, clip, wheel);
    if (!seam)
        return Error{"roll.no_seam",
                     fmt::format("'{}' does not come back to where it starts in '{}', or that does not loop",
                                 name, clip.name),
                     name};
    const std::size_t slot = *evaluator.channel_slot({wheel, ChannelKind::Turn});
    Pose pose = evaluator.make_pose();
    evaluator.evaluate(clip.first_frame, pose);
    const double start = pose.channels[slot];
    evaluator.evaluate(*seam, pose);
    return pose.channels[slot] - start;
}

Result<Outcome> whole_turns(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(clip, clip_named(document, a));
    Outcome out{document};
    for (const PartId wheel : a.parts("parts")) {
        PIVRAK_TRY(coupling, rolling_of(out.document, wheel));
        PIVRAK_TRY(first, turn_of_lap(out.document, *clip, wheel));
        const std::string& name = document.parts.find(wheel)->name;
        const double turns = std::round(first / (2 * pi));
        if (turns == 0)
            return Error{"roll.no_turn",
                         fmt::format("'{}' turns {:.2f} times a lap: there is no whole number near", name,
                                     first / (2 * pi)),
                         name};
        // What its carrier turns adds to it, so the share is found in a few steps.
        double turn = first;
        for (int i = 0; i < 8 && std::abs(turn - 2 * pi * turns) > 1e-9; ++i) {
            double& slip = std::get<Roll>(coupling.what).slip;
            slip += (1 + slip) * (2 * pi * turns - turn) / turn;
            out.document.couplings.set(coupling);
            PIVRAK_TRY(now, turn_of_lap(out.document, *clip, wheel));
            turn = now;
        }
        const double slip = std::get<Roll>(coupling.what).slip;
        out.messages.push_back(
            fmt::format("'{}' turns {:.0f} times a lap instead of {:.3f}: it slips by {:.2f} %", name,
                        std::abs(turns), std::abs(first) / (2 * pi), 100 * slip));
        out.readings["turns"].push_back(turns);
        out.readings["slip"].push_back(slip);
    }
    return out;
}

Result<Outcome> coupling_steer(const Document& document, const Arguments& a, const OperationContext&) {
    const Part& driver = *document.parts.find(a.part("driver"));
    const double reference = a.number("reference");
    if (!driver.joint.has(ChannelKind::Turn))
        return Error{"steer.not_hinge", fmt::format("'{}' is no hinge", driver.name), driver.name};
    if (!(std::abs(reference) > 1e-6))
        return Error{"steer.reference", "the steered axle must lie before or behind the turning axle",
                     "reference"};
    const Frame own_from_world = Frame{Quat(1, 0, 0, 0), a.point("turning")}.inverse();
    Outcome out{document};
    const Drivers drivers(document);
    for (const PartId id : a.parts("parts")) {
        const Part& part = *document.parts.find(id);
        if (!part.joint.has(ChannelKind::Turn))
            return Error{"steer.not_hinge", fmt::format("'{}' is no hinge", part.name), part.name};
        const ChannelRef driven{id, ChannelKind::Turn};
        if (const auto other = drivers.name(driven))
            return Error{"steer.driven_twice",
                         fmt::format("'{}' is driven by '{}' already; remove that first", part.name, *other),
                         part.name};
        const Vec3 at = own_from_world.point(world_from_rest(document, id).translation);
        out.document.couplings.set(
            {out.document.new_id<CouplingId>(),
             Steer{{driver.id, ChannelKind::Turn}, driven, reference, at.x(), at.y()}});
        out.messages.push_back(fmt::format("'{}' steers {} ahead of the turning axle, {} left of its middle",
                                           part.name, format_length(at.x(), document),
                                           format_length(at.y(), document)));
    }
    return out;
}

/// Where the middle of a wheel's tread stands below it, X ahead and Y along its axle, as what carries it
/// looks.
Result<Frame> stand_frame(const Document& document, const Part& wheel, const WheelSize& size) {
    const Frame world = world_from_rest(document, wheel.id);
    const Frame carrier = wheel.parent ? world_from_rest(document, wheel.parent) : Frame{};
    const Vec3 axle = world.axis(wheel.joint.axis);
    Vec3 left(axle.x(), axle.y(), 0);
    if (left.norm() < 0.7)
        return Error{
            "lean.axle",
            fmt::format("the axle of '{}' stands upright; at rest a wheel stands on its tread", wheel.name),
            wheel.name};
    left.normalize();
    if (left.dot(carrier.axis(1)) < 0) left = -left;
    Mat3 axes;
    axes << left.cross(Vec3::UnitZ()), left, Vec3::UnitZ();
    return Frame{Quat(axes), world.translation + size.middle_m * axle - size.radius_m * Vec3::UnitZ()};
}

/// A free frame where the wheel stands; it leans about its X.
Result<PartId> add_lean_frame(Document& document, PartId wheel, const WheelSize& size) {
    const Part before = *document.parts.find(wheel);
    PIVRAK_TRY(frame, stand_frame(document, before, size));
    Part lean;
    lean.id = document.new_id<PartId>();
    FreeNames names(document);
    lean.name = names.take(before.name + " lean");
    lean.parent = before.parent;
    lean.parent_from_rest =
        before.parent ? world_from_rest(document, before.parent).inverse() * frame : frame;
    lean.joint.kind = JointKind::Free;
    document.parts.set(lean);
    PIVRAK_CHECK(reparent(document, wheel, lean.id));
    lean.control = fitted_symbol(document, lean.id, ControlForm::Plate, ControlColor::Steel);
    lean.control->axis = 2;
    lean.control->middle_m.z() = 0.005;
    lean.control->half_m.z() = 0.005;
    document.parts.set(lean);
    return lean.id;
}

Result<PartId> ground_of(const Document& document, const Arguments& a) {
    if (!a.has("ground")) return PartId{};
    const Part& ground = *document.parts.find(a.part("ground"));
    if (ground.shape) return ground.id;
    return Error{"lean.ground", fmt::format("'{}' has no shape to stand on", ground.name), ground.name};
}

Result<Outcome> coupling_lean(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(ground, ground_of(document, a));
    Outcome out{document};
    RigFacts facts;
    const Drivers drivers(document);
    for (const PartId id : a.parts("parts")) {
        const Part& wheel = *document.parts.find(id);
        if (!wheel.joint.has(ChannelKind::Turn))
            return Error{"roll.not_hinge",
                         fmt::format("'{}' is no hinge: give it a pivot and a hinge joint first", wheel.name),
                         wheel.name};
        for (const Coupling& c : document.couplings)
            if (c.as<Lean>() && c.as<Lean>()->wheel == id)
                return Error{"lean.twice", fmt::format("'{}' leans already", wheel.name), wheel.name};
        for (const Vehicle& vehicle : document.vehicles)
            for (const VehicleWheel& w : vehicle.wheels)
                if (w.wheel == id)
                    return Error{
                        "lean.vehicle",
                        fmt::format("'{}' stands on a suspension of '{}' already", wheel.name, vehicle.name),
                        wheel.name};
        const WheelSize size = facts.wheel(document, Tree(document), id);
        if (!(size.radius_m > 1e-6))
            return Error{"roll.radius", fmt::format("'{}' has no shape to stand on", wheel.name), wheel.name};
        PIVRAK_TRY(frame, add_lean_frame(out.document, id, size));
        out.created.push_back(frame);
        out.document.couplings.set(
            {out.document.new_id<CouplingId>(), Lean{{frame, ChannelKind::ShiftZ}, id, ground}});
        if (!drivers.name({id, ChannelKind::Turn}))
            out.document.couplings.set({out.document.new_id<CouplingId>(), Roll{{id, ChannelKind::Turn}}});
        out.messages.push_back(fmt::format("'{}' leans by turning '{}' about x; radius {}, tread {} wide",
                                           wheel.name, out.document.parts.find(frame)->name,
                                           format_length(size.radius_m, document),
                                           format_length(2 * size.half_width_m, document)));
    }
    return out;
}

}  // namespace

void add_wheel_operations(Registry& registry) {
    std::vector<ArgumentSpec> roll =
        arguments_of<Roll>({{"rider", "rolls by how far this part rides; any motion when left out"},
                            {"like", "turns with this wheel, as one track runs over both"},
                            {"radius", "measured on the shape when left out"},
                            {"slip", "share it turns too fast, or below zero too slowly"}});
    roll.insert(roll.begin(), parts_argument("wheels: hinges about their axles"));
    registry.add({"coupling.roll", "Let wheels roll",
                  "Turns hinges as they are carried along, so that nothing slides.", std::move(roll),
                  coupling_roll});
    registry.add({"coupling.whole_turns",
                  "Whole turns a lap",
                  "Lets rolling wheels slip by the little that makes them turn whole times from a loop's "
                  "start to its seam.",
                  {parts_argument("rolling wheels"), clip_argument()},
                  whole_turns});
    registry.add(
        {"coupling.steer",
         "Steer wheels",
         "Turns kingpins so that every axle points to the middle of the bend.",
         {{"driver", ArgumentKind::Part, "the hinge that steers", true, {}, {}},
          parts_argument("hinges of the wheels about their kingpins"),
          {"turning", ArgumentKind::Place, "the middle of the axle that does not steer", true, {}, {}},
          {"reference",
           ArgumentKind::Length,
           "how far ahead of it the steering's angle is meant",
           true,
           {},
           {}}},
         coupling_steer});
    registry.add(
        {"coupling.lean",
         "Let wheels lean",
         "Puts a frame below each wheel that leans it over the outline of its tyre, down to lying on its "
         "side; the wheel touches the ground all the while, and rolls.",
         {parts_argument("wheels: hinges about their axles"),
          {"ground",
           ArgumentKind::Part,
           "the part that is the ground; the floor when left out",
           false,
           {},
           {}}},
         coupling_lean});
}

}  // namespace pivrak
