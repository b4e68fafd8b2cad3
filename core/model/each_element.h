#pragma once

#include "core/model/document.h"

namespace pivrak {

/// `act(element)` for every coupling and every entry of the tables, kind by kind, and `act(element, part)`
/// for what parts carry.
template <class Act>
void each_element(const Document& document, Act act) {
    for (const Coupling& coupling : document.couplings) std::visit(act, coupling.what);
#define PIVRAK_TABLE(Type, table) \
    for (const Type& element : document.table) act(element);
#include "core/elements/kinds.def"
    for (const Part& part : document.parts) {
#define PIVRAK_FACET(Type, facet) \
    if (part.facet) act(*part.facet, part);
#include "core/elements/kinds.def"
    }
}

}  // namespace pivrak
