#include "app/session/slip_results.h"

namespace pivrak {

SlipResults::SlipResults(Session& session, QObject* parent) : QObject(parent), session_(session) {
    connect(&session_, &Session::documentChanged, this, [this] {
        if (!check_) return;
        std::erase_if(check_->wheels,
                      [&](const WheelSlip& w) { return !session_.document().parts.contains(w.wheel); });
        if (check_->wheels.empty()) check_.reset();
        stale_ = true;
        emit changed();
    });
    connect(&session_, &Session::started, this, [this] {
        ++project_;
        check_.reset();
        emit changed();
    });
}

void SlipResults::measure() {
    session_.measuring().start(
        tr("Slip check"),
        [document = session_.document(), clip = session_.clip().id](const Progress& progress) {
            return slip_check(document, clip, progress);
        },
        [this, project = project_](Result<SlipCheck> check) {
            if (project != project_) return;  // of one that is open no more
            if (!check) {
                emit session_.told(QString::fromStdString(check.error().message), true);
                return;
            }
            check_ = std::move(*check);
            stale_ = false;
            emit changed();
        });
}

}  // namespace pivrak
