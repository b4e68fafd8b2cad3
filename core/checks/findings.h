#pragma once

#include <string>
#include <vector>

#include "core/base/progress.h"
#include "core/model/document.h"

namespace pivrak {

/// The seven stages of the work, in their order.
enum class Stage { Intake, Split, Pivots, Tree, Rig, Keys, Handover };
inline constexpr int stage_count = 7;
std::string_view stage_name(Stage stage);

/// The result of a check: what, where, how much, and how much is allowed.
struct Finding {
    Stage stage = Stage::Intake;
    std::string code;
    PartId part;          ///< none when it concerns the whole model
    std::string message;  ///< with its numbers and units
    bool operator==(const Finding&) const = default;
};

/// All findings of a document, by stage. Deterministic. A cancelled run gives those found so far.
std::vector<Finding> check_document(const Document& document, const Progress& progress = {});

/// The groups that `check_document` is made of.
void check_model(const Document& document, std::vector<Finding>& findings);
void check_pieces(const Document& document, const Progress& progress, std::vector<Finding>& findings);
void check_tree(const Document& document, std::vector<Finding>& findings);
void check_rig(const Document& document, std::vector<Finding>& findings);
void check_clips(const Document& document, std::vector<Finding>& findings);

}  // namespace pivrak
