#include "core/operations/step_series.h"

#include <fmt/format.h>

#include <algorithm>
#include <unordered_map>
#include <unordered_set>

#include "core/base/words.h"
#include "core/model/names/names.h"

namespace pivrak {
namespace {

using nlohmann::json;

using Pointer = json::json_pointer;

/// Where an argument names parts, by id or by name.
void part_places(const json& value, ArgumentKind kind, const Pointer& at, std::vector<Pointer>& places) {
    if (kind == ArgumentKind::Part) return places.push_back(at);
    if (kind == ArgumentKind::Parts) {
        for (std::size_t i = 0; value.is_array() && i < value.size(); ++i) places.push_back(at / i);
        return;
    }
    // Elsewhere parts are told by their key.
    for (std::size_t i = 0; value.is_array() && i < value.size(); ++i)
        part_places(value[i], kind, at / i, places);
    if (!value.is_object()) return;
    for (const auto& [key, inner] : value.items()) {
        if (key == "part" || key == "of")
            places.push_back(at / key);
        else
            part_places(inner, kind, at / key, places);
    }
}

std::vector<PartId> new_parts(const Document& before, const Document& after) {
    std::vector<PartId> created;
    for (const Part& part : after.parts)
        if (!before.parts.contains(part.id)) created.push_back(part.id);
    return created;
}

std::optional<PartId> part_meant(const Document& document, const json& reference) {
    if (reference.is_number_unsigned()) return PartId{reference.get<std::uint64_t>()};
    if (!reference.is_string()) return std::nullopt;
    const auto found = find_part(document, reference.get<std::string>());
    return found ? std::optional(*found) : std::nullopt;
}

}  // namespace

Result<StepSeries> StepSeries::make(const Registry& registry, const std::vector<TakenStep>& taken) {
    StepSeries run;
    std::unordered_set<PartId> own, known;
    std::vector<std::vector<PartId>> lots;
    bool one_lot = true;
    for (std::size_t i = 0; i < taken.size(); ++i) {
        One one{taken[i].step, taken[i].before, new_parts(taken[i].before, taken[i].after)};
        const Operation* operation = registry.find(one.step.value("op", ""));
        if (!operation) return Error{"operation.unknown", "a step that is no operation", ""};
        for (const ArgumentSpec& spec : operation->arguments) {
            if (!one.step.contains(spec.name)) continue;
            if (spec.kind == ArgumentKind::Faces)
                return Error{"steps.faces",
                             fmt::format("step {} ({}) names faces of one shape, which other parts have not",
                                         i + 1, operation->title),
                             operation->name};
            if (spec.kind == ArgumentKind::File)
                return Error{
                    "steps.file",
                    fmt::format("step {} ({}) reads a file; take those after it", i + 1, operation->title),
                    operation->name};
        }
        bool in_lists = true;
        for (const ArgumentSpec& spec : operation->arguments) {
            if (!one.step.contains(spec.name)) continue;
            std::vector<Pointer> places;
            part_places(one.step[spec.name], spec.kind, Pointer() / spec.name, places);
            std::vector<PartId> named;
            for (const Pointer& place : places) {
                const auto part = part_meant(one.before, one.step[place]);
                if (!part) continue;
                one.step[place] = part->value;
                one.parts.push_back(place);
                if (own.contains(*part)) continue;
                named.push_back(*part);
                if (known.insert(*part).second) run.roles_.push_back(*part);
            }
            if (named.empty()) continue;
            in_lists = in_lists && spec.kind == ArgumentKind::Parts;
            one.lots.push_back(spec.name);
            lots.push_back(std::move(named));
        }
        one_lot = one_lot && in_lists;
        own.insert(one.created.begin(), one.created.end());
        run.steps_.push_back(std::move(one));
    }
    if (run.roles_.empty())
        return Error{"steps.none", "these steps name no part, so there is nothing to take them again on", ""};
    run.one_lot_ =
        one_lot && std::all_of(lots.begin(), lots.end(), [&](const auto& lot) { return lot == run.roles_; });
    return run;
}

Result<std::size_t> StepSeries::again(const std::vector<PartId>& parts, const Document& document,
                                      const std::function<Result<Document>(const json&)>& take) const {
    if (parts.empty() || (!one_lot_ && parts.size() % roles_.size() != 0)) {
        std::string names;
        for (const PartId role : roles_)
            names += (names.empty() ? "'" : ", '") + name_of(steps_.front().before, role) + "'";
        return Error{"steps.count",
                     one_lot_
                         ? std::string("pick the parts that the steps are to be taken on")
                         : fmt::format("these steps are about {} in turn: {}; pick as many, in that order",
                                       counted(roles_.size(), "part"), names),
                     ""};
    }
    if (one_lot_) return once(parts, document, take);
    std::size_t done = 0;
    Document now = document;
    for (std::size_t first = 0; first < parts.size(); first += roles_.size()) {
        const std::vector<PartId> group(parts.begin() + static_cast<std::ptrdiff_t>(first),
                                        parts.begin() + static_cast<std::ptrdiff_t>(first + roles_.size()));
        PIVRAK_TRY(taken, once(group, now, [&](const json& step) {
                       auto after = take(step);
                       if (after) now = *after;
                       return after;
                   }));
        done += taken;
    }
    return done;
}

Result<std::size_t> StepSeries::once(const std::vector<PartId>& parts, Document document,
                                     const std::function<Result<Document>(const json&)>& take) const {
    std::unordered_map<std::uint64_t, std::uint64_t> in_place_of;
    if (!one_lot_)
        for (std::size_t i = 0; i < roles_.size(); ++i) in_place_of[roles_[i].value] = parts[i].value;
    json lot = json::array();
    for (const PartId part : parts) lot.push_back(part.value);
    for (std::size_t i = 0; i < steps_.size(); ++i) {
        json step = steps_[i].step;
        for (const Pointer& place : steps_[i].parts)
            if (const auto found = in_place_of.find(step[place].get<std::uint64_t>());
                found != in_place_of.end())
                step[place] = found->second;
        if (one_lot_)
            for (const std::string& argument : steps_[i].lots) step[argument] = lot;
        auto after = take(step);
        if (!after)
            return Error{after.error().code, fmt::format("step {}: {}", i + 1, after.error().message),
                         after.error().subject};
        const std::vector<PartId> created = new_parts(document, *after);
        for (std::size_t k = 0; k < std::min(created.size(), steps_[i].created.size()); ++k)
            in_place_of[steps_[i].created[k].value] = created[k].value;
        document = std::move(*after);
    }
    return steps_.size();
}

std::vector<json> StepSeries::named() const {
    std::vector<json> steps;
    for (const One& one : steps_) {
        json step = one.step;
        for (const Pointer& place : one.parts)
            step[place] = part_path(one.before, PartId{step[place].get<std::uint64_t>()});
        steps.push_back(std::move(step));
    }
    return steps;
}

}  // namespace pivrak
