#pragma once

#include <Eigen/Core>
#include <cstdint>
#include <memory>
#include <vector>

#include "core/geometry/ground_map.h"
#include "core/model/part.h"
#include "core/motion/curve.h"
#include "core/rig/open_run.h"
#include "core/rig/rig_facts.h"

namespace pivrak {

// The steps an evaluator is made of. Channels, nodes, states and contacts are named by their slots, -1 for
// none.

/// A part: its frame is its carrier's, times where it rests, times its joint.
struct NodeStep {
    Frame parent_from_rest;
    std::int32_t parent;
    std::int32_t channel;  ///< the joint's first one
    std::int16_t axis;
    JointKind joint;
    std::int32_t along;   ///< of a rider
    std::int32_t travel;  ///< of a chain's datum
};

struct TrackStep {
    std::uint32_t channel, first_key, key_count;
};

/// `driven = ratio * driver + phase`: shafts of a train that one other turns, wheels that roll along their
/// path.
struct LinearStep {
    std::uint32_t driver, driven;
    double ratio, phase;
};

/// A shaft that several others turn together: `driven = constant + sum of share * channel`, over a run of
/// the program's `terms`.
struct SumStep {
    std::uint32_t driven, first, count;
    double constant;
};
struct SumTerm {
    std::uint32_t channel;
    double share;
};

struct SteerStep {
    std::uint32_t driver, driven;
    double reference_m, forward_m, left_m;
    std::int32_t ride;  ///< step of the ride whose bends it steers too
};

struct RideStep {
    std::uint32_t node;
    std::int32_t carrier;  ///< node of what carries the path
    std::int32_t ahead;    ///< node of the rider it is coupled to
    Ride ride, ride_ahead;
    bool same_path = true;  ///< as the one ahead
    std::shared_ptr<const DrapedPath> path;
    std::vector<PathRoll> rolls;
    /// Whether it is carried in front by the very point that carries the one ahead behind.
    bool shares_point() const {
        return same_path && ride.gap_m == 0 && ride.front_m > 0 && ride.coupler_front_m == ride.front_m &&
               ride_ahead.rear_m > 0 && ride_ahead.coupler_rear_m == ride_ahead.rear_m;
    }
};

/// A wheel as it hangs in a frame at rest.
struct HungWheel {
    Vec3 hub, axle;
    double radius_m, half_width_m;
};

/// The heave, pitch and roll of a vehicle.
struct FollowStep {
    std::int32_t parent;
    Frame parent_from_rest;
    std::uint32_t heave, pitch, roll;  ///< channels
    double heave_share, pitch_share, roll_share;
    std::vector<HungWheel> wheels;                   ///< in its own frame at rest
    Eigen::Matrix<double, 3, Eigen::Dynamic> plane;  ///< lifts of the wheels to heave, roll and pitch
    std::shared_ptr<const GroundMap> ground;         ///< null for the floor
    // Of a trailer: it is moved level so that its drawbar reaches the hitch however it leans.
    std::int32_t hitch = -1;
    Vec3 hitch_m{0, 0, 0};
    Vec3 eye{0, 0, 0};     ///< in its own frame: the turntable's middle, or the eye of a rigid drawbar
    double drawbar_m = 0;  ///< straight from the turntable's middle to the hitch; 0 for a rigid one
    /// With a rigid drawbar it hangs on the hitch: that tells its pitch, the wheels only heave and roll.
    bool hangs() const { return hitch >= 0 && !(drawbar_m > 0); }
    std::uint32_t shift_x = 0, shift_y = 0;  ///< channels
};

/// The travel of one suspension.
struct SuspendStep {
    std::int32_t parent;
    Frame parent_from_rest;
    std::uint32_t channel, contact;
    int axis;
    std::vector<std::uint32_t> chain;  ///< nodes from below the suspension down to the wheel
    int wheel_axis;
    WheelSize size;
    std::shared_ptr<const GroundMap> ground;
};

/// A part drawn along by a hitch. Its states are the headings of drawbar and rear axle.
struct TowStep {
    std::uint32_t node;
    std::int32_t hitch;
    Vec3 hitch_m;
    double drawbar_m, wheelbase_m, height_m;
    double heading_in_hitch;  ///< of the part at rest, about up
    std::uint32_t state;
};

/// A turntable, or a drawbar that nods: a hinge that points to the hitch.
struct DrawbarStep {
    std::uint32_t channel;
    std::int32_t parent, hitch;
    Frame parent_from_rest;
    int axis;
    Vec3 hitch_m;
    double rest_rad;
};

/// A wheel that rolls by any motion of what carries it. Its state is its turn.
struct RollStep {
    std::uint32_t channel;
    std::int32_t parent;
    Frame parent_from_rest;
    int axis;
    double middle_m, radius_m, slip;
    std::uint32_t state;
    std::int32_t contact;  ///< of its suspension, or its lean
    Vec3 up;               ///< away from what it rolls on, in its carrier, where no contact is known
};

/// A wheel that leans: the shifts of the free frame that carries it.
struct LeanStep {
    std::uint32_t node, channel, contact;  ///< the frame, its first channel
    std::vector<std::uint32_t> chain;      ///< nodes from below that frame down to the wheel
    int axis;                              ///< of the wheel
    double facing;                         ///< 1 where its axle points left in that frame, -1 where right
    double left_m, middle_m;  ///< middle of its tread: left in that frame upright, and along the axle
    std::shared_ptr<const WheelProfile> profile;
    std::shared_ptr<const GroundMap> ground;
};

/// A chain or an open run: the frames of its links. Its wheels' places are looked up at each frame.
struct ChainStep {
    struct Wheel {
        std::int32_t node;
        // Of one that the run turns: its channel, and how that counts against the plane's z.
        std::int32_t channel = -1;
        double sense = 1;
        double carrier_rad = 0;  ///< how its carrier stands about that z at rest
    };
    struct End {
        std::int32_t node = -1;
        Vec3 place{0, 0, 0};
    };
    std::int32_t frame = -1;   ///< node of its datum
    std::int32_t travel = -1;  ///< channel
    std::vector<Wheel> wheels;
    std::vector<std::uint32_t> links;  ///< nodes; none while links are not built
    ChainLoop loop;                    ///< at rest
    std::uint32_t first_pin = 0;       ///< in the pose's `pins`
    std::array<End, 2> ends{};         ///< of an open run
    std::vector<RunTouch> rest;        ///< of an open run, wheel by wheel
    /// A tensioner, or what an open run pulls: the joint that is set so that the chain keeps its slack. A
    /// drum that is pulled is asked how far it pays out.
    struct TakeUp {
        enum class What : std::uint8_t { Wheel, From, To };
        std::int32_t channel = -1, parent = -1;
        Frame parent_from_rest;
        JointKind joint = JointKind::Fixed;
        int axis = 0;
        double spare_m = 0;
        double longest_step = 0.2;  ///< of its root's search
        struct Carried {
            What what;
            std::size_t wheel;
            std::vector<std::uint32_t> chain;  ///< nodes from below the tensioner down to what it carries
        };
        std::vector<Carried> carried;
    } take_up;
};

enum class StepKind : std::uint8_t {
    Linear,
    Sum,
    Steer,
    Nodes,
    Ride,
    Follow,
    Suspend,
    Lean,
    Tow,
    Drawbar,
    Roll,
    Chain
};

/// A run of steps of one kind, done one after the other.
struct StepRun {
    StepKind kind;
    std::uint32_t first, count;
};

/// Everything of a rig in an order in which each value is computed once, after all it depends on. Runs of
/// nodes count in `node_order`, all others in the list of their kind.
struct RigProgram {
    std::vector<StepRun> runs;
    std::vector<std::uint32_t> node_order;
    std::vector<NodeStep> nodes;
    std::vector<LinearStep> linears;
    std::vector<SumStep> sums;
    std::vector<SumTerm> terms;
    std::vector<SteerStep> steers;
    std::vector<RideStep> rides;
    std::vector<FollowStep> follows;
    std::vector<SuspendStep> suspends;
    std::vector<LeanStep> leans;
    std::vector<TowStep> tows;
    std::vector<DrawbarStep> drawbars;
    std::vector<RollStep> rolls;
    std::vector<ChainStep> chains;
    std::uint32_t pin_count = 0;
    std::uint32_t state_count = 0;
    std::uint32_t contact_count = 0;  ///< wheels that stand: first those on suspensions, then those that lean
};

/// How a wheel stands on the ground.
struct WheelStand {
    bool has_ground = false;
    double gap_m = 0;  ///< between tyre and ground; below zero it is pressed in, since its travel ends
    Vec3 place{0, 0, 0}, normal{0, 0, 1};
    // Of a wheel that leans: where on its profile it touches.
    double radius_m = 0;  ///< 0: that of its tread
    double edge_m = 0;    ///< along the axle from the middle of the tread
};

/// A chain in its plane as it stands, and how it fits.
struct ChainStand {
    ChainLoop loop;
    ChainFit fit;
};

/// Where stateful steps were when they were last looked at.
struct RigPast {
    struct Roll {
        Vec3 hub, forward;
        Quat carrier;
        double radius, edge;  ///< where it touches
    };
    struct Tow {
        Vec2 hitch, turntable;
    };
    std::vector<Roll> rolls;
    std::vector<Tow> tows;
};

/// Whether steps that depend on the past show their states, or move them on from where they were last.
enum class StateMode : std::uint8_t {
    Show,   ///< as they are
    Begin,  ///< as they are, and remembers where they were
    Align,  ///< headings as at rest, and remembers
    Move,   ///< moves them on from what is remembered, and remembers anew
};

/// The arrays a program works on.
struct RigValues {
    std::vector<double>& channels;
    std::vector<Frame>& frames;
    std::vector<WheelStand>& wheels;
    std::vector<double>& states;
    std::vector<Vec2>& pins;
    std::vector<ChainStand>& chains;
    RigPast* past;  ///< null when only shown
};

/// Runs a program, or a part of it. `limits` holds those of every channel.
void run_program(const RigProgram& program, std::span<const StepRun> runs,
                 std::span<const std::uint32_t> node_order, std::span<const Limits> limits, StateMode mode,
                 RigValues values);

}  // namespace pivrak
