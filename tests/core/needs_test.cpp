// The table of needs names what there is.
#include <gtest/gtest.h>

#include <filesystem>
#include <fstream>
#include <regex>
#include <set>

#include "core/operations/registry.h"

namespace pivrak {
namespace {

const std::filesystem::path sources = std::filesystem::path(DEMO_MODELS) / ".." / "..";

std::string text_of_file(const std::filesystem::path& path) {
    std::ifstream stream(path);
    return {std::istreambuf_iterator<char>(stream), {}};
}

/// As they are written: a test that is built for the window is none of this program's.
std::set<std::string> tests_in_sources() {
    std::set<std::string> names;
    const std::regex test(R"((?:^|\n)TEST(?:_F|_P)?\((\w+),\s*(\w+)\))");
    for (const auto& entry : std::filesystem::recursive_directory_iterator(sources / "tests")) {
        if (entry.path().extension() != ".cpp") continue;
        const std::string text = text_of_file(entry.path());
        for (std::sregex_iterator at(text.begin(), text.end(), test), end; at != end; ++at)
            names.insert((*at)[1].str() + "." + (*at)[2].str());
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
    const std::regex name("`([^`]+)`");
    for (std::sregex_iterator at(cell.begin(), cell.end(), name), end; at != end; ++at)
        names.push_back((*at)[1]);
    return names;
}

TEST(Needs, NamesOnlyWhatThereIs) {
    const std::set<std::string> tests = tests_in_sources();
    std::set<std::string> operations;
    for (const Operation& operation : make_registry().all()) operations.insert(operation.name);
    std::stringstream table(text_of_file(sources / "docs" / "needs.md"));
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
