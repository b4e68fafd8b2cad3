#pragma once

#include "core/base/progress.h"
#include "core/io/gltf/gltf_sample.h"
#include "core/io/gltf/gltf_write.h"
#include "core/motion/print_strip.h"

namespace pivrak {

/// The printed tracks of the delivered clips. Each becomes a node that holds a short strip for every frame in
/// which it grows; strips lie still, so their pictures never slide, and grow lengthwise from nothing by their
/// node's scale, which every player knows. At whole frames the print ends exactly where the rig's does. A
/// clip hides the prints of all others.
class DeliveredPrints {
public:
    /// Errors: those of `lay_prints`.
    static Result<DeliveredPrints> make(const Document& document, const std::vector<ClipId>& clips,
                                        const Progress& progress);

    void add_nodes(const Document& document, GltfBuilder& builder);
    /// Adds what shows or hides each strip in one of the clips.
    void add_channels(const Document& document, ClipId clip, GltfBuilder& builder,
                      tinygltf::Animation& animation) const;
    /// The largest difference between the length of a print in a file, told by its pictures, and the rig's,
    /// at every frame of a clip at which a strip ends [m]. Errors: `delivery.part_missing` (a print is not in
    /// the file), `gltf.*`.
    Result<double> compare(const Document& document, ClipId clip, const tinygltf::Model& model,
                           const GltfPlayer& player) const;

private:
    struct Strip {
        ClipId clip;
        std::string name;
        PrintStrip print;
    };
    struct Piece {
        int node;
        ClipId clip;
        double from_frame, to_frame;
    };
    std::vector<Strip> strips_;
    std::vector<Piece> pieces_;
};

}  // namespace pivrak
