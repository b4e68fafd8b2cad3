#include "app/stages/split/break_card.h"
#include "app/session/words.h"
#include "app/stages/kit/length_text.h"

#include <cmath>

namespace pivrak {
namespace {

/// The weld slider runs over powers of ten, from a thousandth of a millimetre to ten.
double weld_at(int position) {
    return 1e-6 * std::pow(10.0, position / 100.0);
}
int position_of(double weld) {
    return static_cast<int>(std::lround(100 * std::log10(std::max(weld, 1e-6) / 1e-6)));
}

nlohmann::json triple(const Vec3& v) {
    return {v.x(), v.y(), v.z()};
}

}  // namespace

BreakCard::BreakCard(Session& session, QWidget* parent)
    : Card(tr("Break apart"), parent),
      session_(session),
      by_(makeChoice("splitBy", {{tr("unconnected pieces"), "split.pieces"},
                                 {tr("material"), "split.material"},
                                 {tr("creases"), "split.crease"},
                                 {tr("groups of the file"), "split.groups"},
                                 {tr("picked faces"), "split.faces"},
                                 {tr("a cutting plane"), "split.plane"}})),
      direction_(makeChoice("planeDirection", {{tr("across X"), "x"},
                                               {tr("across Y"), "y"},
                                               {tr("across Z"), "z"},
                                               {tr("along a picked face"), "face"}})),
      material_(makeChoice("planeMaterial", {})),
      weld_(makeNumber("splitWeld")),
      angle_(makeNumber("splitAngle")),
      offset_(makeNumber("planeOffset")),
      tilt_(makeNumber("planeTilt")),
      turn_(makeNumber("planeTurn")),
      cap_(makeCheck(tr("close the cut"), "planeCap", true)),
      show_(makeButton(tr("Preview"), "previewSplit", true)) {
    weld_->setText(QStringLiteral("0.01 mm"));
    weld_->setToolTip(tr("Vertices this near count as one"));
    angle_->setText(QString::fromUtf8("30°"));
    addRow(tr("By"), by_);
    const auto row = [&](const QStringList& ways, const QString& label, QWidget* field) {
        rows_.emplace_back(ways, addOptionalRow(label, field));
    };
    const QStringList welded{"split.pieces", "split.crease"};
    row(welded, tr("Weld within"), weld_);
    row(welded, QString(), makeSlider("weldSlider", weld_slider_));
    row({"split.crease"}, tr("Crease over"), angle_);
    row({"split.crease"}, QString(), makeSlider("angleSlider", angle_slider_));
    row({"split.plane"}, tr("Plane"), direction_);
    row({"split.plane"}, tr("At"), offset_);
    row({"split.plane"}, tr("Tilt"), tilt_);
    row({"split.plane"}, tr("Turn"), turn_);
    row({"split.plane"}, QString(), cap_);
    row({"split.plane"}, tr("Cap material"), material_);
    weld_slider_->setRange(0, 400);
    weld_slider_->setValue(position_of(1e-5));
    angle_slider_->setRange(1, 179);
    angle_slider_->setValue(30);
    addButtons({show_});
    count_ = addReadout("splitCount");
    soon_.setSingleShot(true);
    soon_.setInterval(120);
    connect(&soon_, &QTimer::timeout, this, &BreakCard::show);
    connect(weld_slider_, &QSlider::sliderMoved, this, [this](int position) {
        weld_->setText(length(weld_at(position), session_.document()));
        soon_.start();
    });
    connect(angle_slider_, &QSlider::sliderMoved, this, [this](int degrees) {
        angle_->setText(QString::fromUtf8("%1°").arg(degrees));
        soon_.start();
    });
    connect(by_, &QComboBox::activated, this, &BreakCard::wayChanged);
    connect(show_, &QPushButton::clicked, this, &BreakCard::show);
    for (QLineEdit* edit : {weld_, angle_}) connect(edit, &QLineEdit::returnPressed, this, &BreakCard::show);
    connect(direction_, &QComboBox::activated, this, &BreakCard::placePlane);
    for (QLineEdit* edit : {offset_, tilt_, turn_})
        connect(edit, &QLineEdit::editingFinished, this, [this, edit] { applyPlaneField(*edit); });
    connect(&session_, &Session::toolPlaneChanged, this, &BreakCard::showPlaneFields);
    connect(&session_, &Session::picksChanged, this, [this] {
        if (isVisible()) refresh();
    });
    wayChanged();
}

QWidget* BreakCard::makeSlider(const char* name, QSlider*& slider) {
    slider = new QSlider(Qt::Horizontal);
    slider->setObjectName(QLatin1String(name));
    return slider;
}

void BreakCard::wayChanged() {
    const QString way = by_->currentData().toString();
    for (const auto& [ways, row] : rows_) row->setVisible(ways.contains(way));
    if (way == "split.faces") {
        PickSettings settings = session_.pickSettings();
        settings.kind = PickKind::Faces;
        session_.setPickSettings(settings);
    }
    if (way == "split.plane")
        placePlane();
    else
        session_.setToolPlane(std::nullopt);
    if (session_.previewed()) {
        if (way == "split.plane" || way == "split.faces")
            session_.leavePreview();
        else
            show();
    }
    refresh();
}

/// Through the middle of the picked parts, square to an axis; or along the face picked last.
void BreakCard::placePlane() {
    if (!isVisible()) return;
    session_.leavePreview();
    Bounds bounds;
    const Document& document = session_.document();
    for (const PartId id : session_.selection()) {
        const Part& part = *document.parts.find(id);
        if (const auto* shape = document.shapes.find(part.shape))
            bounds.add(mesh_bounds(*shape->mesh, world_from_rest(document, id) * part.part_from_shape));
    }
    if (bounds.empty()) return session_.setToolPlane(std::nullopt);
    const std::string direction = chosen(direction_);
    ToolPlane plane = plane_across(direction == "face" ? 0 : direction.front() - 'x', bounds.middle());
    if (direction == "face")
        if (const auto face = picked_face_plane(document, session_.picks()))
            plane = plane_along(face->normal, face->point);
    session_.setToolPlane(plane);
}

/// What is typed into one field; the others say how the plane stands, to fewer digits.
void BreakCard::applyPlaneField(QLineEdit& edit) {
    if (!session_.toolPlane() || !edit.isModified()) return;
    session_.leavePreview();
    ToolPlane plane = *session_.toolPlane();
    const QLineEdit* field = &edit;
    edit.setModified(false);
    const auto typed =
        parse_quantity(edit.text().toStdString(), field == offset_ ? Dimension::Length : Dimension::Angle,
                       session_.document().settings.length_unit);
    if (!typed) {
        emit session_.told(QString::fromStdString(typed.error().message), true);
        return showPlaneFields();
    }
    if (field == tilt_) plane.tilt_rad = *typed;
    if (field == turn_) plane.turn_rad = *typed;
    if (field == offset_) plane.point += (*typed - plane.offset()) * plane.plane().normal;
    session_.setToolPlane(plane);
}

void BreakCard::showPlaneFields() {
    if (!session_.toolPlane()) return;
    const ToolPlane& plane = *session_.toolPlane();
    const auto show = [](QLineEdit* field, const std::string& text) {
        if (!field->isModified()) field->setText(QString::fromStdString(text));
    };
    show(offset_, format_length(plane.offset(), session_.document().settings.length_unit, 4));
    show(tilt_, format_angle(plane.tilt_rad));
    show(turn_, format_angle(plane.turn_rad));
}

/// Picks made among previewed pieces belong to the preview; what it was made from is asked again.
nlohmann::json BreakCard::subjects() const {
    const StepPreview* preview = session_.previewed();
    return preview && preview->step.contains("parts") && preview->colours_pieces() ? preview->step["parts"]
                                                                                   : session_.selectedIds();
}

nlohmann::json BreakCard::step() const {
    nlohmann::json step{{"op", chosen(by_)}};
    if (step["op"] == "split.faces") {
        step["faces"] = session_.picks().faces_argument();
        return step;
    }
    step["parts"] = subjects();
    if (step["op"] == "split.pieces" || step["op"] == "split.crease")
        step["weld"] = weld_->text().toStdString();
    if (step["op"] == "split.crease") step["angle"] = angle_->text().toStdString();
    if (step["op"] == "split.plane" && session_.toolPlane()) {
        const Plane plane = session_.toolPlane()->plane();
        step["point"] = triple(plane.point);
        step["normal"] = triple(plane.normal);
        step["cap"] = cap_->isChecked();
        if (material_->currentIndex() > 0) step["material"] = material_->currentText().toStdString();
    }
    return step;
}

void BreakCard::show() {
    soon_.stop();
    if (const auto weld = parse_quantity(weld_->text().toStdString(), Dimension::Length,
                                         session_.document().settings.length_unit))
        weld_slider_->setValue(position_of(*weld));
    if (const auto angle = parse_quantity(angle_->text().toStdString(), Dimension::Angle))
        angle_slider_->setValue(static_cast<int>(std::lround(*angle * deg_per_rad)));
    session_.preview(step());
}

void BreakCard::refresh() {
    const StepPreview* preview = session_.previewed();
    const bool mine = preview && preview->colours_pieces();
    const std::string way = chosen(by_);
    std::size_t shapes = 0;
    for (const PartId id : session_.selection())
        if (const Part* part = session_.shownDocument().parts.find(id); part && part->shape) ++shapes;
    const std::size_t faces = session_.picks().face_count();
    const bool ready = way == "split.faces"   ? faces > 0
                       : way == "split.plane" ? session_.toolPlane().has_value()
                                              : !session_.selection().empty() || mine;
    show_->setEnabled(ready);
    if (way == "split.plane" && !session_.toolPlane() && shapes > 0 && !preview && isVisible()) placePlane();
    setRole(count_, mine ? "good" : "soft");
    count_->setText(mine                   ? countWords(preview->outcome.created.size(), "piece")
                    : way == "split.faces" ? faces ? tr("%1 picked").arg(countWords(faces, "face"))
                                                   : tr("Pick the faces to break off.")
                    : shapes == 0 ? tr("Pick one or more parts with a shape.")
                                           : tr("%1 picked").arg(countWords(shapes, "part")));
    QStringList names{tr("neighbouring material")};
    for (const Material& m : session_.document().materials) names << QString::fromStdString(m.name);
    if (material_->count() != names.size()) {
        material_->clear();
        material_->addItems(names);
    }
}

TrimCard::TrimCard(Session& session, QWidget* parent)
    : Card(tr("Bolts and trim"), parent),
      session_(session),
      share_(new QSlider(Qt::Horizontal)),
      share_words_(new QLabel),
      gap_(makeNumber("trimGap")),
      show_(makeButton(tr("Preview"), "previewTrim", true)),
      join_(makeButton(tr("Join into last"), "joinIntoLast")) {
    share_->setObjectName(QStringLiteral("trimShare"));
    share_->setRange(1, 60);
    share_->setValue(15);
    gap_->setText(QStringLiteral("1 mm"));
    gap_->setToolTip(tr("Surfaces this near touch"));
    share_words_->setProperty("role", "soft");
    share_words_->setWordWrap(true);
    addWidget(share_words_);
    addWidget(share_);
    addRow(tr("Touch within"), gap_);
    addButtons({join_, show_});
    soon_.setSingleShot(true);
    soon_.setInterval(250);
    connect(&soon_, &QTimer::timeout, this, &TrimCard::show);
    connect(share_, &QSlider::valueChanged, this, [this] {
        refresh();
        if (session_.previewed()) soon_.start();
    });
    connect(gap_, &QLineEdit::returnPressed, this, &TrimCard::show);
    connect(show_, &QPushButton::clicked, this, &TrimCard::show);
    connect(join_, &QPushButton::clicked, this, [this] {
        session_.run({{"op", "part.join"}, {"parts", session_.selectedIds()}});
    });
}

void TrimCard::show() {
    soon_.stop();
    nlohmann::json step{
        {"op", "split.trim"}, {"share", share_->value() / 100.0}, {"gap", gap_->text().toStdString()}};
    const StepPreview* preview = session_.previewed();
    if (preview && preview->step.value("op", "") == "split.trim") {
        if (preview->step.contains("parts")) step["parts"] = preview->step["parts"];
    } else if (session_.selection().size() > 1) {
        step["parts"] = session_.selectedIds();
    }
    session_.preview(step);
}

void TrimCard::refresh() {
    const bool all = session_.selection().size() < 2;
    share_words_->setText(tr("Parts below %1 % of a neighbour are joined to it%2")
                              .arg(share_->value())
                              .arg(all ? QString() : tr(", among the picked ones")));
    show_->setEnabled(session_.document().parts.size() > 1);
    join_->setEnabled(session_.selection().size() > 1 && !session_.previewed());
}

}  // namespace pivrak
