#pragma once

#include <QPainter>
#include <optional>

#include "app/session/session.h"
#include "app/shell/theme.h"
#include "app/view/camera.h"
#include "core/motion/place_solver.h"

namespace pivrak {

/// The way of the part picked last over its clip, drawn with a tick at each frame; where keys move it they
/// are taken hold of, and dragged in the plane that faces the eye.
class TrailHand : public QObject {
    Q_OBJECT

public:
    TrailHand(Session& session, const Camera& camera, QObject* parent);

    bool isOnGrip(const Vec2& pixel) const;
    bool press(const Vec2& pixel);
    void drag(const Vec2& pixel);
    /// The keys of that frame bring it there.
    void release();
    void paint(QPainter& painter, const Theme& theme) const;
    /// Where a moment of the way is seen.
    QPointF placeOf(double frame) const;

signals:
    void hint(const QString& text);

private:
    const PlaceCourse* course() const;
    std::vector<double> keyFrames() const;
    std::optional<std::size_t> gripAt(const Vec2& pixel) const;

    Session& session_;
    const Camera& camera_;
    struct Dragged {
        std::size_t moment;
        std::vector<ChannelRef> channels;
        Vec3 start, to;
    };
    std::optional<Dragged> dragged_;
};

}  // namespace pivrak
