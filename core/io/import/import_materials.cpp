#include "core/io/import/import_materials.h"

#include <assimp/GltfMaterial.h>
#include <assimp/scene.h>
#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <cmath>

#include "core/io/atomic_file.h"
#include "core/io/gltf/gltf_materials.h"
#include "core/io/gltf/picture.h"
#include "core/io/import/gltf_surfaces.h"
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
    const std::optional<Material> given = gltf_material(source);
    Material m = given ? *given : own_material(source);
    m.id = document_.new_id<MaterialId>();
    known->second = m.id;
    document_.materials.set(std::move(m));
    return known->second;
}

Material MaterialReader::own_material(const aiMaterial& source) {
    Material m;
    m.name = text_of(source.GetName().C_Str());
    read_color(source, m);
    const auto share = [&](const char* key, unsigned type, unsigned slot, double otherwise) {
        float value = 0;
        const bool given = source.Get(key, type, slot, value) == AI_SUCCESS && std::isfinite(value);
        return given ? std::clamp(static_cast<double>(value), 0.0, 1.0) : otherwise;
    };
    m.metallic = share(AI_MATKEY_METALLIC_FACTOR, m.metallic);
    m.roughness = share(AI_MATKEY_ROUGHNESS_FACTOR, m.roughness);
    source.Get(AI_MATKEY_TWOSIDED, m.double_sided);
    if (m.base_color[3] < 1) m.alpha = AlphaMode::Blend;
    m.base_color_picture.image = read_texture(source, m.name);
    return m;
}

/// The file's material whose number the source has for a name; none where the reader made one itself.
std::optional<Material> MaterialReader::gltf_material(const aiMaterial& source) {
    if (!surfaces_) return std::nullopt;
    const std::string name = source.GetName().C_Str();
    const bool is_number = !name.empty() && name.size() < 9 &&
                           std::ranges::all_of(name, [](unsigned char c) { return std::isdigit(c); });
    const std::size_t number = is_number ? std::stoul(name) : surfaces_->model.materials.size();
    if (number >= surfaces_->model.materials.size()) return std::nullopt;
    const tinygltf::Material& given = surfaces_->model.materials[number];
    std::vector<std::string> left_out;
    const auto image = [&](int index) { return gltf_image(index, given.name); };
    Material m = material_from_gltf(surfaces_->model, given, image, left_out);
    m.name = text_of(m.name.c_str());
    for (std::string& line : left_out) messages_.push_back(std::move(line));
    return m;
}

ImageId MaterialReader::gltf_image(int index, const std::string& material) {
    if (index < 0 || static_cast<std::size_t>(index) >= surfaces_->model.images.size()) return {};
    const std::string key = fmt::format("*{}", index);
    if (const auto known = images_.find(key); known != images_.end()) return known->second;
    const tinygltf::Image& source = surfaces_->model.images[static_cast<std::size_t>(index)];
    Image image;
    image.name = text_of(source.name.c_str());
    std::vector<unsigned char> bytes = source.image;
    std::string beside;
    if (bytes.empty() && !source.uri.empty()) bytes = bytes_beside(source.uri, beside);
    if (image.name.empty()) image.name = beside.empty() ? text_of(source.uri.c_str()) : beside;
    return images_[key] = add_image(std::move(image), std::move(bytes), material);
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
    auto bytes = texture_bytes(key, image.name);
    return images_[key] = add_image(std::move(image), std::move(bytes), material);
}

ImageId MaterialReader::add_image(Image image, std::vector<unsigned char> bytes,
                                  const std::string& material) {
    image.id = document_.new_id<ImageId>();
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
    const ImageId id = image.id;
    document_.images.set(std::move(image));
    return id;
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
    return bytes_beside(key, name);
}

std::vector<unsigned char> MaterialReader::bytes_beside(std::string relative, std::string& name) const {
    std::replace(relative.begin(), relative.end(), '\\', '/');
    name = text_of(std::filesystem::path(relative).filename().c_str());
    const std::filesystem::path folder = file_.parent_path();
    for (const std::filesystem::path& place : {folder / relative, folder / percent_decoded(relative),
                                               folder / name, folder / percent_decoded(name)})
        if (const auto bytes = read_file(place)) return {bytes->begin(), bytes->end()};
    return {};
}

}  // namespace pivrak
