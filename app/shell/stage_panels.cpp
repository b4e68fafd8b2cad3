#include "app/shell/stage_panels.h"

#include "app/curves/curve_view.h"
#include "app/drive_map/drive_map_view.h"
#include "app/shell/file_filters.h"
#include "app/stages/handover/handover_panel.h"
#include "app/stages/intake/intake_panel.h"
#include "app/stages/intake/swap_card.h"
#include "app/stages/keys/keys_panel.h"
#include "app/stages/kit/piece_table.h"
#include "app/stages/pivots/pivot_plots.h"
#include "app/stages/pivots/pivots_panel.h"
#include "app/stages/rig/exercise_table.h"
#include "app/stages/rig/rig_panel.h"
#include "app/stages/rig/slip_plot.h"
#include "app/stages/split/split_panel.h"
#include "app/stages/tree/tree_panel.h"
#include "core/io/paths/path_files.h"
#include "core/operations/travel/path_access.h"

namespace pivrak {

StagePanels::StagePanels(Session& session, LaidPrints& prints, Look& look, const Questions& questions)
    : session_(session),
      prints_(prints),
      look_(look),
      questions_(questions),
      pivot_checks_(*new PivotChecks(session, this)),
      slips_(*new SlipResults(session, this)),
      exercised_(*new ExerciseResults(session, this)),
      lower_(new QStackedWidget) {
    lower_->hide();
    connect(&session_, &Session::stageChanged, this, &StagePanels::showStage);
    showStage();
}

QWidget* StagePanels::makePanel(Stage stage) {
    switch (stage) {
        case Stage::Intake: {
            auto* intake = new IntakePanel(session_);
            connect(intake, &IntakePanel::fileAsked, this, &StagePanels::modelAsked);
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
            return new PivotsPanel(session_, pivot_checks_);
        case Stage::Tree:
            return new TreePanel(session_);
        case Stage::Rig:
            return makeRigPanel();
        case Stage::Keys:
            return new KeysPanel(session_, look_);
        case Stage::Handover: {
            auto* handover = new HandoverPanel(session_, look_);
            handover->filmCard().setView(view_);
            connect(&handover->filmCard(), &FilmCard::pathAsked, this, [this](QLineEdit* into) {
                const QString path = questions_.save_file(this, tr("Make pictures or a movie as"),
                                                          session_.projectName() + QStringLiteral(".png"),
                                                          tr("Pictures (*.png);;Movies (*.webm *.mp4)"));
                if (!path.isEmpty()) into->setText(path);
            });
            connect(handover, &HandoverPanel::pathAsked, this, [this](QLineEdit* into) {
                const QString path = questions_.save_file(
                    this, tr("Deliver to"), session_.projectName() + deliveryEnding(), deliveryFilter());
                if (!path.isEmpty()) into->setText(path);
            });
            return handover;
        }
    }
    return nullptr;
}

QWidget* StagePanels::makeRigPanel() {
    auto* rig = new RigPanel(session_, slips_, exercised_, prints_, look_);
    connect(&rig->exerciseCard(), &ExerciseCard::saveAsked, this, [this] {
        const QString file = questions_.save_file(this, tr("Save the report"),
                                                  session_.projectName() + QStringLiteral(" exercise.html"),
                                                  tr("Page (*.html);;Table (*.csv)"));
        if (!file.isEmpty()) exercised_.save(file);
    });
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

void StagePanels::exportPath(const QString& file) {
    const Path* path = session_.pathInHand();
    if (!path) return;
    const auto written = write_path(session_.document(), *path, file.toStdString());
    emit session_.told(
        written ? tr("'%1' written").arg(file) : QString::fromStdString(written.error().message), !written);
}

QWidget* StagePanels::panelOf(Stage stage) {
    QWidget*& made = made_[static_cast<std::size_t>(stage)];
    if (!made) {
        made = makePanel(stage);
        addWidget(made);
    }
    return made;
}

void StagePanels::showCard(Stage stage, const QString& tab) {
    session_.setStage(stage);
    if (auto* panel = qobject_cast<StagePanel*>(panelOf(stage)); panel && !tab.isEmpty()) panel->showTab(tab);
}

void StagePanels::showStage() {
    setCurrentWidget(panelOf(session_.stage()));
    if (session_.stage() == Stage::Split && !pieces_) {
        pieces_ = new PieceTable(session_);
        lower_->addWidget(pieces_);
    }
    if (session_.stage() == Stage::Pivots && !pivot_plots_) {
        pivot_plots_ = new PivotPlots(session_, pivot_checks_, look_);
        lower_->addWidget(pivot_plots_);
        connect(pivot_plots_, &PivotPlots::retold, this, &StagePanels::showLower);
    }
    if (session_.stage() == Stage::Rig && !drive_map_) {
        drive_map_ = new DriveMapView(session_, look_, questions_);
        lower_->addWidget(drive_map_);
        connect(drive_map_, &DriveMapView::retold, this, &StagePanels::showLower);
    }
    if (session_.stage() == Stage::Keys && !curves_) {
        curves_ = new CurveView(session_, look_);
        lower_->addWidget(curves_);
    }
    if (session_.stage() == Stage::Rig && !slip_plot_) {
        slip_plot_ = new SlipPlot(session_, slips_, look_);
        lower_->addWidget(slip_plot_);
        connect(slip_plot_, &SlipPlot::retold, this,
                [this] { showInRig(slip_plot_, slips_.check().has_value(), !slips_.isStale()); });
    }
    if (session_.stage() == Stage::Rig && !exercise_table_) {
        exercise_table_ = new ExerciseTable(exercised_);
        lower_->addWidget(exercise_table_);
        connect(exercise_table_, &ExerciseTable::retold, this, [this] {
            showInRig(exercise_table_, exercised_.report().has_value(), !exercised_.isStale());
        });
    }
    showLower();
}

/// What was measured last stands there until it is gone.
void StagePanels::showInRig(QWidget* told, bool has_something, bool is_new) {
    if (has_something && is_new)
        rig_shows_ = told;
    else if (!has_something && rig_shows_ == told)
        rig_shows_ = nullptr;
    showLower();
}

void StagePanels::showLower() {
    QWidget* below = nullptr;
    if (session_.stage() == Stage::Split) below = pieces_;
    if (session_.stage() == Stage::Pivots && pivot_plots_ && pivot_plots_->hasSomething())
        below = pivot_plots_;
    if (session_.stage() == Stage::Rig && drive_map_ && drive_map_->hasSomething()) below = drive_map_;
    if (session_.stage() == Stage::Rig && rig_shows_) below = rig_shows_;
    if (session_.stage() == Stage::Keys) below = curves_;
    if (below) lower_->setCurrentWidget(below);
    lower_->setVisible(below != nullptr);
}

}  // namespace pivrak
