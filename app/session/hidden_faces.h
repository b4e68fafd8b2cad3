#pragma once

#include <map>
#include <memory>

#include "app/session/element_picks.h"

namespace pivrak {

/// Faces that the view leaves out for the moment, so that what lies behind them is seen and picked. No
/// document knows of it; on a shape that changes all are shown again.
class HiddenFaces {
public:
    bool empty() const { return faces_.empty(); }
    std::size_t count() const;
    /// Hides picked faces beside those that are hidden.
    void hide(const Document& document, const std::map<PartId, FaceMask>& faces);
    /// Of parts with picked faces, hides all others.
    void showOnly(const Document& document, const std::map<PartId, FaceMask>& faces);
    void clear() { faces_.clear(); }
    /// Shows those again whose shape is another one by now.
    void keepIn(const Document& document);

    /// What is left of a mesh: all its vertices, and the triangles that it has by their numbers there.
    struct Rest {
        std::shared_ptr<const Mesh> of, mesh;
        std::vector<std::uint32_t> triangles;
    };
    /// What is left of a part that shows a shape, which may stand stretched as `mesh`; null when nothing of
    /// it is hidden.
    const Rest* restOf(PartId part, const Shape& shape, const std::shared_ptr<const Mesh>& mesh) const;

private:
    struct Hidden {
        std::shared_ptr<const Mesh> of;
        FaceMask mask;
        mutable Rest rest;  ///< as it was last asked for
    };
    Hidden* hiddenOf(const Document& document, PartId part, const FaceMask& mask);

    std::map<PartId, Hidden> faces_;
};

}  // namespace pivrak
