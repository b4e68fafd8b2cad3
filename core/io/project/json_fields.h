#pragma once

#include <cmath>
#include <cstdint>
#include <nlohmann/json.hpp>
#include <set>
#include <string>
#include <utility>

#include "core/base/id.h"
#include "core/geometry/types.h"

namespace pivrak::fields {

/// What is wrong in a project file: thrown while its JSON is read, and turned into an Error at the border of
/// `project_from_json`.
struct Damage {
    std::string what;
};

inline double finite(const nlohmann::json& number) {
    const double value = number.get<double>();
    if (!std::isfinite(value)) throw Damage{"a number is not finite"};
    return value;
}

/// A whole number that its type can hold. Large ones come as doubles, exactly.
template <class T>
T whole(const nlohmann::json& number) {
    const double value = number.is_number() ? number.get<double>() : 0.5;
    // No number of a project is larger; those below are exact.
    constexpr double most = 9007199254740992.0;
    if (std::floor(value) != value || std::abs(value) > most ||
        !std::in_range<T>(static_cast<std::int64_t>(value)))
        throw Damage{number.dump(-1, ' ', false, nlohmann::json::error_handler_t::replace).substr(0, 40) +
                     " is no whole number in range"};
    return static_cast<T>(value);
}

template <class T>
T whole_at(const nlohmann::json& entry, const char* key, T otherwise) {
    return entry.contains(key) ? whole<T>(entry.at(key)) : otherwise;
}

/// What must be named: 0 names nothing.
template <class AnyId>
AnyId id_of(const nlohmann::json& entry, const char* key = "id") {
    const AnyId id{whole<std::uint64_t>(entry.at(key))};
    if (!id) throw Damage{std::string("'") + key + "' is 0, which names nothing"};
    return id;
}

/// None where the field is missing, or 0.
template <class AnyId>
AnyId id_if(const nlohmann::json& entry, const char* key) {
    return entry.contains(key) ? AnyId{whole<std::uint64_t>(entry.at(key))} : AnyId{};
}

/// `take(entry)` for each entry of a list; what is wrong with one is told with its place in the list.
template <class Take>
void each_entry(const nlohmann::json& list, const char* name, Take take) {
    if (list.is_null()) return;  // as an empty list is written
    if (!list.is_array()) throw Damage{std::string("'") + name + "' is no list"};
    std::size_t number = 0;
    for (const nlohmann::json& entry : list) {
        const auto at = [&] { return std::string(name) + "[" + std::to_string(number) + "]: "; };
        try {
            take(entry);
        } catch (const Damage& damage) {
            throw Damage{at() + damage.what};
        } catch (const nlohmann::json::exception& problem) {
            throw Damage{at() + problem.what()};
        }
        ++number;
    }
}

inline nlohmann::json vec_to_json(const Vec3& v) {
    return {v.x(), v.y(), v.z()};
}

inline Vec3 vec_from_json(const nlohmann::json& list) {
    return {finite(list.at(0)), finite(list.at(1)), finite(list.at(2))};
}

/// As it comes back from a file: glTF's writer has no nulls, and lists and objects without entries become
/// such.
inline nlohmann::json without_nothing(const nlohmann::json& value) {
    if (!value.is_structured()) return value;
    nlohmann::json out = value.is_array() ? nlohmann::json::array() : nlohmann::json::object();
    for (const auto& [key, below] : value.items()) {
        nlohmann::json kept = without_nothing(below);
        if (kept.is_null() || (kept.is_structured() && kept.empty())) continue;
        if (value.is_array())
            out.push_back(std::move(kept));
        else
            out[key] = std::move(kept);
    }
    return out;
}

/// Entries with the fields a newer version put there.
inline nlohmann::json with_unknown(nlohmann::json known, const nlohmann::json& unknown) {
    for (const auto& [key, value] : unknown.items())
        if (!known.contains(key)) known[key] = value;
    return known;
}

inline nlohmann::json unknown_fields(const nlohmann::json& found, const std::set<std::string>& known) {
    nlohmann::json rest = nlohmann::json::object();
    for (const auto& [key, value] : found.items())
        if (!known.contains(key)) rest[key] = value;
    return without_nothing(rest);
}

}  // namespace pivrak::fields
