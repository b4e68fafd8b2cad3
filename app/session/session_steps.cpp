#include "app/session/session.h"

namespace pivrak {

void Session::goToState(std::size_t state) {
    const Change change(*this);
    leavePreview();
    if (state >= history_.size() || state == history_.now()) return;
    while (history_.now() > state) {
        history_.undo();
        emit wentBack();
    }
    while (history_.now() < state) {
        history_.redo();
        emit wentOn();
    }
    documentReplaced();
    emit told(state == 0 ? tr("Back at the beginning")
                         : tr("At: %1").arg(QString::fromStdString(history_.title_at(state))),
              false);
}

Result<StepSeries> Session::stepsTaken(std::size_t first, std::size_t last) const {
    std::vector<TakenStep> taken;
    for (std::size_t i = std::max<std::size_t>(first, 1); i <= last && i < history_.size(); ++i)
        taken.push_back({history_.step_at(i), history_.document_at(i - 1), history_.document_at(i)});
    return StepSeries::make(registry_, taken);
}

bool Session::repeatSteps(std::size_t first, std::size_t last) {
    const Change change(*this);
    leavePreview();
    const auto steps = stepsTaken(first, last);
    if (!steps) {
        refuse(steps.error());
        return false;
    }
    const std::vector<PartId> parts = selection();
    const std::size_t before = history_.now();
    const auto done = steps->again(parts, document(), [this](const nlohmann::json& step) -> Result<Document> {
        PIVRAK_TRY(outcome, registry_.run(document(), step));
        push(step, std::move(outcome));
        return document();
    });
    if (!done) {
        // All of them or none.
        while (history_.now() > before) {
            history_.undo();
            emit wentBack();
        }
        documentReplaced();
        refuse(done.error());
        return false;
    }
    select(parts);
    emit told(tr("%n steps taken again", nullptr, static_cast<int>(*done)), false);
    return true;
}

}  // namespace pivrak
