#include "core/io/gltf/picture.h"

#include <memory>

#pragma GCC diagnostic push
#pragma GCC diagnostic ignored "-Wunused-function"
#pragma GCC diagnostic ignored "-Wmissing-field-initializers"
#pragma GCC diagnostic ignored "-Wunused-parameter"
// A copy of our own: the glTF library keeps one to itself.
#define STB_IMAGE_STATIC
#define STB_IMAGE_IMPLEMENTATION
#define STBI_NO_STDIO
#include <stb/stb_image.h>
#define STB_IMAGE_WRITE_STATIC
#define STB_IMAGE_WRITE_IMPLEMENTATION
#include <stb/stb_image_write.h>
#pragma GCC diagnostic pop

namespace pivrak {
namespace {

/// Larger pictures are taken for damaged headers.
constexpr int largest_side = 32768;

void append(void* into, void* data, int size) {
    auto& bytes = *static_cast<PictureBytes*>(into);
    const auto* first = static_cast<const unsigned char*>(data);
    bytes.insert(bytes.end(), first, first + size);
}

}  // namespace

std::string picture_type(const PictureBytes& bytes) {
    if (bytes.size() > 8 && bytes[0] == 0x89 && bytes[1] == 'P') return "image/png";
    if (bytes.size() > 3 && bytes[0] == 0xFF && bytes[1] == 0xD8) return "image/jpeg";
    return "";
}

PictureBytes png_from_pixels(const unsigned char* rgba, std::size_t width, std::size_t height) {
    PictureBytes png;
    if (width == 0 || height == 0 || width > largest_side || height > largest_side) return png;
    stbi_write_png_to_func(append, &png, static_cast<int>(width), static_cast<int>(height), 4, rgba,
                           static_cast<int>(4 * width));
    return png;
}

PictureBytes as_png(const PictureBytes& bytes) {
    int width = 0, height = 0, channels = 0;
    const auto size = static_cast<int>(bytes.size());
    if (bytes.empty() || !stbi_info_from_memory(bytes.data(), size, &width, &height, &channels) ||
        width > largest_side || height > largest_side)
        return {};
    const std::unique_ptr<unsigned char, decltype(&stbi_image_free)> pixels(
        stbi_load_from_memory(bytes.data(), size, &width, &height, &channels, 4), stbi_image_free);
    if (!pixels) return {};
    return png_from_pixels(pixels.get(), static_cast<std::size_t>(width), static_cast<std::size_t>(height));
}

}  // namespace pivrak
