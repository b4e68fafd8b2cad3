#pragma once

#include <nlohmann/json.hpp>
#include <optional>
#include <string_view>

#include "core/model/document.h"

namespace pivrak {

std::string_view word(PathForm form);
std::string_view word(Upright upright);
std::string_view word(PairKind kind);
std::optional<PathForm> path_form_from(std::string_view text);
std::optional<Upright> upright_from(std::string_view text);
std::optional<PairKind> pair_kind_from(std::string_view text);

/// The rig's entries in a project file. Reading throws `fields::Damage` or an exception of the JSON library,
/// both of which `project_from_json` answers as errors.
nlohmann::json coupling_to_json(const Coupling& coupling);
nlohmann::json path_to_json(const Path& path);
nlohmann::json ride_to_json(const Ride& ride);
nlohmann::json tow_to_json(const Tow& tow);
nlohmann::json vehicle_to_json(const Vehicle& vehicle);
nlohmann::json print_to_json(const Print& print);
nlohmann::json chain_to_json(const Chain& chain);
Coupling coupling_from_json(const nlohmann::json& entry);
Path path_from_json(const nlohmann::json& entry);
Ride ride_from_json(const nlohmann::json& entry);
Tow tow_from_json(const nlohmann::json& entry);
Vehicle vehicle_from_json(const nlohmann::json& entry);
Print print_from_json(const nlohmann::json& entry);
Chain chain_from_json(const nlohmann::json& entry);

}  // namespace pivrak
