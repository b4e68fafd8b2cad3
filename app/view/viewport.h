#pragma once

#include <QOpenGLExtraFunctions>
#include <QWidget>
#include <memory>
#include <optional>

#include "app/gauges/cutting_sheet.h"
#include "app/view/camera.h"
#include "app/view/drawn_scene.h"
#include "app/view/gauge_hand.h"
#include "app/view/path_hand.h"
#include "app/view/pick_hand.h"
#include "app/view/picture_pace.h"
#include "app/view/scene_surface.h"
#include "app/view/tip_hand.h"
#include "app/view/trail_hand.h"

class QOpenGLFramebufferObject;

namespace pivrak {

class ViewOverlay;

/// The view of the scene: draws what the session shows, picks parts, and carries the gauge of the part
/// picked last.
class Viewport : public QWidget, private ScenePainter {
    Q_OBJECT

public:
    Viewport(Session& session, const LaidPrints& prints, Look& look, QWidget* parent = nullptr);
    ~Viewport() override;

    Session& session() { return session_; }
    Camera& camera() { return camera_; }
    const Camera& camera() const { return camera_; }
    void setDirection(double azimuth_rad, double elevation_rad);
    void setPerspective(bool on);
    void setEdges(bool on);
    void setFrames(bool on);
    void setPerson(bool on);
    bool edges() const { return edges_; }
    bool frames() const { return frames_; }
    void frameSelection();
    /// Looks through a camera of the project wherever it goes, until a hand moves the view; none leaves it.
    void lookThrough(PartId camera);
    PartId through() const { return camera_.is_through() ? through_ : PartId{}; }
    /// All that is shown, and in Intake the arrow that marks its front.
    void frameAll();
    bool marksFront() const;

    /// The part under a pixel, if any.
    std::optional<PartId> partAt(const QPointF& pixel) { return picks_.partAt(pixel); }
    /// What lies under a pixel, in the world: a place on a part, else on the floor.
    std::optional<Vec3> placeUnder(const QPointF& pixel);
    ViewPicker& picker() { return picks_.picker(); }
    /// Bounds of what is shown, as it stands.
    Bounds shownBounds() const { return scene_.shownBounds(); }
    /// The plane being placed for a cut, as it stands in the view.
    std::optional<CuttingSheet> sheet() const;
    GaugeHand& gauges() { return *gauges_; }
    PathHand& paths() { return *paths_; }
    TipHand& tips() { return *tips_; }
    TrailHand& trail() { return *trail_; }
    /// The dial in use, when the part picked last has one.
    std::optional<Protractor> gauge() const;

    QSize sizeHint() const override { return {700, 420}; }
    /// The full picture, at once.
    void paintFully();
    /// What is painted of the scene, without what is written over it.
    QImage picture() { return surface_->picture(); }
    /// Waits until all that was asked to be drawn is.
    void finish() { surface_->finish(); }
    /// Tells the passes of each picture as they end; see `SceneRenderer::Options`.
    void tellPasses(std::function<void(const char*)> passed) { passed_ = std::move(passed); }

signals:
    void cameraChanged();
    /// A picture of the scene was drawn, with all there is to see or simpler.
    void painted(bool full);
    /// Turn typed or dragged on the gauge; told so that the foot can speak of it.
    void hint(const QString& text);

protected:
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    enum class Hand { Idle, Orbit, Pan, Pick, Outline, Gauge, Sheet, Path, Tip, Trail };

    friend class ViewOverlay;
    void begin(QOpenGLContext& context, bool by_processor) override;
    void paint(GLuint target, QSize pixels) override;
    void end() override;
    QPolygonF outline() const;
    void dragSheet(const QPointF& pixel, Qt::KeyboardModifiers modifiers);
    std::vector<double> cornerHeights(const Plane& plane) const;
    void repaintAll();
    void moved();
    void followCamera();
    void paintSmooth(const SceneRenderer::Options& options, GLuint target, QSize pixels);
    void paintSimply(SceneRenderer::Options options, GLuint target, QSize pixels);
    void copyTo(GLuint target, QSize pixels, const QOpenGLFramebufferObject& from, GLenum filter);
    double gridStep() const;

    Session& session_;
    Look& look_;
    Camera camera_;
    DrawnScene scene_;
    PickHand picks_;
    SceneSurface* surface_;
    std::unique_ptr<QOpenGLExtraFunctions> gl_;
    std::unique_ptr<SceneRenderer> renderer_;
    std::unique_ptr<QOpenGLFramebufferObject> samples_;  ///< in which the full picture is drawn
    std::unique_ptr<QOpenGLFramebufferObject> fewer_;    ///< pixels of simpler ones
    std::function<void(const char*)> passed_;
    PicturePace pace_;
    PartId through_;
    bool person_ = true;
    bool edges_ = true, frames_ = false;

    Hand hand_ = Hand::Idle;
    QPointF pressed_, last_;
    QPolygonF lasso_;
    std::optional<SheetDrag> sheet_drag_;
    ViewOverlay* overlay_;
    GaugeHand* gauges_;
    PathHand* paths_;
    TipHand* tips_;
    TrailHand* trail_;
};

}  // namespace pivrak
