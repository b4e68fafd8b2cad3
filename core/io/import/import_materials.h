#pragma once

#include <filesystem>
#include <map>
#include <string>
#include <vector>

#include "core/model/document.h"

struct aiMaterial;
struct aiScene;

namespace pivrak {

/// Turns the materials and pictures of one scene into those of a document, each when it is first asked for:
/// readers add materials of their own that nothing shows.
class MaterialReader {
public:
    MaterialReader(const aiScene& scene, const std::filesystem::path& file, bool linear_colors,
                   Document& document, std::vector<std::string>& messages)
        : scene_(scene),
          file_(file),
          linear_colors_(linear_colors),
          document_(document),
          messages_(messages) {}

    MaterialId material(unsigned index);

private:
    void read_color(const aiMaterial& source, Material& material) const;
    ImageId read_texture(const aiMaterial& source, const std::string& material);
    std::vector<unsigned char> texture_bytes(const std::string& key, std::string& name) const;

    const aiScene& scene_;
    const std::filesystem::path& file_;
    bool linear_colors_;
    Document& document_;
    std::vector<std::string>& messages_;
    std::map<unsigned, MaterialId> materials_;
    std::map<std::string, ImageId> images_;
};

/// A colour component as light adds up, from one as a screen shows it (sRGB, IEC 61966-2-1).
double linear_from_screen(double component);

}  // namespace pivrak
