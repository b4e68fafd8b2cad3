#include "app/stages/tree/carrier_card.h"

#include <QHideEvent>

#include "app/stages/kit/button_tips.h"

namespace pivrak {

using nlohmann::json;

QString putUnderObstacle(const Session& session) {
    return session.selection().size() < 2
               ? CarrierCard::tr("pick the parts to be carried, then with Shift what carries them")
               : QString();
}

void putUnderLast(Session& session) {
    session.run({{"op", "tree.parent"}, {"parts", session.idsButLast()}, {"under", session.primary().value}});
}

// ---- carriers

CarrierCard::CarrierCard(Session& session, QWidget* parent)
    : Card(tr("Name and carrier"), parent),
      session_(session),
      name_(new QLineEdit),
      under_(makeButton(tr("Put under last picked  U"), "putUnder", true)),
      release_(makeButton(tr("Release  Shift+U"), "release")) {
    name_->setObjectName(QStringLiteral("partName"));
    addRow(tr("Name"), name_);
    carried_ = addReadout("carriedBy");
    addButtons({under_});
    addButtons({release_});
    connect(name_, &QLineEdit::returnPressed, this, [this] {
        session_.run({{"op", "part.rename"},
                      {"part", session_.primary().value},
                      {"name", name_->text().toStdString()}});
    });
    connect(under_, &QPushButton::clicked, this, [this] { putUnderLast(session_); });
    connect(release_, &QPushButton::clicked, this, [this] {
        session_.run({{"op", "tree.release"}, {"parts", session_.selectedIds()}});
    });
}

void CarrierCard::refresh() {
    const Document& document = session_.document();
    const Part* part = document.parts.find(session_.primary());
    const Part* carrier = part ? document.parts.find(part->parent) : nullptr;
    name_->setEnabled(part != nullptr);
    name_->setText(part ? QString::fromStdString(part->name) : QString());
    under_->setEnabled(putUnderObstacle(session_).isEmpty());
    tellWhy(under_, putUnderObstacle(session_));
    release_->setEnabled(part && carrier);
    carried_->setText(!part     ? tr("Pick a part, or drag rows onto each other in the tree.")
                      : carrier ? tr("carried by %1").arg(QString::fromStdString(carrier->name))
                                : tr("stands on its own"));
}

// ---- datums

DatumCard::DatumCard(Session& session, QWidget* parent)
    : Card(tr("Datums and frames"), parent),
      session_(session),
      click_(new PlaceButton(session, "datumClickPlace")),
      datum_(makeButton(tr("New datum"), "addDatum")),
      group_(makeButton(tr("Group  Ctrl+G"), "groupParts")),
      above_(makeButton(tr("Frame above"), "frameAbove")),
      align_(makeButton(tr("Align to last picked"), "alignToLast")),
      replace_(makeButton(tr("Replace by last picked"), "replaceByLast")),
      takes_joint_(makeCheck(tr("takes over joint and keys"), "frameTakesJoint", true)),
      what_(makeChoice("alignWhat",
                       {{tr("place and axes"), "both"}, {tr("place"), "place"}, {tr("axes"), "axes"}})) {
    datum_->setToolTip(tr(
        "A frame without a shape, at the place clicked last, or else at the pivot of the part picked last"));
    above_->setToolTip(
        tr("A frame between each part and its carrier: animate it, and the part can be exchanged"));
    addButtons({click_, datum_});
    addButtons({group_, above_});
    addWidget(takes_joint_);
    addRow(tr("Align"), what_);
    addButtons({align_});
    addButtons({replace_});
    connect(replace_, &QPushButton::clicked, this, [this] {
        session_.preview(
            {{"op", "tree.replace"}, {"parts", session_.idsButLast()}, {"with", session_.primary().value}});
    });
    connect(datum_, &QPushButton::clicked, this, [this] {
        json step{{"op", "datum.add"}};
        const json place = click_->place();
        if (!place.is_null())
            step["place"] = place;
        else if (session_.primary())
            step["like"] = session_.primary().value;
        const Part* part = session_.document().parts.find(session_.primary());
        if (part && part->parent) step["under"] = part->parent.value;
        session_.run(step);
    });
    connect(group_, &QPushButton::clicked, this, [this] {
        session_.run({{"op", "tree.group"}, {"parts", session_.selectedIds()}});
    });
    connect(above_, &QPushButton::clicked, this, [this] {
        session_.run({{"op", "tree.frame_above"},
                      {"parts", session_.selectedIds()},
                      {"takes_joint", takes_joint_->isChecked()}});
    });
    connect(align_, &QPushButton::clicked, this, &DatumCard::alignToLast);
    connect(&session_, &Session::pickSettingsChanged, this, [this] { click_->refresh(); });
}

void DatumCard::alignToLast() {
    session_.preview({{"op", "tree.align"},
                      {"parts", session_.idsButLast()},
                      {"to", session_.primary().value},
                      {"what", chosen(what_)}});
}

void DatumCard::refresh() {
    click_->refresh();
    const bool open = session_.previewed() != nullptr, some = !session_.selection().empty() && !open;
    datum_->setEnabled(!open);
    for (QPushButton* button : {group_, above_}) button->setEnabled(some);
    align_->setEnabled(some && session_.selection().size() > 1);
    tellWhy(align_,
            align_->isEnabled() ? QString() : tr("pick the parts to move, then with Shift what they go to"));
    replace_->setEnabled(align_->isEnabled());
    tellWhy(replace_, replace_->isEnabled()
                          ? QString()
                          : tr("pick the parts that go, then with Shift the one that stays"));
}

// ---- placing

PlaceCard::PlaceCard(Session& session)
    : FormCard(session, "place", {"tree.place"},
               {tr("Place at rest"), tr("Preview"), "previewPlace", QString()}),
      gauges_(makeButton(tr("Gauges in the view"), "placeGauges")) {
    gauges_->setCheckable(true);
    gauges_->setToolTip(tr(
        "Three rules and three dials at the pivot of the part picked last: drag a knob, or type beside it"));
    addButtons({gauges_});
    connect(gauges_, &QPushButton::toggled, this, [this](bool on) { session_.setPlacing(on); });
    connect(&session_, &Session::placingChanged, this, [this] { gauges_->setChecked(session_.isPlacing()); });
    const auto way = [&](const char* argument, const QString& tip) {
        add({.argument = argument, .placeholder = tr("0 mm"), .tip = tip});
    };
    way("forward", tr("Along X; below zero backwards"));
    way("left", tr("Along Y; below zero to the right"));
    way("up", tr("Along Z"));
    add({.argument = "turn", .placeholder = tr("0°"), .tip = tr("About the pivot of the part picked last")});
    add({.argument = "axis",
         .choices = {{tr("Z, upright"), "z"}, {tr("X, forward"), "x"}, {tr("Y, to the left"), "y"}}});
    finish(true);
}

void PlaceCard::hideEvent(QHideEvent* event) {
    if (!event->spontaneous()) session_.setPlacing(false);
    FormCard::hideEvent(event);
}

void PlaceCard::amend(nlohmann::json& step) const {
    step["parts"] = session_.selectedIds();
}

QString PlaceCard::obstacle() const {
    if (session_.selection().empty()) return tr("Pick what is to be moved.");
    for (const char* argument : {"forward", "left", "up", "turn"})
        if (!valueOf(argument).empty()) return {};
    return tr("Type how far, or drag the gauges in the view.");
}

}  // namespace pivrak
