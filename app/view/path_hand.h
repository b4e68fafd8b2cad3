#pragma once

#include <QObject>
#include <QPainter>
#include <memory>
#include <optional>
#include <unordered_map>
#include <vector>

#include "app/session/session.h"
#include "app/shell/theme.h"
#include "app/view/camera.h"
#include "app/view/view_picker.h"

namespace pivrak {

/// Paths in the view: drawn with the way they run, points and handles of the one in hand dragged, new ones
/// put down point by point.
class PathHand : public QObject {
    Q_OBJECT

public:
    PathHand(Session& session, Camera& camera, ViewPicker& picker, QObject* parent);

    bool isDrawing() const { return session_.pathTool().drawing; }
    /// A click while drawing puts a point down, on a shape or on the work plane; a click on the first point
    /// closes the path.
    void put(const Vec2& pixel);
    /// What is drawn becomes a path; answers whether it did.
    bool finish(bool closed);
    void leave();

    /// Takes hold of a point or handle of the path in hand, or takes another path in hand. Answers whether
    /// there was one.
    bool press(const Vec2& pixel, Qt::KeyboardModifiers modifiers);
    bool isDragging() const { return dragged_ || rider_dragged_; }
    void drag(const Vec2& pixel, Qt::KeyboardModifiers modifiers);
    void release();
    /// Puts a point more into the path under a pixel. Answers whether there was one.
    bool insertAt(const Vec2& pixel);
    bool isOnGrip(const Vec2& pixel) const;
    /// Takes the picked points out of the path in hand.
    bool deletePicked();

    void paint(QPainter& painter, const Theme& theme);

signals:
    void hint(const QString& text);
    void changed();

private:
    struct Grip {
        int point = 0;
        std::string what;  ///< point, before or after
        Vec3 place;        ///< in the world
    };
    struct Dragged {
        Grip grip;
        Vec3 start;
    };
    /// The rider picked last, when a hand may move it along its path.
    std::optional<PartId> rider() const;
    Vec3 riderKnob(PartId rider) const;
    bool isOnRider(const Vec2& pixel) const;
    void dragRider(const Vec2& pixel, Qt::KeyboardModifiers modifiers);
    void paintRider(QPainter& painter, const Theme& theme) const;
    Frame worldFromPath(const Path& path) const;
    std::vector<Grip> grips() const;
    std::optional<Grip> gripAt(const Vec2& pixel) const;
    std::optional<std::pair<PathId, double>> pathAt(const Vec2& pixel) const;
    std::optional<Vec3> onPlane(const Vec2& pixel, const Vec3& through, const Vec3& normal) const;
    std::optional<Vec3> placeUnder(const Vec2& pixel) const;
    Vec3 dragNormal() const;
    void paintRolls(QPainter& painter, const Theme& theme, const Path& path) const;
    Vec3 moved(const Vec3& start, const Vec2& pixel, Qt::KeyboardModifiers modifiers) const;
    struct StillKey {
        std::vector<double> numbers;
        std::vector<std::shared_ptr<const DrapedPath>> paths;
        bool operator==(const StillKey&) const = default;
    };
    StillKey stillKey(const Theme& theme, double pixel_ratio) const;
    void paintStill(QPainter& painter, const Theme& theme);
    struct Looked {
        std::shared_ptr<const DrapedPath> of;
        std::vector<Vec3> places;
        double length_m = 0;
    };
    const Looked* looked(const Path& path) const;
    QPolygonF seen(const Path& path, double* length = nullptr) const;
    void paintPath(QPainter& painter, const Theme& theme, const Path& path) const;
    void paintGrips(QPainter& painter, const Theme& theme) const;
    void paintDrawn(QPainter& painter, const Theme& theme) const;

    Session& session_;
    Camera& camera_;
    ViewPicker& picker_;
    std::optional<Dragged> dragged_;
    std::optional<PartId> rider_dragged_;
    std::optional<Path> shown_;  ///< the path in hand as it is being dragged
    mutable std::unordered_map<PathId, Looked> looked_;
    StillKey still_key_;
    QImage still_;  ///< paths that are not in hand; null until they are painted twice alike
};

}  // namespace pivrak
