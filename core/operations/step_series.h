#pragma once

#include <vector>

#include "core/operations/registry.h"

namespace pivrak {

/// A step that was taken: on what, and what came of it.
struct TakenStep {
    nlohmann::json step;
    Document before, after;
};

/// Some steps in a row that are to be taken again on other parts. The parts that they name are their roles,
/// in the order in which they are first named; parts that came of the steps themselves are none. Where all
/// that each step names is the same lot, the lot is one role that any number of parts can take.
class StepSeries {
public:
    /// Errors: `steps.faces` where a step names faces, edges or points of one shape, which others have not;
    /// `steps.file` for one that brings in a file; `steps.none` when no step names a part.
    static Result<StepSeries> make(const Registry& registry, const std::vector<TakenStep>& taken);

    const std::vector<PartId>& roles() const { return roles_; }
    bool takes_any_number() const { return one_lot_; }

    /// Takes the steps again, on `parts` in the places of the roles; a multiple of them is taken group by
    /// group. `take(step)` runs one and answers the document after it. Errors: `steps.count` when the parts
    /// do not fit the roles, those of the steps with `step N: ` before them.
    Result<std::size_t> again(const std::vector<PartId>& parts, const Document& document,
                              const std::function<Result<Document>(const nlohmann::json& step)>& take) const;

    /// As the steps of a job: parts by their paths of names, which begin in a document before the first of
    /// them.
    std::vector<nlohmann::json> named() const;

private:
    struct One {
        nlohmann::json step;  ///< parts by id
        Document before;
        std::vector<PartId> created;
        std::vector<nlohmann::json::json_pointer> parts;  ///< where it names them
        std::vector<std::string> lots;                    ///< arguments that name all roles
    };
    Result<std::size_t> once(const std::vector<PartId>& parts, Document document,
                             const std::function<Result<Document>(const nlohmann::json&)>& take) const;

    std::vector<One> steps_;
    std::vector<PartId> roles_;
    bool one_lot_ = false;
};

}  // namespace pivrak
