#include "core/io/project/material_json.h"

#include "core/io/project/json_fields.h"

namespace pivrak {

using namespace fields;
using nlohmann::json;

namespace {

constexpr std::pair<AlphaMode, const char*> alpha_words[] = {
    {AlphaMode::Opaque, "opaque"}, {AlphaMode::Mask, "mask"}, {AlphaMode::Blend, "blend"}};

/// What is as it mostly is is left out.
json picture_to_json(const PictureUse& use) {
    const PictureUse plain;
    json out{{"image", use.image.value}};
    if (use.coords != 0) out["coords"] = use.coords;
    if (use.wrap_s != plain.wrap_s || use.wrap_t != plain.wrap_t) out["wrap"] = {use.wrap_s, use.wrap_t};
    if (use.magnify || use.minify) out["filter"] = {use.magnify, use.minify};
    if (use.offset != plain.offset) out["offset"] = use.offset;
    if (use.scale != plain.scale) out["scale"] = use.scale;
    if (use.turn_rad != 0) out["turn"] = use.turn_rad;
    if (use.strength != 1) out["strength"] = use.strength;
    return out;
}

template <std::size_t N>
void read_numbers(const json& entry, const char* key, std::array<double, N>& to) {
    if (!entry.contains(key)) return;
    for (std::size_t k = 0; k < N; ++k) to[k] = finite(entry.at(key).at(k));
}

PictureUse picture_from_json(const json& entry) {
    PictureUse use;
    use.image = id_of<ImageId>(entry, "image");
    if (entry.contains("coords")) {
        use.coords = whole<int>(entry.at("coords"));
        if (use.coords != 0 && use.coords != 1)
            throw Damage{"a picture lies by no known texture coordinates"};
    }
    if (entry.contains("wrap")) {
        use.wrap_s = whole<int>(entry.at("wrap").at(0));
        use.wrap_t = whole<int>(entry.at("wrap").at(1));
        for (const int wrap : {use.wrap_s, use.wrap_t})
            if (wrap != PictureUse::repeat && wrap != PictureUse::clamp && wrap != PictureUse::mirror)
                throw Damage{"a picture wraps in no known way"};
    }
    if (entry.contains("filter")) {
        use.magnify = whole<int>(entry.at("filter").at(0));
        use.minify = whole<int>(entry.at("filter").at(1));
    }
    read_numbers(entry, "offset", use.offset);
    read_numbers(entry, "scale", use.scale);
    if (entry.contains("turn")) use.turn_rad = finite(entry.at("turn"));
    if (entry.contains("strength")) use.strength = finite(entry.at("strength"));
    return use;
}

json pictures_to_json(const std::map<std::string, PictureUse>& pictures) {
    json out = json::object();
    for (const auto& [name, use] : pictures)
        if (use) out[name] = picture_to_json(use);
    return out;
}

}  // namespace

json material_to_json(const Material& m) {
    json out{{"id", m.id.value},       {"name", m.name},           {"base_color", m.base_color},
             {"metallic", m.metallic}, {"roughness", m.roughness}, {"double_sided", m.double_sided}};
    // Where nothing is said, what is not opaque blends.
    if (m.alpha != (m.base_color[3] < 1 ? AlphaMode::Blend : AlphaMode::Opaque))
        for (const auto& [mode, word] : alpha_words)
            if (mode == m.alpha) out["alpha"] = word;
    if (m.alpha_cutoff != Material{}.alpha_cutoff) out["alpha_cutoff"] = m.alpha_cutoff;
    if (m.emissive != Material{}.emissive) out["emissive"] = m.emissive;
    Material own = m;
    own.extensions.clear();
    std::map<std::string, PictureUse> pictures;
    each_picture(own, [&](const std::string& name, const PictureUse& use) { pictures[name] = use; });
    if (json all = pictures_to_json(pictures); !all.empty()) out["pictures"] = std::move(all);
    for (const auto& [name, extension] : m.extensions) {
        json entry{{"name", name}};
        if (!extension.numbers.empty()) entry["numbers"] = extension.numbers;
        if (json all = pictures_to_json(extension.pictures); !all.empty()) entry["pictures"] = std::move(all);
        out["extensions"].push_back(std::move(entry));
    }
    return out;
}

Material material_from_json(const json& entry) {
    Material m;
    m.id = id_of<MaterialId>(entry);
    m.name = entry.at("name").get<std::string>();
    read_numbers(entry, "base_color", m.base_color);
    m.metallic = finite(entry.at("metallic"));
    m.roughness = finite(entry.at("roughness"));
    m.double_sided = entry.at("double_sided").get<bool>();
    read_numbers(entry, "emissive", m.emissive);
    if (entry.contains("alpha_cutoff")) m.alpha_cutoff = finite(entry.at("alpha_cutoff"));
    if (entry.contains("alpha")) {
        bool known = false;
        for (const auto& [mode, word] : alpha_words)
            if (entry.at("alpha") == word) m.alpha = mode, known = true;
        if (!known) throw Damage{"a material is opaque in no known way"};
    } else if (m.base_color[3] < 1) {
        m.alpha = AlphaMode::Blend;
    }
    m.base_color_picture.image = id_if<ImageId>(entry, "image");
    if (entry.contains("pictures"))
        each_picture(m, [&](const std::string& name, PictureUse& use) {
            if (entry.at("pictures").contains(name)) use = picture_from_json(entry.at("pictures").at(name));
        });
    for (const json& given : entry.value("extensions", json::array())) {
        SurfaceExtension& extension = m.extensions[given.at("name").get<std::string>()];
        extension.numbers = given.value("numbers", json::object());
        if (!extension.numbers.is_object()) throw Damage{"a material's extension has no fields"};
        const json pictures = given.value("pictures", json::object());
        for (const auto& [field, use] : pictures.items()) extension.pictures[field] = picture_from_json(use);
    }
    return m;
}

}  // namespace pivrak
