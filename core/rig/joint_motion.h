#pragma once

#include "core/model/part.h"

namespace pivrak {

/// Where a joint puts a part against its rest frame. `values` holds those of `channels_of(kind)`, in their
/// order. Three turns are intrinsic: about z, then the turned y, then the turned x.
inline Frame rest_from_part(JointKind kind, int axis, const double* values) {
    switch (kind) {
        case JointKind::Fixed:
            return {};
        case JointKind::Hinge:
            return {turn_about_axis(axis, values[0]), Vec3(0, 0, 0)};
        case JointKind::Slide:
            return {Quat(1, 0, 0, 0), values[0] * Vec3::Unit(axis)};
        case JointKind::Cylinder:
            return {turn_about_axis(axis, values[0]), values[1] * Vec3::Unit(axis)};
        case JointKind::Ball:
            return {
                turn_about_axis(2, values[2]) * turn_about_axis(1, values[1]) * turn_about_axis(0, values[0]),
                Vec3(0, 0, 0)};
        case JointKind::Free:
            return {
                turn_about_axis(2, values[5]) * turn_about_axis(1, values[4]) * turn_about_axis(0, values[3]),
                Vec3(values[0], values[1], values[2])};
    }
    return {};
}

/// The turns about z, y, x that make a rotation: x, y and z, with y within a quarter turn. Of the two answers
/// the one nearest to `near` is given, each turn counted on from it, so that a motion in small steps never
/// jumps. Where y stands at a quarter turn, x keeps its value of `near`.
Vec3 turns_from_rotation(const Quat& rotation, const Vec3& near);

}  // namespace pivrak
