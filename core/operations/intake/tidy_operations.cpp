#include <fmt/format.h>

#include "core/base/words.h"
#include "core/geometry/mesh/mesh_faults.h"
#include "core/model/edits/join.h"
#include "core/model/edits/tidy.h"
#include "core/model/names/names.h"
#include "core/operations/all_operations.h"

namespace pivrak {
namespace {

Result<Outcome> tidy(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    const std::string what = a.text("what");
    std::size_t mended = 0;
    for (const TreeFaultKind kind : {TreeFaultKind::EmptyNode, TreeFaultKind::SingleChain,
                                     TreeFaultKind::DuplicateName, TreeFaultKind::BakedScale}) {
        if (what != "all" && what != fault_word(kind)) continue;
        const std::size_t count = mend_tree(out.document, kind);
        mended += count;
        if (count == 0) continue;
        constexpr std::string_view done[] = {"empty nodes removed", "pass-through nodes removed",
                                             "parts given names of their own", "notes on scale put away"};
        out.messages.push_back(fmt::format("{} {}", count, done[static_cast<std::size_t>(kind)]));
        out.readings[std::string(fault_word(kind))] = count;
    }
    if (mended == 0) return nothing_to_do(document, "there is nothing of that kind to tidy");
    return out;
}

Result<Outcome> flatten_branches(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    std::size_t gone = 0;
    for (const PartId part : a.parts("parts"))
        if (out.document.parts.contains(part)) gone += flatten(out.document, part);
    out.messages.push_back(fmt::format("flattened; {} empty nodes removed", gone));
    return out;
}

Result<Outcome> group(const Document& document, const Arguments& a, const OperationContext&) {
    const std::string name = a.text("name");
    PIVRAK_CHECK(check_name(name));
    Outcome out{document};
    out.created.push_back(group_parts(out.document, a.parts("parts"), name));
    return out;
}

Result<Outcome> join(const Document& document, const Arguments& a, const OperationContext&) {
    const std::vector<PartId> parts = a.parts("parts");
    const PartId into = a.has("into") ? a.part("into") : parts.back();
    if (parts.size() == 1 && parts.front() == into)
        return Error{"join.one", "one part alone cannot be joined; pick at least two", "parts"};
    Outcome out{document};
    PIVRAK_TRY(removal, join_parts(out.document, parts, into));
    std::string message = fmt::format("{} joined into '{}'", counted(removal.parts + 1, "part"),
                                      document.parts.find(into)->name);
    if (removal.couplings)
        message += fmt::format(", {} of theirs removed", counted(removal.couplings, "coupling"));
    if (removal.tracks) message += fmt::format(", keys of {} channels removed", removal.tracks);
    out.messages.push_back(message);
    out.created.push_back(into);
    return out;
}

Result<Outcome> repair(const Document& document, const Arguments& a, const OperationContext& context) {
    Outcome out{document};
    std::vector<ShapeId> shapes;
    for (const PartId id : parts_or_all(document, a))
        if (const Part& part = *document.parts.find(id);
            part.shape && std::find(shapes.begin(), shapes.end(), part.shape) == shapes.end())
            shapes.push_back(part.shape);
    std::size_t mended = 0, zero = 0, doubled = 0, turned = 0, done = 0;
    std::vector<ShapeId> empty;
    for (const ShapeId id : shapes) {
        if (!context.progress.go_on(static_cast<double>(done++) / static_cast<double>(shapes.size()),
                                    "mending surfaces"))
            return Error{"repair.cancelled", "cancelled; the project is as it was", ""};
        const Shape& shape = *document.shapes.find(id);
        const MeshFaults faults = mesh_faults(*shape.mesh);
        if (faults.zero_area_faces + faults.doubled_faces + faults.turned_faces == 0 && !faults.inside_out)
            continue;
        Mesh mesh = repaired(*shape.mesh);
        if (mesh.indices.empty())
            empty.push_back(id);
        else
            out.document.shapes.set(make_shape(id, shape.name, std::move(mesh)));
        ++mended;
        zero += faults.zero_area_faces;
        doubled += faults.doubled_faces;
        turned += faults.turned_faces;
    }
    if (mended == 0) return nothing_to_do(document, "these surfaces need no mending");
    // A part of nothing but faces without area has no shape any more.
    const SharedTable<Part> parts = out.document.parts;
    for (const Part& found : parts) {
        if (std::find(empty.begin(), empty.end(), found.shape) == empty.end()) continue;
        Part part = found;
        part.shape = {};
        out.document.parts.set(part);
        out.messages.push_back(fmt::format("'{}' had no face with an area: it is a datum now", part.name));
    }
    drop_unused_shapes(out.document);
    out.messages.insert(out.messages.begin(),
                        fmt::format("{} mended: {} without area and {} doubled removed, {} turned round",
                                    counted(mended, "shape"), counted(zero, "face"), doubled, turned));
    out.readings = {{"shapes", mended}, {"zero_area", zero}, {"doubled", doubled}, {"turned", turned}};
    return out;
}

}  // namespace

void add_tidy_operations(Registry& registry) {
    registry.add({"tree.tidy",
                  "Tidy the tree",
                  "Mends what a tidy tree has none of; nothing moves in the world.",
                  {{"what",
                    ArgumentKind::Choice,
                    "empty nodes, pass-through nodes, duplicate names, notes on scale, or all of it",
                    false,
                    "all",
                    {"all", "empty", "chains", "names", "scale_notes"}}},
                  tidy});
    registry.add({"tree.flatten",
                  "Flatten",
                  "Brings everything with a shape directly under a part; empty nodes between go.",
                  {parts_argument("tops to flatten")},
                  flatten_branches});
    registry.add({"tree.group",
                  "Group",
                  "Puts a new datum over parts, under what carries them all.",
                  {parts_argument("parts to group"),
                   {"name", ArgumentKind::Text, "name of the group", false, "Group", {}}},
                  group});
    registry.add(
        {"part.join",
         "Join parts",
         "Joins parts into one, where they stand.",
         {parts_argument("parts to join"),
          {"into", ArgumentKind::Part, "the part that stays; the last one when left out", false, {}, {}}},
         join});
    registry.add({"shape.repair",
                  "Mend surfaces",
                  "Removes faces without area and doubled faces, and turns faces to look outwards.",
                  {parts_argument("parts whose shapes are mended; all when left out", false)},
                  repair});
}

}  // namespace pivrak
