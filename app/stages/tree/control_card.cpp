#include "app/stages/tree/control_card.h"

#include "app/session/words.h"
#include "core/io/project/project_json.h"

namespace pivrak {

using nlohmann::json;

ControlCard::ControlCard(Session& session)
    : FormCard(session, "control", {"control.add"},
               {tr("Controls"), tr("Give controls to the picked"), "addControls",
                tr("A control takes over the joint and keys of the part it is given to, and is never "
                   "delivered. Pick parts.")}),
      smaller_(makeButton(tr("Smaller"), "controlSmaller")),
      larger_(makeButton(tr("Larger"), "controlLarger")),
      fit_(makeButton(tr("Fit"), "controlFit")),
      plain_(makeButton(tr("Make plain datums"), "controlPlain")),
      hands_off_(makeButton(tr("Controls only"), "handsOff")) {
    add({.argument = "form", .object_name = "controlForm"});
    add({.argument = "color", .label = tr("Colour"), .object_name = "controlColor"});
    finish(false);
    addButtons({smaller_, larger_, fit_});
    addButtons({plain_});
    hands_off_->setCheckable(true);
    hands_off_->setToolTip(tr("Only controls can be picked, in the view and in the tree"));
    addButtons({hands_off_});
    fit_->setToolTip(tr("As large as what it drives"));
    for (const char* argument : {"form", "color"})
        connect(static_cast<QComboBox*>(widget(argument)), &QComboBox::activated, this, [this, argument] {
            change({{argument, valueOf(argument)}});
        });
    connect(smaller_, &QPushButton::clicked, this, [this] { change({{"scale", 0.8}}); });
    connect(larger_, &QPushButton::clicked, this, [this] { change({{"scale", 1.25}}); });
    connect(fit_, &QPushButton::clicked, this, [this] { change({{"fit", true}}); });
    connect(plain_, &QPushButton::clicked, this, [this] {
        session_.run({{"op", "control.remove"}, {"parts", pickedControls()}});
    });
    connect(hands_off_, &QPushButton::clicked, &session_, &Session::setHandsOff);
    connect(&session_, &Session::handsOffChanged, this, &ControlCard::refresh);
}

/// What is a control already needs none.
void ControlCard::amend(json& step) const {
    json parts = json::array();
    for (const PartId id : session_.selection())
        if (const Part* part = session_.document().parts.find(id); part && !part->is_control())
            parts.push_back(id.value);
    step["parts"] = parts;
}

json ControlCard::pickedControls() const {
    json controls = json::array();
    for (const PartId id : session_.selection())
        if (const Part* part = session_.document().parts.find(id); part && part->is_control())
            controls.push_back(id.value);
    return controls;
}

/// Changes the picked controls; with none picked, the choice is for the next ones made.
void ControlCard::change(json step) {
    step["op"] = "control.set";
    step["parts"] = pickedControls();
    if (!step["parts"].empty()) session_.run(step);
}

void ControlCard::refresh() {
    const Document& document = session_.document();
    std::size_t all = 0;
    for (const Part& part : document.parts) all += part.is_control();
    const std::size_t picked = pickedControls().size();
    const bool open = session_.previewed() != nullptr;
    if (const Part* part = document.parts.find(session_.primary()); part && part->control) {
        setValue("form", QString::fromUtf8(word(part->control->form).data()));
        setValue("color", QString::fromUtf8(word(part->control->color).data()));
    }
    FormCard::refresh();
    if (open) do_->setEnabled(false);
    for (QPushButton* button : {smaller_, larger_, fit_, plain_}) button->setEnabled(!open && picked > 0);
    hands_off_->setEnabled(all > 0 || session_.handsOff());
    hands_off_->setChecked(session_.handsOff());
    if (all > 0)
        facts_->setText(tr("%1 in the project, %2 picked").arg(countWords(all, "control")).arg(picked));
    else if (do_->isEnabled())
        facts_->setText(tr("The picked parts hand over their joints and keys."));
}

}  // namespace pivrak
