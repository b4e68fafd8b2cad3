#include "app/session/session.h"

#include <QCoreApplication>
#include <QThread>
#include <algorithm>

#include "core/base/guarded.h"
#include "core/io/atomic_file.h"
#include "core/io/project/project_file.h"
#include "core/io/project/project_json.h"
#include "core/operations/channel_access.h"
#include "core/rig/driven_by.h"

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
    compile();
}

QString Session::projectName() const {
    if (project_path_.empty()) return tr("new project");
    return QString::fromStdString(project_path_.filename().string()).remove(QStringLiteral(".pivrak.glb"));
}

bool Session::isSelected(PartId part) const {
    return std::find(selection_.begin(), selection_.end(), part) != selection_.end();
}

nlohmann::json Session::selectedIds() const {
    json ids = json::array();
    for (const PartId part : selection_) ids.push_back(part.value);
    return ids;
}

void Session::select(std::vector<PartId> parts) {
    std::erase_if(parts, [&](PartId id) {
        const Part* part = shownDocument().parts.find(id);
        return !part || (hands_off_ && !part->is_control());
    });
    if (parts == selection_) return;
    selection_ = std::move(parts);
    emit selectionChanged();
}

void Session::setStage(Stage stage) {
    if (stage == stage_) return;
    leavePreview();
    setToolPlane(std::nullopt);
    setPathTool({path_tool_.path});
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

std::shared_ptr<const DrapedPath> Session::measuredPath(const Path& path) const {
    const auto measured = rig_facts_.path(shownDocument(), path);
    return measured ? *measured : nullptr;
}

void Session::setClip(ClipId clip) {
    if (clip == clip_ || !document().clips.contains(clip)) return;
    clip_ = clip;
    compile();
    emit documentChanged();
}

void Session::applyFix(const Finding& finding) {
    if (!finding.fix.is_object()) return;
    preview(finding.fix);
}

void Session::setFrame(double frame) {
    if (frame == frame_) return;
    frame_ = frame;
    held_.reset();
    updatePose();
}

void Session::setAutoKey(bool on) {
    if (on == auto_key_) return;
    auto_key_ = on;
    emit autoKeyChanged();
}

Frame Session::worldFromPart(PartId part) const {
    const auto slot = evaluator_->part_slot(part);
    return slot ? pose_.world_from_part[*slot] : Frame{};
}

double Session::valueOf(ChannelRef channel) const {
    const auto slot = evaluator_->channel_slot(channel);
    return slot ? pose_.channels[*slot] : 0;
}

double Session::turnOf(PartId part) const {
    return valueOf({part, ChannelKind::Turn});
}

bool Session::setChannel(ChannelRef channel, const std::string& text) {
    const Track* track = clip().track(channel);
    json step{{"op", "channel.set"},
              {"parts", {channel.part.value}},
              {"channel", word(channel.kind)},
              {"value", text}};
    if ((track && !track->keys.empty()) || auto_key_) {
        step["op"] = "key.set";
        step["frame"] = frame_;
        step["clip"] = clip().name;
    }
    return run(step);
}

Result<void> Session::mayMove(ChannelRef channel) const {
    if (preview_) return Error{"preview.open", "accept or leave the preview first", ""};
    return check_free_channel(document(), channel);
}

void Session::hold(ChannelRef channel, double value) {
    if (!mayMove(channel)) return;
    // A shaft of a train is turned through what turns it.
    if (const auto handle = train_handle(document(), channel))
        held_ = {handle->input, handle->input_for(value)};
    else
        held_ = {channel, value};
    updatePose();
}

void Session::dropHeld() {
    held_.reset();
    updatePose();
}

void Session::release() {
    if (!held_) return;
    const auto [channel, value] = *held_;
    held_.reset();
    if (!setValue(channel, value)) updatePose();
}

bool Session::setValue(ChannelRef channel, double value) {
    const Track* track = clip().track(channel);
    const bool keyed = track && !track->keys.empty();
    json step{{"op", "channel.set"},
              {"parts", {channel.part.value}},
              {"channel", word(channel.kind)},
              {"value", value}};
    if (!keyed && !auto_key_) return run(step);
    // A key that stands here keeps its way of running on.
    const Key* here = keyed ? track->key_at(frame_) : nullptr;
    const bool linear = here ? here->interpolation == Interpolation::Linear
                             : keyed && track->keys.front().interpolation == Interpolation::Linear;
    const auto limits = document().parts.find(channel.part)->joint.channel(channel.kind).limits;
    step["op"] = "key.set";
    step["clip"] = clip().name;
    step["frame"] = frame_;
    step["value"] = limits ? limits->clamp(value) : value;
    step["interpolation"] = linear ? "linear" : "smooth";
    return run(step);
}

void Session::toRest() {
    json step{{"op", "channel.rest"}, {"frame", frame_}, {"clip", clip().name}};
    if (!selection_.empty()) step["parts"] = selectedIds();
    run(step);
}

bool Session::isPickable(const Part& part) const {
    return part.shown && !part.locked && (!hands_off_ || part.is_control());
}

void Session::setHandsOff(bool on) {
    if (on == hands_off_) return;
    hands_off_ = on;
    emit handsOffChanged();
    if (on) select(selection_);
}

QString Session::titleOf(const json& step) const {
    const Operation* operation = registry_.find(step.value("op", ""));
    return operation ? QString::fromStdString(operation->title) : QString();
}

bool Session::run(const json& step) {
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
    ++revision_;
    held_.reset();
    // Face numbers may mean other faces now.
    setPicks({});
    if (!document().paths.contains(path_tool_.path)) setPathTool({});
    compile();
    std::vector<PartId> kept = selection_;
    std::erase_if(kept, [&](PartId part) { return !document().parts.contains(part); });
    const bool changed = kept != selection_;
    selection_ = std::move(kept);
    emit documentChanged();
    if (changed) emit selectionChanged();
    check_soon_.start();
}

void Session::compile() {
    auto compiled = Evaluator::compile(shownDocument(), clip_, &rig_facts_);
    if (!compiled) {
        // Only a damaged project gets here: show it at rest, without what cannot be computed.
        refuse(compiled.error());
        Document still = shownDocument();
        still.couplings = {};
        still.vehicles = {};
        still.paths = {};
        compiled = Evaluator::compile(still);
    }
    if (!compiled) compiled = Evaluator::compile(empty_document());
    evaluator_ = std::move(*compiled);
    pose_ = evaluator_->make_pose();
    updatePose();
}

void Session::updatePose() {
    std::optional<HeldChannel> held;
    if (held_)
        if (const auto slot = evaluator_->channel_slot(held_->first)) held = {*slot, held_->second};
    evaluator_->evaluate(frame_, pose_, held);
    emit poseChanged();
}

void Session::undo() {
    leavePreview();
    if (!history_.can_undo()) return;
    const QString title = QString::fromStdString(history_.undo_title());
    history_.undo();
    emit wentBack();
    documentReplaced();
    emit told(tr("Undone: %1").arg(title), false);
}

void Session::redo() {
    leavePreview();
    if (!history_.can_redo()) return;
    history_.redo();
    emit wentOn();
    documentReplaced();
    emit told(tr("Done again: %1").arg(QString::fromStdString(history_.undo_title())), false);
}

bool Session::start(Document document, std::filesystem::path path, const Fingerprint& file) {
    edits_.dropAll();
    preview_.reset();
    history_ = History(std::move(document));
    emit started();
    project_path_ = std::move(path);
    project_file_ = file;
    selection_.clear();
    last_delivery_.reset();
    clip_ = {};
    tool_plane_.reset();
    frame_ = clip().first_frame;
    documentReplaced();
    emit selectionChanged();
    emit previewChanged();
    emit projectChanged();
    emit arrived();
    return true;
}

void Session::newProject() {
    start(empty_document(), {});
}

bool Session::openProject(const std::filesystem::path& path) {
    const auto bytes = read_file(path);
    auto opened =
        bytes ? project_from_bytes(*bytes, path.filename().string()) : Result<Document>(bytes.error());
    if (!opened) {
        refuse(opened.error());
        return false;
    }
    start(std::move(*opened), path, fingerprint(*bytes));
    emit told(tr("Opened %1").arg(projectName()), false);
    return true;
}

bool Session::saveProject(const std::filesystem::path& path) {
    leavePreview();
    const auto save = [&]() -> Result<void> {
        PIVRAK_CHECK(check_project_path(document(), path));
        PIVRAK_TRY(bytes, project_bytes(document()));
        const Fingerprint file = fingerprint(bytes);
        emit saving(file);
        PIVRAK_CHECK(write_file_atomically(path, bytes));
        project_file_ = file;
        return {};
    };
    if (const auto done = guarded("saving", save); !done) {
        refuse(done.error());
        return false;
    }
    emit saved();
    project_path_ = path;
    history_.mark_saved();
    emit projectChanged();
    emit told(tr("Saved %1").arg(projectName()), false);
    return true;
}

void Session::bringBack(const std::filesystem::path& path, std::function<void(const QString&)> done) {
    struct Back {
        Replayed replayed{History(empty_document()), 0, ""};
        JournalBase base;
        Fingerprint file;
    };
    const auto work = [this, path](const Progress& progress) -> Result<Back> {
        PIVRAK_TRY(record, read_journal(path));
        Back back;
        back.base = record.base;
        Document base = empty_document();
        std::vector<JournalEntry> entries = record.entries;
        if (!record.base.project.empty()) {
            PIVRAK_TRY(bytes, read_file(record.base.project));
            back.file = fingerprint(bytes);
            if (record.base.snapshot.empty()) {
                const auto since = record.since(back.file);
                if (!since)
                    return Error{
                        "journal.base",
                        "'" + record.base.project.filename().string() +
                            "' was changed elsewhere since; the steps do not fit it. They stay in '" +
                            path.string() + "'",
                        path.string()};
                entries = *since;
                PIVRAK_TRY(opened, project_from_bytes(bytes, record.base.project.filename().string()));
                base = std::move(opened);
            }
        }
        if (!record.base.snapshot.empty()) {
            PIVRAK_TRY(opened, open_project(record.base.snapshot));
            base = std::move(opened);
        }
        back.replayed = replay(registry_, std::move(base), entries, progress);
        return back;
    };
    edits_.start(
        QStringLiteral("back"), tr("Bringing work back"), SameKind::Waits, [work] { return work; },
        [this, done](Result<Back> back) {
            if (!back) return refuse(back.error());
            start(empty_document(), back->base.project, back->file);
            history_ = std::move(back->replayed.history);
            if (!back->base.snapshot.empty()) history_.mark_unsaved();
            documentReplaced();
            emit projectChanged();
            emit arrived();
            const QString missing = QString::fromStdString(back->replayed.missing);
            done(missing);
            emit told(missing.isEmpty()
                          ? tr("Brought back: %1 steps").arg(back->replayed.steps)
                          : tr("Brought back %1 steps; then %2").arg(back->replayed.steps).arg(missing),
                      !missing.isEmpty());
        });
}

void Session::importModel(const json& step) {
    runInBackground(step);
}

void Session::deliverTo(const std::filesystem::path& path, const DeliveryOptions& options) {
    leavePreview();
    // A delivery holds the document it was asked for; another one waits for it.
    deliveries_.start(
        QStringLiteral("delivery"), tr("Delivering"), SameKind::Waits,
        [document = document(), path, options] {
            return [=](const Progress& progress) { return deliver(document, path, options, progress); };
        },
        [this, path](Result<Delivery> delivery) {
            if (!delivery) return refuse(delivery.error());
            last_delivery_ = std::move(*delivery);
            emit delivered();
            const ReadBack& r = last_delivery_->read_back;
            emit told(tr("Delivered %1: largest error %2 mm, %3°")
                          .arg(QString::fromStdString(path.filename().string()))
                          .arg(r.at_frames.largest_m * 1e3, 0, 'f', 6)
                          .arg(r.at_frames.largest_rad * deg_per_rad, 0, 'f', 6),
                      false);
        });
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
    while (edits_.isBusy() || deliveries_.isBusy() || measuring_.isBusy() || checker_.isBusy() ||
           check_soon_.isActive()) {
        QCoreApplication::processEvents(QEventLoop::AllEvents, 20);
        QThread::msleep(2);
    }
}

}  // namespace pivrak
