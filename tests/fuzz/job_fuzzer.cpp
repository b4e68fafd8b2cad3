// A job on a small rig: every step is done or refused in words, and what it leaves moves.
#include <filesystem>

#include "core/io/project/project_file.h"
#include "core/operations/job.h"
#include "tests/fuzz/sound.h"
#include "tests/support/temp_folder.h"

namespace {

using nlohmann::json;

/// A job's files stay in its folder.
bool stays(const json& job) {
    for (const char* key : {"save", "deliver"}) {
        if (!job.contains(key)) continue;
        const json& file = job[key].is_object() ? job[key].value("file", json("/")) : job[key];
        if (!file.is_string() || file.get<std::string>().find('/') != std::string::npos) return false;
    }
    return true;
}

/// One name for all that is written, so that long runs leave no heap of files.
void rename_outputs(json& job) {
    if (job.contains("save")) job["save"] = "out.pivrak.glb";
    if (!job.contains("deliver")) return;
    (job["deliver"].is_object() ? job["deliver"]["file"] : job["deliver"]) = "out.glb";
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace pivrak;
    static const Registry registry = make_registry();
    static const test::TempFolder folder;
    static const bool ready = [] {
        for (const auto& entry : std::filesystem::directory_iterator(PIVRAK_FUZZ_FILES))
            std::filesystem::copy(entry, folder.path());
        return true;
    }();
    json job = json::parse(data, data + size, nullptr, false);
    if (!ready || job.is_discarded()) return 0;
    if (job.is_object()) {
        if (!stays(job)) return 0;
        rename_outputs(job);
        std::filesystem::remove(folder / "out.glb");
    }
    const auto done = run_job(registry, job, OperationContext{folder.path(), fuzz::patience()});
    if (!done) {
        if (done.error().message.empty()) fuzz::report("a refusal without words");
        return 0;
    }
    fuzz::check_motion(done->document);
    const auto saved = project_bytes(done->document);
    if (saved && !project_from_bytes(*saved, "saved.pivrak.glb"))
        fuzz::report("what the job made does not open again");
    return 0;
}
