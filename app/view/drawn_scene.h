#pragma once

#include "app/session/laid_prints.h"
#include "app/view/scene_renderer.h"

namespace pivrak {

/// What the view draws of the document: shapes as they stand, prints, picked faces, and a person beside a
/// model that comes in.
class DrawnScene {
public:
    DrawnScene(const Session& session, const LaidPrints& prints, const Look& look);

    /// As it stands now. Valid until the next call. What parts look like is kept; only where they stand is
    /// looked up each time.
    const std::vector<DrawItem>& items(const Camera& camera, bool person);
    /// What parts look like is looked up anew: after an edit, another selection or theme.
    void forget() { known_ = false; }
    /// Bounds of what is shown, as it stands.
    Bounds shownBounds() const;
    /// Bounds of the shapes and symbols of parts.
    Bounds boundsOf(const std::vector<PartId>& parts) const;

private:
    /// A part that is drawn.
    struct Drawn {
        std::size_t slot;  ///< of the evaluator's parts
        PartId part;
        Frame part_from_shape;
    };
    void look();
    std::shared_ptr<const Paint> paintOf(const Part& part, const std::shared_ptr<const Mesh>& mesh);
    std::shared_ptr<const Paint> materialPaint(const Mesh& mesh) const;
    std::vector<QColor> materialColors(const Mesh& mesh) const;
    std::vector<std::shared_ptr<const std::vector<unsigned char>>> picturesOf(const Mesh& mesh) const;
    void addPrints(std::vector<DrawItem>& items) const;
    void addPickedFaces(std::vector<DrawItem>& items) const;
    /// Picked parts, and what they carry, at moments before and after.
    void addPalePoses(std::vector<DrawItem>& items) const;
    void addPerson(std::vector<DrawItem>& items, const Camera& camera) const;

    const Session& session_;
    const LaidPrints& prints_;
    const Look& look_;
    std::shared_ptr<const Mesh> person_mesh_;
    bool known_ = false;
    std::vector<Drawn> drawn_;  ///< of the first items
    std::vector<DrawItem> items_;
    std::unordered_map<const Mesh*, std::shared_ptr<const Paint>> paints_;
};

}  // namespace pivrak
