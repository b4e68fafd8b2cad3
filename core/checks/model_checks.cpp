#include <fmt/format.h>

#include <map>
#include <unordered_map>

#include "core/checks/findings.h"
#include "core/geometry/pieces.h"

namespace pivrak {
namespace {

// Common practice, no source: what a vehicle, machine or prop plausibly measures.
constexpr double smallest_m = 0.01, largest_m = 100;
constexpr double ground_tolerance_m = 0.001;

void check_size(const Bounds& bounds, std::vector<Finding>& findings) {
    const double longest = bounds.longest();
    if (longest > largest_m)
        findings.push_back({Stage::Intake,
                            "size.huge",
                            {},
                            fmt::format("longest side {}, expected at most {}: wrong unit?",
                                        format_length(longest), format_length(largest_m))});
    if (longest < smallest_m)
        findings.push_back({Stage::Intake,
                            "size.tiny",
                            {},
                            fmt::format("longest side {}, expected at least {}: wrong unit?",
                                        format_length(longest), format_length(smallest_m))});
}

void check_ground(const Bounds& bounds, std::vector<Finding>& findings) {
    const double lowest = bounds.min.z();
    if (std::abs(lowest) <= ground_tolerance_m) return;
    findings.push_back(
        {Stage::Intake,
         "ground.off",
         {},
         fmt::format("lowest point {} {} the floor (allowed {})", format_length(std::abs(lowest)),
                     lowest > 0 ? "above" : "below", format_length(ground_tolerance_m))});
}

}  // namespace

void check_model(const Document& document, std::vector<Finding>& findings) {
    if (document.shapes.empty()) return;
    const Bounds bounds = document_bounds(document);
    if (!bounds.empty()) {
        check_size(bounds, findings);
        check_ground(bounds, findings);
    }
    for (const Image& image : document.images)
        if (image.missing())
            findings.push_back(
                {Stage::Intake, "texture.missing", {}, fmt::format("texture '{}' is missing", image.name)});
}

void check_pieces(const Document& document, const Progress& progress, std::vector<Finding>& findings) {
    std::unordered_map<ShapeId, std::uint32_t> pieces_of;
    std::size_t done = 0;
    for (const Part& part : document.parts) {
        if (!progress.go_on(static_cast<double>(done++) / static_cast<double>(document.parts.size()),
                            "counting pieces"))
            return;
        const Shape* shape = document.shapes.find(part.shape);
        if (!shape) continue;
        const auto [known, added] = pieces_of.try_emplace(part.shape, 0);
        if (added) known->second = label_loose_pieces(*shape->mesh).count;
        if (known->second > 1)
            findings.push_back(
                {Stage::Split, "shape.loose_pieces", part.id,
                 fmt::format("'{}' holds {} loose pieces (expected 1)", part.name, known->second)});
    }
}

void check_tree(const Document& document, std::vector<Finding>& findings) {
    std::map<std::string, std::pair<std::size_t, PartId>> uses;
    for (const Part& part : document.parts) {
        auto& [count, first] = uses[part.name];
        if (count++ == 0) first = part.id;
    }
    for (const auto& [name, use] : uses)
        if (use.first > 1)
            findings.push_back({Stage::Tree, "name.duplicate", use.second,
                                fmt::format("{} parts are called '{}'", use.first, name)});
}

}  // namespace pivrak
