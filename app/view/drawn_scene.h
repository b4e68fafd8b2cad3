#pragma once

#include "app/session/laid_prints.h"
#include "app/view/scene_renderer.h"

namespace pivrak {

/// What the view draws of the document: shapes as they stand, prints, picked faces, and a person beside a
/// model that comes in.
class DrawnScene {
public:
    DrawnScene(const Session& session, const LaidPrints& prints, const Look& look);

    std::vector<DrawItem> items(const Camera& camera, bool person) const;
    /// Bounds of what is shown, as it stands.
    Bounds shownBounds() const;
    /// Bounds of the shapes and symbols of parts.
    Bounds boundsOf(const std::vector<PartId>& parts) const;

private:
    std::vector<QColor> colorsOf(const Part& part, const Mesh& mesh) const;
    std::vector<QColor> materialColors(const Mesh& mesh) const;
    std::vector<std::shared_ptr<const std::vector<unsigned char>>> picturesOf(const Mesh& mesh) const;
    void addPrints(std::vector<DrawItem>& items) const;
    void addPickedFaces(std::vector<DrawItem>& items) const;
    void addPerson(std::vector<DrawItem>& items, const Camera& camera) const;

    const Session& session_;
    const LaidPrints& prints_;
    const Look& look_;
    std::shared_ptr<const Mesh> person_mesh_;
};

}  // namespace pivrak
