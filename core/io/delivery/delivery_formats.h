#pragma once

#include <span>

#include "core/io/delivery/deliver.h"

namespace pivrak {

/// An open format that models are delivered in, and what it can carry.
struct DeliveryFormat {
    std::string_view ending;  ///< with the dot, in lower case
    std::string_view title;
    bool animation;  ///< clips
    bool controls;   ///< nodes without a mesh
    bool prints;     ///< tracks that grow
    Result<DeliveryBytes> (*write)(const Document& document, const DeliveryOptions& options,
                                   const Progress& progress);
    /// Reads what was written, by another route, and compares it with the rig.
    Result<ReadBack> (*compare)(const Document& document, const std::string& bytes, const std::string& file,
                                const DeliveryOptions& options, const Progress& progress);
};

std::span<const DeliveryFormat> delivery_formats();

/// The format of a path by its ending. Errors: `delivery.ending`, which lists the endings.
Result<DeliveryFormat> delivery_format(const std::filesystem::path& path);

}  // namespace pivrak
