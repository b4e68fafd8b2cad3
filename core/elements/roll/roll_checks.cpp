#include <fmt/format.h>

#include "core/checks/drive_mapper.h"
#include "core/checks/element_check.h"

namespace pivrak {

void check(const Roll& roll, ElementCheck& out) {
    const PartId wheel = roll.driven.part;
    if (roll.radius_m > 0 || out.facts.wheel(out.document, out.tree, wheel).radius_m > 1e-6) return;
    out.add(
        Stage::Rig, "roll.no_radius", wheel,
        fmt::format("'{}' rolls, but has no shape to measure its radius on", name_of(out.document, wheel)));
}

void map(const Roll& roll, DriveMapper& out) {
    const auto driver = roll.moved_by();
    if (!driver) return;
    const std::string words = roll.radius_m > 0 ? fmt::format("r {}", short_length(roll.radius_m)) : "rolls";
    out.add(*driver, roll.driven, roll.like ? "one track" : words);
}

}  // namespace pivrak
