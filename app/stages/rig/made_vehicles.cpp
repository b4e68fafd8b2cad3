#include "app/stages/rig/made_vehicles.h"

#include "app/stages/kit/length_text.h"
#include "core/base/words.h"

namespace pivrak {
namespace {

/// Of the first wheel that is sprung; none when none is.
std::optional<Limits> travel_of(const Document& document, const Vehicle& vehicle) {
    for (const VehicleWheel& wheel : vehicle.wheels)
        if (const Part* part = document.parts.find(wheel.suspension))
            return part->joint.shift.limits.value_or(Limits{0, 0});
    return std::nullopt;
}

}  // namespace

MadeVehicles::MadeVehicles(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), cards_(new QVBoxLayout(this)) {
    cards_->setContentsMargins(0, 0, 0, 0);
    cards_->setSpacing(9);
}

void MadeVehicles::refresh() {
    while (QLayoutItem* item = cards_->takeAt(0)) {
        if (item->widget()) item->widget()->deleteLater();
        delete item;
    }
    for (const Vehicle& vehicle : session_.document().vehicles) cards_->addWidget(cardOf(vehicle));
}

void MadeVehicles::set(const std::string& vehicle, nlohmann::json change) {
    change["op"] = "vehicle.set";
    change["vehicle"] = vehicle;
    session_.run(change);
}

void MadeVehicles::addField(Card& card, const Vehicle& vehicle, const char* argument, const QString& label,
                            const QString& text, const std::function<nlohmann::json(const QString&)>& value) {
    auto* field = std::string_view(argument) == "made_name" ? makeText(argument) : makeNumber(argument);
    field->setText(text);
    field->setAccessibleName(tr("%1 of %2").arg(label, QString::fromStdString(vehicle.name)));
    card.addRow(label, field);
    connect(field, &QLineEdit::returnPressed, this,
            [this, field, value, argument = std::string(argument).substr(std::string("made_").size()),
             of = vehicle.name] {
                if (field->isModified()) set(of, {{argument, value(field->text())}});
            });
}

Card* MadeVehicles::cardOf(const Vehicle& vehicle) {
    auto* card = new Card(QString::fromStdString(vehicle.name));
    const Part* ground = session_.document().parts.find(vehicle.ground);
    card->addReadout("vehicleState")
        ->setText(tr("%1, on %2")
                      .arg(QString::fromStdString(counted(vehicle.wheels.size(), "wheel")),
                           ground ? QString::fromStdString(ground->name) : tr("the level floor")));
    const auto as_text = [](const QString& text) { return nlohmann::json(text.toStdString()); };
    // What is no number goes as it is, to be refused in words.
    const auto as_share = [](const QString& text) {
        bool is_number = false;
        const double percent = QString(text).remove(QLatin1Char('%')).toDouble(&is_number);
        return is_number ? nlohmann::json(percent / 100) : nlohmann::json(text.toStdString());
    };
    addField(*card, vehicle, "made_name", tr("Name"), QString::fromStdString(vehicle.name), as_text);
    if (const auto travel = travel_of(session_.document(), vehicle)) {
        addField(*card, vehicle, "made_bump", tr("Travel up"), length(travel->max, session_.document()),
                 as_text);
        addField(*card, vehicle, "made_droop", tr("Travel down"), length(-travel->min, session_.document()),
                 as_text);
    }
    for (const auto& [argument, label, share] : {std::tuple("made_heave", tr("Body heaves"), vehicle.heave),
                                                 {"made_pitch", tr("Body pitches"), vehicle.pitch},
                                                 {"made_roll", tr("Body rolls"), vehicle.roll}})
        addField(*card, vehicle, argument, label, QString::number(100 * share, 'f', 0) + QStringLiteral(" %"),
                 as_share);
    auto* on_last = makeButton(tr("Stand on last picked"), "vehicleOnPicked");
    auto* on_floor = makeButton(tr("Level floor"), "vehicleOnFloor");
    auto* remove = makeButton(tr("Remove"), "removeVehicle");
    const Part* last = session_.document().parts.find(session_.primary());
    on_last->setEnabled(last && last->shape);
    on_floor->setEnabled(ground != nullptr);
    connect(on_last, &QPushButton::clicked, this, [this, of = vehicle.name] {
        set(of, {{"ground", session_.primary().value}});
    });
    connect(on_floor, &QPushButton::clicked, this, [this, of = vehicle.name] { set(of, {{"floor", true}}); });
    connect(remove, &QPushButton::clicked, this, [this, of = vehicle.name] {
        session_.run({{"op", "vehicle.remove"}, {"vehicle", of}});
    });
    on_floor->setToolTip(tr("It stands on the level floor again"));
    card->addButtons({on_last});
    card->addButtons({on_floor, remove});
    return card;
}

}  // namespace pivrak
