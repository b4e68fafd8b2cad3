#pragma once

#include <QObject>
#include <QString>
#include <filesystem>
#include <functional>
#include <optional>

#include "app/session/background.h"
#include "core/checks/findings.h"
#include "core/io/deliver.h"
#include "core/motion/evaluator.h"
#include "core/operations/history.h"
#include "core/operations/registry.h"

namespace pivrak {

/// A large step shown before it is taken: the document as it would become, and what a person should know.
struct StepPreview {
    nlohmann::json step;
    QString title;
    Outcome outcome;

    /// A model that comes in, which is shown in its own colours; all else that is made new is coloured apart.
    bool is_import() const { return step.value("op", "") == "model.import"; }
};

/// The state of one window's work, and the only place that changes it. Widgets show it and ask it to act;
/// each signal is sent only when something did change.
class Session : public QObject {
    Q_OBJECT

public:
    explicit Session(QObject* parent = nullptr);

    const Registry& registry() const { return registry_; }
    const Document& document() const { return history_.document(); }
    const History& history() const { return history_; }
    /// What the view shows: the previewed step's document while there is one.
    const Document& shownDocument() const { return preview_ ? preview_->outcome.document : document(); }

    const std::filesystem::path& projectPath() const { return project_path_; }
    QString projectName() const;
    bool isModified() const { return !history_.is_saved(); }

    // Selection, the part picked last at the end.
    const std::vector<PartId>& selection() const { return selection_; }
    PartId primary() const { return selection_.empty() ? PartId{} : selection_.back(); }
    bool isSelected(PartId part) const;
    /// The selection as an operation's `parts`.
    nlohmann::json selectedIds() const;
    void select(std::vector<PartId> parts);

    Stage stage() const { return stage_; }
    void setStage(Stage stage);

    // Time.
    const Clip& clip() const { return clip_or_first(shownDocument()); }
    double frame() const { return frame_; }
    void setFrame(double frame);
    bool autoKey() const { return auto_key_; }
    void setAutoKey(bool on);

    /// The pose at the present frame, with the turn that a hand holds at the moment, if any.
    const Pose& pose() const { return pose_; }
    const Evaluator& evaluator() const { return *evaluator_; }
    Frame worldFromPart(PartId part) const;
    /// Present turn of a hinge [rad].
    double turnOf(PartId part) const;
    /// Whether a hand may turn it, and if not, why.
    Result<void> mayTurn(PartId part) const;
    /// Shows a turn without making an edit, and ends that with an edit: a key where the part is keyed or auto
    /// key is on, otherwise its resting turn.
    void holdTurn(PartId part, double turn_rad);
    void releaseTurn();
    /// Sets a turn at once, as typing does.
    bool setTurn(PartId part, double turn_rad);

    /// Runs an operation now; for those that take no time. A refusal is told and answered false.
    bool run(const nlohmann::json& step);
    /// Runs an operation off the interface thread, with progress, and makes it an edit at the end.
    void runInBackground(const nlohmann::json& step);
    /// The same, but shows the result first. A refusal ends the preview.
    void preview(const nlohmann::json& step);
    const StepPreview* previewed() const { return preview_ ? &*preview_ : nullptr; }
    void acceptPreview();
    void leavePreview();

    void undo();
    void redo();

    void newProject();
    bool openProject(const std::filesystem::path& path);
    bool saveProject(const std::filesystem::path& path);
    void importModel(const nlohmann::json& step);
    void deliverTo(const std::filesystem::path& path);
    const std::optional<Delivery>& lastDelivery() const { return last_delivery_; }

    const std::vector<Finding>& findings() const { return findings_; }
    /// Waits until findings belong to the present document; for tests and pictures.
    void settle();

    Background& background() { return background_; }

signals:
    void documentChanged();
    void selectionChanged();
    void stageChanged();
    void poseChanged();
    void previewChanged();
    void findingsChanged();
    void autoKeyChanged();
    void projectChanged();
    void delivered();
    /// Something to be told: done, or refused.
    void told(const QString& text, bool refused);
    /// A model or project came in; the view should look at all of it.
    void arrived();

private:
    void push(const nlohmann::json& step, Outcome outcome);
    void refuse(const Error& error);
    void documentReplaced();
    void compile();
    void updatePose();
    void startFindings();
    bool start(Document document, std::filesystem::path path);
    QString titleOf(const nlohmann::json& step) const;

    Registry registry_ = make_registry();
    History history_{empty_document()};
    std::filesystem::path project_path_;
    std::vector<PartId> selection_;
    Stage stage_ = Stage::Intake;
    double frame_ = 0;
    bool auto_key_ = false;
    std::optional<Evaluator> evaluator_;
    Pose pose_;
    std::optional<std::pair<PartId, double>> held_;
    std::optional<StepPreview> preview_;
    std::optional<Delivery> last_delivery_;
    std::vector<Finding> findings_;
    Background background_;
    Background checker_;
};

}  // namespace pivrak
