#pragma once

#include <optional>

#include "core/geometry/mesh/mesh.h"
#include "core/geometry/near/ray_scene.h"

namespace pivrak {

/// From places to pixels.
struct Projection {
    Vec3 eye, right, up, back;
    Vec2 middle_px;
    double scale;  ///< pixels of a metre at a depth of one metre
    double depth;  ///< the one at which all is seen in a picture without perspective [m]; else 0
    Vec3 operator()(const Vec3& world) const {
        const Vec3 from_eye = world - eye;
        const double away = -from_eye.dot(back), size = scale / (depth > 0 ? depth : std::max(away, 1e-9));
        return {middle_px.x() + size * from_eye.dot(right), middle_px.y() - size * from_eye.dot(up), away};
    }
};

/// Where the view looks from, and how places in the world become pixels. No window in it.
/// Pixels run from the top left corner of the view; depth rises away from the eye.
class Camera {
public:
    /// Azimuth [rad] is the direction the eye stands in, seen from the target: 0 in front of the model (X),
    /// a quarter turn to its left (Y). Elevation [rad] is above the floor.
    double azimuth = -1.05, elevation = 0.32;
    Vec3 target{0, 0, 0.5};
    double distance = 6;
    bool perspective = true;

    void resize(double width, double height);
    double width() const { return width_; }
    double height() const { return height_; }

    Vec3 eye() const { return target + distance * back(); }
    Vec3 back() const;   ///< unit, from target to eye
    Vec3 right() const;  ///< unit, to the right of the picture
    Vec3 up() const;     ///< unit, to the top of the picture

    Mat4 view_from_world() const;
    Mat4 clip_from_view() const;
    Mat4 clip_from_world() const { return clip_from_view() * view_from_world(); }

    /// Pixel of a place; z is the depth along the line of sight [m], below zero behind the eye.
    Vec3 project(const Vec3& world) const { return projection()(world); }
    /// The same for many places, as the camera stands now.
    Projection projection() const;
    Ray ray(const Vec2& pixel) const;
    /// The place on the floor, z = 0, under a pixel; none above the horizon.
    std::optional<Vec3> floor_at(const Vec2& pixel) const;
    /// Metres that one pixel covers at a place.
    double metres_per_pixel(const Vec3& at) const;

    void orbit(double right_px, double down_px);
    void pan(double right_px, double down_px);
    /// Nearer for factors below 1; what is under the pixel stays under it.
    void zoom(double factor, const Vec2& pixel);
    /// Stands where a camera of the project does: along its X, its Z up, seeing so much from bottom to top.
    /// Until a hand moves it.
    void look_through(const Frame& world_from_camera, double field_rad);
    void leave_camera();
    bool is_through() const { return through_; }
    double field_rad() const { return field_; }
    /// Shows all of the bounds with some air, direction unchanged.
    void frame(const Bounds& bounds);

private:
    double half_height_per_distance() const;
    double width_ = 800, height_ = 600;
    double field_ = 32 * rad_per_deg;
    bool through_ = false;
    Frame carried_;  ///< of the camera that it looks through
};

}  // namespace pivrak
