#include "core/operations/travel/path_access.h"

#include <fmt/format.h>

namespace pivrak {

ArgumentSpec path_argument() {
    return {"path", ArgumentKind::Text, "name of the path", true, {}, {}};
}

Result<const Path*> path_named(const Document& document, const Arguments& a) {
    const std::string wanted = a.text("path");
    std::string names;
    for (const Path& path : document.paths) {
        if (path.name == wanted) return &path;
        names += (names.empty() ? "'" : ", '") + path.name + "'";
    }
    return Error{"path.unknown",
                 names.empty() ? fmt::format("there is no path '{}', nor any other", wanted)
                               : fmt::format("there is no path '{}'; there are {}", wanted, names),
                 "path"};
}

Frame world_from_path(const Document& document, const Path& path) {
    return world_from_rest(document, path.carrier);
}

Result<double> typed_along(const std::string& text, double length_m, LengthUnit bare) {
    const std::size_t percent = text.find('%');
    if (percent == std::string::npos) return parse_quantity(text, Dimension::Length, bare);
    PIVRAK_TRY(share, parse_quantity(text.substr(0, percent), Dimension::None));
    return share / 100 * length_m;
}

}  // namespace pivrak
