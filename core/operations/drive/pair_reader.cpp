#include "core/operations/drive/pair_reader.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/rig/driven_by.h"
#include "core/rig/gears/gear_pair.h"
#include "core/rig/gears/tooth_phase.h"
#include "core/rig/gears/train.h"
#include "core/rig/vehicles/wheel_axis.h"
#include "core/rig/vehicles/wheel_size.h"

namespace pivrak {
namespace {

constexpr int most_starts = 12;  // of a worm
constexpr double least_skew_m = 1e-3, skew_share = 0.05;

/// Reads what a pair is made of: sizes typed, or counted and measured on the shapes.
class PairReader {
public:
    PairReader(const Document& document, const Arguments& a) : document_(document), a_(a) {}

    Result<GearPair> read() {
        // What is fixed on a shaft stands for it, and is what is measured.
        driver_ = a_.part("driver");
        driven_ = a_.part("driven");
        pair_.driver.owner = moving(driver_);
        pair_.driven.owner = moving(driven_);
        pair_.kind = a_.has("kind") ? *value_of<PairKind>(pair_kind_words, a_.text("kind"))
                     : pair_.driver.part() == pair_.driven.part() ? PairKind::Screw
                                                                  : likely_kind(document_, driver_, driven_);
        PIVRAK_CHECK(channels());
        PIVRAK_CHECK(check_free());
        PIVRAK_CHECK(sizes());
        PIVRAK_CHECK(check_axes_meet());
        if (a_.has("hand")) pair_.left_hand = a_.text("hand") == "left";
        return pair_;
    }

private:
    PartId moving(PartId part) const {
        return document_.parts.find(part)->joint.kind == JointKind::Fixed
                   ? turning_hinge(document_, part).value_or(part)
                   : part;
    }

    /// A hinge turns, a slide shifts; a screw may be one part that does both.
    Result<void> channels() {
        const bool shifts = pair_.kind == PairKind::Rack || pair_.kind == PairKind::Screw;
        if (pair_.driver.part() == pair_.driven.part()) {
            const Part& part = *document_.parts.find(pair_.driver.part());
            if (pair_.kind != PairKind::Screw || part.joint.kind != JointKind::Cylinder)
                return Error{"gear.itself", fmt::format("'{}' cannot drive itself", part.name), part.name};
            pair_.driven.kind = ChannelKind::Shift;
            return {};
        }
        int slides = 0;
        for (ChannelRef* channel : {&pair_.driver, &pair_.driven}) {
            const Part& part = *document_.parts.find(channel->part());
            if (part.joint.kind == JointKind::Slide && shifts) {
                channel->kind = ChannelKind::Shift;
                ++slides;
            } else if (part.joint.kind != JointKind::Hinge) {
                return Error{
                    "gear.not_hinge",
                    fmt::format("'{}' is no hinge: give it a pivot and a hinge joint first", part.name),
                    part.name};
            }
        }
        if (shifts && slides != 1)
            return Error{
                "gear.no_slide",
                fmt::format("a {} needs one hinge and one slide: '{}' and '{}' are not",
                            pair_.kind == PairKind::Rack ? "rack and pinion" : "screw and nut",
                            name_of(document_, pair_.driver.part()), name_of(document_, pair_.driven.part())),
                name_of(document_, pair_.driven.part())};
        return {};
    }

    /// The driven may be a shaft of a train; nothing else may set it.
    Result<void> check_free() const {
        const Coupling* other = coupling_driving(document_, pair_.driven);
        if (other && !other->as<GearPair>())
            return Error{"gear.driven_twice",
                         fmt::format("'{}' is driven by '{}' already; remove that first",
                                     name_of(document_, pair_.driven.part()),
                                     driver_name(document_, pair_.driven).value_or("its carrier's motion")),
                         name_of(document_, pair_.driven.part())};
        for (const Coupling& known : document_.couplings)
            if (const GearPair* p = known.as<GearPair>();
                p && ((p->driver == pair_.driver && p->driven == pair_.driven) ||
                      (p->driver == pair_.driven && p->driven == pair_.driver)))
                return Error{
                    "gear.driven_twice",
                    fmt::format("'{}' and '{}' are a pair already; remove that first",
                                name_of(document_, p->driver.part()), name_of(document_, p->driven.part())),
                    name_of(document_, pair_.driven.part())};
        return {};
    }

    Result<void> sizes() {
        switch (pair_.kind) {
            case PairKind::Screw:
                return lead();
            case PairKind::Belt:
            case PairKind::CrossedBelt:
                // A toothed belt counts teeth, where they are given.
                if (a_.has("driver_teeth") || a_.has("driven_teeth")) return belt_teeth();
                return radii();
            case PairKind::Rack:
                return rack();
            case PairKind::Worm:
                return worm();
            default:
                break;
        }
        if (a_.has("driver_radius") || a_.has("driven_radius")) return radii();
        return teeth_of_both();
    }

    Result<int> teeth(const char* argument, PartId part, int least) const {
        if (a_.has(argument)) {
            const int typed = a_.integer(argument);
            if (typed < least || typed > 1000)
                return Error{"gear.teeth",
                             fmt::format("{} teeth on '{}' is out of range: {} to 1000", typed,
                                         name_of(document_, part), least),
                             argument};
            return typed;
        }
        if (const auto counted = teeth_of(document_, part)) return *counted;
        // Across the axis of a gear no teeth are seen: that is the cause to tell.
        const PartId hinge = turning_hinge(document_, part).value_or(part);
        if (const auto across = round_across(document_, hinge))
            return Error{"gear.across", across_words(document_, hinge, *across), name_of(document_, hinge)};
        return Error{
            "gear.teeth",
            fmt::format("no teeth can be counted on '{}'; give '{}'", name_of(document_, part), argument),
            argument};
    }

    Result<void> belt_teeth() {
        if (a_.has("driver_radius") || a_.has("driven_radius"))
            return Error{"gear.belt", "a belt runs by teeth or by radii: give one or the other",
                         "driver_teeth"};
        for (const char* argument : {"driver_teeth", "driven_teeth"})
            if (!a_.has(argument))
                return Error{
                    "argument.missing",
                    fmt::format("'{}' is needed: a toothed belt runs by the teeth of both", argument),
                    argument};
        return teeth_of_both();
    }

    /// Bevels' axes meet: past each other their cones would not touch.
    Result<void> check_axes_meet() const {
        if (pair_.kind != PairKind::Bevel) return {};
        const auto members = pair_members(document_, pair_);
        const Vec3 across = members[0].axis.cross(members[1].axis),
                   off = members[1].centre - members[0].centre;
        if (across.norm() < 0.02)
            return Error{
                "gear.skew",
                fmt::format("the axes of '{}' and '{}' are parallel; those of bevels meet: couple them as "
                            "'outside' or 'inside'",
                            name_of(document_, pair_.driver.part()), name_of(document_, pair_.driven.part())),
                name_of(document_, pair_.driven.part())};
        const double apart = std::abs(off.dot(across.normalized()));
        if (apart <= std::max(least_skew_m, skew_share * off.norm())) return {};
        return Error{
            "gear.skew",
            fmt::format("the axes of '{}' and '{}' pass {} apart; those of bevels meet: move one of them "
                        "by that, or couple them as a 'worm'",
                        name_of(document_, pair_.driver.part()), name_of(document_, pair_.driven.part()),
                        format_length(apart, document_)),
            name_of(document_, pair_.driven.part())};
    }

    Result<void> teeth_of_both() {
        PIVRAK_TRY(first, teeth("driver_teeth", driver_, 3));
        PIVRAK_TRY(second, teeth("driven_teeth", driven_, 3));
        pair_.driver_teeth = first;
        pair_.driven_teeth = second;
        if (pair_.kind == PairKind::Inside && first == second)
            return Error{"gear.teeth",
                         fmt::format("a gear of {} teeth cannot run inside a ring of as many", first),
                         "driven_teeth"};
        return {};
    }

    /// Refuses a wheel that was picked before its worm.
    Result<void> check_worm_first() const {
        const auto wheel_teeth = teeth_of(document_, driver_);
        if (!wheel_teeth) return {};
        GearPair turned = pair_;
        std::swap(turned.driver, turned.driven);
        turned.driven_teeth = *wheel_teeth;
        if (!counted_threads(document_, turned)) return {};
        return Error{
            "gear.worm_first",
            fmt::format("the thread is on '{}': pick the worm first, then its wheel '{}'",
                        name_of(document_, pair_.driven.part()), name_of(document_, pair_.driver.part())),
            name_of(document_, pair_.driven.part())};
    }

    Result<void> worm() {
        const Result<int> wheel = teeth("driven_teeth", driven_, 3);
        if (wheel) pair_.driven_teeth = *wheel;
        // One start is common where no thread shows.
        if (const auto threads = wheel ? counted_threads(document_, pair_) : std::nullopt) {
            pair_.driver_teeth = threads->starts;
            pair_.left_hand = threads->left_hand;
        } else {
            PIVRAK_CHECK(check_worm_first());
            if (!wheel) return wheel.error();
        }
        if (a_.has("driver_teeth")) pair_.driver_teeth = a_.integer("driver_teeth");
        if (pair_.driver_teeth > most_starts && !a_.has("kind"))
            return Error{
                "gear.kind",
                fmt::format("the axes of '{}' and '{}' cross without meeting, and neither is a worm: move "
                            "them until they meet, for bevels, or give the 'kind'",
                            name_of(document_, pair_.driver.part()), name_of(document_, pair_.driven.part())),
                name_of(document_, pair_.driver.part())};
        if (pair_.driver_teeth < 1 || pair_.driver_teeth > most_starts)
            return Error{"gear.teeth",
                         fmt::format("a worm of {} starts is out of range: 1 to 12", pair_.driver_teeth),
                         "driver_teeth"};
        return {};
    }

    Result<double> radius(const char* argument, PartId part) const {
        const double typed = a_.number_if(argument).value_or(0);
        if (typed < 0)
            return Error{"gear.radius",
                         fmt::format("a radius of {} is below zero", format_length(typed, document_)),
                         argument};
        if (typed > 0) return typed;
        const WheelSize size = measure_wheel(
            wheel_shapes(document_, Tree(document_), turning_hinge(document_, part).value_or(part), part));
        if (size.radius_m > 0) return size.radius_m;
        return Error{
            "gear.radius",
            fmt::format("no radius can be measured on '{}'; give '{}'", name_of(document_, part), argument),
            argument};
    }

    Result<void> radii() {
        PIVRAK_TRY(first, radius("driver_radius", driver_));
        PIVRAK_TRY(second, radius("driven_radius", driven_));
        pair_.driver_radius_m = first;
        pair_.driven_radius_m = second;
        return {};
    }

    Result<void> rack() {
        const bool pinion_drives = is_turn(pair_.driver.kind);
        const PartId pinion = pinion_drives ? pair_.driver.part() : pair_.driven.part();
        double& size = pinion_drives ? pair_.driver_radius_m : pair_.driven_radius_m;
        int& count = pinion_drives ? pair_.driver_teeth : pair_.driven_teeth;
        const char *radius_argument = pinion_drives ? "driver_radius" : "driven_radius",
                   *teeth_argument = pinion_drives ? "driver_teeth" : "driven_teeth";
        if (const double typed = a_.number_if(radius_argument).value_or(0); typed > 0) {
            size = typed;
            return {};
        }
        PIVRAK_TRY(found, teeth(teeth_argument, pinion, 3));
        count = found;
        const ToothedPart shown = toothed_part(document_, pinion, count, pinion_axis(pinion),
                                               any_perpendicular(pinion_axis(pinion)));
        const double module = a_.number_if("module").value_or(
            shown.shape_part ? standard_module(2 * shown.tip_radius_m / (count + 2)) : 0);
        if (!(module > 0))
            return Error{"gear.module",
                         fmt::format("no module can be measured on '{}'; give 'module' or '{}'",
                                     name_of(document_, pinion), radius_argument),
                         "module"};
        size = 0.5 * module * count;
        return {};
    }

    Vec3 pinion_axis(PartId pinion) const {
        return world_from_rest(document_, pinion).axis(document_.parts.find(pinion)->joint.axis);
    }

    Result<void> lead() {
        pair_.lead_m = a_.number_if("lead").value_or(0);
        if (!(pair_.lead_m > 0))
            return Error{"gear.lead", "a screw needs its 'lead': how far it goes in one turn", "lead"};
        return {};
    }

    const Document& document_;
    const Arguments& a_;
    PartId driver_, driven_;  ///< as given
    GearPair pair_;
};

}  // namespace

Result<GearPair> read_pair(const Document& document, const Arguments& arguments) {
    return PairReader(document, arguments).read();
}

}  // namespace pivrak
