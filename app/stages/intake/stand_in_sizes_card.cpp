#include "app/stages/intake/stand_in_sizes_card.h"

#include <algorithm>

#include "core/operations/intake/stand_in_shapes.h"

namespace pivrak {

StandInSizesCard::StandInSizesCard(Session& session)
    : FormCard(session, "sizes", {"stand_in.change"},
               {tr("Change a stand-in"), tr("Preview"), "previewSizes", QString()}) {
    for (const ArgumentSpec& spec : stand_in_specs()) {
        QStringList kinds;
        for (const std::string& kind : stand_in_kinds()) {
            const auto has = stand_in_measures(kind);
            if (std::find(has.begin(), has.end(), spec.name) != has.end())
                kinds << QString::fromStdString(kind);
        }
        Field field{.argument = spec.name, .shown_for = kinds};
        if (spec.name == "hand") field.choices = {{tr("right-handed"), "right"}, {tr("left-handed"), "left"}};
        if (spec.name == "web") field.label = tr("web with holes");
        add(field);
    }
    finish(true);
}

const nlohmann::json* StandInSizesCard::measures() const {
    const Part* part = session_.document().parts.find(session_.primary());
    const pivrak::Shape* shape = part ? session_.document().shapes.find(part->shape) : nullptr;
    return shape && shape->made_of.is_object() ? &shape->made_of : nullptr;
}

QString StandInSizesCard::obstacle() const {
    if (kind_.empty()) return tr("Pick a stand-in to change its measures.");
    nlohmann::json given;
    amend(given);
    return given.size() > 1 ? QString() : tr("Type another measure.");
}

void StandInSizesCard::fill() {
    const nlohmann::json* made = measures();
    const nlohmann::json now = made ? *made : nlohmann::json();
    if (now == filled_) return;
    filled_ = now;
    kind_ = made ? made->value("kind", "") : std::string();
    was_.clear();
    for (const std::string& name : stand_in_measures(kind_)) {
        if (!made->contains(name)) continue;
        const nlohmann::json& value = made->at(name);
        if (auto* check = qobject_cast<QCheckBox*>(widget(name))) {
            const QSignalBlocker quiet(check);
            check->setChecked(value.is_boolean() && value.get<bool>());
            was_[name] = check->isChecked() ? QStringLiteral("1") : QString();
            continue;
        }
        const bool angle = name == "helix" || name == "pressure_angle" || name == "shaft_angle";
        const QString shown =
            value.is_string()           ? QString::fromStdString(value.get<std::string>())
            : value.is_number_integer() ? QString::number(value.get<int>())
            : angle                     ? QString::fromStdString(format_angle(value.get<double>()))
                    : QString::fromStdString(format_length(value.get<double>(), LengthUnit::Millimetre, 2));
        const QSignalBlocker quiet(widget(name));
        setValue(name, shown);
        was_[name] = shown;
    }
    showRows();
}

/// Only what was typed is changed.
void StandInSizesCard::amend(nlohmann::json& step) const {
    nlohmann::json changed{{"op", "stand_in.change"}};
    for (const auto& [name, was] : was_) {
        if (const auto* check = qobject_cast<const QCheckBox*>(widget(name))) {
            if (check->isChecked() != !was.isEmpty()) changed[name] = check->isChecked();
            continue;
        }
        const QString now = QString::fromStdString(valueOf(name));
        if (now == was || now.isEmpty()) continue;
        bool whole = false;
        const int count = now.toInt(&whole);
        const bool counted = name == "teeth" || name == "mate_teeth" || name == "starts" || name == "lugs";
        changed[name] = counted && whole ? nlohmann::json(count) : nlohmann::json(now.toStdString());
    }
    if (step.contains("parts")) changed["parts"] = step["parts"];
    step = changed;
}

void StandInSizesCard::refresh() {
    fill();
    FormCard::refresh();
}

}  // namespace pivrak
