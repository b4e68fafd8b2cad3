#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

#include "core/operations/history.h"
#include "core/operations/registry.h"

namespace pivrak {

/// What a file's bytes are known again by.
struct Fingerprint {
    std::uint64_t bytes = 0, hash = 0;
    bool operator==(const Fingerprint&) const = default;
};
/// Source of the hash: FNV-1a, 64 bit (Fowler, Noll, Vo).
Fingerprint fingerprint(std::string_view bytes);

/// What a journal's steps start from: a project as it was on the disk, or an empty one.
struct JournalBase {
    std::filesystem::path project;   ///< empty for a new project
    Fingerprint file;                ///< of that project
    std::filesystem::path snapshot;  ///< a project that holds the base itself, where no other file does
    bool operator==(const JournalBase&) const = default;
};

/// Every edit of a project since it was opened or saved, on the disk as it is made, so that it can be done
/// again after a crash. A text of one JSON object a line; a torn last line is no damage. While it is written
/// the file is locked, so that another process leaves it alone; the lock goes with the process.
class Journal {
public:
    /// Starts a journal anew. Errors: `file.write`, `journal.busy` when another process writes it.
    static Result<Journal> begin(const std::filesystem::path& path, const JournalBase& base);
    /// Goes on with one that was left behind; what is torn at its end is cut off. Errors: those of
    /// `read_journal`, `file.write`, `journal.busy`.
    static Result<Journal> go_on(const std::filesystem::path& path);
    ~Journal();
    Journal(Journal&& other) noexcept;
    Journal& operator=(Journal&& other) noexcept;

    const std::filesystem::path& path() const { return path_; }
    /// The words of an edit are with the system when this returns; `sync` brings them to the disk. `next_id`
    /// is the document's after the step: whether the same came of it is seen by that. Errors: `file.write`.
    Result<void> step(const nlohmann::json& step, const std::string& title, std::uint64_t next_id);
    Result<void> undo();
    Result<void> redo();
    /// To be told before a project is written over its base: whichever of both files is there after a crash,
    /// it is known what it holds.
    Result<void> saving(const Fingerprint& file);
    Result<void> sync() const;
    /// The file goes: all is saved, or given up.
    void remove();

private:
    Journal(std::filesystem::path path, int file) : path_(std::move(path)), file_(file) {}
    Result<void> line(const nlohmann::json& entry);

    std::filesystem::path path_;
    int file_ = -1;
};

/// A journal as read.
struct JournalEntry {
    enum class Kind { Step, Undo, Redo, Saving } kind = Kind::Step;
    nlohmann::json step;
    std::string title;
    std::uint64_t next_id = 0;
    Fingerprint file;  ///< of a saving
    double at_s = 0;   ///< seconds since 1970, as written
};
struct JournalRecord {
    JournalBase base;
    std::vector<JournalEntry> entries;
    std::size_t whole_bytes = 0;  ///< up to the end of the last whole line

    /// Entries that are not in a project with this fingerprint; none when the file is neither the base nor
    /// any that was being saved.
    std::optional<std::vector<JournalEntry>> since(const Fingerprint& file) const;
};
/// Errors: those of `read_file`, `journal.damaged` for one without a sound first line.
Result<JournalRecord> read_journal(const std::filesystem::path& path);
/// Whether some process, this one included, writes a journal at present.
bool journal_is_busy(const std::filesystem::path& path);

/// Steps that the present state of a history rests on, undone ones not counted.
std::size_t steps_in_force(const std::vector<JournalEntry>& entries);

/// Does a journal's edits again, from its base on. What cannot be done again, or comes out otherwise than it
/// did, ends it there: `missing` says why.
struct Replayed {
    History history;
    std::size_t steps = 0;
    std::string missing;
};
Replayed replay(const Registry& registry, Document base, const std::vector<JournalEntry>& entries,
                const Progress& progress = {});

}  // namespace pivrak
