#pragma once

#include <QFutureWatcher>
#include <QObject>
#include <QtConcurrent>
#include <atomic>
#include <functional>
#include <memory>

#include "core/base/progress.h"

namespace pivrak {

/// One piece of work at a time off the interface thread. A newer piece cancels the one before it, whose
/// answer is then dropped; answers arrive on the interface thread and never after this object is gone.
class Background : public QObject {
    Q_OBJECT

public:
    explicit Background(QObject* parent = nullptr) : QObject(parent) {}
    ~Background() override { cancel(); }

    /// `work(progress)` runs elsewhere, `done(answer)` here.
    template <class Work, class Done>
    void start(const QString& title, Work work, Done done) {
        cancel();
        auto cancelled = std::make_shared<std::atomic<bool>>(false);
        cancelled_ = cancelled;
        using Answer = std::invoke_result_t<Work, const Progress&>;
        auto* watcher = new QFutureWatcher<Answer>(this);
        connect(watcher, &QFutureWatcherBase::finished, this,
                [this, watcher, cancelled, done = std::move(done)]() mutable {
                    watcher->deleteLater();
                    if (cancelled_ != cancelled) return;
                    cancelled_.reset();
                    Answer answer = watcher->future().takeResult();
                    emit finished();
                    done(std::move(answer));
                });
        emit started(title);
        watcher->setFuture(QtConcurrent::run([this, cancelled, work = std::move(work)]() {
            const Progress progress([this, cancelled](double fraction, std::string_view what) {
                if (*cancelled) return false;
                emit advanced(fraction, QString::fromUtf8(what.data(), static_cast<qsizetype>(what.size())));
                return true;
            });
            return work(progress);
        }));
        pool_future_ = watcher->future().isFinished() ? QFuture<void>() : QFuture<void>(watcher->future());
    }

    bool isBusy() const { return cancelled_ != nullptr; }

    /// Tells the work to stop, waits for it (work looks at its progress often), and drops its answer.
    void cancel() {
        if (!cancelled_) return;
        *cancelled_ = true;
        cancelled_.reset();
        pool_future_.waitForFinished();
        emit finished();
    }

signals:
    void started(const QString& title);
    void advanced(double fraction, const QString& what);
    void finished();

private:
    std::shared_ptr<std::atomic<bool>> cancelled_;
    QFuture<void> pool_future_;
};

}  // namespace pivrak
