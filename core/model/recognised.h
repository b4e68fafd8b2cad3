#pragma once

#include "core/base/progress.h"
#include "core/geometry/fits/recognise.h"
#include "core/model/document.h"

namespace pivrak {

/// A part that was recognised: what it is, in the world at rest, and what it might be called.
struct RecognisedPart {
    PartId part;
    Recognition shape;
    std::string name;
};

/// Recognises parts, in the order given; shapes that several parts show are looked at once. Names say what a
/// part is, with its measure, and for wheels where it is: `Wheel front left`, `Gear 51T`, `Shaft 60 mm`. Two
/// of one name get numbers. Round things smaller than a twenty-fifth of the model are called discs, not
/// wheels: bolts and bushes. A twin on its axis and the floor below make a wheel surer than its shape alone,
/// a mate in mesh a gear. A cancelled run gives those found so far.
std::vector<RecognisedPart> recognise_parts(const Document& document, const std::vector<PartId>& parts,
                                            const Progress& progress = {});

/// One line of measures: `gear, 51 teeth, module 8.00 mm, ⌀ 424.0 mm, 80.0 mm wide`.
std::string describe(const Recognition& shape, LengthUnit unit);

}  // namespace pivrak
