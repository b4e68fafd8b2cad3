#include "app/parts/parts_model.h"

#include <gtest/gtest.h>

#include <QAbstractItemModelTester>
#include <QMimeData>
#include <set>

#include "core/io/project/project_file.h"
#include "tests/support/documents.h"
#include "tests/support/temp_folder.h"

namespace pivrak {
namespace {

/// The tree as text, a blank for each level.
QStringList dump(const QAbstractItemModel& model, const QModelIndex& parent = {}, int depth = 0) {
    QStringList lines;
    for (int row = 0; row < model.rowCount(parent); ++row) {
        const QModelIndex index = model.index(row, 0, parent);
        lines << QString(depth, QLatin1Char(' ')) + index.data().toString();
        lines << dump(model, index, depth + 1);
    }
    return lines;
}

struct Fixture {
    test::TempFolder folder;
    Session session;
    PartsModel model{session};
    PartId hall, bed, shaft, gear;

    Fixture() {
        Document d = empty_document();
        hall = test::add_part(d, "Hall");
        bed = test::add_shaped(d, "Bed", with_normals(test::box({0, 0, 0}, {1, 1, 1})), hall);
        shaft = test::add_part(d, "Shaft", hall);
        gear = test::add_part(d, "Gear", shaft);
        test::make_hinge(d, shaft);
        test::make_hinge(d, gear);
        EXPECT_TRUE(save_project(d, folder / "hall.pivrak.glb").ok());
        EXPECT_TRUE(session.openProject(folder / "hall.pivrak.glb"));
    }
};

TEST(PartsModel, ShowsTheTreeAndKeepsQtsRules) {
    Fixture f;
    QAbstractItemModelTester tester(&f.model, QAbstractItemModelTester::FailureReportingMode::Fatal);
    EXPECT_EQ(dump(f.model), (QStringList{"Hall", " Bed", " Shaft", "  Gear"}));
    f.session.run({{"op", "tree.parent"}, {"parts", "Bed"}, {"under", "Gear"}});
    EXPECT_EQ(dump(f.model), (QStringList{"Hall", " Shaft", "  Gear", "   Bed"}));
    f.session.undo();
    EXPECT_EQ(dump(f.model), (QStringList{"Hall", " Bed", " Shaft", "  Gear"}));
    EXPECT_EQ(f.model.partOf(f.model.indexOf(f.gear)), f.gear);
    EXPECT_FALSE(f.model.indexOf(PartId{999}).isValid());
}

TEST(PartsModel, DroppingPutsUnderAndReleases) {
    Fixture f;
    const std::unique_ptr<QMimeData> bed(f.model.mimeData({f.model.indexOf(f.bed)}));
    f.model.dropMimeData(bed.get(), Qt::MoveAction, -1, -1, f.model.indexOf(f.shaft));
    EXPECT_EQ(f.session.document().parts.find(f.bed)->parent, f.shaft);
    f.model.dropMimeData(bed.get(), Qt::MoveAction, -1, -1, {});
    EXPECT_EQ(f.session.document().parts.find(f.bed)->parent, PartId{});
    const Document before = f.session.document();
    const std::unique_ptr<QMimeData> hall(f.model.mimeData({f.model.indexOf(f.hall)}));
    f.model.dropMimeData(hall.get(), Qt::MoveAction, -1, -1, f.model.indexOf(f.gear));
    EXPECT_TRUE(f.session.document() == before) << "no part goes under what it carries";
}

TEST(PartsModel, RenamesAndHides) {
    Fixture f;
    EXPECT_TRUE(f.model.setData(f.model.indexOf(f.bed), "Bed plate", Qt::EditRole));
    EXPECT_EQ(f.session.document().parts.find(f.bed)->name, "Bed plate");
    EXPECT_FALSE(f.model.setData(f.model.indexOf(f.bed), "", Qt::EditRole));
    EXPECT_TRUE(f.model.setData(f.model.indexOf(f.bed), false, PartsModel::ShownRole));
    EXPECT_FALSE(f.session.document().parts.find(f.bed)->shown);
}

TEST(PartsModel, MarksTellWhatMovesAChannel) {
    Fixture f;
    EXPECT_EQ(channelMark(f.session, f.bed), ChannelMark::None);
    EXPECT_EQ(channelMark(f.session, f.shaft), ChannelMark::Free);
    f.session.run({{"op", "key.set"}, {"parts", "Shaft"}, {"frame", 0}});
    EXPECT_EQ(channelMark(f.session, f.shaft), ChannelMark::Keyed);
    f.session.run({{"op", "tree.parent"}, {"parts", "Gear"}, {"under", "Hall"}});
    f.session.run({{"op", "coupling.gear"},
                   {"driver", "Shaft"},
                   {"driven", "Gear"},
                   {"driver_teeth", 10},
                   {"driven_teeth", 20}});
    EXPECT_EQ(channelMark(f.session, f.gear), ChannelMark::Driven);
    f.session.run({{"op", "joint.set"}, {"parts", "Gear"}, {"kind", "hinge"}, {"min", -1}, {"max", 0}});
    EXPECT_EQ(channelMark(f.session, f.gear), ChannelMark::AtLimit);
    // Form first, colour second: drawn in one ink, no two marks look alike.
    Theme ink = Theme::day();
    ink.saffron = ink.steel = ink.rust = ink.softInk = Qt::black;
    std::set<std::string> pictures;
    for (const ChannelMark mark : {ChannelMark::None, ChannelMark::Free, ChannelMark::Keyed,
                                   ChannelMark::Driven, ChannelMark::AtLimit}) {
        QImage image(20, 20, QImage::Format_ARGB32);
        image.fill(Qt::white);
        QPainter painter(&image);
        paintMark(painter, QPointF(10, 10), mark, ink);
        painter.end();
        pictures.insert(std::string(reinterpret_cast<const char*>(image.constBits()),
                                    static_cast<std::size_t>(image.sizeInBytes())));
    }
    EXPECT_EQ(pictures.size(), 5u);
}

}  // namespace
}  // namespace pivrak
