#pragma once

#include <optional>
#include <span>
#include <string_view>

#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// What a part looks like to somebody who knows machines.
enum class MachineElement { Wheel, Gear, RingGear, Sprocket, Shaft, Disc, Plate };
std::string_view element_name(MachineElement element);

/// A recognised shape with its measures, in the frame of its mesh.
struct Recognition {
    MachineElement element = MachineElement::Wheel;
    Vec3 axis_point{0, 0, 0};      ///< middle of the part on its axis [m]
    Vec3 axis_direction{1, 0, 0};  ///< unit; of a plate: its normal
    double radius_m = 0;           ///< outer radius; of a ring gear: of the tips of its inside teeth
    double width_m = 0;            ///< along the axis; of a plate: its thickness
    double length_m = 0;           ///< of a plate: its longer side; else as the width
    int teeth = 0;                 ///< of gears, ring gears, sprockets
    int lugs = 0;                  ///< of others: what goes round their outline and is no gear's tooth
    double module_m = 0;           ///< of gears, from the tip circle: ISO 53
    double pitch_m = 0;            ///< of sprockets: the chain's, ISO 606
    double confidence = 0;         ///< 0 to 1: how often what looks like this is what it is called
};

/// Recognises round parts and plates; none when nothing fits well.
///
/// A round part has an axis that its normals meet (coaxial cylinders, or any turned profile). What repeats on
/// its outline seen along the axis, or inside a ring, is judged by its form: gears have teeth about 2.25
/// modules deep (ISO 53) that are half a pitch wide half way up, with flanks alike; sprockets seat a roller
/// of an ISO 606 chain on the circle p / (2 sin(180°/z)) and have slimmer teeth. All else is lugs, or a saw's
/// teeth. Without gear teeth, a part longer than one and a half diameters is a shaft, one shorter than a
/// sixteenth of its diameter a disc, and what lies between a wheel, if some width of it reaches its outer
/// radius.
///
/// Confidence is calibrated on a set of labelled shapes (tests): of those told with some confidence, as many
/// are right.
std::optional<Recognition> recognise(const Mesh& mesh);

/// Roller chains of ISO 606:2015, series B: pitch and largest roller diameter [m].
struct ChainSize {
    std::string_view name;
    double pitch_m, roller_m;
};
std::span<const ChainSize> roller_chains();

}  // namespace pivrak
