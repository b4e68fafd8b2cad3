#include "app/stages/intake/swap_card.h"
#include "app/session/words.h"

namespace pivrak {

SwapCard::SwapCard(Session& session)
    : FormCard(session, "swap", {"shape.swap"},
               {tr("Swap shapes"), tr("Take the last one's shape"), "swapShape", QString()}),
      model_(makeChoice("updateModel", {})),
      update_(makeButton(tr("Newer version of it…"), "updateModelFile")) {
    add({.argument = "match",
         .label = tr("Placed"),
         .choices = {{tr("by its bounds"), "bounds"},
                     {tr("by its axis"), "axis"},
                     {tr("where it stands"), "as is"}},
         .object_name = "swapMatch"});
    finish(false);
    models_ = addReadout("modelSources");
    addRow(tr("Model"), model_);
    addButtons({update_});
    connect(static_cast<QComboBox*>(widget("match")), &QComboBox::activated, this, [this] {
        const StepPreview* preview = session_.previewed();
        if (!preview || preview->step.value("op", "") != "shape.swap") return;
        nlohmann::json step = preview->step;
        step["match"] = valueOf("match");
        session_.preview(step);
    });
    connect(update_, &QPushButton::clicked, this, &SwapCard::fileAsked);
}

void SwapCard::amend(nlohmann::json& step) const {
    step["parts"] = session_.idsButLast();
    step["from"] = session_.primary().value;
}

QString SwapCard::obstacle() const {
    if (session_.selection().size() < 2)
        return tr("Pick the parts that get a new shape, then with Shift the part that has it.");
    const Part* donor = session_.document().parts.find(session_.primary());
    return donor && donor->shape ? QString() : tr("The part picked last has no shape to give.");
}

void SwapCard::updateFrom(const QString& path) {
    session_.preview({{"op", "model.update"},
                      {"file", path.toStdString()},
                      {"model", model_->currentText().toStdString()}});
}

void SwapCard::refresh() {
    FormCard::refresh();
    if (do_->isEnabled()) {
        const Part* donor = session_.document().parts.find(session_.primary());
        facts_->setText(tr("The shape of %1 goes to %2; pivots and rig stay")
                            .arg(QString::fromStdString(donor->name),
                                 countWords(session_.selection().size() - 1, "part")));
        do_->setEnabled(!session_.previewed());
    }
    showModels();
}

void SwapCard::showModels() {
    QStringList names;
    for (const Source& source : session_.document().sources)
        names << QString::fromStdString(std::filesystem::path(source.path).filename().string());
    names.removeDuplicates();
    QStringList shown;
    for (int i = 0; i < model_->count(); ++i) shown << model_->itemText(i);
    if (shown != names) {
        model_->clear();
        model_->addItems(names);
    }
    update_->setEnabled(!names.isEmpty());
    models_->setText(names.isEmpty()
                         ? tr("No model has come in yet.")
                         : tr("A newer file of a model keeps pivots, joints, couplings and keys:"));
}

}  // namespace pivrak
