#include "app/stages/pivots/pivot_place_cards.h"

#include "app/session/words.h"
#include "core/operations/places.h"

namespace pivrak {

using nlohmann::json;

QComboBox* makeAxisChoice(const char* object_name) {
    return makeChoice(object_name, {{Card::tr("own X along it"), "x"},
                                    {Card::tr("own Y along it"), "y"},
                                    {Card::tr("own Z along it"), "z"}});
}

// ---- by the shape

ShapePivotCard::ShapePivotCard(Session& session, QWidget* parent)
    : Card(tr("By its shape"), parent),
      session_(session),
      middle_(makeButton(tr("Middle"), "pivotMiddle")),
      base_(makeButton(tr("Base"), "pivotBase")),
      centroid_(makeButton(tr("Centroid"), "pivotCentroid")),
      whole_(makeButton(tr("Round part"), "pivotCylinder", true)),
      pick_faces_(makeButton(tr("Pick faces"), "pivotPickFaces")),
      faces_(makeButton(tr("Round faces"), "pivotFaces")),
      axis_(makeAxisChoice("pivotAxis")) {
    addButtons({middle_, base_, centroid_});
    addRow(tr("Axis"), axis_);
    addButtons({whole_});
    addButtons({pick_faces_, faces_});
    state_ = addReadout("pivotFacesPicked");
    pick_faces_->setCheckable(true);
    middle_->setToolTip(tr("Middle of the bounds"));
    base_->setToolTip(tr("Middle of the lowest side"));
    centroid_->setToolTip(tr("Centre of mass"));
    whole_->setToolTip(tr("The axis of each picked part, whatever spokes, teeth and bolts it has"));
    faces_->setToolTip(tr("The axis of a cylinder through the picked faces, for all picked parts"));
    for (const auto& [button, at] :
         {std::pair(middle_, "middle"), std::pair(base_, "base"), std::pair(centroid_, "centroid")})
        connect(button, &QPushButton::clicked, this, [this, at = at] {
            session_.preview({{"op", "pivot.bounds"}, {"parts", session_.selectedIds()}, {"at", at}});
        });
    connect(whole_, &QPushButton::clicked, this, [this] {
        session_.preview(
            {{"op", "pivot.fit_cylinder"}, {"parts", session_.selectedIds()}, {"axis", chosen(axis_)}});
    });
    connect(pick_faces_, &QPushButton::clicked, this,
            [this](bool on) { pickKindInView(session_, PickKind::Faces, on); });
    connect(faces_, &QPushButton::clicked, this, [this] {
        json step{
            {"op", "pivot.fit_faces"}, {"faces", session_.picks().faces_argument()}, {"axis", chosen(axis_)}};
        if (session_.picks().faces.size() == 1 && !session_.selection().empty())
            step["parts"] = session_.selectedIds();
        session_.preview(step);
    });
}

void ShapePivotCard::refresh() {
    const bool some = !session_.selection().empty() && !session_.previewed();
    for (QPushButton* button : {middle_, base_, centroid_, whole_}) button->setEnabled(some);
    const std::size_t faces = session_.picks().face_count();
    faces_->setEnabled(faces > 0 && !session_.previewed());
    pick_faces_->setChecked(session_.pickSettings().kind == PickKind::Faces);
    state_->setVisible(session_.pickSettings().kind == PickKind::Faces);
    state_->setText(faces ? tr("%1 picked").arg(countWords(faces, "face"))
                          : tr("Click faces that go round, Shift adds; grow them under Split, Pick."));
}

// ---- by picked places

PickedPivotCard::PickedPivotCard(Session& session, QWidget* parent)
    : Card(tr("By places in the view"), parent),
      session_(session),
      pick_(makeButton(tr("Pick places"), "pickPlaces", true)),
      clear_(makeButton(tr("Clear"), "clearPlaces")),
      there_(makeButton(tr("At place 1"), "pivotThere")),
      between_(makeButton(tr("Midpoint"), "pivotBetween")),
      line_(makeButton(tr("Hinge line"), "pivotLine")),
      circle_(makeButton(tr("Circle"), "pivotCircle")),
      axis_(makeAxisChoice("pivotLineAxis")),
      at_(makeChoice(
          "pivotLineAt",
          {{tr("in its middle"), "middle"}, {tr("at place 1"), "from"}, {tr("at place 2"), "to"}})) {
    pick_->setCheckable(true);
    addButtons({pick_, clear_});
    list_ = addReadout("placesPicked");
    addButtons({there_, between_});
    addRow(tr("Axis"), axis_);
    addRow(tr("Pivot"), at_);
    addButtons({line_, circle_});
    there_->setToolTip(tr("The pivot goes to place 1"));
    between_->setToolTip(tr("The pivot goes half way between places 1 and 2"));
    line_->setToolTip(tr("The axis goes along the line from place 1 to place 2"));
    circle_->setToolTip(tr("The axis goes through the centre of the circle through three or more places"));
    connect(pick_, &QPushButton::clicked, this,
            [this](bool on) { pickKindInView(session_, PickKind::Places, on); });
    connect(clear_, &QPushButton::clicked, this, [this] { session_.setPicks({}); });
    connect(there_, &QPushButton::clicked, this, [this] {
        session_.preview({{"op", "pivot.to"}, {"parts", session_.selectedIds()}, {"place", places()[0]}});
    });
    connect(between_, &QPushButton::clicked, this, [this] {
        session_.preview({{"op", "pivot.to"},
                          {"parts", session_.selectedIds()},
                          {"place", places()[0]},
                          {"and", places()[1]}});
    });
    connect(line_, &QPushButton::clicked, this, [this] {
        session_.preview({{"op", "pivot.line"},
                          {"parts", session_.selectedIds()},
                          {"from", places()[0]},
                          {"to", places()[1]},
                          {"axis", chosen(axis_)},
                          {"at", chosen(at_)}});
    });
    connect(circle_, &QPushButton::clicked, this, [this] {
        session_.preview({{"op", "pivot.fit_circle"},
                          {"parts", session_.selectedIds()},
                          {"places", places()},
                          {"axis", chosen(axis_)}});
    });
}

json PickedPivotCard::places() const {
    json list = json::array();
    for (const PickedPlace& place : session_.picks().places) list.push_back(place.argument());
    return list;
}

void PickedPivotCard::refresh() {
    const auto& picked = session_.picks().places;
    const bool ready = !session_.selection().empty() && !session_.previewed();
    pick_->setChecked(session_.pickSettings().kind == PickKind::Places);
    clear_->setEnabled(!picked.empty());
    there_->setEnabled(ready && picked.size() == 1);
    between_->setEnabled(ready && picked.size() == 2);
    line_->setEnabled(ready && picked.size() == 2);
    circle_->setEnabled(ready && picked.size() > 2);
    const auto words = [](PickedPlace::Kind kind) {
        switch (kind) {
            case PickedPlace::Kind::Vertex:
                return tr("corner");
            case PickedPlace::Kind::EdgeMiddle:
                return tr("middle of an edge");
            case PickedPlace::Kind::FaceCentre:
                return tr("centre of a face");
            case PickedPlace::Kind::Pivot:
                return tr("pivot");
            case PickedPlace::Kind::Grid:
                return tr("crossing of the grid");
            default:
                return tr("centre of a rim");
        }
    };
    QStringList lines;
    const Document& document = session_.document();
    std::vector<Vec3> world;
    for (const PickedPlace& place : picked) {
        const Part* part = document.parts.find(place.part);
        if (!part && place.kind != PickedPlace::Kind::Grid) continue;
        lines << (part ? tr("%1  %2 of %3")
                             .arg(lines.size() + 1)
                             .arg(words(place.kind), QString::fromStdString(part->name))
                       : tr("%1  %2").arg(lines.size() + 1).arg(words(place.kind)));
        const auto at = place_from(document, place.argument());
        if (at) world.push_back(*at);
    }
    if (world.size() == 2)
        lines << tr("%1 apart")
                     .arg(QString::fromStdString(
                         format_length((world[1] - world[0]).norm(), document.settings.length_unit, 4)));
    if (session_.selection().empty()) lines << tr("Pick the parts whose pivot is to move first.");
    list_->setText(lines.join(QLatin1Char('\n')));
    list_->setVisible(!lines.isEmpty());
}

// ---- by numbers

TypedPivotCard::TypedPivotCard(Session& session, QWidget* parent)
    : Card(tr("Pivot now"), parent),
      session_(session),
      at_{makeNumber("pivotX"), makeNumber("pivotY"), makeNumber("pivotZ")},
      origin_(makeButton(tr("World origin"), "pivotOrigin")),
      as_last_(makeButton(tr("As last picked"), "pivotAsLast")),
      pin_(makeButton(tr("On the pin shared with the last"), "pivotPin")) {
    const char* names[] = {"x", "y", "z"};
    for (int k = 0; k < 3; ++k) {
        addRow(QString::fromLatin1(names[k]), at_[k]);
        connect(at_[k], &QLineEdit::editingFinished, this, [this, k] { apply(at_[k]); });
    }
    addButtons({origin_, as_last_});
    addButtons({pin_});
    pin_->setToolTip(tr("Where round surfaces of each part and of the one picked last lie on one line"));
    connect(pin_, &QPushButton::clicked, this, [this] {
        session_.preview(
            {{"op", "pivot.pin"}, {"parts", session_.idsButLast()}, {"with", session_.primary().value}});
    });
    as_last_->setToolTip(tr("The other picked parts get the pivot of the part picked last"));
    connect(origin_, &QPushButton::clicked, this, [this] {
        session_.preview({{"op", "pivot.to"}, {"parts", session_.selectedIds()}, {"place", {0, 0, 0}}});
    });
    connect(as_last_, &QPushButton::clicked, this, [this] {
        session_.preview({{"op", "pivot.to"},
                          {"parts", session_.idsButLast()},
                          {"place", {{"part", session_.primary().value}}}});
    });
}

void TypedPivotCard::apply(QLineEdit* edited) {
    if (!edited->isModified() || !session_.primary()) return;
    edited->setModified(false);
    json place = json::array();
    const Vec3 now = world_from_rest(session_.document(), session_.primary()).translation;
    for (int k = 0; k < 3; ++k)
        place.push_back(at_[k] == edited ? json(edited->text().toStdString()) : json(now[k]));
    session_.preview({{"op", "pivot.to"}, {"parts", {session_.primary().value}}, {"place", place}});
}

void TypedPivotCard::refresh() {
    const Document& document = session_.shownDocument();
    const Part* part = document.parts.find(session_.primary());
    const bool free = part && !session_.previewed();
    origin_->setEnabled(free);
    for (QPushButton* button : {as_last_, pin_}) button->setEnabled(free && session_.selection().size() > 1);
    const LengthUnit unit = document.settings.length_unit;
    const int decimals = unit == LengthUnit::Metre ? 5 : 2;
    const Vec3 at = part ? world_from_rest(document, part->id).translation : Vec3(0, 0, 0);
    for (int k = 0; k < 3; ++k) {
        at_[k]->setEnabled(free);
        if (!at_[k]->isModified())
            at_[k]->setText(part ? QString::fromStdString(format_length(at[k], unit, decimals)) : QString());
    }
}

}  // namespace pivrak
