#include <fmt/format.h>

#include <cmath>

#include "cli/commands.h"
#include "cli/load.h"
#include "core/checks/pivots/spin_check.h"
#include "core/checks/pivots/swing_check.h"
#include "core/checks/pivots/swing_map.h"
#include "core/checks/travel/slip_check.h"
#include "core/io/paths/path_files.h"

namespace pivrak::cli {

using nlohmann::json;

namespace {

/// The part named, or every hinge and cylinder that has a shape.
Result<std::vector<PartId>> parts_to_spin(const Document& document, const std::string& name) {
    if (!name.empty()) {
        PIVRAK_TRY(id, find_part(document, name));
        return std::vector<PartId>{id};
    }
    std::vector<PartId> parts;
    for (const Part& part : document.parts)
        if (part.shape && (part.joint.kind == JointKind::Hinge || part.joint.kind == JointKind::Cylinder))
            parts.push_back(part.id);
    return parts;
}

json contact_json(const Document& document, const SwingContact& contact) {
    return {{"value", contact.value},
            {"moving", part_path(document, contact.moving)},
            {"neighbour", part_path(document, contact.neighbour)},
            {"place_m", {contact.place.x(), contact.place.y(), contact.place.z()}}};
}

json swing_json(const Document& document, const SwingCheck& check) {
    json out{{"curve", json::array()}, {"resting", json::array()}, {"touching_at_rest", json::array()}};
    for (const auto& sample : check.curve) {
        json one{{"value", sample.value}};
        // Without a neighbour there is no distance.
        if (sample.neighbour) {
            one["clearance_m"] = sample.clearance_m;
            one["neighbour"] = part_path(document, sample.neighbour);
        }
        out["curve"].push_back(one);
    }
    for (const PartId id : check.resting) out["resting"].push_back(part_path(document, id));
    for (const PartId id : check.touching) out["touching_at_rest"].push_back(part_path(document, id));
    if (check.below) out["first_contact_below"] = contact_json(document, *check.below);
    if (check.above) out["first_contact_above"] = contact_json(document, *check.above);
    return out;
}

void print_contact(const Document& document, const char* way, bool turns,
                   const std::optional<SwingContact>& contact) {
    if (!contact)
        fmt::print("{}: no contact\n", way);
    else
        fmt::print("{}: free to {}, then '{}' touches '{}'\n", way,
                   turns ? format_angle(contact->value, 3) : format_length(contact->value, document),
                   document.parts.find(contact->moving)->name, document.parts.find(contact->neighbour)->name);
}

bool is_turning(const Document& document, PartId part) {
    return document.parts.find(part)->joint.has(ChannelKind::Turn);
}

/// The range of a part's turn, or else of its shift, as typed.
Result<Limits> typed_range(const Document& document, PartId part, const std::string& from,
                           const std::string& to) {
    const Dimension dimension = is_turning(document, part) ? Dimension::Angle : Dimension::Length;
    PIVRAK_TRY(low, parse_quantity(from, dimension, document.settings.length_unit));
    PIVRAK_TRY(high, parse_quantity(to, dimension, document.settings.length_unit));
    return Limits{low, high};
}

json map_json(const Document& document, const SwingMap& map) {
    json out{{"values", map.first_values},
             {"with_values", map.second_values},
             {"clearance_m", json::array()},
             {"contact_share", map.contact_share()},
             {"touching_at_rest", json::array()}};
    for (std::size_t i = 0; i < map.first_values.size(); ++i) {
        json row = json::array();
        for (std::size_t k = 0; k < map.second_values.size(); ++k) {
            const double clearance = map.at(i, k).clearance_m;
            row.push_back(std::isfinite(clearance) ? json(clearance) : json());
        }
        out["clearance_m"].push_back(row);
    }
    for (const PartId id : map.touching) out["touching_at_rest"].push_back(part_path(document, id));
    return out;
}

/// One row for each value of the first joint: the range of the second that is free there.
void print_map(const Document& document, const SwingMap& map) {
    const auto shown = [&](ChannelRef channel, double value) {
        return format_channel(channel.kind, value, document, 1);
    };
    for (std::size_t i = 0; i < map.first_values.size(); ++i) {
        std::size_t touching = 0;
        const SwingMap::Cell* nearest = &map.at(i, 0);
        for (std::size_t k = 0; k < map.second_values.size(); ++k) {
            const SwingMap::Cell& cell = map.at(i, k);
            touching += cell.clearance_m <= 0 ? 1 : 0;
            if (cell.clearance_m < nearest->clearance_m) nearest = &cell;
        }
        const Part* neighbour = document.parts.find(nearest->neighbour);
        fmt::print("{:>12}: {} of {} touch, least clearance {}{}\n", shown(map.first, map.first_values[i]),
                   touching, map.second_values.size(),
                   neighbour ? format_length(nearest->clearance_m, document) : "without end",
                   neighbour ? fmt::format(" to '{}'", neighbour->name) : "");
    }
    fmt::print("{:.1f} % of all pairs touch\n", 100 * map.contact_share());
}

int swing_both(const Document& document, const SwingCommand& command, PartId first, Limits range) {
    const auto second = find_part(document, command.with);
    if (!second) return fail(second.error(), command.as_json);
    const auto with = typed_range(document, *second, command.with_from, command.with_to);
    if (!with) return fail(with.error(), command.as_json);
    const auto map = swing_map(document, first, *second, {range, *with, command.steps});
    if (!map) return fail(map.error(), command.as_json);
    if (command.as_json)
        fmt::print("{}\n", map_json(document, *map).dump(2));
    else
        print_map(document, *map);
    return 0;
}

}  // namespace

int spin(const std::string& file, const std::string& name, bool as_json) {
    const auto loaded = load(file);
    if (!loaded) return fail(loaded.error(), as_json);
    const Document& document = loaded->document;
    const auto parts = parts_to_spin(document, name);
    if (!parts) return fail(parts.error(), as_json);
    json out = json::array();
    for (const PartId id : *parts) {
        const auto check = spin_check(document, id);
        if (!check && !name.empty()) return fail(check.error(), as_json);
        if (!check) continue;
        out.push_back({{"part", part_path(document, id)},
                       {"run_out_m", check->run_out_m},
                       {"tilt_rad", check->tilt_rad},
                       {"offset_m", check->offset_m},
                       {"radius_m", check->radius_m},
                       {"true", check->is_true()}});
        if (!as_json)
            fmt::print("{:<28} run-out {:<16} tilt {:<10} {}\n", document.parts.find(id)->name,
                       format_length(check->run_out_m, document), format_angle(check->tilt_rad, 3),
                       check->is_true() ? "true" : "OFF");
    }
    if (as_json) fmt::print("{}\n", out.dump(2));
    return 0;
}

int swing(const SwingCommand& command) {
    const auto loaded = load(command.file);
    if (!loaded) return fail(loaded.error(), command.as_json);
    const Document& document = loaded->document;
    const auto id = find_part(document, command.part);
    if (!id) return fail(id.error(), command.as_json);
    const auto range = typed_range(document, *id, command.from, command.to);
    if (!range) return fail(range.error(), command.as_json);
    if (!command.with.empty()) return swing_both(document, command, *id, *range);
    const bool turns = is_turning(document, *id);
    SwingOptions options{.from = range->min, .to = range->max, .steps = command.steps};
    if (!turns) options.tolerance = 1e-5;
    const auto check = swing_check(document, *id, options);
    if (!check) return fail(check.error(), command.as_json);
    if (command.as_json) {
        fmt::print("{}\n", swing_json(document, *check).dump(2));
        return 0;
    }
    print_contact(document, "towards minus", turns, check->below);
    print_contact(document, "towards plus", turns, check->above);
    for (const PartId resting : check->resting)
        fmt::print("lies on '{}' at rest\n", document.parts.find(resting)->name);
    for (const PartId touching : check->touching)
        fmt::print("touches '{}' at rest already; left out\n", document.parts.find(touching)->name);
    return 0;
}

namespace {

Result<ClipId> clip_id(const Document& document, const std::string& name) {
    if (name.empty()) return clip_or_first(document).id;
    for (const Clip& clip : document.clips)
        if (clip.name == name) return clip.id;
    return Error{"clip.unknown", fmt::format("there is no clip '{}'", name), name};
}

}  // namespace

int slip(const std::string& file, const std::string& clip_name, bool as_json) {
    const auto loaded = load(file);
    if (!loaded) return fail(loaded.error(), as_json);
    const Document& document = loaded->document;
    const auto clip = clip_id(document, clip_name);
    if (!clip) return fail(clip.error(), as_json);
    const auto check = slip_check(document, *clip);
    if (!check) return fail(check.error(), as_json);
    json out = json::array();
    for (const WheelSlip& wheel : check->wheels) {
        out.push_back({{"wheel", part_path(document, wheel.wheel)},
                       {"radius_m", wheel.radius_m},
                       {"travelled_m", wheel.travelled_m},
                       {"slip_m", wheel.slip_m},
                       {"sideways_m", wheel.sideways_m},
                       {"largest_gap_m", wheel.has_ground ? json(wheel.largest_gap_m) : json()},
                       {"deepest_m", wheel.has_ground ? json(wheel.deepest_m) : json()},
                       {"slip_by_frame_m", wheel.slip_by_frame_m}});
        if (!as_json)
            fmt::print(
                "{:<28} travelled {:<10} slip {:<14} sideways {:<12} gap {}\n",
                document.parts.find(wheel.wheel)->name, format_length(wheel.travelled_m, document),
                format_length(wheel.slip_m, document), format_length(wheel.sideways_m, document),
                wheel.has_ground ? format_length(wheel.largest_gap_m, document) : "none: no ground is given");
    }
    if (as_json) fmt::print("{}\n", out.dump(2));
    return 0;
}

int path(const std::string& file, const std::string& name, const std::string& out) {
    const auto loaded = load(file);
    if (!loaded) return fail(loaded.error(), false);
    for (const Path& path : loaded->document.paths) {
        if (path.name != name) continue;
        const auto written = write_path(loaded->document, path, out);
        return written ? 0 : fail(written.error(), false);
    }
    return fail({"path.unknown", fmt::format("there is no path '{}'", name), name}, false);
}

}  // namespace pivrak::cli
