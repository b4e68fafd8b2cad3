#include "app/stages/intake/swap_card.h"
#include "app/session/words.h"

namespace pivrak {

SwapCard::SwapCard(Session& session, QWidget* parent)
    : Card(tr("Swap shapes"), parent),
      session_(session),
      match_(makeChoice("swapMatch", {{tr("by the middle of its bounds"), "bounds"},
                                      {tr("by its axis"), "axis"},
                                      {tr("where it stands"), "as is"}})),
      model_(makeChoice("updateModel", {})),
      swap_(makeButton(tr("Take the last one's shape"), "swapShape", true)),
      update_(makeButton(tr("Newer version of it…"), "updateModelFile")) {
    state_ = addReadout("swapState");
    addRow(tr("Placed"), match_);
    addButtons({swap_});
    models_ = addReadout("modelSources");
    addRow(tr("Model"), model_);
    addButtons({update_});
    connect(swap_, &QPushButton::clicked, this, [this] {
        nlohmann::json parts = nlohmann::json::array();
        for (const PartId part : session_.selection())
            if (part != session_.primary()) parts.push_back(part.value);
        session_.preview({{"op", "shape.swap"},
                          {"parts", parts},
                          {"from", session_.primary().value},
                          {"match", chosen(match_)}});
    });
    connect(match_, &QComboBox::activated, this, [this] {
        const StepPreview* preview = session_.previewed();
        if (!preview || preview->step.value("op", "") != "shape.swap") return;
        nlohmann::json step = preview->step;
        step["match"] = chosen(match_);
        session_.preview(step);
    });
    connect(update_, &QPushButton::clicked, this, &SwapCard::fileAsked);
}

void SwapCard::updateFrom(const QString& path) {
    session_.preview({{"op", "model.update"},
                      {"file", path.toStdString()},
                      {"model", model_->currentText().toStdString()}});
}

void SwapCard::refresh() {
    const Document& document = session_.document();
    const auto& picked = session_.selection();
    const Part* donor = document.parts.find(session_.primary());
    const bool ready = picked.size() > 1 && donor && donor->shape && !session_.previewed();
    swap_->setEnabled(ready);
    state_->setText(ready
                        ? tr("The shape of %1 goes to %2; pivots and rig stay")
                              .arg(QString::fromStdString(donor->name), countWords(picked.size() - 1, "part"))
                        : tr("Pick the parts that get a new shape, then with Shift the part that has it."));
    QStringList names;
    for (const Source& source : document.sources)
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
