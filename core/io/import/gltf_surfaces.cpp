#include "core/io/import/gltf_surfaces.h"

#include <fmt/format.h>

#include <algorithm>
#include <cstring>
#include <nlohmann/json.hpp>

#include "core/io/atomic_file.h"

namespace pivrak {
namespace {

using nlohmann::json;

constexpr std::size_t before_chunks = 12, before_chunk = 8;

/// A file's JSON, and for a binary one the chunks behind it.
struct Split {
    bool is_binary = false;
    std::string_view text, rest;
};

Split split(std::string_view bytes) {
    if (!bytes.starts_with("glTF") || bytes.size() < before_chunks + before_chunk) return {false, bytes, {}};
    std::uint32_t size = 0;
    std::memcpy(&size, bytes.data() + before_chunks, sizeof size);
    const std::size_t from = before_chunks + before_chunk;
    const std::size_t end = std::min(from + size, bytes.size());
    return {true, bytes.substr(from, end - from), bytes.substr(end)};
}

std::string json_text(const json& model) {
    return model.dump(-1, ' ', false, json::error_handler_t::replace);
}

std::string joined(const Split& like, const json& model) {
    std::string text = json_text(model);
    if (!like.is_binary) return text;
    while (text.size() % 4 != 0) text += ' ';
    std::string out = "glTF";
    const auto add = [&](std::size_t number) {
        const auto word = static_cast<std::uint32_t>(number);
        out.append(reinterpret_cast<const char*>(&word), sizeof word);
    };
    add(2);
    add(before_chunks + before_chunk + text.size() + like.rest.size());
    add(text.size());
    add(0x4E4F534A);
    out.reserve(out.size() + text.size() + like.rest.size());
    return out.append(text).append(like.rest);
}

/// The bytes of a picture that lies in a buffer; none where it lies outside.
void take_from_buffer(const tinygltf::Model& model, tinygltf::Image& image) {
    if (image.bufferView < 0 || static_cast<std::size_t>(image.bufferView) >= model.bufferViews.size())
        return;
    const tinygltf::BufferView& view = model.bufferViews[static_cast<std::size_t>(image.bufferView)];
    if (view.buffer < 0 || static_cast<std::size_t>(view.buffer) >= model.buffers.size()) return;
    const std::vector<unsigned char>& bytes = model.buffers[static_cast<std::size_t>(view.buffer)].data;
    if (view.byteOffset > bytes.size() || view.byteLength > bytes.size() - view.byteOffset) return;
    const auto from = bytes.begin() + static_cast<std::ptrdiff_t>(view.byteOffset);
    image.image.assign(from, from + static_cast<std::ptrdiff_t>(view.byteLength));
}

bool has_pictures_in_buffers(const json& whole) {
    if (!whole.contains("images") || !whole["images"].is_array()) return false;
    return std::ranges::any_of(
        whole["images"], [](const json& image) { return image.is_object() && image.contains("bufferView"); });
}

/// Without what needs geometry to be read; buffers only where pictures lie in them.
json surfaces_of(const json& whole, bool with_buffers) {
    json out = json::object();
    for (const char* key : {"asset", "images", "textures", "samplers", "materials"})
        if (whole.contains(key)) out[key] = whole[key];
    if (with_buffers)
        for (const char* key : {"buffers", "bufferViews"})
            if (whole.contains(key)) out[key] = whole[key];
    return out;
}

}  // namespace

Result<GltfSurfaces> read_gltf_surfaces(const std::filesystem::path& path) {
    PIVRAK_TRY(bytes, read_file(path));
    const auto problem = [&](std::string words) {
        while (!words.empty() && words.back() == '\n') words.pop_back();
        return Error{"gltf.read",
                     fmt::format("'{}' cannot be read as glTF: {}", path.filename().string(), words),
                     path.string()};
    };
    const Split parts = split(bytes);
    json whole = json::parse(parts.text, nullptr, false);
    if (!whole.is_object()) return problem("its JSON is damaged");
    if (!whole.contains("materials") || !whole["materials"].is_array() || whole["materials"].empty())
        return GltfSurfaces{};
    tinygltf::TinyGLTF reader;
    reader.SetImageLoader(
        [](tinygltf::Image* image, const int, std::string*, std::string*, int, int, const unsigned char* from,
           int size, void*) {
            // Those in a buffer are taken later: whether they lie inside it has not been looked at yet.
            if (image->bufferView < 0 && size > 0) image->image.assign(from, from + size);
            return true;
        },
        nullptr);
    reader.SetStoreOriginalJSONForExtrasAndExtensions(true);
    GltfSurfaces out;
    std::string error, warning;
    const bool with_buffers = has_pictures_in_buffers(whole), is_binary = parts.is_binary && with_buffers;
    const json surfaces = surfaces_of(whole, with_buffers);
    const std::string text = is_binary ? joined(parts, surfaces) : json_text(surfaces),
                      folder = path.parent_path().string();
    bool read = false;
    try {
        const auto size = static_cast<unsigned int>(text.size());
        read = is_binary
                   ? reader.LoadBinaryFromMemory(&out.model, &error, &warning,
                                                 reinterpret_cast<const unsigned char*>(text.data()), size,
                                                 folder)
                   : reader.LoadASCIIFromString(&out.model, &error, &warning, text.data(), size, folder);
    } catch (const std::exception& thrown) {
        error = thrown.what();
    }
    if (!read) return problem(error);
    for (tinygltf::Image& image : out.model.images) take_from_buffer(out.model, image);
    for (std::size_t i = 0; i < whole["materials"].size(); ++i)
        if (whole["materials"][i].is_object()) whole["materials"][i]["name"] = std::to_string(i);
    out.numbered = joined(parts, whole);
    return out;
}

}  // namespace pivrak
