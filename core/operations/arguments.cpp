#include "core/operations/arguments.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <unordered_set>

#include "core/model/element_channels.h"
#include "core/operations/places.h"
#include "core/operations/split/face_ranges.h"

namespace pivrak {

using nlohmann::json;

std::string_view kind_name(ArgumentKind kind) {
    switch (kind) {
        case ArgumentKind::Part:
            return "part";
        case ArgumentKind::Parts:
            return "parts";
        case ArgumentKind::Elements:
            return "elements";
        case ArgumentKind::Text:
            return "text";
        case ArgumentKind::File:
            return "file";
        case ArgumentKind::Number:
            return "number";
        case ArgumentKind::Length:
            return "length";
        case ArgumentKind::Angle:
            return "angle";
        case ArgumentKind::Value:
            return "value";
        case ArgumentKind::Point:
            return "point";
        case ArgumentKind::Vector:
            return "vector";
        case ArgumentKind::Place:
            return "place";
        case ArgumentKind::Places:
            return "places";
        case ArgumentKind::Faces:
            return "faces";
        case ArgumentKind::Inputs:
            return "inputs";
        case ArgumentKind::Keys:
            return "keys";
        case ArgumentKind::Integer:
            return "integer";
        case ArgumentKind::Flag:
            return "flag";
        case ArgumentKind::Choice:
            return "choice";
    }
    return "";
}

ArgumentSpec worded(ArgumentSpec spec, std::string label, std::string placeholder, std::string group) {
    spec.label = std::move(label);
    spec.placeholder = std::move(placeholder);
    spec.group = std::move(group);
    return spec;
}

std::string label_of(const ArgumentSpec& spec) {
    if (!spec.label.empty()) return spec.label;
    std::string label = spec.name;
    std::replace(label.begin(), label.end(), '_', ' ');
    if (!label.empty() && label.front() >= 'a' && label.front() <= 'z') label.front() -= 'a' - 'A';
    return label;
}

json schema(const ArgumentSpec& spec) {
    json out{{"name", spec.name},
             {"type", kind_name(spec.kind)},
             {"required", spec.required},
             {"summary", spec.summary}};
    if (!spec.fallback.is_null()) out["default"] = spec.fallback;
    if (!spec.choices.empty()) out["choices"] = spec.choices;
    out["label"] = label_of(spec);
    if (!spec.placeholder.empty()) out["placeholder"] = spec.placeholder;
    if (!spec.group.empty()) out["group"] = spec.group;
    using enum ArgumentKind;
    if (spec.kind == Length || spec.kind == Point || spec.kind == Place || spec.kind == Places)
        out["unit"] = "m";
    if (spec.kind == ArgumentKind::Angle) out["unit"] = "rad";
    return out;
}

namespace {

Error wrong_type(const ArgumentSpec& spec, const json& given, const std::string& wanted) {
    return {"argument.type", fmt::format("'{}' should be {}, not {}", spec.name, wanted, given.dump()),
            spec.name};
}

Result<json> read_part(const Document& document, const ArgumentSpec& spec, const json& given) {
    if (given.is_number_integer() && given.get<std::int64_t>() >= 0) {
        const PartId id{given.get<std::uint64_t>()};
        if (!document.parts.contains(id))
            return Error{"part.unknown", fmt::format("there is no part with the id {}", id.value), spec.name};
        return given;
    }
    if (!given.is_string()) return wrong_type(spec, given, "a part's name, path or id");
    PIVRAK_TRY(id, find_part(document, given.get<std::string>()));
    return json(id.value);
}

Result<json> read_parts(const Document& document, const ArgumentSpec& spec, const json& given) {
    json ids = json::array();
    if (!given.is_array()) {
        PIVRAK_TRY(id, read_part(document, spec, given));
        ids.push_back(id);
        return ids;
    }
    std::unordered_set<std::uint64_t> known;
    for (const json& one : given) {
        PIVRAK_TRY(id, read_part(document, spec, one));
        if (known.insert(id.get<std::uint64_t>()).second) ids.push_back(id);
    }
    if (ids.empty())
        return Error{"argument.missing", fmt::format("'{}' names no part", spec.name), spec.name};
    return ids;
}

Result<json> read_elements(const Document& document, const ArgumentSpec& spec, const json& given) {
    json ids = json::array();
    for (const json& one : given.is_array() ? given : json::array({given})) {
        if (one.is_number_integer() && one.get<std::int64_t>() >= 0) {
            const OwnerId id{CouplingId{one.get<std::uint64_t>()}};
            if (document.parts.contains(PartId{id.value}) || !has_owner(document, id))
                return Error{"element.unknown",
                             fmt::format("there is no element of the rig with the id {}", id.value),
                             spec.name};
            ids.push_back(id.value);
            continue;
        }
        if (!one.is_string()) return wrong_type(spec, one, "an element's name or id");
        PIVRAK_TRY(id, find_element(document, one.get<std::string>()));
        ids.push_back(id.value);
    }
    if (ids.empty())
        return Error{"argument.missing", fmt::format("'{}' names no element", spec.name), spec.name};
    return ids;
}

Result<json> read_quantity(const Document& document, const ArgumentSpec& spec, const json& given) {
    if (!given.is_number() && !given.is_string())
        return wrong_type(spec, given, "a number, or a text with a unit");
    const Dimension dimension = spec.kind == ArgumentKind::Length  ? Dimension::Length
                                : spec.kind == ArgumentKind::Angle ? Dimension::Angle
                                                                   : Dimension::None;
    if (given.is_number()) {
        if (!std::isfinite(given.get<double>())) return wrong_type(spec, given, "a finite number");
        PIVRAK_CHECK(check_quantity(given.get<double>(), dimension));
        return json(given.get<double>());
    }
    PIVRAK_TRY(value, parse_quantity(given.get<std::string>(), dimension, document.settings.length_unit));
    return json(value);
}

Result<json> read_triple(const Document& document, const ArgumentSpec& spec, const json& given) {
    if (!given.is_array() || given.size() != 3) return wrong_type(spec, given, "three numbers");
    ArgumentSpec one = spec;
    one.kind = spec.kind == ArgumentKind::Point ? ArgumentKind::Length : ArgumentKind::Number;
    json out = json::array();
    for (const json& component : given) {
        PIVRAK_TRY(value, read_quantity(document, one, component));
        out.push_back(value);
    }
    return out;
}

Result<json> read_faces(const Document& document, const ArgumentSpec& spec, const json& given) {
    if (!given.is_array()) return wrong_type(spec, given, "a list of parts with their faces");
    json out = json::array();
    for (const json& one : given) {
        if (!one.is_object() || !one.contains("part") || !one.contains("faces") || !one["faces"].is_string())
            return wrong_type(spec, one, "an object with 'part' and 'faces', the faces written as '0-11 15'");
        PIVRAK_TRY(part, read_part(document, spec, one["part"]));
        const Part& found = *document.parts.find(PartId{part.get<std::uint64_t>()});
        const Shape* shape = document.shapes.find(found.shape);
        PIVRAK_TRY(faces, faces_from_ranges(one["faces"].get<std::string>(),
                                            shape ? shape->mesh->triangle_count() : 0));
        if (!faces.empty()) out.push_back({{"part", part}, {"faces", face_ranges(faces)}});
    }
    if (out.empty())
        return Error{"argument.missing", fmt::format("'{}' names no face", spec.name), spec.name};
    return out;
}

Result<json> read_choice(const ArgumentSpec& spec, const json& given) {
    if (given.is_string() &&
        std::find(spec.choices.begin(), spec.choices.end(), given.get<std::string>()) != spec.choices.end())
        return given;
    return wrong_type(spec, given, fmt::format("one of {}", fmt::join(spec.choices, ", ")));
}

Result<json> read_place(const Document& document, const json& given) {
    PIVRAK_TRY(place, place_from(document, given));
    return json{place.x(), place.y(), place.z()};
}

/// Parts and elements become owners by id; numbers, words and what is taken out stay as they are.
Result<json> read_inputs(const Document& document, const ArgumentSpec& spec, const json& given) {
    if (!given.is_object()) return wrong_type(spec, given, "an object that says what each name stands for");
    json out = json::object();
    for (const auto& [name, input] : given.items()) {
        if (input.is_null() || input.is_number() || input.is_string()) {
            out[name] = input;
            continue;
        }
        if (!input.is_object() || input.contains("part") == input.contains("element"))
            return wrong_type(
                spec, input,
                fmt::format("what '{}' stands for: a part or an element with its channel, a number, "
                            "or one of frame, seconds, progress, number",
                            name));
        json read = {{"channel", input.value("channel", json())}};
        if (input.contains("part")) {
            PIVRAK_TRY(part, read_part(document, spec, input.at("part")));
            read["part"] = part;
        } else {
            PIVRAK_TRY(elements, read_elements(document, spec, input.at("element")));
            read["element"] = elements.at(0);
        }
        out[name] = std::move(read);
    }
    return out;
}

/// Owners become ids.
Result<json> read_keys(const Document& document, const ArgumentSpec& spec, const json& given) {
    if (!given.is_array()) return wrong_type(spec, given, "a list of channels with their frames");
    json out = json::array();
    for (const json& one : given) {
        const bool whole = one.is_object() && one.contains("of") && one.contains("channel") &&
                           one["channel"].is_string() && one.contains("frames") && one["frames"].is_array();
        if (!whole) return wrong_type(spec, one, "a channel of somebody's with its frames");
        for (const json& frame : one["frames"])
            if (!frame.is_number() || !std::isfinite(frame.get<double>()))
                return wrong_type(spec, frame, "a frame");
        json owner;
        if (auto part = read_part(document, spec, one["of"])) {
            owner = *part;
        } else {
            PIVRAK_TRY(elements, read_elements(document, spec, one["of"]));
            owner = elements.at(0);
        }
        out.push_back({{"of", owner}, {"channel", one["channel"]}, {"frames", one["frames"]}});
    }
    return out;
}

Result<json> read_one(const Document& document, const ArgumentSpec& spec, const json& given) {
    switch (spec.kind) {
        case ArgumentKind::Part:
            return read_part(document, spec, given);
        case ArgumentKind::Parts:
            return read_parts(document, spec, given);
        case ArgumentKind::Elements:
            return read_elements(document, spec, given);
        case ArgumentKind::Number:
        case ArgumentKind::Length:
        case ArgumentKind::Angle:
            return read_quantity(document, spec, given);
        case ArgumentKind::Value:
            if (given.is_string() || (given.is_number() && std::isfinite(given.get<double>()))) return given;
            return wrong_type(spec, given, "a number, or a text with a unit");
        case ArgumentKind::Point:
        case ArgumentKind::Vector:
            return read_triple(document, spec, given);
        case ArgumentKind::Place:
            return read_place(document, given);
        case ArgumentKind::Places: {
            if (!given.is_array()) return wrong_type(spec, given, "a list of places");
            json out = json::array();
            for (const json& one : given) {
                PIVRAK_TRY(place, read_place(document, one));
                out.push_back(place);
            }
            return out;
        }
        case ArgumentKind::Faces:
            return read_faces(document, spec, given);
        case ArgumentKind::Inputs:
            return read_inputs(document, spec, given);
        case ArgumentKind::Keys:
            return read_keys(document, spec, given);
        case ArgumentKind::Choice:
            return read_choice(spec, given);
        case ArgumentKind::Integer:
            if (!given.is_number_integer() || given.get<std::int64_t>() < -1000000 ||
                given.get<std::int64_t>() > 1000000)
                return wrong_type(spec, given, "a whole number");
            return given;
        case ArgumentKind::Flag:
            if (!given.is_boolean()) return wrong_type(spec, given, "true or false");
            return given;
        case ArgumentKind::Text:
        case ArgumentKind::File:
            if (!given.is_string()) return wrong_type(spec, given, "a text");
            return given;
    }
    return wrong_type(spec, given, "something else");
}

}  // namespace

Result<Arguments> Arguments::read(const Document& document, const std::vector<ArgumentSpec>& specs,
                                  const json& given) {
    for (const auto& entry : given.items()) {
        const std::string& key = entry.key();
        const bool known = key == "op" || std::any_of(specs.begin(), specs.end(),
                                                      [&](const ArgumentSpec& s) { return s.name == key; });
        if (!known) return Error{"argument.unknown", fmt::format("there is no argument '{}' here", key), key};
    }
    Arguments out;
    for (const ArgumentSpec& spec : specs) {
        if (!given.contains(spec.name) || given[spec.name].is_null()) {
            if (spec.required)
                return Error{"argument.missing", fmt::format("'{}' is needed: {}", spec.name, spec.summary),
                             spec.name};
            out.values_[spec.name] = nullptr;
            if (spec.fallback.is_null()) continue;
            PIVRAK_TRY(fallback, read_one(document, spec, spec.fallback));
            out.values_[spec.name] = fallback;
            continue;
        }
        PIVRAK_TRY(value, read_one(document, spec, given[spec.name]));
        out.values_[spec.name] = value;
    }
    return out;
}

std::vector<OwnerId> Arguments::elements(const std::string& name) const {
    std::vector<OwnerId> out;
    for (const json& id : values_.at(name)) out.push_back(CouplingId{id.get<std::uint64_t>()});
    return out;
}

Vec3 triple(const json& numbers) {
    return {numbers.at(0).get<double>(), numbers.at(1).get<double>(), numbers.at(2).get<double>()};
}

Vec3 Arguments::point(const std::string& name) const {
    return triple(values_.at(name));
}

std::vector<Vec3> Arguments::points(const std::string& name) const {
    std::vector<Vec3> out;
    for (const json& one : values_.at(name)) out.push_back(triple(one));
    return out;
}

std::vector<PickedFaces> Arguments::faces(const std::string& name) const {
    std::vector<PickedFaces> picked;
    for (const json& one : values_.at(name)) {
        const auto faces = faces_from_ranges(one.at("faces").get<std::string>(), ~std::size_t{0});
        picked.push_back({PartId{one.at("part").get<std::uint64_t>()}, *faces});
    }
    return picked;
}

Result<double> Arguments::value(const std::string& name, Dimension dimension, LengthUnit bare) const {
    const json& v = values_.at(name);
    if (!v.is_number()) return parse_quantity(v.get<std::string>(), dimension, bare);
    PIVRAK_CHECK(check_quantity(v.get<double>(), dimension));
    return v.get<double>();
}

std::vector<PartId> Arguments::parts(const std::string& name) const {
    std::vector<PartId> ids;
    for (const json& id : values_.at(name)) ids.push_back(PartId{id.get<std::uint64_t>()});
    return ids;
}

}  // namespace pivrak
