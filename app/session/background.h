#pragma once

#include <QFutureWatcher>
#include <QObject>
#include <QtConcurrentRun>
#include <atomic>
#include <deque>
#include <functional>
#include <memory>

#include "core/base/guarded.h"
#include "core/base/progress.h"

namespace pivrak {

/// What becomes of a piece of work when one of its kind is under way or waits already.
enum class SameKind {
    Replaced,  ///< the older one is dropped: its answer is of no use any more
    Waits,     ///< it takes its turn; nothing is dropped
};

/// Work off the interface thread, one piece at a time; others wait for their turn. Answers arrive on the
/// interface thread and never after this object is gone.
class Background : public QObject {
    Q_OBJECT

public:
    explicit Background(QObject* parent = nullptr) : QObject(parent) {}
    ~Background() override {
        waiting_.clear();
        stop();
    }

    /// Once it is its turn, `make()` is called here and gives `work`; `work(progress)` runs elsewhere,
    /// `done(answer)` here. An exception becomes an Error where the answer can hold one, or else an empty
    /// answer.
    template <class Make, class Done>
    void start(const QString& kind, const QString& title, SameKind same, Make make, Done done) {
        if (same == SameKind::Replaced) drop(kind);
        waiting_.push_back(
            {kind, [this, kind, title, make = std::move(make), done = std::move(done)]() mutable {
                 begin(kind, title, make(), std::move(done));
             }});
        next();
    }
    /// The same for work that is known at once and replaces older work of its kind, which its title names.
    template <class Work, class Done>
    void start(const QString& title, Work work, Done done) {
        start(
            title, title, SameKind::Replaced, [work = std::move(work)] { return work; }, std::move(done));
    }

    bool isBusy() const { return cancelled_ != nullptr; }
    std::size_t waiting() const { return waiting_.size(); }

    /// Tells the work under way to stop, waits for it (work looks at its progress often), and drops its
    /// answer. What waits comes next.
    void cancel() {
        if (!cancelled_) return;
        stop();
        emit finished();
        next();
    }
    /// Drops what is under way of a kind, and what waits of it.
    void drop(const QString& kind) {
        std::erase_if(waiting_, [&](const Waiting& w) { return w.kind == kind; });
        if (isBusy() && kind == kind_) cancel();
    }
    void dropAll() {
        waiting_.clear();
        cancel();
    }

signals:
    void started(const QString& title);
    void advanced(double fraction, const QString& what);
    void finished();

private:
    struct Waiting {
        QString kind;
        std::function<void()> begin;
    };

    void next() {
        if (isBusy() || waiting_.empty()) return;
        const auto begin = std::move(waiting_.front().begin);
        waiting_.pop_front();
        begin();
    }

    void stop() {
        if (!cancelled_) return;
        *cancelled_ = true;
        cancelled_.reset();
        pool_future_.waitForFinished();
    }

    /// The thread it is called on gives way to the interface, and to the processor's drawing, from then on.
    static void stepBack();

    template <class Work>
    static std::invoke_result_t<Work, const Progress&> guardedAnswer(const std::string& title,
                                                                     const Work& work,
                                                                     const Progress& progress) {
        using Answer = std::invoke_result_t<Work, const Progress&>;
        if constexpr (std::is_constructible_v<Answer, Error>) {
            return guarded(title, [&] { return work(progress); });
        } else {
            try {
                return work(progress);
            } catch (...) {
                return Answer{};
            }
        }
    }

    template <class Work, class Done>
    void begin(const QString& kind, const QString& title, Work work, Done done) {
        auto cancelled = std::make_shared<std::atomic<bool>>(false);
        cancelled_ = cancelled;
        kind_ = kind;
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
                    next();
                });
        emit started(title);
        watcher->setFuture(QtConcurrent::run([this, cancelled, title = title.toStdString(),
                                              work = std::move(work)] {
            stepBack();
            const Progress progress([this, cancelled](double fraction, std::string_view what) {
                if (*cancelled) return false;
                emit advanced(fraction, QString::fromUtf8(what.data(), static_cast<qsizetype>(what.size())));
                return true;
            });
            return guardedAnswer(title, work, progress);
        }));
        pool_future_ = watcher->future().isFinished() ? QFuture<void>() : QFuture<void>(watcher->future());
    }

    std::shared_ptr<std::atomic<bool>> cancelled_;
    QString kind_;
    std::deque<Waiting> waiting_;
    QFuture<void> pool_future_;
};

}  // namespace pivrak
