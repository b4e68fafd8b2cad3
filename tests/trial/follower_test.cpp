// What a kind of rig element is owed by its fields and its four short files, and by nothing else.
#include <gtest/gtest.h>

#include "core/checks/drive/drive_map.h"
#include "core/checks/findings.h"
#include "core/io/project/project_file.h"
#include "core/motion/evaluator.h"
#include "core/rig/driven_by.h"
#include "tests/support/documents.h"

namespace pivrak {
namespace {

using namespace test;

/// A knob on a panel, a pointer that follows it twice as fast, and a lamp beside them.
struct Panel {
    Document document = empty_document();
    PartId knob, pointer, lamp;

    Panel() {
        knob = add_shaped(document, "knob", box({-1, -1, -1}, {1, 1, 1}));
        pointer = add_shaped(document, "pointer", box({2, -1, -1}, {4, 1, 1}));
        lamp = add_part(document, "lamp");
        make_hinge(document, knob, 2, 0.4);
        make_hinge(document, pointer, 2);
        document.couplings.set(
            {document.new_id<CouplingId>(),
             Follower{
                 {knob, ChannelKind::Turn}, {pointer, ChannelKind::Turn}, 2, 0.3, lamp, {1, {}, false}}});
    }
    const Follower& follower() const { return *document.couplings.begin()->as<Follower>(); }
};

TEST(Trial, AFollowerFollowsItsDriverAndItsKeys) {
    Panel p;
    key(p.document, p.knob, {{0, 0, Interpolation::Linear}, {10, 1, Interpolation::Linear}});
    const auto evaluator = Evaluator::compile(p.document);
    ASSERT_TRUE(evaluator.ok());
    Pose pose = evaluator->make_pose();
    evaluator->evaluate(7, pose);
    const Vec3 nose = pose.world_from_part[*evaluator->part_slot(p.pointer)].axis(0);
    EXPECT_NEAR(std::atan2(nose.y(), nose.x()), 1.4, 1e-12);
}

/// A keyed blend between what drives a channel and the channel's own keys.
TEST(Trial, ABlendIsKeyedAndSharesTheChannelWithItsKeys) {
    Panel p;
    key(p.document, p.pointer, {{0, 0.1, Interpolation::Linear}, {10, 0.3, Interpolation::Linear}});
    const ChannelRef blend{p.document.couplings.begin()->id, ChannelKind::Blend};
    Clip clip = clip_or_first(p.document);
    clip.track_or_new(blend).keys = {{0, 0, Interpolation::Linear}, {10, 1, Interpolation::Linear}};
    p.document.clips.set(clip);
    const auto evaluator = Evaluator::compile(p.document);
    ASSERT_TRUE(evaluator.ok());
    Pose pose = evaluator->make_pose();
    for (const double frame : {0.0, 2.5, 5.0, 10.0}) {
        evaluator->evaluate(frame, pose);
        const Vec3 nose = pose.world_from_part[*evaluator->part_slot(p.pointer)].axis(0);
        const double share = frame / 10;
        EXPECT_NEAR(std::atan2(nose.y(), nose.x()), share * 2 * 0.4 + (1 - share) * (0.1 + 0.2 * share),
                    1e-12);
    }
    const auto back = project_from_bytes(*project_bytes(p.document), "panel");
    EXPECT_EQ(back->clips, p.document.clips);
    const Document image = run(p.document, {{"op", "part.mirror"}, {"parts", {"knob", "pointer"}}});
    EXPECT_EQ(clip_or_first(image).tracks.size(), 4u) << "the copy's blend has keys too";
    EXPECT_TRUE(clip_or_first(run(p.document, {{"op", "part.remove"}, {"parts", {"knob"}}})).tracks.size() ==
                1)
        << "without its driver it goes, and the keys of its blend with it";
}

TEST(Trial, ACircleIsNamedAndASecondDriverRefused) {
    Panel p;
    const Follower back{p.follower().driven, p.follower().driver, 1, 0, {}, {1, {}, false}};
    Document circle = p.document;
    circle.couplings.set({circle.new_id<CouplingId>(), back});
    EXPECT_EQ(Evaluator::check(circle).error().code, "rig.loop");
    Document twice = p.document;
    twice.couplings.set({twice.new_id<CouplingId>(), p.follower()});
    EXPECT_EQ(Evaluator::check(twice).error().code, "rig.driven_twice");
}

TEST(Trial, ItsFileFormComesFromItsFields) {
    const Panel p;
    const auto bytes = project_bytes(p.document);
    ASSERT_TRUE(bytes.ok());
    const auto back = project_from_bytes(*bytes, "panel");
    ASSERT_TRUE(back.ok()) << back.error().message;
    EXPECT_EQ(*back->couplings.begin(), *p.document.couplings.begin());
    Panel broken;
    Coupling coupling = *broken.document.couplings.begin();
    coupling.as<Follower>()->gain = 0;
    broken.document.couplings.set(coupling);
    const auto refused = project_from_bytes(*project_bytes(broken.document), "panel");
    EXPECT_NE(refused.error().message.find("a follower has no gain"), std::string::npos);
}

TEST(Trial, RemovalAndImagesComeFromItsFields) {
    const Panel p;
    const Document dark = run(p.document, {{"op", "part.remove"}, {"parts", {"lamp"}}});
    EXPECT_FALSE(dark.couplings.begin()->as<Follower>()->beside);
    EXPECT_TRUE(run(p.document, {{"op", "part.remove"}, {"parts", {"knob"}}}).couplings.empty());
    const Document image = run(p.document, {{"op", "part.mirror"}, {"parts", {"knob", "pointer"}}});
    ASSERT_EQ(image.couplings.size(), 2u);
    const Follower& copy = *image.couplings.last().as<Follower>();
    EXPECT_EQ(copy.left_m, -0.3);
    EXPECT_EQ(copy.gain, 2);
    EXPECT_NE(copy.driver.part(), p.knob);
    EXPECT_EQ(copy.beside, p.lamp) << "what is beside a copy is not copied";
    EXPECT_EQ(run(p.document, {{"op", "part.duplicate"}, {"parts", {"knob"}}}).couplings.size(), 1u)
        << "half of it is not copied";
}

TEST(Trial, ItsWordsAreAskedFor) {
    Panel p;
    EXPECT_EQ(joint_user(p.document, p.pointer, Joint{}), "the follower of 'knob'");
    EXPECT_EQ(driver_name(p.document, {p.pointer, ChannelKind::Turn}), "knob");
    const DriveMap map = drive_map(p.document, clip_or_first(p.document));
    ASSERT_EQ(map.edges.size(), 1u);
    EXPECT_EQ(map.edges[0].label, "x 2");
    Coupling coupling = *p.document.couplings.begin();
    coupling.as<Follower>()->gain = 200;
    p.document.couplings.set(coupling);
    const auto findings = check_document(p.document);
    EXPECT_TRUE(std::any_of(findings.begin(), findings.end(),
                            [](const Finding& f) { return f.code == "follower.gain"; }));
}

}  // namespace
}  // namespace pivrak
