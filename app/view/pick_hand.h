#pragma once

#include "app/view/view_picker.h"

namespace pivrak {

/// What the view shows beside shapes, and what can be picked for that.
struct ViewAids {
    bool frames = false;  ///< pivots
    double grid_step_m = 1;
};

/// The hand that picks: parts, or elements of them, one by one or inside an outline.
class PickHand {
public:
    PickHand(Session& session, const Camera& camera) : session_(session), camera_(camera), picker_(session) {}

    ViewPicker& picker() { return picker_; }
    /// The part under a pixel, if any.
    std::optional<PartId> partAt(const QPointF& pixel);
    void pickAt(const QPointF& pixel, Qt::KeyboardModifiers modifiers, const ViewAids& aids);
    void pickInside(const QPolygonF& outline, Qt::KeyboardModifiers modifiers);

private:
    std::optional<PickedPlace> placeAt(const QPointF& pixel, const ViewAids& aids);
    void combineSelection(const std::vector<PartId>& picked, Qt::KeyboardModifiers modifiers);
    void combinePicks(const ElementPicks& picked, Qt::KeyboardModifiers modifiers);

    Session& session_;
    const Camera& camera_;
    ViewPicker picker_;
};

}  // namespace pivrak
