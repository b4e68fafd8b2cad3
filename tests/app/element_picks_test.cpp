#include "app/session/element_picks.h"

#include <gtest/gtest.h>

#include "app/session/session.h"
#include "app/view/person.h"
#include "tests/support/documents.h"

namespace pivrak {
namespace {

struct Two {
    Document document = empty_document();
    PartId box, lid;
    Two() {
        box = test::add_shaped(document, "box", test::box({0, 0, 0}, {1, 1, 1}));
        lid = test::add_shaped(document, "lid", test::box({0, 0, 1}, {1, 1, 1.2}));
    }
    ElementPicks faces(PartId part, std::initializer_list<std::size_t> numbers) const {
        ElementPicks picks;
        picks.faces[part] = FaceMask(12, false);
        for (const std::size_t f : numbers) picks.faces[part][f] = true;
        return picks;
    }
};

TEST(ElementPicks, CountAndWriteFaces) {
    const Two two;
    ElementPicks picks = two.faces(two.box, {0, 1, 2, 7});
    picks.faces[two.lid] = FaceMask(12, true);
    EXPECT_EQ(picks.face_count(), 16u);
    EXPECT_EQ(picks.faces_argument().dump(),
              fmt::format(R"([{{"faces":"0-2 7","part":{}}},{{"faces":"0-11","part":{}}}])", two.box.value,
                          two.lid.value));
    EXPECT_TRUE(ElementPicks{}.empty());
    EXPECT_TRUE(ElementPicks{}.faces_argument().empty());
}

TEST(ElementPicks, GrowEachPartByItself) {
    const Two two;
    ElementPicks picks = two.faces(two.box, {0});
    EXPECT_EQ(grown(two.document, picks, Growth::Piece, 0).face_count(), 12u);
    EXPECT_EQ(grown(two.document, picks, Growth::Angle, 5 * rad_per_deg).face_count(), 2u);
    EXPECT_EQ(grown(two.document, picks, Growth::Invert, 0).face_count(), 11u);
    EXPECT_EQ(grown(two.document, picks, Growth::SameSize, 0).face_count(), 12u);
    EXPECT_EQ(grown(two.document, picks, Growth::Material, 0).face_count(), 12u);
    const ElementPicks ring = grown(two.document, picks, Growth::Ring, 0);
    EXPECT_GT(ring.face_count(), 1u);
    EXPECT_LT(grown(two.document, ring, Growth::Shrink, 0).face_count(), ring.face_count());
    picks.faces[two.box] = FaceMask(12, true);
    EXPECT_TRUE(grown(two.document, picks, Growth::Invert, 0).faces.empty())
        << "a part without a picked face is out";
}

TEST(ElementPicks, PartsOfTheSameSizeWhateverWayTheyLie) {
    Two two;
    const PartId turned = test::add_shaped(two.document, "turned", test::box({0, 0, 0}, {0.2, 1, 1}));
    EXPECT_EQ(grown_parts(two.document, {two.lid}, Growth::SameSize), (std::vector<PartId>{two.lid, turned}));
}

TEST(ElementPicks, PointsStandWhereTheirVertexStands) {
    const Two two;
    const Frame world = test::world_poses()[1];
    const Vec3 at = picked_place(two.document, {two.lid, 7}, world);
    EXPECT_LT((at - world.point(Vec3(1, 1, 1.2))).norm(), 1e-6);
}

TEST(Session, PicksGoWithTheDocumentAndTheKindOfPicking) {
    Session session;
    session.run({{"op", "stand_in.add"}, {"kind", "box"}});
    const PartId box = session.selection().front();
    PickSettings settings;
    settings.kind = PickKind::Faces;
    session.setPickSettings(settings);
    ElementPicks picks;
    picks.faces[box] = FaceMask(session.document().shapes.begin()->mesh->triangle_count(), true);
    int told = 0;
    QObject::connect(&session, &Session::picksChanged, &session, [&] { ++told; });
    session.setPicks(picks);
    session.setPicks(picks);
    EXPECT_EQ(told, 1) << "told only when something changed";
    settings.through = true;
    session.setPickSettings(settings);
    EXPECT_FALSE(session.picks().empty());
    session.run({{"op", "part.rename"}, {"part", box.value}, {"name", "crate"}});
    EXPECT_TRUE(session.picks().empty()) << "face numbers may mean other faces now";
    session.setPicks(picks);
    settings.kind = PickKind::Points;
    session.setPickSettings(settings);
    EXPECT_TRUE(session.picks().empty());
}

TEST(Session, AFixIsPreviewedAndTheToolPlaneLeavesWithItsStage) {
    Session session;
    session.run({{"op", "stand_in.add"}, {"kind", "box"}, {"at", {0, 0, 3}}});
    session.settle();
    const auto& findings = session.findings();
    const auto off = std::find_if(findings.begin(), findings.end(),
                                  [](const Finding& f) { return f.code == "ground.off"; });
    ASSERT_NE(off, findings.end());
    session.applyFix(*off);
    session.settle();
    ASSERT_NE(session.previewed(), nullptr);
    session.acceptPreview();
    EXPECT_NEAR(document_bounds(session.document()).min.z(), 0, 1e-9);
    session.setStage(Stage::Split);
    session.setToolPlane(plane_across(2, {0, 0, 1}));
    session.setStage(Stage::Tree);
    EXPECT_FALSE(session.toolPlane().has_value());
}

TEST(Person, IsOneMetreSeventyFiveAndStandsOnTheFloor) {
    const Bounds bounds = mesh_bounds(*person_silhouette());
    EXPECT_NEAR(bounds.max.z(), 1.75, 1e-3);
    EXPECT_NEAR(bounds.min.z(), 0, 1e-6);
    EXPECT_LT(bounds.size().x(), 0.05) << "a board that faces along x";
}

}  // namespace
}  // namespace pivrak
