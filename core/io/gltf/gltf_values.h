#pragma once

#include <tiny_gltf.h>

#include <nlohmann/json.hpp>

namespace pivrak {

/// tinygltf keeps extras and extensions in a type of its own; whole numbers beyond its range become doubles,
/// exactly.
tinygltf::Value to_value(const nlohmann::json& json);

}  // namespace pivrak
