// What is painted again while a clip plays: what changed, and not whole panels.
#include <QPaintEvent>
#include <QTreeView>
#include <map>

#include "app/parts/parts_panel.h"
#include "app/timeline/time_lanes.h"
#include "tests/app/keyed_handle.h"

namespace pivrak {
namespace {

/// How much of each widget is asked to be painted [pixels].
class PaintedArea : public QObject {
public:
    PaintedArea() { qApp->installEventFilter(this); }
    ~PaintedArea() override { qApp->removeEventFilter(this); }
    bool eventFilter(QObject* widget, QEvent* event) override {
        if (event->type() == QEvent::Paint)
            for (const QRect& rect : static_cast<QPaintEvent*>(event)->region())
                areas_[widget] += rect.width() * rect.height();
        return false;
    }
    /// Of it, since it was asked last.
    int of(const QObject& widget) { return std::exchange(areas_[&widget], 0); }

private:
    std::map<const QObject*, int> areas_;
};

struct StillPanels : Curves {
    void go(double frame) {
        hands.session.setFrame(frame);
        hands.settle();
        QTest::qWait(30);
    }
};

TEST_F(StillPanels, AFrameRepaintsWhereItWasAndWhereItIsNow) {
    hands.clickRow(handle());
    TimeLanes& lanes = *hands.find<TimeLanes>("timeLanes");
    QTreeView& tree = hands.window.findChild<PartsPanel*>()->tree();
    go(10);
    PaintedArea painted;
    go(11);
    const int whole = lanes.width() * lanes.height(), strip = painted.of(lanes);
    EXPECT_GT(strip, 0) << "the frame's line moved";
    EXPECT_LT(strip, whole / 3);
    EXPECT_EQ(painted.of(*tree.viewport()), 0) << "no mark changed";
    // What is painted bit by bit is what is painted at once.
    for (const double frame : {12.0, 40.0, 41.0, 39.5, 80.0, 40.0}) go(frame);
    const QImage bit_by_bit = lanes.grab().toImage();
    hands.session.keyPicks().set({});
    EXPECT_EQ(bit_by_bit, lanes.grab().toImage());
}

TEST_F(StillPanels, ARowIsPaintedWhenItsMarkIsAnotherOne) {
    QTreeView& tree = hands.window.findChild<PartsPanel*>()->tree();
    const auto mark = [&] {
        return static_cast<ChannelMark>(tree.indexAt(hands.window.findChild<PartsPanel*>()->rowOf(handle()))
                                            .data(PartsModel::MarkRole)
                                            .toInt());
    };
    go(0);
    ASSERT_EQ(mark(), ChannelMark::AtLimit);
    PaintedArea painted;
    go(1);
    ASSERT_EQ(mark(), ChannelMark::Keyed) << "it leaves its limit";
    const int area = painted.of(*tree.viewport());
    EXPECT_GT(area, 0);
    EXPECT_LT(area, tree.viewport()->width() * 60) << "its row alone";
}

}  // namespace
}  // namespace pivrak
