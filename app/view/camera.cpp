#include "app/view/camera.h"

#include <algorithm>
#include <cmath>

namespace pivrak {
namespace {
constexpr double usual_field = 32 * rad_per_deg;
constexpr double steepest = 89.9 * rad_per_deg;
}  // namespace

void Camera::resize(double width, double height) {
    width_ = std::max(1.0, width);
    height_ = std::max(1.0, height);
}

Vec3 Camera::back() const {
    if (through_) return -carried_.axis(0);
    return {std::cos(elevation) * std::cos(azimuth), std::cos(elevation) * std::sin(azimuth),
            std::sin(elevation)};
}

Vec3 Camera::right() const {
    if (through_) return -carried_.axis(1);
    return {-std::sin(azimuth), std::cos(azimuth), 0};
}

Vec3 Camera::up() const {
    return back().cross(right());
}

void Camera::look_through(const Frame& world_from_camera, double field_rad) {
    through_ = true;
    carried_ = world_from_camera;
    carried_.size = 1;
    field_ = field_rad;
    perspective = true;
    target = carried_.translation - distance * back();
}

/// It stays where it is, upright again.
void Camera::leave_camera() {
    if (!through_) return;
    const Vec3 was = back();
    azimuth = std::atan2(was.y(), was.x());
    elevation = std::clamp(std::asin(std::clamp(was.z(), -1.0, 1.0)), -steepest, steepest);
    const Vec3 stood = carried_.translation;
    through_ = false;
    field_ = usual_field;
    target = stood - distance * back();
}

Mat4 Camera::view_from_world() const {
    Mat4 m = Mat4::Identity();
    m.block<1, 3>(0, 0) = right().transpose();
    m.block<1, 3>(1, 0) = up().transpose();
    m.block<1, 3>(2, 0) = back().transpose();
    m.topRightCorner<3, 1>() = -(m.topLeftCorner<3, 3>() * eye());
    return m;
}

double Camera::half_height_per_distance() const {
    return std::tan(field_ / 2);
}

Mat4 Camera::clip_from_view() const {
    const double aspect = width_ / height_, half = half_height_per_distance();
    const double near = perspective ? distance * 0.01 : -distance * 50, far = distance * 60;
    Mat4 m = Mat4::Zero();
    if (perspective) {
        m(0, 0) = 1 / (half * aspect);
        m(1, 1) = 1 / half;
        m(2, 2) = -(far + near) / (far - near);
        m(2, 3) = -2 * far * near / (far - near);
        m(3, 2) = -1;
    } else {
        m(0, 0) = 1 / (distance * half * aspect);
        m(1, 1) = 1 / (distance * half);
        m(2, 2) = -2 / (far - near);
        m(2, 3) = -(far + near) / (far - near);
        m(3, 3) = 1;
    }
    return m;
}

Projection Camera::projection() const {
    return {eye(),
            right(),
            up(),
            back(),
            Vec2(width_ / 2, height_ / 2),
            height_ / 2 / half_height_per_distance(),
            perspective ? 0 : distance};
}

Ray Camera::ray(const Vec2& pixel) const {
    const double half = half_height_per_distance();
    const double x = (pixel.x() - width_ / 2) / (height_ / 2) * half,
                 y = (height_ / 2 - pixel.y()) / (height_ / 2) * half;
    if (perspective) return {eye(), (x * right() + y * up() - back()).normalized()};
    return {eye() + distance * (x * right() + y * up()) + 40 * distance * back(), -back()};
}

std::optional<Vec3> Camera::floor_at(const Vec2& pixel) const {
    const Ray sight = ray(pixel);
    const double along = -sight.origin.z() / sight.direction.z();
    if (!(along > 0) || !std::isfinite(along)) return std::nullopt;
    return Vec3(sight.origin + along * sight.direction);
}

double Camera::metres_per_pixel(const Vec3& at) const {
    const double depth = perspective ? std::max(1e-9, -(at - eye()).dot(back())) : distance;
    return depth * half_height_per_distance() / (height_ / 2);
}

void Camera::orbit(double right_px, double down_px) {
    leave_camera();
    azimuth -= right_px * 0.008;
    elevation = std::clamp(elevation + down_px * 0.008, -steepest, steepest);
}

void Camera::pan(double right_px, double down_px) {
    leave_camera();
    const double scale = metres_per_pixel(target);
    target += scale * (down_px * up() - right_px * right());
}

void Camera::zoom(double factor, const Vec2& pixel) {
    leave_camera();
    const Vec3 seen = [&] {
        const Ray r = ray(pixel);
        return Vec3(r.origin + r.direction * ((target - r.origin).dot(back()) / r.direction.dot(back())));
    }();
    const double before = distance;
    distance = std::clamp(distance * factor, 1e-3, 1e5);
    target = seen + (target - seen) * (distance / before);
}

void Camera::frame(const Bounds& bounds) {
    leave_camera();
    if (bounds.empty()) return;
    target = bounds.middle();
    const double half = half_height_per_distance();
    double needed = 1e-3;
    for (int corner = 0; corner < 8; ++corner) {
        const Vec3 p(corner & 1 ? bounds.max.x() : bounds.min.x(),
                     corner & 2 ? bounds.max.y() : bounds.min.y(),
                     corner & 4 ? bounds.max.z() : bounds.min.z());
        const Vec3 from = p - target;
        const double ahead = perspective ? from.dot(back()) : 0;
        needed = std::max({needed, std::abs(from.dot(up())) / half + ahead,
                           std::abs(from.dot(right())) / (half * width_ / height_) + ahead});
    }
    distance = 1.16 * needed;
}

}  // namespace pivrak
