#pragma once

#include <map>
#include <string>
#include <string_view>

#include "core/model/field.h"
#include "core/operations/arguments.h"

namespace pivrak {

// The arguments by which an operation sets an element follow from the element's fields: their kinds, choices
// and usual values. An argument is called like its field, without the unit: `radius` for `radius_m`.

/// `radius` of `radius_m`, `start` of `start_rad`.
inline std::string argument_name(std::string_view field) {
    for (const std::string_view unit : {"_m", "_rad"})
        if (field.ends_with(unit)) return std::string(field.substr(0, field.size() - unit.size()));
    return std::string(field);
}

/// Makes the specifications of those fields for which there are words.
class SpecifyFields : public NoFields {
public:
    explicit SpecifyFields(const std::map<std::string, std::string>& words) : words_(words) {}
    std::vector<ArgumentSpec> specs;

    void number(const char* name, const double&, NumberField field = {}) {
        const bool length = field.dimension == Dimension::Length, angle = field.dimension == Dimension::Angle;
        // A measure that is usually nothing is measured, or none; a plain number is what it usually is.
        nlohmann::json fallback;
        if (field.usual && !length && !angle) fallback = *field.usual;
        add(name,
            length  ? ArgumentKind::Length
            : angle ? ArgumentKind::Angle
                    : ArgumentKind::Number,
            std::move(fallback));
    }
    void part(const char* name, const PartId&, Role) { add(name, ArgumentKind::Part, {}); }
    void part_if(const char* name, const PartId&, Role) { add(name, ArgumentKind::Part, {}); }
    void parts(const char* name, const std::vector<PartId>&, Role) { add(name, ArgumentKind::Parts, {}); }
    void flag(const char* name, const bool&) { add(name, ArgumentKind::Flag, false); }
    template <class T, std::size_t n>
    void choice(const char* name, const T&, const ChoiceWords<n>& words,
                std::type_identity_t<std::optional<T>> usual = std::nullopt) {
        add(name, ArgumentKind::Choice, usual ? nlohmann::json(word_of(words, *usual)) : nlohmann::json());
        if (!specs.empty() && specs.back().name == argument_name(name))
            specs.back().choices.assign(words.begin(), words.end());
    }
    template <class Count>
    void count(const char* name, const Count&, std::type_identity_t<std::optional<Count>> usual = {}) {
        add(name, ArgumentKind::Integer, usual ? nlohmann::json(*usual) : nlohmann::json());
    }

private:
    void add(const char* field, ArgumentKind kind, nlohmann::json fallback) {
        const auto words = words_.find(argument_name(field));
        if (words == words_.end()) return;
        specs.push_back({words->first, kind, words->second, false, std::move(fallback), {}});
    }
    const std::map<std::string, std::string>& words_;
};

/// Sets the fields whose arguments were given.
class TakeArguments : public NoFields {
public:
    explicit TakeArguments(const Arguments& arguments) : a_(arguments) {}

    void number(const char* name, double& value, NumberField = {}) {
        if (const auto given = asked(name)) value = a_.number(*given);
    }
    void part(const char* name, PartId& part, Role) {
        if (const auto given = asked(name)) part = a_.part(*given);
    }
    void part_if(const char* name, PartId& part, Role role) { this->part(name, part, role); }
    void parts(const char* name, std::vector<PartId>& parts, Role) {
        if (const auto given = asked(name)) parts = a_.parts(*given);
    }
    void flag(const char* name, bool& value) {
        if (const auto given = asked(name)) value = a_.flag(*given);
    }
    template <class T, std::size_t n>
    void choice(const char* name, T& value, const ChoiceWords<n>& words,
                std::type_identity_t<std::optional<T>> = {}) {
        if (const auto given = asked(name)) value = *value_of<T>(words, a_.text(*given));
    }
    template <class Count>
    void count(const char* name, Count& value, std::type_identity_t<std::optional<Count>> = {}) {
        if (const auto given = asked(name)) value = static_cast<Count>(a_.integer(*given));
    }

private:
    std::optional<std::string> asked(const char* field) const {
        const std::string name = argument_name(field);
        if (!a_.values().contains(name) || !a_.has(name)) return std::nullopt;
        return name;
    }
    const Arguments& a_;
};

/// The arguments of an element's operations: a line of words for each field that can be set.
template <class Element>
std::vector<ArgumentSpec> arguments_of(const std::map<std::string, std::string>& words) {
    SpecifyFields specify(words);
    const Element element{};
    Element::fields(element, specify);
    return std::move(specify.specs);
}

template <class Element>
void take_arguments(const Arguments& arguments, Element& element) {
    TakeArguments take(arguments);
    Element::fields(element, take);
}

}  // namespace pivrak
