#include "core/rig/chains/hanging_run.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/geometry/frame.h"

namespace pivrak {
namespace {

/// Where the last link of a run ends.
Vec2 end_of(const HangingRun& run, const Vec2& from, long links, double link) {
    Vec2 at = from;
    for (long k = 0; k < links; ++k) at += link * run.link(k);
    return at;
}

TEST(HangingRun, ReachesItsEndWhateverHangs) {
    std::mt19937 dice(5);
    const auto in = [&](double low, double high) {
        return std::uniform_real_distribution<double>(low, high)(dice);
    };
    for (int i = 0; i < 5000; ++i) {
        SCOPED_TRACE(i);
        const long links = std::uniform_int_distribution<long>(2, 120)(dice);
        const double link = in(0.01, 0.2), length = link * static_cast<double>(links);
        // From all but straight to far too long.
        const double distance = length * (1 - std::pow(10, in(-9, -0.1)));
        const double way = in(0, 2 * pi), down = in(0, 2 * pi);
        const Vec2 from(in(-1, 1), in(-1, 1)), to = from + distance * Vec2(std::cos(way), std::sin(way));
        const HangingRun run = HangingRun::find(from, to, links, link, {std::cos(down), std::sin(down)});
        ASSERT_LT((end_of(run, from, links, link) - to).norm(), 1e-8 * (1 + length));
    }
}

TEST(HangingRun, LiesSymmetricallyBetweenEqualHeights) {
    const HangingRun run = HangingRun::find({0, 0}, {1, 0}, 21, 0.05, {0, -1});
    for (long k = 0; k < 10; ++k) {
        EXPECT_NEAR(run.direction(k), -run.direction(20 - k), 1e-9);
        EXPECT_LT(run.direction(k), run.direction(k + 1)) << "it turns upwards all the way";
    }
    EXPECT_NEAR(run.direction(10), 0, 1e-9);
}

TEST(HangingRun, HoldsTheLeastHeightOfItsMiddle) {
    // An independent answer: at rest the sum of heights is the least there is. Any small change of two
    // neighbouring links that keeps both ends makes it larger.
    const long links = 16;
    const double link = 0.07;
    const Vec2 from(0, 0), to(0.9, 0.2);
    const HangingRun run = HangingRun::find(from, to, links, link, {0, -1});
    std::vector<Vec2> joints{from};
    for (long k = 0; k < links; ++k) joints.push_back(joints.back() + link * run.link(k));
    const auto on_circles = [&](const Vec2& a, const Vec2& b, double side) {
        const Vec2 between = b - a, middle = 0.5 * (a + b), across(-between.y(), between.x());
        const double off = std::sqrt(std::max(0.0, link * link - 0.25 * between.squaredNorm()));
        return Vec2(middle + side * off * across.normalized());
    };
    // Joint i is moved a little along its circle about joint i - 1; joint i + 1 follows to keep joint i + 2.
    for (std::size_t i = 1; i + 2 < joints.size(); ++i)
        for (const double by : {1e-4, -1e-4}) {
            const Vec2 arm = joints[i] - joints[i - 1];
            const Vec2 moved = joints[i - 1] + Vec2(std::cos(by) * arm.x() - std::sin(by) * arm.y(),
                                                    std::sin(by) * arm.x() + std::cos(by) * arm.y());
            const Vec2 one = on_circles(moved, joints[i + 2], 1),
                       other = on_circles(moved, joints[i + 2], -1);
            const Vec2 next = (one - joints[i + 1]).norm() < (other - joints[i + 1]).norm() ? one : other;
            EXPECT_GT(moved.y() + next.y(), joints[i].y() + joints[i + 1].y() - 1e-10) << i;
        }
}

}  // namespace
}  // namespace pivrak
