#pragma once

#include <QStackedWidget>
#include <array>

#include "app/session/exercise_results.h"
#include "app/session/laid_prints.h"
#include "app/session/pivot_checks.h"
#include "app/session/slip_results.h"
#include "app/shell/questions.h"
#include "app/shell/theme.h"
#include "app/view/camera.h"

namespace pivrak {

class CurveView;
class DriveMapView;
class ExerciseTable;
class PieceTable;
class PivotPlots;
class SlipPlot;

/// The panels of the seven stages, and what belongs below the view in each. A panel is made when it is first
/// shown: a window opens sooner without the other six.
class StagePanels : public QStackedWidget {
    Q_OBJECT

public:
    StagePanels(Session& session, LaidPrints& prints, Look& look, const Questions& questions);

    QWidget* panelOf(Stage stage);
    /// Where the view stands, for pictures of it.
    void setView(std::function<Camera()> view) { view_ = std::move(view); }
    /// Goes to a stage, and to a tab of its panel where it has tabs.
    void showCard(Stage stage, const QString& tab);
    /// Shown only while there is something to show.
    QStackedWidget* lower() { return lower_; }

signals:
    /// A model is asked for from a file.
    void modelAsked();

private:
    QWidget* makePanel(Stage stage);
    QWidget* makeRigPanel();
    void exportPath(const QString& file);
    void showStage();
    void showLower();
    void showInRig(QWidget* told, bool has_something, bool is_new);

    Session& session_;
    LaidPrints& prints_;
    Look& look_;
    const Questions& questions_;
    PivotChecks& pivot_checks_;
    SlipResults& slips_;
    ExerciseResults& exercised_;
    std::array<QWidget*, stage_count> made_{};
    std::function<Camera()> view_;
    QStackedWidget* lower_;
    PieceTable* pieces_ = nullptr;
    PivotPlots* pivot_plots_ = nullptr;
    DriveMapView* drive_map_ = nullptr;
    CurveView* curves_ = nullptr;
    SlipPlot* slip_plot_ = nullptr;
    ExerciseTable* exercise_table_ = nullptr;
    QWidget* rig_shows_ = nullptr;  ///< what was measured last there
};

}  // namespace pivrak
