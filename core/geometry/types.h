#pragma once

#include <Eigen/Core>
#include <Eigen/Geometry>

namespace pivrak {

using Vec2 = Eigen::Vector2d;
using Vec3 = Eigen::Vector3d;
using Vec2f = Eigen::Vector2f;
using Vec3f = Eigen::Vector3f;
/// Not over-aligned, so that colours pack tightly and live in plain vectors.
using Vec4f = Eigen::Matrix<float, 4, 1, Eigen::DontAlign>;
using Mat3 = Eigen::Matrix3d;
using Mat4 = Eigen::Matrix4d;
/// Not over-aligned, so that frames pack tightly and live in plain vectors.
using Quat = Eigen::Quaternion<double, Eigen::DontAlign>;

inline constexpr double pi = 3.14159265358979323846;
inline constexpr double rad_per_deg = pi / 180.0;
inline constexpr double deg_per_rad = 180.0 / pi;

}  // namespace pivrak
