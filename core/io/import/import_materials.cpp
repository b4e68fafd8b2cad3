#include "core/io/import/import_materials.h"

#include <assimp/GltfMaterial.h>
#include <assimp/scene.h>
#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <cmath>

#include "core/io/atomic_file.h"
#include "core/io/gltf/picture.h"
#include "core/io/import/import_scene.h"

namespace pivrak {
namespace {

/// A file name as a URI writes it, with `%20` for a blank.
std::string percent_decoded(const std::string& text) {
    std::string out;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const bool escaped = text[i] == '%' && i + 2 < text.size() &&
                             std::isxdigit(static_cast<unsigned char>(text[i + 1])) &&
                             std::isxdigit(static_cast<unsigned char>(text[i + 2]));
        out += escaped ? static_cast<char>(std::stoi(text.substr(i + 1, 2), nullptr, 16)) : text[i];
        if (escaped) i += 2;
    }
    return out;
}

}  // namespace

double linear_from_screen(double c) {
    return c <= 0.04045 ? c / 12.92 : std::pow((c + 0.055) / 1.055, 2.4);
}

MaterialId MaterialReader::material(unsigned index) {
    const auto [known, added] = materials_.try_emplace(index);
    if (!added || index >= scene_.mNumMaterials) return known->second;
    const aiMaterial& source = *scene_.mMaterials[index];
    Material m;
    m.id = document_.new_id<MaterialId>();
    m.name = text_of(source.GetName().C_Str());
    read_color(source, m);
    source.Get(AI_MATKEY_METALLIC_FACTOR, m.metallic);
    source.Get(AI_MATKEY_ROUGHNESS_FACTOR, m.roughness);
    source.Get(AI_MATKEY_TWOSIDED, m.double_sided);
    const auto share = [](double& value, double otherwise) {
        value = std::isfinite(value) ? std::clamp(value, 0.0, 1.0) : otherwise;
    };
    share(m.metallic, 0);
    share(m.roughness, 0.6);
    m.base_color_image = read_texture(source, m.name);
    document_.materials.set(m);
    known->second = m.id;
    return m.id;
}

void MaterialReader::read_color(const aiMaterial& source, Material& m) const {
    aiColor4D color(0.8f, 0.8f, 0.8f, 1.f);
    const bool linear = source.Get(AI_MATKEY_BASE_COLOR, color) == AI_SUCCESS && linear_colors_;
    if (!linear) source.Get(AI_MATKEY_COLOR_DIFFUSE, color);
    float opacity = color.a;
    if (!linear) source.Get(AI_MATKEY_OPACITY, opacity);
    // Older formats give colours as a screen shows them; glTF's are linear.
    const auto unit = [&](double c) {
        const double value = std::isfinite(c) ? std::clamp(c, 0.0, 1.0) : 0.8;
        return linear ? value : linear_from_screen(value);
    };
    m.base_color = {unit(color.r), unit(color.g), unit(color.b),
                    std::isfinite(opacity) ? std::clamp(static_cast<double>(opacity), 0.0, 1.0) : 1.0};
}

ImageId MaterialReader::read_texture(const aiMaterial& source, const std::string& material) {
    aiString name;
    if (source.GetTexture(aiTextureType_BASE_COLOR, 0, &name) != AI_SUCCESS &&
        source.GetTexture(aiTextureType_DIFFUSE, 0, &name) != AI_SUCCESS)
        return {};
    const std::string key = name.C_Str();
    if (const auto known = images_.find(key); known != images_.end()) return known->second;
    Image image;
    image.id = document_.new_id<ImageId>();
    auto bytes = texture_bytes(key, image.name);
    image.mime_type = picture_type(bytes);
    if (bytes.empty()) {
        messages_.push_back(fmt::format("texture '{}' of material '{}' was not found beside '{}'", image.name,
                                        material, file_.filename().string()));
    } else if (image.mime_type.empty()) {
        bytes = as_png(bytes);
        image.mime_type = "image/png";
        messages_.push_back(
            bytes.empty() ? fmt::format("texture '{}' is no picture that can be read; left out", image.name)
                          : fmt::format("texture '{}' was turned into PNG", image.name));
    }
    if (!bytes.empty()) image.bytes = std::make_shared<const std::vector<unsigned char>>(std::move(bytes));
    document_.images.set(image);
    return images_[key] = image.id;
}

std::vector<unsigned char> MaterialReader::texture_bytes(const std::string& key, std::string& name) const {
    if (const aiTexture* embedded = scene_.GetEmbeddedTexture(key.c_str())) {
        name = text_of(embedded->mFilename.length ? embedded->mFilename.C_Str() : key.c_str());
        const auto* first = reinterpret_cast<const unsigned char*>(embedded->pcData);
        if (embedded->mHeight == 0) return {first, first + embedded->mWidth};
        // Plain pixels come as blue, green, red, opacity.
        std::vector<unsigned char> rgba;
        for (std::size_t i = 0; i < std::size_t{embedded->mWidth} * embedded->mHeight; ++i) {
            const aiTexel& t = embedded->pcData[i];
            rgba.insert(rgba.end(), {t.r, t.g, t.b, t.a});
        }
        return png_from_pixels(rgba.data(), embedded->mWidth, embedded->mHeight);
    }
    std::string relative = key;
    std::replace(relative.begin(), relative.end(), '\\', '/');
    name = text_of(std::filesystem::path(relative).filename().c_str());
    const std::filesystem::path folder = file_.parent_path();
    for (const std::filesystem::path& place : {folder / relative, folder / percent_decoded(relative),
                                               folder / name, folder / percent_decoded(name)})
        if (const auto bytes = read_file(place)) return {bytes->begin(), bytes->end()};
    return {};
}

}  // namespace pivrak
