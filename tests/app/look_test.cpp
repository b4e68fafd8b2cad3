#include <gtest/gtest.h>

#include <QHeaderView>
#include <QPushButton>
#include <QTest>
#include <cmath>
#include <set>

#include "tests/app/app_test.h"
#include "tests/support/pixels.h"

namespace pivrak {
namespace {

using test::fullPicture;
using test::Hands;

/// Source: W3C, Web Content Accessibility Guidelines 2.1, relative luminance and contrast ratio.
double luminance(const QColor& color) {
    const auto linear = [](double c) {
        return c <= 0.03928 ? c / 12.92 : std::pow((c + 0.055) / 1.055, 2.4);
    };
    return 0.2126 * linear(color.redF()) + 0.7152 * linear(color.greenF()) + 0.0722 * linear(color.blueF());
}
double contrast(const QColor& a, const QColor& b) {
    const double high = std::max(luminance(a), luminance(b)), low = std::min(luminance(a), luminance(b));
    return (high + 0.05) / (low + 0.05);
}

TEST(Theme, TextIsReadableInBoth) {
    for (const Theme& t : {Theme::day(), Theme::nightly()}) {
        SCOPED_TRACE(t.night ? "night" : "day");
        for (const QColor& ground : {t.paper, t.card})
            for (const QColor& text : {t.ink, t.softInk, t.steel, t.leaf, t.rust})
                EXPECT_GE(contrast(text, ground), 4.5)
                    << text.name().toStdString() << " on " << ground.name().toStdString();
        EXPECT_GE(contrast(t.ink, t.raspberryTint), 4.5);
        EXPECT_GE(contrast(t.ink, t.rustTint), 4.5);
        EXPECT_GE(contrast(t.railText, t.petrol), 4.5);
        EXPECT_GE(contrast(Qt::white, t.petrolLight), 4.5);
    }
}

TEST(PieceColor, NeighboursAreToldApart) {
    std::set<QRgb> seen;
    for (std::size_t i = 0; i < 40; ++i) {
        seen.insert(pieceColor(i).rgb());
        const QColor a = pieceColor(i), b = pieceColor(i + 1);
        EXPECT_GT(
            std::abs(a.red() - b.red()) + std::abs(a.green() - b.green()) + std::abs(a.blue() - b.blue()),
            60);
    }
    EXPECT_EQ(seen.size(), 40u);
}

/// Share of pixels that differ between two pictures.
double difference(const QImage& a, const QImage& b) {
    EXPECT_EQ(a.size(), b.size());
    int differ = 0;
    for (int y = 0; y < a.height(); ++y)
        for (int x = 0; x < a.width(); ++x) differ += a.pixel(x, y) != b.pixel(x, y);
    return static_cast<double>(differ) / (a.width() * a.height());
}

TEST(Picture, TheMachineIsSeenAndMoves) {
    Hands hands(test::look());
    const QImage empty = fullPicture(hands.window.view());
    hands.window.openFile(QStringLiteral(FINISHED_STATION));
    hands.settle();
    std::vector<QImage> frames;
    for (const char* frame : {"0", "3", "6"}) {
        hands.type("frameEntry", frame);
        frames.push_back(fullPicture(hands.window.view()));
    }
    EXPECT_GT(difference(empty, frames[0]), 0.1) << "the model fills the view";
    EXPECT_GT(difference(frames[0], frames[1]), 0.001);
    EXPECT_GT(difference(frames[1], frames[2]), 0.001);
    EXPECT_GT(difference(frames[0], frames[2]), 0.001);
    hands.type("frameEntry", "0");
    EXPECT_EQ(difference(frames[0], fullPicture(hands.window.view())), 0)
        << "the same frame gives the same picture";
}

TEST(Picture, APreviewShowsPiecesInColours) {
    Hands hands(test::look());
    hands.type("importPath", QStringLiteral(DEMO_MODELS "/drive-station.obj"));
    hands.click("acceptPreview");
    hands.key(Qt::Key_2);
    const QImage before = fullPicture(hands.window.view());
    hands.clickRow(hands.named("steel"));
    hands.clickRow(hands.named("paint"), Qt::ControlModifier);
    hands.click("previewSplit");
    EXPECT_GT(difference(before, fullPicture(hands.window.view())), 0.05);
    hands.key(Qt::Key_Escape);
    hands.key(Qt::Key_A, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_EQ(difference(before, fullPicture(hands.window.view())), 0);
}

TEST(Layout, HoldsFromTheSmallestToALargeScreen) {
    Hands hands(test::look());
    hands.window.openFile(QStringLiteral(FINISHED_STATION));
    hands.settle();
    hands.clickRow(hands.named("Motor shaft"));
    for (const QSize& size : {QSize(1100, 700), QSize(1280, 800), QSize(1600, 1000)}) {
        hands.window.resize(size);
        hands.settle();
        EXPECT_EQ(hands.window.size(), size);
        for (int stage = 0; stage < stage_count; ++stage) {
            hands.session.setStage(static_cast<Stage>(stage));
            hands.settle();
            SCOPED_TRACE(testing::Message() << size.width() << " wide, stage " << stage + 1);
            for (const QPushButton* button : hands.window.findChildren<QPushButton*>()) {
                if (!button->isVisible()) continue;
                const QRect place(button->mapTo(&hands.window, QPoint(0, 0)), button->size());
                EXPECT_GE(place.left(), 0) << button->objectName().toStdString();
                EXPECT_LE(place.right(), hands.window.width())
                    << button->objectName().toStdString() << " is cut off";
                EXPECT_GE(button->width(), button->fontMetrics().horizontalAdvance(button->text()))
                    << button->objectName().toStdString() << " hides its words";
            }
            for (const QHeaderView* header : hands.window.findChildren<QHeaderView*>()) {
                if (!header->isVisible() || header->orientation() != Qt::Horizontal) continue;
                for (int column = 0; column < header->count(); ++column)
                    if (!header->model()->headerData(column, Qt::Horizontal).toString().isEmpty())
                        EXPECT_GE(header->sectionSize(column), header->sectionSizeHint(column))
                            << header->parentWidget()->objectName().toStdString() << " column " << column;
            }
        }
        const Viewport& view = hands.window.view();
        EXPECT_GT(view.width() * view.height(), size.width() * size.height() / 5) << "the view has the room";
    }
}

/// A long line beside a title is shortened; the tree keeps its room for names.
TEST(Layout, LongNotesTakeNoRoomFromTheTree) {
    Hands hands(test::look());
    hands.window.openFile(QStringLiteral(FINISHED_STATION));
    hands.window.resize(1280, 800);
    hands.settle();
    const PartId shaft = hands.named("Motor shaft");
    hands.clickRow(shaft);
    hands.session.setStage(Stage::Keys);
    hands.settle();
    const int before = hands.find("partsTree")->width();
    hands.session.run({{"op", "part.rename"}, {"part", shaft.value}, {"name", std::string(160, 'w')}});
    hands.settle();
    EXPECT_EQ(hands.find("partsTree")->width(), before);
}

TEST(Session, TellsOnceAndOnlyOfChanges) {
    Session session;
    int selected = 0, staged = 0, posed = 0;
    QObject::connect(&session, &Session::selectionChanged, [&] { ++selected; });
    QObject::connect(&session, &Session::stageChanged, [&] { ++staged; });
    QObject::connect(&session, &Session::poseChanged, [&] { ++posed; });
    session.select({});
    session.setStage(Stage::Intake);
    session.setFrame(0);
    EXPECT_EQ(selected + staged + posed, 0);
    session.setStage(Stage::Rig);
    session.setFrame(5);
    session.select({PartId{99}});
    EXPECT_EQ(staged, 1);
    EXPECT_EQ(posed, 1);
    EXPECT_EQ(selected, 0) << "a part that does not exist is not picked";
}

TEST(Session, ANewerPreviewTakesThePlaceOfAnOlderOne) {
    Session session;
    session.preview({{"op", "model.import"}, {"file", DEMO_MODELS "/drive-station.obj"}, {"unit", "m"}});
    session.preview({{"op", "model.import"}, {"file", DEMO_MODELS "/drive-station.obj"}, {"unit", "mm"}});
    session.settle();
    ASSERT_NE(session.previewed(), nullptr);
    EXPECT_NEAR(document_bounds(session.shownDocument()).longest(), 2.673, 0.001);
    EXPECT_TRUE(session.document().parts.empty());
    session.acceptPreview();
    EXPECT_EQ(session.document().parts.size(), 4u);
    EXPECT_EQ(session.history().steps().size(), 1u);
}

TEST(Session, CancelledWorkChangesNothing) {
    Session session;
    bool busy_seen = false;
    QObject::connect(&session.edits(), &Background::started, [&] { busy_seen = true; });
    session.importModel({{"op", "model.import"}, {"file", DEMO_MODELS "/drive-station.obj"}});
    session.edits().cancel();
    session.settle();
    EXPECT_TRUE(busy_seen);
    EXPECT_FALSE(session.edits().isBusy());
    EXPECT_TRUE(session.document() == empty_document());
}

}  // namespace
}  // namespace pivrak
