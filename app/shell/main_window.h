#pragma once

#include <QLabel>
#include <QMainWindow>
#include <QPushButton>

#include "app/parts/parts_panel.h"
#include "app/session/autosave.h"
#include "app/session/laid_prints.h"
#include "app/session/session.h"
#include "app/shell/actions.h"
#include "app/shell/gauge_bar.h"
#include "app/shell/questions.h"
#include "app/shell/stage_rail.h"
#include "app/shell/theme.h"
#include "app/stages/kit/shortened_line.h"
#include "app/timeline/time_strip.h"
#include "app/view/viewport.h"

namespace pivrak {

class ActionFinder;
class StagePanels;

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
    void openFile(const QString& path, std::optional<Vec3> at = std::nullopt);

protected:
    void closeEvent(QCloseEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    std::optional<Vec3> placeOfDrop(const QPointF& at);
    void keyPressEvent(QKeyEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void buildPanels();
    void buildLayout();
    void buildMenus();
    void addFileActions();
    QWidget* makeViewArea();
    QWidget* makeCorner();
    void retitle();
    void importAsked();
    bool save(bool elsewhere);
    bool mayLeave();
    void askAbout(const Autosave::Left& left);
    bool drawingKey(int key);

    Session& session_;
    Look& look_;
    Questions questions_;
    QString examples_;
    Actions* actions_;
    ActionFinder* finder_;
    Player* player_;
    LaidPrints* prints_;
    Autosave* autosave_;
    StageRail* rail_;
    PartsPanel* parts_;
    Viewport* view_;
    StagePanels* panels_;
    TimeStrip* time_;
    GaugeBar* gauge_bar_;
    ShortenedLine* title_;
};

}  // namespace pivrak
