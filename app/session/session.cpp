#include "app/session/session.h"

#include <QCoreApplication>
#include <QThread>
#include <algorithm>

#include "core/io/project/project_json.h"
#include "core/model/element_channels.h"
#include "core/operations/channel_access.h"

namespace pivrak {

using nlohmann::json;

namespace {
const QString edit_kind = QStringLiteral("edit"), preview_kind = QStringLiteral("preview");
constexpr int most_tries = 5;
}  // namespace

Session::Session(QObject* parent) : QObject(parent) {
    // A little later: edits that follow each other are checked once, and a first picture comes first.
    check_soon_.setSingleShot(true);
    check_soon_.setInterval(150);
    connect(&check_soon_, &QTimer::timeout, this, &Session::startFindings);
    for (auto signal : {&Session::documentChanged, &Session::selectionChanged, &Session::previewChanged})
        connect(this, signal, this, [this] {
            const Change change(*this);
            has_changed_ = true;
        });
    compile();
}

QString Session::projectName() const {
    if (project_path_.empty()) return tr("new project");
    return QString::fromStdString(project_path_.filename().string()).remove(QStringLiteral(".pivrak.glb"));
}

nlohmann::json Session::selectedIds() const {
    json ids = json::array();
    for (const PartId part : selection()) ids.push_back(part.value);
    return ids;
}

void Session::select(std::vector<PartId> parts) {
    std::erase_if(parts, [&](PartId id) {
        const Part* part = shownDocument().parts.find(id);
        return !part || (hands_off_ && !part->is_control());
    });
    if (selection_.set(std::move(parts))) emit selectionChanged();
}

void Session::setStage(Stage stage) {
    const Change change(*this);
    if (stage == stage_) return;
    leavePreview();
    setToolPlane(std::nullopt);
    setPathTool({path_tool_.path});
    setPlacing(false);
    // Places are picked for pivots only.
    if (pick_settings_.kind == PickKind::Places) setPickSettings({});
    stage_ = stage;
    emit stageChanged();
}

void Session::setPickSettings(const PickSettings& settings) {
    if (settings == pick_settings_) return;
    if (settings.kind != pick_settings_.kind) setPicks({});
    pick_settings_ = settings;
    emit pickSettingsChanged();
}

void Session::setSeeing(Seeing seeing) {
    if (seeing == seeing_) return;
    seeing_ = std::move(seeing);
    emit seeingChanged();
}

void Session::setPicks(ElementPicks picks) {
    if (picks == picks_) return;
    picks_ = std::move(picks);
    emit picksChanged();
}

void Session::setToolPlane(std::optional<ToolPlane> plane) {
    if (!plane && !tool_plane_) return;
    tool_plane_ = plane;
    emit toolPlaneChanged();
}

void Session::setPathTool(PathTool tool) {
    if (tool == path_tool_) return;
    path_tool_ = std::move(tool);
    emit pathToolChanged();
}

void Session::setClip(ClipId clip) {
    if (clip == clip_ || !document().clips.contains(clip)) return;
    clip_ = clip;
    compile();
    key_picks_.keepIn(this->clip());
    emit documentChanged();
}

void Session::applyFix(const Finding& finding) {
    if (!finding.fix.is_object()) return;
    preview(finding.fix);
}

void Session::setFrame(double frame) {
    if (frame == posing_.frame()) return;
    posing_.setFrame(frame);
    updatePose();
}

void Session::setAutoKey(bool on) {
    if (on == auto_key_) return;
    auto_key_ = on;
    emit autoKeyChanged();
}

bool Session::setChannel(ChannelRef channel, const std::string& text) {
    const Track* track = clip().track(channel);
    json step = channel_step("channel.set", channel);
    step["value"] = text;
    if ((track && !track->keys.empty()) || auto_key_) {
        step["op"] = "key.set";
        step["frame"] = frame();
        step["clip"] = clip().name;
    }
    return run(step);
}

Result<void> Session::mayMove(ChannelRef channel) const {
    if (preview_) return Error{"preview.open", "accept or leave the preview first", ""};
    return check_free_channel(drivers(), channel);
}

void Session::hold(ChannelRef channel, double value) {
    if (!mayMove(channel)) return;
    // A shaft of a train is turned through what turns it.
    if (const auto handle = drivers().handle(channel))
        posing_.hold(handle->input, handle->input_for(value));
    else
        posing_.hold(channel, value);
    updatePose();
}

void Session::show(std::vector<std::pair<ChannelRef, double>> values, bool with_keys) {
    if (preview_) return;
    posing_.show(std::move(values), with_keys);
    updatePose();
}

void Session::dropHeld() {
    posing_.drop();
    updatePose();
}

void Session::release() {
    if (!posing_.held()) return;
    const auto [channel, value] = *posing_.held();
    posing_.drop();
    if (!setValue(channel, value)) updatePose();
}

bool Session::setValue(ChannelRef channel, double value) {
    const Track* track = clip().track(channel);
    const bool keyed = track && !track->keys.empty();
    json step = channel_step("channel.set", channel);
    // What other clips add comes on top again.
    if (const auto slot = evaluator().channel_slot(channel)) value -= evaluator().layered(*slot, frame());
    step["value"] = value;
    if (!keyed && !auto_key_) return run(step);
    step["op"] = "key.set";
    step["clip"] = clip().name;
    step["frame"] = frame();
    step["value"] = within_limits(document(), channel, value);
    return run(step);
}

void Session::toRest() {
    json step{{"op", "channel.rest"}, {"frame", frame()}, {"clip", clip().name}};
    if (!selection().empty()) step["parts"] = selectedIds();
    run(step);
}

bool Session::isPickable(const Part& part) const {
    return part.shown && !part.locked && (!hands_off_ || part.is_control());
}

void Session::setHandsOff(bool on) {
    if (on == hands_off_) return;
    hands_off_ = on;
    emit handsOffChanged();
    if (on) select(selection());
}

QString Session::titleOf(const json& step) const {
    const Operation* operation = registry_.find(step.value("op", ""));
    return operation ? QString::fromStdString(operation->title) : QString();
}

bool Session::run(const json& step) {
    const Change change(*this);
    leavePreview();
    auto outcome = registry_.run(document(), step);
    if (!outcome) {
        refuse(outcome.error());
        return false;
    }
    push(step, std::move(*outcome));
    return true;
}

/// Runs a step on the document as it is when its turn comes; `take` gets the outcome and whether that
/// document is still the present one.
template <class Take>
void Session::startStep(const QString& kind, SameKind same, const json& step, Take take) {
    auto begun = std::make_shared<std::uint64_t>(0);
    edits_.start(
        kind, titleOf(step), same,
        [this, step, begun] {
            *begun = revision_;
            return [this, document = document(), step](const Progress& progress) {
                return registry_.run(document, step, {{}, progress});
            };
        },
        [this, begun, take](Result<Outcome> outcome) { take(std::move(outcome), *begun == revision_); });
}

void Session::runInBackground(const json& step) {
    runInBackground(step, 0);
}

void Session::runInBackground(const json& step, int tries) {
    leavePreview();
    startStep(edit_kind, SameKind::Waits, step, [this, step, tries](Result<Outcome> outcome, bool present) {
        if (!outcome) return refuse(outcome.error());
        if (present) return push(step, std::move(*outcome));
        if (tries + 1 < most_tries) return runInBackground(step, tries + 1);
        refuse(Error{"session.busy",
                     titleOf(step).toStdString() +
                         ": the project changed all the while, so it was not done; try again",
                     ""});
    });
}

void Session::preview(const json& step) {
    preview(step, 0);
}

void Session::preview(const json& step, int tries) {
    startStep(
        preview_kind, SameKind::Replaced, step, [this, step, tries](Result<Outcome> outcome, bool present) {
            if (outcome && !present && tries + 1 < most_tries) return preview(step, tries + 1);
            if (!outcome || !present) {
                leavePreview();
                return refuse(
                    outcome ? Error{"session.busy", "the project changed all the while; preview it again", ""}
                            : outcome.error());
            }
            if (outcome->unchanged) {
                leavePreview();
                return tellOutcome({}, *outcome);
            }
            preview_ = StepPreview{step, titleOf(step), std::move(*outcome), revision_};
            compile();
            emit previewChanged();
        });
}

void Session::acceptPreview() {
    const Change change(*this);
    if (!preview_) return;
    StepPreview accepted = std::move(*preview_);
    preview_.reset();
    emit previewChanged();
    // Whatever came in between is not written over.
    if (accepted.revision != revision_) return preview(accepted.step);
    push(accepted.step, std::move(accepted.outcome));
}

void Session::leavePreview() {
    if (!preview_) return;
    preview_.reset();
    compile();
    emit previewChanged();
}

void Session::tellOutcome(QStringList lines, const Outcome& outcome) {
    for (const std::string& message : outcome.messages) lines << QString::fromStdString(message);
    emit told(lines.join(QStringLiteral(" · ")), false);
}

void Session::push(const json& step, Outcome outcome) {
    const Change change(*this);
    // Where there was nothing to do there is no step to undo.
    if (outcome.unchanged) return tellOutcome({}, outcome);
    const QString title = titleOf(step);
    const bool first_model = document().parts.empty();
    const std::vector<PartId> created = std::move(outcome.created);
    history_.push(std::move(outcome.document), title.toStdString(), step);
    emit stepTaken(step, title);
    documentReplaced();
    tellOutcome({title}, outcome);
    if (step.value("op", "") == "model.import") {
        select({});
        emit arrived();
        if (first_model) setStage(Stage::Intake);
    } else if (!created.empty()) {
        select(created);
    }
}

void Session::refuse(const Error& error) {
    emit told(QString::fromStdString(error.message), true);
}

void Session::documentReplaced() {
    const Change change(*this);
    ++revision_;
    posing_.drop();
    // Face numbers may mean other faces now.
    setPicks({});
    hidden_faces_.keepIn(document());
    if (!document().paths.contains(path_tool_.path)) setPathTool({});
    compile();
    const bool changed = selection_.drop_if([&](PartId part) { return !document().parts.contains(part); });
    key_picks_.keepIn(this->clip());
    emit documentChanged();
    if (changed) emit selectionChanged();
    check_soon_.start();
}

void Session::compile() {
    if (const auto problem = posing_.compile(shownDocument(), clip_)) refuse(*problem);
    updatePose();
}

void Session::updatePose() {
    posing_.evaluate();
    emit poseChanged();
}

void Session::undo() {
    const Change change(*this);
    leavePreview();
    if (!history_.can_undo()) return;
    const QString title = QString::fromStdString(history_.undo_title());
    history_.undo();
    emit wentBack();
    documentReplaced();
    emit told(tr("Undone: %1").arg(title), false);
}

void Session::redo() {
    const Change change(*this);
    leavePreview();
    if (!history_.can_redo()) return;
    history_.redo();
    emit wentOn();
    documentReplaced();
    emit told(tr("Done again: %1").arg(QString::fromStdString(history_.undo_title())), false);
}

void Session::startFindings() {
    checker_.start(
        QString(),
        [this, document = document()](const Progress& progress) {
            return check_document(document, progress, &mesh_facts_);
        },
        [this](std::vector<Finding> findings) {
            if (findings == findings_) return;
            findings_ = std::move(findings);
            emit findingsChanged();
        });
}

void Session::settle() {
    while (edits_.isBusy() || deliveries_.isBusy() || measuring_.isBusy() || trials_.isBusy() ||
           checker_.isBusy() || check_soon_.isActive()) {
        QCoreApplication::processEvents(QEventLoop::AllEvents, 20);
        QThread::msleep(2);
    }
}

}  // namespace pivrak
