#pragma once

#include <QColor>
#include <algorithm>
#include <array>
#include <cmath>
#include <memory>
#include <optional>
#include <vector>

#include "core/model/shape.h"

namespace pivrak {

/// What a submesh has beside its colour: glTF's core material, as far as a view shows it.
struct SurfacePaint {
    enum Picture : std::size_t { Color, MetalRough, Bumps, Glow };
    struct Use {
        std::shared_ptr<const std::vector<unsigned char>> bytes;  ///< null for none
        PictureUse how;
    };
    std::array<Use, 4> pictures;
    float metallic = 0, roughness = 0.6f;
    float cutoff = 0;  ///< what is less opaque is not there
    bool unlit = false;
    QColor glow = Qt::black;  ///< as a screen shows it

    /// Whether it takes more than numbers that are the same all over.
    bool is_pictured() const {
        return cutoff > 0 ||
               std::ranges::any_of(pictures, [](const Use& use) { return use.bytes != nullptr; });
    }
    bool is_plain() const {
        return metallic == 0 && std::abs(roughness - 0.6f) < 1e-4f && !unlit && glow == QColor(Qt::black) &&
               !is_pictured();
    }
    /// Of two that are not pictured.
    bool is_like(const SurfacePaint& other) const {
        return metallic == other.metallic && roughness == other.roughness && unlit == other.unlit &&
               glow == other.glow;
    }
};

/// What a mesh is painted with; shared by all that are painted alike.
struct Paint {
    std::vector<QColor> colors;  ///< one for each submesh, as a screen shows them; a single one for all
    std::vector<SurfacePaint> surfaces;  ///< of each submesh; empty where colours are all there is
};

/// One placed shape to draw.
struct DrawItem {
    std::shared_ptr<const Mesh> mesh;
    Frame world_from_mesh;
    std::shared_ptr<const Paint> paint;
    bool selected = false;
    bool measure = false;  ///< stands beside the model to measure it: no lines, no shadow
    bool lifted = false;   ///< drawn over what it lies on
    std::shared_ptr<const std::vector<std::uint32_t>> edges = {};  ///< lines to draw; null for its creases
    std::optional<std::uint32_t> first_indices = {};               ///< only these, of one submesh
    std::uint8_t pale = 0;  ///< what it would be at another moment, in so many hundredths; 0 for as it is
};

}  // namespace pivrak
