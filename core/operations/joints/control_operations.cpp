#include <fmt/format.h>

#include "core/base/words.h"
#include "core/io/project/project_json.h"
#include "core/model/control_sizes.h"
#include "core/model/edits/edits.h"
#include "core/model/names/names.h"
#include "core/operations/all_operations.h"

namespace pivrak {
namespace {

/// A datum becomes a control itself; a part with a shape gets a frame above it that does.
Result<Outcome> add_controls(const Document& document, const Arguments& a, const OperationContext&) {
    const ControlForm form = *control_form_from(a.text("form"));
    const ControlColor color = *control_color_from(a.text("color"));
    Outcome out{document};
    FreeNames names(document);
    for (const PartId id : a.parts("parts")) {
        const Part& driven = *out.document.parts.find(id);
        if (driven.is_control())
            return Error{"control.already", fmt::format("'{}' is a control already", driven.name),
                         driven.name};
        const ControlSymbol symbol = fitted_symbol(out.document, id, form, color);
        const PartId control =
            driven.is_datum() ? id
                              : put_frame_above(out.document, id, names.take(driven.name + " control"), true);
        Part part = *out.document.parts.find(control);
        part.control = symbol;
        out.document.parts.set(part);
        out.created.push_back(control);
    }
    out.messages.push_back(counted(out.created.size(), "control") + " added");
    return out;
}

Result<Part> control_part(const Document& document, PartId id) {
    const Part& part = *document.parts.find(id);
    if (!part.is_control())
        return Error{"control.none", fmt::format("'{}' is no control", part.name), part.name};
    return part;
}

Result<Outcome> change_controls(const Document& document, const Arguments& a, const OperationContext&) {
    const double scale = a.number_if("scale").value_or(1);
    if (!(scale > 1e-3 && scale < 1e3))
        return Error{"control.scale", fmt::format("{} is out of range: a thousandth to a thousand", scale),
                     "scale"};
    Outcome out{document};
    for (const PartId id : a.parts("parts")) {
        PIVRAK_TRY(part, control_part(document, id));
        ControlSymbol& symbol = *part.control;
        if (a.flag("fit")) symbol = fitted_symbol(document, id, symbol.form, symbol.color);
        if (a.has("form")) {
            // Another form fills the driven shape in another way.
            const ControlForm form = *control_form_from(a.text("form"));
            if (form != symbol.form) symbol = fitted_symbol(document, id, form, symbol.color);
        }
        if (a.has("color")) symbol.color = *control_color_from(a.text("color"));
        if (a.has("axis")) symbol.axis = *axis_from(a.text("axis"));
        symbol.half_m *= scale;
        out.document.parts.set(part);
    }
    return out;
}

Result<Outcome> remove_symbols(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    for (const PartId id : a.parts("parts")) {
        PIVRAK_TRY(part, control_part(document, id));
        part.control.reset();
        out.document.parts.set(part);
    }
    return out;
}

const std::vector<std::string> forms{"ring", "box", "arrow", "cross", "plate"};
const std::vector<std::string> colors{"petrol", "steel", "leaf", "saffron", "rust", "ink"};

}  // namespace

void add_control_operations(Registry& registry) {
    registry.add(
        {"control.add",
         "Add controls",
         "Gives parts a drawn frame to be picked and animated, sized to what it drives; it takes over their "
         "joint, keys and couplings and is never delivered.",
         {parts_argument("parts to be driven"),
          {"form", ArgumentKind::Choice, "what is drawn", false, "ring", forms},
          {"color", ArgumentKind::Choice, "its colour", false, "petrol", colors}},
         add_controls});
    registry.add({"control.set",
                  "Change controls",
                  "Changes form, colour, direction or size of controls.",
                  {parts_argument("controls"),
                   {"form", ArgumentKind::Choice, "what is drawn", false, {}, forms},
                   {"color", ArgumentKind::Choice, "its colour", false, {}, colors},
                   {"axis", ArgumentKind::Choice, "own axis it stands across", false, {}, {"x", "y", "z"}},
                   {"scale", ArgumentKind::Number, "times its present size", false, {}, {}},
                   {"fit", ArgumentKind::Flag, "sizes it to what it drives again", false, false, {}}},
                  change_controls});
    registry.add({"control.remove",
                  "Make controls plain datums",
                  "Takes the drawn symbol away; the frame stays, with its joint and keys.",
                  {parts_argument("controls")},
                  remove_symbols});
}

}  // namespace pivrak
