#include "app/view/viewport.h"
#include "app/view/points.h"

#include <QMouseEvent>
#include <cmath>
#include <numeric>

#include "app/view/control_marks.h"
#include "app/view/person.h"
#include "app/view/view_overlay.h"
#include "core/geometry/mesh/mesh_edit.h"
#include "core/model/control_sizes.h"
#include "core/model/units.h"

namespace pivrak {
namespace {

/// Linear colour components as a screen shows them (IEC 61966-2-1).
double to_screen(double c) {
    return c <= 0.0031308 ? 12.92 * c : 1.055 * std::pow(c, 1 / 2.4) - 0.055;
}

constexpr double drag_threshold_px = 4;

}  // namespace

Viewport::Viewport(Session& session, const LaidPrints& prints, Look& look, QWidget* parent)
    : QOpenGLWidget(parent),
      session_(session),
      prints_(prints),
      look_(look),
      picker_(session),
      overlay_(new ViewOverlay(*this)),
      gauges_(new GaugeHand(session, camera_, this)),
      paths_(new PathHand(session, camera_, picker_, this)) {
    person_mesh_ = person_silhouette();
    setObjectName(QStringLiteral("viewport"));
    setMouseTracking(true);
    setFocusPolicy(Qt::ClickFocus);
    setMinimumSize(280, 200);
    connect(gauges_, &GaugeHand::hint, this, &Viewport::hint);
    connect(paths_, &PathHand::hint, this, &Viewport::hint);
    connect(paths_, &PathHand::changed, this, &Viewport::repaintAll);
    const auto shapes = [this] {
        picker_.invalidate(true);
        repaintAll();
    };
    connect(&session_, &Session::documentChanged, this, shapes);
    connect(&session_, &Session::previewChanged, this, shapes);
    connect(&session_, &Session::previewChanged, this, [this] {
        const StepPreview* preview = session_.previewed();
        if (preview && preview->shows_whole()) frameAll();
        if (preview && preview->step.value("op", "") == "stand_in.add") {
            camera_.frame(boundsOf(preview->outcome.created));
            emit cameraChanged();
            repaintAll();
        }
    });
    connect(&session_, &Session::poseChanged, this, [this] {
        picker_.invalidate(false);
        repaintAll();
    });
    for (auto signal : {&Session::picksChanged, &Session::pickSettingsChanged, &Session::toolPlaneChanged,
                        &Session::pathToolChanged})
        connect(&session_, signal, this, &Viewport::repaintAll);
    connect(&session_, &Session::selectionChanged, this, &Viewport::repaintAll);
    connect(&session_, &Session::stageChanged, this, &Viewport::repaintAll);
    connect(&session_, &Session::handsOffChanged, this, [this] {
        picker_.invalidate(true);
        repaintAll();
    });
    connect(&session_, &Session::arrived, this, &Viewport::frameAll);
    connect(&look_, &Look::changed, this, &Viewport::repaintAll);
    connect(&prints_, &LaidPrints::changed, this, &Viewport::repaintAll);
}

Viewport::~Viewport() {
    makeCurrent();
    renderer_.reset();
    doneCurrent();
}

void Viewport::repaintAll() {
    gauges_->placeEntry();
    update();
    overlay_->update();
}

void Viewport::initializeGL() {
    gl_ = std::make_unique<QOpenGLExtraFunctions>(context());
    gl_->initializeOpenGLFunctions();
    renderer_ = std::make_unique<SceneRenderer>(*gl_);
}

void Viewport::resizeGL(int width, int height) {
    camera_.resize(width, height);
}

void Viewport::resizeEvent(QResizeEvent* event) {
    QOpenGLWidget::resizeEvent(event);
    camera_.resize(width(), height());
    overlay_->setGeometry(rect());
    gauges_->placeEntry();
}

void Viewport::paintGL() {
    renderer_->draw(drawItems(), camera_, look_.theme(), {edges_, devicePixelRatioF(), gridStep()});
}

double Viewport::gridStep() const {
    // A tenth of what the view shows, down to the next 1, 10, 100 ... of a millimetre.
    return std::pow(10.0, std::floor(std::log10(camera_.distance * 0.35)));
}

std::vector<QColor> Viewport::colorsOf(const Part& part, const Mesh& mesh) const {
    if (const StepPreview* preview = session_.previewed(); preview && preview->colours_pieces()) {
        const auto& created = preview->outcome.created;
        const auto found = std::find(created.begin(), created.end(), part.id);
        if (found != created.end()) return {pieceColor(static_cast<std::size_t>(found - created.begin()))};
    }
    return materialColors(mesh);
}

std::vector<QColor> Viewport::materialColors(const Mesh& mesh) const {
    std::vector<QColor> colors;
    for (const Submesh& run : mesh.submeshes) {
        const Material* material = session_.shownDocument().materials.find(run.material);
        const std::array<double, 4> c =
            material ? material->base_color : std::array<double, 4>{0.6, 0.6, 0.6, 1};
        colors.push_back(QColor::fromRgbF(static_cast<float>(to_screen(c[0])),
                                          static_cast<float>(to_screen(c[1])),
                                          static_cast<float>(to_screen(c[2]))));
    }
    if (colors.empty()) colors.emplace_back(170, 178, 180);
    return colors;
}

std::vector<std::shared_ptr<const std::vector<unsigned char>>> Viewport::picturesOf(const Mesh& mesh) const {
    std::vector<std::shared_ptr<const std::vector<unsigned char>>> pictures;
    if (mesh.uvs.empty()) return pictures;
    const Document& document = session_.shownDocument();
    bool any = false;
    for (const Submesh& run : mesh.submeshes) {
        const Material* material = document.materials.find(run.material);
        const Image* image = material ? document.images.find(material->base_color_image) : nullptr;
        pictures.push_back(image ? image->bytes : nullptr);
        any |= pictures.back() != nullptr;
    }
    if (!any) pictures.clear();
    return pictures;
}

std::vector<DrawItem> Viewport::drawItems() const {
    const Document& document = session_.shownDocument();
    const auto& parts = session_.evaluator().parts();
    const bool coloured = session_.previewed() && session_.previewed()->colours_pieces();
    std::vector<DrawItem> items;
    items.reserve(parts.size());
    for (std::size_t i = 0; i < parts.size(); ++i) {
        const Part* part = document.parts.find(parts[i]);
        const Shape* shape = part ? document.shapes.find(part->shape) : nullptr;
        if (!shape || !part->shown || shape->mesh->indices.empty()) continue;
        DrawItem item{shape->mesh, session_.pose().world_from_part[i] * part->part_from_shape,
                      colorsOf(*part, *shape->mesh), session_.isSelected(part->id)};
        if (!coloured) item.pictures = picturesOf(*shape->mesh);
        items.push_back(std::move(item));
    }
    addPrints(items);
    addPickedFaces(items);
    addPerson(items);
    return items;
}

/// Prints as far as they have grown: whole rows of the laid mesh, and a piece that ends at the wheel.
void Viewport::addPrints(std::vector<DrawItem>& items) const {
    for (const LaidPrints::Laid& laid : prints_.all()) {
        const double way = laid.strip.way_at(session_.frame());
        const auto [indices, last] = laid.strip.whole_rows(way);
        const auto add = [&](std::shared_ptr<const Mesh> mesh, std::optional<std::uint32_t> first) {
            if (mesh->indices.empty()) return;
            DrawItem item{mesh, {}, materialColors(*mesh)};
            item.pictures = picturesOf(*mesh);
            item.lifted = true;
            item.first_indices = first;
            items.push_back(std::move(item));
        };
        if (indices > 0) add(laid.whole, indices);
        if (way > last) add(std::make_shared<const Mesh>(laid.strip.piece(last, way)), std::nullopt);
    }
}

/// Picked faces are drawn once more, in the colour of what is picked.
void Viewport::addPickedFaces(std::vector<DrawItem>& items) const {
    const Document& document = session_.shownDocument();
    for (const auto& [id, mask] : session_.picks().faces) {
        const Part* part = document.parts.find(id);
        const Shape* shape = part ? document.shapes.find(part->shape) : nullptr;
        if (!shape || !part->shown || mask.size() != shape->mesh->triangle_count()) continue;
        DrawItem item{std::make_shared<const Mesh>(kept_triangles(*shape->mesh, mask)),
                      session_.worldFromPart(id) * part->part_from_shape,
                      {look_.theme().raspberry}};
        item.lifted = true;
        if (!item.mesh->indices.empty()) items.push_back(std::move(item));
    }
}

/// A person stands behind the model while it comes in, turned to the eye: seen from most sides, hiding
/// nothing.
void Viewport::addPerson(std::vector<DrawItem>& items) const {
    if (!person_ || session_.stage() != Stage::Intake || items.empty()) return;
    const Bounds bounds = shownBounds();
    DrawItem item{person_mesh_,
                  Frame{turn_about_axis(2, camera_.azimuth), Vec3(0, 0, 0)},
                  {look_.theme().softInk.lighter(look_.isNight() ? 90 : 130)}};
    item.world_from_mesh.translation = Vec3(bounds.min.x() - 0.5, bounds.middle().y(), 0);
    item.measure = true;
    items.push_back(std::move(item));
}

Bounds Viewport::shownBounds() const {
    Bounds bounds;
    const Document& document = session_.shownDocument();
    for (const PartId id : session_.evaluator().parts()) {
        const Part& part = *document.parts.find(id);
        const Shape* shape = part.shown ? document.shapes.find(part.shape) : nullptr;
        if (!shape || shape->bounds.empty()) continue;
        // The corners of its box are near enough here, and cost nothing.
        const Frame world = session_.worldFromPart(id) * part.part_from_shape;
        for (int corner = 0; corner < 8; ++corner)
            bounds.add(world.point(Vec3(corner & 1 ? shape->bounds.max.x() : shape->bounds.min.x(),
                                        corner & 2 ? shape->bounds.max.y() : shape->bounds.min.y(),
                                        corner & 4 ? shape->bounds.max.z() : shape->bounds.min.z())));
    }
    return bounds;
}

Bounds Viewport::boundsOf(const std::vector<PartId>& parts) const {
    const Document& document = session_.shownDocument();
    Bounds bounds;
    for (const PartId id : parts) {
        const Part* part = document.parts.find(id);
        const Shape* shape = part ? document.shapes.find(part->shape) : nullptr;
        if (shape) bounds.add(mesh_bounds(*shape->mesh, session_.worldFromPart(id) * part->part_from_shape));
        if (part && part->control)
            for (const auto& line : symbol_lines(*part->control))
                for (const Vec3& p : line) bounds.add(session_.worldFromPart(id).point(p));
    }
    return bounds;
}

void Viewport::setDirection(double azimuth, double elevation) {
    camera_.azimuth = azimuth;
    camera_.elevation = elevation;
    emit cameraChanged();
    repaintAll();
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

void Viewport::frameAll() {
    camera_.frame(boundsOf(session_.evaluator().parts()));
    emit cameraChanged();
    repaintAll();
}

void Viewport::frameSelection() {
    if (session_.selection().empty()) return frameAll();
    const Tree tree(session_.shownDocument());
    std::vector<PartId> parts;
    for (const PartId part : session_.selection())
        for (const PartId below : tree.branch(part)) parts.push_back(below);
    camera_.frame(boundsOf(parts));
    emit cameraChanged();
    repaintAll();
}

// ---- picking

std::optional<PartId> Viewport::partAt(const QPointF& pixel) {
    // Controls are picked before geometry, through which their lines are seen.
    if (const auto control = controlAt(seenControls(session_, camera_), pixel);
        control && session_.isPickable(*session_.shownDocument().parts.find(*control)))
        return control;
    const auto found = picker_.hit(camera_, pixel);
    return found ? std::optional(found->part) : std::nullopt;
}

void Viewport::combineSelection(const std::vector<PartId>& picked, Qt::KeyboardModifiers modifiers) {
    std::vector<PartId> selection;
    if (modifiers & (Qt::ShiftModifier | Qt::ControlModifier)) selection = session_.selection();
    for (const PartId part : picked) {
        std::erase(selection, part);
        if (!(modifiers & Qt::ControlModifier)) selection.push_back(part);
    }
    session_.select(selection);
}

namespace {

/// Puts newly picked elements in, or takes them out, keeping the order of those that stay.
template <class T>
void combine(std::vector<T>& into, const std::vector<T>& picked, bool take_out) {
    for (const T& one : picked) {
        std::erase(into, one);
        if (!take_out) into.push_back(one);
    }
}

}  // namespace

void Viewport::combinePicks(const ElementPicks& picked, Qt::KeyboardModifiers modifiers) {
    ElementPicks now;
    const bool take_out = modifiers & Qt::ControlModifier;
    // Places gather: a hinge line needs two, and a click beside the model clears them.
    const bool gathers = !picked.places.empty();
    if (gathers || modifiers & (Qt::ShiftModifier | Qt::ControlModifier)) now = session_.picks();
    for (const auto& [part, mask] : picked.faces) {
        FaceMask& own = now.faces[part];
        own.resize(mask.size());
        for (std::size_t f = 0; f < mask.size(); ++f)
            if (mask[f]) own[f] = !take_out;
    }
    std::erase_if(now.faces, [](const auto& entry) {
        return std::find(entry.second.begin(), entry.second.end(), true) == entry.second.end();
    });
    combine(now.edges, picked.edges, take_out);
    combine(now.points, picked.points, take_out);
    combine(now.places, picked.places, take_out);
    session_.setPicks(std::move(now));
}

std::optional<PickedPlace> Viewport::placeAt(const QPointF& pixel) {
    constexpr double reach_px = 8;
    const auto near = [&](const Vec3& world) {
        const Vec3 seen = camera_.project(world);
        return seen.z() > 0 && (seen.head<2>() - vec(pixel)).norm() < reach_px;
    };
    for (const PartId id : session_.evaluator().parts())
        if (frames_ && !session_.isSelected(id) && near(session_.worldFromPart(id).translation))
            return PickedPlace{id, PickedPlace::Kind::Pivot, 0, 0, {0, 0, 0}};
    if (const auto place = picker_.place(camera_, pixel)) return place;
    const Ray ray = camera_.ray(vec(pixel));
    if (std::abs(ray.direction.z()) < 1e-6) return std::nullopt;
    const double step = gridStep(), along = -ray.origin.z() / ray.direction.z();
    const Vec3 floor = ray.origin + along * ray.direction;
    const Vec3 crossing(step * std::round(floor.x() / step), step * std::round(floor.y() / step), 0);
    if (along <= 0 || !near(crossing)) return std::nullopt;
    return PickedPlace{{}, PickedPlace::Kind::Grid, 0, 0, crossing};
}

void Viewport::pickAt(const QPointF& pixel, Qt::KeyboardModifiers modifiers) {
    const PickKind kind = session_.pickSettings().kind;
    if (kind == PickKind::Parts) {
        const auto part = partAt(pixel);
        return combineSelection(part ? std::vector{*part} : std::vector<PartId>{}, modifiers);
    }
    ElementPicks picked;
    if (kind == PickKind::Faces)
        if (const auto hit = picker_.hit(camera_, pixel)) {
            const Part& part = *session_.shownDocument().parts.find(hit->part);
            FaceMask& mask = picked.faces[hit->part];
            mask.resize(session_.shownDocument().shapes.find(part.shape)->mesh->triangle_count());
            mask[hit->triangle] = true;
        }
    if (kind == PickKind::Edges)
        if (const auto edge = picker_.edge(camera_, pixel)) picked.edges.push_back(*edge);
    if (kind == PickKind::Places)
        if (const auto place = placeAt(pixel)) picked.places.push_back(*place);
    if (kind == PickKind::Points)
        if (const auto point = picker_.point(camera_, pixel)) picked.points.push_back(*point);
    combinePicks(picked, modifiers);
}

QPolygonF Viewport::outline() const {
    return session_.pickSettings().lasso ? lasso_ : QPolygonF(QRectF(pressed_, last_).normalized());
}

void Viewport::pickOutline(Qt::KeyboardModifiers modifiers) {
    const PickSettings& settings = session_.pickSettings();
    if (settings.kind == PickKind::Parts) {
        std::vector<PartId> picked = controlsInside(seenControls(session_, camera_), outline());
        std::erase_if(picked, [&](PartId id) {
            return !session_.isPickable(*session_.shownDocument().parts.find(id));
        });
        // Where there are controls to pick, what they drive is not meant.
        if (picked.empty()) picked = picker_.parts_inside(camera_, outline(), settings.through);
        combineSelection(picked, modifiers);
    } else {
        combinePicks(picker_.elements_inside(camera_, outline(), settings), modifiers);
    }
}

// ---- the plane being placed

std::optional<CuttingSheet> Viewport::sheet() const {
    const auto& tool = session_.toolPlane();
    if (!tool) return std::nullopt;
    const Bounds bounds = session_.selection().empty() ? shownBounds() : boundsOf(session_.selection());
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
        const bool on_grip =
            gauges_->isOnKnob(at) || paths_->isOnGrip(at) || (sheet && sheet->grip_at(camera_, at));
        setCursor(on_grip ? Qt::PointingHandCursor : Qt::ArrowCursor);
        return;
    }
    last_ = event->position();
    const QPointF way = last_ - pressed_;
    if (hand_ == Hand::Pick && std::hypot(way.x(), way.y()) > drag_threshold_px &&
        (session_.pickSettings().kind != PickKind::Parts || session_.pickSettings().lasso ||
         !partAt(pressed_))) {
        hand_ = Hand::Outline;
        lasso_ = QPolygonF{pressed_};
    }
    if (hand_ == Hand::Outline) lasso_ << last_;
    if (hand_ == Hand::Sheet) return dragSheet(last_, event->modifiers());
    if (hand_ == Hand::Orbit) camera_.orbit(moved.x(), moved.y());
    if (hand_ == Hand::Pan) camera_.pan(moved.x(), moved.y());
    if (hand_ == Hand::Path) return paths_->drag(vec(last_), event->modifiers());
    if (hand_ == Hand::Gauge) return gauges_->drag(vec(last_), event->modifiers());
    if (hand_ == Hand::Orbit || hand_ == Hand::Pan) emit cameraChanged();
    repaintAll();
}

void Viewport::mouseReleaseEvent(QMouseEvent* event) {
    const Hand hand = std::exchange(hand_, Hand::Idle);
    if (hand == Hand::Gauge) gauges_->release();
    if (hand == Hand::Path) paths_->release();
    sheet_drag_.reset();
    if (hand == Hand::Pick) pickAt(pressed_, event->modifiers());
    last_ = event->position();
    if (hand == Hand::Outline) pickOutline(event->modifiers());
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
    repaintAll();
}

}  // namespace pivrak
