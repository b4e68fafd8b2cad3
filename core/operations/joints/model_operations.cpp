#include <fmt/format.h>

#include "core/base/words.h"
#include "core/io/import/import_model.h"
#include "core/model/edits/branch_bounds.h"
#include "core/model/edits/edits.h"
#include "core/model/edits/stand.h"
#include "core/operations/all_operations.h"
#include "core/operations/keys/clip_access.h"
#include "core/operations/keys/retime.h"

namespace pivrak {
namespace {

/// The middle of their lowest side comes to a place.
void put_down(Document& document, const std::vector<PartId>& parts, const Vec3& place) {
    std::vector<PartId> tops;
    for (const PartId part : parts)
        if (!document.parts.find(part)->parent) tops.push_back(part);
    const Bounds bounds = branch_bounds(document, tops);
    if (bounds.empty()) return;
    const Vec3 middle = bounds.middle();
    move_branches(document, tops,
                  Frame{Quat::Identity(), place - Vec3(middle.x(), middle.y(), bounds.min.z())});
}

Result<Outcome> import_file(const Document& document, const Arguments& a, const OperationContext& context) {
    ImportOptions options;
    const std::string unit = a.text("unit"), up = a.text("up");
    if (unit == "in")
        options.metres_per_unit = 0.0254;
    else if (unit != "auto")
        options.metres_per_unit = metres_per(*length_unit_from(unit));
    if (up != "auto") options.up = up.front();
    PIVRAK_TRY(imported, import_model(document, context.folder / a.text("file"), options, context.progress));
    Outcome out{std::move(imported.document), std::move(imported.messages), std::move(imported.parts)};
    if (a.has("at")) put_down(out.document, out.created, a.point("at"));
    return out;
}

Result<Outcome> rename(const Document& document, const Arguments& a, const OperationContext&) {
    const std::string name = a.text("name");
    PIVRAK_CHECK(check_name(name));
    Outcome out{document};
    Part part = *document.parts.find(a.part("part"));
    part.name = name;
    out.document.parts.set(part);
    return out;
}

/// What of the rig cannot be without parts that are gone: `'grab', 'look' and 3 more`.
std::string gone_elements(const Document& before, const Document& after) {
    constexpr std::size_t most_named = 6;
    std::string words;
    std::size_t count = 0;
#define PIVRAK_TABLE(Type, table)                                       \
    for (const Type& element : before.table)                            \
        if (!after.table.contains(element.id) && ++count <= most_named) \
            words += fmt::format("{}'{}'", words.empty() ? "" : ", ", element.name);
#include "core/elements/kinds.def"
    if (count > most_named) words += fmt::format(" and {} more", count - most_named);
    return words;
}

Result<Outcome> remove(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    Removal total;
    for (const PartId part : a.parts("parts")) {
        if (!out.document.parts.contains(part)) continue;  // went with a part above it
        const Removal one = remove_branch(out.document, part);
        total.parts += one.parts;
        total.couplings += one.couplings;
        total.tracks += one.tracks;
    }
    std::string message = counted(total.parts, "part") + " removed";
    if (total.couplings) message += ", with " + counted(total.couplings, "coupling");
    if (total.tracks) message += fmt::format(", with the keys of {} channels", total.tracks);
    out.messages.push_back(message);
    if (const std::string gone = gone_elements(document, out.document); !gone.empty())
        out.messages.push_back(gone + " cannot be without what was removed, and went with it");
    return out;
}

/// Sets a mark of parts.
auto marks(bool Part::*mark, const char* argument) {
    return [mark, argument](const Document& document, const Arguments& a,
                            const OperationContext&) -> Result<Outcome> {
        Outcome out{document};
        for (const PartId id : a.parts("parts")) {
            Part part = *document.parts.find(id);
            part.*mark = a.flag(argument);
            out.document.parts.set(part);
        }
        return out;
    };
}

Result<Outcome> project_set(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    if (a.has("length_unit")) out.document.settings.length_unit = *length_unit_from(a.text("length_unit"));
    if (const auto rate = a.number_if("frame_rate")) {
        if (*rate < 1 || *rate > 1000)
            return Error{"settings.frame_rate",
                         fmt::format("{} frames a second is out of range: 1 to 1000", *rate), "frame_rate"};
        const double factor = *rate / document.settings.frame_rate;
        if (a.text("keep") == "seconds" && factor != 1) {
            scale_frames(out.document, factor);
            for (const Clip& clip : out.document.clips) PIVRAK_CHECK(check_clip_range(clip));
            out.messages.push_back(
                fmt::format("all stands at the second where it stood, at {:g} times its frame", factor));
        }
        out.document.settings.frame_rate = *rate;
    }
    return out;
}

}  // namespace

Result<void> check_name(const std::string& name) {
    if (name.find_first_not_of(" \t") == std::string::npos)
        return Error{"name.empty", "a part needs a name with at least one letter", "name"};
    if (name.find('/') != std::string::npos)
        return Error{"name.slash", fmt::format("'{}' has a slash, which divides paths; leave it out", name),
                     "name"};
    return {};
}

void add_model_operations(Registry& registry) {
    registry.add(
        {"model.import",
         "Bring in a model",
         "Adds the parts of a model file; frames come out rigid, scale goes into the shapes.",
         {{"file",
           ArgumentKind::File,
           "a glTF, OBJ, COLLADA, X3D, STL, PLY, OFF, 3MF or AMF file",
           true,
           {},
           {}},
          {"unit",
           ArgumentKind::Choice,
           "what one unit of the file is; auto goes by the format or guesses from the size",
           false,
           "auto",
           {"auto", "mm", "cm", "m", "in"}},
          {"up", ArgumentKind::Choice, "which axis of the file points up", false, "auto", {"auto", "y", "z"}},
          {"at",
           ArgumentKind::Place,
           "what it is set down on; where the file has it when left out",
           false,
           {},
           {}}},
         import_file});
    registry.add({"part.rename",
                  "Rename",
                  "Gives a part another name; what refers to it stays.",
                  {{"part", ArgumentKind::Part, "the part", true, {}, {}},
                   {"name", ArgumentKind::Text, "its new name", true, {}, {}}},
                  rename});
    registry.add({"part.remove",
                  "Remove",
                  "Removes parts with all below them, their couplings and keys.",
                  {parts_argument("parts to remove")},
                  remove});
    registry.add({"part.show",
                  "Show or hide",
                  "Shows or hides parts in the view; deliveries are not changed.",
                  {parts_argument("parts to show or hide"),
                   {"shown", ArgumentKind::Flag, "false hides", false, true, {}}},
                  marks(&Part::shown, "shown")});
    registry.add({"part.lock",
                  "Lock or unlock",
                  "Locked parts cannot be picked in the view.",
                  {parts_argument("parts to lock or unlock"),
                   {"locked", ArgumentKind::Flag, "false unlocks", false, true, {}}},
                  marks(&Part::locked, "locked")});
    registry.add({"project.set",
                  "Project settings",
                  "Changes the unit of length and the frame rate of all clips without one of their own.",
                  {{"length_unit",
                    ArgumentKind::Choice,
                    "unit that lengths are shown and typed in",
                    false,
                    {},
                    {"mm", "cm", "m"}},
                   {"frame_rate", ArgumentKind::Number, "frames a second", false, {}, {}},
                   keep_argument()},
                  project_set});
}

}  // namespace pivrak
