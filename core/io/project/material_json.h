#pragma once

#include <nlohmann/json.hpp>

#include "core/model/material.h"

namespace pivrak {

nlohmann::json material_to_json(const Material& material);

/// Errors: throws `fields::Damage`, as all that reads a project's JSON.
Material material_from_json(const nlohmann::json& entry);

}  // namespace pivrak
