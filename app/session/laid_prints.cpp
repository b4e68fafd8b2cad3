#include "app/session/laid_prints.h"

namespace pivrak {

LaidPrints::LaidPrints(Session& session, QObject* parent) : QObject(parent), session_(session) {
    for (auto signal : {&Session::documentChanged, &Session::previewChanged})
        connect(&session_, signal, this, &LaidPrints::lay);
    lay();
}

const LaidPrints::Laid* LaidPrints::find(PrintId print) const {
    for (const Laid& laid : laid_)
        if (laid.strip.print == print) return &laid;
    return nullptr;
}

void LaidPrints::lay() {
    const Document& document = session_.shownDocument();
    if (document.prints.empty()) {
        worker_.cancel();
        if (laid_.empty()) return;
        laid_.clear();
        emit changed();
        return;
    }
    worker_.start(
        QString(),
        [document, clip = session_.clip().id](const Progress& progress) {
            std::vector<Laid> laid;
            auto strips = lay_prints(document, clip, progress);
            if (!strips) return laid;
            for (PrintStrip& strip : *strips) {
                auto whole = std::make_shared<const Mesh>(strip.piece(0, strip.length_m()));
                laid.push_back({std::move(strip), std::move(whole)});
            }
            return laid;
        },
        [this](std::vector<Laid> laid) {
            laid_ = std::move(laid);
            emit changed();
        });
}

}  // namespace pivrak
