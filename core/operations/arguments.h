#pragma once

#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <vector>

#include "core/model/document.h"

namespace pivrak {

enum class ArgumentKind {
    Part,
    Parts,
    Elements,
    Text,
    File,
    Number,
    Length,
    Angle,
    Value,
    Point,
    Vector,
    Place,
    Places,
    Faces,
    Inputs,
    Keys,
    Integer,
    Flag,
    Choice
};

/// One argument of an operation, as `ops` prints it and as every caller is checked against it.
struct ArgumentSpec {
    std::string name;
    ArgumentKind kind;
    std::string summary;
    bool required = false;
    nlohmann::json fallback;           ///< null: left out means "as it is" or "find it yourself"
    std::vector<std::string> choices;  ///< of a Choice
    std::string label = {};            ///< in a form; made of the name when empty
    std::string placeholder = {};      ///< what it means to leave it out, in a form's field
    std::string group = {};            ///< of arguments that belong together, in forms and lists
};

/// An argument with its words for a form.
ArgumentSpec worded(ArgumentSpec spec, std::string label, std::string placeholder = {},
                    std::string group = {});
/// `Pin height` of `pin_height`, when it has no label of its own.
std::string label_of(const ArgumentSpec& spec);

/// Name of a kind in the schema.
std::string_view kind_name(ArgumentKind kind);
nlohmann::json schema(const ArgumentSpec& spec);

/// Faces picked on one part.
struct PickedFaces {
    PartId part;
    std::vector<std::uint32_t> faces;  ///< rising
};

/// Arguments that passed their specification: parts are ids that exist, lengths and angles are metres and
/// radians. Parts are given as an id, a name, or a path of names, elements of the rig as an id or a name;
/// lengths and angles as a number (metres, radians) or a text with a unit (`"45 deg"`, `"3*25.4 mm"`); points
/// are three lengths, vectors three numbers; places are as for `place_from`, and become points; faces are
/// `[{"part": ..., "faces": "0-11 15"}]`. Inputs are what names stand for in a formula: `{"cord": {"part":
/// "Handle", "channel": "shift"}, "r": "40 mm", "t": "seconds", "gone": null}`. Keys are
/// `[{"of": "Handle", "channel": "shift", "frames": [0, 12]}]`, of parts or elements. A value is kept as
/// given, a number or a text, for channels that are lengths or angles.
class Arguments {
public:
    /// Errors: `argument.unknown`, `argument.missing`, `argument.type`, `part.*`, `quantity.*`.
    static Result<Arguments> read(const Document& document, const std::vector<ArgumentSpec>& specs,
                                  const nlohmann::json& given);

    bool has(const std::string& name) const { return !values_.at(name).is_null(); }
    PartId part(const std::string& name) const { return PartId{values_.at(name).get<std::uint64_t>()}; }
    std::vector<PartId> parts(const std::string& name) const;
    std::vector<OwnerId> elements(const std::string& name) const;
    double number(const std::string& name) const { return values_.at(name).get<double>(); }
    std::optional<double> number_if(const std::string& name) const {
        return has(name) ? std::optional(number(name)) : std::nullopt;
    }
    Vec3 point(const std::string& name) const;
    std::optional<Vec3> point_if(const std::string& name) const {
        return has(name) ? std::optional(point(name)) : std::nullopt;
    }
    std::vector<Vec3> points(const std::string& name) const;  ///< of Places
    std::vector<PickedFaces> faces(const std::string& name) const;
    /// A value in the unit of a dimension. Errors: `quantity.*`.
    Result<double> value(const std::string& name, Dimension dimension, LengthUnit bare) const;
    int integer(const std::string& name) const { return values_.at(name).get<int>(); }
    bool flag(const std::string& name) const { return values_.at(name).get<bool>(); }
    std::string text(const std::string& name) const { return values_.at(name).get<std::string>(); }

    /// The checked values, parts by id: what a history or a journal keeps.
    const nlohmann::json& values() const { return values_; }

private:
    nlohmann::json values_ = nlohmann::json::object();
};

/// Pre: an array of three numbers.
Vec3 triple(const nlohmann::json& numbers);

}  // namespace pivrak
