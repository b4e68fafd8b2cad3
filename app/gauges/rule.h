#pragma once

#include <QPainter>
#include <optional>

#include "app/gauges/label_room.h"
#include "app/shell/theme.h"
#include "app/view/camera.h"
#include "core/model/channel.h"
#include "core/model/units.h"

namespace pivrak {

/// A graduated rule along a slide, standing in the scene: zero at rest, ticks that suit the zoom, limits, and
/// a knob at the present shift. The same for a size, from where there would be nothing left of a part. Looked
/// at along its direction it has no length to be read; the pointer then moves it up and down. The geometry
/// and its answers to the mouse need no window.
class Rule {
public:
    Vec3 origin{0, 0, 0};     ///< where the part stands at rest
    Vec3 direction{1, 0, 0};  ///< unit, shifts count positive along it
    double world_m = 1;       ///< how long a metre of it is in the world, or a size of one
    bool is_ratio = false;    ///< a size, without a unit
    Vec3 aside{0, 0, 0};      ///< how far it is drawn beside the part, as a dimension line is
    double shift_m = 0;
    std::optional<Limits> limits;
    std::optional<double> ghost_m;  ///< where the knob stood before it was dragged
    bool driven = false, plain = false;
    QString letter;

    Vec3 place(double shift_m) const { return origin + aside + shift_m * world_m * direction; }
    bool is_end_on(const Camera& camera) const;
    Vec2 knob(const Camera& camera) const;
    bool is_on_knob(const Camera& camera, const Vec2& pixel) const;
    /// The shift under a pixel [m]: where the line of sight passes the rule nearest.
    double shift_at(const Camera& camera, const Vec2& pixel) const;

    /// Metres from one tick to the next that stand at least six pixels apart: 1, 2 or 5 times a power of ten.
    double tick_m(const Camera& camera) const;
    void paint(QPainter& painter, const Camera& camera, const Theme& theme, LengthUnit unit,
               LabelRoom* room = nullptr) const;

private:
    double per_pixel(const Camera& camera, const Vec3& at) const {
        return camera.metres_per_pixel(at) / world_m;
    }
    QString label(double value, LengthUnit unit, int decimals) const;
    Limits span(const Camera& camera) const;
    void paint_ticks(QPainter& painter, const Camera& camera, const Theme& theme, const QColor& color,
                     LengthUnit unit, LabelRoom* room) const;
    void paint_limits(QPainter& painter, const Camera& camera, const Theme& theme) const;
};

/// A shift being dragged: keeps the distance the pointer had from the knob, keeps within limits, and steps or
/// slows down as the hands ask.
class ShiftDrag {
public:
    ShiftDrag(double start_shift_m, double start_pointer_m) : raw_(start_shift_m), last_(start_pointer_m) {}
    /// `coarse` steps by `step`, `fine` moves a tenth as fast.
    double move(double pointer_m, bool coarse, bool fine, const std::optional<Limits>& limits,
                double step = 0.01);

private:
    double raw_, last_;
};

}  // namespace pivrak
