#pragma once

#include <cstdint>

#include "core/geometry/types.h"

namespace pivrak {

/// What a control is drawn as: a round ring about an own axis, an open box, an arrow along an own axis, a
/// cross of two bars, or a plate with corners.
enum class ControlForm : std::uint8_t { Ring, Box, Arrow, Cross, Plate };

/// Colours of controls; their values are the themes'.
enum class ControlColor : std::uint8_t { Petrol, Steel, Leaf, Saffron, Rust, Ink, Plum };

/// The symbol that makes a datum a control. It is drawn and picked, and never part of a delivery.
struct ControlSymbol {
    ControlForm form = ControlForm::Ring;
    ControlColor color = ControlColor::Petrol;
    int axis = 2;                ///< own axis it stands across: of a ring, a plate, a cross; an arrow's way
    Vec3 middle_m{0, 0, 0};      ///< in the control's frame
    Vec3 half_m{0.1, 0.1, 0.1};  ///< half its extent along the own axes, each above zero
    bool operator==(const ControlSymbol&) const = default;
};

}  // namespace pivrak
