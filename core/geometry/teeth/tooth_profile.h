#pragma once

#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// What the rim of a gear shows about its teeth.
struct ToothProfile {
    double phase_rad = 0;     ///< angle of the middle of one tooth, in [0, 2 pi / teeth)
    double strength = 0;      ///< how clearly the rim repeats that many times, 0 to 1
    double tip_radius_m = 0;  ///< farthest vertex from the axis; of a ring the nearest one
};

/// The teeth of a mesh about the z axis of a frame, counted to a given number; angles run from that frame's
/// x axis. The phase is that of the rim's Fourier component at `teeth` cycles a turn, taken over the faces
/// outside the pitch circle, so it is exact for teeth with two equal flanks. Of a ring, `inside`, teeth point
/// to the axis, and the faces inside the pitch circle are taken. Pre: teeth >= 3. A mesh without faces beside
/// the axis gives strength 0.
ToothProfile tooth_profile(const Mesh& mesh, const Frame& axis_from_mesh, int teeth, bool inside = false);

/// The same of teeth on a cone with its apex at the frame's origin, z along the axis towards the gear; `tip`
/// is an angle from the axis there, not a radius. Teeth point off a pitch cone of that half angle.
ToothProfile cone_tooth_profile(const Mesh& mesh, const Frame& apex_from_mesh, int teeth,
                                double pitch_cone_rad);

/// The same of a straight rack: x along its teeth, which point along y and have their pitch line at y = 0.
/// The phase is 2 pi x / pitch of the middle of a tooth.
ToothProfile rack_tooth_profile(const Mesh& mesh, const Frame& rack_from_mesh, double pitch_m);

/// The same of a thread about z that advances by `lead_m` a turn, below zero for a left-handed one. The phase
/// is 2 pi z / pitch of the middle of a thread above the x axis. Pre: starts >= 1.
ToothProfile thread_profile(const Mesh& mesh, const Frame& axis_from_mesh, double lead_m, int starts);

/// Which number of threads, up to `most`, makes a surface about z repeat along helices of that pitch along
/// the axis: the clearest one, below zero for left-handed threads; and how clearly, 0 to 1.
struct ThreadCount {
    int starts = 0;
    double strength = 0;
};
ThreadCount count_threads(const Mesh& mesh, const Frame& axis_from_mesh, double pitch_m, int most);

/// The farthest that a mesh reaches from z of a frame [m].
double tip_radius(const Mesh& mesh, const Frame& axis_from_mesh);

}  // namespace pivrak
