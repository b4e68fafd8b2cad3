// Random rigs of paths, riders, wheels, constraints, carriers and copies: always finite, rigid, the same from
// their file, and undone.
#include <gtest/gtest.h>

#include <random>

#include "core/checks/findings.h"
#include "core/io/project/project_file.h"
#include "core/motion/evaluator.h"
#include "core/operations/history.h"
#include "tests/support/documents.h"

namespace pivrak {
namespace {

using nlohmann::json;

class Rigs {
public:
    explicit Rigs(unsigned seed) : random_(seed) {}

    Document start() {
        Document d = empty_document();
        for (int i = 0; i < 8; ++i) {
            const PartId parent = i > 3 ? Tree(d).all()[pick(4)] : PartId{};
            const PartId id = test::add_shaped(d, fmt::format("part {}", i),
                                               test::to_mesh(pivrak::shaft(100 + 20 * i, -30, 30, 0, 24)),
                                               parent, {Quat(1, 0, 0, 0), Vec3(share(), share(), 0.3)});
            if (i > 3) test::make_hinge(d, id, static_cast<int>(pick(3)));
        }
        test::add_shaped(d, "ground", test::box({-30, -30, -1}, {30, 30, 0}));
        return d;
    }

    json step(const Document& d) {
        const std::vector<PartId> all = Tree(d).all();
        const std::uint64_t one = all[pick(all.size())].value, other = all[pick(all.size())].value;
        const std::string path = d.paths.empty() ? "none" : d.paths.begin()->name;
        switch (pick(22)) {
            case 0:
                return {{"op", "path.add"},
                        {"form", chance(0.5) ? "smooth" : "polyline"},
                        {"points", points()},
                        {"closed", chance(0.5)}};
            case 1:
                return {{"op", "path.add"},
                        {"form", "circle"},
                        {"centre", {share(), share(), 1}},
                        {"radius", 2 + share()},
                        {"across", chance(0.5) ? "z" : "y"}};
            case 2:
                return {{"op", "ride.set"},
                        {"parts", {one}},
                        {"path", path},
                        {"at", std::to_string(4 * share()) + " m"},
                        {"upright", chance(0.5) ? "path" : "plumb"},
                        {"front", chance(0.5) ? 0.3 : 0.0}};
            case 3:
                return {{"op", "ride.string"}, {"parts", {one}},
                        {"path", path},        {"count", 3},
                        {"gap", 0.2},          {"coupling", chance(0.5) ? "straight" : "path"}};
            case 4:
                return {{"op", "coupling.roll"}, {"parts", {one}}};
            case 5:
                return {{"op", "coupling.roll"}, {"parts", {one}}, {"rider", other}};
            case 6:
                return {{"op", "path.drape"}, {"path", path}, {"ground", "ground"}, {"ease", 0.5}};
            case 7:
                return {{"op", "path.carry"}, {"path", path}, {"under", one}};
            case 8:
                return {{"op", "path.respace"}, {"path", path}, {"count", 6}};
            case 9:
                return {{"op", "path.move_point"},
                        {"path", path},
                        {"point", 1},
                        {"place", {3 * share(), 3 * share(), share()}}};
            case 10:
                return {{"op", "part.remove"}, {"parts", {one}}};
            case 11:
                return {{"op", "part.duplicate"}, {"parts", {one}}, {"shift", {0, 1, 0}}};
            case 12:
                return {{"op", "tree.frame_above"}, {"parts", {one}}, {"takes_joint", true}};
            case 13:
                return {
                    {"op", "key.set"}, {"parts", {one}}, {"channel", "all"}, {"frame", 20 + 20 * share()}};
            case 14:
                return {{"op", "path.remove"}, {"path", path}};
            case 15: {
                const char* kinds[] = {"slide", "cylinder", "ball", "free"};
                return {{"op", "joint.set"}, {"parts", {one}}, {"kind", kinds[pick(4)]}, {"axis", "y"}};
            }
            case 16:
            case 17: {
                const char* asks[] = {"place", "turn", "aim", "rest", "plumb", "inside"};
                json step{{"op", "constraint.add"},           {"parts", {one}},       {"asks", asks[pick(6)]},
                          {"blend", chance(0.5) ? 1.0 : 0.4}, {"keep", chance(0.5)},  {"swings", chance(0.3)},
                          {"least_z", share() - 1},           {"most_x", share() + 1}};
                if (chance(0.7)) step["target"] = other;
                if (chance(0.3)) step["second"] = "z";
                return step;
            }
            case 18:
                return {{"op", "carry.add"}, {"parts", {one}}, {"carrier", other}, {"blend", 0.7}};
            case 19:
                return {{"op", "carry.change"}, {"parts", {one}}, {"frame", 30}};
            case 20:
                return {{"op", "channel.limit"},
                        {"parts", {one}},
                        {"channel", "turn"},
                        {"min", "-20 deg"},
                        {"max", "0.3 rad"}};
            default:
                return {{"op", "ride.remove"}, {"parts", {one}}};
        }
    }

private:
    json points() {
        json out = json::array();
        for (int i = 0; i < 5; ++i) out.push_back({4.0 * i + share(), 3 * share(), share()});
        return out;
    }
    double share() { return std::uniform_real_distribution<double>(-1, 1)(random_); }
    bool chance(double p) { return std::uniform_real_distribution<double>(0, 1)(random_) < p; }
    std::size_t pick(std::size_t n) { return std::uniform_int_distribution<std::size_t>(0, n - 1)(random_); }
    std::mt19937 random_;
};

void expect_sound(const Document& d, const json& step) {
    const auto evaluator = Evaluator::compile(d);
    ASSERT_TRUE(evaluator.ok()) << step.dump() << evaluator.error().message;
    Pose pose = evaluator->make_pose(), other = evaluator->make_pose();
    for (const double frame : {90.0, -3.0, 0.0, 33.5}) {
        evaluator->evaluate(frame, pose);
        for (const Frame& world : pose.world_from_part) {
            ASSERT_TRUE(world.translation.allFinite()) << step.dump();
            ASSERT_NEAR(world.rotation.norm(), 1, 1e-9) << step.dump();
        }
        for (const double channel : pose.channels) ASSERT_TRUE(std::isfinite(channel)) << step.dump();
    }
    evaluator->evaluate(33.5, other);
    EXPECT_EQ(pose.channels, other.channels) << "whatever was asked before";
}

TEST(RigProperty, RandomRigsStaySoundAndAreUndone) {
    const Registry registry = make_registry();
    std::size_t done = 0;
    for (unsigned seed = 1; seed <= 14; ++seed) {
        SCOPED_TRACE(seed);
        Rigs rigs(seed);
        History history(rigs.start());
        std::vector<Document> states{history.document()};
        for (int i = 0; i < 40; ++i) {
            const json step = rigs.step(history.document());
            auto outcome = registry.run(history.document(), step);
            if (!outcome) {
                EXPECT_FALSE(outcome.error().message.empty()) << step.dump();
                continue;
            }
            ++done;
            history.push(std::move(outcome->document), "edit", step);
            states.push_back(history.document());
            expect_sound(history.document(), step);
        }
        (void)check_document(history.document());
        const auto reopened = project_from_bytes(*project_bytes(history.document()), "p");
        ASSERT_TRUE(reopened.ok()) << reopened.error().message;
        EXPECT_TRUE(*reopened == history.document());
        for (std::size_t i = states.size(); i-- > 0;) {
            EXPECT_TRUE(history.document() == states[i]);
            if (history.can_undo()) history.undo();
        }
    }
    EXPECT_GT(done, 150u) << "most of the steps must be possible";
}

}  // namespace
}  // namespace pivrak
