// Sources: glTF 2.0, 3.4 (metres, Y up, Z to the front); COLLADA 1.5 (unit and up axis stand in the file and
// are applied by the reader); ISO/IEC 19775-1 X3D (metres, Y up); 3MF core 1.3 (millimetres unless the model
// says otherwise, Z up); ISO/ASTM 52915 AMF (millimetres unless stated, Z up). STL, PLY, OFF and OBJ give no
// unit; Z up for STL is common practice, no source.
#include "core/io/import/import_formats.h"

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
#include "core/io/gltf/glb_container.h"
#include "core/io/import/obj_check.h"

namespace pivrak {
namespace {

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

/// UTF-16 texts hold a zero in every second place; the reader knows them.
bool holds(std::string_view bytes, std::string_view word) {
    std::string wide;
    for (const char c : word) wide += {c, '\0'};
    return bytes.find(word) != std::string_view::npos ||
           bytes.find(std::string_view(wide).substr(0, wide.size() - 1)) != std::string_view::npos;
}

std::optional<double> unit_of_3mf(const std::filesystem::path& path, std::string_view) {
    return unit_attribute(model_part(path), "model");
}
std::optional<double> unit_of_amf(const std::filesystem::path&, std::string_view bytes) {
    return unit_attribute(bytes.substr(0, 4096), "amf");
}

/// How a file of a format is looked through before the reader sees it.
struct FormatRow {
    ModelFormat format;
    /// A file that holds none of these words, or begins with none, is some other one with a wrong ending.
    std::array<std::string_view, 2> words{}, beginnings{};
    std::string_view wanted{};  ///< what is then missing, for a person
    Result<void> (*check)(std::string_view bytes, const std::string& file) = nullptr;
    /// The unit that the file itself states.
    std::optional<double> (*unit)(const std::filesystem::path& path, std::string_view bytes) = nullptr;
};

constexpr std::array<FormatRow, 10> rows{{
    {{".glb", "glTF binary", 1.0, 'y', true}, {}, {}, {}, check_glb_container},
    {{".gltf", "glTF", 1.0, 'y', true}, {"\"asset\""}, {}, "asset"},
    {{".obj", "OBJ", std::nullopt, 'y', false}, {}, {}, {}, check_obj_text},
    {{".dae", "COLLADA", 1.0, 'y', false}, {"<COLLADA"}, {}, "COLLADA element"},
    {{".x3d", "X3D", 1.0, 'y', false}, {"<X3D", "<x3d"}, {}, "X3D element"},
    {{".stl", "STL", std::nullopt, 'z', false}},
    {{".ply", "PLY", std::nullopt, 'z', false}, {}, {"ply"}, "header"},
    {{".off", "OFF", std::nullopt, 'z', false}, {}, {}, {}, check_off_counts},
    {{".3mf", "3MF", 1e-3, 'z', false}, {}, {"PK"}, "package", nullptr, unit_of_3mf},
    {{".amf", "AMF", 1e-3, 'z', false}, {"<amf", "<AMF"}, {"PK"}, "amf element", nullptr, unit_of_amf},
}};

Result<void> check_beginning(std::string_view bytes, const std::string& file, const FormatRow& row) {
    bool asked = false;
    for (const std::string_view word : row.words) {
        asked |= !word.empty();
        if (!word.empty() && holds(bytes, word)) return {};
    }
    for (const std::string_view beginning : row.beginnings) {
        asked |= !beginning.empty();
        if (!beginning.empty() && bytes.starts_with(beginning)) return {};
    }
    if (!asked) return {};
    return Error{"import.not_format",
                 fmt::format("'{}' is no {} file: it holds no {}", file, row.format.title, row.wanted), file};
}

}  // namespace

std::span<const ModelFormat> model_formats() {
    static const auto formats = [] {
        std::array<ModelFormat, rows.size()> all;
        std::transform(rows.begin(), rows.end(), all.begin(),
                       [](const FormatRow& row) { return row.format; });
        return all;
    }();
    return formats;
}

Result<ModelFormat> model_format(const std::filesystem::path& path) {
    const std::string ending = lower_case(path.extension().string());
    for (const ModelFormat& format : model_formats())
        if (format.ending == ending) return format;
    std::string list;
    for (const ModelFormat& format : model_formats())
        list += fmt::format("{}{} ({})", list.empty() ? "" : ", ", format.title, format.ending);
    return Error{
        "import.format",
        fmt::format("'{}' is of no open format read here; these are: {}", path.filename().string(), list),
        path.string()};
}

Result<std::optional<double>> check_model_file(const std::filesystem::path& path, const ModelFormat& format) {
    const std::string file = path.filename().string();
    const FormatRow& row = *std::find_if(rows.begin(), rows.end(), [&](const FormatRow& known) {
        return known.format.ending == format.ending;
    });
    PIVRAK_TRY(bytes, read_file(path));
    if (row.check) PIVRAK_CHECK(row.check(bytes, file));
    PIVRAK_CHECK(check_beginning(bytes, file, row));
    return row.unit ? row.unit(path, bytes) : std::optional<double>{};
}

}  // namespace pivrak
