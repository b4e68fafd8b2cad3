#include "core/model/edits/branch_bounds.h"
#include "tests/app/raw_models.h"
#include "tests/support/steps.h"

namespace pivrak {
namespace {

TEST(PickInside, FacesGrowShrinkAndBreakOff) {
    Hands hands(test::look());
    hands.click("tabStand-ins");
    hands.choose("standInKind", "cylinder");
    hands.click("previewStandIn");
    ASSERT_NE(hands.session.previewed(), nullptr);
    hands.click("acceptPreview");
    const PartId part = hands.named("Cylinder");
    hands.key(Qt::Key_F, Qt::ShiftModifier);
    hands.key(Qt::Key_2);
    hands.click("tabPick");
    hands.click("pickFaces");
    hands.clickInView(part);
    EXPECT_EQ(hands.session.picks().face_count(), 1u);
    hands.type("pickAngle", "10 deg", false);
    hands.click("growAngle");
    const std::size_t side = hands.session.picks().face_count();
    EXPECT_GT(side, 40u) << "a flat end, or the 48 facets that meet at 7.5 degrees";
    EXPECT_LT(side, 97u);
    hands.click("growRing");
    EXPECT_GT(hands.session.picks().face_count(), side);
    hands.click("shrinkRing");
    hands.click("growPiece");
    const std::size_t all = hands.session.document().shapes.begin()->mesh->triangle_count();
    EXPECT_EQ(hands.session.picks().face_count(), all);
    hands.click("invertPick");
    EXPECT_TRUE(hands.session.picks().empty());
    hands.clickInView(part);
    hands.click("growAngle");
    hands.click("tabBreak");
    hands.choose("splitBy", "split.faces");
    hands.click("previewSplit");
    ASSERT_NE(hands.session.previewed(), nullptr) << hands.refusals.join("; ").toStdString();
    hands.key(Qt::Key_Return);
    EXPECT_EQ(hands.session.document().parts.size(), 3u);
    EXPECT_TRUE(hands.session.picks().empty()) << "face numbers mean other faces now";
}

TEST(PickInside, BoxAndLassoThroughAndVisible) {
    Hands hands(test::look());
    hands.click("tabStand-ins");
    hands.choose("standInKind", "box");
    hands.click("previewStandIn");
    hands.click("acceptPreview");
    hands.window.view().setDirection(0.4, 0.5);
    hands.key(Qt::Key_F, Qt::ShiftModifier);
    hands.key(Qt::Key_2);
    hands.click("tabPick");
    hands.click("pickPoints");
    Viewport& view = hands.window.view();
    const QPoint low(4, 4), high(view.width() - 5, view.height() - 5);
    hands.drag(&view, low, high);
    const std::size_t seen = hands.session.picks().points.size();
    hands.click("pickThrough");
    hands.drag(&view, low, high);
    const std::size_t all = hands.session.picks().points.size();
    EXPECT_GT(seen, 0u);
    EXPECT_GT(all, seen) << "the far corners are hidden";
    hands.click("pickLasso");
    hands.drag(&view, low, QPoint(high.x(), low.y()));
    EXPECT_TRUE(hands.session.picks().points.empty()) << "a straight stroke goes round nothing";
    hands.click("pickParts");
    EXPECT_EQ(hands.session.pickSettings().kind, PickKind::Parts);
}

TEST(CutPlane, IsPlacedByAKnobAndCaps) {
    Hands hands(test::look());
    hands.click("tabStand-ins");
    hands.choose("standInKind", "box");
    hands.click("previewStandIn");
    hands.click("acceptPreview");
    hands.window.view().setDirection(-1.2, 0.3);
    hands.key(Qt::Key_F, Qt::ShiftModifier);
    hands.key(Qt::Key_2);
    hands.clickRow(hands.named("Box"));
    hands.choose("splitBy", "split.plane");
    ASSERT_TRUE(hands.session.toolPlane().has_value());
    const double before = hands.session.toolPlane()->point.x();
    const QPoint knob = gripPixel(hands, CuttingSheet::Grip::Move);
    hands.drag(&hands.window.view(), knob, knob + QPoint(25, 0));
    EXPECT_NE(hands.session.toolPlane()->point.x(), before);
    hands.type("planeOffset", "100 mm");
    hands.click("previewSplit");
    ASSERT_NE(hands.session.previewed(), nullptr) << hands.refusals.join("; ").toStdString();
    hands.key(Qt::Key_Return);
    const Document& d = hands.session.document();
    const Mesh& a = *d.shapes.find(d.parts.find(hands.named("Box A"))->shape)->mesh;
    EXPECT_TRUE(mesh_faults(a).clean());
    EXPECT_NEAR(mesh_bounds(a).size().x(), 0.2, 1e-4) << "from 100 to 300 mm";
}

TEST(CutPlane, IsTiltedByMarksAndByNumbers) {
    Hands hands(test::look());
    hands.click("tabStand-ins");
    hands.choose("standInKind", "box");
    hands.type("standIn_chamfer", "0 mm", false);
    hands.click("previewStandIn");
    hands.click("acceptPreview");
    hands.window.view().setDirection(-0.9, 0.35);
    hands.key(Qt::Key_F, Qt::ShiftModifier);
    hands.key(Qt::Key_2);
    hands.clickRow(hands.named("Box"));
    hands.choose("splitBy", "split.plane");
    Viewport& view = hands.window.view();
    const QPoint mark = gripPixel(hands, CuttingSheet::Grip::Tilt);
    hands.drag(&view, mark, mark + QPoint(40, 25));
    const double dragged = hands.session.toolPlane()->tilt_rad * deg_per_rad;
    EXPECT_GT(std::abs(dragged), 2);
    EXPECT_NEAR(dragged, std::round(dragged), 1e-9) << "by whole degrees";
    EXPECT_EQ(hands.session.toolPlane()->turn_rad, 0);
    EXPECT_EQ(hands.find<QLineEdit>("planeTilt")->text().toStdString(),
              format_angle(hands.session.toolPlane()->tilt_rad));
    const QPoint edge = gripPixel(hands, CuttingSheet::Grip::Turn);
    hands.drag(&view, edge, edge + QPoint(30, 10), Qt::ShiftModifier);
    const double turned = hands.session.toolPlane()->turn_rad * deg_per_rad;
    EXPECT_NE(turned, 0);
    EXPECT_NEAR(turned / 5, std::round(turned / 5), 1e-9) << "Shift steps by 5";
    hands.type("planeTilt", "45");
    hands.type("planeTurn", "0");
    hands.type("planeTilt", "much", true);
    EXPECT_FALSE(hands.refusals.isEmpty());
    EXPECT_NEAR(hands.session.toolPlane()->tilt_rad, pi / 4, 1e-12) << "nonsense changes nothing";
    hands.type("planeOffset", "0");
    hands.click("previewSplit");
    ASSERT_NE(hands.session.previewed(), nullptr) << hands.refusals.join("; ").toStdString();
    hands.click("acceptPreview");
    const Document& d = hands.session.document();
    const auto& planes = [&](const char* name) {
        const Part& half = *d.parts.find(hands.named(name));
        const Mesh& mesh = *d.shapes.find(half.shape)->mesh;
        EXPECT_TRUE(mesh_faults(mesh).clean());
        double least = 1e9, most = -1e9;
        for (const Vec3f& p : mesh.positions) {
            const Vec3 at = (world_from_rest(d, half.id) * half.part_from_shape).point(p.cast<double>());
            const double height = at.dot(Vec3(1, 0, -1)) / std::sqrt(2.0);
            least = std::min(least, height);
            most = std::max(most, height);
        }
        return std::pair(least, most);
    };
    EXPECT_NEAR(planes("Box A").first, 0, 1e-6) << "one half starts at the tilted plane";
    EXPECT_NEAR(planes("Box B").second, 0, 1e-6) << "the other ends there";
}

TEST(Copies, RepeatMirrorAndSets) {
    Hands hands(test::look());
    hands.click("tabStand-ins");
    hands.choose("standInKind", "wheel");
    hands.type("standInName", "Wheel left", false);
    hands.click("previewStandIn");
    hands.click("acceptPreview");
    hands.session.run({{"op", "model.stand"}, {"ground", true}});
    hands.session.run(
        {{"op", "part.duplicate"}, {"parts", {"Wheel left"}}, {"shift", {0, 1, 0}}, {"shape_alone", false}});
    hands.session.run({{"op", "part.remove"}, {"parts", {hands.named("Wheel left").value}}});
    hands.key(Qt::Key_2);
    hands.clickRow(hands.named("Wheel left 2"));
    hands.click("tabCopy");
    hands.choose("copyWay", "part.mirror");
    hands.click("previewCopy");
    ASSERT_NE(hands.session.previewed(), nullptr) << hands.refusals.join("; ").toStdString();
    hands.click("acceptPreview");
    const PartId right = hands.named("Wheel right 2");
    const Vec3 left_at = world_from_rest(hands.session.document(), hands.named("Wheel left 2")).translation;
    EXPECT_LT((world_from_rest(hands.session.document(), right).translation -
               Vec3(left_at.x(), -left_at.y(), left_at.z()))
                  .norm(),
              1e-9);
    hands.choose("copyWay", "part.repeat_line");
    hands.type("copyCount", "4", false);
    hands.type("copyX", "1.2 m", false);
    hands.click("previewCopy");
    hands.click("acceptPreview");
    EXPECT_EQ(hands.session.document().parts.size(), 5u);
    hands.click("tabSets");
    hands.type("setName", "spares");
    ASSERT_EQ(hands.session.document().sets.size(), 1u) << hands.refusals.join("; ").toStdString();
    hands.click("lockSet");
    for (const PartId part : hands.session.document().sets.begin()->parts) {
        EXPECT_TRUE(hands.session.document().parts.find(part)->locked);
        EXPECT_FALSE(hands.visiblePixel(part).has_value()) << "a locked part is passed through";
    }
    const auto members_shown = [&] {
        std::size_t shown = 0;
        for (const PartId part : hands.session.document().sets.begin()->parts)
            shown += hands.session.document().parts.find(part)->shown;
        return shown;
    };
    EXPECT_GT(members_shown(), 0u);
    hands.click("hideSet");
    EXPECT_EQ(members_shown(), 0u);
    hands.type("partsFilter", "spares", false);
    EXPECT_EQ(hands.window.parts().tree().model()->rowCount(), 3);
}

TEST(SwapShapes, AFinishedShapeTakesAStandInsPlace) {
    Hands hands(test::look());
    for (const char* teeth : {"24", "31"}) {
        hands.click("tabStand-ins");
        hands.choose("standInKind", "gear");
        hands.type("standIn_teeth", teeth, false);
        hands.click("previewStandIn");
        hands.click("acceptPreview");
    }
    const PartId kept = hands.named("Gear 24T");
    const Frame pivot = world_from_rest(hands.session.document(), kept);
    hands.clickRow(kept);
    hands.clickRow(hands.named("Gear 31T"), Qt::ControlModifier);
    hands.click("tabSwap");
    hands.choose("swapMatch", "axis");
    hands.click("swapShape");
    ASSERT_NE(hands.session.previewed(), nullptr) << hands.refusals.join("; ").toStdString();
    hands.click("acceptPreview");
    EXPECT_EQ(hands.session.document().parts.size(), 1u);
    EXPECT_TRUE(world_from_rest(hands.session.document(), kept) == pivot);
    EXPECT_NEAR(document_bounds(hands.session.document()).size().x(), 4e-3 * 33, 1e-3)
        << "31 teeth of module 4: tip 33 modules";
}

TEST(StandUp, OneOfSeveralModelsAlone) {
    Hands hands(test::look());
    for (const char* name : {"House", "Cart"})
        ASSERT_TRUE(hands.session.run({{"op", "stand_in.add"},
                                       {"kind", "box"},
                                       {"name", name},
                                       {"length", 2},
                                       {"width", 1},
                                       {"height", 1},
                                       {"at", {*name == 'H' ? 0 : 5, 0, 3}}}));
    hands.session.select({});
    hands.settle();
    const Frame house = world_from_rest(hands.session.document(), hands.named("House"));
    hands.click("tabStand");
    hands.choose("standWhat", QVariant::fromValue<qulonglong>(hands.named("Cart").value));
    hands.choose("standFront", QStringLiteral("+y"));
    hands.type("standLength", "4 m");
    hands.click("acceptPreview");
    EXPECT_TRUE(world_from_rest(hands.session.document(), hands.named("House")) == house)
        << "it stays as it is";
    const Bounds cart = branch_bounds(hands.session.document(), {hands.named("Cart")});
    EXPECT_NEAR(cart.min.z(), 0, 1e-6);
    EXPECT_NEAR(cart.size().x(), 4, 1e-6) << "what was its width lies along X now";
    EXPECT_NEAR(cart.size().y(), 8, 1e-6);
}

TEST(StandUp, TwoPickedPointsSetTheSize) {
    Hands hands(test::look());
    hands.click("tabStand-ins");
    hands.choose("standInKind", "box");
    hands.type("standIn_chamfer", "0 mm", false);
    hands.click("previewStandIn");
    hands.click("acceptPreview");
    hands.window.view().setDirection(0.5, 0.5);
    hands.key(Qt::Key_F, Qt::ShiftModifier);
    hands.click("tabStand");
    hands.click("standPoints");
    const PartId box = hands.named("Box");
    const Document& d = hands.session.document();
    const Part& part = *d.parts.find(box);
    const auto corner = [&](double y) {
        const Frame world = world_from_rest(d, box) * part.part_from_shape;
        const Bounds b = d.shapes.find(part.shape)->bounds;
        const Vec3 inward(b.max.x() - 2e-3, y > 0 ? b.max.y() - 2e-3 : b.min.y() + 2e-3, b.max.z());
        const Vec3 seen = hands.window.view().camera().project(world.point(inward));
        return QPoint(static_cast<int>(seen.x()), static_cast<int>(seen.y()));
    };
    QTest::mouseClick(&hands.window.view(), Qt::LeftButton, {}, corner(1));
    QTest::mouseClick(&hands.window.view(), Qt::LeftButton, Qt::ShiftModifier, corner(-1));
    hands.settle();
    ASSERT_EQ(hands.session.picks().points.size(), 2u);
    EXPECT_TRUE(hands.text("standDistance").contains("0.3000 m"))
        << hands.text("standDistance").toStdString();
    hands.type("standLength", "900 mm");
    ASSERT_NE(hands.session.previewed(), nullptr) << hands.refusals.join("; ").toStdString();
    hands.click("acceptPreview");
    EXPECT_NEAR(document_bounds(hands.session.document()).size().x(), 1.8, 1e-3) << "three times 600 mm";
}

/// A corner stands on the outline: it is clicked from beside as well as from within.
TEST(StandUp, CornersAndEdgesArePickedFromBesideTheOutline) {
    Hands hands(test::look());
    json cube = test::small_box("cube", 0, 0);
    cube["chamfer"] = 0;
    test::runAll(hands, {cube});
    hands.key(Qt::Key_2);
    hands.click("tabPick");
    Viewport& view = hands.window.view();
    view.setDirection(0.5, 0.5);
    hands.key(Qt::Key_F, Qt::ShiftModifier);
    const Document& d = hands.session.document();
    const Part& part = *d.parts.find(hands.named("cube"));
    const Bounds b = d.shapes.find(part.shape)->bounds;
    const Frame world = world_from_rest(d, part.id) * part.part_from_shape;
    const auto seen = [&](const Vec3& place) { return view.camera().project(world.point(place)); };
    // The corner of the top that is furthest to the right, and the way from the middle of the picture to it.
    Vec3 corner = b.max;
    for (const double x : {b.min.x(), b.max.x()})
        for (const double y : {b.min.y(), b.max.y()})
            if (seen({x, y, b.max.z()}).x() > seen(corner).x()) corner = {x, y, b.max.z()};
    const Vec2 at = seen(corner).head<2>(), out = (at - seen(b.middle()).head<2>()).normalized();
    for (const auto& [kind, away, found] : {std::tuple("pickPoints", -2.0, true),
                                            {"pickPoints", 4.0, true},
                                            {"pickPoints", 12.0, false},
                                            {"pickEdges", 4.0, true},
                                            {"pickEdges", 12.0, false},
                                            {"pickFaces", 4.0, false}}) {
        hands.click(kind);
        const Vec2 pixel = at + away * out;
        QTest::mouseClick(
            &view, Qt::LeftButton, {},
            {static_cast<int>(std::lround(pixel.x())), static_cast<int>(std::lround(pixel.y()))});
        hands.settle();
        EXPECT_EQ(!hands.session.picks().empty(), found) << kind << " " << away;
        if (found && kind == std::string("pickPoints")) {
            ASSERT_EQ(hands.session.picks().points.size(), 1u);
            const Mesh& mesh = *d.shapes.find(part.shape)->mesh;
            EXPECT_LT(
                (mesh.positions[hands.session.picks().points.front().vertex].cast<double>() - corner).norm(),
                0.02);
        }
    }
}

/// A file is dropped on the window as a file manager does it.
TEST(DragAndDrop, ModelsArePreviewedProjectsOpenedOthersRefused) {
    Hands hands(test::look());
    drop(hands, QString::fromStdString(models + "/cabin.glb"));
    ASSERT_NE(hands.session.previewed(), nullptr) << hands.refusals.join("; ").toStdString();
    EXPECT_TRUE(hands.session.document().parts.empty()) << "nothing is taken before Accept";
    hands.click("acceptPreview");
    EXPECT_FALSE(hands.session.document().parts.empty());
    const Document before = hands.session.document();
    test::TempFolder folder;
    drop(hands, QString::fromStdString(folder.write("notes.txt", "no model").string()));
    ASSERT_FALSE(hands.refusals.isEmpty());
    EXPECT_TRUE(hands.refusals.last().contains("COLLADA")) << "the refusal lists what can be read";
    EXPECT_TRUE(hands.session.document() == before);
    hands.session.undo();
    drop(hands, QStringLiteral(FINISHED_STATION));
    EXPECT_EQ(hands.session.projectName(), "drive-station");
}

/// Several at once all come in, whatever is wrong with one of them, each to be undone by itself.
TEST(DragAndDrop, SeveralFilesAllComeIn) {
    Hands hands(test::look());
    test::TempFolder folder;
    drop(hands, QStringList{QString::fromStdString(models + "/cabin.glb"),
                            QString::fromStdString(folder.write("notes.txt", "no model").string()),
                            QString::fromStdString(models + "/groomer.glb")});
    for (int i = 0; i < 400 && hands.session.document().sources.size() < 2; ++i) QTest::qWait(10);
    hands.settle();
    ASSERT_EQ(hands.session.document().sources.size(), 2u) << hands.refusals.join("; ").toStdString();
    EXPECT_FALSE(hands.refusals.isEmpty()) << "what is no model is told";
    EXPECT_EQ(hands.session.previewed(), nullptr);
    hands.session.undo();
    EXPECT_EQ(hands.session.document().sources.size(), 1u);
}

/// The newer file is asked for by a button; what is replaced and what is not found is told before Accept.
TEST(NewerModel, IsPreviewedAndKeepsTheRig) {
    test::TempFolder folder;
    const auto write = [&](double height, bool spare) {
        Document d = empty_document();
        test::add_shaped(d, "door", with_normals(test::box({0, 0, 0}, {0.1, 1, height})));
        if (spare) test::add_shaped(d, "spare", with_normals(test::box({2, 0, 0}, {3, 1, 1})));
        const auto bytes = delivery_bytes(d, {}, {})->bytes;
        folder.write("m.glb", std::string(bytes.begin(), bytes.end()));
    };
    write(2, true);
    Hands hands(test::look());
    hands.type("importPath", QString::fromStdString((folder / "m.glb").string()));
    hands.click("acceptPreview");
    hands.session.run({{"op", "joint.set"}, {"parts", {"door"}}, {"kind", "hinge"}, {"axis", "z"}});
    hands.session.run({{"op", "channel.set"}, {"parts", {"door"}}, {"value", "30 deg"}});
    const Part rigged = *hands.session.document().parts.find(hands.named("door"));
    write(2.4, false);
    hands.open_answer = QString::fromStdString((folder / "m.glb").string());
    hands.click("tabSwap");
    hands.click("updateModelFile");
    ASSERT_NE(hands.session.previewed(), nullptr) << hands.refusals.join("; ").toStdString();
    EXPECT_TRUE(hands.text("previewText").contains("spare")) << "not found again, and told";
    hands.click("acceptPreview");
    const Document& d = hands.session.document();
    const Part& door = *d.parts.find(hands.named("door"));
    EXPECT_TRUE(door.joint == rigged.joint);
    EXPECT_TRUE(door.parent_from_rest == rigged.parent_from_rest);
    EXPECT_NEAR(d.shapes.find(door.shape)->bounds.size().z(), 2.4, 1e-6);
    EXPECT_TRUE(find_part(d, "spare").ok());
    hands.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_NEAR(hands.session.document()
                    .shapes.find(hands.session.document().parts.find(door.id)->shape)
                    ->bounds.size()
                    .z(),
                2, 1e-6);
}

/// A million nodes beside each other come in, are listed and drawn, and leave again.
TEST(LargeFiles, AMillionNodesComeInAndLeave) {
    constexpr int count = 1000000;
    std::string nodes, numbers;
    nodes.reserve(std::size_t{count} * 60);
    for (int i = 0; i < count; ++i) {
        nodes +=
            fmt::format(R"({{"name":"bit {}","mesh":0,"translation":[{},0,{}]}},)", i, i % 1000, i / 1000);
        numbers += std::to_string(i) + ",";
    }
    nodes.pop_back();
    numbers.pop_back();
    test::TempFolder folder;
    const std::string json = R"({"asset":{"version":"2.0"},"scene":0,"scenes":[{"nodes":[)" + numbers +
                             R"(]}],"nodes":[)" + nodes +
                             R"(],"meshes":[{"primitives":[{"attributes":{"POSITION":0}}]}],)"
                             R"("buffers":[{"byteLength":36,"uri":"b.bin"}],)"
                             R"("bufferViews":[{"buffer":0,"byteLength":36}],)"
                             R"("accessors":[{"bufferView":0,"componentType":5126,"count":3,"type":"VEC3",)"
                             R"("min":[0,0,0],"max":[1,1,0]}]})";
    const std::array<float, 9> corners{0, 0, 0, 1, 0, 0, 0, 1, 0};
    folder.write("b.bin", {reinterpret_cast<const char*>(corners.data()), sizeof corners});
    folder.write("million.gltf", json);
    Hands hands(test::look());
    hands.type("importPath", QString::fromStdString((folder / "million.gltf").string()));
    ASSERT_NE(hands.session.previewed(), nullptr) << hands.refusals.join("; ").toStdString();
    EXPECT_EQ(hands.session.shownDocument().parts.size(), count + 1u);
    EXPECT_EQ(hands.session.shownDocument().shapes.size(), 1u) << "all show one shape";
    EXPECT_EQ(hands.text("modelContents"), "1,000,001 parts, 1,000,000 triangles, 1 material");
    hands.key(Qt::Key_Escape);
    EXPECT_EQ(hands.session.previewed(), nullptr);
    EXPECT_TRUE(hands.session.document().parts.empty());
}

/// A file of a million triangles is read beside the window, and can be given up.
TEST(LargeFiles, CanBeCancelled) {
    test::TempFolder folder;
    Mesh mesh;
    constexpr std::uint32_t side = 708;
    for (std::uint32_t i = 0; i <= side; ++i)
        for (std::uint32_t j = 0; j <= side; ++j)
            mesh.positions.emplace_back(
                Vec3f(0.01f * static_cast<float>(i), 0.01f * static_cast<float>(j), 0.f));
    mesh.normals.assign(mesh.positions.size(), Vec3f(0, 0, 1));
    for (std::uint32_t i = 0; i < side; ++i)
        for (std::uint32_t j = 0; j < side; ++j) {
            const std::uint32_t a = i * (side + 1) + j, b = a + side + 1;
            mesh.indices.insert(mesh.indices.end(), {a, b, b + 1, a, b + 1, a + 1});
        }
    mesh.submeshes = {{MaterialId{}, 0, static_cast<std::uint32_t>(mesh.indices.size()), {}}};
    const Document nothing = empty_document();
    GltfBuilder builder(nothing);
    builder.add_root(builder.add_node("field", Frame{}, builder.add_mesh(mesh, "field")));
    folder.write("large.glb", *builder.finish());
    Hands hands(test::look());
    const Document before = hands.session.document();
    hands.session.importModel({{"op", "model.import"}, {"file", (folder / "large.glb").string()}});
    ASSERT_TRUE(hands.session.edits().isBusy());
    // It is given up before the window has come to look at what was read, however fast that was.
    hands.session.edits().cancel();
    hands.settle();
    EXPECT_FALSE(hands.session.edits().isBusy());
    EXPECT_TRUE(hands.session.document() == before);
}

}  // namespace
}  // namespace pivrak
