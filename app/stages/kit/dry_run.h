#pragma once

#include <QPointer>
#include <functional>

#include "app/session/session.h"

namespace pivrak {

/// Works something out about the present document off the interface thread, for a card to tell. Only the
/// newest question is answered, and one that was answered already is not worked out again.
template <class Answer>
class Trial : public QObject {
public:
    using Work = std::function<Answer(const Document&, const Progress&)>;
    using Told = std::function<void(const Answer&)>;

    /// `told` is called on the interface thread; at once when the answer is known.
    Trial(Session& session, Told told, QObject* parent)
        : QObject(parent), session_(session), told_(std::move(told)) {}

    /// Whatever `question` does not say, `work` may not depend on, besides the document.
    void ask(const nlohmann::json& question, Work work) {
        if (question == question_ && revision_ == session_.revision()) {
            if (answer_) told_(*answer_);
            return;
        }
        question_ = question;
        revision_ = session_.revision();
        answer_.reset();
        session_.trials().start(
            QString::number(reinterpret_cast<quintptr>(this)), QString(), SameKind::Replaced,
            [document = session_.document(), work = std::move(work)] {
                return [document, work](const Progress& progress) { return work(document, progress); };
            },
            [here = QPointer<Trial>(this), question, revision = revision_](Answer answer) {
                if (!here || question != here->question_ || revision != here->revision_) return;
                here->answer_ = std::move(answer);
                here->told_(*here->answer_);
            });
    }
    /// Nothing is to be told any more.
    void forget() {
        question_ = nullptr;
        answer_.reset();
    }
    /// The answer to the last question, once there is one.
    const Answer* answer() const { return answer_ ? &*answer_ : nullptr; }

private:
    Session& session_;
    Told told_;
    nlohmann::json question_;
    std::uint64_t revision_ = 0;
    std::optional<Answer> answer_;
};

/// Tells what a step would do, by doing it on the side.
class DryRun : public Trial<Result<Outcome>> {
public:
    DryRun(Session& session, Told told, QObject* parent)
        : Trial(session, std::move(told), parent), registry_(session.registry()) {}

    void ask(const nlohmann::json& step) {
        Trial::ask(step, [&registry = registry_, step](const Document& document, const Progress& progress) {
            return registry.run(document, step, {{}, progress});
        });
    }

private:
    const Registry& registry_;
};

}  // namespace pivrak
