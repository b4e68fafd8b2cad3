// The two ways in which pictures of a scene come into the window: both show the same, and paint when they
// must.
#include "app/view/scene_surface.h"

#include <gtest/gtest.h>

#include <QOpenGLExtraFunctions>
#include <QTest>

#include "app/view/view_overlay.h"
#include "tests/app/app_test.h"
#include "tests/support/window.h"

namespace pivrak {
namespace {

/// Blue, with red where OpenGL has its first rows: below, on the left.
class Quarter final : public ScenePainter {
public:
    int painted = 0, ended = 0;
    bool by_processor = false;

    void begin(QOpenGLContext& context, bool processor) override {
        gl_ = context.extraFunctions();
        by_processor = processor;
    }
    void paint(GLuint, QSize pixels) override {
        ++painted;
        gl_->glDisable(GL_SCISSOR_TEST);
        gl_->glClearColor(0, 0, 1, 1);
        gl_->glClear(GL_COLOR_BUFFER_BIT);
        gl_->glEnable(GL_SCISSOR_TEST);
        gl_->glScissor(0, 0, pixels.width() / 2, pixels.height() / 2);
        gl_->glClearColor(1, 0, 0, 1);
        gl_->glClear(GL_COLOR_BUFFER_BIT);
        gl_->glDisable(GL_SCISSOR_TEST);
    }
    void end() override { ++ended; }

private:
    QOpenGLExtraFunctions* gl_ = nullptr;
};

void expect_quarter(const QImage& picture, const char* how) {
    ASSERT_FALSE(picture.isNull()) << how;
    const int x = picture.width(), y = picture.height();
    EXPECT_EQ(picture.pixelColor(x / 4, 3 * y / 4), QColor(Qt::red)) << how;
    EXPECT_EQ(picture.pixelColor(x / 4, y / 4), QColor(Qt::blue)) << how;
    EXPECT_EQ(picture.pixelColor(3 * x / 4, 3 * y / 4), QColor(Qt::blue)) << how;
}

TEST(SceneSurface, BothShowWhatIsPaintedTheRightWayUp) {
    for (const auto make : {make_card_surface, make_processor_surface}) {
        Quarter quarter;
        QWidget window;
        window.resize(301, 203);
        SceneSurface* surface = make(quarter, window);
        ASSERT_NE(surface, nullptr);
        surface->widget().setGeometry(window.rect());
        window.show();
        ASSERT_TRUE(QTest::qWaitForWindowExposed(&window));
        const char* how = make == make_card_surface ? "card" : "processor";
        EXPECT_TRUE(quarter.by_processor) << "these tests run without a card";
        expect_quarter(window.grab().toImage(), how);
        expect_quarter(surface->picture(), how);
        window.resize(402, 304);
        surface->widget().setGeometry(window.rect());
        QTest::qWait(30);
        expect_quarter(window.grab().toImage(), how);
        EXPECT_EQ(surface->picture().size(), QSize(402, 304)) << how;
        const int before = quarter.painted;
        surface->changed();
        QTest::qWait(30);
        EXPECT_GT(quarter.painted, before) << how;
        surface->end();
        EXPECT_EQ(quarter.ended, 1) << how;
    }
}

/// What is written over the picture changes with the pointer: the scene need not be drawn again for that.
TEST(SceneSurface, TheSceneIsNotDrawnAgainForWhatIsWrittenOverIt) {
    test::Hands hands(test::look());
    ASSERT_TRUE(hands.session.run({{"op", "stand_in.add"}, {"kind", "box"}, {"name", "Box"}}));
    hands.settle();
    QTest::qWait(300);  // it rests
    int painted = 0;
    QObject::connect(&hands.window.view(), &Viewport::painted, &hands.window, [&] { ++painted; });
    for (QWidget* child : hands.window.view().findChildren<QWidget*>(Qt::FindDirectChildrenOnly))
        if (dynamic_cast<ViewOverlay*>(child)) child->update();
    QTest::qWait(50);
    EXPECT_EQ(painted, 0);
    hands.window.view().setEdges(false);
    QTest::qWait(50);
    EXPECT_EQ(painted, 1);
}

}  // namespace
}  // namespace pivrak
