#pragma once

#include <nlohmann/json_fwd.hpp>

#include "core/model/coupling.h"

namespace pivrak {

/// A coupling in a project file: its fields, with its kind's word under `kind`. Reading throws
/// `fields::Damage` or an exception of the JSON library.
nlohmann::json coupling_to_json(const Coupling& coupling);
Coupling coupling_from_json(const nlohmann::json& entry);

}  // namespace pivrak
