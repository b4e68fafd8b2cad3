#pragma once

#include <array>
#include <optional>

#include "core/model/document.h"

namespace pivrak {

/// How a model is put on its feet, in this order: turned, made larger or smaller, put down, centred.
struct StandOptions {
    Quat turn = Quat(1, 0, 0, 0);  ///< about the world's origin
    double scale = 1;              ///< about the world's origin; goes into shapes and distances
    bool to_ground = false;        ///< the lowest point comes to z = 0
    std::vector<PartId> touching;  ///< what is to touch the ground; empty: everything
    bool centred = false;          ///< the middle of the bounds comes above the origin
};

/// Stands branches up. Shapes that parts outside the branches show too are copied before they are scaled.
/// Parts that nothing moves yet keep their own axes as they stand against the world, so a model turned
/// upright has upright axes; where joints or keys exist, axes turn with the model. Pre: parts exist, scale >
/// 0.
void stand_up(Document& document, const std::vector<PartId>& tops, const StandOptions& options);

/// Moves branches as one, at rest, in the world; what hangs below another one given goes with it. Pre: parts
/// exist, the motion is rigid.
void move_branches(Document& document, const std::vector<PartId>& tops, const Frame& motion);

/// The turn that brings one direction up and another to the front. Directions are 0 to 5 for +x, -x, +y, -y,
/// +z, -z. None when both lie on one axis.
std::optional<Quat> upright_turn(int up, int front);

/// Directions by their words: `+x` to `-z`.
std::optional<int> direction_from(std::string_view word);
std::string_view direction_word(int direction);

/// A guess at a wrong unit from a longest side [m], with its reason; none when the size is plausible.
struct UnitGuess {
    double factor;
    std::string reason;
};
std::optional<UnitGuess> guess_unit(double longest_m, LengthUnit unit);

}  // namespace pivrak
