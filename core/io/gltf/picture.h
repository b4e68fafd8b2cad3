#pragma once

#include <cstddef>
#include <string>
#include <vector>

namespace pivrak {

using PictureBytes = std::vector<unsigned char>;

/// A picture's type by its first bytes, where glTF knows it: `image/png`, `image/jpeg`; else empty.
std::string picture_type(const PictureBytes& bytes);

/// A picture that glTF does not know (TGA, BMP, GIF, PNM …) as PNG; empty when it cannot be read.
PictureBytes as_png(const PictureBytes& bytes);

/// Plain pixels, four bytes each (red, green, blue, opacity), row by row from the top, as PNG.
PictureBytes png_from_pixels(const unsigned char* rgba, std::size_t width, std::size_t height);

}  // namespace pivrak
