#include "app/stages/tree/control_card.h"

#include "app/session/words.h"
#include "core/io/project/project_json.h"

namespace pivrak {

using nlohmann::json;

ControlCard::ControlCard(Session& session, QWidget* parent)
    : Card(tr("Controls"), parent),
      session_(session),
      form_(makeChoice("controlForm", {{tr("ring"), "ring"},
                                       {tr("box"), "box"},
                                       {tr("arrow"), "arrow"},
                                       {tr("cross"), "cross"},
                                       {tr("plate"), "plate"}})),
      color_(makeChoice("controlColor", {{tr("petrol"), "petrol"},
                                         {tr("steel"), "steel"},
                                         {tr("leaf"), "leaf"},
                                         {tr("saffron"), "saffron"},
                                         {tr("rust"), "rust"},
                                         {tr("ink"), "ink"}})),
      add_(makeButton(tr("Give controls to the picked"), "addControls", true)),
      smaller_(makeButton(tr("Smaller"), "controlSmaller")),
      larger_(makeButton(tr("Larger"), "controlLarger")),
      fit_(makeButton(tr("Fit"), "controlFit")),
      plain_(makeButton(tr("Make plain datums"), "controlPlain")),
      hands_off_(makeButton(tr("Hands off: only controls"), "handsOff")) {
    addRow(tr("Form"), form_);
    addRow(tr("Colour"), color_);
    addButtons({add_});
    addButtons({smaller_, larger_, fit_});
    addButtons({plain_});
    hands_off_->setCheckable(true);
    hands_off_->setToolTip(tr("Only controls can be picked, in the view and in the tree"));
    addButtons({hands_off_});
    state_ = addReadout("controlState");
    fit_->setToolTip(tr("As large as what it drives"));
    connect(add_, &QPushButton::clicked, this, [this] {
        json parts = json::array();
        for (const PartId id : session_.selection())
            if (!session_.document().parts.find(id)->is_control()) parts.push_back(id.value);
        session_.run(
            {{"op", "control.add"}, {"parts", parts}, {"form", chosen(form_)}, {"color", chosen(color_)}});
    });
    connect(form_, &QComboBox::activated, this, [this] { change({{"form", chosen(form_)}}); });
    connect(color_, &QComboBox::activated, this, [this] { change({{"color", chosen(color_)}}); });
    connect(smaller_, &QPushButton::clicked, this, [this] { change({{"scale", 0.8}}); });
    connect(larger_, &QPushButton::clicked, this, [this] { change({{"scale", 1.25}}); });
    connect(fit_, &QPushButton::clicked, this, [this] { change({{"fit", true}}); });
    connect(plain_, &QPushButton::clicked, this, [this] {
        session_.run({{"op", "control.remove"}, {"parts", pickedControls()}});
    });
    connect(hands_off_, &QPushButton::clicked, &session_, &Session::setHandsOff);
    connect(&session_, &Session::handsOffChanged, this, &ControlCard::refresh);
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
    add_->setEnabled(!open && session_.selection().size() > picked);
    for (QPushButton* button : {smaller_, larger_, fit_, plain_}) button->setEnabled(!open && picked > 0);
    if (const Part* part = document.parts.find(session_.primary()); part && part->control) {
        form_->setCurrentIndex(form_->findData(QString::fromUtf8(word(part->control->form).data())));
        color_->setCurrentIndex(color_->findData(QString::fromUtf8(word(part->control->color).data())));
    }
    hands_off_->setEnabled(all > 0 || session_.handsOff());
    hands_off_->setChecked(session_.handsOff());
    state_->setText(all == 0
                        ? tr("No controls yet. A control takes over the joint and keys of the part it is "
                             "given to, and is never delivered.")
                        : tr("%1 in the project, %2 picked").arg(countWords(all, "control")).arg(picked));
}

}  // namespace pivrak
