// What is measured, judged from where parts stand in the world and from figures known beforehand.
#include <gtest/gtest.h>

#include "core/checks/findings.h"
#include "core/elements/measure/measure_motion.h"
#include "core/io/project/project_file.h"
#include "core/model/element_channels.h"
#include "tests/core/elements/linkages.h"
#include "tests/support/cart.h"
#include "tests/support/jobs.h"

namespace pivrak {
namespace {

using namespace test;
using nlohmann::json;

/// A slide, a hinge on it, and a mast beside them; keyed so that all of it moves.
Document crane() {
    Document d = empty_document();
    const PartId base = add_part(d, "base", {}, {turn_about_axis(2, 0.3), Vec3(0.2, 0, 0.5)});
    const PartId jib = add_part(d, "jib", base, {turn_about_axis(0, 0.4), Vec3(0.5, 0, 0)});
    add_part(d, "mast", {}, {Quat(1, 0, 0, 0), Vec3(2, 1, 0)});
    d = run(d, {{"op", "joint.set"}, {"parts", {"base"}}, {"kind", "slide"}, {"axis", "x"}});
    make_hinge(d, jib, 2);
    for (const auto& [part, channel, frame, value] : {std::tuple("base", "shift", 0, 0.0),
                                                      {"base", "shift", 40, 1.5},
                                                      {"jib", "turn", 0, 0.0},
                                                      {"jib", "turn", 40, 2.5}})
        d = run(
            d,
            {{"op", "key.set"}, {"parts", {part}}, {"channel", channel}, {"frame", frame}, {"value", value}});
    return d;
}

Document measured(const Document& d, json step) {
    step["op"] = "measure.add";
    return run(d, step);
}

OwnerId measure_named(const Document& d, const std::string& name) {
    const auto found = find_element(d, name);
    EXPECT_TRUE(found.ok()) << name;
    return found ? *found : OwnerId{};
}

double reading(const Moved& at, const Document& d, const std::string& name) {
    const OwnerId id = measure_named(d, name);
    const Measure* measure = d.measures.find(MeasureId{id.value});
    return at.pose().channels[*at.evaluator().channel_slot({id, measure->gives()})];
}

TEST(Measure, DistancesAndAnglesAreThoseOfTheWorldAtEveryMoment) {
    Document d = crane();
    d = measured(d,
                 {{"what", "distance"}, {"a", "jib"}, {"b", "mast"}, {"b_at", {2, 1, 1.5}}, {"name", "gap"}});
    d = measured(d, {{"what", "angle"},
                     {"a", "jib"},
                     {"b", "mast"},
                     {"axis_a", "x"},
                     {"axis_b", "-z"},
                     {"name", "lean"}});
    d = measured(d, {{"what", "corner"}, {"a", "base"}, {"b", "jib"}, {"c", "mast"}, {"name", "knee"}});
    d = measured(d, {{"what", "twist"}, {"a", "base"}, {"b", "jib"}, {"axis_a", "z"}, {"name", "wound"}});
    Moved at(d);
    for (double frame = -2; frame <= 44; frame += 0.75) {
        at(frame);
        const Frame jib = at.world("jib"), base = at.world("base"), mast = at.world("mast");
        EXPECT_NEAR(reading(at, d, "gap"), (jib.translation - Vec3(2, 1, 1.5)).norm(), 1e-12) << frame;
        EXPECT_NEAR(std::cos(reading(at, d, "lean")), jib.axis(0).dot(-mast.axis(2)), 1e-12) << frame;
        const Vec3 to_base = base.translation - jib.translation, to_mast = mast.translation - jib.translation;
        EXPECT_NEAR(std::cos(reading(at, d, "knee")), to_base.dot(to_mast) / to_base.norm() / to_mast.norm(),
                    1e-12)
            << frame;
        // Of a hinge that leans by 0.4 against the axis, in closed form.
        const double turn = at.value("jib"), tilt = 0.4;
        EXPECT_NEAR(std::tan(0.5 * reading(at, d, "wound")), std::tan(0.5 * turn) * std::cos(tilt), 1e-9)
            << frame;
    }
    EXPECT_GT(std::abs(at(40).value("jib")), 2.4);
}

/// A place that goes evenly, one that goes round, and what comes to rest; in any order of asking.
TEST(Measure, SpeedIsThatOfThePlaceOverTheHalfFrameBefore) {
    Document d = empty_document();
    const PartId sled = add_part(d, "sled");
    make_hinge(d, add_part(d, "wheel", sled, {Quat(1, 0, 0, 0), Vec3(0, 0, 1)}), 1);
    d = run(d, {{"op", "joint.set"}, {"parts", {"sled"}}, {"kind", "slide"}, {"axis", "x"}});
    const auto key = [&](const char* part, const char* channel, int frame, double value) {
        d = run(d, {{"op", "key.set"},
                    {"parts", {part}},
                    {"channel", channel},
                    {"frame", frame},
                    {"value", value},
                    {"interpolation", "linear"}});
    };
    key("sled", "shift", 0, 0), key("sled", "shift", 48, 6);
    d = measured(d, {{"what", "speed"}, {"a", "sled"}, {"name", "going"}});
    const double rate = d.settings.frame_rate;
    Moved at(d);
    for (const double frame : {30.0, 4.0, 12.25, 47.5, 4.0, 20.0})
        EXPECT_NEAR(reading(at(frame), d, "going"), 6 * rate / 48, 1e-9) << frame;
    EXPECT_NEAR(reading(at(60), d, "going"), 0, 1e-9) << "at rest behind its last key";
    EXPECT_NEAR(reading(at(0), d, "going"), 0, 1e-9) << "a clip begins at rest";
    // A needle shows it, by plain arithmetic with units.
    make_hinge(d, add_part(d, "needle"), 2);
    d = run(d, {{"op", "formula.set"},
                {"parts", {"needle"}},
                {"text", "v / (10 m / 1 s) * 270 deg"},
                {"inputs", {{"v", {{"element", "going"}}}}}});
    Moved shown(d);
    EXPECT_NEAR(shown(20).value("needle") * deg_per_rad, 6 * rate / 48 / 10 * 270, 1e-9);
    // Round about the sled's axle, the chord of half a frame.
    key("sled", "shift", 48, 0);
    key("wheel", "turn", 0, 0), key("wheel", "turn", 48, 12);
    d = measured(d, {{"what", "speed"}, {"a", "wheel"}, {"a_at", {0.4, 0, 1}}, {"name", "rim"}});
    Moved round(d);
    const double step_rad = 12.0 / 48 / 2, chord = 2 * 0.4 * std::sin(step_rad / 2);
    EXPECT_NEAR(reading(round(20), d, "rim"), chord * 2 * rate, 1e-9);
    EXPECT_NEAR(reading(round(20), d, "rim"), 0.4 * 12 * rate / 48, 2e-3 * 0.4 * 12 * rate / 48);
}

TEST(Measure, OfARoundPathLengthPlaceAndBendAreKnown) {
    constexpr double radius = 2.5;
    Document d = crane();
    d = run(d, {{"op", "path.add"},
                {"name", "ring"},
                {"form", "ellipse"},
                {"centre", {0, 0, 1}},
                {"radius", radius}});
    d = measured(d, {{"what", "path length"}, {"path", {"ring"}}, {"name", "lap"}});
    d = measured(d, {{"what", "path place"}, {"path", {"ring"}}, {"a", "jib"}, {"name", "where"}});
    d = measured(d, {{"what", "path bend"}, {"path", {"ring"}}, {"a", "jib"}, {"name", "bend"}});
    Moved at(d);
    for (const double frame : {0.0, 13.5, 40.0}) {
        at(frame);
        EXPECT_NEAR(reading(at, d, "lap"), 2 * pi * radius, 1e-6);
        EXPECT_NEAR(reading(at, d, "bend"), 1 / radius, 1e-6);
        const Vec3 jib = at.world("jib").translation;
        const double round = std::atan2(jib.y(), jib.x());
        EXPECT_NEAR(std::remainder(reading(at, d, "where") / radius - round, 2 * pi), 0, 1e-6) << frame;
    }
}

TEST(Measure, TeethPitchAndRadiusAreReadFromTheShapes) {
    Document d = by_demo_job("station-brake");
    d = measured(d, {{"what", "teeth"}, {"a", "Wheel 51T"}, {"name", "teeth"}});
    d = measured(d, {{"what", "pitch"}, {"chain", {"Drive chain"}}, {"name", "pitch"}});
    Moved at(d);
    at(10);
    EXPECT_EQ(reading(at, d, "teeth"), 51);
    // Source: ISO 606, chain 16B.
    EXPECT_NEAR(reading(at, d, "pitch"), 0.0254, 1e-12);
    EXPECT_EQ(refusal(d, {{"op", "measure.add"}, {"what", "teeth"}, {"a", "Cabinet"}}).code, "measure.teeth");
}

/// A wheel by `way / radius` goes on rolling when another wheel takes its place: no number was copied.
TEST(Measure, AWheelByItsMeasuredRadiusRollsAsTheBuiltInOneAlsoWhenItIsChanged) {
    Cart cart;
    cart.key(ChannelKind::ShiftX, {{0, 0, Interpolation::Linear}, {40, 4, Interpolation::Linear}});
    const Document rolling = cart.document;
    Document typed = run(rolling, {{"op", "coupling.remove"}, {"driven", {"wheel"}}});
    typed = measured(typed, {{"what", "radius"}, {"a", "wheel"}, {"name", "r"}});
    typed =
        run(typed,
            {{"op", "formula.set"},
             {"parts", {"wheel"}},
             {"text", "way / r * 1 rad"},
             {"inputs", {{"way", {{"part", "cart"}, {"channel", "shift_x"}}}, {"r", {{"element", "r"}}}}}});
    const auto larger = [](Document d) {
        for (const Part& part : d.parts) {
            if (part.name != "wheel" && !is_below(d, part.id, named(d, "wheel"))) continue;
            const Shape* shape = d.shapes.find(part.shape);
            if (!shape) continue;
            Shape changed = *shape;
            Mesh mesh = *shape->mesh;
            for (auto& place : mesh.positions) place *= 1.25f;
            changed.mesh = std::make_shared<const Mesh>(std::move(mesh));
            d.shapes.set(changed);
            break;
        }
        return d;
    };
    double turned[2] = {0, 0};
    for (const bool change : {false, true}) {
        const Document one = change ? larger(rolling) : rolling, other = change ? larger(typed) : typed;
        Moved built_in(one), by_formula(other);
        for (double frame = 0; frame <= 40; frame += 2.5)
            EXPECT_LT(angle_between(built_in(frame).world("wheel").rotation,
                                    by_formula(frame).world("wheel").rotation),
                      1e-6)
                << frame << change;
        turned[change] = by_formula(40).value("wheel");
    }
    EXPECT_NEAR(turned[0] / turned[1], 1.25, 1e-3);
}

TEST(Measure, WhatIsRemovedLeavesItsLastValueAndSaysSo) {
    Document d = crane();
    d = measured(d, {{"what", "distance"}, {"a", "base"}, {"b", "mast"}, {"name", "gap"}});
    make_hinge(d, add_part(d, "needle"), 1);
    d = run(d, {{"op", "formula.set"},
                {"parts", {"needle"}},
                {"text", "far * 10"},
                {"inputs", {{"far", {{"element", "gap"}}}}}});
    const double before = Moved(d)(0).value("needle");
    EXPECT_NEAR(before, 10 * rad_per_deg * (Vec3(2, 1, 0) - Vec3(0.2, 0, 0.5)).norm(), 1e-9);
    for (const json& step : {json{{"op", "measure.remove"}, {"measures", {"gap"}}},
                             json{{"op", "part.remove"}, {"parts", {"mast"}}}}) {
        const auto out = make_registry().run(d, step);
        ASSERT_TRUE(out.ok()) << out.error().message;
        EXPECT_EQ(out->document.measures.size(), 0u) << step.dump();
        ASSERT_EQ(out->document.couplings.size(), 1u) << step.dump();
        EXPECT_NEAR(Moved(out->document)(0).value("needle"), before, 1e-12) << step.dump();
        bool told = false, found = false, named = false;
        for (const std::string& message : out->messages) {
            told |= message.find("'far'") != std::string::npos;
            named |= message.find("'gap'") != std::string::npos;
        }
        EXPECT_TRUE(named) << step.dump() << json(out->messages).dump();
        for (const Finding& finding : check_document(out->document)) found |= finding.code == "formula.lost";
        EXPECT_TRUE(told && found) << step.dump();
    }
    const Error held =
        refusal(d, {{"op", "channel.set"}, {"elements", {"gap"}}, {"channel", "length"}, {"value", 1}});
    EXPECT_NE(held.message.find("'gap' is measured"), std::string::npos) << held.message;
}

TEST(Measure, GoesWithFilesCopiesAndImages) {
    Document d = crane();
    d = measured(d, {{"what", "twist"}, {"a", "base"}, {"b", "jib"}, {"axis_a", "z"}, {"name", "wound"}});
    d = measured(d,
                 {{"what", "distance"}, {"a", "jib"}, {"b", "base"}, {"a_at", {1, 1, 1}}, {"name", "gap"}});
    EXPECT_TRUE(*project_from_bytes(*project_bytes(d), "measures") == d);
    Document copied = run(d, {{"op", "part.duplicate"}, {"parts", {"base"}}, {"shift", {0, 3, 0}}});
    Document image =
        run(d, {{"op", "part.mirror"}, {"parts", {"base"}}, {"normal", {0, 1, 0}}, {"point", {0, 2, 0}}});
    for (Document* twin : {&copied, &image}) {
        ASSERT_EQ(twin->measures.size(), 4u);
        std::vector<std::string> names;
        for (const Measure& measure : twin->measures) names.push_back(measure.name);
        Moved at(*twin);
        for (const double frame : {0.0, 11.5, 40.0}) {
            at(frame);
            for (std::size_t i = 0; i < 2; ++i)
                EXPECT_NEAR(reading(at, *twin, names[i]), reading(at, *twin, names[i + 2]), 1e-9)
                    << names[i + 2] << frame;
        }
        EXPECT_GT(std::abs(reading(at, *twin, names[0])), 2);
    }
}

/// A copied branch measures itself, a formula in it takes the copy's measure; what no copy has is taken by
/// both.
TEST(Measure, ACopysFormulaTakesTheCopysMeasure) {
    Document d = crane();
    make_hinge(d, add_part(d, "needle", named(d, "base"), {Quat(1, 0, 0, 0), Vec3(0, 0.3, 0)}), 1);
    d = run(
        d, {{"op", "path.add"}, {"name", "ring"}, {"form", "ellipse"}, {"centre", {0, 0, 1}}, {"radius", 2}});
    d = measured(d, {{"what", "twist"}, {"a", "base"}, {"b", "jib"}, {"axis_a", "z"}, {"name", "wound"}});
    d = measured(d, {{"what", "path length"}, {"path", {"ring"}}, {"name", "lap"}});
    d = run(d, {{"op", "formula.set"},
                {"parts", {"needle"}},
                {"text", "turned + lap * 1 deg / 1 m"},
                {"inputs", {{"turned", {{"element", "wound"}}}, {"lap", {{"element", "lap"}}}}}});
    d = run(d, {{"op", "part.duplicate"}, {"parts", {"base"}}, {"shift", {0, 3, 0}}});
    EXPECT_EQ(d.measures.size(), 3u) << "there is one path, and one lap";
    EXPECT_TRUE(*project_from_bytes(*project_bytes(d), "needles") == d);
    std::vector<const Formula*> formulas;
    for (const Coupling& coupling : d.couplings) formulas.push_back(coupling.as<Formula>());
    ASSERT_EQ(formulas.size(), 2u);
    const auto taken = [&](const Formula& formula, std::size_t input) {
        return formula.inputs[input].channel.owner;
    };
    for (std::size_t input = 0; input < 2; ++input) {
        const bool is_lap = formulas[0]->inputs[input].name == "lap";
        EXPECT_EQ(taken(*formulas[0], input) == taken(*formulas[1], input), is_lap);
    }
}

/// A project that takes what is not there is told, not opened with less in it.
TEST(Measure, AFileWhoseMeasureIsGoneIsToldDamaged) {
    Document d = crane();
    d = measured(d, {{"what", "twist"}, {"a", "base"}, {"b", "jib"}, {"name", "wound"}});
    make_hinge(d, add_part(d, "needle"), 1);
    d = run(d, {{"op", "formula.set"},
                {"parts", {"needle"}},
                {"text", "turned"},
                {"inputs", {{"turned", {{"element", "wound"}}}}}});
    d.measures.erase(d.measures.begin()->id);
    const auto read = project_from_bytes(*project_bytes(d), "needles");
    ASSERT_FALSE(read.ok());
    EXPECT_NE(read.error().message.find("takes a channel of an element that does not exist"),
              std::string::npos)
        << read.error().message;
}

/// Places that fall together have no angle: it reads as nothing, never as no number, and what divides by it
/// stands as by hand.
TEST(Measure, WhatCannotBeMeasuredIsNeverNoNumber) {
    Document d = crane();
    add_part(d, "post", {}, {Quat(1, 0, 0, 0), Vec3(3, 0, 0)});
    add_part(d, "twin", {}, {Quat(1, 0, 0, 0), Vec3(0.2, 0, 0.5)});  // where the base is at frame 0
    d = measured(d, {{"what", "corner"}, {"a", "base"}, {"b", "twin"}, {"c", "post"}, {"name", "bend"}});
    d = measured(d, {{"what", "distance"}, {"a", "base"}, {"b", "twin"}, {"name", "none"}});
    for (const char* name : {"bend", "none"}) {
        const Document asked = run(d, {{"op", "formula.set"},
                                       {"parts", {"jib"}},
                                       {"inputs", {{"gap", {{"element", name}}}}},
                                       {"text", "1 / gap"}});
        Moved at(asked);
        for (const double frame : {0.0, 20.0, 40.0}) {
            if (frame == 0) EXPECT_EQ(reading(at(frame), asked, name), 0);
            for (const double value : at(frame).pose().channels) EXPECT_TRUE(std::isfinite(value)) << name;
            EXPECT_TRUE(at(frame).world("jib").rotation.coeffs().allFinite()) << name;
        }
    }
}

TEST(Measure, CirclesAndNonsenseAreRefusedByName) {
    Document d = crane();
    d = measured(d,
                 {{"what", "distance"}, {"a", "jib"}, {"b", "mast"}, {"a_at", {1, 1, 1}}, {"name", "gap"}});
    const Error circle = refusal(d, {{"op", "formula.set"},
                                     {"parts", {"jib"}},
                                     {"text", "far * 10"},
                                     {"inputs", {{"far", {{"element", "gap"}}}}}});
    EXPECT_NE(circle.message.find("gap"), std::string::npos) << circle.message;
    EXPECT_EQ(refusal(d, {{"op", "measure.add"}, {"what", "distance"}, {"a", "jib"}}).code,
              "argument.missing");
    EXPECT_EQ(refusal(d, {{"op", "measure.add"}, {"what", "distance"}, {"a", "jib"}, {"b", "jib"}}).code,
              "measure.itself");
    EXPECT_EQ(refusal(d, {{"op", "measure.add"}, {"what", "radius"}, {"a", "mast"}}).code, "measure.wheel");
    EXPECT_EQ(refusal(d, {{"op", "measure.add"}, {"what", "path length"}, {"path", {"gap"}}}).code,
              "path.unknown");
}

/// Against the distance of boxes and of a corner from a face, by hand; and from the places it names.
TEST(Measure, ClearanceIsTheLeastDistanceOfTwoSurfacesWithAllThatIsFixedToThem) {
    Document d = empty_document();
    const PartId ram = add_shaped(d, "ram", box({-0.1, -0.1, -0.1}, {0.1, 0.1, 0.1}), {},
                                  {Quat(1, 0, 0, 0), Vec3(-1, 0, 0)});
    const PartId nose = add_shaped(d, "nose", box({0, -0.02, -0.02}, {0.05, 0.02, 0.02}), ram,
                                   {Quat(1, 0, 0, 0), Vec3(0.1, 0, 0)});
    EXPECT_TRUE(nose);
    add_shaped(d, "door", box({0, -0.5, -0.5}, {0.1, 0.5, 0.5}));
    add_part(d, "point");
    d = run(d, {{"op", "joint.set"}, {"parts", {"ram"}}, {"kind", "slide"}, {"axis", "x"}});
    make_hinge(d, named(d, "door"), 2);
    d = measured(d, {{"what", "clearance"}, {"a", "ram"}, {"b", "door"}, {"name", "gap"}});
    EXPECT_EQ(refusal(d, {{"op", "measure.add"}, {"what", "clearance"}, {"a", "ram"}, {"b", "point"}}).code,
              "measure.shape");
    for (const auto& [frame, value] : {std::pair(0, 0.0), {10, 0.8}, {20, 0.9}})
        d = run(d, {{"op", "key.set"},
                    {"parts", {"ram"}},
                    {"channel", "shift"},
                    {"frame", frame},
                    {"value", value},
                    {"interpolation", "linear"}});
    Moved at(d);
    for (double frame = 0; frame <= 20; frame += 0.5) {
        at(frame);
        const double by_hand = std::max(0.0, 0.85 - at.value("ram", ChannelKind::Shift));
        EXPECT_NEAR(reading(at, d, "gap"), by_hand, 1e-7) << frame;
        const Measure& gap = *d.measures.begin();
        const auto marks = measure_marks(d, at.evaluator(), at.pose(), gap);
        ASSERT_TRUE(marks.has_value());
        EXPECT_NEAR((marks->to - marks->from).norm(), by_hand, 1e-7) << frame;
        if (by_hand > 0) EXPECT_NEAR(marks->to.x(), 0, 1e-7);
        if (by_hand > 0) EXPECT_NEAR(marks->from.x(), -by_hand, 1e-7);
    }
    // A door ajar: its edge comes towards the ram. And a machine grown twice as large measures twice as much.
    const Document ajar = run(d, {{"op", "channel.set"}, {"parts", {"door"}}, {"value", "30 deg"}});
    Moved turned_door(ajar);
    const Frame door = turned_door(0).world("door");
    double least = 1e9;
    for (double y = -0.5; y <= 0.5; y += 1e-4)
        for (const double x : {0.0, 0.1}) {
            const Vec3 on_door = door.point({x, y, 0});
            const double ahead = std::max({-1.1 - on_door.x(), on_door.x() - -0.9, 0.0}),
                         beside = std::max(0.0, std::abs(on_door.y()) - 0.1);
            const double nose_ahead = std::max(0.0, on_door.x() - -0.85),
                         nose_beside = std::max(0.0, std::abs(on_door.y()) - 0.02);
            least = std::min({least, std::hypot(ahead, beside), std::hypot(nose_ahead, nose_beside)});
        }
    EXPECT_NEAR(reading(turned_door, ajar, "gap"), least, 1e-4);
    Document grown = run(d, {{"op", "joint.size"}, {"parts", {"door"}}});
    grown = run(grown, {{"op", "channel.set"}, {"parts", {"door"}}, {"channel", "size"}, {"value", 1.5}});
    Moved large(grown);
    EXPECT_NEAR(reading(large(0), grown, "gap"), 0.85, 1e-7) << "its face stays in its hinge's plane";
    grown = run(grown, {{"op", "channel.set"}, {"parts", {"door"}}, {"value", "180 deg"}});
    Moved far_side(grown);
    EXPECT_NEAR(reading(far_side(0), grown, "gap"), 0.85 - 0.15, 1e-6) << "and its back comes nearer";
}

/// What is measured of shapes and paths is sorted with all else, also where only the order is looked at.
TEST(Measure, ACircleThroughAClearanceOrAPlaceOnAPathIsRefusedByName) {
    Document d = empty_document();
    add_shaped(d, "ram", box({-0.1, -0.1, -0.1}, {0.1, 0.1, 0.1}), {}, {Quat(1, 0, 0, 0), Vec3(-1, 0, 0)});
    add_shaped(d, "door", box({0, -0.5, -0.5}, {0.1, 0.5, 0.5}));
    d = run(d, {{"op", "joint.set"}, {"parts", {"ram"}}, {"kind", "slide"}, {"axis", "x"}});
    d = run(d, {{"op", "path.add"}, {"name", "way"}, {"points", {{0, 0, 0}, {1, 0, 0}, {2, 1, 0}}}});
    d = measured(d, {{"what", "clearance"}, {"a", "ram"}, {"b", "door"}, {"name", "gap"}});
    d = measured(d, {{"what", "path place"}, {"a", "ram"}, {"path", {"way"}}, {"name", "gone"}});
    for (const char* name : {"gap", "gone"}) {
        const Error circle = refusal(d, {{"op", "formula.set"},
                                         {"parts", {"ram"}},
                                         {"inputs", {{"x", {{"element", name}}}}},
                                         {"text", "x / 2"}});
        EXPECT_EQ(circle.code, "rig.loop") << circle.message;
        EXPECT_NE(circle.message.find(name), std::string::npos) << circle.message;
    }
}

}  // namespace
}  // namespace pivrak
