#pragma once

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QToolButton>
#include <QWidget>
#include <map>

#include "app/session/session.h"
#include "app/shell/theme.h"
#include "app/timeline/player.h"
#include "app/timeline/ruler.h"

namespace pivrak {

/// Ruler, keys and lanes. Keys are picked by a click or, with Shift, by a box, and dragged in whole frames;
/// with Ctrl what follows moves along. Delete takes the picked ones out. Anywhere else the mouse scrubs.
class TimeLanes : public QWidget {
    Q_OBJECT

public:
    TimeLanes(Session& session, Look& look, QWidget* parent = nullptr);
    Ruler ruler() const;
    QSize sizeHint() const override { return {800, 120}; }
    /// Where a key is seen; nowhere when its lane is not.
    QPointF placeOf(ChannelRef channel, double frame) const;

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;

private:
    struct LaneKey {
        ChannelRef channel;
        double frame;
    };
    enum class Doing { Nothing, Scrub, Keys, Box };
    std::optional<LaneKey> keyAt(const QPointF& place) const;
    void pickBox(const QRectF& box);
    void dropMoved(bool ripples);
    void scrub(double x);
    void paintRuler(QPainter& painter) const;
    void paintLane(QPainter& painter, int row, ChannelRef channel);
    void paintKeys(QPainter& painter, const Track& track, double y) const;
    int laneCount() const;
    void paintDriven(QPainter& painter, ChannelRef channel, double y);
    const std::vector<double>& runOf(ChannelRef channel);
    std::vector<ChannelRef> lanes() const;

    Session& session_;
    Look& look_;
    Doing doing_ = Doing::Nothing;
    QPointF pressed_, last_;
    double moved_ = 0;  ///< frames by which the picked keys are dragged
    /// How driven channels run over the clip, as long as the document is the same.
    std::map<ChannelRef, std::vector<double>> runs_;
};

/// The strip of time below the work: transport, the frame as a number, keys, lanes.
class TimeStrip : public QWidget {
    Q_OBJECT

public:
    TimeStrip(Session& session, Look& look, Player& player, QWidget* parent = nullptr);
    TimeLanes& lanes() { return *lanes_; }

signals:
    void setKeyAsked();

private:
    void refresh();
    void typedFrame();

    Session& session_;
    Player& player_;
    TimeLanes* lanes_;
    QToolButton *to_start_, *play_, *to_end_;
    QLineEdit* frame_;
    QPushButton *set_key_, *auto_key_;
    QComboBox *clip_, *pace_;
    QLabel *rate_, *played_;
};

}  // namespace pivrak
