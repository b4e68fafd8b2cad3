#include "app/shell/main_window.h"

#include <QCloseEvent>
#include <QDir>
#include <QHBoxLayout>
#include <QMenuBar>
#include <QMimeData>
#include <QSplitter>
#include <QStandardPaths>
#include <QVBoxLayout>

#include "app/shell/action_finder.h"
#include "app/shell/file_filters.h"
#include "app/shell/recent_projects.h"
#include "app/shell/stage_panels.h"
#include "app/shell/window_actions.h"
#include "app/stages/intake/intake_panel.h"
#include "app/view/view_corner.h"
#include "core/io/project/project_file.h"

namespace pivrak {
namespace {
const QString project_filter = QStringLiteral("Pivrak project (*.pivrak.glb)");

}  // namespace

MainWindow::MainWindow(Session& session, Look& look, Questions questions, QString examples_folder)
    : session_(session),
      look_(look),
      questions_(std::move(questions)),
      examples_(std::move(examples_folder)),
      actions_(new Actions(*this)),
      player_(new Player(session, this)),
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
    auto* offered = new WindowActions(*actions_, session_, *view_, *player_, look_, questions_, this);
    offered->add();
    buildMenus();
    finder_ = new ActionFinder(
        *actions_, session_.registry(), [this] { return finder_places(session_, *panels_, *this); }, this);
    connect(finder_, &ActionFinder::cardAsked, panels_, &StagePanels::showCard);
    connect(offered, &WindowActions::cardAsked, panels_, &StagePanels::showCard);
    connect(offered, &WindowActions::finderAsked, this, [this] { finder_->open(); });
    const auto update_actions = [this] { actions_->update(); };
    for (auto signal : {&Session::changed, &Session::projectChanged, &Session::picksChanged,
                        &Session::pickSettingsChanged, &Session::hiddenFacesChanged})
        connect(&session_, signal, this, update_actions);
    connect(&session_, &Session::documentChanged, this, &MainWindow::retitle);
    connect(&session_, &Session::projectChanged, this, &MainWindow::retitle);
    // Keys go to the view, not into a field that the panel opens with.
    connect(&session_, &Session::arrived, view_, [this] { view_->setFocus(); });
    retitle();
    actions_->update();
}

void MainWindow::buildPanels() {
    rail_ = new StageRail(session_, look_);
    parts_ = new PartsPanel(session_, look_);
    view_ = new Viewport(session_, *prints_, look_);
    time_ = new TimeStrip(session_, look_, *player_);
    gauge_bar_ = new GaugeBar(session_, look_);
    panels_ = new StagePanels(session_, *prints_, look_, questions_);
    panels_->setView([this] { return view_->camera(); });
    connect(panels_, &StagePanels::modelAsked, this, &MainWindow::importAsked);
    connect(view_, &Viewport::hint, gauge_bar_, &GaugeBar::hint);
    connect(time_, &TimeStrip::setKeyAsked, this,
            [this] { actions_->find(QStringLiteral("setKey"))->action->trigger(); });
}

QWidget* MainWindow::makeViewArea() {
    auto* middle = new QSplitter(Qt::Horizontal);
    middle->setObjectName(QStringLiteral("middle"));
    parts_->setMinimumWidth(150);
    panels_->setMinimumWidth(280);
    middle->addWidget(parts_);
    auto* centre = new QSplitter(Qt::Vertical);
    centre->addWidget(view_);
    centre->addWidget(panels_->lower());
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
    title_ = new ShortenedLine(Qt::ElideMiddle);
    title_->setObjectName(QStringLiteral("projectTitle"));
    title_->setProperty("role", "soft");
    // The corner of a menu bar does not follow its contents.
    title_->setFixedWidth(220);
    title_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    auto* find = new QPushButton(tr("Find anything…   Ctrl+Space"));
    find->setObjectName(QStringLiteral("findAction"));
    find->setToolTip(tr("Finds actions, cards, buttons, parts, sets, clips and findings, and goes there"));
    find->setFocusPolicy(Qt::TabFocus);
    find->setMinimumWidth(210);
    auto* night = new QPushButton(tr("Night"));
    night->setObjectName(QStringLiteral("nightTheme"));
    night->setToolTip(tr("Dark paper for dark rooms, and back"));
    night->setCheckable(true);
    night->setFocusPolicy(Qt::TabFocus);
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
        if (entry.spec.id == QLatin1String("openProject"))
            menu->addMenu(new RecentProjects(
                session_,
                [this](const QString& path) {
                    if (mayLeave()) openFile(path);
                },
                menu));
    }
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
    actions_->add({"addProject",
                   menu,
                   tr("Bring in a project…"),
                   {},
                   [this] {
                       const QString path =
                           questions_.open_file(this, tr("Bring in a project"), project_filter);
                       if (!path.isEmpty())
                           session_.runInBackground({{"op", "project.add"}, {"file", path.toStdString()}});
                   },
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

void MainWindow::openFile(const QString& path, std::optional<Vec3> at) {
    if (is_project_path(path.toStdString())) {
        if (!session_.openProject(path.toStdString())) return;
        if (const auto left = autosave_->leftBehindOf(path.toStdString())) askAbout(*left);
        return;
    }
    session_.setStage(Stage::Intake);
    static_cast<IntakePanel*>(panels_->panelOf(Stage::Intake))->previewFile(path, at);
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
    title_->setLine(name);
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

/// Beside what is there already, a model is set down where it is dropped in the view.
std::optional<Vec3> MainWindow::placeOfDrop(const QPointF& at) {
    const QPointF in_view = view_->mapFrom(this, at);
    if (session_.document().shapes.empty() || !view_->rect().contains(in_view.toPoint())) return std::nullopt;
    return view_->placeUnder(in_view);
}

void MainWindow::dropEvent(QDropEvent* event) {
    QStringList paths;
    for (const QUrl& url : event->mimeData()->urls())
        if (url.isLocalFile()) paths << url.toLocalFile();
    if (paths.isEmpty()) return;
    if (paths.size() == 1) {
        if (!is_project_path(paths.front().toStdString()) || mayLeave())
            openFile(paths.front(), placeOfDrop(event->position()));
        return;
    }
    // Several are brought in one after the other, each a step of its own.
    session_.setStage(Stage::Intake);
    for (const QString& path : paths)
        session_.runInBackground(
            {{"op", is_project_path(path.toStdString()) ? "project.add" : "model.import"},
             {"file", path.toStdString()}});
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
