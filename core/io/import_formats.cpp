// Sources: glTF 2.0, 3.4 (metres, Y up, Z to the front); COLLADA 1.5 (unit and up axis stand in the file and
// are applied by the reader); ISO/IEC 19775-1 X3D (metres, Y up); 3MF core 1.3 (millimetres unless the model
// says otherwise, Z up); ISO/ASTM 52915 AMF (millimetres unless stated, Z up). STL, PLY, OFF and OBJ give no
// unit; Z up for STL is common practice, no source.
#include "core/io/import_formats.h"

#include <fmt/format.h>
#include <zip.h>

#include <algorithm>
#include <array>
#include <cctype>
#include <charconv>
#include <memory>
#include <vector>

#include "core/base/words.h"
#include "core/io/atomic_file.h"
#include "core/io/glb_container.h"
#include "core/io/obj_check.h"

namespace pivrak {
namespace {

constexpr std::array<ModelFormat, 10> formats{{{".glb", "glTF binary", 1.0, 'y', true},
                                               {".gltf", "glTF", 1.0, 'y', true},
                                               {".obj", "OBJ", std::nullopt, 'y', false},
                                               {".dae", "COLLADA", 1.0, 'y', false},
                                               {".x3d", "X3D", 1.0, 'y', false},
                                               {".stl", "STL", std::nullopt, 'z', false},
                                               {".ply", "PLY", std::nullopt, 'z', false},
                                               {".off", "OFF", std::nullopt, 'z', false},
                                               {".3mf", "3MF", 1e-3, 'z', false},
                                               {".amf", "AMF", 1e-3, 'z', false}}};

/// The unit attribute of the first element `name` in an XML text.
std::optional<double> unit_attribute(std::string_view xml, std::string_view name) {
    const std::size_t element = xml.find(fmt::format("<{}", name));
    if (element == std::string_view::npos) return std::nullopt;
    const std::string_view tag = xml.substr(element, xml.find('>', element) - element);
    const std::size_t at = tag.find("unit=");
    if (at == std::string_view::npos || at + 6 >= tag.size()) return std::nullopt;
    const std::size_t end = tag.find(tag[at + 5], at + 6);
    if (end == std::string_view::npos) return std::nullopt;
    const std::string unit = lower_case(std::string(tag.substr(at + 6, end - at - 6)));
    constexpr std::array<std::pair<std::string_view, double>, 8> units{{{"micron", 1e-6},
                                                                        {"millimeter", 1e-3},
                                                                        {"centimeter", 1e-2},
                                                                        {"meter", 1.0},
                                                                        {"inch", 0.0254},
                                                                        {"foot", 0.3048},
                                                                        {"feet", 0.3048},
                                                                        {"mm", 1e-3}}};
    for (const auto& [word, metres] : units)
        if (word == unit) return metres;
    return std::nullopt;
}

/// The start of the model part of a 3MF package.
std::string model_part(const std::filesystem::path& path) {
    const std::unique_ptr<zip_t, decltype(&zip_discard)> archive(zip_open(path.c_str(), ZIP_RDONLY, nullptr),
                                                                 zip_discard);
    if (!archive) return {};
    const zip_int64_t count = zip_get_num_entries(archive.get(), 0);
    for (zip_int64_t i = 0; i < count; ++i) {
        const char* name = zip_get_name(archive.get(), static_cast<zip_uint64_t>(i), 0);
        if (!name || !lower_case(name).ends_with(".model")) continue;
        const std::unique_ptr<zip_file_t, decltype(&zip_fclose)> file(
            zip_fopen_index(archive.get(), static_cast<zip_uint64_t>(i), 0), zip_fclose);
        if (!file) continue;
        std::string head(4096, '\0');
        const zip_int64_t read = zip_fread(file.get(), head.data(), head.size());
        head.resize(read > 0 ? static_cast<std::size_t>(read) : 0);
        return head;
    }
    return {};
}

/// A count in the header of an OFF file that the rest of the file cannot hold; the reader would believe it.
Result<void> check_off_counts(std::string_view bytes, const std::string& file) {
    std::vector<std::string_view> words;
    std::size_t at = 0;
    while (words.size() < 4 && at < bytes.size()) {
        const std::size_t first = bytes.find_first_not_of(" \t\r\n", at);
        if (first == std::string_view::npos) break;
        if (bytes[first] == '#') {
            at = std::min(bytes.find('\n', first), bytes.size());
            continue;
        }
        at = std::min(bytes.find_first_of(" \t\r\n", first), bytes.size());
        words.push_back(bytes.substr(first, at - first));
    }
    // An optional OFF, then vertices, faces, edges. Two characters are the least that any of them takes.
    const std::size_t skip = !words.empty() && words[0].find("OFF") != std::string_view::npos ? 1 : 0;
    for (std::size_t i = skip; i < std::min(words.size(), skip + 2); ++i) {
        std::uint64_t count = 0;
        const auto read = std::from_chars(words[i].data(), words[i].data() + words[i].size(), count);
        if (read.ec != std::errc() || count > bytes.size() / 2)
            return Error{"off.count",
                         fmt::format("'{}' says it has {} {}, which its {} bytes cannot hold", file, words[i],
                                     i == skip ? "vertices" : "faces", bytes.size()),
                         file};
    }
    return {};
}

/// A text format whose first word is not there is some other file with a wrong ending.
Result<void> check_beginning(std::string_view bytes, const std::string& file, const ModelFormat& format) {
    const auto refuse = [&](std::string_view wanted) {
        return Error{"import.not_format",
                     fmt::format("'{}' is no {} file: it holds no {}", file, format.title, wanted), file};
    };
    // UTF-16 texts hold a zero in every second place; the reader knows them.
    const auto has = [&](std::string_view word) {
        std::string wide;
        for (const char c : word) wide += {c, '\0'};
        return bytes.find(word) != std::string_view::npos ||
               bytes.find(std::string_view(wide).substr(0, wide.size() - 1)) != std::string_view::npos;
    };
    if (format.ending == ".gltf" && !has("\"asset\"")) return refuse("asset");
    if (format.ending == ".dae" && !has("<COLLADA")) return refuse("COLLADA element");
    if (format.ending == ".x3d" && !has("<X3D") && !has("<x3d")) return refuse("X3D element");
    if (format.ending == ".amf" && !has("<amf") && !has("<AMF") && !bytes.starts_with("PK"))
        return refuse("amf element");
    if (format.ending == ".3mf" && !bytes.starts_with("PK")) return refuse("package");
    if (format.ending == ".ply" && !bytes.starts_with("ply")) return refuse("header");
    return {};
}

}  // namespace

std::span<const ModelFormat> model_formats() {
    return formats;
}

Result<ModelFormat> model_format(const std::filesystem::path& path) {
    const std::string ending = lower_case(path.extension().string());
    for (const ModelFormat& format : formats)
        if (format.ending == ending) return format;
    std::string list;
    for (const ModelFormat& format : formats)
        list += fmt::format("{}{} ({})", list.empty() ? "" : ", ", format.title, format.ending);
    return Error{
        "import.format",
        fmt::format("'{}' is of no open format read here; these are: {}", path.filename().string(), list),
        path.string()};
}

Result<std::optional<double>> check_model_file(const std::filesystem::path& path, const ModelFormat& format) {
    const std::string file = path.filename().string();
    PIVRAK_TRY(bytes, read_file(path));
    if (format.ending == ".glb") PIVRAK_CHECK(check_glb_container(bytes, file));
    if (format.ending == ".obj") PIVRAK_CHECK(check_obj_text(bytes, file));
    PIVRAK_CHECK(check_beginning(bytes, file, format));
    if (format.ending == ".off") PIVRAK_CHECK(check_off_counts(bytes, file));
    if (format.ending == ".3mf") return unit_attribute(model_part(path), "model");
    if (format.ending == ".amf") return unit_attribute(std::string_view(bytes).substr(0, 4096), "amf");
    return std::optional<double>{};
}

}  // namespace pivrak
