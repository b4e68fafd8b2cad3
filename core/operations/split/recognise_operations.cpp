#include <fmt/format.h>

#include <algorithm>

#include "core/base/words.h"
#include "core/io/project/project_json.h"
#include "core/model/edits/edits.h"
#include "core/model/names/names.h"
#include "core/model/recognised.h"
#include "core/operations/all_operations.h"

namespace pivrak {
namespace {

using nlohmann::json;

json reading(const RecognisedPart& r) {
    const Vec3 &p = r.shape.axis_point, &d = r.shape.axis_direction;
    return {{"part", r.part.value},
            {"element", element_name(r.shape.element)},
            {"name", r.name},
            {"axis_point_m", {p.x(), p.y(), p.z()}},
            {"axis", {d.x(), d.y(), d.z()}},
            {"radius_m", r.shape.radius_m},
            {"width_m", r.shape.width_m},
            {"teeth", r.shape.teeth},
            {"lugs", r.shape.lugs},
            {"module_m", r.shape.module_m},
            {"pitch_m", r.shape.pitch_m},
            {"confidence", r.shape.confidence}};
}

/// Round parts get their pivot on their axis; of a plate only the name is taken.
bool is_round(const Recognition& shape) {
    return shape.element != MachineElement::Plate;
}

Result<Outcome> recognise_them(const Document& document, const Arguments& a,
                               const OperationContext& context) {
    const double least = a.number("least_confidence");
    std::vector<RecognisedPart> found =
        recognise_parts(document, parts_or_all(document, a), context.progress);
    if (!context.progress.go_on(1, "recognising parts"))
        return Error{"recognise.cancelled", "cancelled; the project is as it was", ""};
    std::erase_if(found, [&](const RecognisedPart& r) { return r.shape.confidence < least; });
    if (found.empty())
        return nothing_to_do(document, "no wheel, gear, shaft or plate was recognised among these parts");
    Outcome out{document};
    const int axis = *axis_from(a.text("axis"));
    FreeNames names(document);
    out.readings["parts"] = json::array();
    for (const RecognisedPart& r : found) {
        const std::string before = document.parts.find(r.part)->name;
        if (a.flag("pivot") && is_round(r.shape))
            move_pivot(out.document, r.part,
                       aimed_frame(world_from_rest(out.document, r.part), axis, r.shape.axis_direction,
                                   r.shape.axis_point));
        Part part = *out.document.parts.find(r.part);
        if (a.flag("rename")) {
            names.release(part.name);
            part.name = names.take(r.name);
        }
        out.document.parts.set(part);
        out.messages.push_back(fmt::format("'{}': {} ({:.0f} %)", before,
                                           describe(r.shape, document.settings.length_unit),
                                           100 * r.shape.confidence));
        out.readings["parts"].push_back(reading(r));
        out.created.push_back(r.part);
    }
    out.messages.insert(out.messages.begin(), counted(found.size(), "part") + " recognised");
    return out;
}

}  // namespace

void add_recognise_operations(Registry& registry) {
    registry.add({"part.recognise",
                  "Recognise parts",
                  "Finds wheels, gears, sprockets, shafts and plates; names them and puts round ones' pivots "
                  "on their axes.",
                  {parts_argument("parts to look at; all when left out", false),
                   {"rename", ArgumentKind::Flag, "gives them the proposed names", false, true, {}},
                   {"pivot", ArgumentKind::Flag, "puts pivots of round parts on their axes", false, true, {}},
                   {"axis",
                    ArgumentKind::Choice,
                    "the own axis that goes along the part's",
                    false,
                    "x",
                    {"x", "y", "z"}},
                   {"least_confidence",
                    ArgumentKind::Number,
                    "parts recognised less surely are left",
                    false,
                    0.6,
                    {}}},
                  recognise_them});
}

}  // namespace pivrak
