#include "core/operations/journal.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/file.h>
#include <unistd.h>

#include <cerrno>
#include <chrono>
#include <cstring>

#include "core/io/atomic_file.h"

namespace pivrak {

using nlohmann::json;

namespace {

constexpr int journal_version = 1;

Error write_problem(const std::filesystem::path& path, int reason) {
    return {"file.write", fmt::format("'{}' cannot be written: {}", path.string(), std::strerror(reason)),
            path.string()};
}

json to_json(const Fingerprint& file) {
    return {{"bytes", file.bytes}, {"hash", file.hash}};
}

Fingerprint fingerprint_from(const json& entry) {
    return {entry.at("bytes").get<std::uint64_t>(), entry.at("hash").get<std::uint64_t>()};
}

double now_s() {
    return std::chrono::duration<double>(std::chrono::system_clock::now().time_since_epoch()).count();
}

Result<int> open_locked(const std::filesystem::path& path, int flags) {
    const int file = ::open(path.c_str(), flags | O_CLOEXEC, 0600);
    if (file < 0) return write_problem(path, errno);
    if (::flock(file, LOCK_EX | LOCK_NB) == 0) return file;
    ::close(file);
    return Error{"journal.busy", fmt::format("'{}' is written by another window", path.string()),
                 path.string()};
}

JournalEntry entry_from(const json& line) {
    JournalEntry entry;
    entry.at_s = line.value("at", 0.0);
    const std::string what = line.at("what").get<std::string>();
    if (what == "step") {
        entry.step = line.at("step");
        entry.title = line.at("title").get<std::string>();
        entry.next_id = line.at("next_id").get<std::uint64_t>();
    } else if (what == "saving") {
        entry.kind = JournalEntry::Kind::Saving;
        entry.file = fingerprint_from(line.at("file"));
    } else {
        entry.kind = what == "undo" ? JournalEntry::Kind::Undo : JournalEntry::Kind::Redo;
    }
    return entry;
}

}  // namespace

Fingerprint fingerprint(std::string_view bytes) {
    std::uint64_t hash = 14695981039346656037u;
    for (const char c : bytes) hash = (hash ^ static_cast<unsigned char>(c)) * 1099511628211u;
    return {bytes.size(), hash};
}

Result<Journal> Journal::begin(const std::filesystem::path& path, const JournalBase& base) {
    PIVRAK_TRY(file, open_locked(path, O_RDWR | O_CREAT));
    Journal journal(path, file);
    if (::ftruncate(file, 0) != 0) return write_problem(path, errno);
    PIVRAK_CHECK(journal.line({{"pivrak_journal", journal_version},
                               {"project", base.project.string()},
                               {"snapshot", base.snapshot.string()},
                               {"file", to_json(base.file)}}));
    return journal;
}

Result<Journal> Journal::go_on(const std::filesystem::path& path) {
    PIVRAK_TRY(file, open_locked(path, O_RDWR));
    Journal journal(path, file);
    PIVRAK_TRY(record, read_journal(path));
    if (::ftruncate(file, static_cast<off_t>(record.whole_bytes)) != 0) return write_problem(path, errno);
    return journal;
}

Journal::~Journal() {
    if (file_ >= 0) ::close(file_);
}

Journal::Journal(Journal&& other) noexcept
    : path_(std::move(other.path_)), file_(std::exchange(other.file_, -1)) {}

Journal& Journal::operator=(Journal&& other) noexcept {
    std::swap(path_, other.path_);
    std::swap(file_, other.file_);
    return *this;
}

Result<void> Journal::line(const json& entry) {
    json dated = entry;
    dated["at"] = now_s();
    const std::string text = dated.dump(-1, ' ', false, json::error_handler_t::replace) + '\n';
    // One call for each line: a killed process leaves whole lines, or a torn last one.
    ::lseek(file_, 0, SEEK_END);
    const ssize_t written = ::write(file_, text.data(), text.size());
    if (written == static_cast<ssize_t>(text.size())) return {};
    return write_problem(path_, written < 0 ? errno : ENOSPC);
}

Result<void> Journal::step(const json& step, const std::string& title, std::uint64_t next_id) {
    return line({{"what", "step"}, {"step", step}, {"title", title}, {"next_id", next_id}});
}

Result<void> Journal::undo() {
    return line({{"what", "undo"}});
}

Result<void> Journal::redo() {
    return line({{"what", "redo"}});
}

Result<void> Journal::saving(const Fingerprint& file) {
    PIVRAK_CHECK(line({{"what", "saving"}, {"file", to_json(file)}}));
    return sync();
}

Result<void> Journal::sync() const {
    return ::fdatasync(file_) == 0 ? Result<void>{} : write_problem(path_, errno);
}

void Journal::remove() {
    if (file_ < 0) return;
    ::unlink(path_.c_str());
    ::close(std::exchange(file_, -1));
}

std::optional<std::vector<JournalEntry>> JournalRecord::since(const Fingerprint& file) const {
    // The last saving of that file counts: what stands before it is in there.
    for (auto entry = entries.rbegin(); entry != entries.rend(); ++entry)
        if (entry->kind == JournalEntry::Kind::Saving && entry->file == file)
            return std::vector<JournalEntry>(entry.base(), entries.end());
    if (file == base.file) return entries;
    return std::nullopt;
}

Result<JournalRecord> read_journal(const std::filesystem::path& path) {
    PIVRAK_TRY(text, read_file(path));
    JournalRecord record;
    std::size_t from = 0;
    try {
        for (std::size_t end; (end = text.find('\n', from)) != std::string::npos; from = end + 1) {
            const json line = json::parse(text.begin() + static_cast<std::ptrdiff_t>(from),
                                          text.begin() + static_cast<std::ptrdiff_t>(end));
            if (from == 0) {
                if (line.at("pivrak_journal").get<int>() != journal_version) break;
                record.base = {line.at("project").get<std::string>(), fingerprint_from(line.at("file")),
                               line.value("snapshot", "")};
            } else {
                record.entries.push_back(entry_from(line));
            }
            record.whole_bytes = end + 1;
        }
    } catch (const json::exception&) {
        // What comes before a damaged line holds.
    }
    if (record.whole_bytes == 0)
        return Error{"journal.damaged", fmt::format("'{}' is no journal", path.string()), path.string()};
    return record;
}

bool journal_is_busy(const std::filesystem::path& path) {
    const int file = ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
    if (file < 0) return false;
    const bool busy = ::flock(file, LOCK_EX | LOCK_NB) != 0;
    ::close(file);
    return busy;
}

std::size_t steps_in_force(const std::vector<JournalEntry>& entries) {
    std::size_t now = 0, known = 0;
    for (const JournalEntry& entry : entries) {
        if (entry.kind == JournalEntry::Kind::Step) known = ++now;
        if (entry.kind == JournalEntry::Kind::Undo && now > 0) --now;
        if (entry.kind == JournalEntry::Kind::Redo && now < known) ++now;
    }
    return now;
}

Replayed replay(const Registry& registry, Document base, const std::vector<JournalEntry>& entries,
                const Progress& progress) {
    Replayed out{History(std::move(base)), 0, ""};
    std::size_t done = 0;
    for (const JournalEntry& entry : entries) {
        if (!progress.go_on(static_cast<double>(done++) / static_cast<double>(entries.size()), entry.title)) {
            out.missing = "cancelled";
            return out;
        }
        switch (entry.kind) {
            case JournalEntry::Kind::Step: {
                auto outcome = registry.run(out.history.document(), entry.step);
                if (outcome && outcome->document.next_id != entry.next_id)
                    outcome =
                        Error{"journal.other",
                              "it gives another result than it did; a file it reads may have changed", ""};
                if (!outcome) {
                    out.missing =
                        fmt::format("'{}' cannot be done again: {}", entry.title, outcome.error().message);
                    return out;
                }
                out.history.push(std::move(outcome->document), entry.title, entry.step);
                ++out.steps;
                break;
            }
            case JournalEntry::Kind::Undo:
                if (out.history.can_undo()) out.history.undo();
                break;
            case JournalEntry::Kind::Redo:
                if (out.history.can_redo()) out.history.redo();
                break;
            case JournalEntry::Kind::Saving:
                break;
        }
    }
    return out;
}

}  // namespace pivrak
