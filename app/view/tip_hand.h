#pragma once

#include <QPainter>
#include <optional>

#include "app/session/session.h"
#include "app/shell/theme.h"
#include "app/view/camera.h"

namespace pivrak {

/// The tip of an arm that reaches, taken in the view: its goal goes along with the pointer, and the arm
/// follows it as far as its joints let it. Dials of its hinges are shown as it goes, each with its limits.
class TipHand : public QObject {
    Q_OBJECT

public:
    TipHand(Session& session, const Camera& camera, QObject* parent);

    bool isOnGrip(const Vec2& pixel) const;
    bool press(const Vec2& pixel);
    bool isDragging() const { return dragged_.has_value(); }
    void drag(const Vec2& pixel);
    /// The goal stays there: by hand, or by keys where it is keyed.
    void release();
    void paint(QPainter& painter, const Theme& theme) const;

signals:
    void hint(const QString& text);

private:
    /// A picked tip whose goal can be moved.
    struct Grip {
        ReachId reach;
        PartId tip, goal;
        Vec3 tip_place;  ///< in the tip
        Vec3 goal_place;
    };
    struct Dragged {
        Grip grip;
        Vec3 start, way;  ///< of the pointer in the world, and from there to the goal
        std::optional<Vec3> wanted;
    };
    std::optional<Grip> grip() const;
    Vec3 tipOf(const Grip& grip) const;
    std::vector<std::pair<ChannelRef, double>> answer(const Grip& grip, const Vec3& wanted) const;
    void paintLimits(QPainter& painter, const Theme& theme) const;

    Session& session_;
    const Camera& camera_;
    std::optional<Dragged> dragged_;
};

}  // namespace pivrak
