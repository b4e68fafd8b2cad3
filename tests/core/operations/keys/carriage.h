#pragma once

#include <cmath>

#include "tests/core/elements/linkages.h"

namespace pivrak::test {

/// A carriage on a slide and a lamp that turns on it.
inline Document carriage() {
    Document d = empty_document();
    const PartId body = add_part(d, "carriage");
    d = run(d, {{"op", "joint.set"}, {"parts", {"carriage"}}, {"kind", "slide"}, {"axis", "x"}});
    make_hinge(d, add_part(d, "lamp", body));
    return d;
}

inline Document keyed(Document d, const char* part, const char* runs,
                      const std::vector<std::pair<double, double>>& keys) {
    for (const auto& [frame, value] : keys)
        d = run(d, {{"op", "key.set"},
                    {"parts", {part}},
                    {"channel", std::string(part) == "lamp" ? "turn" : "shift"},
                    {"frame", frame},
                    {"value", value},
                    {"interpolation", runs}});
    return d;
}

inline double place(const Document& d, double frame) {
    Moved at(d);
    return at(frame).world("carriage").translation.x();
}
inline double turned_deg(const Document& d, double frame) {
    Moved at(d);
    const Vec3 x = at(frame).in("lamp", "carriage").axis(0);
    return std::atan2(x.y(), x.x()) * deg_per_rad;
}

}  // namespace pivrak::test
