#include <fmt/format.h>

#include "cli/commands.h"
#include "cli/load.h"
#include "core/checks/spin_check.h"
#include "core/checks/swing_check.h"

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
    json out{{"curve", json::array()}, {"touching_at_rest", json::array()}};
    for (const auto& sample : check.curve) {
        json one{{"value", sample.value}};
        // Without a neighbour there is no distance.
        if (sample.neighbour) {
            one["clearance_m"] = sample.clearance_m;
            one["neighbour"] = part_path(document, sample.neighbour);
        }
        out["curve"].push_back(one);
    }
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
        fmt::print("{}: free to {}, then '{}' meets '{}'\n", way,
                   turns ? format_angle(contact->value, 3) : format_length(contact->value),
                   document.parts.find(contact->moving)->name, document.parts.find(contact->neighbour)->name);
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
                       format_length(check->run_out_m), format_angle(check->tilt_rad, 3),
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
    const bool turns = document.parts.find(*id)->joint.has(ChannelKind::Turn);
    const auto bound = [&](const std::string& text) {
        return parse_quantity(text, turns ? Dimension::Angle : Dimension::Length,
                              document.settings.length_unit);
    };
    const auto from = bound(command.from), to = bound(command.to);
    if (!from || !to) return fail((from ? to : from).error(), command.as_json);
    SwingOptions options{.from = *from, .to = *to, .steps = command.steps};
    if (!turns) options.tolerance = 1e-5;
    const auto check = swing_check(document, *id, options);
    if (!check) return fail(check.error(), command.as_json);
    if (command.as_json) {
        fmt::print("{}\n", swing_json(document, *check).dump(2));
        return 0;
    }
    print_contact(document, "below", turns, check->below);
    print_contact(document, "above", turns, check->above);
    for (const PartId touching : check->touching)
        fmt::print("touches '{}' at rest already; left out\n", document.parts.find(touching)->name);
    return 0;
}

}  // namespace pivrak::cli
