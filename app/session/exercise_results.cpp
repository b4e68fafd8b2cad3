#include "app/session/exercise_results.h"

#include "core/checks/exercise/exercise_report.h"
#include "core/io/atomic_file.h"

namespace pivrak {

ExerciseResults::ExerciseResults(Session& session, QObject* parent) : QObject(parent), session_(session) {
    connect(&session_, &Session::documentChanged, this, [this] {
        if (!report_) return;
        stale_ = true;
        emit changed();
    });
    connect(&session_, &Session::started, this, [this] {
        ++project_;
        report_.reset();
        emit changed();
    });
}

void ExerciseResults::run(const ExerciseOptions& options) {
    running_ = true;
    emit changed();
    session_.measuring().start(
        tr("Exercise"),
        [document = session_.document(), options](const Progress& progress) {
            return exercise(document, options, progress);
        },
        [this, project = project_](Result<ExerciseReport> report) {
            running_ = false;
            if (project != project_) {
                // Of a project that is open no more.
            } else if (report) {
                report_ = std::move(*report);
                stale_ = false;
            } else {
                emit session_.told(QString::fromStdString(report.error().message), true);
            }
            emit changed();
        });
}

void ExerciseResults::show(std::size_t row) {
    if (!report_ || row >= report_->rows.size()) return;
    const ExerciseRow& shown = report_->rows[row];
    std::vector<PartId> about;
    for (const PartId part : {shown.part, shown.other})
        if (session_.document().parts.contains(part)) about.push_back(part);
    session_.select(about);
    std::vector<std::pair<ChannelRef, double>> values;
    for (const ExercisedValue& value : shown.pose) values.emplace_back(value.channel, value.value);
    session_.show(std::move(values), false);
    emit session_.told(QString::fromStdString(shown.message), false);
}

void ExerciseResults::save(const QString& path) {
    if (!report_) return;
    const std::filesystem::path file = path.toStdString();
    const auto text = exercise_file(session_.document(), *report_, file.extension().string());
    const auto written = text ? write_file_atomically(file, *text) : Result<void>(text.error());
    emit session_.told(
        written ? tr("'%1' written").arg(path) : QString::fromStdString(written.error().message), !written);
}

}  // namespace pivrak
