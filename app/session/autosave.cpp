#include "app/session/autosave.h"

#include <unistd.h>

#include "app/session/words.h"
#include "core/io/atomic_file.h"
#include "core/io/project/project_file.h"

namespace pivrak {
namespace {
constexpr const char* ending = ".journal";

std::filesystem::path keptPath(const std::filesystem::path& journal) {
    auto path = std::filesystem::path(journal.string() + ".kept");
    for (int number = 2; std::filesystem::exists(path); ++number)
        path = journal.string() + ".kept" + std::to_string(number);
    return path;
}

QString fileName(const std::filesystem::path& path) {
    return QString::fromStdString(path.filename().string());
}
}  // namespace

Autosave::Autosave(Session& session, std::filesystem::path folder, QObject* parent)
    : QObject(parent), session_(session), folder_(std::move(folder)) {
    static int windows = 0;
    number_ = ++windows;
    to_disk_.setSingleShot(true);
    to_disk_.setInterval(300);
    connect(&to_disk_, &QTimer::timeout, this, [this] {
        if (journal_) written(journal_->sync());
    });
    connect(&session_, &Session::stepTaken, this, &Autosave::taken);
    connect(&session_, &Session::wentBack, this, &Autosave::back);
    connect(&session_, &Session::wentOn, this, &Autosave::on);
    connect(&session_, &Session::saving, this, [this](const Fingerprint& file) {
        if (journal_) written(journal_->saving(file));
    });
    for (auto signal : {&Session::saved, &Session::started})
        connect(&session_, signal, this, &Autosave::finish);
}

std::filesystem::path Autosave::pathFor(const std::filesystem::path& project) const {
    if (project.empty())
        return folder_ / ("unsaved-" + std::to_string(::getpid()) + "-" + std::to_string(number_) + ending);
    const auto beside = project.parent_path() / ("." + project.filename().string() + ending);
    const auto parent = project.parent_path().empty() ? std::filesystem::path(".") : project.parent_path();
    if (::access(parent.c_str(), W_OK) == 0) return beside;
    return folder_ / (std::to_string(fingerprint(std::filesystem::absolute(project).string()).hash) + ending);
}

/// A journal to write into; false when there can be none.
bool Autosave::ready() {
    if (journal_) return true;
    restart({session_.projectPath(), session_.projectFile(), {}});
    return journal_.has_value();
}

void Autosave::restart(const JournalBase& base) {
    std::error_code ignored;
    std::filesystem::create_directories(folder_, ignored);
    const auto path = pathFor(session_.projectPath());
    // Left work that nobody has decided about yet is not written over.
    if (!journal_ && read(path)) std::filesystem::rename(path, keptPath(path), ignored);
    journal_.reset();
    auto begun = Journal::begin(path, base);
    depth_ = ahead_ = 0;
    if (begun)
        journal_.emplace(std::move(begun).value());
    else
        written(begun.error());
}

/// Where no file holds what the journal is to start from, one is written first.
void Autosave::restartFromSnapshot() {
    const auto path = pathFor(session_.projectPath());
    const auto snapshot = std::filesystem::path(path.string() + ".base");
    const auto bytes = project_bytes(session_.document());
    if (!bytes) return written(bytes.error());
    if (const auto done = write_file_atomically(snapshot, *bytes); !done) return written(done);
    restart({session_.projectPath(), session_.projectFile(), snapshot});
}

void Autosave::written(const Result<void>& result) {
    if (result || complained_) return;
    complained_ = true;
    emit session_.told(tr("Edits are not kept against a crash: %1. Save often.")
                           .arg(QString::fromStdString(result.error().message)),
                       true);
}

void Autosave::taken(const nlohmann::json& step, const QString& title) {
    if (!ready()) return;
    written(journal_->step(step, title.toStdString(), session_.document().next_id));
    ++depth_;
    ahead_ = 0;
    to_disk_.start();
}

void Autosave::back() {
    if (depth_ == 0) return restartFromSnapshot();
    written(journal_->undo());
    --depth_;
    ++ahead_;
    to_disk_.start();
}

void Autosave::on() {
    if (ahead_ == 0) return restartFromSnapshot();
    written(journal_->redo());
    ++depth_;
    --ahead_;
    to_disk_.start();
}

void Autosave::finish() {
    if (!journal_) return;
    std::error_code ignored;
    std::filesystem::remove(journal_->path().string() + ".base", ignored);
    journal_->remove();
    journal_.reset();
    depth_ = ahead_ = 0;
}

std::optional<Autosave::Left> Autosave::read(const std::filesystem::path& path) const {
    if (journal_is_busy(path)) return std::nullopt;
    const auto record = read_journal(path);
    if (!record) return std::nullopt;
    Left left{path, record->base.project, steps_in_force(record->entries), {}, {}};
    for (const JournalEntry& entry : record->entries) {
        if (entry.kind == JournalEntry::Kind::Step) left.last_title = QString::fromStdString(entry.title);
        left.last_time = QDateTime::fromMSecsSinceEpoch(static_cast<qint64>(1e3 * entry.at_s));
    }
    if (record->entries.empty() && record->base.snapshot.empty()) return std::nullopt;
    return left;
}

std::vector<Autosave::Left> Autosave::leftBehind() const {
    std::vector<Left> found;
    std::error_code problem;
    for (const auto& file : std::filesystem::directory_iterator(folder_, problem))
        if (file.path().extension() == ending)
            if (auto left = read(file.path())) found.push_back(std::move(*left));
    return found;
}

std::optional<Autosave::Left> Autosave::leftBehindOf(const std::filesystem::path& project) const {
    const auto path = pathFor(project);
    std::error_code problem;
    if (!std::filesystem::exists(path, problem)) return std::nullopt;
    return read(path);
}

QString Autosave::words(const Left& left) {
    const QString name = left.project.empty() ? tr("a project that was never saved") : fileName(left.project);
    const QString when = left.last_time.isValid() ? left.last_time.toString(QStringLiteral("d MMMM, hh:mm"))
                                                  : tr("an unknown time");
    return tr("%1 was not closed properly. %2 up to %3 are kept; the last one was: %4.")
        .arg(name, countWords(left.steps, "step"), when,
             left.last_title.isEmpty() ? tr("an undone one") : left.last_title);
}

void Autosave::bringBack(const Left& left) {
    session_.bringBack(left.journal, [this, left](const QString& missing) {
        std::error_code ignored;
        if (missing.isEmpty()) {
            if (auto going = Journal::go_on(left.journal)) {
                journal_.emplace(std::move(going).value());
                depth_ = session_.history().steps().size();
                ahead_ = session_.history().can_redo() ? 1 : 0;
                return;
            }
        }
        // What could not be done again is there for a person to read.
        std::filesystem::rename(left.journal, keptPath(left.journal), ignored);
        restartFromSnapshot();
    });
}

void Autosave::throwAway(const Left& left) {
    std::error_code ignored;
    std::filesystem::remove(left.journal, ignored);
    std::filesystem::remove(left.journal.string() + ".base", ignored);
}

}  // namespace pivrak
