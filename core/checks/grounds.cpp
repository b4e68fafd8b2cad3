#include "core/checks/grounds.h"

#include "core/model/each_element.h"

namespace pivrak {

std::unordered_set<PartId> grounds_of(const Document& document) {
    std::unordered_set<PartId> grounds;
    each_element(document, [&](const auto& element, const auto&...) {
        if constexpr (requires { element.ground; }) grounds.insert(element.ground);
        if constexpr (requires { element.drape; })
            if (element.drape) grounds.insert(element.drape->ground);
    });
    for (const Constraint& constraint : document.constraints)
        if (constraint.asks == Asks::Rest) grounds.insert(constraint.target);
    grounds.erase(PartId{});
    return grounds;
}

}  // namespace pivrak
