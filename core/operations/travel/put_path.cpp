#include "core/operations/travel/put_path.h"

#include <fmt/format.h>

#include <cmath>

#include "core/base/words.h"
#include "core/rig/rig_facts.h"

namespace pivrak {
namespace {

std::string radius_words(double radius, const Document& document) {
    return radius == 0             ? "with a corner"
           : std::isfinite(radius) ? "least bend radius " + format_length(radius, document)
                                   : "straight";
}

}  // namespace

Result<Outcome> put_path(const Document& document, const Path& path, std::optional<double> deviation) {
    Outcome out{document};
    out.document.paths.set(path);
    RigFacts facts;
    PIVRAK_TRY(measured, facts.path(out.document, path));
    const PathCurve& curve = measured->curve;
    std::string message =
        fmt::format("'{}': {}, {}, {}", path.name, format_length(curve.length(), document),
                    counted(path.points.size(), "point"), radius_words(curve.least_radius(), document));
    if (deviation) message += fmt::format(", {} off what it was", format_length(*deviation, document));
    if (path.drape)
        message += fmt::format("; at most {} below and {} above the ground",
                               format_length(measured->burial_m, document),
                               format_length(measured->float_m, document));
    out.messages.push_back(message);
    out.readings = {
        {"path", path.id.value},
        {"length_m", curve.length()},
        {"least_radius_m",
         std::isfinite(curve.least_radius()) ? nlohmann::json(curve.least_radius()) : nlohmann::json()}};
    if (deviation) out.readings["deviation_m"] = *deviation;
    if (path.drape) {
        out.readings["burial_m"] = measured->burial_m;
        out.readings["float_m"] = measured->float_m;
    }
    return out;
}

}  // namespace pivrak
