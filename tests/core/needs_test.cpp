// The table of needs names what there is.
#include <gtest/gtest.h>

#include <filesystem>
#include <fstream>
#include <set>
#include <sstream>

#include "core/operations/registry.h"

namespace pivrak {
namespace {

const std::filesystem::path sources = std::filesystem::path(DEMO_MODELS) / ".." / "..";

/// As they are written: a test that is built for the window is none of this program's. Names stand on the
/// line of their macro.
std::set<std::string> tests_in_sources() {
    std::set<std::string> names;
    for (const auto& entry : std::filesystem::recursive_directory_iterator(sources / "tests")) {
        if (entry.path().extension() != ".cpp") continue;
        std::ifstream stream(entry.path());
        for (std::string line; std::getline(stream, line);) {
            const auto open = line.find('('), comma = line.find(", "), close = line.find(')');
            if (!line.starts_with("TEST") || comma == std::string::npos || close == std::string::npos ||
                comma > close)
                continue;
            names.insert(line.substr(open + 1, comma - open - 1) + "." +
                         line.substr(comma + 2, close - comma - 2));
        }
    }
    return names;
}

/// The cells of a row; none for a line that is no row of needs.
std::vector<std::string> cells_of(const std::string& line) {
    std::vector<std::string> cells;
    std::stringstream rest(line);
    for (std::string cell; std::getline(rest, cell, '|');) {
        while (!cell.empty() && cell.front() == ' ') cell.erase(0, 1);
        while (!cell.empty() && cell.back() == ' ') cell.pop_back();
        cells.push_back(cell);
    }
    return cells;
}

std::vector<std::string> quoted(const std::string& cell) {
    std::vector<std::string> names;
    for (auto at = cell.find('`'); at != std::string::npos; at = cell.find('`', at)) {
        const auto end = cell.find('`', at + 1);
        if (end == std::string::npos) break;
        names.push_back(cell.substr(at + 1, end - at - 1));
        at = end + 1;
    }
    return names;
}

TEST(Needs, NamesOnlyWhatThereIs) {
    const std::set<std::string> tests = tests_in_sources();
    std::set<std::string> operations;
    const Registry registry = make_registry();
    for (const Operation& operation : registry.all()) operations.insert(operation.name);
    std::ifstream table(sources / "docs" / "needs.md");
    std::size_t rows = 0;
    for (std::string line; std::getline(table, line);) {
        const auto cells = cells_of(line);
        if (cells.size() != 6 || cells[1].empty() || cells[1].front() == '-') continue;
        ++rows;
        for (const std::string& name : quoted(cells[4])) EXPECT_TRUE(operations.contains(name)) << line;
        const auto held_by = quoted(cells[5]);
        for (const std::string& name : held_by) EXPECT_TRUE(tests.contains(name)) << line;
        EXPECT_EQ(held_by.empty(), cells[3] == "missing") << "what is there has a test: " << line;
    }
    EXPECT_GT(rows, 100u);
}

}  // namespace
}  // namespace pivrak
