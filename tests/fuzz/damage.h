#pragma once

#include <nlohmann/json.hpp>
#include <random>
#include <string>

namespace pivrak::fuzz {

/// Changes one place of a JSON tree, as damage or malice would: another number, another kind of value, an
/// entry that is gone or there twice, two values that changed places.
void damage(nlohmann::json& root, std::minstd_rand& random);

/// The JSON text of a binary glTF file and what follows it; both empty where the bytes are none.
struct Glb {
    std::string text, rest;
};
Glb split_glb(const std::string& bytes);
std::string join_glb(const Glb& glb);

}  // namespace pivrak::fuzz
