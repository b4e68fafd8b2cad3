#include "app/shell/where_done.h"

namespace pivrak {

std::optional<WhereDone> where_done(std::string_view operation) {
    struct Row {
        std::string_view begins;
        WhereDone where;
    };
    // The first row that fits counts.
    static constexpr Row rows[]{{"model.import", {Stage::Intake, "Model"}},
                                {"model.stand", {Stage::Intake, "Stand"}},
                                {"model.update", {Stage::Intake, "Swap"}},
                                {"shape.swap", {Stage::Intake, "Swap"}},
                                {"shape.repair", {Stage::Intake, "Tidy"}},
                                {"tree.tidy", {Stage::Intake, "Tidy"}},
                                {"tree.flatten", {Stage::Intake, "Tidy"}},
                                {"stand_in.", {Stage::Intake, "Stand-ins"}},
                                {"split.", {Stage::Split, "Break"}},
                                {"part.find_repeats", {Stage::Split, "Find"}},
                                {"part.recognise", {Stage::Split, "Find"}},
                                {"part.repeat", {Stage::Split, "Copy"}},
                                {"part.mirror", {Stage::Split, "Copy"}},
                                {"part.duplicate", {Stage::Split, "Copy"}},
                                {"set.", {Stage::Split, "Sets"}},
                                {"pivot.aim", {Stage::Pivots, "Aim"}},
                                {"pivot.turn", {Stage::Pivots, "Aim"}},
                                {"pivot.", {Stage::Pivots, "Place"}},
                                {"datum.", {Stage::Tree, "Carrier"}},
                                {"tree.align", {Stage::Tree, "Carrier"}},
                                {"tree.place", {Stage::Tree, "Place"}},
                                {"tree.snap", {Stage::Tree, "Place"}},
                                {"joint.", {Stage::Tree, "Joint"}},
                                {"name.", {Stage::Tree, "Names"}},
                                {"project.naming", {Stage::Tree, "Names"}},
                                {"control.", {Stage::Tree, "Controls"}},
                                {"coupling.roll", {Stage::Rig, "Wheels"}},
                                {"coupling.lean", {Stage::Rig, "Wheels"}},
                                {"coupling.steer", {Stage::Rig, "Wheels"}},
                                {"print.", {Stage::Rig, "Wheels"}},
                                {"coupling.", {Stage::Rig, "Gears"}},
                                {"gears.", {Stage::Rig, "Gears"}},
                                {"chain.", {Stage::Rig, "Chains"}},
                                {"path.", {Stage::Rig, "Paths"}},
                                {"ride.", {Stage::Rig, "Ride"}},
                                {"vehicle.", {Stage::Rig, "Vehicle"}},
                                {"key.", {Stage::Keys, ""}},
                                {"clip.", {Stage::Keys, ""}}};
    for (const Row& row : rows)
        if (operation.starts_with(row.begins)) return row.where;
    return std::nullopt;
}

}  // namespace pivrak
