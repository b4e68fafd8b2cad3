#include "core/operations/travel/vehicle_builder.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/geometry/frame.h"
#include "core/geometry/teeth/tooth_count.h"
#include "core/model/control_sizes.h"
#include "core/model/edits/edits.h"
#include "core/model/names/names.h"
#include "core/rig/driven_by.h"

namespace pivrak {
namespace {

class Builder {
public:
    Builder(Document& document, const VehicleLayout& layout, const VehiclePlan& plan)
        : document_(document), layout_(layout), plan_(plan), names_(document) {}

    Result<BuiltVehicle> run() {
        PIVRAK_CHECK(check_wheels());
        measure();
        vehicle_.name = plan_.name;
        vehicle_.ground = plan_.ground;
        vehicle_.track_thickness_m = plan_.track_thickness_m;
        PIVRAK_CHECK(add_frames());
        for (const FoundWheel& wheel : layout_.wheels) PIVRAK_CHECK(add_wheel(wheel));
        for (const FoundWheel& runner : layout_.runners) PIVRAK_CHECK(add_runner(runner));
        PIVRAK_CHECK(hang_body());
        add_symbols();
        drop_emptied();
        vehicle_.id = document_.new_id<VehicleId>();
        document_.vehicles.set(vehicle_);
        out_.vehicle = vehicle_.id;
        return out_;
    }

private:
    Result<void> check_wheels() const {
        auto turning = layout_.wheels;
        turning.insert(turning.end(), layout_.runners.begin(), layout_.runners.end());
        for (const FoundWheel& wheel : turning)
            if (const auto driver = driver_name(document_, {wheel.parts.front(), ChannelKind::Turn}))
                return Error{"vehicle.driven",
                             fmt::format("'{}' is driven by '{}' already; remove that first",
                                         document_.parts.find(wheel.parts.front())->name, *driver),
                             document_.parts.find(wheel.parts.front())->name};
        return {};
    }

    bool has_turntable() const { return plan_.hitch && !plan_.turntable.empty(); }
    bool is_steered(int axle) const { return !plan_.hitch && plan_.steered.contains(axle); }
    bool turns(int axle) const { return is_steered(axle) || (has_turntable() && axle == 0); }

    /// The place that turning goes about: the middle of the axles that do not steer, on the floor.
    void measure() {
        double sum = 0, count = 0, y = 0, wheels = 0;
        for (std::size_t k = 0; k < layout_.axles_x_m.size(); ++k)
            if (!turns(static_cast<int>(k))) {
                sum += layout_.axles_x_m[k];
                ++count;
            }
        if (count == 0) {
            for (const double x : layout_.axles_x_m) sum += x;
            count = static_cast<double>(layout_.axles_x_m.size());
        }
        floor_ = 1e300;
        for (const FoundWheel& w : layout_.wheels) {
            floor_ = std::min(floor_, w.hub.z() - w.radius_m);
            y += w.hub.y();
            ++wheels;
        }
        floor_ -= plan_.track_thickness_m;
        turning_ = Vec3(sum / count, y / wheels, floor_);
    }

    PartId add(const std::string& name, PartId parent, const Vec3& place, JointKind kind, int axis = 2) {
        Part part;
        part.id = document_.new_id<PartId>();
        part.name = names_.take(fmt::format("{} {}", plan_.name, name));
        part.parent = parent;
        const Frame world{Quat(1, 0, 0, 0), place};
        part.parent_from_rest = parent ? world_from_rest(document_, parent).inverse() * world : world;
        part.joint.kind = kind;
        part.joint.axis = axis;
        document_.parts.set(part);
        out_.created.push_back(part.id);
        return part.id;
    }

    Result<void> add_frames() {
        const bool trailer = static_cast<bool>(plan_.hitch);
        vehicle_.place = add("place", {}, turning_, trailer ? JointKind::Fixed : JointKind::Free);
        PartId carrier = vehicle_.place;
        if (!trailer) carrier = vehicle_.yaw = add("yaw", carrier, turning_, JointKind::Hinge);
        vehicle_.ground_level = add("ground level", carrier, turning_, JointKind::Free);
        vehicle_.body = add("body", vehicle_.ground_level, turning_, JointKind::Free);
        if (!plan_.steered.empty() && !trailer) {
            steered_x_ = layout_.axles_x_m[static_cast<std::size_t>(*plan_.steered.begin())];
            vehicle_.steering =
                add("steering", vehicle_.body, {steered_x_, turning_.y(), floor_}, JointKind::Hinge);
            limit(vehicle_.steering, ChannelKind::Turn, {-most_steering, most_steering});
        }
        return trailer ? add_tow() : Result<void>{};
    }

    Result<void> add_tow() {
        const double front_x = has_turntable() ? layout_.axles_x_m.front() : turning_.x();
        Tow tow;
        tow.hitch = plan_.hitch;
        tow.hitch_m = world_from_rest(document_, plan_.hitch).inverse().point(plan_.hitch_place);
        tow.drawbar_m = plan_.hitch_place.x() - front_x;
        if (!(tow.drawbar_m > 0.01))
            return Error{
                "vehicle.hitch",
                fmt::format("the hitch lies {} before the axle that it pulls; it must be ahead of it",
                            format_length(tow.drawbar_m, document_)),
                "hitch_at"};
        if (has_turntable()) {
            tow.wheelbase_m = front_x - turning_.x();
            const double height = hub_height(0);
            tow.turntable =
                add("turntable", vehicle_.body, {front_x, turning_.y(), height}, JointKind::Hinge);
            turntable_ = tow.turntable;
            if (!plan_.drawbar.empty())
                tow.drawbar = add("drawbar", turntable_, {front_x, turning_.y(), plan_.hitch_place.z()},
                                  JointKind::Hinge, 1);
            for (const PartId id : plan_.turntable)
                PIVRAK_CHECK(
                    reparent(document_, id, is_listed(plan_.drawbar, id) ? tow.drawbar : turntable_));
        }
        Part root = *document_.parts.find(vehicle_.place);
        root.tow = tow;
        document_.parts.set(root);
        return {};
    }

    static bool is_listed(const std::vector<PartId>& list, PartId id) {
        return std::find(list.begin(), list.end(), id) != list.end();
    }

    double hub_height(int axle) const {
        double sum = 0, count = 0;
        for (const FoundWheel& w : layout_.wheels)
            if (w.axle_index == axle) {
                sum += w.hub.z();
                ++count;
            }
        return count > 0 ? sum / count : floor_;
    }

    void limit(PartId id, ChannelKind kind, const Limits& limits) {
        Part part = *document_.parts.find(id);
        Channel channel = part.joint.channel(kind);
        channel.limits = limits;
        part.joint.set_channel(kind, channel);
        document_.parts.set(part);
    }

    std::string where(const FoundWheel& wheel) const {
        const auto axles = static_cast<int>(layout_.axles_x_m.size());
        const std::string axle = axles == 1              ? ""
                                 : wheel.axle_index == 0 ? "front "
                                 : wheel.axle_index == axles - 1
                                     ? "rear "
                                     : fmt::format("axle {} ", wheel.axle_index + 1);
        return axle + (wheel.hub.y() > turning_.y() ? "left" : "right");
    }

    Result<void> add_wheel(const FoundWheel& found) {
        VehicleWheel wheel;
        wheel.wheel = found.parts.front();
        const PartId carrier = has_turntable() && found.axle_index == 0 ? turntable_ : vehicle_.body;
        wheel.suspension = add("suspension " + where(found), carrier, found.hub, JointKind::Slide);
        limit(wheel.suspension, ChannelKind::Shift, {-plan_.droop_m, plan_.bump_m});
        PartId above = wheel.suspension;
        if (is_steered(found.axle_index)) {
            const double inside = found.hub.y() > turning_.y() ? -plan_.kingpin_m : plan_.kingpin_m;
            const Vec3 kingpin = found.hub + Vec3(0, inside, 0);
            above = wheel.steering = add("kingpin " + where(found), above, kingpin, JointKind::Hinge);
            document_.couplings.set(
                {document_.new_id<CouplingId>(), Steer{{vehicle_.steering, ChannelKind::Turn},
                                                       {wheel.steering, ChannelKind::Turn},
                                                       steered_x_ - turning_.x(),
                                                       kingpin.x() - turning_.x(),
                                                       kingpin.y() - turning_.y(),
                                                       vehicle_.place}});
        }
        PIVRAK_CHECK(hang_wheel(found, above));
        for (const PartId pin : found.pins)
            if (!is_below(document_, pin, found.parts.front())) PIVRAK_CHECK(reparent(document_, pin, above));
        document_.couplings.set({document_.new_id<CouplingId>(), Roll{{wheel.wheel, ChannelKind::Turn}}});
        vehicle_.wheels.push_back(wheel);
        return {};
    }

    /// A sprocket or idler turns with the nearest wheel of its side, as the track runs over both.
    Result<void> add_runner(const FoundWheel& runner) {
        const FoundWheel* nearest = nullptr;
        double least = 1e300;
        for (const FoundWheel& w : layout_.wheels) {
            if (std::abs(w.hub.y() - runner.hub.y()) > 0.5 * w.width_m) continue;
            const double off = (w.hub - runner.hub).norm();
            if (off < least) nearest = &w;
            least = std::min(off, least);
        }
        if (!nearest) return {};
        PIVRAK_CHECK(hang_wheel(runner, vehicle_.body));
        for (const PartId pin : runner.pins) PIVRAK_CHECK(reparent(document_, pin, vehicle_.body));
        const PartId id = runner.parts.front();
        Roll roll{{id, ChannelKind::Turn}, {}, toothed_radius(id)};
        roll.like = nearest->parts.front();
        document_.couplings.set({document_.new_id<CouplingId>(), roll});
        vehicle_.runners.push_back(id);
        return {};
    }

    /// Where the links of a track lie on a sprocket: on its pitch circle. 0 for what shows no teeth.
    double toothed_radius(PartId id) const {
        const Part& part = *document_.parts.find(id);
        const Frame axis_from_hinge =
            Frame{Quat::FromTwoVectors(Vec3::UnitY(), Vec3::UnitZ()), Vec3(0, 0, 0)};
        const auto teeth = count_outside_teeth(*document_.shapes.find(part.shape)->mesh,
                                               axis_from_hinge * part.part_from_shape);
        if (!teeth) return 0;
        return plan_.track_pitch_m > 0 ? 0.5 * plan_.track_pitch_m / std::sin(pi / teeth->teeth)
                                       : 0.5 * (teeth->tip_radius_m + teeth->root_radius_m);
    }

    /// The tyre becomes a hinge about its axle, and what turns with it is fixed to it.
    Result<void> hang_wheel(const FoundWheel& found, PartId above) {
        const PartId tyre = found.parts.front();
        const Frame upright{Quat(1, 0, 0, 0), found.hub};
        move_pivot(document_, tyre, aimed_frame(upright, 1, found.axle, found.hub));
        PIVRAK_CHECK(reparent(document_, tyre, above));
        Part part = *document_.parts.find(tyre);
        part.joint = {};
        part.joint.kind = JointKind::Hinge;
        part.joint.axis = 1;
        document_.parts.set(part);
        for (const PartId id : found.parts) {
            if (id == tyre || is_below(document_, id, tyre)) continue;
            PIVRAK_CHECK(reparent(document_, id, tyre));
            Part fixed = *document_.parts.find(id);
            fixed.joint = {};
            document_.parts.set(fixed);
        }
        return {};
    }

    Result<void> hang_body() {
        for (const PartId id : layout_.body) {
            if (is_listed(plan_.turntable, id) || is_below(document_, id, vehicle_.place)) continue;
            PIVRAK_CHECK(reparent(document_, id, vehicle_.body));
        }
        return {};
    }

    void add_symbol(PartId id, ControlForm form, ControlColor color, double size) {
        if (!id) return;
        Part part = *document_.parts.find(id);
        ControlSymbol symbol = fitted_symbol(document_, id, form, color);
        symbol.half_m *= size;
        part.control = symbol;
        document_.parts.set(part);
    }

    void add_symbols() {
        add_symbol(vehicle_.place, ControlForm::Plate, ControlColor::Saffron, 1.06);
        lay_on_floor(vehicle_.place);
        add_symbol(vehicle_.yaw, ControlForm::Ring, ControlColor::Leaf, 1);
        lay_on_floor(vehicle_.yaw);
        add_symbol(vehicle_.body, ControlForm::Box, ControlColor::Plum, 1);
        if (!vehicle_.steering) return;
        Part part = *document_.parts.find(vehicle_.steering);
        const double size = 0.35 * std::max(layout_.track_m(), 0.4);
        part.control = ControlSymbol{ControlForm::Arrow,
                                     ControlColor::Rust,
                                     0,
                                     {size + front_overhang(), 0, 0.02},
                                     {size, 0.5 * size, 0.02}};
        document_.parts.set(part);
    }

    double front_overhang() const { return 1.2 * layout_.wheels.front().radius_m; }

    void lay_on_floor(PartId id) {
        if (!id) return;
        Part part = *document_.parts.find(id);
        part.control->axis = 2;
        part.control->middle_m.z() = 0.01;
        part.control->half_m.z() = 0.01;
        document_.parts.set(part);
    }

    /// Groups that held the vehicle's parts and are empty now.
    void drop_emptied() {
        bool dropped = true;
        while (dropped) {
            dropped = false;
            const Tree tree(document_);
            for (const PartId id : groups_) {
                if (!document_.parts.contains(id) || !tree.children(id).empty()) continue;
                remove_branch(document_, id);
                dropped = true;
            }
        }
    }

    static constexpr double most_steering = 40 * rad_per_deg;

    Document& document_;
    const VehicleLayout& layout_;
    const VehiclePlan& plan_;
    FreeNames names_;
    Vehicle vehicle_;
    BuiltVehicle out_;
    Vec3 turning_{0, 0, 0};
    double floor_ = 0, steered_x_ = 0;
    PartId turntable_;
    std::vector<PartId> groups_ = groups_above();

    /// Plain datums above the vehicle's parts, before anything is moved.
    std::vector<PartId> groups_above() const {
        std::vector<PartId> groups;
        const auto add_above = [&](PartId id) {
            for (const Part* p = document_.parts.find(id); p && p->parent;
                 p = document_.parts.find(p->parent)) {
                const Part* above = document_.parts.find(p->parent);
                if (!above->shape && !above->control && above->joint.kind == JointKind::Fixed &&
                    !is_listed(groups, above->id))
                    groups.push_back(above->id);
            }
        };
        for (const auto* wheels : {&layout_.wheels, &layout_.runners})
            for (const FoundWheel& wheel : *wheels)
                for (const auto* parts : {&wheel.parts, &wheel.pins})
                    for (const PartId id : *parts) add_above(id);
        for (const PartId id : layout_.body) add_above(id);
        return groups;
    }
};

}  // namespace

Result<BuiltVehicle> build_vehicle(Document& document, const VehicleLayout& layout, const VehiclePlan& plan) {
    return Builder(document, layout, plan).run();
}

}  // namespace pivrak
