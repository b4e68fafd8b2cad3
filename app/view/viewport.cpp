#include "app/view/viewport.h"

#include <QMouseEvent>
#include <QOpenGLFramebufferObject>
#include <cmath>

#include "app/view/points.h"
#include "app/view/view_overlay.h"
#include "core/model/units.h"

namespace pivrak {
namespace {

constexpr double drag_threshold_px = 4;

}  // namespace

Viewport::Viewport(Session& session, const LaidPrints& prints, Look& look, QWidget* parent)
    : QWidget(parent),
      session_(session),
      look_(look),
      scene_(session, prints, look),
      picks_(session, camera_),
      surface_(make_scene_surface(*this, *this)),
      overlay_(new ViewOverlay(*this)),
      gauges_(new GaugeHand(session, camera_, this)),
      paths_(new PathHand(session, camera_, picks_.picker(), this)),
      tips_(new TipHand(session, camera_, this)),
      trail_(new TrailHand(session, camera_, this)) {
    setObjectName(QStringLiteral("viewport"));
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("View"));
    setMinimumSize(280, 200);
    surface_->widget().setAttribute(Qt::WA_TransparentForMouseEvents);
    connect(gauges_, &GaugeHand::hint, this, &Viewport::hint);
    connect(paths_, &PathHand::hint, this, &Viewport::hint);
    connect(tips_, &TipHand::hint, this, &Viewport::hint);
    connect(trail_, &TrailHand::hint, this, &Viewport::hint);
    connect(paths_, &PathHand::changed, this, &Viewport::repaintAll);
    const auto shapes = [this] {
        picks_.picker().invalidate(true);
        scene_.forget();
        repaintAll();
    };
    connect(&session_, &Session::documentChanged, this, shapes);
    connect(&session_, &Session::previewChanged, this, shapes);
    connect(&session_, &Session::previewChanged, this, [this] {
        const StepPreview* preview = session_.previewed();
        if (preview && preview->shows_whole()) frameAll();
        if (preview && preview->step.value("op", "") == "stand_in.add") {
            camera_.frame(scene_.boundsOf(preview->outcome.created));
            emit cameraChanged();
            repaintAll();
        }
    });
    connect(&session_, &Session::poseChanged, this, [this] {
        picks_.picker().invalidate(false);
        followCamera();
        moved();
    });
    connect(&pace_, &PicturePace::rested, this, &Viewport::repaintAll);
    const auto looks = [this] {
        scene_.forget();
        repaintAll();
    };
    for (auto signal : {&Session::picksChanged, &Session::pickSettingsChanged, &Session::toolPlaneChanged,
                        &Session::pathToolChanged, &Session::seeingChanged})
        connect(&session_, signal, this, &Viewport::repaintAll);
    connect(&session_, &Session::selectionChanged, this, looks);
    connect(&session_, &Session::stageChanged, this, &Viewport::repaintAll);
    for (auto signal : {&Session::handsOffChanged, &Session::hiddenFacesChanged})
        connect(&session_, signal, this, shapes);
    connect(&session_, &Session::arrived, this, &Viewport::frameAll);
    connect(&look_, &Look::changed, this, looks);
    connect(&prints, &LaidPrints::changed, this, &Viewport::repaintAll);
}

Viewport::~Viewport() {
    surface_->end();
}

void Viewport::repaintAll() {
    gauges_->placeEntry();
    surface_->changed();
    overlay_->update();
}

/// As above, of something that moves.
void Viewport::moved() {
    pace_.moved();
    repaintAll();
}

void Viewport::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    camera_.resize(width(), height());
    surface_->widget().setGeometry(rect());
    overlay_->setGeometry(rect());
    gauges_->placeEntry();
}

void Viewport::lookThrough(PartId camera) {
    through_ = camera;
    const Part* part = session_.shownDocument().parts.find(camera);
    if (part && part->lens)
        camera_.look_through(session_.worldFromPart(camera), part->lens->field_rad);
    else
        camera_.leave_camera();
    emit cameraChanged();
    repaintAll();
}

/// To where the camera stands now.
void Viewport::followCamera() {
    if (!camera_.is_through()) return;
    const Part* part = session_.shownDocument().parts.find(through_);
    if (part && part->lens)
        camera_.look_through(session_.worldFromPart(through_), part->lens->field_rad);
    else
        camera_.leave_camera();
    emit cameraChanged();
}

double Viewport::gridStep() const {
    // A tenth of what the view shows, down to the next 1, 10, 100 ... of a millimetre.
    return std::pow(10.0, std::floor(std::log10(camera_.distance * 0.35)));
}

void Viewport::setDirection(double azimuth, double elevation) {
    camera_.azimuth = azimuth;
    camera_.elevation = elevation;
    emit cameraChanged();
    moved();
}

void Viewport::setPerspective(bool on) {
    camera_.perspective = on;
    emit cameraChanged();
    repaintAll();
}

void Viewport::setEdges(bool on) {
    edges_ = on;
    repaintAll();
}

void Viewport::setFrames(bool on) {
    frames_ = on;
    repaintAll();
}

void Viewport::setPerson(bool on) {
    person_ = on;
    repaintAll();
}

std::optional<Vec3> Viewport::placeUnder(const QPointF& pixel) {
    if (const auto hit = picks_.picker().hit(camera_, pixel)) return hit->place;
    return camera_.floor_at(vec(pixel));
}

void Viewport::frameAll() {
    Bounds all = scene_.boundsOf(session_.evaluator().parts());
    if (marksFront() && !all.empty())
        for (const Vec3& corner : front_arrow(all)) all.add(corner);
    camera_.frame(all);
    emit cameraChanged();
    repaintAll();
}

bool Viewport::marksFront() const {
    return session_.stage() == Stage::Intake && !session_.shownDocument().shapes.empty();
}

void Viewport::frameSelection() {
    if (session_.selection().empty()) return frameAll();
    const Tree tree(session_.shownDocument());
    std::vector<PartId> parts;
    for (const PartId part : session_.selection())
        for (const PartId below : tree.branch(part)) parts.push_back(below);
    camera_.frame(scene_.boundsOf(parts));
    emit cameraChanged();
    repaintAll();
}

/// The outline being drawn: a box, or what the pointer has gone round.
QPolygonF Viewport::outline() const {
    return session_.pickSettings().lasso ? lasso_ : QPolygonF(QRectF(pressed_, last_).normalized());
}

// ---- the plane being placed

std::optional<CuttingSheet> Viewport::sheet() const {
    const auto& tool = session_.toolPlane();
    if (!tool) return std::nullopt;
    const Bounds bounds =
        session_.selection().empty() ? scene_.shownBounds() : scene_.boundsOf(session_.selection());
    if (bounds.empty()) return std::nullopt;
    const Plane plane = tool->plane();
    return CuttingSheet{*tool, bounds.middle() - plane.height(bounds.middle()) * plane.normal,
                        0.56 * bounds.size().norm()};
}

/// How far along the plane's normal the picked parts have corners.
std::vector<double> Viewport::cornerHeights(const Plane& plane) const {
    std::vector<double> heights;
    const Document& document = session_.shownDocument();
    for (const PartId id : session_.selection()) {
        const Part* part = document.parts.find(id);
        const Shape* shape = part ? document.shapes.find(part->shape) : nullptr;
        if (!shape) continue;
        const Frame world = session_.worldFromPart(id) * part->part_from_shape;
        for (const Vec3f& p : shape->mesh->positions)
            heights.push_back(plane.height(world.point(p.cast<double>())));
    }
    return heights;
}

void Viewport::dragSheet(const QPointF& pixel, Qt::KeyboardModifiers modifiers) {
    session_.setToolPlane(sheet_drag_->move(camera_, vec(pixel), modifiers & Qt::ShiftModifier,
                                            modifiers & Qt::ControlModifier));
    emit hint(sheet_drag_->grip() == CuttingSheet::Grip::Move
                  ? tr("Snaps to corners of the picked parts; Shift steps by 10 mm, Ctrl moves finely")
                  : tr("By whole degrees; Shift steps by 5°, Ctrl turns finely"));
}

// ---- gauge

std::optional<Protractor> Viewport::gauge() const {
    const auto active = gauges_->active();
    const auto* dial = active ? std::get_if<Protractor>(&active->form) : nullptr;
    return dial ? std::optional(*dial) : std::nullopt;
}

// ---- hands

void Viewport::mousePressEvent(QMouseEvent* event) {
    pressed_ = last_ = event->position();
    const bool alt = event->modifiers() & Qt::AltModifier, shift = event->modifiers() & Qt::ShiftModifier;
    if (event->button() == Qt::MiddleButton) {
        hand_ = alt || shift ? Hand::Pan : Hand::Orbit;
    } else if (event->button() == Qt::LeftButton && alt) {
        hand_ = Hand::Orbit;
    } else if (event->button() == Qt::LeftButton) {
        const auto sheet = this->sheet();
        const auto grip = sheet ? sheet->grip_at(camera_, vec(pressed_)) : std::nullopt;
        if (grip) {
            hand_ = Hand::Sheet;
            sheet_drag_.emplace(*sheet, *grip, camera_, vec(pressed_), cornerHeights(sheet->tool.plane()));
        } else if (paths_->isDrawing()) {
            paths_->put(vec(pressed_));
        } else if (paths_->press(vec(pressed_), event->modifiers())) {
            hand_ = paths_->isDragging() ? Hand::Path : Hand::Idle;
            repaintAll();
        } else if (gauges_->press(vec(pressed_))) {
            hand_ = gauges_->isDragging() ? Hand::Gauge : Hand::Idle;
            repaintAll();
        } else if (tips_->press(vec(pressed_))) {
            hand_ = Hand::Tip;
        } else if (trail_->press(vec(pressed_))) {
            hand_ = Hand::Trail;
        } else {
            hand_ = Hand::Pick;
        }
    }
}

void Viewport::mouseMoveEvent(QMouseEvent* event) {
    const QPointF moved = event->position() - last_;
    if (hand_ == Hand::Idle) {
        const Vec2 at = vec(event->position());
        const auto sheet = this->sheet();
        const bool on_grip = gauges_->isOnKnob(at) || tips_->isOnGrip(at) || trail_->isOnGrip(at) ||
                             paths_->isOnGrip(at) || (sheet && sheet->grip_at(camera_, at));
        setCursor(on_grip ? Qt::PointingHandCursor : Qt::ArrowCursor);
        return;
    }
    last_ = event->position();
    const QPointF way = last_ - pressed_;
    if (hand_ == Hand::Pick && std::hypot(way.x(), way.y()) > drag_threshold_px &&
        (session_.pickSettings().kind != PickKind::Parts || session_.pickSettings().lasso ||
         !picks_.partAt(pressed_))) {
        hand_ = Hand::Outline;
        lasso_ = QPolygonF{pressed_};
    }
    if (hand_ == Hand::Outline) lasso_ << last_;
    if (hand_ == Hand::Sheet) return dragSheet(last_, event->modifiers());
    if (hand_ == Hand::Orbit) camera_.orbit(moved.x(), moved.y());
    if (hand_ == Hand::Pan) camera_.pan(moved.x(), moved.y());
    if (hand_ == Hand::Path) return paths_->drag(vec(last_), event->modifiers());
    if (hand_ == Hand::Gauge) return gauges_->drag(vec(last_), event->modifiers());
    if (hand_ == Hand::Tip) return tips_->drag(vec(last_));
    if (hand_ == Hand::Trail) return trail_->drag(vec(last_));
    if (hand_ != Hand::Orbit && hand_ != Hand::Pan) return repaintAll();
    emit cameraChanged();
    this->moved();
}

void Viewport::mouseReleaseEvent(QMouseEvent* event) {
    const Hand hand = std::exchange(hand_, Hand::Idle);
    if (hand == Hand::Gauge) gauges_->release();
    if (hand == Hand::Tip) tips_->release();
    if (hand == Hand::Trail) trail_->release();
    if (hand == Hand::Path) paths_->release();
    sheet_drag_.reset();
    if (hand == Hand::Pick) picks_.pickAt(pressed_, event->modifiers(), {frames_, gridStep()});
    last_ = event->position();
    if (hand == Hand::Outline) picks_.pickInside(outline(), event->modifiers());
    repaintAll();
}

void Viewport::mouseDoubleClickEvent(QMouseEvent* event) {
    if (event->button() == Qt::LeftButton && !paths_->isDrawing() && paths_->insertAt(vec(event->position())))
        return;
    mousePressEvent(event);
}

void Viewport::wheelEvent(QWheelEvent* event) {
    camera_.zoom(std::pow(0.9985, event->angleDelta().y()), vec(event->position()));
    emit cameraChanged();
    moved();
}

}  // namespace pivrak
