#include "app/stages/pivots/pivot_aim_card.h"

#include <cmath>

#include "app/stages/pivots/pivot_place_cards.h"
#include "core/io/project/project_json.h"

namespace pivrak {

using nlohmann::json;

PivotAimCard::PivotAimCard(Session& session, QWidget* parent)
    : Card(tr("Aim the axes"), parent),
      session_(session),
      axis_(makeAxisChoice("aimAxis")),
      along_(makeChoice("aimAlong", {{tr("world X, forward"), "+x"},
                                     {tr("world Y, left"), "+y"},
                                     {tr("world Z, up"), "+z"},
                                     {tr("picked faces"), "face"},
                                     {tr("picked edge"), "edge"},
                                     {tr("places 1 to 2"), "places"},
                                     {tr("all as the world's"), "world"},
                                     {tr("all as its carrier's"), "parent"},
                                     {tr("all as last picked"), "last"}})),
      aim_(makeButton(tr("Preview"), "aimPivot", true)),
      flip_(makeButton(tr("Flip"), "flipAxes")),
      quarter_(makeButton(tr("Turn 90°"), "quarterAxes")) {
    addRow(tr("Axis"), axis_);
    addRow(tr("Along"), along_);
    addButtons({aim_});
    addButtons({flip_, quarter_});
    words_ = addReadout("axesInWords");
    flip_->setToolTip(tr("The axis points the other way; half a turn about the next one"));
    quarter_->setToolTip(tr("The other two axes turn about this one by 90°"));
    connect(aim_, &QPushButton::clicked, this, &PivotAimCard::aim);
    connect(along_, &QComboBox::activated, this, [this] {
        const std::string along = chosen(along_);
        const bool faces = along == "face", edge = along == "edge", places = along == "places";
        pickKindInView(session_,
                       faces  ? PickKind::Faces
                       : edge ? PickKind::Edges
                              : PickKind::Places,
                       faces || edge || places);
        refresh();
    });
    const auto turn = [this](int about, const char* angle) {
        session_.preview({{"op", "pivot.turn"},
                          {"parts", session_.selectedIds()},
                          {"axis", std::string(axis_word(about))},
                          {"angle", angle}});
    };
    connect(flip_, &QPushButton::clicked, this,
            [this, turn] { turn((axis_->currentIndex() + 1) % 3, "1/2 turn"); });
    connect(quarter_, &QPushButton::clicked, this, [this, turn] { turn(axis_->currentIndex(), "1/4 turn"); });
}

void PivotAimCard::aim() {
    const std::string along = chosen(along_);
    json step{{"op", "pivot.aim"}, {"parts", session_.selectedIds()}, {"axis", chosen(axis_)}};
    if (along == "face") {
        step["face"] = session_.picks().faces_argument();
    } else if (along == "edge") {
        const PickedEdge& edge = session_.picks().edges.back();
        step["from"] = {{"part", edge.part.value}, {"vertex", edge.from}};
        step["to"] = {{"part", edge.part.value}, {"vertex", edge.to}};
    } else if (along == "places") {
        const auto& places = session_.picks().places;
        if (places.size() == 2) {
            step["from"] = places[0].argument();
            step["to"] = places[1].argument();
        }
    } else if (along == "world" || along == "parent") {
        step["like"] = along;
    } else if (along == "last") {
        json others = json::array();
        for (const PartId id : session_.selection())
            if (id != session_.primary()) others.push_back(id.value);
        step["parts"] = others;
        step["like"] = part_path(session_.document(), session_.primary());
    } else {
        json direction{0, 0, 0};
        direction[static_cast<std::size_t>(along[1] - 'x')] = 1;
        step["direction"] = direction;
    }
    session_.preview(step);
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
    const bool ready = !session_.selection().empty() && !session_.previewed();
    const std::string along = chosen(along_);
    const bool subject = along == "face"     ? session_.picks().face_count() > 0
                         : along == "edge"   ? !session_.picks().edges.empty()
                         : along == "places" ? session_.picks().places.size() == 2
                         : along == "last"   ? session_.selection().size() > 1
                                             : true;
    aim_->setEnabled(ready && subject);
    flip_->setEnabled(ready);
    quarter_->setEnabled(ready);
    const Part* part = session_.shownDocument().parts.find(session_.primary());
    words_->setText(part ? axesInWords(*part) : tr("Pick a part to read where its axes point."));
}

}  // namespace pivrak
