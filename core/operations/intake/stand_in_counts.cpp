#include "core/operations/intake/stand_in_counts.h"

#include <cmath>

#include "core/geometry/fits/recognise.h"
#include "core/rig/gears/gear_pair.h"

namespace pivrak {

Counted::Counted(const nlohmann::json& made_of) {
    const auto number = [&](const char* name) {
        const auto found = made_of.find(name);
        return found != made_of.end() && found->is_number() ? found->get<double>() : 0.0;
    };
    const std::string kind = made_of.value("kind", ""), chain = made_of.value("chain", "");
    teeth = static_cast<int>(number(kind == "worm" ? "starts" : "teeth"));
    if (kind == "wheel" || kind == "cylinder" || kind == "tube") radius_m = 0.5 * number("diameter");
    pitch_m = chain.empty() ? 0 : number("pitch");
    for (const ChainSize& size : roller_chains())
        if (pitch_m == 0 && size.name == chain) pitch_m = size.pitch_m;
}

const Changed* turned_by(const Document& document, PartId hinge, const std::vector<Changed>& changes) {
    for (const PartId part : turning_parts(document, hinge))
        for (const Changed& one : changes)
            if (document.parts.find(part)->shape == one.shape) return &one;
    return nullptr;
}

bool take_over(int& teeth, double& radius_m, const Changed* changed) {
    if (!changed) return false;
    const int teeth_before = teeth;
    const double radius_before = radius_m;
    if (teeth == changed->was.teeth && changed->is.teeth > 0) teeth = changed->is.teeth;
    if (radius_m > 0 && std::abs(radius_m - changed->was.radius_m) < 1e-6 && changed->is.radius_m > 0)
        radius_m = changed->is.radius_m;
    return teeth != teeth_before || radius_m != radius_before;
}

}  // namespace pivrak
