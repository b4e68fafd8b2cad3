#include "core/io/gltf/gltf_materials.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/io/gltf/gltf_values.h"

namespace pivrak {
namespace {

using nlohmann::json;

constexpr const char* transform_name = "KHR_texture_transform";

/// Ratified extensions of materials. What else a file has is made by its own program alone.
constexpr const char* carried_extensions[] = {
    "KHR_materials_anisotropy", "KHR_materials_clearcoat",    "KHR_materials_emissive_strength",
    "KHR_materials_ior",        "KHR_materials_iridescence",  "KHR_materials_sheen",
    "KHR_materials_specular",   "KHR_materials_transmission", "KHR_materials_unlit",
    "KHR_materials_volume"};

double in_range(double value, double least, double most, double otherwise) {
    return std::isfinite(value) ? std::clamp(value, least, most) : otherwise;
}

json parsed(const std::string& text) {
    json out = json::parse(text, nullptr, false);
    return out.is_object() ? out : json::object();
}

double number_at(const json& entry, const char* key, double otherwise) {
    const auto found = entry.find(key);
    return found != entry.end() && found->is_number() ? in_range(found->get<double>(), -1e9, 1e9, otherwise)
                                                      : otherwise;
}

/// A texture as one of the places for it says how it is used.
struct Said {
    int index = -1, coords = 0;
    double strength = 1;
    json transform = json::object();
};

class MaterialFromGltf {
public:
    MaterialFromGltf(const tinygltf::Model& model, const tinygltf::Material& source,
                     const std::function<ImageId(int)>& image, std::vector<std::string>& left_out)
        : model_(model), source_(source), image_(image), left_out_(left_out) {}

    Material read() {
        Material m;
        m.name = source_.name;
        const auto& pbr = source_.pbrMetallicRoughness;
        m.base_color = {1, 1, 1, 1};
        for (std::size_t k = 0; k < std::min<std::size_t>(pbr.baseColorFactor.size(), 4); ++k)
            m.base_color[k] = in_range(pbr.baseColorFactor[k], 0, 1, 1);
        m.metallic = in_range(pbr.metallicFactor, 0, 1, 1);
        m.roughness = in_range(pbr.roughnessFactor, 0, 1, 1);
        for (std::size_t k = 0; k < std::min<std::size_t>(source_.emissiveFactor.size(), 3); ++k)
            m.emissive[k] = in_range(source_.emissiveFactor[k], 0, 1, 0);
        m.alpha = source_.alphaMode == "MASK"    ? AlphaMode::Mask
                  : source_.alphaMode == "BLEND" ? AlphaMode::Blend
                                                 : AlphaMode::Opaque;
        m.alpha_cutoff = in_range(source_.alphaCutoff, 0, 1e9, 0.5);
        m.double_sided = source_.doubleSided;
        m.base_color_picture = picture(said(pbr.baseColorTexture));
        m.metal_rough_picture = picture(said(pbr.metallicRoughnessTexture));
        m.normal_picture = picture(said(source_.normalTexture, source_.normalTexture.scale));
        m.occlusion_picture = picture(said(source_.occlusionTexture, source_.occlusionTexture.strength));
        m.emissive_picture = picture(said(source_.emissiveTexture));
        const json extensions = parsed(source_.extensions_json_string);
        for (const auto& [name, given] : extensions.items()) read_extension(name, given, m);
        return m;
    }

private:
    template <class Info>
    static Said said(const Info& info, double strength = 1) {
        const json extensions = parsed(info.extensions_json_string);
        return {info.index, info.texCoord, strength, extensions.value(transform_name, json::object())};
    }
    static Said said(const json& info) {
        Said out;
        out.index = static_cast<int>(number_at(info, "index", -1));
        out.coords = static_cast<int>(number_at(info, "texCoord", 0));
        out.strength = number_at(info, "scale", number_at(info, "strength", 1));
        if (info.contains("extensions") && info["extensions"].is_object())
            out.transform = info["extensions"].value(transform_name, json::object());
        return out;
    }

    PictureUse picture(const Said& said) {
        PictureUse use;
        if (said.index < 0 || static_cast<std::size_t>(said.index) >= model_.textures.size()) return use;
        const tinygltf::Texture& texture = model_.textures[static_cast<std::size_t>(said.index)];
        const double coords =
            said.transform.is_object() ? number_at(said.transform, "texCoord", said.coords) : said.coords;
        if (coords != 0 && coords != 1) {
            left_out_.push_back(fmt::format(
                "a picture of material '{}' lies by more than the second texture coordinates; left out",
                source_.name));
            return use;
        }
        use.image = image_(texture.source);
        if (!use) return use;
        use.coords = static_cast<int>(coords);
        use.strength = in_range(said.strength, -1e9, 1e9, 1);
        if (texture.sampler >= 0 && static_cast<std::size_t>(texture.sampler) < model_.samplers.size()) {
            const tinygltf::Sampler& sampler = model_.samplers[static_cast<std::size_t>(texture.sampler)];
            const auto wrap = [](int way) {
                return way == PictureUse::clamp || way == PictureUse::mirror ? way : PictureUse::repeat;
            };
            use.wrap_s = wrap(sampler.wrapS);
            use.wrap_t = wrap(sampler.wrapT);
            use.magnify = std::max(sampler.magFilter, 0);
            use.minify = std::max(sampler.minFilter, 0);
        }
        if (said.transform.is_object()) {
            use.turn_rad = number_at(said.transform, "rotation", 0);
            const auto pair = [&](const char* key, std::array<double, 2>& to) {
                const auto found = said.transform.find(key);
                if (found == said.transform.end() || !found->is_array() || found->size() != 2) return;
                for (std::size_t k = 0; k < 2; ++k)
                    if ((*found)[k].is_number())
                        to[k] = in_range((*found)[k].get<double>(), -1e9, 1e9, to[k]);
            };
            pair("offset", use.offset);
            pair("scale", use.scale);
        }
        return use;
    }

    void read_extension(const std::string& name, const json& given, Material& m) {
        if (std::ranges::find(carried_extensions, name) == std::end(carried_extensions) ||
            !given.is_object()) {
            left_out_.push_back(fmt::format("'{}' of material '{}' is left out: it is none of the standard's",
                                            name, source_.name));
            return;
        }
        SurfaceExtension& extension = m.extensions[name];
        for (const auto& [field, value] : given.items()) {
            if (!value.is_object()) {
                extension.numbers[field] = value;
            } else if (value.contains("index")) {
                if (const PictureUse use = picture(said(value))) extension.pictures[field] = use;
            }
        }
    }

    const tinygltf::Model& model_;
    const tinygltf::Material& source_;
    const std::function<ImageId(int)>& image_;
    std::vector<std::string>& left_out_;
};

bool lies_otherwise(const PictureUse& use) {
    const PictureUse plain;
    return use.offset != plain.offset || use.scale != plain.scale || use.turn_rad != 0;
}

json transform_of(const PictureUse& use) {
    const PictureUse plain;
    json out = json::object();
    if (use.offset != plain.offset) out["offset"] = use.offset;
    if (use.scale != plain.scale) out["scale"] = use.scale;
    if (use.turn_rad != 0) out["rotation"] = use.turn_rad;
    return out;
}

}  // namespace

Material material_from_gltf(const tinygltf::Model& model, const tinygltf::Material& source,
                            const std::function<ImageId(int)>& image, std::vector<std::string>& left_out) {
    return MaterialFromGltf(model, source, image, left_out).read();
}

tinygltf::Material gltf_from_material(const Material& material,
                                      const std::function<int(const PictureUse&)>& texture,
                                      std::set<std::string>& extensions) {
    const auto use = [&](const PictureUse& picture, auto& info) {
        info.index = texture(picture);
        if (info.index >= 0) info.texCoord = picture.coords;
        if (info.index < 0 || !lies_otherwise(picture)) return;
        info.extensions[transform_name] = to_value(transform_of(picture));
        extensions.insert(transform_name);
    };
    tinygltf::Material out;
    out.name = material.name;
    out.doubleSided = material.double_sided;
    auto& pbr = out.pbrMetallicRoughness;
    pbr.baseColorFactor.assign(material.base_color.begin(), material.base_color.end());
    pbr.metallicFactor = material.metallic;
    pbr.roughnessFactor = material.roughness;
    out.emissiveFactor.assign(material.emissive.begin(), material.emissive.end());
    if (material.alpha == AlphaMode::Mask) {
        out.alphaMode = "MASK";
        out.alphaCutoff = material.alpha_cutoff;
    } else if (material.alpha == AlphaMode::Blend) {
        out.alphaMode = "BLEND";
    }
    use(material.base_color_picture, pbr.baseColorTexture);
    use(material.metal_rough_picture, pbr.metallicRoughnessTexture);
    use(material.normal_picture, out.normalTexture);
    use(material.occlusion_picture, out.occlusionTexture);
    use(material.emissive_picture, out.emissiveTexture);
    out.normalTexture.scale = material.normal_picture.strength;
    out.occlusionTexture.strength = material.occlusion_picture.strength;
    for (const auto& [name, extension] : material.extensions) {
        json fields = extension.numbers;
        for (const auto& [field, picture] : extension.pictures) {
            const int index = texture(picture);
            if (index < 0) continue;
            fields[field] = {{"index", index}};
            if (picture.coords != 0) fields[field]["texCoord"] = picture.coords;
            if (picture.strength != 1) fields[field]["scale"] = picture.strength;
            if (!lies_otherwise(picture)) continue;
            fields[field]["extensions"][transform_name] = transform_of(picture);
            extensions.insert(transform_name);
        }
        out.extensions[name] = to_value(fields);
        extensions.insert(name);
    }
    return out;
}

}  // namespace pivrak
