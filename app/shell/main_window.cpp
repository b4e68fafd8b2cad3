#include "app/shell/main_window.h"

#include <QCloseEvent>
#include <QDir>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QMenuBar>
#include <QMessageBox>
#include <QMimeData>
#include <QSplitter>
#include <QStandardPaths>
#include <QVBoxLayout>

#include "app/drive_map/drive_map_view.h"
#include "app/shell/action_finder.h"
#include "app/stages/handover/handover_panel.h"
#include "app/stages/intake/intake_panel.h"
#include "app/stages/intake/swap_card.h"
#include "app/stages/keys/keys_panel.h"
#include "app/stages/kit/piece_table.h"
#include "app/stages/pivots/pivot_plots.h"
#include "app/stages/pivots/pivots_panel.h"
#include "app/stages/rig/rig_panel.h"
#include "app/stages/rig/slip_plot.h"
#include "app/stages/split/split_panel.h"
#include "app/stages/tree/carrier_card.h"
#include "app/stages/tree/tree_panel.h"
#include "app/view/view_corner.h"
#include "core/io/delivery/delivery_formats.h"
#include "core/io/import/import_formats.h"
#include "core/io/paths/path_files.h"
#include "core/io/project/project_file.h"
#include "core/operations/travel/path_access.h"

namespace pivrak {
namespace {
const QString project_filter = QStringLiteral("Pivrak project (*.pivrak.glb)");

QString formatText(std::string_view words) {
    return QString::fromUtf8(words.data(), static_cast<qsizetype>(words.size()));
}

QString modelFilter() {
    QStringList endings;
    for (const ModelFormat& format : model_formats())
        endings << QStringLiteral("*") + formatText(format.ending);
    return MainWindow::tr("Models (%1)").arg(endings.join(QLatin1Char(' ')));
}

QString deliveryFilter() {
    QStringList filters;
    for (const DeliveryFormat& format : delivery_formats())
        filters << QStringLiteral("%1 (*%2)").arg(formatText(format.title), formatText(format.ending));
    return filters.join(QStringLiteral(";;"));
}

}  // namespace

Questions Questions::asked_in_dialogs() {
    return {[](QWidget* parent, const QString& title, const QString& filter) {
                return QFileDialog::getOpenFileName(parent, title, {}, filter);
            },
            [](QWidget* parent, const QString& title, const QString& proposed, const QString& filter) {
                return QFileDialog::getSaveFileName(parent, title, proposed, filter);
            },
            [](QWidget* parent) {
                QMessageBox box(QMessageBox::NoIcon, MainWindow::tr("Unsaved work"),
                                MainWindow::tr("The project has changes that are not saved yet."),
                                QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel, parent);
                box.setDefaultButton(QMessageBox::Save);
                const int answer = box.exec();
                return answer == QMessageBox::Save      ? Unsaved::Save
                       : answer == QMessageBox::Discard ? Unsaved::Discard
                                                        : Unsaved::Stay;
            },
            [](QWidget* parent, const QString& words) {
                QMessageBox box(QMessageBox::NoIcon, MainWindow::tr("Work left behind"), words,
                                QMessageBox::NoButton, parent);
                const auto* back = box.addButton(MainWindow::tr("Bring it back"), QMessageBox::AcceptRole);
                const auto* away =
                    box.addButton(MainWindow::tr("Throw it away"), QMessageBox::DestructiveRole);
                box.addButton(MainWindow::tr("Ask me later"), QMessageBox::RejectRole);
                box.exec();
                return box.clickedButton() == back   ? LeftWork::BringBack
                       : box.clickedButton() == away ? LeftWork::ThrowAway
                                                     : LeftWork::Later;
            }};
}

MainWindow::MainWindow(Session& session, Look& look, Questions questions, QString examples_folder)
    : session_(session),
      look_(look),
      questions_(std::move(questions)),
      examples_(std::move(examples_folder)),
      actions_(new Actions(*this)),
      player_(new Player(session, this)),
      pivot_checks_(new PivotChecks(session, this)),
      slips_(new SlipResults(session, this)),
      prints_(new LaidPrints(session, this)),
      autosave_(new Autosave(session,
                             (QStandardPaths::writableLocation(QStandardPaths::AppLocalDataLocation) +
                              QStringLiteral("/left-work"))
                                 .toStdString(),
                             this)) {
    setObjectName(QStringLiteral("mainWindow"));
    setWindowIcon(QIcon(QStringLiteral(":/icons/pivrak.svg")));
    setAcceptDrops(true);
    resize(1280, 800);
    setMinimumSize(1100, 700);
    buildPanels();
    buildLayout();
    addFileActions();
    addEditActions();
    addViewActions();
    addPartActions();
    addKeyActions();
    buildMenus();
    finder_ = new ActionFinder(*actions_, this);
    const auto update_actions = [this] { actions_->update(); };
    for (auto signal : {&Session::documentChanged, &Session::selectionChanged, &Session::previewChanged,
                        &Session::projectChanged})
        connect(&session_, signal, this, update_actions);
    connect(&session_, &Session::documentChanged, this, &MainWindow::retitle);
    connect(&session_, &Session::projectChanged, this, &MainWindow::retitle);
    connect(&session_, &Session::stageChanged, this, &MainWindow::showStage);
    // Keys go to the view, not into a field that the panel opens with.
    connect(&session_, &Session::arrived, view_, [this] { view_->setFocus(); });
    showStage();
    retitle();
    actions_->update();
}

void MainWindow::buildPanels() {
    rail_ = new StageRail(session_, look_);
    parts_ = new PartsPanel(session_, look_);
    view_ = new Viewport(session_, *prints_, look_);
    time_ = new TimeStrip(session_, look_, *player_);
    gauge_bar_ = new GaugeBar(session_, look_);
    panels_ = new QStackedWidget;
    lower_ = new QStackedWidget;
    lower_->hide();
    connect(view_, &Viewport::hint, gauge_bar_, &GaugeBar::hint);
    connect(time_, &TimeStrip::setKeyAsked, this,
            [this] { actions_->find(QStringLiteral("setKey"))->action->trigger(); });
}

QWidget* MainWindow::makePanel(Stage stage) {
    switch (stage) {
        case Stage::Intake: {
            auto* intake = new IntakePanel(session_);
            connect(intake, &IntakePanel::fileAsked, this, &MainWindow::importAsked);
            connect(&intake->swapCard(), &SwapCard::fileAsked, this, [this, intake] {
                const QString path =
                    questions_.open_file(this, tr("A newer version of the model"), modelFilter());
                if (!path.isEmpty()) intake->swapCard().updateFrom(path);
            });
            return intake;
        }
        case Stage::Split:
            return new SplitPanel(session_);
        case Stage::Pivots:
            return new PivotsPanel(session_, *pivot_checks_);
        case Stage::Tree:
            return new TreePanel(session_);
        case Stage::Rig:
            return makeRigPanel();
        case Stage::Keys:
            return new KeysPanel(session_);
        case Stage::Handover: {
            auto* handover = new HandoverPanel(session_);
            connect(handover, &HandoverPanel::pathAsked, this, [this](QLineEdit* into) {
                const QString path = questions_.save_file(
                    this, tr("Deliver to"),
                    session_.projectName() + formatText(delivery_formats().front().ending), deliveryFilter());
                if (!path.isEmpty()) into->setText(path);
            });
            return handover;
        }
    }
    return nullptr;
}

QWidget* MainWindow::makeRigPanel() {
    auto* rig = new RigPanel(session_, *slips_, *prints_);
    connect(&rig->pathCard(), &PathCard::importAsked, this, [this] {
        const QString path =
            questions_.open_file(this, tr("Paths from a file"), tr("Drawings and lines (*.svg *.obj)"));
        if (path.isEmpty()) return;
        if (session_.run({{"op", "path.import"}, {"file", path.toStdString()}}))
            session_.setPathTool({newest_path(session_.document())});
    });
    connect(&rig->pathCard(), &PathCard::exportAsked, this, [this](const QString& name) {
        const QString file = questions_.save_file(this, tr("Export the path"), name + QStringLiteral(".svg"),
                                                  tr("Drawing (*.svg);;Line (*.obj)"));
        if (!file.isEmpty()) exportPath(file);
    });
    return rig;
}

void MainWindow::exportPath(const QString& file) {
    const Path* path = session_.pathInHand();
    if (!path) return;
    const auto written = write_path(session_.document(), *path, file.toStdString());
    emit session_.told(
        written ? tr("'%1' written").arg(file) : QString::fromStdString(written.error().message), !written);
}

QWidget* MainWindow::panelOf(Stage stage) {
    QWidget*& made = made_panels_[static_cast<std::size_t>(stage)];
    if (!made) {
        made = makePanel(stage);
        panels_->addWidget(made);
    }
    return made;
}

void MainWindow::showStage() {
    panels_->setCurrentWidget(panelOf(session_.stage()));
    if (session_.stage() == Stage::Split && !pieces_) {
        pieces_ = new PieceTable(session_);
        lower_->addWidget(pieces_);
    }
    if (session_.stage() == Stage::Pivots && !pivot_plots_) {
        pivot_plots_ = new PivotPlots(session_, *pivot_checks_, look_);
        lower_->addWidget(pivot_plots_);
        connect(pivot_plots_, &PivotPlots::retold, this, &MainWindow::showLower);
    }
    if (session_.stage() == Stage::Rig && !drive_map_) {
        drive_map_ = new DriveMapView(session_, look_);
        lower_->addWidget(drive_map_);
        connect(drive_map_, &DriveMapView::retold, this, &MainWindow::showLower);
    }
    if (session_.stage() == Stage::Rig && !slip_plot_) {
        slip_plot_ = new SlipPlot(session_, *slips_, look_);
        lower_->addWidget(slip_plot_);
        connect(slip_plot_, &SlipPlot::retold, this, &MainWindow::showLower);
    }
    showLower();
}

void MainWindow::showLower() {
    QWidget* below = nullptr;
    if (session_.stage() == Stage::Split) below = pieces_;
    if (session_.stage() == Stage::Pivots && pivot_plots_ && pivot_plots_->hasSomething())
        below = pivot_plots_;
    if (session_.stage() == Stage::Rig && drive_map_ && drive_map_->hasSomething()) below = drive_map_;
    if (session_.stage() == Stage::Rig && slips_->check()) below = slip_plot_;
    if (below) lower_->setCurrentWidget(below);
    lower_->setVisible(below != nullptr);
}

QWidget* MainWindow::makeViewArea() {
    auto* middle = new QSplitter(Qt::Horizontal);
    middle->setObjectName(QStringLiteral("middle"));
    parts_->setMinimumWidth(150);
    panels_->setMinimumWidth(280);
    middle->addWidget(parts_);
    auto* centre = new QSplitter(Qt::Vertical);
    centre->addWidget(view_);
    centre->addWidget(lower_);
    centre->setStretchFactor(0, 1);
    centre->setSizes({430, 170});
    centre->setHandleWidth(1);
    centre->setCollapsible(0, false);
    middle->addWidget(centre);
    middle->addWidget(panels_);
    middle->setStretchFactor(1, 1);
    middle->setSizes({212, 684, 310});
    middle->setHandleWidth(1);
    middle->setChildrenCollapsible(false);
    new ViewCorner(*view_, look_);
    return middle;
}

void MainWindow::buildLayout() {
    auto* right = new QSplitter(Qt::Vertical);
    right->addWidget(makeViewArea());
    right->addWidget(time_);
    right->setStretchFactor(0, 1);
    right->setSizes({610, 140});
    right->setHandleWidth(1);
    right->setChildrenCollapsible(false);
    auto* central = new QWidget;
    central->setObjectName(QStringLiteral("central"));
    auto* row = new QHBoxLayout;
    row->setSpacing(0);
    row->addWidget(rail_);
    row->addWidget(right, 1);
    auto* layout = new QVBoxLayout(central);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addLayout(row, 1);
    layout->addWidget(gauge_bar_);
    setCentralWidget(central);
    menuBar()->setCornerWidget(makeCorner());
}

/// Title, finder and theme at the right end of the menu bar.
QWidget* MainWindow::makeCorner() {
    auto* corner = new QWidget;
    auto* layout = new QHBoxLayout(corner);
    layout->setContentsMargins(0, 2, 8, 2);
    title_ = new QLabel;
    title_->setObjectName(QStringLiteral("projectTitle"));
    title_->setProperty("role", "soft");
    // The corner of a menu bar does not follow its contents.
    title_->setFixedWidth(220);
    title_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    auto* find = new QPushButton(tr("Find an action…   Ctrl+Space"));
    find->setObjectName(QStringLiteral("findAction"));
    find->setFocusPolicy(Qt::NoFocus);
    find->setMinimumWidth(210);
    auto* night = new QPushButton(tr("Night"));
    night->setObjectName(QStringLiteral("nightTheme"));
    night->setCheckable(true);
    night->setFocusPolicy(Qt::NoFocus);
    layout->addWidget(title_);
    layout->addSpacing(18);
    layout->addWidget(find);
    layout->addWidget(night);
    connect(find, &QPushButton::clicked, this, [this] { finder_->open(); });
    connect(night, &QPushButton::clicked, &look_, &Look::setNight);
    connect(&look_, &Look::changed, night, [this, night] { night->setChecked(look_.isNight()); });
    return corner;
}

void MainWindow::buildMenus() {
    QHash<QString, QMenu*> menus;
    for (const Actions::Entry& entry : actions_->all()) {
        QMenu*& menu = menus[entry.spec.menu];
        if (!menu) {
            menu = menuBar()->addMenu(entry.spec.menu);
            menu->setObjectName(QStringLiteral("menu") + entry.spec.menu);
            menu->setToolTipsVisible(true);
        }
        menu->addAction(entry.action);
    }
}

QString MainWindow::nothingPicked() const {
    return session_.selection().empty() ? tr("pick a part first") : QString();
}

void MainWindow::addFileActions() {
    const QString menu = tr("File");
    actions_->add({"newProject",
                   menu,
                   tr("New project"),
                   QKeySequence::New,
                   [this] {
                       if (mayLeave()) session_.newProject();
                   },
                   {}});
    actions_->add({"openProject",
                   menu,
                   tr("Open project…"),
                   QKeySequence::Open,
                   [this] {
                       if (!mayLeave()) return;
                       const QString path = questions_.open_file(this, tr("Open project"), project_filter);
                       if (!path.isEmpty()) openFile(path);
                   },
                   {}});
    actions_->add({"importModel",
                   menu,
                   tr("Bring in a model…"),
                   QKeySequence(QStringLiteral("Ctrl+I")),
                   [this] { importAsked(); },
                   {}});
    actions_->add({"saveProject", menu, tr("Save"), QKeySequence::Save, [this] { save(false); }, {}});
    actions_->add({"saveProjectAs",
                   menu,
                   tr("Save as…"),
                   QKeySequence(QStringLiteral("Ctrl+Shift+S")),
                   [this] { save(true); },
                   {}});
    const QDir examples(examples_);
    if (!examples_.isEmpty())
        for (const QString& name : examples.entryList({"*.obj", "*.glb"}, QDir::Files, QDir::Name)) {
            const bool project = name.endsWith(QStringLiteral(".pivrak.glb"));
            actions_->add({"example_" + name,
                           tr("Examples"),
                           project ? tr("%1, the finished project").arg(QString(name).remove(".pivrak.glb"))
                                   : tr("%1, the raw model").arg(QString(name).remove(".obj").remove(".glb")),
                           {},
                           [this, path = examples.filePath(name), project] {
                               if (!project || mayLeave()) openFile(path);
                           },
                           {}});
        }
    actions_->add({"quit", menu, tr("Quit"), QKeySequence::Quit, [this] { close(); }, {}});
}

void MainWindow::addEditActions() {
    const QString menu = tr("Edit");
    actions_->add({"undo", menu, tr("Undo"), QKeySequence::Undo, [this] { session_.undo(); },
                   [this] { return session_.history().can_undo() ? QString() : tr("nothing to undo"); }});
    actions_->add({"redo", menu, tr("Redo"), QKeySequence(QStringLiteral("Ctrl+Shift+Z")),
                   [this] { session_.redo(); },
                   [this] { return session_.history().can_redo() ? QString() : tr("nothing to do again"); }});
    actions_->add({"selectAll",
                   menu,
                   tr("Pick everything"),
                   QKeySequence::SelectAll,
                   [this] {
                       std::vector<PartId> all = Tree(session_.shownDocument()).all();
                       session_.select(all);
                   },
                   {}});
    actions_->add({"selectNone", menu, tr("Pick nothing"), QKeySequence(QStringLiteral("Ctrl+Shift+A")),
                   [this] { session_.select({}); }, [this] { return nothingPicked(); }});
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
        actions_->add({QStringLiteral("pickKind%1").arg(i + 1),
                       tr("Pick"),
                       kinds[i].first,
                       QKeySequence(QStringLiteral("Alt+%1").arg(i + 1)),
                       [changePicking, kind = kinds[i].second] {
                           changePicking([&](PickSettings& settings) { settings.kind = kind; });
                       },
                       {}});
    actions_->add({"pickThrough",
                   tr("Pick"),
                   tr("Pick through, or only what is seen"),
                   QKeySequence(QStringLiteral("Alt+T")),
                   [changePicking] {
                       changePicking([](PickSettings& settings) { settings.through = !settings.through; });
                   },
                   {}});
    actions_->add(
        {"pickLasso",
         tr("Pick"),
         tr("Drag a free outline, or a box"),
         QKeySequence(QStringLiteral("Alt+L")),
         [changePicking] { changePicking([](PickSettings& settings) { settings.lasso = !settings.lasso; }); },
         {}});
    actions_->add({"finder",
                   menu,
                   tr("Find an action…"),
                   QKeySequence(QStringLiteral("Ctrl+Space")),
                   [this] { finder_->open(); },
                   {}});
    const auto stages = tr("Stage");
    for (int i = 0; i < stage_count; ++i)
        actions_->add({QStringLiteral("stage%1").arg(i + 1),
                       stages,
                       QString::fromUtf8(stage_name(static_cast<Stage>(i)).data()),
                       QKeySequence(QString::number(i + 1)),
                       [this, i] { session_.setStage(static_cast<Stage>(i)); },
                       {}});
}

void MainWindow::addViewActions() {
    const QString menu = tr("View");
    actions_->add({"frameSelection", menu, tr("Show the selection whole"), QKeySequence(Qt::Key_F),
                   [this] { view_->frameSelection(); }, [this] { return nothingPicked(); }});
    actions_->add({"frameAll",
                   menu,
                   tr("Show everything whole"),
                   QKeySequence(Qt::SHIFT | Qt::Key_F),
                   [this] { view_->frameAll(); },
                   {}});
    actions_->add({"hide", menu, tr("Hide or show"), QKeySequence(Qt::Key_H),
                   [this] {
                       session_.run({{"op", "part.show"},
                                     {"parts", session_.selectedIds()},
                                     {"shown", !session_.document().parts.find(session_.primary())->shown}});
                   },
                   [this] { return nothingPicked(); }});
    actions_->add({"showOnly", menu, tr("Show only these"), QKeySequence(Qt::Key_O),
                   [this] {
                       session_.run({{"op", "part.show_only"}, {"parts", session_.selectedIds()}});
                   },
                   [this] { return nothingPicked(); }});
    actions_->add({"showAll", menu, tr("Show all parts"), QKeySequence(Qt::SHIFT | Qt::Key_O),
                   [this] {
                       nlohmann::json parts = nlohmann::json::array();
                       for (const Part& part : session_.document().parts)
                           if (!part.shown) parts.push_back(part.id.value);
                       session_.run({{"op", "part.show"}, {"parts", parts}, {"shown", true}});
                   },
                   [this] {
                       for (const Part& part : session_.document().parts)
                           if (!part.shown) return QString();
                       return tr("no part is hidden");
                   }});
    actions_->add({"handsOff", menu, tr("Hands off: pick controls only"), QKeySequence(Qt::SHIFT | Qt::Key_H),
                   [this] { session_.setHandsOff(!session_.handsOff()); },
                   [this] {
                       for (const Part& part : session_.document().parts)
                           if (part.is_control()) return QString();
                       return tr("there is no control yet; give parts some in Tree");
                   }});
    actions_->add({"night",
                   menu,
                   tr("Day or night colours"),
                   QKeySequence(QStringLiteral("Ctrl+Shift+N")),
                   [this] { look_.setNight(!look_.isNight()); },
                   {}});
}

void MainWindow::addPartActions() {
    const QString menu = tr("Part");
    actions_->add({"putUnder", menu, tr("Put under the last picked"), QKeySequence(Qt::Key_U),
                   [this] { putUnderLast(session_); }, [this] { return putUnderObstacle(session_); }});
    actions_->add({"releaseParts", menu, tr("Release"), QKeySequence(Qt::SHIFT | Qt::Key_U),
                   [this] {
                       session_.run({{"op", "tree.release"}, {"parts", session_.selectedIds()}});
                   },
                   [this] { return nothingPicked(); }});
    actions_->add({"lockParts", menu, tr("Lock or unlock"), QKeySequence(Qt::Key_L),
                   [this] {
                       session_.run(
                           {{"op", "part.lock"},
                            {"parts", session_.selectedIds()},
                            {"locked", !session_.document().parts.find(session_.primary())->locked}});
                   },
                   [this] { return nothingPicked(); }});
    actions_->add({"duplicateParts", menu, tr("Duplicate"), QKeySequence(QStringLiteral("Ctrl+D")),
                   [this] {
                       session_.run({{"op", "part.duplicate"}, {"parts", session_.selectedIds()}});
                   },
                   [this] { return nothingPicked(); }});
    actions_->add(
        {"joinParts", menu, tr("Join into the last picked"), QKeySequence(),
         [this] {
             session_.run({{"op", "part.join"}, {"parts", session_.selectedIds()}});
         },
         [this] { return session_.selection().size() < 2 ? tr("pick at least two parts") : QString(); }});
    actions_->add({"groupParts", menu, tr("Group under a new datum"), QKeySequence(QStringLiteral("Ctrl+G")),
                   [this] {
                       session_.run({{"op", "tree.group"}, {"parts", session_.selectedIds()}});
                   },
                   [this] { return nothingPicked(); }});
    actions_->add({"tidyTree",
                   menu,
                   tr("Tidy the whole tree"),
                   {},
                   [this] {
                       session_.run({{"op", "tree.tidy"}, {"what", "all"}});
                   },
                   {}});
    actions_->add({"removeParts", menu, tr("Remove"), QKeySequence(Qt::Key_Delete),
                   [this] {
                       // Points of a path that are picked go before parts.
                       if (view_->paths().deletePicked()) return;
                       session_.run({{"op", "part.remove"}, {"parts", session_.selectedIds()}});
                   },
                   [this] {
                       return session_.pathInHand() && !session_.pathTool().points.empty() ? QString()
                                                                                           : nothingPicked();
                   }});
    actions_->add(
        {"toRest", menu, tr("Back to rest"), QKeySequence(Qt::Key_0), [this] { session_.toRest(); },
         [this] { return session_.previewed() ? tr("accept or leave the preview first") : QString(); }});
    actions_->add({"moveGauge", menu, tr("Move: take the next rule"), QKeySequence(Qt::Key_M),
                   [this] { view_->gauges().takeNext(false); }, [this] { return gaugeObstacle(false); }});
    actions_->add({"turnGauge", menu, tr("Turn: take the next dial"), QKeySequence(Qt::Key_T),
                   [this] { view_->gauges().takeNext(true); }, [this] { return gaugeObstacle(true); }});
    actions_->add({"frameAbove",
                   menu,
                   tr("Put a frame above"),
                   {},
                   [this] {
                       session_.run({{"op", "tree.frame_above"}, {"parts", session_.selectedIds()}});
                   },
                   [this] { return nothingPicked(); }});
}

QString MainWindow::gaugeObstacle(bool turns) const {
    for (const ChannelGauge& gauge : view_->gauges().gauges())
        if (is_turn(gauge.channel.kind) == turns) return {};
    return turns ? tr("pick a part whose joint turns") : tr("pick a part whose joint shifts");
}

void MainWindow::addKeyActions() {
    const QString menu = tr("Key");
    actions_->add(
        {"play", menu, tr("Play or pause"), QKeySequence(Qt::Key_Space), [this] { player_->toggle(); }, {}});
    actions_->add({"setKey", menu, tr("Key what is picked"), QKeySequence(Qt::Key_K),
                   [this] { setKeyHere(session_); }, [this] { return setKeyObstacle(session_); }});
    actions_->add({"toggleAutoKey",
                   menu,
                   tr("Key every move, or stop that"),
                   QKeySequence(Qt::Key_J),
                   [this] { session_.setAutoKey(!session_.autoKey()); },
                   {}});
    actions_->add({"previousKey",
                   menu,
                   tr("To the previous key"),
                   QKeySequence(Qt::Key_BracketLeft),
                   [this] { stepKey(-1); },
                   {}});
    actions_->add({"nextKey",
                   menu,
                   tr("To the next key"),
                   QKeySequence(Qt::Key_BracketRight),
                   [this] { stepKey(1); },
                   {}});
    actions_->add({"firstFrame",
                   menu,
                   tr("To the first frame"),
                   QKeySequence(QStringLiteral("Ctrl+Left")),
                   [this] { session_.setFrame(session_.clip().first_frame); },
                   {}});
    actions_->add({"lastFrame",
                   menu,
                   tr("To the last frame"),
                   QKeySequence(QStringLiteral("Ctrl+Right")),
                   [this] { session_.setFrame(session_.clip().last_frame); },
                   {}});
    actions_->add({"previousFrame",
                   menu,
                   tr("One frame back"),
                   QKeySequence(Qt::Key_Left),
                   [this] { session_.setFrame(session_.frame() - 1); },
                   {}});
    actions_->add({"nextFrame",
                   menu,
                   tr("One frame on"),
                   QKeySequence(Qt::Key_Right),
                   [this] { session_.setFrame(session_.frame() + 1); },
                   {}});
    actions_->add({"shortcuts",
                   tr("Help"),
                   tr("Shortcuts"),
                   QKeySequence(Qt::Key_F1),
                   [this] { (new ShortcutSheet(*actions_, this))->show(); },
                   {}});
}

/// The nearest key before or after the present frame, of the selection or else of all channels.
void MainWindow::stepKey(int direction) {
    std::optional<double> best;
    for (const Track& track : session_.clip().tracks) {
        if (!session_.selection().empty() && !session_.isSelected(track.channel.part)) continue;
        for (const Key& key : track.keys) {
            const double ahead = direction * (key.frame - session_.frame());
            if (ahead > 1e-9 && (!best || ahead < direction * (*best - session_.frame()))) best = key.frame;
        }
    }
    if (best) session_.setFrame(*best);
}

void MainWindow::openFile(const QString& path) {
    if (is_project_path(path.toStdString())) {
        if (!session_.openProject(path.toStdString())) return;
        if (const auto left = autosave_->leftBehindOf(path.toStdString())) askAbout(*left);
        return;
    }
    session_.setStage(Stage::Intake);
    static_cast<IntakePanel*>(panelOf(Stage::Intake))->previewFile(path);
}

void MainWindow::importAsked() {
    const QString path = questions_.open_file(this, tr("Bring in a model"), modelFilter());
    if (!path.isEmpty()) openFile(path);
}

bool MainWindow::save(bool elsewhere) {
    QString path = QString::fromStdString(session_.projectPath().string());
    if (elsewhere || path.isEmpty()) {
        path = questions_.save_file(this, tr("Save project"),
                                    path.isEmpty() ? QStringLiteral("project.pivrak.glb") : path,
                                    project_filter);
        if (path.isEmpty()) return false;
        if (!path.endsWith(QStringLiteral(".pivrak.glb")))
            path = path.remove(QStringLiteral(".glb")) + QStringLiteral(".pivrak.glb");
    }
    return session_.saveProject(path.toStdString());
}

/// Whether the present project may be left: saved, unchanged, or given up on purpose.
bool MainWindow::mayLeave() {
    if (!session_.isModified()) return true;
    switch (questions_.unsaved(this)) {
        case Questions::Unsaved::Save:
            return save(false);
        case Questions::Unsaved::Discard:
            return true;
        case Questions::Unsaved::Stay:
            return false;
    }
    return false;
}

void MainWindow::retitle() {
    const QString name = session_.projectName() + (session_.isModified() ? QStringLiteral(" •") : QString());
    title_->setText(title_->fontMetrics().elidedText(name, Qt::ElideMiddle, title_->width()));
    setWindowTitle(tr("%1 · Pivrak").arg(name));
}

void MainWindow::closeEvent(QCloseEvent* event) {
    if (!mayLeave()) return event->ignore();
    autosave_->finish();
    event->accept();
}

void MainWindow::askAbout(const Autosave::Left& left) {
    if (!questions_.left_work) return;
    switch (questions_.left_work(this, Autosave::words(left))) {
        case Questions::LeftWork::BringBack:
            return autosave_->bringBack(left);
        case Questions::LeftWork::ThrowAway:
            return autosave_->throwAway(left);
        case Questions::LeftWork::Later:
            return;
    }
}

void MainWindow::offerLeftWork() {
    // One is brought back into this window; others are asked about at the next start.
    if (const auto left = autosave_->leftBehind(); !left.empty()) askAbout(left.front());
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event) {
    const QString path = event->mimeData()->urls().value(0).toLocalFile();
    if (!path.isEmpty() && (!is_project_path(path.toStdString()) || mayLeave())) openFile(path);
}

/// Left and right step frames, but not where a list, a tree or a choice has the keyboard.
bool MainWindow::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride) {
        const auto* key = static_cast<QKeyEvent*>(event);
        const bool plain_arrow =
            key->modifiers() == Qt::NoModifier && (key->key() == Qt::Key_Left || key->key() == Qt::Key_Right);
        const bool walks = qobject_cast<QAbstractItemView*>(watched) || qobject_cast<QComboBox*>(watched) ||
                           qobject_cast<QAbstractSlider*>(watched) || qobject_cast<QTabBar*>(watched);
        if (plain_arrow && walks) {
            event->accept();
            return true;
        }
    }
    return QMainWindow::eventFilter(watched, event);
}

void MainWindow::keyPressEvent(QKeyEvent* event) {
    if (session_.previewed() && (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter))
        return session_.acceptPreview();
    if (session_.previewed() && event->key() == Qt::Key_Escape) return session_.leavePreview();
    if (view_->paths().isDrawing() && drawingKey(event->key())) return;
    QMainWindow::keyPressEvent(event);
}

/// Keys while a path is drawn. Answers whether it was one of them.
bool MainWindow::drawingKey(int key) {
    PathTool tool = session_.pathTool();
    if (key == Qt::Key_Return || key == Qt::Key_Enter)
        view_->paths().finish(false);
    else if (key == Qt::Key_Escape)
        view_->paths().leave();
    else if (key == Qt::Key_Backspace && !tool.drawn.empty()) {
        tool.drawn.pop_back();
        session_.setPathTool(tool);
    } else
        return false;
    return true;
}

}  // namespace pivrak
