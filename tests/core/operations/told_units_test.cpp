// Whatever a step answers or refuses, it tells lengths in the project's unit.
#include <gtest/gtest.h>

#include <regex>

#include "core/checks/findings.h"
#include "core/operations/registry.h"
#include "tests/support/documents.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::refusal;

/// Two boxes, one on a slide that may go from 1 m to 3 m, and a path, in a project of millimetres.
Document in_millimetres() {
    Document d = empty_document();
    d.settings.length_unit = LengthUnit::Millimetre;
    test::add_shaped(d, "bed", with_normals(test::box({0, 0, 0}, {4, 1, 1})));
    test::add_shaped(d, "slide", with_normals(test::box({2, 2, 0}, {3, 3, 1})));
    d = test::run(d, {{"op", "joint.set"},
                      {"parts", {"slide"}},
                      {"kind", "slide"},
                      {"axis", "x"},
                      {"channel", "shift"},
                      {"min", "1 m"},
                      {"max", "3 m"}});
    return test::run(d, {{"op", "path.add"}, {"name", "way"}, {"points", {{0, 0, 0}, {9, 0, 0}}}});
}

bool tells_metres(const std::string& words) {
    return std::regex_search(words, std::regex("[0-9] m\\b"));
}

TEST(ToldUnits, RefusalsTellTheProjectsUnit) {
    const Document d = in_millimetres();
    const auto stand_in = [](json measures) {
        measures["op"] = "stand_in.add";
        return measures;
    };
    for (const auto& [step, words] : std::vector<std::pair<json, std::string>>{
             {stand_in({{"kind", "tube"}, {"diameter", 2}, {"bore", 3}, {"length", 1}}), "3000.0 mm"},
             {stand_in({{"kind", "wheel"}, {"diameter", 2}, {"rim", 1.99}, {"width", 1}}), "1990.0 mm"},
             {stand_in({{"kind", "box"}, {"length", -1.5}, {"width", 1}, {"height", 1}}), "-1500.0 mm"},
             {stand_in({{"kind", "ring gear"}, {"teeth", 300}, {"module", 0.01}, {"diameter", 2}}),
              "2000.0 mm"},
             {{{"op", "joint.set"}, {"parts", {"slide"}}, {"channel", "shift"}, {"min", "5 m"}}, "5000.0 mm"},
             {{{"op", "model.stand"}, {"length", -2}}, "-2000.0 mm"},
             {{{"op", "split.pieces"}, {"parts", {"bed"}}, {"weld", -2}}, "-2000.0 mm"},
             {{{"op", "part.repeat_path"}, {"parts", {"slide"}}, {"path", "way"}, {"spacing", 20}},
              "20000.0 mm"}}) {
        const Error error = refusal(d, step);
        EXPECT_NE(error.message.find(words), std::string::npos) << step.dump() << ": " << error.message;
        EXPECT_FALSE(tells_metres(error.message)) << error.message;
    }
}

TEST(ToldUnits, AnswersAndFindingsTellTheProjectsUnit) {
    Document d = in_millimetres();
    const Registry registry = make_registry();
    const auto told = [&](const json& step) {
        const auto out = registry.run(d, step);
        EXPECT_TRUE(out.ok()) << step.dump() << (out.ok() ? "" : out.error().message);
        if (!out) return std::string();
        d = out->document;
        std::string words;
        for (const std::string& message : out->messages) words += message + "; ";
        EXPECT_FALSE(tells_metres(words)) << words;
        return words;
    };
    const auto has = [](const std::string& words, const char* part) {
        return words.find(part) != std::string::npos;
    };
    EXPECT_TRUE(
        has(told({{"op", "channel.set"}, {"parts", {"slide"}}, {"channel", "shift"}, {"value", "7 m"}}),
            "3000.0 mm"));
    EXPECT_TRUE(has(
        told({{"op", "key.set"}, {"parts", {"slide"}}, {"channel", "shift"}, {"frame", 1}, {"value", "2 m"}}),
        "2000.0 mm"));
    EXPECT_TRUE(
        has(told({{"op", "measure.add"}, {"what", "distance"}, {"a", "bed"}, {"b", "slide"}}), " mm"));
    told({{"op", "part.recognise"}, {"parts", {"bed", "slide"}}});
    told({{"op", "joint.set"}, {"parts", {"slide"}}, {"channel", "shift"}, {"max", "1.5 m"}});
    bool keyed = false;
    for (const Finding& finding : check_document(d)) {
        EXPECT_FALSE(tells_metres(finding.message)) << finding.message;
        keyed |= finding.code == "keys.limit" && has(finding.message, "1000.0 mm to 1500.0 mm");
    }
    EXPECT_TRUE(keyed);
}

}  // namespace
}  // namespace pivrak
