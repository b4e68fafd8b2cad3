#include "app/stages/rig/path_card.h"

#include <cmath>

#include "app/session/element_picks.h"
#include "app/session/shown_value.h"
#include "app/stages/kit/length_text.h"
#include "core/base/words.h"

namespace pivrak {

using nlohmann::json;

PathCard::PathCard(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(9);
    makeDrawing(column);
    makeInHand(column);
}

void PathCard::makeDrawing(QVBoxLayout* into) {
    auto* card = new Card(tr("New path"));
    form_ = makeChoice(
        "pathForm", {{tr("smooth"), "smooth"}, {tr("with handles"), "bezier"}, {tr("straight"), "polyline"}});
    where_ = makeChoice("pathWhere", {{tr("on the floor"), "floor"},
                                      {tr("upright, along X"), "y"},
                                      {tr("upright, along Y"), "x"},
                                      {tr("on the picked face"), "face"},
                                      {tr("facing the view"), "view"},
                                      {tr("on shapes"), "shapes"}});
    draw_ = makeButton(tr("Draw"), "drawPath", true);
    draw_->setCheckable(true);
    circle_ = makeButton(tr("Circle"), "addCircle");
    radius_ = makeNumber("circleRadius");
    radius_->setText(QStringLiteral("5 m"));
    second_radius_ = makeNumber("circleRadius2");
    second_radius_->setPlaceholderText(tr("the same"));
    second_radius_->setToolTip(tr("The other half axis of an ellipse"));
    auto* import = makeButton(tr("From a file…"), "importPaths");
    card->addRow(tr("Kind"), form_);
    card->addRow(tr("Points"), where_);
    card->addButtons({draw_, import});
    drawing_ = card->addReadout("drawingState");
    card->addRow(tr("Radius"), radius_);
    card->addRow(tr("Second radius"), second_radius_);
    card->addButtons({circle_});
    circle_->setToolTip(
        tr("A circle along the plane that points are put on, about the part picked last, or the origin"));
    into->addWidget(card);
    connect(draw_, &QPushButton::clicked, this, &PathCard::startDrawing);
    connect(where_, &QComboBox::activated, this, &PathCard::refresh);
    connect(circle_, &QPushButton::clicked, this, &PathCard::addCircle);
    connect(import, &QPushButton::clicked, this, &PathCard::importAsked);
}

void PathCard::makeInHand(QVBoxLayout* into) {
    in_hand_ = new Card(tr("Current path"));
    which_ = makeChoice("pathInHand", {});
    name_ = new QLineEdit;
    name_->setObjectName(QStringLiteral("pathName"));
    runs_ = makeChoice(
        "pathRuns", {{tr("smooth"), "smooth"}, {tr("with handles"), "bezier"}, {tr("straight"), "polyline"}});
    // What is round stays so.
    runs_->setPlaceholderText(tr("round"));
    point_at_ = makeNumber("pathPointAt");
    point_at_->setPlaceholderText(tr("pick a point"));
    point_at_->setToolTip(tr("Place of the point picked last: forward, left, up, as 1.2 m, 0, 350 mm"));
    count_ = makeNumber("pathCount");
    height_ = makeNumber("drapeHeight");
    ease_ = makeNumber("drapeEase");
    roll_at_ = makeNumber("pathRollAt");
    roll_ = makeNumber("pathRoll");
    roll_at_->setPlaceholderText(tr("25 %"));
    closed_ = makeButton(tr("Close"), "closePath");
    reverse_ = makeButton(tr("Reverse"), "reversePath");
    respace_ = makeButton(tr("Space evenly"), "respacePath");
    corner_ = makeButton(tr("Corner"), "cornerPoints");
    smooth_ = makeButton(tr("Smooth"), "smoothPoints");
    delete_ = makeButton(tr("Take out"), "deletePoints");
    drape_ = makeButton(tr("Lay on last picked"), "drapePath");
    carry_ = makeButton(tr("Carry"), "carryPath");
    set_roll_ = makeButton(tr("Roll there"), "setPathRoll");
    export_ = makeButton(tr("Export…"), "exportPath");
    remove_ = makeButton(tr("Remove"), "removePath");
    in_hand_->addRow(tr("Path"), which_);
    in_hand_->addRow(tr("Name"), name_);
    facts_ = in_hand_->addReadout("pathFacts");
    in_hand_->addRow(tr("Kind"), runs_);
    in_hand_->addButtons({closed_, reverse_});
    in_hand_->addRow(tr("Number of points"), count_);
    in_hand_->addButtons({respace_});
    in_hand_->addButtons({corner_, smooth_, delete_});
    in_hand_->addRow(tr("Point at"), point_at_);
    in_hand_->addRow(tr("Above ground"), height_);
    in_hand_->addRow(tr("Ease bumps over"), ease_);
    in_hand_->addButtons({drape_, carry_});
    drape_facts_ = in_hand_->addReadout("drapeFacts");
    in_hand_->addRow(tr("Roll at"), roll_at_);
    in_hand_->addRow(tr("by"), roll_);
    in_hand_->addButtons({set_roll_});
    in_hand_->addButtons({export_, remove_});
    into->addWidget(in_hand_);
    connect(which_, &QComboBox::activated, this,
            [this] { session_.setPathTool({PathId{which_->currentData().toULongLong()}}); });
    connect(name_, &QLineEdit::returnPressed, this, [this] {
        run("path.set", {{"name", name_->text().toStdString()}});
    });
    connect(runs_, &QComboBox::activated, this, [this] { run("path.set", {{"form", chosen(runs_)}}); });
    connect(point_at_, &QLineEdit::returnPressed, this, &PathCard::movePoint);
    connect(closed_, &QPushButton::clicked, this, [this] {
        run("path.set", {{"closed", !session_.pathInHand()->closed}});
    });
    connect(reverse_, &QPushButton::clicked, this, [this] { run("path.reverse"); });
    connect(respace_, &QPushButton::clicked, this, [this] {
        run("path.respace", {{"count", count_->text().toInt()}});
    });
    connect(corner_, &QPushButton::clicked, this, [this] {
        run("path.handles", {{"points", pickedPoints()}, {"as", "corner"}});
    });
    connect(smooth_, &QPushButton::clicked, this, [this] {
        run("path.handles", {{"points", pickedPoints()}, {"as", "smooth"}});
    });
    connect(delete_, &QPushButton::clicked, this, [this] {
        run("path.delete_points", {{"points", pickedPoints()}});
    });
    connect(drape_, &QPushButton::clicked, this, &PathCard::layOnGround);
    connect(carry_, &QPushButton::clicked, this, [this] {
        const Path& path = *session_.pathInHand();
        run("path.carry", path.carrier ? json::object() : json{{"under", session_.primary().value}});
    });
    connect(set_roll_, &QPushButton::clicked, this, [this] {
        json more{{"at", roll_at_->text().toStdString()}};
        if (!roll_->text().isEmpty()) more["roll"] = roll_->text().toStdString();
        run("path.roll", more);
    });
    connect(export_, &QPushButton::clicked, this,
            [this] { emit exportAsked(QString::fromStdString(session_.pathInHand()->name)); });
    connect(remove_, &QPushButton::clicked, this, [this] { run("path.remove"); });
}

void PathCard::run(const char* op, json more) {
    const Path* path = session_.pathInHand();
    if (!path) return;
    more["op"] = op;
    more["path"] = path->name;
    session_.run(more);
}

void PathCard::startDrawing(bool on) {
    PathTool tool;
    tool.path = session_.pathTool().path;
    tool.drawing = on;
    tool.form = chosen(form_);
    tool.on = chosen(where_);
    if (!placePlane(tool)) tool.drawing = false;
    session_.setPathTool(tool);
}

/// The work plane goes through the part picked last; a level one is the floor.
bool PathCard::placePlane(PathTool& tool) {
    if (session_.primary()) tool.plane_point = session_.worldFromPart(session_.primary()).translation;
    if (tool.on == "x" || tool.on == "y") tool.plane_normal = Vec3::Unit(tool.on[0] - 'x');
    if (tool.on == "floor") tool.plane_point.z() = 0;
    if (tool.on != "face") return true;
    const auto plane = picked_face_plane(session_.document(), session_.picks());
    if (!plane) {
        if (tool.drawing) emit session_.told(tr("Pick a face first: its plane is drawn on."), true);
        return false;
    }
    tool.plane_point = plane->point;
    tool.plane_normal = plane->normal;
    return true;
}

void PathCard::addCircle() {
    PathTool tool;
    tool.on = chosen(where_);
    tool.drawing = true;
    if (!placePlane(tool)) return;
    const Vec3 at =
        session_.primary() ? session_.worldFromPart(session_.primary()).translation : Vec3(tool.plane_point);
    const auto triple = [](const Vec3& v) { return json{v.x(), v.y(), v.z()}; };
    json step{{"op", "path.add"},
              {"form", second_radius_->text().isEmpty() ? "circle" : "ellipse"},
              {"centre", triple(at)},
              {"normal", triple(tool.plane_normal)},
              {"radius", radius_->text().toStdString()}};
    if (!second_radius_->text().isEmpty()) step["radius_2"] = second_radius_->text().toStdString();
    if (session_.run(step)) session_.setPathTool({newest_path(session_.document())});
}

/// Where the point picked last is at rest, forward, left and up [m].
std::optional<Vec3> PathCard::pickedPlace(const Path& path) const {
    const auto& picked = session_.pathTool().points;
    if (picked.empty() || path.form == PathForm::Ellipse) return std::nullopt;
    const Frame rest = path.carrier ? world_from_rest(session_.document(), path.carrier) : Frame{};
    return rest.point(path.points[static_cast<std::size_t>(picked.back())].place);
}

QStringList PathCard::placeWords(const std::optional<Vec3>& at) const {
    QStringList numbers;
    for (int k = 0; at && k < 3; ++k)
        numbers << shownValue(session_.document(), ChannelKind::Shift, (*at)[k]);
    return numbers;
}

void PathCard::movePoint() {
    const auto now = pickedPlace(*session_.pathInHand());
    if (!now) return;
    // Numbers are shown rounded: those that nobody changed stay what they are.
    const QStringList shown = placeWords(now), typed = point_at_->text().split(QLatin1Char(','));
    if (point_at_->text() == shown.join(QStringLiteral(", "))) return;
    json place = json::array();
    for (int k = 0; k < typed.size(); ++k)
        place.push_back(k < 3 && typed[k].trimmed() == shown[k] ? json((*now)[k])
                                                                : json(typed[k].trimmed().toStdString()));
    run("path.move_point", {{"point", session_.pathTool().points.back()}, {"place", place}});
}

void PathCard::layOnGround() {
    const Path& path = *session_.pathInHand();
    if (path.drape) return run("path.drape");
    json more{{"ground", session_.primary().value}};
    if (!height_->text().isEmpty()) more["height"] = height_->text().toStdString();
    if (!ease_->text().isEmpty()) more["ease"] = ease_->text().toStdString();
    run("path.drape", more);
}

std::string PathCard::pickedPoints() const {
    std::string numbers;
    for (const int i : session_.pathTool().points) numbers += std::to_string(i) + " ";
    return numbers;
}

QString PathCard::facts(const Path& path) const {
    const auto measured = session_.measuredPath(path);
    if (!measured) return tr("Cannot be measured; see the findings.");
    const double radius = measured->curve.least_radius();
    const QString bends = radius == 0 ? tr("has corners")
                          : std::isfinite(radius)
                              ? tr("least bend radius %1").arg(length(radius, session_.document()))
                              : tr("straight");
    return tr("%1 long · %2 · %3%4")
        .arg(length(measured->curve.length(), session_.document()),
             QString::fromStdString(counted(path.points.size(), "point")), bends,
             path.is_closed() ? tr(" · closed") : QString());
}

void PathCard::refresh() {
    const PathTool& tool = session_.pathTool();
    draw_->setChecked(tool.drawing);
    // A circle that faces the view has to be drawn by points.
    circle_->setEnabled(!session_.previewed() && chosen(where_) != "view" && chosen(where_) != "shapes");
    draw_->setText(tool.drawing ? tr("Drawing…") : tr("Draw"));
    drawing_->setText(tool.drawing ? tr("Click in the view. Enter ends, Esc leaves, Backspace takes back.")
                                   : tr("Or pick a path in the view to change it."));
    const Path* path = session_.pathInHand();
    which_->clear();
    for (const Path& one : session_.document().paths)
        which_->addItem(QString::fromStdString(one.name), QVariant::fromValue<qulonglong>(one.id.value));
    which_->setCurrentIndex(path ? which_->findData(QVariant::fromValue<qulonglong>(path->id.value)) : -1);
    in_hand_->setVisible(!session_.document().paths.empty());
    const bool ready = path && !session_.previewed(), some = ready && !tool.points.empty();
    for (QWidget* widget :
         std::initializer_list<QWidget*>{name_, count_, closed_, reverse_, respace_, height_, ease_, roll_at_,
                                         roll_, set_roll_, export_, remove_})
        widget->setEnabled(ready);
    for (QWidget* widget : std::initializer_list<QWidget*>{corner_, smooth_, delete_, point_at_})
        widget->setEnabled(some && path->form != PathForm::Ellipse);
    runs_->setEnabled(ready && path->form != PathForm::Ellipse);
    if (!path) {
        facts_->setText(tr("Pick a path in the view, or here."));
        drape_facts_->clear();
        drape_->setEnabled(false);
        carry_->setEnabled(false);
        return;
    }
    if (!name_->hasFocus()) name_->setText(QString::fromStdString(path->name));
    runs_->setCurrentIndex(runs_->findData(QString::fromUtf8(word_of(path_form_words, path->form).data())));
    if (!point_at_->hasFocus()) point_at_->setText(placeWords(pickedPlace(*path)).join(QStringLiteral(", ")));
    if (!count_->hasFocus()) count_->setText(QString::number(path->points.size()));
    facts_->setText(facts(*path));
    closed_->setText(path->closed ? tr("Open") : tr("Close"));
    closed_->setEnabled(ready && path->form != PathForm::Ellipse);
    const Part* last = session_.document().parts.find(session_.primary());
    drape_->setText(path->drape ? tr("Take off the ground") : tr("Lay on last picked"));
    drape_->setEnabled(ready && (path->drape || (last && last->shape)));
    carry_->setText(path->carrier ? tr("Detach") : tr("Carry by last picked"));
    carry_->setEnabled(ready && (path->carrier || last));
    const auto measured = path->drape ? session_.measuredPath(*path) : nullptr;
    drape_facts_->setText(measured ? tr("At most %1 below and %2 above the ground")
                                         .arg(length(measured->burial_m, session_.document()),
                                              length(measured->float_m, session_.document()))
                                   : QString());
    drape_facts_->setVisible(measured != nullptr);
}

}  // namespace pivrak
