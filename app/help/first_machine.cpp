#include "app/help/first_machine.h"

#include <QGridLayout>
#include <algorithm>

#include "app/stages/kit/card.h"

namespace pivrak {
namespace {

std::size_t count_of_parts(const Session& session, const std::function<bool(const Part&)>& is) {
    const SharedTable<Part>& parts = session.document().parts;
    return static_cast<std::size_t>(std::count_if(parts.begin(), parts.end(), is));
}

/// The most keys that one channel of a clip has.
std::size_t most_keys(const Session& session) {
    std::size_t most = 0;
    for (const Clip& clip : session.document().clips)
        for (const Track& track : clip.tracks) most = std::max(most, track.keys.size());
    return most;
}

}  // namespace

std::vector<FirstStep> first_machine_steps() {
    const auto words = [](const char* text) { return QObject::tr(text); };
    return {
        {words("Add a gear of 20 teeth, module 4 mm, as a stand-in."), Stage::Intake, words("Stand-ins"),
         [](const Session& s, const Player&) {
             return count_of_parts(s, [](const Part& p) { return bool(p.shape); }) >= 1;
         }},
        {words("Add one of 40 teeth; it lands beside the first."), Stage::Intake, words("Stand-ins"),
         [](const Session& s, const Player&) {
             return count_of_parts(s, [](const Part& p) { return bool(p.shape); }) >= 2;
         }},
        {words("Pick both and make them hinges about the own axis that goes through their bores."),
         Stage::Tree, words("Joint"),
         [](const Session& s, const Player&) {
             return count_of_parts(s, [](const Part& p) { return p.joint.kind == JointKind::Hinge; }) >= 2;
         }},
        {words("With both picked, couple them: teeth are counted for you. Then move the shaft to where they "
               "mesh."),
         Stage::Rig, words("Gears"),
         [](const Session& s, const Player&) {
             return std::any_of(s.document().couplings.begin(), s.document().couplings.end(),
                                [](const Coupling& c) { return c.as<GearPair>() != nullptr; });
         }},
        {words("Pick the driver, go to frame 0 and key it; then to the last frame, turn its dial by 360° and "
               "key again."),
         Stage::Keys, QString(), [](const Session& s, const Player&) { return most_keys(s) >= 2; }},
        {words("Play it: Space. The larger gear turns half as fast, the other way."), Stage::Keys, QString(),
         [](const Session& s, const Player& player) { return most_keys(s) >= 2 && player.isPlaying(); }},
        {words("Deliver it and read it back: the largest miss is told."), Stage::Handover, QString(),
         [](const Session& s, const Player&) { return s.lastDelivery().has_value(); }}};
}

FirstMachine::FirstMachine(Session& session, const Player& player, QWidget* parent)
    : QWidget(parent), session_(session), player_(player), steps_(first_machine_steps()), state_(new QLabel) {
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setColumnStretch(1, 1);
    for (std::size_t i = 0; i < steps_.size(); ++i) {
        const int row = static_cast<int>(i);
        auto* mark = new QLabel;
        mark->setObjectName(QStringLiteral("firstStep%1").arg(row + 1));
        mark->setFixedWidth(22);
        auto* line = new QLabel(steps_[i].words);
        line->setWordWrap(true);
        auto* show = makeButton(tr("Show me"), qPrintable(QStringLiteral("showFirstStep%1").arg(row + 1)));
        show->setAccessibleName(tr("Show me: %1").arg(steps_[i].words));
        connect(show, &QPushButton::clicked, this,
                [this, i] { emit cardAsked(steps_[i].stage, steps_[i].tab); });
        grid->addWidget(mark, row, 0);
        grid->addWidget(line, row, 1);
        grid->addWidget(show, row, 2);
        marks_.push_back(mark);
    }
    state_->setObjectName(QStringLiteral("firstMachineState"));
    state_->setWordWrap(true);
    grid->addWidget(state_, static_cast<int>(steps_.size()), 1);
    for (auto signal : {&Session::documentChanged, &Session::projectChanged, &Session::delivered})
        connect(&session_, signal, this, &FirstMachine::refresh);
    connect(&player_, &Player::playingChanged, this, &FirstMachine::refresh);
    refresh();
}

/// What was seen done once stays ticked while the window is open: nobody plays all the time.
void FirstMachine::refresh() {
    std::size_t done = 0;
    for (std::size_t i = 0; i < steps_.size(); ++i) {
        const bool ticked = marks_[i]->text() == QStringLiteral("✓") || steps_[i].done(session_, player_);
        marks_[i]->setText(ticked ? QStringLiteral("✓") : QString::number(i + 1));
        setRole(marks_[i], ticked ? "good" : "soft");
        done += ticked;
    }
    state_->setText(done == steps_.size() ? tr("Your first machine runs, and stands in a file.")
                                          : tr("%1 of %2 done").arg(done).arg(steps_.size()));
}

}  // namespace pivrak
