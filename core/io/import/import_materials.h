#pragma once

#include <filesystem>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/model/document.h"

struct aiMaterial;
struct aiScene;

namespace pivrak {

struct GltfSurfaces;

/// Turns the materials and pictures of one scene into those of a document, each when it is first asked for:
/// readers add materials of their own that nothing shows. Those of a glTF file are taken from the file.
class MaterialReader {
public:
    /// `surfaces` are those of a glTF file; null for others.
    MaterialReader(const aiScene& scene, const std::filesystem::path& file, bool linear_colors,
                   const GltfSurfaces* surfaces, Document& document, std::vector<std::string>& messages)
        : scene_(scene),
          file_(file),
          linear_colors_(linear_colors),
          surfaces_(surfaces),
          document_(document),
          messages_(messages) {}

    MaterialId material(unsigned index);

private:
    Material own_material(const aiMaterial& source);
    std::optional<Material> gltf_material(const aiMaterial& source);
    ImageId gltf_image(int index, const std::string& material);
    void read_color(const aiMaterial& source, Material& material) const;
    ImageId read_texture(const aiMaterial& source, const std::string& material);
    ImageId add_image(Image image, std::vector<unsigned char> bytes, const std::string& material);
    std::vector<unsigned char> texture_bytes(const std::string& key, std::string& name) const;
    std::vector<unsigned char> bytes_beside(std::string key, std::string& name) const;

    const aiScene& scene_;
    const std::filesystem::path& file_;
    bool linear_colors_;
    const GltfSurfaces* surfaces_;
    Document& document_;
    std::vector<std::string>& messages_;
    std::map<unsigned, MaterialId> materials_;
    std::map<std::string, ImageId> images_;
};

/// A colour component as light adds up, from one as a screen shows it (sRGB, IEC 61966-2-1).
double linear_from_screen(double component);

}  // namespace pivrak
