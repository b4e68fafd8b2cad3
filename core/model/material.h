#pragma once

#include <array>
#include <cstdint>
#include <map>
#include <memory>
#include <nlohmann/json.hpp>
#include <string>
#include <vector>

#include "core/base/id.h"

namespace pivrak {

/// A picture as found in the source file, not decoded. Empty bytes: the file it names was not found.
struct Image {
    ImageId id;
    std::string name;
    std::string mime_type;
    std::shared_ptr<const std::vector<unsigned char>> bytes;

    bool missing() const { return !bytes || bytes->empty(); }
    bool operator==(const Image& other) const {
        return id == other.id && name == other.name && mime_type == other.mime_type &&
               (bytes == other.bytes || (bytes && other.bytes && *bytes == *other.bytes));
    }
};

/// How a picture lies on a surface.
/// Source: glTF 2.0, sections 3.8.3 and 3.8.4 (samplers), and its extension KHR_texture_transform.
struct PictureUse {
    static constexpr int repeat = 10497, clamp = 33071, mirror = 33648;

    ImageId image;
    int wrap_s = repeat, wrap_t = repeat;
    int coords = 0;               ///< by the first or the second set of a mesh's texture coordinates: 0 or 1
    int magnify = 0, minify = 0;  ///< filters by glTF's numbers; 0 where none is asked for
    std::array<double, 2> offset{0, 0}, scale{1, 1};
    double turn_rad = 0;
    double strength = 1;  ///< of a normal picture and of an occlusion picture

    explicit operator bool() const { return static_cast<bool>(image); }
    bool operator==(const PictureUse&) const = default;
};

/// What else a surface is, by one of glTF's ratified extensions.
struct SurfaceExtension {
    nlohmann::json numbers = nlohmann::json::object();  ///< its fields, without pictures
    std::map<std::string, PictureUse> pictures;         ///< by the names of its fields
    bool operator==(const SurfaceExtension&) const = default;
};

enum class AlphaMode : std::uint8_t { Opaque, Mask, Blend };

/// Surface as glTF 2.0 describes it (metallic-roughness).
struct Material {
    MaterialId id;
    std::string name;
    std::array<double, 4> base_color{0.8, 0.8, 0.8, 1.0};  ///< linear red, green, blue, and opacity
    double metallic = 0;
    double roughness = 0.6;
    std::array<double, 3> emissive{0, 0, 0};
    AlphaMode alpha = AlphaMode::Opaque;
    double alpha_cutoff = 0.5;  ///< what is less opaque is not there, where the mode is mask
    bool double_sided = false;
    PictureUse base_color_picture, metal_rough_picture, normal_picture, occlusion_picture, emissive_picture;
    std::map<std::string, SurfaceExtension> extensions;  ///< by their names

    bool operator==(const Material&) const = default;
};

/// `f(name, picture)` for each picture that a material can have, also for those it does not; names as the
/// project file has them.
template <class AnyMaterial, class F>
void each_picture(AnyMaterial& material, F f) {
    f("base_color", material.base_color_picture);
    f("metal_rough", material.metal_rough_picture);
    f("normal", material.normal_picture);
    f("occlusion", material.occlusion_picture);
    f("emissive", material.emissive_picture);
    for (auto& [extension, surface] : material.extensions)
        for (auto& [name, picture] : surface.pictures) f(name, picture);
}

}  // namespace pivrak
