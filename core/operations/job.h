#pragma once

#include <filesystem>
#include <optional>
#include <vector>

#include "core/io/delivery/deliver.h"
#include "core/operations/registry.h"

namespace pivrak {

/// What a job did.
struct JobReport {
    std::vector<std::string> messages;
    nlohmann::json readings = nlohmann::json::array();  ///< of each step
    std::optional<std::filesystem::path> saved;
    std::optional<Delivery> delivered;
    Document document;
};

/// Whether a file is named as jobs are: `.job.json`.
bool is_job_file(const std::filesystem::path& file);

/// What a job's steps make of what it opens or imports; it writes nothing. File names in it start from its
/// own folder. Errors: those of reading and running it; `job.circle` when it needs what it makes itself.
Result<Document> made_by_job(const Registry& registry, const std::filesystem::path& job,
                             const OperationContext& context);

/// Runs `{"open": FILE | "import": FILE | {"file": FILE, ...}, "steps": [...], "save": FILE, "deliver":
/// FILE}`. It may open what another job makes, by that job's file. File names start from `context.folder`.
/// Nothing is written before every step, the project's bytes and the delivery's read-back are done. Errors:
/// `job.format`, those of opening, importing, saving and delivering, and those of the steps with `step N
/// (NAME): ` before the message and N as the subject.
Result<JobReport> run_job(const Registry& registry, const nlohmann::json& job,
                          const OperationContext& context);

/// A readable account of a delivery.
nlohmann::json to_json(const Delivery& delivery);
std::string summary(const Delivery& delivery);

}  // namespace pivrak
