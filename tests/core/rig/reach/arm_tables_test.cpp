// Arms of two textbooks, set up from their tables of joints: where the hand stands is what the books' own
// formulas say, and a goal from these formulas is reached. Tables give for each joint the turn about z, the
// shift along z, the shift along x and the turn about x that follow it (J. Denavit, R. S. Hartenberg, A
// Kinematic Notation for Lower-Pair Mechanisms Based on Matrices, 1955).
#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/elements/reach/reach_motion.h"
#include "core/motion/evaluator.h"
#include "tests/support/documents.h"

namespace pivrak {
namespace {

using test::add_part;
using test::named;
using test::run;

struct Row {
    double d_m, a_m, alpha_rad;
    bool slides = false;
    Limits limits;
};

/// Parts `1` to `n` with a joint each, and `hand` on the last.
Document arm_of(const std::vector<Row>& table) {
    Document d = empty_document();
    PartId above;
    Frame next;
    for (std::size_t i = 0; i < table.size(); ++i) {
        const Row& row = table[i];
        above = add_part(d, std::to_string(i + 1), above, next);
        Part part = *d.parts.find(above);
        part.joint.kind = row.slides ? JointKind::Slide : JointKind::Hinge;
        part.joint.axis = 2;
        (row.slides ? part.joint.shift : part.joint.turn).limits = row.limits;
        d.parts.set(part);
        next = Frame{Quat(1, 0, 0, 0), Vec3(0, 0, row.d_m)} *
               Frame{turn_about_axis(0, row.alpha_rad), Vec3(row.a_m, 0, 0)};
    }
    add_part(d, "hand", above, next);
    return d;
}

ChannelRef channel_of(const Document& d, std::size_t joint) {
    const PartId part = named(d, std::to_string(joint));
    return {part,
            d.parts.find(part)->joint.kind == JointKind::Slide ? ChannelKind::Shift : ChannelKind::Turn};
}

using Hand = std::function<Vec3(const std::vector<double>&)>;

/// Random poses inside the limits: the hand by our frames and by the book; then the arm reaches for such a
/// hand.
void expect_as_printed(const std::vector<Row>& table, const Hand& printed) {
    const Document d = arm_of(table);
    std::mt19937 random(5);
    std::uniform_real_distribution<double> share(0, 1);
    const auto evaluator = Evaluator::compile(d);
    ASSERT_TRUE(evaluator.ok());
    Pose pose = evaluator->make_pose();
    const auto drawn = [&] {
        std::vector<double> q;
        for (const Row& row : table)
            q.push_back(row.limits.min + share(random) * (row.limits.max - row.limits.min));
        return q;
    };
    for (int look = 0; look < 200; ++look) {
        const std::vector<double> q = drawn();
        std::vector<HeldChannel> held;
        for (std::size_t j = 0; j < q.size(); ++j)
            held.push_back({*evaluator->channel_slot(channel_of(d, j + 1)), q[j]});
        evaluator->evaluate(0, pose, held);
        const Vec3 hand = pose.world_from_part[*evaluator->part_slot(named(d, "hand"))].translation;
        ASSERT_LT((hand - printed(q)).norm(), 1e-12);
    }
    const Document reaching =
        run(d, {{"op", "reach.add"}, {"root", "1"}, {"tip", "hand"}, {"to", {0, 0, 0}}, {"name", "r"}});
    int reached = 0;
    constexpr int goals = 40;
    for (int goal = 0; goal < goals; ++goal) {
        const Vec3 wanted = printed(drawn());
        const Document there =
            run(reaching,
                {{"op", "reach.set"}, {"reaches", {"r"}}, {"to", {wanted.x(), wanted.y(), wanted.z()}}});
        const auto solved = Evaluator::compile(there);
        Pose now = solved->make_pose();
        solved->evaluate(0, now);
        std::vector<double> q;
        for (std::size_t j = 0; j < table.size(); ++j) {
            q.push_back(now.channels[*solved->channel_slot(channel_of(there, j + 1))]);
            EXPECT_GE(q[j], table[j].limits.min - 1e-9);
            EXPECT_LE(q[j], table[j].limits.max + 1e-9);
        }
        reached += (printed(q) - wanted).norm() < 1e-6;
    }
    EXPECT_EQ(reached, goals) << "by the book's formula of what the joints were solved to";
}

/// Source: M. W. Spong, S. Hutchinson, M. Vidyasagar, Robot Modeling and Control, 2006, section 3.2: the arm
/// of Stanford, its table of joints and the place of its hand. From memory.
TEST(ArmTables, TheArmOfStanford) {
    constexpr double d2 = 0.154, d6 = 0.263, quarter = pi / 2;
    const Limits turn{-2.4, 2.4};
    expect_as_printed({{0, 0, -quarter, false, turn},
                       {d2, 0, quarter, false, turn},
                       {0, 0, 0, true, {0.2, 1.1}},
                       {0, 0, -quarter, false, turn},
                       {0, 0, quarter, false, turn},
                       {d6, 0, 0, false, turn}},
                      [](const std::vector<double>& q) -> Vec3 {
                          const double c1 = std::cos(q[0]), s1 = std::sin(q[0]), c2 = std::cos(q[1]),
                                       s2 = std::sin(q[1]), d3 = q[2], c4 = std::cos(q[3]),
                                       s4 = std::sin(q[3]), c5 = std::cos(q[4]), s5 = std::sin(q[4]);
                          return {
                              c1 * s2 * d3 - s1 * d2 + d6 * (c1 * c2 * c4 * s5 + c1 * c5 * s2 - s1 * s4 * s5),
                              s1 * s2 * d3 + c1 * d2 + d6 * (c1 * s4 * s5 + c2 * c4 * s1 * s5 + c5 * s1 * s2),
                              c2 * d3 + d6 * (c2 * c5 - c4 * s2 * s5)};
                      });
}

/// Source: B. Siciliano, L. Sciavicco, L. Villani, G. Oriolo, Robotics: Modelling, Planning and Control,
/// 2009, section 2.9: the anthropomorphic arm, its table of joints and the place of its wrist. From memory.
TEST(ArmTables, TheAnthropomorphicArm) {
    constexpr double a2 = 0.45, a3 = 0.38;
    expect_as_printed(
        {{0, 0, pi / 2, false, {-3, 3}}, {0, a2, 0, false, {-0.5, 2.2}}, {0, a3, 0, false, {-2.4, -0.1}}},
        [](const std::vector<double>& q) -> Vec3 {
            const double reach = a2 * std::cos(q[1]) + a3 * std::cos(q[1] + q[2]);
            return {std::cos(q[0]) * reach, std::sin(q[0]) * reach,
                    a2 * std::sin(q[1]) + a3 * std::sin(q[1] + q[2])};
        });
}

}  // namespace
}  // namespace pivrak
