// A project that opens must move, be saved, and open again as the same.
#include "core/io/project/project_file.h"
#include "tests/fuzz/sound.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace pivrak;
    const auto opened = project_from_bytes(std::string(data, data + size), "fuzzed.pivrak.glb");
    if (!opened) {
        if (opened.error().message.empty()) fuzz::report("a refusal without words");
        return 0;
    }
    fuzz::check_motion(*opened);
    const auto saved = project_bytes(*opened);
    if (!saved) return 0;
    const auto again = project_from_bytes(*saved, "saved.pivrak.glb");
    if (!again) {
        std::fprintf(stderr, "%s\n", again.error().message.c_str());
        fuzz::report("a saved project that does not open");
    }
    const auto twice = project_bytes(*again);
    if (!twice || *twice != *saved) fuzz::report("a project that is another one after saving");
    return 0;
}
