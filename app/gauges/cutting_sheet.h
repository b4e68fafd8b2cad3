#pragma once

#include "app/gauges/protractor.h"
#include "app/session/tool_plane.h"
#include "core/model/units.h"

namespace pivrak {

/// A plane for a cut as it stands in the view: a sheet through what it cuts, with a knob on a stalk that
/// moves it along its normal, and a mark on each of two edges that tilts and turns it. The geometry and its
/// answers to the mouse need no window.
class CuttingSheet {
public:
    enum class Grip { Move, Tilt, Turn };

    ToolPlane tool;
    Vec3 middle{0, 0, 0};  ///< of the sheet, in the plane
    double reach_m = 1;    ///< half its width

    /// Where a grip is in the view; none when it is behind the eye.
    std::optional<Vec2> place(Grip grip, const Camera& camera) const;
    std::optional<Grip> grip_at(const Camera& camera, const Vec2& pixel) const;
    /// The dial that measures the tilt or the turn.
    Protractor dial(Grip grip) const;

    /// \param dragged the grip that is held, which shows its dial
    void paint(QPainter& painter, const Camera& camera, const Theme& theme, LengthUnit unit,
               std::optional<Grip> dragged) const;

private:
    void paint_label(QPainter& painter, const Vec2& at, const QString& text, const Theme& theme) const;
};

/// A grip of a sheet being dragged; `snaps` are heights along the normal, from the plane at the start, that
/// the plane jumps to when it is near.
class SheetDrag {
public:
    SheetDrag(const CuttingSheet& start, CuttingSheet::Grip grip, const Camera& camera, const Vec2& pixel,
              std::vector<double> snaps);
    CuttingSheet::Grip grip() const { return grip_; }
    /// The plane for the pointer at `pixel`. Tilts go by whole degrees, `coarse` by 5 and moves by 10 mm;
    /// `fine` moves a tenth as fast and snaps to nothing.
    ToolPlane move(const Camera& camera, const Vec2& pixel, bool coarse, bool fine);

private:
    double moved(const Camera& camera, const Vec2& pixel, bool coarse, bool fine) const;

    CuttingSheet start_;
    CuttingSheet::Grip grip_;
    Vec2 pressed_;
    std::vector<double> snaps_;
    std::optional<TurnDrag> turning_;
};

}  // namespace pivrak
