#include "app/shell/window_actions.h"

#include "app/help/help_window.h"
#include "app/shell/action_finder.h"

#include "app/stages/keys/keys_panel.h"
#include "app/stages/tree/carrier_card.h"
#include "app/steps/steps_window.h"
#include "core/model/element_channels.h"

namespace pivrak {

void WindowActions::add() {
    addEditActions();
    addViewActions();
    addPartActions();
    addKeyActions();
}

QString WindowActions::nothingPicked() const {
    return session_.selection().empty() ? tr("pick a part first") : QString();
}

void WindowActions::removeParts() {
    const nlohmann::json step{{"op", "part.remove"}, {"parts", session_.selectedIds()}};
    if (questions_.removal && !session_.previewed()) {
        const auto would_be = session_.registry().run(session_.document(), step);
        QStringList losses;
        if (would_be)
            for (const std::string& words : would_be->losses) losses << QString::fromStdString(words);
        constexpr int most = 12;
        if (losses.size() > most) {
            const auto more = static_cast<int>(losses.size()) - most;
            losses.resize(most);
            losses << tr("and %n more", nullptr, more);
        }
        if (!losses.isEmpty() && !questions_.removal(window_, losses)) return;
    }
    session_.run(step);
}

void WindowActions::addEditActions() {
    const QString menu = tr("Edit");
    actions_.add({"undo", menu, tr("Undo"), QKeySequence::Undo, [this] { session_.undo(); },
                  [this] { return session_.history().can_undo() ? QString() : tr("nothing to undo"); }});
    actions_.add({"redo", menu, tr("Redo"), QKeySequence(QStringLiteral("Ctrl+Shift+Z")),
                  [this] { session_.redo(); },
                  [this] { return session_.history().can_redo() ? QString() : tr("nothing to redo"); }});
    actions_.add({"steps",
                  menu,
                  tr("Steps…"),
                  QKeySequence(QStringLiteral("Ctrl+Alt+Z")),
                  [this] {
                      if (!steps_) steps_ = new StepsWindow(session_, questions_, window_);
                      steps_->show();
                      steps_->raise();
                  },
                  {}});
    actions_.add({"selectAll",
                  menu,
                  tr("Pick everything"),
                  QKeySequence::SelectAll,
                  [this] {
                      std::vector<PartId> all = Tree(session_.shownDocument()).all();
                      session_.select(all);
                  },
                  {}});
    actions_.add({"selectNone", menu, tr("Pick nothing"), QKeySequence(QStringLiteral("Ctrl+Shift+A")),
                  [this] { session_.select({}); }, [this] { return nothingPicked(); }});
    addPickActions();
    actions_.add({"finder",
                  menu,
                  tr("Find anything…"),
                  QKeySequence(QStringLiteral("Ctrl+Space")),
                  [this] { emit finderAsked(); },
                  {}});
    const auto stages = tr("Stage");
    for (int i = 0; i < stage_count; ++i)
        actions_.add({QStringLiteral("stage%1").arg(i + 1),
                      stages,
                      QString::fromUtf8(stage_name(static_cast<Stage>(i)).data()),
                      QKeySequence(QString::number(i + 1)),
                      [this, i] { session_.setStage(static_cast<Stage>(i)); },
                      {}});
}

void WindowActions::addPickActions() {
    const auto changePicking = [this](const auto& change) {
        PickSettings settings = session_.pickSettings();
        change(settings);
        session_.setPickSettings(settings);
    };
    const std::pair<QString, PickKind> kinds[] = {{tr("Pick parts"), PickKind::Parts},
                                                  {tr("Pick faces"), PickKind::Faces},
                                                  {tr("Pick edges"), PickKind::Edges},
                                                  {tr("Pick points"), PickKind::Points}};
    for (int i = 0; i < 4; ++i)
        actions_.add({QStringLiteral("pickKind%1").arg(i + 1),
                      tr("Pick"),
                      kinds[i].first,
                      QKeySequence(QStringLiteral("Alt+%1").arg(i + 1)),
                      [changePicking, kind = kinds[i].second] {
                          changePicking([&](PickSettings& settings) { settings.kind = kind; });
                      },
                      {}});
    actions_.add({"pickThrough",
                  tr("Pick"),
                  tr("Pick through, or only what is seen"),
                  QKeySequence(QStringLiteral("Alt+T")),
                  [changePicking] {
                      changePicking([](PickSettings& settings) { settings.through = !settings.through; });
                  },
                  {}});
    actions_.add(
        {"pickLasso",
         tr("Pick"),
         tr("Drag a free outline, or a box"),
         QKeySequence(QStringLiteral("Alt+L")),
         [changePicking] { changePicking([](PickSettings& settings) { settings.lasso = !settings.lasso; }); },
         {}});
    struct Grown {
        const char* id;
        QString title;
        Growth growth;
        const char* keys;
    };
    for (const Grown& one : {Grown{"growToPiece", tr("Grow to the whole piece"), Growth::Piece, ""},
                             Grown{"growToMaterial", tr("Grow to the same material"), Growth::Material, ""},
                             Grown{"growToSurface", tr("Grow to the smooth surface"), Growth::Angle, "Alt+S"},
                             Grown{"growToSize", tr("Grow to all of the same size"), Growth::SameSize, ""},
                             Grown{"growByRing", tr("Grow by one ring"), Growth::Ring, "Alt+Up"},
                             Grown{"shrinkByRing", tr("Shrink by one ring"), Growth::Shrink, "Alt+Down"},
                             Grown{"invertPicks", tr("Invert what is picked"), Growth::Invert, ""}})
        actions_.add({one.id, tr("Pick"), one.title, QKeySequence(QLatin1String(one.keys)),
                      [this, growth = one.growth] { session_.grow(growth); },
                      [this, growth = one.growth] { return session_.whyNotGrown(growth); }});
}

void WindowActions::addViewActions() {
    const QString menu = tr("View");
    actions_.add({"frameSelection", menu, tr("Fit selection"), QKeySequence(Qt::Key_F),
                  [this] { view_.frameSelection(); }, [this] { return nothingPicked(); }});
    actions_.add({"frameAll",
                  menu,
                  tr("Fit all"),
                  QKeySequence(Qt::SHIFT | Qt::Key_F),
                  [this] { view_.frameAll(); },
                  {}});
    actions_.add({"hide", menu, tr("Hide or show"), QKeySequence(Qt::Key_H),
                  [this] {
                      const Part* part = session_.document().parts.find(session_.primary());
                      session_.setPickedShown(part && !part->shown);
                  },
                  [this] { return session_.whyNothingToHide(); }});
    actions_.add({"showOnly", menu, tr("Show these only"), QKeySequence(Qt::Key_O),
                  [this] { session_.showPickedOnly(); }, [this] { return session_.whyNothingToHide(); }});
    actions_.add({"showAll", menu, tr("Show all"), QKeySequence(Qt::SHIFT | Qt::Key_O),
                  [this] { session_.showAll(); },
                  [this] { return session_.hidesAnything() ? QString() : tr("nothing is hidden"); }});
    actions_.add({"handsOff", menu, tr("Pick controls only"), QKeySequence(Qt::SHIFT | Qt::Key_H),
                  [this] { session_.setHandsOff(!session_.handsOff()); },
                  [this] {
                      for (const Part& part : session_.document().parts)
                          if (part.is_control()) return QString();
                      return tr("there is no control yet; give parts some in Tree");
                  }});
    actions_.add({"night",
                  menu,
                  tr("Day or night colours"),
                  QKeySequence(QStringLiteral("Ctrl+Shift+N")),
                  [this] { look_.setNight(!look_.isNight()); },
                  {}});
}

void WindowActions::addPartActions() {
    const QString menu = tr("Part");
    actions_.add({"putUnder", menu, tr("Put under the last picked"), QKeySequence(Qt::Key_U),
                  [this] { putUnderLast(session_); }, [this] { return putUnderObstacle(session_); }});
    actions_.add({"releaseParts", menu, tr("Release"), QKeySequence(Qt::SHIFT | Qt::Key_U),
                  [this] {
                      session_.run({{"op", "tree.release"}, {"parts", session_.selectedIds()}});
                  },
                  [this] { return nothingPicked(); }});
    actions_.add({"lockParts", menu, tr("Lock or unlock"), QKeySequence(Qt::Key_L),
                  [this] {
                      session_.run({{"op", "part.lock"},
                                    {"parts", session_.selectedIds()},
                                    {"locked", !session_.document().parts.find(session_.primary())->locked}});
                  },
                  [this] { return nothingPicked(); }});
    actions_.add({"duplicateParts", menu, tr("Duplicate"), QKeySequence(QStringLiteral("Ctrl+D")),
                  [this] {
                      session_.run({{"op", "part.duplicate"}, {"parts", session_.selectedIds()}});
                  },
                  [this] { return nothingPicked(); }});
    actions_.add(
        {"joinParts", menu, tr("Join into the last picked"), QKeySequence(),
         [this] {
             session_.run({{"op", "part.join"}, {"parts", session_.selectedIds()}});
         },
         [this] { return session_.selection().size() < 2 ? tr("pick at least two parts") : QString(); }});
    actions_.add({"groupParts", menu, tr("Group under a new datum"), QKeySequence(QStringLiteral("Ctrl+G")),
                  [this] {
                      session_.run({{"op", "tree.group"}, {"parts", session_.selectedIds()}});
                  },
                  [this] { return nothingPicked(); }});
    actions_.add({"tidyTree",
                  menu,
                  tr("Tidy the whole tree"),
                  {},
                  [this] {
                      session_.run({{"op", "tree.tidy"}, {"what", "all"}});
                  },
                  {}});
    actions_.add({"removeParts", menu, tr("Remove"), QKeySequence(Qt::Key_Delete),
                  [this] {
                      // Points of a path that are picked go before parts.
                      if (view_.paths().deletePicked()) return;
                      removeParts();
                  },
                  [this] {
                      return session_.pathInHand() && !session_.pathTool().points.empty() ? QString()
                                                                                          : nothingPicked();
                  }});
    actions_.add(
        {"toRest", menu, tr("Back to rest"), QKeySequence(Qt::Key_0), [this] { session_.toRest(); },
         [this] { return session_.previewed() ? tr("accept or leave the preview first") : QString(); }});
    actions_.add({"moveGauge", menu, tr("Move: take the next rule"), QKeySequence(Qt::Key_M),
                  [this] { view_.gauges().takeNext(Dimension::Length); },
                  [this] { return gaugeObstacle(Dimension::Length); }});
    actions_.add({"turnGauge", menu, tr("Turn: take the next dial"), QKeySequence(Qt::Key_T),
                  [this] { view_.gauges().takeNext(Dimension::Angle); },
                  [this] { return gaugeObstacle(Dimension::Angle); }});
    actions_.add({"sizeGauge", menu, tr("Size: take the rule of its size"), QKeySequence(Qt::Key_Z),
                  [this] { view_.gauges().takeNext(Dimension::None); },
                  [this] { return gaugeObstacle(Dimension::None); }});
    actions_.add({"frameAbove",
                  menu,
                  tr("Put a frame above"),
                  {},
                  [this] {
                      session_.run({{"op", "tree.frame_above"}, {"parts", session_.selectedIds()}});
                  },
                  [this] { return nothingPicked(); }});
}

QString WindowActions::gaugeObstacle(Dimension dimension) const {
    for (const ChannelGauge& gauge : view_.gauges().gauges())
        if (dimension_of(gauge.channel.kind) == dimension) return {};
    return dimension == Dimension::Angle    ? tr("pick a part whose joint turns")
           : dimension == Dimension::Length ? tr("pick a part whose joint shifts")
                                            : tr("pick a part that can grow and shrink (Joint, in Tree)");
}

void WindowActions::addKeyActions() {
    const QString menu = tr("Key");
    actions_.add(
        {"play", menu, tr("Play or pause"), QKeySequence(Qt::Key_Space), [this] { player_.toggle(); }, {}});
    actions_.add({"setKey", menu, tr("Key what is picked"), QKeySequence(Qt::Key_K),
                  [this] { setKeyHere(session_); }, [this] { return setKeyObstacle(session_); }});
    actions_.add({"toggleAutoKey",
                  menu,
                  tr("Key every move, or stop that"),
                  QKeySequence(Qt::Key_J),
                  [this] { session_.setAutoKey(!session_.autoKey()); },
                  {}});
    actions_.add({"previousKey",
                  menu,
                  tr("To the previous key"),
                  QKeySequence(Qt::Key_BracketLeft),
                  [this] { stepKey(-1); },
                  {}});
    actions_.add({"nextKey",
                  menu,
                  tr("To the next key"),
                  QKeySequence(Qt::Key_BracketRight),
                  [this] { stepKey(1); },
                  {}});
    actions_.add({"firstFrame",
                  menu,
                  tr("To the first frame"),
                  QKeySequence(QStringLiteral("Ctrl+Left")),
                  [this] { session_.setFrame(session_.clip().first_frame); },
                  {}});
    actions_.add({"lastFrame",
                  menu,
                  tr("To the last frame"),
                  QKeySequence(QStringLiteral("Ctrl+Right")),
                  [this] { session_.setFrame(session_.clip().last_frame); },
                  {}});
    actions_.add({"previousFrame",
                  menu,
                  tr("One frame back"),
                  QKeySequence(Qt::Key_Left),
                  [this] { session_.setFrame(session_.frame() - 1); },
                  {}});
    actions_.add({"nextFrame",
                  menu,
                  tr("One frame on"),
                  QKeySequence(Qt::Key_Right),
                  [this] { session_.setFrame(session_.frame() + 1); },
                  {}});
    actions_.add({"help",
                  tr("Help"),
                  tr("Help on this stage"),
                  QKeySequence(Qt::Key_F1),
                  [this] { help(false); },
                  {}});
    actions_.add({"firstMachine", tr("Help"), tr("First machine"), {}, [this] { help(true); }, {}});
    actions_.add({"shortcuts",
                  tr("Help"),
                  tr("Shortcuts"),
                  QKeySequence(Qt::SHIFT | Qt::Key_F1),
                  [this] { (new ShortcutSheet(actions_, window_))->show(); },
                  {}});
}

/// Stays open beside the work.
void WindowActions::help(bool first_machine) {
    if (!help_) {
        help_ = new HelpWindow(session_, player_, window_);
        connect(help_, &HelpWindow::cardAsked, this, &WindowActions::cardAsked);
    }
    if (first_machine)
        help_->showFirstMachine();
    else
        help_->showStage(session_.stage());
    help_->show();
    help_->raise();
}

/// The nearest key before or after the present frame, of the selection or else of all channels.
void WindowActions::stepKey(int direction) {
    std::optional<double> best;
    for (const Track& track : session_.clip().tracks) {
        if (!session_.selection().empty() &&
            !session_.isSelected(home_of(session_.document(), track.channel.owner)))
            continue;
        for (const Key& key : track.keys) {
            const double ahead = direction * (key.frame - session_.frame());
            if (ahead > 1e-9 && (!best || ahead < direction * (*best - session_.frame()))) best = key.frame;
        }
    }
    if (best) session_.setFrame(*best);
}

}  // namespace pivrak
