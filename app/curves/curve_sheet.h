#pragma once

#include <QWidget>
#include <map>
#include <optional>

#include "app/curves/drawn_curve.h"
#include "app/session/session.h"
#include "app/shell/theme.h"
#include "app/stages/rig/drivers/channel_course.h"

namespace pivrak {

/// A channel that something drives, over the clip: to be seen beside its driver's keys, not edited.
struct DrivenCurve {
    ChannelRef channel;
    std::string by;  ///< who drives it
    Course samples = {};
};

/// Curves of the keyed channels of what is picked, as a strip of a recorder draws them: keys are picked one
/// by one, by a box or with Alt by a line round them, dragged in time and value, where they catch on other
/// keys, and their own tangents by their ends. A double click on a curve puts a key in, Delete takes the
/// picked ones out, the wheel zooms in time.
class CurveSheet : public QWidget {
    Q_OBJECT

public:
    CurveSheet(Session& session, Look& look);
    /// Takes up what the document has now.
    void refresh();
    const std::vector<ChannelRef>& channels() const { return channels_; }
    /// Drawn behind the others, thin, each on a scale of its own.
    void setDriven(std::vector<DrivenCurve> driven);
    const std::vector<DrivenCurve>& driven() const { return driven_; }
    void fit();
    /// One scale for all channels that count in the same, or one for each.
    void setOneScale(bool on);
    /// How fast each goes, and how that changes, in a strip below.
    void setSpeeds(bool on);
    /// Where a key is seen, and where the ends of its tangents are.
    QPointF placeOf(ChannelRef channel, double frame) const;
    QPointF handleOf(ChannelRef channel, double frame, bool out) const;

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    bool event(QEvent* event) override;

private:
    struct Scale {
        double low = 0, high = 1;
    };
    struct KeyAt {
        ChannelRef channel;
        double frame;
    };
    struct HandleAt {
        KeyAt key;
        bool out;
    };
    enum class Doing { Nothing, Box, Lasso, Keys, Handle, Pan, Scrub };

    Ruler ruler() const;
    static Scale scaleOf(const CompiledTrack& track);
    bool hasInHand() const { return doing_ == Doing::Keys || doing_ == Doing::Handle; }
    bool isInHand(ChannelRef channel) const;
    void shape(const Track& track);
    void rescale();
    double y(ChannelRef channel, double value) const;
    double valueAt(ChannelRef channel, double y) const;
    const CompiledTrack* compiled(ChannelRef channel) const;
    const Track* track(ChannelRef channel) const;
    /// As the document has it, whatever a hand makes of it. Pre: the channel is shown.
    const CompiledTrack& asItWas(ChannelRef channel) const;
    std::optional<KeyAt> keyAt(const QPointF& place) const;
    std::optional<HandleAt> handleAt(const QPointF& place) const;
    void dragKeys(const QPointF& to, Qt::KeyboardModifiers keys);
    void dragHandle(const QPointF& to);
    /// The value, or frames from where they were, at which what is dragged catches on another key.
    double caughtFrame(double frame) const;
    double caughtValue(double value) const;
    void pickInside(const QPolygonF& outline, bool adds);
    void finishKeys();
    void finishHandle();
    /// Where the values end, and the frames' numbers stand.
    double footY() const;
    void paintSpeeds(QPainter& painter) const;
    void paintDriven(QPainter& painter) const;
    void paintGrid(QPainter& painter) const;
    void paintStill(QPainter& painter) const;
    /// More than the line of the present frame, or what a hand has, looks otherwise.
    void paintAnew();
    void paintCurve(QPainter& painter, const CompiledTrack& track, const QColor& color, double wide) const;
    void paintKeys(QPainter& painter, ChannelRef channel, const QColor& color) const;
    void paintHandles(QPainter& painter, ChannelRef channel) const;
    QColor colorOf(std::size_t channel) const;

    Session& session_;
    Look& look_;
    Clip clip_;  ///< the document's
    std::vector<ChannelRef> channels_;
    std::map<ChannelRef, CompiledTrack> shown_;   ///< while keys are dragged, as they would be
    std::map<ChannelRef, CompiledTrack> before_;  ///< as they are, of those that a hand has
    QPixmap still_;  ///< what looks the same frame by frame, and while a hand has keys
    QPolygonF lasso_;
    std::vector<DrivenCurve> driven_;
    std::map<ChannelRef, Scale> scales_;
    double first_ = 0, last_ = 120;  ///< frames that are seen
    bool fitted_ = true, one_scale_ = false, speeds_ = false;
    Doing doing_ = Doing::Nothing;
    QPointF pressed_, last_place_;
    std::optional<KeyAt> gripped_;
    bool gripped_out_ = false;
    double moved_frames_ = 0, moved_value_ = 0;
};

}  // namespace pivrak
