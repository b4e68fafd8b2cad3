#pragma once

#include <QFuture>
#include <QPolygonF>
#include <optional>

#include "app/session/session.h"
#include "app/view/camera.h"
#include "core/geometry/near/ray_scene.h"

namespace pivrak {

/// Finds what lies under pixels and inside outlines of the view. Search trees of new shapes are built off the
/// interface thread; locked and hidden parts are passed through.
class ViewPicker {
public:
    explicit ViewPicker(Session& session);
    ~ViewPicker();

    /// The scene is no longer as it was. Building begins at once when shapes may be new.
    void invalidate(bool shapes_changed);

    struct Hit {
        PartId part;
        std::uint32_t triangle;
        Vec3 place;  ///< in the world
    };
    std::optional<Hit> hit(const Camera& camera, const QPointF& pixel);
    /// The same, or where nothing lies there what lies a few pixels beside.
    std::optional<Hit> hit_near(const Camera& camera, const QPointF& pixel);
    /// What lies a few pixels beside.
    std::optional<Hit> hit_beside(const Camera& camera, const QPointF& pixel);
    /// The vertex, or the side, of the triangle under a pixel that is nearest to it, within some pixels.
    std::optional<PickedPoint> point(const Camera& camera, const QPointF& pixel);
    std::optional<PickedEdge> edge(const Camera& camera, const QPointF& pixel);
    /// What a pivot may go to near a pixel: a corner, the middle of an edge, the centre of a round rim whose
    /// edge is under it, or the middle of the flat area.
    std::optional<PickedPlace> place(const Camera& camera, const QPointF& pixel);

    /// Parts that lie whole inside an outline; only those that show a pixel there, unless `through`.
    std::vector<PartId> parts_inside(const Camera& camera, const QPolygonF& outline, bool through);
    /// Faces, vertices or edges inside an outline; `through` takes all whose corners lie in it, else those
    /// seen.
    ElementPicks elements_inside(const Camera& camera, const QPolygonF& outline,
                                 const PickSettings& settings);

    /// Waits until the search trees are ready; for measuring.
    void settle();

private:
    struct Seen {
        PartId part;
        std::uint32_t triangle;
        auto operator<=>(const Seen&) const = default;
    };
    void ready();
    std::uint32_t triangle_of(PartId part, std::uint32_t seen) const;
    void startBuilding();
    std::vector<RayScene::Instance> instances();
    std::vector<Seen> seen_inside(const Camera& camera, const QPolygonF& outline);
    bool pickable(const Part& part) const;
    template <class Take>
    void each_triangle_inside(const Camera& camera, const QPolygonF& outline, Take take);

    Session& session_;
    std::shared_ptr<RayScene> rays_ = std::make_shared<RayScene>();
    std::vector<PartId> ray_parts_;
    QFuture<void> building_;
    bool stale_ = true;
};

}  // namespace pivrak
