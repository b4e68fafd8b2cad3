// Paths of a drawing are read or refused in words, can be measured, and are the same when written and read
// again.
#include "core/io/paths/path_files.h"
#include "core/rig/paths/path_curve.h"
#include "tests/fuzz/sound.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace pivrak;
    const auto paths = paths_from_svg(std::string(data, data + size), 0.001);
    if (!paths) {
        if (paths.error().message.empty()) fuzz::report("a refusal without words");
        return 0;
    }
    for (const Path& path : *paths) {
        const auto curve = PathCurve::make(path);
        if (!curve) continue;
        if (!std::isfinite(curve->length())) fuzz::report("a path of no finite length");
        const auto again = paths_from_svg(svg_of_path(path), 1);
        if (!again || again->empty()) fuzz::report("a path that is not read again");
    }
    return 0;
}
