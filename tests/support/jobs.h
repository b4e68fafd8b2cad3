#pragma once

#include "core/io/atomic_file.h"
#include "core/operations/job.h"
#include "tests/support/documents.h"
#include "tests/support/temp_folder.h"

namespace pivrak::test {

/// A model's bytes with the name of the file that a job finds them in.
struct NamedModel {
    std::string name;
    Result<std::string> bytes;
};

/// Runs a job in a folder that holds some models.
inline Document by_job(const std::vector<NamedModel>& models, const nlohmann::json& job) {
    TempFolder folder;
    for (const NamedModel& model : models) {
        EXPECT_TRUE(model.bytes.ok());
        EXPECT_TRUE(write_file_atomically(folder / model.name, *model.bytes).ok());
    }
    OperationContext context;
    context.folder = folder / "";
    const auto done = run_job(make_registry(), job, context);
    EXPECT_TRUE(done.ok()) << (done ? "" : done.error().message);
    return done ? done->document : empty_document();
}

/// Runs a job that imports the model as "model.glb".
inline Document by_job(const Result<std::string>& model, const nlohmann::json& job) {
    return by_job(std::vector<NamedModel>{{"model.glb", model}}, job);
}

#ifdef DEMO_MODELS
/// What a job of the demo's makes; it writes nothing.
inline Document by_demo_job(const std::string& name) {
    const std::filesystem::path folder = DEMO_MODELS;
    const auto text = read_file(folder / (name + ".job.json"));
    EXPECT_TRUE(text.ok());
    OperationContext context;
    context.folder = folder / "";
    auto job = nlohmann::json::parse(*text);
    job.erase("save");
    job.erase("deliver");
    const auto done = run_job(make_registry(), job, context);
    EXPECT_TRUE(done.ok()) << (done ? "" : done.error().message);
    return done ? done->document : empty_document();
}
#endif

}  // namespace pivrak::test
