#include "core/motion/rig_program.h"

#include <cmath>

#include "core/rig/chain_layout.h"
#include "core/rig/joint_motion.h"
#include "core/rig/ride_frame.h"
#include "core/rig/tow_motion.h"

namespace pivrak {
namespace {

/// Bodies settle in a few rounds: each one looks where the wheels are once the body leans.
constexpr int follow_rounds = 3, hitched_rounds = 8;
/// Steps in which a tensioner finds its place.
constexpr int most_take_ups = 30;
/// Of the way of a wheel whose ground is not known: up to 75 degrees against its carrier it climbs, beyond it
/// is lifted.
constexpr double steepest = 3.86;

class Run {
public:
    Run(const RigProgram& program, std::span<const std::uint32_t> node_order, std::span<const Limits> limits,
        StateMode mode, RigValues values)
        : p_(program), order_(node_order), limits_(limits), mode_(mode), v_(values) {}

    void run(const StepRun& r) {
        switch (r.kind) {
            case StepKind::Linear:
                return each(p_.linears, r, [&](const LinearStep& s) {
                    set(s.driven, s.ratio * v_.channels[s.driver] + s.phase);
                });
            case StepKind::Sum:
                return each(p_.sums, r, [&](const SumStep& s) { sum(s); });
            case StepKind::Steer:
                return each(p_.steers, r, [&](const SteerStep& s) { steer(s); });
            case StepKind::Nodes:
                return nodes(r);
            case StepKind::Ride:
                return each(p_.rides, r, [&](const RideStep& s) { ride(s); });
            case StepKind::Follow:
                return each(p_.follows, r, [&](const FollowStep& s) { follow(s); });
            case StepKind::Suspend:
                return each(p_.suspends, r, [&](const SuspendStep& s) { suspend(s); });
            case StepKind::Lean:
                return each(p_.leans, r, [&](const LeanStep& s) { lean(s); });
            case StepKind::Tow:
                for (std::uint32_t i = r.first; i < r.first + r.count; ++i) tow(p_.tows[i], i);
                return;
            case StepKind::Drawbar:
                return each(p_.drawbars, r, [&](const DrawbarStep& s) { drawbar(s); });
            case StepKind::Roll:
                for (std::uint32_t i = r.first; i < r.first + r.count; ++i) roll(p_.rolls[i], i);
                return;
            case StepKind::Chain:
                for (std::uint32_t i = r.first; i < r.first + r.count; ++i) chain(p_.chains[i], v_.chains[i]);
                return;
        }
    }

private:
    template <class Step, class Do>
    static void each(const std::vector<Step>& steps, const StepRun& r, Do act) {
        for (std::uint32_t i = r.first; i < r.first + r.count; ++i) act(steps[i]);
    }

    void set(std::uint32_t channel, double value) { v_.channels[channel] = limits_[channel].clamp(value); }
    const Frame& frame(std::int32_t node) const {
        static const Frame world;
        return node < 0 ? world : v_.frames[static_cast<std::size_t>(node)];
    }
    Frame joint_of(const NodeStep& node) const {
        return node.channel < 0 ? Frame{}
                                : rest_from_part(node.joint, node.axis,
                                                 &v_.channels[static_cast<std::size_t>(node.channel)]);
    }

    void nodes(const StepRun& r) {
        for (std::uint32_t i = r.first; i < r.first + r.count; ++i) {
            const std::uint32_t slot = order_[i];
            const NodeStep& node = p_.nodes[slot];
            Frame local = node.parent_from_rest;
            if (node.joint == JointKind::Hinge)
                local.rotation =
                    local.rotation *
                    turn_about_axis(node.axis, v_.channels[static_cast<std::size_t>(node.channel)]);
            else if (node.channel >= 0)
                local = local * joint_of(node);
            v_.frames[slot] =
                node.parent < 0 ? local : v_.frames[static_cast<std::size_t>(node.parent)] * local;
        }
    }

    void sum(const SumStep& s) {
        double value = s.constant;
        for (std::uint32_t i = s.first; i < s.first + s.count; ++i)
            value += p_.terms[i].share * v_.channels[p_.terms[i].channel];
        set(s.driven, value);
    }

    /// Links stand from pin to pin. A chain that cannot go round its wheels stays as it was built.
    void chain(const ChainStep& s, ChainStand& out) {
        const Frame& plane = frame(s.frame);
        const Frame plane_from_world = plane.inverse();
        stand_wheels(s, plane_from_world, out.loop);
        const Vec2 down = plane_from_world.direction(-Vec3::UnitZ()).head<2>();
        out.loop.down = down.norm() > least_upright ? Vec2(down.normalized()) : Vec2(0, 0);
        if (s.take_up.channel >= 0) take_up(s, plane_from_world, out);
        const std::span<Vec2> pins(v_.pins.data() + s.first_pin, s.loop.pin_count());
        out.fit = place_pins(out.loop, travel_of(s), pins);
        if (s.loop.ends) turn_wheels(s, plane_from_world, out.loop);
        for (std::size_t i = 0; i < s.links.size(); ++i) {
            const NodeStep& node = p_.nodes[s.links[i]];
            Frame link = node.parent_from_rest;
            if (out.fit.placed) link = plane_from_link(pins, i);
            v_.frames[s.links[i]] = plane * link * joint_of(node);
        }
    }

    double travel_of(const ChainStep& s) const {
        return s.travel < 0 ? 0 : v_.channels[static_cast<std::size_t>(s.travel)];
    }

    /// Where a part stands before its own joint moves it.
    Frame base_of(std::int32_t slot) const {
        const NodeStep& node = p_.nodes[static_cast<std::size_t>(slot)];
        return frame(node.parent) * node.parent_from_rest;
    }

    void stand_wheels(const ChainStep& s, const Frame& plane_from_world, ChainLoop& loop) const {
        for (std::size_t i = 0; i < s.wheels.size(); ++i) {
            const ChainStep::Wheel& wheel = s.wheels[i];
            // Those of an open run may have no frame yet: it turns them, or is turned with the first.
            const Vec3 centre = loop.ends ? base_of(wheel.node).translation : frame(wheel.node).translation;
            loop.circles[i].centre = plane_from_world.point(centre).head<2>();
        }
        if (!loop.ends) return;
        const auto place = [&](const ChainStep::End& end) -> Vec2 {
            if (end.node < 0) return {0, 0};
            return plane_from_world.point(frame(end.node).point(end.place)).head<2>();
        };
        loop.ends->from = place(s.ends[0]);
        loop.ends->to = place(s.ends[1]);
    }

    /// Wheels that an open run goes over turn with it, seen from what carries them.
    void turn_wheels(const ChainStep& s, const Frame& plane_from_world, const ChainLoop& loop) {
        std::array<RunTouch, most_chain_wheels> touches;
        run_touches(loop, std::span(touches).first(s.wheels.size()));
        for (std::size_t i = 0; i < s.wheels.size(); ++i) {
            const ChainStep::Wheel& wheel = s.wheels[i];
            if (wheel.channel < 0) continue;
            const NodeStep& node = p_.nodes[static_cast<std::size_t>(wheel.node)];
            const double carrier =
                turn_in_plane(plane_from_world, base_of(wheel.node), node.axis) - wheel.carrier_rad;
            set(static_cast<std::uint32_t>(wheel.channel),
                wheel.sense * (turned_by_run(loop.circles[i], loop.pitch_m, s.rest[i], touches[i]) -
                               std::remainder(carrier, 2 * pi)));
        }
    }

    /// Sets a tensioner so that the chain keeps its slack: the root of the polygon's own length, from rest
    /// on.
    void take_up(const ChainStep& s, const Frame& plane_from_world, ChainStand& out) {
        const ChainStep::TakeUp& t = s.take_up;
        const auto channel = static_cast<std::size_t>(t.channel);
        const bool pays_out = t.channel == s.travel;
        const Frame base = pays_out ? Frame{} : frame(t.parent) * t.parent_from_rest;
        const auto off = [&](double value) {
            if (!pays_out)
                carry(s, plane_from_world, base * rest_from_part(t.joint, t.axis, &value), out.loop);
            const ChainFit fit = chain_fit(out.loop, pays_out ? value : travel_of(s));
            return fit.possible ? fit.slack_m - t.spare_m : 1e9;
        };
        const Limits& limits = limits_[channel];
        double a = limits.clamp(0), at_a = off(a), b = limits.clamp(a + 1e-3);
        if (a == b) b = limits.clamp(a - 1e-3);
        double at_b = off(b);
        for (int i = 0; i < most_take_ups && std::abs(at_b) > 1e-10 && at_a != at_b; ++i) {
            const double next =
                limits.clamp(b - std::clamp(at_b * (b - a) / (at_b - at_a), -t.longest_step, t.longest_step));
            if (next == b) break;
            a = b;
            at_a = at_b;
            b = next;
            at_b = off(b);
        }
        // Where the slack cannot be reached, the better end is taken.
        const double value = std::abs(at_b) <= std::abs(at_a) ? b : a;
        set(static_cast<std::uint32_t>(channel), value);
        off(value);
    }

    /// What a tensioner carries, with it turned or shifted to `arm`.
    void carry(const ChainStep& s, const Frame& plane_from_world, const Frame& arm, ChainLoop& loop) const {
        using What = ChainStep::TakeUp::What;
        for (const auto& carried : s.take_up.carried) {
            Frame there = down_chain(arm, carried.chain);
            if (carried.what == What::Wheel) {
                loop.circles[carried.wheel].centre = plane_from_world.point(there.translation).head<2>();
                continue;
            }
            if (!carried.chain.empty()) there = there * joint_of(p_.nodes[carried.chain.back()]);
            const bool from = carried.what == What::From;
            (from ? loop.ends->from : loop.ends->to) =
                plane_from_world.point(there.point(s.ends[from ? 0 : 1].place)).head<2>();
        }
    }

    void steer(const SteerStep& s) {
        // The curvature of the bend, of the middle of the turning axle.
        double bend = std::tan(v_.channels[s.driver]) / s.reference_m;
        if (s.ride >= 0) bend += bend_of(p_.rides[static_cast<std::size_t>(s.ride)]);
        set(s.driven, std::atan2(s.forward_m * bend, 1 - s.left_m * bend));
    }

    /// The bend to the left [1/m] that a rider drives: its path's, or, carried at two points, the one that
    /// points its front along the path.
    double bend_of(const RideStep& s) const {
        const NodeStep& node = p_.nodes[s.node];
        const RiddenPath path{s.path->curve, s.rolls, frame(s.carrier)};
        const double along = v_.channels[static_cast<std::size_t>(node.along)],
                     apart = s.ride.front_m + s.ride.rear_m;
        const Frame& rider = v_.frames[s.node];
        const Vec3 up = rider.axis(s.ride.up_axis),
                   lead = (s.ride.against ? -1.0 : 1.0) * rider.axis(s.ride.axis), left = up.cross(lead);
        const PathSample sample = path.curve.without_up(along + s.ride.front_m);
        if (!(apart > 0)) return path.world_from_path.direction(sample.curvature).dot(left);
        const Vec3 way = path.world_from_path.direction(sample.tangent);
        return way.dot(left) / std::max(way.dot(lead), 1e-6) / apart;
    }

    void ride(const RideStep& s) {
        const NodeStep& node = p_.nodes[s.node];
        const RiddenPath path{s.path->curve, s.rolls, frame(s.carrier)};
        const auto along = static_cast<std::size_t>(node.along);
        if (s.ahead >= 0) {
            const double at_ahead =
                v_.channels[static_cast<std::size_t>(p_.nodes[static_cast<std::size_t>(s.ahead)].along)];
            if (s.ride.along_path) {
                v_.channels[along] = at_ahead - s.ride.gap_m;
                v_.frames[s.node] = ride_frame(path, s.ride, v_.channels[along]) * joint_of(node);
                return;
            }
            if (s.shares_point()) {
                v_.channels[along] = rear_point_along(s.path->curve, s.ride_ahead, at_ahead) - s.ride.front_m;
                v_.frames[s.node] = ride_frame(path, s.ride, v_.channels[along]) * joint_of(node);
                return;
            }
            const Frame& ahead = frame(s.ahead);
            const Vec3 coupler = coupler_place(ahead, s.ride_ahead, -s.ride_ahead.coupler_rear_m);
            const double between = s.ride_ahead.coupler_rear_m + s.ride.gap_m + s.ride.coupler_front_m;
            const double reached = s.same_path
                                       ? at_ahead
                                       : path.curve.nearest(path.world_from_path.inverse().point(coupler)),
                         guess = reached - (s.same_path ? between : s.ride.coupler_front_m + s.ride.gap_m);
            v_.channels[along] = coupled_along(path, s.ride, coupler, guess, reached);
        }
        v_.frames[s.node] = ride_frame(path, s.ride, v_.channels[along]) * joint_of(node);
    }

    static GroundContact stand(const std::shared_ptr<const GroundMap>& ground, const GroundWheel& wheel,
                               const Vec3& up, bool& found) {
        if (!ground) {
            found = true;
            return stand_on_floor(wheel, up, 0);
        }
        const auto contact = ground->stand(wheel, up);
        found = contact.has_value();
        return contact.value_or(GroundContact{});
    }

    void follow(const FollowStep& s) {
        const Frame rest = frame(s.parent) * s.parent_from_rest;
        Vec3 lean(0, 0, 0), shift(0, 0, 0);  // heave [m], roll and pitch [rad]; a trailer's level move [m]
        const auto leaned = [&](const Vec3& by) {
            return rest * Frame{turn_about_axis(1, by[2]) * turn_about_axis(0, by[1]),
                                Vec3(shift.x(), shift.y(), by[0])};
        };
        const auto felt = [&] {
            return Vec3(limits_[s.heave].clamp(s.heave_share * lean[0]),
                        limits_[s.roll].clamp(s.roll_share * lean[1]),
                        limits_[s.pitch].clamp(s.hangs() ? lean[2] : s.pitch_share * lean[2]));
        };
        for (int round = 0; round < (s.hitch >= 0 ? hitched_rounds : follow_rounds); ++round) {
            const Frame now = leaned(lean);
            Vec3 more(0, 0, 0);
            for (std::size_t i = 0; i < s.wheels.size(); ++i) {
                const HungWheel& w = s.wheels[i];
                bool found = false;
                const GroundContact contact =
                    stand(s.ground, {now.point(w.hub), now.direction(w.axle), w.radius_m, w.half_width_m},
                          now.axis(2), found);
                // A wheel without ground below it asks for nothing.
                if (found) more += contact.lift_m * s.plane.col(static_cast<Eigen::Index>(i));
            }
            if (s.hangs()) more[2] = pitch_to_hitch(s, leaned(felt()));
            lean += more;
            Vec3 moved(0, 0, 0);
            if (s.hitch >= 0) moved = level_to_hitch(s, leaned(felt()), rest);
            shift += moved;
            if (more.cwiseAbs().maxCoeff() < 1e-7 && moved.norm() < 1e-7) break;
        }
        // What the ground asks for settles slowly; the hitch is met whatever is left of that.
        for (int round = 0; round < follow_rounds && s.hitch >= 0; ++round) {
            if (s.hangs()) lean[2] += pitch_to_hitch(s, leaned(felt()));
            shift += level_to_hitch(s, leaned(felt()), rest);
        }
        const Vec3 taken = felt();
        set(s.heave, taken[0]);
        set(s.roll, taken[1]);
        set(s.pitch, taken[2]);
        if (s.hitch < 0) return;
        set(s.shift_x, shift.x());
        set(s.shift_y, shift.y());
    }

    /// How much more a trailer with a rigid drawbar pitches about its axle until its eye is as high as the
    /// hitch.
    double pitch_to_hitch(const FollowStep& s, const Frame& now) const {
        const double missing = (frame(s.hitch).point(s.hitch_m) - now.point(s.eye)).z();
        const double reach = now.direction(Vec3(s.eye.x(), 0, s.eye.z())).head<2>().norm();
        return reach > 1e-6 ? -std::clamp(std::copysign(missing / reach, missing * s.eye.x()), -0.5, 0.5) : 0;
    }

    /// Leaning brings a turntable out of place, and a slope shortens a drawbar: the trailer moves after it,
    /// level.
    Vec3 level_to_hitch(const FollowStep& s, const Frame& leaned, const Frame& rest) const {
        const Vec3 missing = frame(s.hitch).point(s.hitch_m) - leaned.point(s.eye);
        Vec3 move(missing.x(), missing.y(), 0);
        if (s.drawbar_m > 0) {
            const double level =
                             std::sqrt(std::max(0.0, s.drawbar_m * s.drawbar_m - missing.z() * missing.z())),
                         distance = move.norm();
            move *= distance > 1e-9 ? (distance - level) / distance : 0;
        }
        return rest.rotation.conjugate() * move;
    }

    /// A wheel's frame, before it turns, below the frame that its chain hangs in.
    Frame down_chain(Frame wheel, const std::vector<std::uint32_t>& chain) const {
        for (const std::uint32_t slot : chain) {
            const NodeStep& node = p_.nodes[slot];
            wheel = wheel * node.parent_from_rest;
            if (slot != chain.back()) wheel = wheel * joint_of(node);
        }
        return wheel;
    }

    void suspend(const SuspendStep& s) {
        const Frame base = frame(s.parent) * s.parent_from_rest;
        const Frame wheel = down_chain(base, s.chain);
        const Vec3 up = base.axis(s.axis), axle = wheel.axis(s.wheel_axis);
        const GroundWheel tyre{wheel.translation + s.size.middle_m * axle, axle, s.size.radius_m,
                               s.size.half_width_m};
        WheelStand& out = v_.wheels[s.contact];
        const GroundContact contact = stand(s.ground, tyre, up, out.has_ground);
        // Without ground the wheel hangs as low as it can.
        set(s.channel, out.has_ground ? contact.lift_m : -1e9);
        if (v_.channels[s.channel] < -1e8) v_.channels[s.channel] = 0;
        out.gap_m = out.has_ground ? v_.channels[s.channel] - contact.lift_m : 0;
        out.place = contact.place;
        out.normal = contact.normal;
    }

    /// The lift of a profile at a place: the most of its cylinders between circles, and of its circles.
    static std::optional<double> profile_lift(const LeanStep& s, const Vec3& pivot, const Vec3& axle) {
        std::optional<double> most;
        const auto look = [&](double along, double half, double radius) {
            if (const auto found = s.ground->stand_leaning({pivot + along * axle, axle, radius, half});
                found && (!most || found->lift_m > *most))
                most = found->lift_m;
        };
        const auto& circles = s.profile->circles;
        for (std::size_t i = 0; i < circles.size(); ++i) {
            // A circle no smaller than its neighbours lies in no cylinder as wide as itself.
            const bool peak = (i == 0 || circles[i - 1].radius_m < circles[i].radius_m) &&
                              (i + 1 == circles.size() || circles[i + 1].radius_m < circles[i].radius_m);
            if (peak) look(circles[i].along_m, 0, circles[i].radius_m);
            if (i == 0) continue;
            look(0.5 * (circles[i - 1].along_m + circles[i].along_m),
                 0.5 * (circles[i].along_m - circles[i - 1].along_m),
                 std::min(circles[i - 1].radius_m, circles[i].radius_m));
        }
        return most;
    }

    void lean(const LeanStep& s) {
        const NodeStep& node = p_.nodes[s.node];
        const Frame base = frame(node.parent) * node.parent_from_rest;
        for (std::uint32_t k = 0; k < 3; ++k) v_.channels[s.channel + k] = 0;
        const Frame local = base * joint_of(node);
        const Frame wheel = down_chain(local, s.chain);
        const Vec3 axle = wheel.axis(s.axis), ahead = local.axis(0),
                   forward = Vec3(ahead.x(), ahead.y(), 0).normalized(), left = Vec3::UnitZ().cross(forward);
        const std::size_t lowest = s.profile->lowest(axle.z());
        const WheelProfile::Circle& circle = s.profile->circles[lowest];
        // Also right for a wheel that lies on its side, where the ground's normal tells no way across.
        const Vec3 normal = s.facing * (axle.dot(left) * Vec3::UnitZ() - axle.z() * left);
        Vec3 pivot = wheel.translation;
        const Vec3 touch = pivot + circle.along_m * axle - circle.radius_m * normal;
        Vec3 shift = (base.translation.dot(left) + s.left_m + s.facing * s.profile->sideways_m[lowest] -
                      touch.dot(left)) *
                     left;
        std::optional<double> lift = -touch.z();
        if (s.ground) lift = profile_lift(s, pivot + shift, axle);
        shift.z() = lift.value_or(0);
        const Vec3 own = base.rotation.conjugate() * shift;
        for (std::uint32_t k = 0; k < 3; ++k) set(s.channel + k, own[k]);
        v_.wheels[s.contact] = {lift.has_value(),           0, touch + shift, normal, circle.radius_m,
                                circle.along_m - s.middle_m};
    }

    static Vec2 flat(const Vec3& v) { return v.head<2>(); }

    void tow(const TowStep& s, std::uint32_t index) {
        const Frame& pulling = frame(s.hitch);
        const Vec3 hitch = pulling.point(s.hitch_m);
        double &bar = v_.states[s.state], &rear = v_.states[s.state + 1];
        if (mode_ == StateMode::Align) {
            const Vec3 ahead =
                pulling.direction({std::cos(s.heading_in_hitch), std::sin(s.heading_in_hitch), 0});
            bar = rear = std::atan2(ahead.y(), ahead.x());
        }
        const auto direction = [](double heading) { return Vec2(std::cos(heading), std::sin(heading)); };
        if (mode_ == StateMode::Move) {
            RigPast::Tow& past = v_.past->tows[index];
            bar = towed_heading(bar, past.hitch, flat(hitch), s.drawbar_m);
            const Vec2 turntable = flat(hitch) - s.drawbar_m * direction(bar);
            rear = s.wheelbase_m > 0 ? towed_heading(rear, past.turntable, turntable, s.wheelbase_m) : bar;
        }
        const Vec2 turntable = flat(hitch) - s.drawbar_m * direction(bar),
                   axle = turntable - s.wheelbase_m * direction(rear);
        if (mode_ != StateMode::Show) v_.past->tows[index] = {flat(hitch), turntable};
        v_.frames[s.node] = Frame{turn_about_axis(2, rear), Vec3(axle.x(), axle.y(), s.height_m)} *
                            joint_of(p_.nodes[s.node]);
    }

    void drawbar(const DrawbarStep& s) {
        const Frame rest = frame(s.parent) * s.parent_from_rest;
        const Vec3 to = rest.inverse().point(frame(s.hitch).point(s.hitch_m));
        const double angle = std::atan2(to[(s.axis + 2) % 3], to[(s.axis + 1) % 3]);
        set(s.channel, std::remainder(angle - s.rest_rad, 2 * pi));
    }

    void roll(const RollStep& s, std::uint32_t index) {
        double& turn = v_.states[s.state];
        if (mode_ != StateMode::Show) {
            const Frame carrier = frame(s.parent) * s.parent_from_rest;
            const Vec3 axle = carrier.axis(s.axis), hub = carrier.translation + s.middle_m * axle;
            static const WheelStand flat_stand;
            const WheelStand& stand =
                s.contact >= 0 ? v_.wheels[static_cast<std::size_t>(s.contact)] : flat_stand;
            const Vec3 up = stand.has_ground ? stand.normal : carrier.direction(s.up);
            const double radius = stand.radius_m > 0 ? stand.radius_m : s.radius_m;
            const Vec3 across = axle.cross(up);
            const double size = across.norm();
            RigPast::Roll& past = v_.past->rolls[index];
            // A wheel that lies flat has no way to roll.
            const Vec3 forward = size > 1e-6 ? Vec3(across / size) : Vec3(0, 0, 0);
            const RigPast::Roll now{hub, forward, carrier.rotation, radius, stand.edge_m};
            if (mode_ == StateMode::Move) turn += rolled(s, past, now);
            past = now;
        }
        set(s.channel, turn);
    }

    /// Turn about the axle between two moments, such that the place that touches stays where it is.
    static double rolled(const RollStep& s, const RigPast::Roll& past, const RigPast::Roll& now) {
        const Vec3 &forward = now.forward, both = past.forward + forward;
        const double size = both.norm();
        if (!(size > 1e-9)) return 0;
        // From the chord to the arc: headings at both ends tell how much it bends.
        const double half_bend = std::atan2((forward - past.forward).norm(), size);
        const double arc = half_bend > 1e-6 ? half_bend / std::sin(half_bend) : 1;
        double way = arc * way_between(s, past, now);
        // What its carrier turns about the axle itself is taken off.
        const Quat turned = past.carrier.conjugate() * now.carrier;
        const double twist = 2 * std::atan2(turned.vec()[s.axis], turned.w());
        // A place beside the middle of the tread is carried on by what its carrier turns on the spot.
        const double edge = 0.5 * (past.edge + now.edge);
        if (edge != 0) {
            const Vec3 up = (past.forward + forward)
                                .cross(past.carrier * Vec3::Unit(s.axis) + now.carrier * Vec3::Unit(s.axis));
            const Vec3 axis = past.carrier * turned.vec();
            if (up.norm() > 1e-9)
                way -= edge * std::remainder(2 * std::atan2(axis.dot(up.normalized()), turned.w()), 2 * pi);
        }
        return (1 + s.slip) * way * 0.5 * (1 / past.radius + 1 / now.radius) - std::remainder(twist, 2 * pi);
    }

    /// How far a wheel's middle comes along its way: where the hub goes in the wheel's plane, up and down as
    /// well.
    static double way_between(const RollStep& s, const RigPast::Roll& past, const RigPast::Roll& now) {
        const Vec3 moved = now.hub - past.hub;
        const double ahead = moved.dot((past.forward + now.forward).normalized());
        const Vec3 axle = (past.carrier * Vec3::Unit(s.axis) + now.carrier * Vec3::Unit(s.axis)).normalized();
        const double whole = (moved - moved.dot(axle) * axle).norm();
        return whole <= steepest * std::abs(ahead) ? std::copysign(whole, ahead) : ahead;
    }

    const RigProgram& p_;
    std::span<const std::uint32_t> order_;
    std::span<const Limits> limits_;
    StateMode mode_;
    RigValues v_;
};

}  // namespace

void run_program(const RigProgram& program, std::span<const StepRun> runs,
                 std::span<const std::uint32_t> node_order, std::span<const Limits> limits, StateMode mode,
                 RigValues values) {
    Run run(program, node_order, limits, mode, values);
    for (const StepRun& r : runs) run.run(r);
}

}  // namespace pivrak
