#pragma once

#include <QObject>
#include <QString>
#include <QTimer>
#include <filesystem>
#include <functional>
#include <optional>

#include "app/session/background.h"
#include "app/session/element_picks.h"
#include "app/session/hidden_faces.h"
#include "app/session/key_picks.h"
#include "app/session/path_tool.h"
#include "app/session/posing.h"
#include "app/session/seeing.h"
#include "app/session/selection.h"
#include "app/session/tool_plane.h"
#include "core/checks/findings.h"
#include "core/geometry/mesh/cutting.h"
#include "core/io/delivery/deliver.h"
#include "core/operations/history.h"
#include "core/operations/journal.h"
#include "core/operations/registry.h"
#include "core/operations/step_series.h"

namespace pivrak {

/// A large step shown before it is taken: the document as it would become, and what a person should know.
struct StepPreview {
    nlohmann::json step;
    QString title;
    Outcome outcome;
    std::uint64_t revision = 0;  ///< of the document it was made from

    /// Pieces that come of breaking apart are coloured apart; everything else keeps its own colours.
    bool colours_pieces() const {
        const std::string op = step.value("op", "");
        return op.starts_with("split.") || op == "part.find_repeats";
    }
    /// A model that comes in, or is stood up, is looked at whole.
    bool shows_whole() const {
        const std::string op = step.value("op", "");
        return op == "model.import" || op == "model.stand";
    }
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
    const std::vector<PartId>& selection() const { return selection_.parts(); }
    PartId primary() const { return selection_.primary(); }
    bool isSelected(PartId part) const { return selection_.contains(part); }
    /// The selection as an operation's `parts`.
    nlohmann::json selectedIds() const;
    /// All picked parts but the last: what is done to them is done by it.
    nlohmann::json idsButLast() const {
        nlohmann::json ids = selectedIds();
        if (!ids.empty()) ids.erase(ids.size() - 1);
        return ids;
    }
    void select(std::vector<PartId> parts);

    // Faces, edges and points picked inside parts.
    const PickSettings& pickSettings() const { return pick_settings_; }
    void setPickSettings(const PickSettings& settings);
    const ElementPicks& picks() const { return picks_; }
    void setPicks(ElementPicks picks);

    /// Grows what is picked, faces or parts; why it cannot, or nothing.
    void grow(Growth growth);
    QString whyNotGrown(Growth growth) const;
    /// Hides picked faces in the view, or shows and hides the picked parts; or hides all others.
    void setPickedShown(bool shown);
    void showPickedOnly();
    void showAll();
    bool hidesAnything() const;
    /// Why nothing can be hidden; nothing when it can.
    QString whyNothingToHide() const;
    const HiddenFaces& hiddenFaces() const { return hidden_faces_; }

    /// A plane being placed in the view, for cutting.
    const std::optional<ToolPlane>& toolPlane() const { return tool_plane_; }
    void setToolPlane(std::optional<ToolPlane> plane);

    // Paths.
    const PathTool& pathTool() const { return path_tool_; }
    void setPathTool(PathTool tool);
    /// The path in hand; null when there is none.
    const Path* pathInHand() const { return shownDocument().paths.find(path_tool_.path); }
    /// A path measured as it stands in the shown document; null when it cannot be.
    std::shared_ptr<const DrapedPath> measuredPath(const Path& path) const { return posing_.path(path); }

    Stage stage() const { return stage_; }
    void setStage(Stage stage);

    // Time.
    /// Keys picked in curves and lanes.
    KeyPicks& keyPicks() { return key_picks_; }
    const KeyPicks& keyPicks() const { return key_picks_; }
    const Clip& clip() const { return clip_or_first(shownDocument(), clip_); }
    void setClip(ClipId clip);
    double frame() const { return posing_.frame(); }
    void setFrame(double frame);
    bool autoKey() const { return auto_key_; }
    void setAutoKey(bool on);

    /// The pose at the present frame, with the channel that a hand holds at the moment, if any.
    const Pose& pose() const { return posing_.pose(); }
    const Evaluator& evaluator() const { return posing_.evaluator(); }
    Frame worldFromPart(PartId part) const { return posing_.worldFromPart(part); }
    /// Its shape as it stands; null without one.
    std::shared_ptr<const Mesh> meshOf(PartId part) const { return posing_.meshOf(part); }
    /// The same without what is hidden of it, and which faces those are that are left; null when all are.
    std::shared_ptr<const Mesh> shownMeshOf(PartId part) const;
    const HiddenFaces::Rest* restOf(PartId part) const;
    /// Who moves what in the shown document.
    const Drivers& drivers() const { return posing_.drivers(); }
    /// Present turn of a hinge [rad].
    double turnOf(PartId part) const { return valueOf({part, ChannelKind::Turn}); }
    /// Present value of a channel [rad or m]; nothing when the part's joint has none such.
    double valueOf(ChannelRef channel) const { return posing_.valueOf(channel); }
    /// Sets a channel as typed, keyed where it is keyed. A refusal is told and answered false.
    bool setChannel(ChannelRef channel, const std::string& text);
    /// Whether a hand may move a channel, and if not, why.
    Result<void> mayMove(ChannelRef channel) const;
    /// Shows a value [rad or m] without making an edit, and ends that with an edit: a key where the channel
    /// is keyed or every move is to be, otherwise its resting value.
    void hold(ChannelRef channel, double value);
    void release();
    /// Shows the present frame with some channels elsewhere, or how hands have set everything, without keys;
    /// until the next frame or edit. Changes nothing.
    void show(std::vector<std::pair<ChannelRef, double>> values, bool with_keys = true);
    bool isShowing() const { return posing_.isShowing(); }
    /// Whether gauges in the view move the picked parts at rest, not their joints.
    bool isPlacing() const { return placing_; }
    void setPlacing(bool on);
    /// From the world at rest to where the carrier of a part takes it at the present frame.
    Frame carriedAtRest(PartId part) const;
    /// Shows the picked parts, with all they carry, moved in the world at rest by so much. Changes nothing.
    void holdPlaced(const Frame& moved);
    /// Lets go of what is held or shown; parts are where they were.
    void dropHeld();
    /// Sets a value at once, as typing does.
    bool setValue(ChannelRef channel, double value);
    /// All free channels of the picked parts, or of all, to rest; keyed ones get a key at the present frame.
    void toRest();

    const Seeing& seeing() const { return seeing_; }
    void setSeeing(Seeing seeing);

    /// Hands off: only controls can be picked, so that nobody moves the rig's inside by mistake.
    bool handsOff() const { return hands_off_; }
    void setHandsOff(bool on);
    /// Whether a part can be picked as things stand.
    bool isPickable(const Part& part) const;

    /// Does what a finding offers, with a preview first.
    void applyFix(const Finding& finding);

    /// Runs an operation now; for those that take no time. A refusal is told and answered false.
    bool run(const nlohmann::json& step);
    /// Runs an operation off the interface thread, with progress, and makes it an edit at the end. Edits made
    /// meanwhile stay: the step is then done again on the document as it is, or refused in words.
    void runInBackground(const nlohmann::json& step);
    /// The same, but shows the result first. A refusal ends the preview.
    void preview(const nlohmann::json& step);
    const StepPreview* previewed() const { return preview_ ? &*preview_ : nullptr; }
    void acceptPreview();
    void leavePreview();

    void undo();
    void redo();
    /// To any state of the history, undone ones too.
    void goToState(std::size_t state);
    /// Some steps of the history in a row, as they can be taken again; by the number of the state that each
    /// made.
    Result<StepSeries> stepsTaken(std::size_t first, std::size_t last) const;
    /// Takes them again on what is picked: all of them, or none and a refusal.
    bool repeatSteps(std::size_t first, std::size_t last);

    /// Does the edits of a journal again that a crash left behind, on what they were made on, and goes on
    /// from there; `done(missing)` is called when that is the project: missing tells what could not be done
    /// again.
    void bringBack(const std::filesystem::path& journal, std::function<void(const QString&)> done);
    /// What the project's file was when it was opened or saved.
    const Fingerprint& projectFile() const { return project_file_; }

    void newProject();
    /// A copy of a document, without a file.
    void startWith(const Document& document) { start(document, {}); }
    bool openProject(const std::filesystem::path& path);
    bool saveProject(const std::filesystem::path& path);
    void importModel(const nlohmann::json& step);
    void deliverTo(const std::filesystem::path& path, const DeliveryOptions& options = {});
    const std::optional<Delivery>& lastDelivery() const { return last_delivery_; }

    const std::vector<Finding>& findings() const { return findings_; }
    /// Waits until findings belong to the present document; for tests and pictures.
    void settle();

    /// Long work: edits one after the other, deliveries and measuring side by side with them. Each kind has
    /// its own progress and can be cancelled alone.
    Background& edits() { return edits_; }
    Background& deliveries() { return deliveries_; }
    Background& measuring() { return measuring_; }
    /// Steps that cards try, to tell what they would do; they show no progress.
    Background& trials() { return trials_; }
    /// Grows with every change of the document.
    std::uint64_t revision() const { return revision_; }

signals:
    /// Once at the end of whatever changed document, selection or preview, however much of it.
    void changed();
    void documentChanged();
    void selectionChanged();
    void stageChanged();
    void poseChanged();
    void picksChanged();
    void hiddenFacesChanged();
    void pickSettingsChanged();
    void toolPlaneChanged();
    void pathToolChanged();
    void previewChanged();
    void findingsChanged();
    void autoKeyChanged();
    void placingChanged();
    void handsOffChanged();
    void seeingChanged();
    void projectChanged();
    void delivered();
    // What an autosave follows: edits as they are made, and what becomes of the project's file.
    void stepTaken(const nlohmann::json& step, const QString& title);
    void wentBack();
    void wentOn();
    void saving(const Fingerprint& file);
    void saved();
    void started();
    /// Something to be told: done, or refused.
    void told(const QString& text, bool refused);
    /// A model or project came in; the view should look at all of it.
    void arrived();

private:
    /// While one is open, what changes is gathered.
    class Change {
    public:
        explicit Change(Session& session) : session_(session) { ++session_.open_changes_; }
        ~Change() {
            if (--session_.open_changes_ > 0 || !session_.has_changed_) return;
            session_.has_changed_ = false;
            emit session_.changed();
        }
        Change(const Change&) = delete;
        Change& operator=(const Change&) = delete;

    private:
        Session& session_;
    };
    const HiddenFaces::Rest* restOf(PartId part, const std::shared_ptr<const Mesh>& mesh) const;
    void runInBackground(const nlohmann::json& step, int tries);
    void preview(const nlohmann::json& step, int tries);
    template <class Take>
    void startStep(const QString& kind, SameKind same, const nlohmann::json& step, Take take);
    void push(const nlohmann::json& step, Outcome outcome);
    /// Says what a step did, after these words.
    void tellOutcome(QStringList lines, const Outcome& outcome);
    void refuse(const Error& error);
    bool meansFaces() const;
    void tellHiddenFaces();
    void documentReplaced();
    void compile();
    void updatePose();
    void startFindings();
    bool start(Document document, std::filesystem::path path, const Fingerprint& file = {});
    QString titleOf(const nlohmann::json& step) const;

    int open_changes_ = 0;
    bool has_changed_ = false;
    Registry registry_ = make_registry();
    History history_{empty_document()};
    std::filesystem::path project_path_;
    Fingerprint project_file_;
    Selection selection_;
    Stage stage_ = Stage::Intake;
    ClipId clip_;
    bool auto_key_ = false;
    PickSettings pick_settings_;
    ElementPicks picks_;
    HiddenFaces hidden_faces_;
    KeyPicks key_picks_;
    std::optional<ToolPlane> tool_plane_;
    PathTool path_tool_;
    Posing posing_;
    bool hands_off_ = false, placing_ = false;
    Seeing seeing_;
    std::optional<StepPreview> preview_;
    std::optional<Delivery> last_delivery_;
    std::vector<Finding> findings_;
    std::uint64_t revision_ = 0;
    MeshFacts mesh_facts_;
    QTimer check_soon_;
    // Last of all, so that they are gone, and their work with them, before what that work looks at.
    Background edits_, deliveries_, measuring_, trials_, checker_;
};

}  // namespace pivrak
