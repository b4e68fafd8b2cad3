#pragma once

#include <filesystem>
#include <functional>
#include <string>
#include <vector>

#include "core/base/progress.h"
#include "core/operations/arguments.h"

namespace pivrak {

/// What an operation may use besides the document and its arguments.
struct OperationContext {
    std::filesystem::path folder;  ///< that relative file names start from; empty for the working folder
    Progress progress;
    /// Jobs that are being run, one for the other, the present one last; empty outside of jobs.
    std::vector<std::filesystem::path> jobs = {};
};

/// A document after an operation, with what a person should know of it.
struct Outcome {
    Document document;
    std::vector<std::string> messages;
    std::vector<PartId> created;
    nlohmann::json readings = nlohmann::json::object();  ///< measured numbers, in metres and radians
    std::vector<std::string> losses = {};  ///< of the messages: who lost what it took, keys that went along
    bool unchanged = false;  ///< there was nothing to do, which the message tells: no state to undo to
};
/// The outcome of an operation that finds everything as it is asked for: a job goes on.
Outcome nothing_to_do(const Document& document, std::string message);

/// One named edit: the only way a project changes. The document it is given stays as it was.
struct Operation {
    std::string name;     ///< `pivot.fit_cylinder`
    std::string title;    ///< what a menu or the history shows
    std::string summary;  ///< one sentence
    std::vector<ArgumentSpec> arguments;
    std::function<Result<Outcome>(const Document&, const Arguments&, const OperationContext&)> apply;
};

/// Every operation there is, by name.
class Registry {
public:
    void add(Operation operation);
    const Operation* find(std::string_view name) const;
    const std::vector<Operation>& all() const { return operations_; }

    /// Runs `{"op": NAME, ...arguments}` on a document.
    /// Errors: `operation.unknown`, those of `Arguments::read`, those of the operation; each message begins
    /// with nothing added, so a caller can put the step's name before it.
    Result<Outcome> run(const Document& document, const nlohmann::json& step,
                        const OperationContext& context = {}) const;

    /// The schema of all operations, for people who write jobs.
    nlohmann::json schema() const;

private:
    std::vector<Operation> operations_;
};

/// A registry with all of Pivrak's operations.
Registry make_registry();

}  // namespace pivrak
