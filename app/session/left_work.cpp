#include "app/session/left_work.h"

#include "core/io/atomic_file.h"
#include "core/io/project/project_file.h"

namespace pivrak {

Result<LeftWork> read_left_work(const Registry& registry, const std::filesystem::path& path,
                                const Progress& progress) {
    PIVRAK_TRY(record, read_journal(path));
    LeftWork back;
    back.base = record.base;
    Document base = empty_document();
    std::vector<JournalEntry> entries = record.entries;
    if (!record.base.project.empty()) {
        PIVRAK_TRY(bytes, read_file(record.base.project));
        back.file = fingerprint(bytes);
        if (record.base.snapshot.empty()) {
            const auto since = record.since(back.file);
            if (!since)
                return Error{"journal.base",
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
    back.replayed = replay(registry, std::move(base), entries, progress);
    return back;
}

}  // namespace pivrak
