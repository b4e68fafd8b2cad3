#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "core/base/progress.h"
#include "core/io/delivery/sample_clip.h"

namespace pivrak {

/// What is delivered: the whole model with its clips, as glTF 2.0 binary in metres.
struct DeliveryOptions {
    bool with_animation = true;
    std::vector<ClipId> clips;   ///< all of them when empty
    bool with_controls = false;  ///< as nodes without a mesh
    Sampling sampling;           ///< of clips

    /// Those of a document that are delivered.
    std::vector<ClipId> chosen(const Document& document) const;
};

/// The largest distances of a delivered file from the rig, and where they are.
struct DeliveredError {
    double largest_m = 0, largest_rad = 0;
    std::string part_m, part_rad;
    double frame_m = 0, frame_rad = 0;
};

/// The delivered file against the rig: at every frame of every clip, and at the quarters between them, where
/// a player goes straight from sample to sample.
struct ReadBack {
    DeliveredError at_frames, between;
    std::size_t frames = 0, parts = 0;
    double print_error_m = 0;  ///< of the lengths of printed tracks
};

struct Delivery {
    std::filesystem::path path;
    std::size_t bytes = 0, parts = 0, triangles = 0, clips = 0;
    std::size_t prints = 0;
    std::vector<std::string> still_clips;       ///< left out, since nothing moves in them
    std::size_t samples = 0, kept_samples = 0;  ///< before and after thinning
    ReadBack read_back;
};

/// The bytes of a delivery: each part a node whose origin is its pivot, vertices in the part's frame, each
/// clip an animation sampled as asked (`sample_clip`) and thinned. Parts that share a shape share a mesh.
/// Errors: `delivery.nothing`, those of `sample_clip`, `gltf.write`.
struct DeliveryBytes {
    std::string bytes;
    Delivery report;
};
Result<DeliveryBytes> delivery_bytes(const Document& document, const DeliveryOptions& options = {},
                                     const Progress& progress = {});

/// Reads a delivery and compares the world frames of all parts, and the corners of their shapes' bounds, with
/// what the rig gives at every quarter of a frame. Errors: `gltf.*`, `delivery.part_missing`.
Result<ReadBack> compare_delivery(const Document& document, const std::string& bytes, const std::string& file,
                                  const DeliveryOptions& options = {}, const Progress& progress = {});

/// Makes the bytes, compares them, and only then writes the file atomically.
/// Errors: of all these, `output.*`, `delivery.ending` for a path that does not end in `.glb`, and
/// `delivery.overwrites_project` for one that ends in `.pivrak.glb`.
Result<Delivery> deliver(const Document& document, const std::filesystem::path& path,
                         const DeliveryOptions& options = {}, const Progress& progress = {});

}  // namespace pivrak
