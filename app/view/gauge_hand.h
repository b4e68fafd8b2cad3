#pragma once

#include <QLineEdit>
#include <QPainter>

#include "app/gauges/joint_gauges.h"
#include "app/view/place_gauges.h"

namespace pivrak {

/// The gauges of the part picked last, of its joint or of where it rests, in the hands of a person: which one
/// is in use, what is dragged, and the field beside the knob that a value is typed into.
class GaugeHand : public QObject {
    Q_OBJECT

public:
    GaugeHand(Session& session, const Camera& camera, QWidget* view);

    /// None while a preview is open, or nothing movable is picked.
    std::vector<ChannelGauge> gauges() const;
    /// The one that typing goes to.
    std::optional<ChannelGauge> active() const;
    /// Takes the next turn, or shift, of the part into use. Answers false when it has none.
    bool takeNext(Dimension dimension);

    bool isOnKnob(const Vec2& pixel) const;
    /// Takes hold of the knob under a pixel. Answers whether there is one; a driven one only tells why it
    /// stays.
    bool press(const Vec2& pixel);
    bool isDragging() const { return dragged_.has_value(); }
    void drag(const Vec2& pixel, Qt::KeyboardModifiers modifiers);
    void release();

    /// Puts the field where its knob is.
    void placeEntry();
    /// Numbers are written where there is room.
    void paint(QPainter& painter, const Theme& theme, LabelRoom& room) const;
    /// Where knobs and the field are: no words are written there.
    std::vector<QRectF> taken() const;

signals:
    void hint(const QString& text);

private:
    std::optional<JointStand> stand() const;
    std::optional<JointStand> jointStand() const;
    Bounds carriedBounds(PartId part) const;
    QString hintOf(const ChannelGauge& gauge, double value) const;
    void takeTyped(ChannelRef channel, double value);
    void applyTyped();
    QString shown(const ChannelGauge& gauge) const;

    Session& session_;
    const Camera& camera_;
    QWidget* view_;
    QLineEdit* entry_;
    ChannelRef active_;
    struct Dragged {
        ChannelRef channel;
        double start;
        std::variant<TurnDrag, ShiftDrag> drag;
    };
    std::optional<Dragged> dragged_;
    PlaceHand place_;  ///< what parts that are placed are moved by while one is dragged
};

}  // namespace pivrak
