#include "core/checks/findings.h"

#include <fmt/format.h>

#include <algorithm>

namespace pivrak {

std::string_view stage_name(Stage stage) {
    switch (stage) {
        case Stage::Intake:
            return "Intake";
        case Stage::Split:
            return "Split";
        case Stage::Pivots:
            return "Pivots";
        case Stage::Tree:
            return "Tree";
        case Stage::Rig:
            return "Rig";
        case Stage::Keys:
            return "Keys";
        case Stage::Handover:
            return "Handover";
    }
    return "";
}

MomentWords frames_of(const Clip& clip) {
    return [name = clip.name](double frame) { return fmt::format("at frame {} of '{}'", frame, name); };
}

std::vector<Finding> check_document(const Document& document, const Progress& progress, MeshFacts* known) {
    MeshFacts fresh;
    MeshFacts& facts = known ? *known : fresh;
    std::vector<Finding> findings;
    check_model(document, findings);
    check_shapes(document, progress, facts, findings);
    check_tree(document, findings);
    check_pivots(document, progress, facts, findings);
    check_rig(document, facts, findings);
    check_clips(document, findings);
    check_seams(document, facts, findings);
    check_trains(document, facts, findings);
    check_travel(document, progress, facts, findings);
    facts.forget_unused();
    std::stable_sort(findings.begin(), findings.end(),
                     [](const Finding& a, const Finding& b) { return a.stage < b.stage; });
    return findings;
}

}  // namespace pivrak
