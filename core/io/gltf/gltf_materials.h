#pragma once

#include <tiny_gltf.h>

#include <functional>
#include <set>
#include <string>
#include <vector>

#include "core/model/material.h"

namespace pivrak {

/// A material as a glTF file has it: its core fields, and those of its extensions that are ratified and can
/// be carried. `image` answers which picture of ours one of the file's is; `left_out` gets a line for what
/// cannot be carried. Numbers out of their range take its ends; those that are not finite what the standard
/// has for none.
/// Source: glTF 2.0, sections 3.9 and 5.19 to 5.22; the Khronos registry of ratified extensions.
Material material_from_gltf(const tinygltf::Model& model, const tinygltf::Material& source,
                            const std::function<ImageId(int)>& image, std::vector<std::string>& left_out);

/// And back. `texture` answers the number of a texture for a picture with its sampler, -1 for none; names of
/// the extensions that it takes are added.
tinygltf::Material gltf_from_material(const Material& material,
                                      const std::function<int(const PictureUse&)>& texture,
                                      std::set<std::string>& extensions);

}  // namespace pivrak
