// How a session begins and ends: models and projects opened, saved, brought back, delivered.
#include "app/session/left_work.h"
#include "app/session/session.h"
#include "core/base/guarded.h"
#include "core/io/atomic_file.h"
#include "core/io/project/project_file.h"

namespace pivrak {

bool Session::start(Document document, std::filesystem::path path, const Fingerprint& file) {
    const Change change(*this);
    edits_.dropAll();
    preview_.reset();
    history_ = History(std::move(document));
    emit started();
    project_path_ = std::move(path);
    project_file_ = file;
    selection_.set({});
    last_delivery_.reset();
    // The one that is shown stays so, wherever it comes to in the list.
    clip_ = clip_or_first(this->document()).id;
    tool_plane_.reset();
    posing_.setFrame(clip().first_frame);
    documentReplaced();
    emit selectionChanged();
    emit previewChanged();
    emit projectChanged();
    emit arrived();
    return true;
}

void Session::newProject() {
    start(empty_document(), {});
}

bool Session::openProject(const std::filesystem::path& path) {
    const auto bytes = read_file(path);
    auto opened =
        bytes ? project_from_bytes(*bytes, path.filename().string()) : Result<Document>(bytes.error());
    if (!opened) {
        refuse(opened.error());
        return false;
    }
    start(std::move(*opened), path, fingerprint(*bytes));
    emit told(tr("Opened %1").arg(projectName()), false);
    return true;
}

bool Session::saveProject(const std::filesystem::path& path) {
    leavePreview();
    const auto save = [&]() -> Result<void> {
        PIVRAK_CHECK(check_project_path(document(), path));
        PIVRAK_TRY(bytes, project_bytes(document()));
        const Fingerprint file = fingerprint(bytes);
        emit saving(file);
        PIVRAK_CHECK(write_file_atomically(path, bytes));
        project_file_ = file;
        return {};
    };
    if (const auto done = guarded("saving", save); !done) {
        refuse(done.error());
        return false;
    }
    emit saved();
    project_path_ = path;
    history_.mark_saved();
    emit projectChanged();
    emit told(tr("Saved %1").arg(projectName()), false);
    return true;
}

void Session::bringBack(const std::filesystem::path& path, std::function<void(const QString&)> done) {
    edits_.start(
        QStringLiteral("back"), tr("Bringing work back"), SameKind::Waits,
        [this, path] {
            return
                [this, path](const Progress& progress) { return read_left_work(registry_, path, progress); };
        },
        [this, done](Result<LeftWork> back) {
            if (!back) return refuse(back.error());
            start(empty_document(), back->base.project, back->file);
            history_ = std::move(back->replayed.history);
            if (!back->base.snapshot.empty()) history_.mark_unsaved();
            documentReplaced();
            emit projectChanged();
            emit arrived();
            const QString missing = QString::fromStdString(back->replayed.missing);
            done(missing);
            emit told(missing.isEmpty()
                          ? tr("Brought back: %1 steps").arg(back->replayed.steps)
                          : tr("Brought back %1 steps; then %2").arg(back->replayed.steps).arg(missing),
                      !missing.isEmpty());
        });
}

void Session::importModel(const nlohmann::json& step) {
    runInBackground(step);
}

void Session::deliverTo(const std::filesystem::path& path, const DeliveryOptions& options) {
    leavePreview();
    // A delivery holds the document it was asked for; another one waits for it.
    deliveries_.start(
        QStringLiteral("delivery"), tr("Delivering"), SameKind::Waits,
        [document = document(), path, options] {
            return [=](const Progress& progress) { return deliver(document, path, options, progress); };
        },
        [this, path](Result<Delivery> delivery) {
            if (!delivery) return refuse(delivery.error());
            last_delivery_ = std::move(*delivery);
            emit delivered();
            const ReadBack& r = last_delivery_->read_back;
            emit told(tr("Delivered %1: largest error %2 mm, %3°")
                          .arg(QString::fromStdString(path.filename().string()))
                          .arg(r.at_frames.largest_m * 1e3, 0, 'f', 6)
                          .arg(r.at_frames.largest_rad * deg_per_rad, 0, 'f', 6),
                      false);
        });
}

}  // namespace pivrak
