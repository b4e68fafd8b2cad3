#pragma once

#include <fmt/format.h>

#include <map>

#include "demo/drive_station.h"

namespace pivrak::demo {

/// Collects components; solids are made about z and laid along the shafts, which run to the left.
class StationSolids {
protected:
    std::vector<Component> take() { return std::move(components_); }
    void add(std::string name, std::string lump, Solid solid, std::string carried_by = "",
             bool turns = false) {
        components_.push_back(
            {std::move(name), std::move(lump), std::move(solid), std::move(carried_by), turns});
    }
    /// A solid made about z, put on a shaft at a place along it.
    static Solid on_shaft(Solid solid, const Vec3& axis, double left) {
        return solid.lay_along(1).move({axis.x(), left, axis.z()});
    }

    void bolt_down(const std::string& on, double size, const std::vector<Vec3>& places) {
        for (const Vec3& place : places) {
            Solid b = bolt(size);
            b.turn(2, 0.37 * static_cast<double>(components_.size())).move(place);
            add(fmt::format("Bolt {} {}", on, ++bolts_[on]), "steel", b, on);
        }
    }

private:
    std::vector<Component> components_;
    std::map<std::string, int> bolts_;
};

}  // namespace pivrak::demo
