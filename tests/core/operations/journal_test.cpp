#include "core/operations/journal.h"

#include <fcntl.h>
#include <gtest/gtest.h>
#include <sys/wait.h>
#include <unistd.h>

#include <csignal>
#include <fstream>
#include <random>

#include "core/io/atomic_file.h"
#include "core/io/project/project_file.h"
#include "tests/support/documents.h"
#include "tests/support/temp_folder.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::TempFolder;

json step_number(int i) {
    return {{"op", "datum.add"}, {"name", "datum " + std::to_string(i)}, {"place", {0.1 * i, 0.0, 0.0}}};
}

/// A project after so many steps, and its bytes.
Document after(const Registry& registry, int steps) {
    Document d = empty_document();
    for (int i = 0; i < steps; ++i) d = registry.run(d, step_number(i))->document;
    return d;
}

TEST(Journal, StepsUndosAndRedosComeBack) {
    TempFolder folder;
    const Registry registry = make_registry();
    History history(empty_document());
    {
        auto journal = Journal::begin(folder / "a.journal", {});
        ASSERT_TRUE(journal.ok()) << journal.error().message;
        EXPECT_TRUE(journal_is_busy(folder / "a.journal"));
        EXPECT_EQ(Journal::go_on(folder / "a.journal").error().code, "journal.busy");
        for (int i = 0; i < 5; ++i) {
            auto outcome = registry.run(history.document(), step_number(i));
            history.push(outcome->document, "Datum", step_number(i));
            ASSERT_TRUE(journal->step(step_number(i), "Datum", outcome->document.next_id).ok());
        }
        for (int i = 0; i < 3; ++i, history.undo()) ASSERT_TRUE(journal->undo().ok());
        ASSERT_TRUE(journal->redo().ok());
        history.redo();
        ASSERT_TRUE(journal->sync().ok());
    }
    EXPECT_FALSE(journal_is_busy(folder / "a.journal"));
    const auto record = read_journal(folder / "a.journal");
    ASSERT_TRUE(record.ok());
    EXPECT_EQ(steps_in_force(record->entries), 3u);
    const Replayed again = replay(registry, empty_document(), record->entries);
    EXPECT_EQ(again.missing, "");
    EXPECT_TRUE(again.history.document() == history.document());
    EXPECT_TRUE(again.history.can_redo());
}

TEST(Journal, ATornLastLineIsNoDamageAndIsCutOff) {
    TempFolder folder;
    const Registry registry = make_registry();
    {
        auto journal = Journal::begin(folder / "a.journal", {});
        for (int i = 0; i < 3; ++i)
            ASSERT_TRUE(journal->step(step_number(i), "Datum", after(registry, i + 1).next_id).ok());
    }
    const std::string whole = *read_file(folder / "a.journal");
    const std::size_t last = whole.rfind('\n', whole.size() - 2) + 1;
    for (std::size_t size = last; size < whole.size(); size += 7) {
        folder.write("a.journal", whole.substr(0, size));
        EXPECT_EQ(read_journal(folder / "a.journal")->entries.size(), 2u);
    }
    auto journal = Journal::go_on(folder / "a.journal");
    ASSERT_TRUE(journal.ok());
    ASSERT_TRUE(journal->step(step_number(2), "Datum", after(registry, 3).next_id).ok());
    const auto record = read_journal(folder / "a.journal");
    EXPECT_TRUE(replay(registry, empty_document(), record->entries).history.document() == after(registry, 3));
    folder.write("b.journal", "something else\n");
    EXPECT_EQ(read_journal(folder / "b.journal").error().code, "journal.damaged");
}

TEST(Journal, WhatComesOutOtherwiseEndsIt) {
    const Registry registry = make_registry();
    std::vector<JournalEntry> entries(3);
    for (int i = 0; i < 3; ++i) {
        entries[static_cast<std::size_t>(i)].step = step_number(i);
        entries[static_cast<std::size_t>(i)].title = "Datum";
        entries[static_cast<std::size_t>(i)].next_id = after(registry, i + 1).next_id + (i == 2 ? 1 : 0);
    }
    const Replayed other = replay(registry, empty_document(), entries);
    EXPECT_EQ(other.steps, 2u);
    EXPECT_NE(other.missing.find("gives another result"), std::string::npos) << other.missing;
    entries[1].step = {{"op", "part.remove"}, {"parts", {"nobody"}}};
    const Replayed refused = replay(registry, empty_document(), entries);
    EXPECT_EQ(refused.steps, 1u);
    EXPECT_NE(refused.missing.find("nobody"), std::string::npos) << refused.missing;
}

/// Edits and saves as a window does them, and tells each that is done through a pipe, until it is killed.
[[noreturn]] void edit_until_killed(const std::filesystem::path& project, const std::filesystem::path& path,
                                    int done) {
    const Registry registry = make_registry();
    Document d = empty_document();
    auto journal = Journal::begin(path, {project, {}});
    for (int i = 0; journal.ok(); ++i) {
        d = registry.run(d, step_number(i))->document;
        if (!journal->step(step_number(i), "Datum", d.next_id)) break;
        if (::write(done, &i, sizeof i) != sizeof i) break;
        if (i % 3 != 2) continue;
        const std::string bytes = *project_bytes(d);
        if (!journal->saving(fingerprint(bytes)) || !write_file_atomically(project, bytes)) break;
        // As after a save: a journal of its own from there.
        auto next = Journal::begin(path.string() + ".next", {project, fingerprint(bytes)});
        if (!next) break;
        std::filesystem::rename(path.string() + ".next", path);
        journal = std::move(next);
    }
    ::_exit(1);
}

TEST(Journal, TwoHundredKillsLoseNothing) {
    const Registry registry = make_registry();
    std::mt19937 random(11);
    std::vector<std::string> names;
    int most = 0, saved = 0;
    for (int round = 0; round < 200; ++round) {
        TempFolder folder;
        const std::filesystem::path project = folder / "work.pivrak.glb", path = folder / "work.journal";
        int ends[2];
        ASSERT_EQ(::pipe(ends), 0);
        const pid_t child = ::fork();
        ASSERT_GE(child, 0);
        if (child == 0) {
            ::close(ends[0]);
            edit_until_killed(project, path, ends[1]);
        }
        ::close(ends[1]);
        // At some moment after some step, however fast or slow this machine is.
        int told = -1, last = -1;
        const int wanted = 1 + static_cast<int>(random() % 14);
        for (int i = 0; i < wanted && ::read(ends[0], &told, sizeof told) == sizeof told; ++i) last = told;
        ::usleep(random() % 4000);
        ::kill(child, SIGKILL);
        int status = 0;
        ::waitpid(child, &status, 0);
        ASSERT_TRUE(WIFSIGNALED(status)) << "it was killed, and did not end by itself";
        while (::read(ends[0], &told, sizeof told) == sizeof told) last = told;
        ::close(ends[0]);
        if (last < 0) continue;
        most = std::max(most, last);
        // The file is whole, whenever it was: the old one or the new one.
        Document base = empty_document();
        Fingerprint file;
        if (std::filesystem::exists(project)) {
            const std::string bytes = *read_file(project);
            const auto opened = project_from_bytes(bytes, "work.pivrak.glb");
            ASSERT_TRUE(opened.ok()) << opened.error().message;
            base = *opened;
            file = fingerprint(bytes);
            ++saved;
        }
        const auto record = read_journal(path);
        ASSERT_TRUE(record.ok()) << record.error().message;
        const auto entries = record->since(file);
        ASSERT_TRUE(entries.has_value()) << "round " << round;
        const Replayed back = replay(registry, base, *entries);
        EXPECT_EQ(back.missing, "");
        const auto parts = static_cast<int>(back.history.document().parts.size());
        EXPECT_GE(parts, last + 1) << "round " << round << ": a step that was told is lost";
        EXPECT_TRUE(back.history.document() == after(registry, parts)) << "round " << round;
    }
    EXPECT_GT(most, 5);
    EXPECT_GT(saved, 50);
}

}  // namespace
}  // namespace pivrak
