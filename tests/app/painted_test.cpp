// What stands on the screen, against what each panel paints when it is made to.
#include <QPainter>
#include <QPushButton>
#include <QScreen>
#include <QWindow>

#include "app/shell/stage_panels.h"
#include "app/view/view_overlay.h"
#include "tests/app/panel_tabs.h"
#include "tests/app/station.h"

namespace pivrak {
namespace {

/// Share of the pixels of a widget that the screen shows otherwise than the widget paints itself [%].
double stale_share(QWidget& widget, QScreen& screen, WId window, const QPoint& at) {
    const QImage shown = screen.grabWindow(window, at.x(), at.y(), widget.width(), widget.height())
                             .toImage()
                             .convertToFormat(QImage::Format_RGB32),
                 meant = widget.grab().toImage().convertToFormat(QImage::Format_RGB32);
    if (shown.size() != meant.size()) return 100;
    int other = 0;
    for (int y = 0; y < shown.height(); ++y)
        for (int x = 0; x < shown.width(); ++x) {
            const QRgb a = shown.pixel(x, y), b = meant.pixel(x, y);
            other += std::abs(qRed(a) - qRed(b)) + std::abs(qGreen(a) - qGreen(b)) +
                                 std::abs(qBlue(a) - qBlue(b)) >
                             40
                         ? 1
                         : 0;
        }
    return 100.0 * other / (shown.width() * shown.height());
}

void expect_painted(Hands& hands, const std::string& when) {
    QTest::qWait(60);
    QWidget* panel = hands.window.findChild<StagePanels*>()->currentWidget();
    const double stale = stale_share(*panel, *hands.window.screen(), hands.window.winId(),
                                     panel->mapTo(&hands.window, QPoint()));
    EXPECT_LT(stale, 0.2) << when << ": " << panel->objectName().toStdString();
}

/// Panels move their cards about when a preview opens, when something is picked, and from tab to tab.
TEST(Painted, PanelsShowWhatTheyPaint) {
    Hands hands(test::look());
    hands.window.resize(1280, 800);
    hands.settle();
    expect_painted(hands, "empty");
    hands.type("importPath", raw_station, false);
    hands.click("previewImport");
    expect_painted(hands, "a file is previewed");
    hands.click("acceptPreview");
    ASSERT_GT(hands.session.document().parts.size(), 0u);
    expect_painted(hands, "it came in");
    for (int stage = 0; stage < stage_count; ++stage) {
        hands.key(Qt::Key_1 + stage);
        for (const QString& tab : test::shown_tabs(hands)) {
            QTest::mouseClick(hands.find(tab.toLatin1()), Qt::LeftButton);
            hands.session.select({});
            hands.settle();
            expect_painted(hands, tab.toStdString());
            hands.session.select({hands.session.evaluator().parts().back()});
            hands.settle();
            expect_painted(hands, tab.toStdString() + ", a part picked");
        }
    }
}

/// What is written over the picture, without the buttons that stand before it.
QImage written(Viewport& view, const QRect& where) {
    QImage picture(view.size(), QImage::Format_ARGB32_Premultiplied);
    picture.fill(Qt::transparent);
    for (QWidget* child : view.findChildren<QWidget*>(Qt::FindDirectChildrenOnly))
        if (auto* overlay = dynamic_cast<ViewOverlay*>(child)) {
            QPainter painter(&picture);
            overlay->render(&painter, QPoint(), QRegion(), QWidget::DrawChildren);
        }
    return picture.copy(where);
}

int inked(const QImage& picture) {
    int pixels = 0;
    for (int y = 0; y < picture.height(); ++y)
        for (int x = 0; x < picture.width(); ++x) pixels += qAlpha(picture.pixel(x, y)) > 0 ? 1 : 0;
    return pixels;
}

/// A number half behind a button is not read, or read wrongly: it stands elsewhere or is left out.
TEST(Painted, NoNumberOfAGaugeIsWrittenBehindTheViewsButtons) {
    Hands hands(test::look());
    ASSERT_TRUE(hands.session.run({{"op", "stand_in.add"},
                                   {"kind", "box"},
                                   {"name", "Carriage"},
                                   {"length", 0.2},
                                   {"width", 0.2},
                                   {"height", 0.1}}));
    ASSERT_TRUE(
        hands.session.run({{"op", "joint.set"}, {"parts", {"Carriage"}}, {"kind", "slide"}, {"axis", "y"}}));
    hands.key(Qt::Key_5);
    hands.clickRow(hands.named("Carriage"));
    Viewport& view = hands.window.view();
    QWidget* buttons = hands.find("viewEdges")->parentWidget();
    // The rule runs from left to right above the row of buttons, its numbers behind it.
    view.setDirection(0, 0.3);
    view.setPerspective(false);
    Camera& camera = view.camera();
    camera.distance = 2;
    const Vec3 origin = camera.project(Vec3(0, 0, 0));
    camera.target.z() += (buttons->geometry().center().y() - 16 - origin.y()) *
                         camera.metres_per_pixel(Vec3(0, 0, 0)) / std::cos(0.3);
    hands.settle();
    const QRect where = buttons->geometry();
    buttons->hide();
    const int free = inked(written(view, where));
    buttons->show();
    hands.settle();
    ASSERT_EQ(buttons->geometry(), where);
    const int behind = inked(written(view, where));
    EXPECT_GT(free, behind + 300) << "numbers of the rule";
}

}  // namespace
}  // namespace pivrak
