#pragma once

#include <unordered_set>

#include "app/session/laid_prints.h"
#include "app/view/merged_meshes.h"
#include "app/view/scene_renderer.h"

namespace pivrak {

/// What the view draws of the document: shapes as they stand, prints, picked faces, and a person beside a
/// model that comes in. Small parts that are fixed to each other are drawn as one mesh; that they are still
/// where that mesh has them is looked at each time.
class DrawnScene {
public:
    DrawnScene(const Session& session, const LaidPrints& prints, const Look& look);

    /// As it stands now. Valid until the next call. What parts look like is kept; only where they stand is
    /// looked up each time. The first ones are parts, alone or several as one.
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
        DrawItem item;
    };
    /// Parts as one mesh. Each lies where it is in it for as long as they stay together.
    struct Group {
        std::optional<std::size_t> mover;  ///< slot of the part they are fixed to; none for the world
        Frame mover_from_mesh;
        std::vector<std::size_t> members;  ///< of the drawn
        std::vector<Frame> mover_from_member;
    };
    void look();
    void group();
    void addGroups(std::optional<std::size_t> mover, const std::vector<std::size_t>& members);
    void addGroup(std::optional<std::size_t> mover, std::vector<std::size_t> members);
    std::shared_ptr<const Paint> mergedPaint(const Paint& member);
    bool canShare(const Drawn& drawn, std::size_t times) const;
    Frame worldOf(std::optional<std::size_t> mover) const;
    void placeParts();
    /// Notes whoever left its group; false when somebody did.
    bool stayTogether();
    std::shared_ptr<const Paint> paintOf(const Part& part, const std::shared_ptr<const Mesh>& mesh);
    std::shared_ptr<const Paint> materialPaint(const Mesh& mesh) const;
    std::vector<QColor> materialColors(const Mesh& mesh) const;
    std::vector<SurfacePaint> surfacesOf(const Mesh& mesh) const;
    SurfacePaint surfaceOf(const Material& material, const Mesh& mesh) const;
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
    std::vector<Drawn> drawn_;
    std::vector<std::size_t> alone_;    ///< of the first items
    std::vector<Group> groups_;         ///< of the items after them
    std::unordered_set<PartId> apart_;  ///< left those they are fixed to before now
    MergedMeshes merged_;
    std::vector<std::shared_ptr<const Paint>> merged_paints_;  ///< white, one for each surface
    std::vector<DrawItem> items_;
    std::unordered_map<const Mesh*, std::shared_ptr<const Paint>> paints_;
};

}  // namespace pivrak
