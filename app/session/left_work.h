#pragma once

#include "core/operations/journal.h"

namespace pivrak {

/// What a journal brings back.
struct LeftWork {
    Replayed replayed{History(empty_document()), 0, ""};
    JournalBase base;
    Fingerprint file;  ///< of the project that it was made on
};

/// Reads a journal and does its edits again on what they were made on. Errors: those of reading it and its
/// project; `journal.base` when that was changed elsewhere since.
Result<LeftWork> read_left_work(const Registry& registry, const std::filesystem::path& journal,
                                const Progress& progress);

}  // namespace pivrak
