#include "core/io/delivery/delivery_formats.h"

#include <fmt/format.h>

#include <array>

#include "core/io/atomic_file.h"
#include "core/io/output_path.h"
#include "core/io/project/project_file.h"

namespace pivrak {
namespace {

constexpr std::array<DeliveryFormat, 1> formats{{
    {".glb", "glTF binary", true, true, true, delivery_bytes, compare_delivery},
}};

}  // namespace

std::span<const DeliveryFormat> delivery_formats() {
    return formats;
}

Result<DeliveryFormat> delivery_format(const std::filesystem::path& path) {
    std::string endings;
    for (const DeliveryFormat& format : formats) {
        if (format.ending == path.extension().string()) return format;
        endings += fmt::format("{}{}", endings.empty() ? "" : " or ", format.ending);
    }
    return Error{"delivery.ending", fmt::format("'{}' should end in {}", path.filename().string(), endings),
                 path.string()};
}

Result<Delivery> deliver(const Document& document, const std::filesystem::path& path,
                         const DeliveryOptions& options, const Progress& progress) {
    if (is_project_path(path))
        return Error{"delivery.overwrites_project",
                     fmt::format("'{}' is the name of a project; a delivery ends in .glb alone",
                                 path.filename().string()),
                     path.string()};
    PIVRAK_TRY(format, delivery_format(path));
    PIVRAK_CHECK(check_output_path(document, path));
    PIVRAK_TRY(made, format.write(document, options, progress));
    PIVRAK_TRY(read_back, format.compare(document, made.bytes, path.filename().string(), options, progress));
    PIVRAK_CHECK(write_file_atomically(path, made.bytes));
    made.report.path = path;
    made.report.read_back = read_back;
    return std::move(made.report);
}

}  // namespace pivrak
