#pragma once

#include <cmath>

#include "core/geometry/types.h"

namespace pivrak {

/// A string of rigid links of one length and one weight that hangs between two places, at rest.
class HangingRun {
public:
    /// The unit `down` says where weight pulls; a run that hangs almost along it is pulled a little aside, so
    /// that it opens into a loop. Pre: one or more links, longer together than the distance.
    static HangingRun find(const Vec2& from, const Vec2& to, long links, double link_m, Vec2 down);

    /// Unit direction of link k, counted from 0; also of those that would come before and after.
    Vec2 link(long k) const {
        if (turn_ == 0) return (tension_ - static_cast<double>(k) * down_).normalized();
        const double angle = first_ + static_cast<double>(k) * turn_;
        return {std::cos(angle), std::sin(angle)};
    }
    double direction(long k) const {
        const Vec2 way = link(k);
        return std::atan2(way.y(), way.x());
    }

private:
    void lay_arc(const Vec2& along, long links, double link_m, double distance, const Vec2& down);

    Vec2 tension_{1, 0};  ///< of link 0, in weights of one link
    Vec2 down_{0, -1};
    double first_ = 0, turn_ = 0;  ///< of links that stand in an arc instead [rad]
};

}  // namespace pivrak
