#include "app/stages/pivots/pivot_aim_card.h"

#include <cmath>

#include "app/stages/pivots/pivot_place_cards.h"
#include "core/io/project/project_json.h"

namespace pivrak {

using nlohmann::json;

PivotAimCard::PivotAimCard(Session& session)
    : FormCard(session, "aim", {"pivot.aim"},
               {tr("Aim the axes"), tr("Preview"), "aimPivot", tr("Pick the parts whose axes turn.")}),
      flip_(makeButton(tr("Flip"), "flipAxes")),
      quarter_(makeButton(tr("Turn"), "quarterAxes")),
      angle_(makeNumber("turnAxesBy")) {
    add({.argument = "axis",
         .choices = {{tr("own X along it"), "x"}, {tr("own Y along it"), "y"}, {tr("own Z along it"), "z"}},
         .object_name = "aimAxis"});
    add({.argument = "@along",
         .label = tr("Along"),
         .choices = {{tr("world X, forward"), "+x"},
                     {tr("world Y, left"), "+y"},
                     {tr("world Z, up"), "+z"},
                     {tr("picked faces"), "face"},
                     {tr("picked edge"), "edge"},
                     {tr("places 1 to 2"), "places"},
                     {tr("all as the world's"), "world"},
                     {tr("all as its carrier's"), "parent"},
                     {tr("all as last picked"), "last"}},
         .object_name = "aimAlong"},
        true);
    finish(false);
    angle_->setText(QString::fromUtf8("90°"));
    addRow(tr("Turn by"), angle_);
    addButtons({flip_, quarter_});
    words_ = addReadout("axesInWords");
    flip_->setToolTip(tr("The axis points the other way; half a turn about the next one"));
    quarter_->setToolTip(tr("The other two axes turn about this one by that angle"));
    connect(static_cast<QComboBox*>(widget("@along")), &QComboBox::activated, this,
            &PivotAimCard::pickInView);
    connect(flip_, &QPushButton::clicked, this,
            [this] { turn((valueOf("axis").front() - 'x' + 1) % 3, "1/2 turn"); });
    connect(quarter_, &QPushButton::clicked, this,
            [this] { turn(valueOf("axis").front() - 'x', angle_->text().toStdString()); });
    connect(angle_, &QLineEdit::returnPressed, quarter_, &QPushButton::click);
}

/// What the axis shall go along is what a click in the view picks.
void PivotAimCard::pickInView() {
    const std::string along = lead();
    const bool faces = along == "face", edge = along == "edge", places = along == "places";
    pickKindInView(session_,
                   faces  ? PickKind::Faces
                   : edge ? PickKind::Edges
                          : PickKind::Places,
                   faces || edge || places);
    refresh();
}

void PivotAimCard::turn(int about, const std::string& angle) {
    session_.preview({{"op", "pivot.turn"},
                      {"parts", session_.selectedIds()},
                      {"axis", std::string(axis_word(about))},
                      {"angle", angle}});
}

QString PivotAimCard::obstacle() const {
    const std::string along = lead();
    if (along == "face" && session_.picks().face_count() == 0)
        return tr("Click the faces it is to stand on; Shift adds.");
    if (along == "edge" && session_.picks().edges.empty()) return tr("Click the edge it is to go along.");
    if (along == "places" && session_.picks().places.size() != 2)
        return tr("Click two places: the axis goes from the first to the second.");
    if (along == "last" && session_.selection().size() < 2)
        return tr("Pick the parts, then with Shift the one whose axes they get.");
    return {};
}

void PivotAimCard::amend(json& step) const {
    const std::string along = lead();
    const ElementPicks& picks = session_.picks();
    if (along == "face") {
        step["face"] = picks.faces_argument();
    } else if (along == "edge" && !picks.edges.empty()) {
        const PickedEdge& edge = picks.edges.back();
        step["from"] = {{"part", edge.part.value}, {"vertex", edge.from}};
        step["to"] = {{"part", edge.part.value}, {"vertex", edge.to}};
    } else if (along == "places" && picks.places.size() == 2) {
        step["from"] = picks.places[0].argument();
        step["to"] = picks.places[1].argument();
    } else if (along == "world" || along == "parent") {
        step["like"] = along;
    } else if (along == "last") {
        step["parts"] = session_.idsButLast();
        step["like"] = part_path(session_.document(), session_.primary());
    } else if (along.size() == 2) {
        json direction{0, 0, 0};
        direction[static_cast<std::size_t>(along[1] - 'x')] = 1;
        step["direction"] = direction;
    }
}

namespace {

/// Which of a frame's axes a direction goes along, in words, with the angle where it is off.
QString nearestAxis(const Vec3& direction, const Quat& axes) {
    Eigen::Index nearest = 0;
    const Vec3 own = axes.conjugate() * direction;
    own.cwiseAbs().maxCoeff(&nearest);
    const double off =
        std::atan2(std::hypot(own[(nearest + 1) % 3], own[(nearest + 2) % 3]), std::abs(own[nearest]));
    const QString name =
        QString(own[nearest] < 0 ? QLatin1Char('-') : QLatin1Char('+')) + QLatin1Char("XYZ"[nearest]);
    return off < 1e-6
               ? name
               : PivotAimCard::tr("%1, off by %2").arg(name, QString::fromStdString(format_angle(off)));
}

}  // namespace

QString PivotAimCard::axesInWords(const Part& part) const {
    const Document& document = session_.shownDocument();
    const Frame own = world_from_rest(document, part.id);
    const Quat carrier = part.parent ? world_from_rest(document, part.parent).rotation : Quat(1, 0, 0, 0);
    QStringList lines;
    for (int k = 0; k < 3; ++k)
        lines << tr("own %1: world %2; carrier %3")
                     .arg(QLatin1Char("XYZ"[k]))
                     .arg(nearestAxis(own.axis(k), Quat(1, 0, 0, 0)), nearestAxis(own.axis(k), carrier));
    const bool one_axis = part.joint.kind == JointKind::Hinge || part.joint.kind == JointKind::Cylinder;
    if (one_axis)
        lines << tr("Its turn goes about its own %1, not about its carrier's.")
                     .arg(QLatin1Char("XYZ"[part.joint.axis]));
    return lines.join(QLatin1Char('\n'));
}

void PivotAimCard::refresh() {
    FormCard::refresh();
    const bool ready = !session_.selection().empty() && !session_.previewed();
    if (do_->isEnabled()) facts_->clear();
    facts_->setVisible(!do_->isEnabled());
    if (session_.previewed()) do_->setEnabled(false);
    flip_->setEnabled(ready);
    quarter_->setEnabled(ready);
    const Part* part = session_.shownDocument().parts.find(session_.primary());
    words_->setText(part ? axesInWords(*part) : tr("Pick a part to read where its axes point."));
}

}  // namespace pivrak
