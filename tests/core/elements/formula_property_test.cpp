// Random rigs with formulas, followers and measures under random edits: what drives a channel gives the same
// as before, or says what became of it.
#include <gtest/gtest.h>

#include <random>

#include "core/checks/findings.h"
#include "core/io/project/project_file.h"
#include "tests/core/elements/linkages.h"

namespace pivrak {
namespace {

using namespace test;
using nlohmann::json;

class RandomRig {
public:
    explicit RandomRig(std::uint32_t seed) : random_(seed) {
        for (int i = 0; i < 8; ++i) add_joint(i);
        for (int i = 0; i < 4; ++i) add_driver(i);
    }
    Document document = empty_document();

    std::size_t pick(std::size_t count) { return random_() % count; }
    double share() { return random_() * 0x1p-32; }
    PartId part() {
        std::size_t at = pick(document.parts.size());
        for (const Part& one : document.parts)
            if (at-- == 0) return one.id;
        return {};
    }
    /// One of the edits that a person makes of a tree.
    json edit() {
        const std::uint64_t one = part().value, other = part().value;
        switch (pick(5)) {
            case 0:
                return {{"op", "part.rename"}, {"part", one}, {"name", "n" + std::to_string(random_())}};
            case 1:
                return {{"op", "tree.parent"}, {"parts", {one}}, {"under", other}};
            case 2:
                return {{"op", "part.duplicate"}, {"parts", {one}}, {"shift", {0, 0, 5}}};
            case 3:
                return {{"op", "part.mirror"}, {"parts", {one}}, {"normal", {0, 1, 0}}, {"point", {0, 9, 0}}};
            default:
                return {{"op", "part.remove"}, {"parts", {one}}};
        }
    }

private:
    void add_joint(int i) {
        const PartId parent = i % 3 ? part() : PartId{};
        const Frame rest{turn_about_axis(static_cast<int>(pick(3)), share()),
                         Vec3(share(), share(), share())};
        const PartId made = add_part(document, "p" + std::to_string(i), parent, rest);
        make_hinge(document, made, static_cast<int>(pick(3)));
        Clip clip = clip_or_first(document);
        if (i % 2)
            clip.track_or_new({made, ChannelKind::Turn}).keys = {{0, 0, Interpolation::Linear},
                                                                 {20, share(), Interpolation::Linear}};
        document.clips.set(clip);
    }
    /// What runs in a circle is refused, and not there.
    void add_driver(int i) {
        const std::uint64_t driven = part().value, one = part().value, other = part().value;
        const auto run = [&](const json& step) {
            if (auto out = make_registry().run(document, step)) document = out->document;
        };
        if (i == 0) return run({{"op", "follow.add"}, {"parts", {driven}}, {"driver", one}, {"gain", 0.5}});
        const std::string name = "m" + std::to_string(i);
        run({{"op", "measure.add"},
             {"what", i % 2 ? "twist" : "distance"},
             {"a", one},
             {"b", other},
             {"name", name}});
        json inputs{{"x", {{"part", one}, {"channel", "turn"}}},
                    {"y", {{"part", other}, {"channel", "turn"}}}};
        std::string text = "0.3 * x - 0.2 * y + 3";
        if (!document.measures.empty() && document.measures.size() % 2) {
            inputs["z"] = {{"element", name}};
            text += " + z * 2";
        }
        run({{"op", "formula.set"}, {"parts", {driven}}, {"text", text}, {"inputs", inputs}});
    }
    std::mt19937 random_;
};

/// Values of all that is driven, at a frame between keys.
std::map<ChannelRef, double> driven_values(const Document& d) {
    std::map<ChannelRef, double> values;
    const auto evaluator = Evaluator::compile(d);
    EXPECT_TRUE(evaluator.ok()) << (evaluator ? "" : evaluator.error().message);
    if (!evaluator) return values;
    Pose pose = evaluator->make_pose();
    evaluator->evaluate(7.3, pose);
    for (const double value : pose.channels) EXPECT_TRUE(std::isfinite(value));
    for (const Coupling& coupling : d.couplings)
        values[coupling.driven()] = pose.channels[*evaluator->channel_slot(coupling.driven())];
    return values;
}

bool takes_measures(const Document& d, ChannelRef driven) {
    for (const Coupling& coupling : d.couplings)
        if (const Formula* formula = coupling.as<Formula>(); formula && formula->driven == driven)
            for (const FormulaInput& input : formula->inputs)
                if (input.kind == InputKind::Channel)
                    if (!is_of_part(input.channel.kind) || takes_measures(d, input.channel)) return true;
    for (const Coupling& coupling : d.couplings)
        if (const Follow* follow = coupling.as<Follow>(); follow && follow->driven == driven)
            return takes_measures(d, follow->driver);
    return false;
}

/// Whether the edit said that something of a channel was let go, here or at what it takes.
bool told(const Outcome& out) {
    for (const std::string& message : out.messages)
        if (message.find("last value") != std::string::npos ||
            message.find("follows nothing") != std::string::npos)
            return true;
    for (const Finding& finding : check_document(out.document))
        if (finding.code == "formula.lost") return true;
    return false;
}

TEST(FormulaProperty, EditsKeepWhatFormulasGiveOrSayWhatBecameOfThem) {
    int edits = 0, removed = 0, drivers = 0;
    for (std::uint32_t seed = 1; seed <= 60; ++seed) {
        RandomRig rig(seed);
        drivers += static_cast<int>(rig.document.couplings.size());
        for (int i = 0; i < 8; ++i) {
            const json step = rig.edit();
            const Document before = rig.document;
            const auto out = make_registry().run(before, step);
            EXPECT_TRUE(rig.document == before) << "a refused or tried edit leaves the project as it was";
            if (!out) continue;
            ++edits;
            const auto was = driven_values(before), is = driven_values(out->document);
            const bool removes = step["op"] == "part.remove", hangs_anew = step["op"] == "tree.parent";
            for (const auto& [channel, value] : was) {
                if (!out->document.parts.contains(channel.part())) continue;
                const auto now = is.find(channel);
                if (now == is.end()) {
                    EXPECT_TRUE(removes && told(*out)) << seed << step.dump() << json(out->messages).dump();
                    continue;
                }
                // What is measured between parts that hang elsewhere now may be another number.
                if (hangs_anew && takes_measures(before, channel)) continue;
                if (removes && std::abs(now->second - value) > 1e-9) {
                    EXPECT_TRUE(told(*out)) << seed << step.dump();
                    ++removed;
                    continue;
                }
                EXPECT_NEAR(now->second, value, 1e-9) << seed << step.dump();
            }
            const auto read = project_from_bytes(*project_bytes(out->document), "random");
            ASSERT_TRUE(read.ok()) << read.error().message << step.dump();
            EXPECT_TRUE(*read == out->document) << seed << step.dump();
            rig.document = out->document;
            if (rig.document.parts.size() < 3 || rig.document.parts.size() > 60) break;
        }
    }
    EXPECT_GT(edits, 250);
    EXPECT_GT(drivers, 120);
    EXPECT_GT(removed, 3);
}

}  // namespace
}  // namespace pivrak
