#pragma once

#include <vector>

#include "core/model/document.h"

namespace pivrak {

/// Places a control's symbol round what a part drives: its shape and all it carries, at rest, with a margin
/// of an eighth, in the part's own frame. A ring stands about the pivot's axis and is as large as what lies
/// across it. A part that drives no shape gets `fallback_m` to each side.
ControlSymbol fitted_symbol(const Document& document, PartId part, ControlForm form, ControlColor color,
                            double fallback_m = 0.1);

/// The lines a symbol is drawn with, in the control's frame [m]: open runs of points.
std::vector<std::vector<Vec3>> symbol_lines(const ControlSymbol& symbol);

}  // namespace pivrak
