#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <map>

#include "core/base/words.h"
#include "core/checks/findings.h"
#include "core/checks/grounds.h"
#include "core/checks/over_words.h"
#include "core/geometry/mesh/mesh_edit.h"
#include "core/geometry/mesh/pieces.h"
#include "core/model/edits/branch_bounds.h"
#include "core/model/edits/stand.h"
#include "core/model/edits/tidy.h"
#include "core/model/names/convention.h"

namespace pivrak {
namespace {

using nlohmann::json;

// Common practice, no source: what a vehicle, machine or prop plausibly measures.
constexpr double smallest_m = 0.01, largest_m = 100;
constexpr double ground_tolerance_m = 0.001;

void check_size(const Bounds& bounds, const Document& document, std::vector<Finding>& findings) {
    const double longest = bounds.longest();
    const auto guess = guess_unit(longest, document.settings.length_unit);
    if (!guess) return;
    const bool huge = longest > largest_m;
    findings.push_back({Stage::Intake,
                        huge ? "size.huge" : "size.tiny",
                        {},
                        fmt::format("{} (expected {} {})", guess->reason, huge ? "at most" : "at least",
                                    format_length(huge ? largest_m : smallest_m, document)),
                        {{"op", "model.stand"}, {"scale", guess->factor}},
                        fmt::format("make it {}", format_length(longest * guess->factor, document))});
}

void check_ground(const Bounds& bounds, const Document& document, std::vector<Finding>& findings) {
    const double lowest = bounds.min.z();
    if (std::abs(lowest) <= ground_tolerance_m) return;
    findings.push_back(
        {Stage::Intake,
         "ground.off",
         {},
         fmt::format("lowest point {} {} the floor (allowed {})",
                     length_over(std::abs(lowest), ground_tolerance_m, document),
                     lowest > 0 ? "above" : "below", format_length(ground_tolerance_m, document)),
         {{"op", "model.stand"}, {"ground", true}},
         "put it on the floor"});
}

bool has_word(const std::string& name, std::string_view word) {
    std::string plain(name);
    std::transform(plain.begin(), plain.end(), plain.begin(),
                   [](unsigned char c) { return std::tolower(c); });
    const std::size_t at = plain.find(word);
    if (at == std::string::npos) return false;
    const auto letter = [&](std::size_t i) {
        return i < plain.size() && std::isalpha(static_cast<unsigned char>(plain[i]));
    };
    return (at == 0 || !letter(at - 1)) && !letter(at + word.size());
}

/// Where parts of a name stand along the model, on average.
std::optional<double> mean_x(const Document& document, std::string_view word) {
    double sum = 0;
    std::size_t count = 0;
    for (const Part& part : document.parts) {
        const Shape* shape = document.shapes.find(part.shape);
        if (!shape || !has_word(part.name, word)) continue;
        sum += (world_from_rest(document, part.id) * part.part_from_shape).point(shape->bounds.middle()).x();
        ++count;
    }
    return count ? std::optional(sum / static_cast<double>(count)) : std::nullopt;
}

/// Names tell which way a model faces; without them, a machine that is much longer across than along is odd.
void check_facing(const Document& document, const Bounds& bounds, std::vector<Finding>& findings) {
    const auto front = mean_x(document, "front"), rear = mean_x(document, "rear");
    if (front && rear && *rear - *front > 0.05 * bounds.size().x()) {
        findings.push_back(
            {Stage::Intake,
             "facing.backwards",
             {},
             fmt::format("parts called 'front' stand {} behind those called 'rear': it faces -X",
                         format_length(*rear - *front, document)),
             {{"op", "model.stand"}, {"front", "-x"}},
             "turn it round"});
        return;
    }
    const double along = bounds.size().x(), across = bounds.size().y();
    if (!front && across > 1.5 * along && along > 0)
        findings.push_back({Stage::Intake,
                            "facing.sideways",
                            {},
                            fmt::format("{} along its front and {} across: does it face sideways?",
                                        format_length(along, document), format_length(across, document)),
                            {},
                            ""});
}

void check_leftovers(const Document& document, std::vector<Finding>& findings) {
    std::map<TreeFaultKind, std::size_t> count;
    std::map<TreeFaultKind, PartId> first;
    for (const TreeFault& fault : tree_faults(document)) {
        if (count[fault.kind]++ == 0) first[fault.kind] = fault.part;
    }
    const auto add = [&](TreeFaultKind kind, const char* code, std::string message, std::string title) {
        if (count[kind] > 0)
            findings.push_back({Stage::Intake,
                                code,
                                first[kind],
                                std::move(message),
                                {{"op", "tree.tidy"}, {"what", fault_word(kind)}},
                                std::move(title)});
    };
    add(TreeFaultKind::EmptyNode, "node.empty",
        "without a shape and carrying none: " + counted(count[TreeFaultKind::EmptyNode], "node"),
        "remove them");
}

}  // namespace

void check_model(const Document& document, std::vector<Finding>& findings) {
    if (document.shapes.empty()) return;
    const Bounds bounds = document_bounds(document);
    if (!bounds.empty()) {
        check_size(bounds, document, findings);
        // Where there is a ground, the rig stands things on that, and footings go into it.
        if (grounds_of(document).empty()) check_ground(bounds, document, findings);
        check_facing(document, bounds, findings);
    }
    check_leftovers(document, findings);
    for (const Image& image : document.images)
        if (image.missing())
            findings.push_back({Stage::Intake,
                                "texture.missing",
                                {},
                                fmt::format("texture '{}' is missing", image.name),
                                {},
                                ""});
}

// ---- shapes

const MeshFacts::Facts& MeshFacts::of(const std::shared_ptr<const Mesh>& mesh) {
    Entry& entry = entries_[mesh.get()];
    if (entry.mesh.lock() == mesh) return entry.facts;
    entry.mesh = mesh;
    entry.facts.pieces = label_loose_pieces(*mesh).count;
    entry.facts.faults = mesh_faults(*mesh);
    Vec3 looking(0, 0, 0);
    double area = 0;
    for (std::size_t t = 0; t < mesh->triangle_count(); ++t) {
        const Vec3 a = mesh->corner(t, 0), cross = (mesh->corner(t, 1) - a).cross(mesh->corner(t, 2) - a);
        looking += cross;
        area += cross.norm();
    }
    entry.facts.is_sheet = looking.norm() > 0.6 * area;
    return entry.facts;
}

const std::optional<RoundAxis>& MeshFacts::axis_of(const std::shared_ptr<const Mesh>& mesh) {
    AxisEntry& entry = axes_[mesh.get()];
    if (entry.mesh.lock() == mesh) return entry.axis;
    entry.mesh = mesh;
    const auto found = round_axis(*mesh);
    entry.axis = found ? std::optional(*found) : std::nullopt;
    return entry.axis;
}

void MeshFacts::forget_unused() {
    std::erase_if(entries_, [](const auto& entry) { return entry.second.mesh.expired(); });
    limits_.forget_unused();
    std::erase_if(axes_, [](const auto& entry) { return entry.second.mesh.expired(); });
}

namespace {

void check_surface(const Document& document, const Part& part, const MeshFacts::Facts& facts,
                   std::vector<Finding>& findings) {
    const MeshFaults& f = facts.faults;
    const auto add = [&](const char* code, const std::string& what, bool can_mend) {
        findings.push_back({Stage::Intake, code, part.id, fmt::format("'{}' {}", part.name, what),
                            can_mend ? json{{"op", "shape.repair"}, {"parts", {part.id.value}}} : json(),
                            can_mend ? "mend it" : ""});
    };
    if (f.zero_area_faces)
        add("surface.zero_area", fmt::format("has {} faces without area", f.zero_area_faces), true);
    if (f.doubled_faces) add("surface.doubled", fmt::format("has {} doubled faces", f.doubled_faces), true);
    if (f.turned_faces)
        add("surface.turned", fmt::format("has {} faces turned against the rest", f.turned_faces), true);
    if (f.inside_out) add("surface.inside_out", "is turned inside out", true);
    if (f.open_edges && !facts.is_sheet)
        add("surface.open",
            fmt::format("is open along {} edges, {} in all", f.open_edges,
                        format_length(f.open_length_m, document)),
            false);
    if (f.crowded_edges)
        add("surface.crowded", fmt::format("has {} edges at which more than two faces meet", f.crowded_edges),
            false);
}

}  // namespace

namespace {

/// How many pieces each shape may have that somebody joined of several; copies show the same shape.
std::map<ShapeId, std::size_t> joined_on_purpose(const Document& document) {
    std::map<ShapeId, std::size_t> pieces;
    for (const Part& part : document.parts)
        if (!part.origin.joined.empty())
            pieces[part.shape] = std::max(pieces[part.shape], 1 + part.origin.joined.size());
    return pieces;
}

}  // namespace

void check_shapes(const Document& document, const Progress& progress, MeshFacts& known,
                  std::vector<Finding>& findings) {
    std::size_t done = 0;
    std::vector<ShapeId> told;
    const auto joined = joined_on_purpose(document);
    for (const Part& part : document.parts) {
        if (!progress.go_on(static_cast<double>(done++) / static_cast<double>(document.parts.size()),
                            "looking at shapes"))
            return;
        const Shape* shape = document.shapes.find(part.shape);
        if (!shape || shape->mesh->indices.empty()) continue;
        const MeshFacts::Facts& facts = known.of(shape->mesh);
        // A shape that many parts show has its faults once, and so has a link that a chain repeats.
        const bool repeated = std::binary_search(told.begin(), told.end(), part.shape);
        if (!repeated) {
            told.insert(std::lower_bound(told.begin(), told.end(), part.shape), part.shape);
            check_surface(document, part, facts, findings);
        }
        const Part* carrier = document.parts.find(part.parent);
        const auto own = joined.find(part.shape);
        const std::size_t expected = own == joined.end() ? 1 : own->second;
        if (facts.pieces > expected && !(repeated && carrier && carrier->chain))
            findings.push_back({Stage::Split,
                                "shape.loose_pieces",
                                part.id,
                                fmt::format("'{}' holds {} unconnected pieces (expected {})", part.name,
                                            facts.pieces, expected),
                                {{"op", "split.pieces"}, {"parts", {part.id.value}}},
                                "break it apart"});
    }
}

namespace {

void check_convention(const Document& document, std::vector<Finding>& findings) {
    const NamingConvention& naming = document.settings.naming;
    if (naming.asks_nothing()) return;
    std::size_t count = 0;
    const Part* first = nullptr;
    for (const Part& part : document.parts) {
        if (conformed_name(part.name, naming) == part.name) continue;
        if (count++ == 0) first = &part;
    }
    if (count == 0) return;
    findings.push_back(
        {Stage::Tree,
         "name.convention",
         first->id,
         fmt::format("{} do not keep the convention ({}): '{}' would be '{}'", counted(count, "name"),
                     convention_in_words(naming), first->name, conformed_name(first->name, naming)),
         {{"op", "name.conform"}},
         "rename them"});
}

/// Parts that stand inside a machine that has a tree, and are carried by nothing: they stay behind when it
/// moves.
void check_carriers(const Document& document, std::vector<Finding>& findings) {
    const Tree tree(document);
    PartId machine;
    std::size_t most = 1;
    // What carries a chain's links is no machine.
    const auto carries_links = [&](PartId part) {
        return std::any_of(document.chains.begin(), document.chains.end(),
                           [&](const Chain& chain) { return chain.frame == part; });
    };
    for (const PartId root : tree.roots())
        if (const std::size_t size = tree.branch(root).size(); size > most && !carries_links(root)) {
            most = size;
            machine = root;
        }
    if (!machine) return;
    const Bounds whole = branch_bounds(document, {machine});
    if (whole.empty()) return;
    std::vector<PartId> alone;
    for (const PartId root : tree.roots()) {
        const Part& part = *document.parts.find(root);
        if (root == machine || part.is_datum() || !tree.children(root).empty()) continue;
        const Shape* shape = document.shapes.find(part.shape);
        if (!shape || shape->bounds.empty() || shape->bounds.longest() >= whole.longest()) continue;
        const Vec3 middle = (part.parent_from_rest * part.part_from_shape).point(shape->bounds.middle());
        if (whole.contains(middle)) alone.push_back(root);
    }
    if (alone.empty()) return;
    json parts = json::array();
    for (const PartId part : alone) parts.push_back(part.value);
    const std::string& name = document.parts.find(machine)->name;
    findings.push_back(
        {Stage::Tree,
         "part.no_carrier",
         alone.front(),
         fmt::format("{} inside '{}' stay behind when it moves, first '{}' (expected 0)",
                     counted(alone.size(), "part"), name, document.parts.find(alone.front())->name),
         {{"op", "tree.parent"}, {"parts", parts}, {"under", machine.value}},
         fmt::format("put them under '{}'", name)});
}

}  // namespace

void check_tree(const Document& document, std::vector<Finding>& findings) {
    check_carriers(document, findings);
    check_convention(document, findings);
    std::map<std::string, std::pair<std::size_t, PartId>> uses;
    for (const Part& part : document.parts) {
        auto& [count, first] = uses[part.name];
        if (count++ == 0) first = part.id;
    }
    for (const auto& [name, use] : uses)
        if (use.first > 1)
            findings.push_back({Stage::Tree,
                                "name.duplicate",
                                use.second,
                                fmt::format("{} parts are called '{}'", use.first, name),
                                {{"op", "tree.tidy"}, {"what", "names"}},
                                "number them"});
}

}  // namespace pivrak
