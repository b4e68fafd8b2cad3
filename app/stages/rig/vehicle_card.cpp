#include "app/stages/rig/vehicle_card.h"

#include <algorithm>
#include <cmath>

#include "app/stages/kit/length_text.h"
#include "core/base/words.h"

namespace pivrak {

using nlohmann::json;

VehicleCard::VehicleCard(Session& session, QWidget* parent)
    : QWidget(parent),
      session_(session),
      card_(new Card(tr("Rig a vehicle"))),
      look_(makeButton(tr("Look for wheels"), "lookForWheels", true)),
      make_(makeButton(tr("Preview"), "makeVehicle", true)),
      add_(makeButton(tr("Add picked wheels"), "addVehicleWheels")),
      turn_(makeButton(tr("Turn the model"), "turnVehicle", true)),
      picture_(new LayoutPicture),
      details_(new QWidget),
      name_(new QLineEdit),
      bump_(makeNumber("vehicleBump")),
      droop_(makeNumber("vehicleDroop")),
      kingpin_(makeNumber("vehicleKingpin")),
      track_(makeNumber("vehicleTrack")),
      turntable_(makeButton(tr("Take picked"), "takeTurntable")),
      drawbar_(makeButton(tr("Take picked"), "takeDrawbar")),
      ground_(makeChoice("vehicleGround", {})),
      hitch_(makeChoice("vehicleHitch", {})),
      made_(new MadeVehicles(session)) {
    name_->setObjectName(QStringLiteral("vehicleName"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(9);
    card_->addButtons({look_});
    facts_ = card_->addReadout("vehicleFacts");
    card_->addButtons({turn_});
    card_->addWidget(picture_);
    card_->addButtons({add_});
    turn_->hide();
    auto* form = new Card(tr("Settings"));
    form->addRow(tr("Name"), name_);
    form->addRow(tr("Stands on"), ground_);
    form->addRow(tr("Travel up"), bump_);
    form->addRow(tr("Travel down"), droop_);
    form->addRow(tr("Kingpins inside by"), kingpin_);
    track_row_ = form->addOptionalRow(tr("Track under wheels"), track_);
    form->addRow(tr("Pulled by"), hitch_);
    turntable_row_ = form->addOptionalRow(tr("Turntable"), turntable_);
    drawbar_row_ = form->addOptionalRow(tr("Drawbar"), drawbar_);
    turntable_->setToolTip(tr("Pick the turntable with its drawbar; the first axle steers with it"));
    drawbar_->setToolTip(tr("Pick what of it goes up and down with the hitch"));
    form->addButtons({make_});
    auto* inner = new QVBoxLayout(details_);
    inner->setContentsMargins(0, 0, 0, 0);
    inner->addWidget(form);
    column->addWidget(card_);
    column->addWidget(details_);
    column->addWidget(made_);
    connect(look_, &QPushButton::clicked, this, &VehicleCard::look);
    connect(make_, &QPushButton::clicked, this, &VehicleCard::make);
    connect(add_, &QPushButton::clicked, this, &VehicleCard::addPicked);
    connect(turn_, &QPushButton::clicked, this, &VehicleCard::turnModel);
    connect(turntable_, &QPushButton::clicked, this, [this] { takePicked(turning_); });
    connect(drawbar_, &QPushButton::clicked, this, [this] { takePicked(nodding_); });
    connect(hitch_, &QComboBox::activated, this, &VehicleCard::showFound);
    connect(picture_, &LayoutPicture::axleClicked, this, [this](int axle) {
        if (!steered_.erase(axle)) steered_.insert(axle);
        showFound();
    });
    connect(picture_, &LayoutPicture::wheelDropped, this, [this](int wheel) {
        std::vector<PartId> tyres;
        for (std::size_t i = 0; i < layout_->wheels.size(); ++i)
            if (static_cast<int>(i) != wheel) tyres.push_back(layout_->wheels[i].parts.front());
        if (!tyres.empty()) layOut(tyres);
    });
    connect(picture_, &LayoutPicture::runnerDropped, this, [this](int runner) {
        layout_->runners.erase(layout_->runners.begin() + runner);
        showFound();
    });
    connect(&session_, &Session::documentChanged, this, &VehicleCard::forget);
}

/// A second press with the same parts lets go of them.
void VehicleCard::takePicked(std::vector<PartId>& into) {
    into = into == session_.selection() ? std::vector<PartId>{} : session_.selection();
    showFound();
}

QString VehicleCard::namesOf(const std::vector<PartId>& parts) const {
    if (parts.empty()) return tr("Take picked");
    const Part* first = session_.document().parts.find(parts.front());
    const QString name = first ? QString::fromStdString(first->name) : QString();
    return parts.size() == 1 ? name : tr("%1 and %2 more").arg(name).arg(parts.size() - 1);
}

void VehicleCard::forget() {
    turning_.clear();
    nodding_.clear();
    askew_.reset();
    layout_.reset();
    looked_at_.clear();
}

void VehicleCard::look() {
    looked_at_ = session_.selection();
    if (looked_at_.empty()) {
        const Tree tree(session_.document());
        looked_at_.assign(tree.roots().begin(), tree.roots().end());
    }
    session_.measuring().start(
        tr("Looking for wheels"),
        [document = session_.document(), parts = looked_at_](const Progress& progress) {
            return vehicle_layout(document, parts, {}, progress);
        },
        [this, parts = looked_at_](Result<VehicleLayout> found) {
            // An edit may have come in between: what was found is of a model that is no more.
            if (parts != looked_at_) {
                emit session_.told(tr("The project changed while wheels were looked for; look again"), true);
                return;
            }
            begin(std::move(found));
        });
}

void VehicleCard::begin(Result<VehicleLayout> found) {
    askew_.reset();
    if (!found) {
        if (found.error().code == "vehicle.sideways" || found.error().code == "vehicle.lying")
            askew_ = found.error();
        emit session_.told(QString::fromStdString(found.error().message), true);
        refresh();
        return;
    }
    layout_ = std::move(*found);
    steered_.clear();
    if (layout_->axles_x_m.size() > 1 && layout_->runners.empty()) steered_.insert(0);
    const Part* first = session_.document().parts.find(looked_at_.front());
    name_->setText(looked_at_.size() == 1 && first ? QString::fromStdString(first->name) : tr("Vehicle"));
    const double travel = 0.3 * layout_->wheels.front().radius_m;
    bump_->setText(length(travel, session_.document()));
    droop_->setText(length(travel, session_.document()));
    kingpin_->setText(QStringLiteral("0 mm"));
    track_->setText(length(layout_->track_thickness_m, session_.document()));
    refresh();
}

/// The wheels as somebody says they are.
void VehicleCard::layOut(const std::vector<PartId>& tyres) {
    auto again = vehicle_layout(session_.document(), looked_at_, tyres);
    if (!again) {
        emit session_.told(QString::fromStdString(again.error().message), true);
        return;
    }
    if (!layout_) return begin(std::move(again));
    layout_ = std::move(*again);
    showFound();
}

/// What the search missed.
void VehicleCard::addPicked() {
    std::vector<PartId> tyres;
    if (layout_)
        for (const FoundWheel& wheel : layout_->wheels) tyres.push_back(wheel.parts.front());
    for (const PartId id : session_.selection()) {
        const bool known =
            layout_ && std::any_of(layout_->wheels.begin(), layout_->wheels.end(), [&](const FoundWheel& w) {
                return std::find(w.parts.begin(), w.parts.end(), id) != w.parts.end();
            });
        if (!known) tyres.push_back(id);
    }
    layOut(tyres);
}

/// By a quarter, after a preview: what of both ends is the front is seen then, and turned on by "Stand up".
void VehicleCard::turnModel() {
    const bool lies = askew_->code == "vehicle.lying";
    session_.preview({{"op", "model.stand"}, {lies ? "up" : "front", askew_->subject}, {"ground", true}});
}

/// The picked place, or else the foremost point of the trailer in its middle.
Vec3 VehicleCard::hitchPlace() const {
    const auto& places = session_.picks().places;
    if (!places.empty())
        if (const auto world = place_in_world(session_.document(), places.back(),
                                              session_.worldFromPart(places.back().part)))
            return *world;
    Vec3 foremost(-1e300, 0, 0);
    for (const PartId top : looked_at_)
        for (const PartId id : Tree(session_.document()).branch(top)) {
            const Part& part = *session_.document().parts.find(id);
            const Shape* shape = session_.document().shapes.find(part.shape);
            if (!shape) continue;
            const Bounds bounds =
                mesh_bounds(*shape->mesh, world_from_rest(session_.document(), id) * part.part_from_shape);
            if (bounds.max.x() > foremost.x())
                foremost = {bounds.max.x(), bounds.middle().y(), bounds.middle().z()};
        }
    return foremost;
}

void VehicleCard::make() {
    json parts = json::array(), wheels = json::array(), steered = json::array();
    for (const PartId id : looked_at_) parts.push_back(id.value);
    for (const FoundWheel& wheel : layout_->wheels) {
        wheels.push_back(wheel.parts.front().value);
        if (steered_.contains(wheel.axle_index)) steered.push_back(wheel.parts.front().value);
    }
    json step{{"op", "vehicle.make"},
              {"parts", parts},
              {"wheels", wheels},
              {"steers", !steered.empty()},
              {"name", name_->text().toStdString()},
              {"bump", bump_->text().toStdString()},
              {"droop", droop_->text().toStdString()},
              {"kingpin", kingpin_->text().toStdString()}};
    step["tracks"] = !layout_->runners.empty();
    for (const FoundWheel& runner : layout_->runners) step["runners"].push_back(runner.parts.front().value);
    if (!layout_->runners.empty()) step["track"] = track_->text().toStdString();
    if (!steered.empty()) step["steered"] = steered;
    if (const auto ground = ground_->currentData().toULongLong()) step["ground"] = ground;
    if (const auto hitch = hitch_->currentData().toULongLong()) {
        const Vec3 at = hitchPlace();
        step["hitch"] = hitch;
        step["hitch_at"] = {at.x(), at.y(), at.z()};
        const auto ids = [](const std::vector<PartId>& list) {
            json out = json::array();
            for (const PartId id : list) out.push_back(id.value);
            return out;
        };
        if (!turning_.empty()) step["turntable"] = ids(turning_);
        if (!nodding_.empty()) step["drawbar"] = ids(nodding_);
    }
    session_.preview(step);
}

void VehicleCard::fillParts(QComboBox* combo, const QString& none, bool shapes_only) {
    const QVariant before = combo->currentData();
    combo->clear();
    combo->addItem(none, QVariant::fromValue<qulonglong>(0));
    for (const Part& part : session_.document().parts) {
        const bool of_vehicle =
            std::any_of(session_.document().vehicles.begin(), session_.document().vehicles.end(),
                        [&](const Vehicle& v) { return v.body == part.id; });
        if (shapes_only ? !part.shape : !of_vehicle) continue;
        combo->addItem(QString::fromStdString(part.name), QVariant::fromValue<qulonglong>(part.id.value));
    }
    combo->setCurrentIndex(std::max(0, combo->findData(before)));
}

void VehicleCard::showFound() {
    picture_->setVisible(layout_.has_value());
    details_->setVisible(layout_.has_value() && !session_.previewed());
    if (!layout_) return;
    picture_->show(*layout_, steered_);
    track_row_->setVisible(!layout_->runners.empty());
    for (QWidget* row : {turntable_row_, drawbar_row_})
        row->setVisible(hitch_->currentData().toULongLong() != 0);
    turntable_->setText(namesOf(turning_));
    drawbar_->setText(namesOf(nodding_));
    const QString crawls =
        layout_->runners.empty()
            ? QString()
            : tr(" On tracks, with %1 besides.")
                  .arg(QString::fromStdString(
                      counted(layout_->runners.size(), "sprocket or idler", "sprockets and idlers")));
    facts_->setText(
        tr("%1 on %2, wheelbase %3, track width %4, wheels of radius %5.%6 Click a wheel to steer its axle.")
            .arg(QString::fromStdString(counted(layout_->wheels.size(), "wheel")),
                 QString::fromStdString(counted(layout_->axles_x_m.size(), "axle")),
                 length(layout_->wheelbase_m(), session_.document()),
                 length(layout_->track_m(), session_.document()),
                 length(layout_->wheels.front().radius_m, session_.document()), crawls));
}

void VehicleCard::refresh() {
    look_->setEnabled(!session_.previewed() && !session_.document().parts.empty());
    turn_->setVisible(askew_.has_value() && !session_.previewed());
    add_->setVisible(!looked_at_.empty() && !session_.previewed());
    add_->setEnabled(!session_.selection().empty());
    if (askew_)
        facts_->setText(QString::fromStdString(askew_->message + "."));
    else if (!layout_)
        facts_->setText(
            session_.selection().empty()
                ? tr("Of the whole model, or pick what belongs to one vehicle first. Its front faces X.")
                : tr("Among the picked parts and all they carry. Its front faces X."));
    fillParts(ground_, tr("the level floor"), true);
    fillParts(hitch_, tr("none, drives itself"), false);
    showFound();
    made_->refresh();
}

}  // namespace pivrak
