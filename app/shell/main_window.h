#pragma once

#include <QLabel>
#include <QMainWindow>
#include <QPushButton>
#include <QStackedWidget>
#include <array>
#include <functional>

#include "app/parts/parts_panel.h"
#include "app/session/autosave.h"
#include "app/session/laid_prints.h"
#include "app/session/pivot_checks.h"
#include "app/session/session.h"
#include "app/shell/actions.h"
#include "app/shell/gauge_bar.h"
#include "app/shell/stage_rail.h"
#include "app/shell/theme.h"
#include "app/timeline/time_strip.h"
#include "app/view/viewport.h"

class QSplitter;

namespace pivrak {

class CompassDial;
class IntakePanel;
class PieceTable;
class PivotPlots;
class DriveMapView;
class SlipPlot;
class SlipResults;
class ActionFinder;

/// The questions a window asks a person, replaceable so that a test can answer. An empty answer means the
/// person changed their mind.
struct Questions {
    std::function<QString(QWidget*, const QString& title, const QString& filter)> open_file;
    std::function<QString(QWidget*, const QString& title, const QString& proposed, const QString& filter)>
        save_file;
    enum class Unsaved { Save, Discard, Stay };
    std::function<Unsaved(QWidget*)> unsaved;
    enum class LeftWork { BringBack, ThrowAway, Later };
    /// Of work that a crash left behind, in words; without an answer it stays for later.
    std::function<LeftWork(QWidget*, const QString& words)> left_work = {};
    static Questions asked_in_dialogs();
};

/// The window: only puts the pieces together and names the actions.
class MainWindow : public QMainWindow {
    Q_OBJECT

public:
    MainWindow(Session& session, Look& look, Questions questions = Questions::asked_in_dialogs(),
               QString examples_folder = {});

    const LaidPrints& prints() const { return *prints_; }
    Viewport& view() { return *view_; }
    PartsPanel& parts() { return *parts_; }
    Actions& actions() { return *actions_; }
    /// Asks about new projects that a crash left behind.
    void offerLeftWork();
    Autosave& autosave() { return *autosave_; }
    /// Opens a project, or previews a model, whichever the file is.
    void openFile(const QString& path);

protected:
    void closeEvent(QCloseEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void buildPanels();
    void buildLayout();
    void buildMenus();
    void addFileActions();
    void addEditActions();
    void addViewActions();
    void addPartActions();
    QString gaugeObstacle(bool turns) const;
    void addKeyActions();
    QWidget* makeViewArea();
    QWidget* makeCorner();
    void retitle();
    void importAsked();
    bool save(bool elsewhere);
    bool mayLeave();
    void askAbout(const Autosave::Left& left);
    void stepKey(int direction);
    QString nothingPicked() const;

    Session& session_;
    Look& look_;
    Questions questions_;
    QString examples_;
    Actions* actions_;
    ActionFinder* finder_;
    Player* player_;
    PivotChecks* pivot_checks_;
    SlipResults* slips_;
    LaidPrints* prints_;
    Autosave* autosave_;
    StageRail* rail_;
    PartsPanel* parts_;
    Viewport* view_;
    /// The panel of a stage, made when it is first shown: a window opens sooner without the other six.
    QWidget* makeRigPanel();
    void exportPath(const QString& file);
    bool drawingKey(int key);
    QWidget* panelOf(Stage stage);
    QWidget* makePanel(Stage stage);
    void showStage();
    /// What belongs below the view in this stage, where there is something to show.
    void showLower();

    QStackedWidget* panels_;
    std::array<QWidget*, stage_count> made_panels_{};
    QStackedWidget* lower_;
    PieceTable* pieces_ = nullptr;
    PivotPlots* pivot_plots_ = nullptr;
    DriveMapView* drive_map_ = nullptr;
    SlipPlot* slip_plot_ = nullptr;
    TimeStrip* time_;
    GaugeBar* gauge_bar_;
    QLabel* title_;
};

}  // namespace pivrak
