#include "core/operations/constraints/constraint_reader.h"

#include <fmt/format.h>

#include "core/io/project/project_json.h"
#include "core/operations/channel_access.h"
#include "core/operations/keys/clip_access.h"
#include "core/operations/travel/path_access.h"
#include "core/rig/driven_by.h"
#include "core/rig/rig_facts.h"

namespace pivrak {

using nlohmann::json;

namespace {

const std::vector<std::string> signed_axes{"x", "-x", "y", "-y", "z", "-z"};

void take_axis(const Arguments& a, const char* name, int& axis, bool& against) {
    if (!a.has(name)) return;
    const std::string word = a.text(name);
    against = word.front() == '-';
    axis = word.back() - 'x';
}

/// A place on a path in place of a part.
Result<void> read_path(const Document& document, const Arguments& a, Constraint& c) {
    const bool to_world = a.values().contains("to_world") && a.flag("to_world");
    if (a.has("target") || to_world) c.path = {};
    if (a.has("path")) {
        PIVRAK_TRY(path, path_named(document, a));
        if (c.asks != Asks::Place && c.asks != Asks::Turn && c.asks != Asks::Aim)
            return Error{"constraint.path",
                         fmt::format("what {} follows no path; aim, go or turn", verb_of(c.asks)), "path"};
        c.path = path->id;
        c.target = {};
    }
    if (!a.has("along")) return {};
    const Path* path = document.paths.find(c.path);
    if (!path)
        return Error{"constraint.path", "'along' says how far along a path: name it in 'path'", "along"};
    RigFacts facts;
    PIVRAK_TRY(laid, facts.path(document, *path));
    PIVRAK_TRY(along, typed_along(a.text("along"), laid->curve.length(), document.settings.length_unit));
    c.along_m = along;
    return {};
}

}  // namespace

Result<void> read_settings(const Document& document, const Arguments& a, Constraint& c) {
    take_axis(a, "axis", c.axis, c.against);
    if (a.has("second")) {
        c.keeps_second = a.text("second") != "none";
        if (c.keeps_second) take_axis(a, "second", c.second_axis, c.second_against);
    }
    if (a.has("towards")) c.second = a.part("towards");
    if (a.has("axes")) c.in_target = a.text("axes") == "target";
    if (a.has("x")) c.not_x = !a.flag("x");
    if (a.has("y")) c.not_y = !a.flag("y");
    if (a.has("z")) c.not_z = !a.flag("z");
    if (a.has("slope")) c.slope = a.flag("slope");
    if (a.has("swings")) c.swings = a.flag("swings");
    c.length_m = a.number_if("length").value_or(c.length_m);
    c.damping = a.number_if("damping").value_or(c.damping);
    c.height_m = a.number_if("height").value_or(c.height_m);
    for (int axis = 0; axis < 3; ++axis)
        for (const bool most : {false, true}) {
            const std::string name = std::string(most ? "most_" : "least_") + "xyz"[axis];
            if (!a.has(name)) continue;
            std::erase_if(c.bounds, [&](const InsideBound& b) { return b.axis == axis && b.most == most; });
            c.bounds.push_back({axis, most, a.number(name)});
        }
    if (a.values().contains("blend") && a.has("blend")) {
        const double blend = a.number("blend");
        PIVRAK_CHECK(check_in_range(ChannelKind::Blend, blend));
        c.blend.value = blend;
    }
    PIVRAK_CHECK(read_path(document, a, c));
    if (c.keeps_second && c.second_axis == c.axis)
        return Error{
            "constraint.axes",
            fmt::format("own axis {} cannot aim and be kept besides; keep another one", axis_word(c.axis)),
            "second"};
    if (c.asks == Asks::Inside && c.bounds.empty())
        return Error{"constraint.bounds", "say at least one bound: 'least_z', 'most_x' ...", "least_z"};
    if (c.not_x && c.not_y && c.not_z)
        return Error{"constraint.nothing", "with all three switches off nothing is asked", "x"};
    if (c.length_m < 0 || c.damping < 0)
        return Error{"constraint.pendulum", "a pendulum's length and damping are not below zero", "damping"};
    if (const auto damaged = c.damaged()) return Error{"constraint.bounds", std::string(*damaged), c.name};
    const Part* ground = document.parts.find(c.target);
    if (c.asks == Asks::Rest && ground && !ground->shape)
        return Error{"constraint.ground", fmt::format("'{}' has no shape to rest on", ground->name),
                     ground->name};
    return {};
}

void read_places(const Arguments& a, const Posed& posed, Constraint& c) {
    const Frame part = posed.world(c.part), target = posed.world(c.target);
    // Places are told as things rest.
    const Frame own_rest = world_from_rest(posed.document(), c.part);
    if (const auto own = a.point_if("place")) c.place = own_rest.inverse().point(*own);
    if (const auto to = a.point_if("to"))
        c.target_place =
            (c.target ? world_from_rest(posed.document(), c.target) : Frame{}).inverse().point(*to);
    if (c.path || !a.flag("keep")) return;
    c.target_place = target.inverse().point(part.point(c.place));
    c.target_turn = (target.rotation.conjugate() * part.rotation).normalized();
}

Result<void> check_can_answer(const Document& document, const Constraint& c) {
    const Part& part = *document.parts.find(c.part);
    if (c.part == c.target || c.part == c.second)
        return Error{"constraint.itself", fmt::format("'{}' cannot be asked to follow itself", part.name),
                     part.name};
    if (part.ride || part.tow)
        return Error{"constraint.rider",
                     fmt::format("'{}' hangs where its {} puts it; put a frame below it and ask that",
                                 part.name, part.ride ? "path" : "hitch"),
                     part.name};
    if (c.asks == Asks::Plumb && c.swings && part.joint.kind == JointKind::Free)
        return Error{
            "constraint.swing",
            fmt::format("'{}' is free, and would fall; what swings hangs on a hinge or a ball", part.name),
            part.name};
    // Other constraints may ask the same; whatever else moves it does not listen.
    Document alone = document;
    for (const Constraint& other : document.constraints)
        if (other.part == c.part) alone.constraints.erase(other.id);
    const Drivers drivers(alone);
    for (const ChannelKind kind : channels_of(part.joint.kind))
        if (c.moves(part.joint.kind, kind))
            if (const auto by = drivers.name({c.part, kind}))
                return Error{
                    "constraint.driven",
                    fmt::format("'{}' is driven by '{}', which a constraint cannot change", part.name, *by),
                    part.name};
    bool answers = false;
    for (const ChannelKind kind : channels_of(part.joint.kind)) answers |= c.moves(part.joint.kind, kind);
    if (answers) return {};
    if (part.joint.kind == JointKind::Fixed)
        return Error{"constraint.fixed",
                     fmt::format("'{}' is fixed: give it a joint, which can answer", part.name), part.name};
    return Error{
        "constraint.joint",
        fmt::format("'{}' is a slide, which cannot turn; it can only be asked where it is", part.name),
        part.name};
}

namespace {

ArgumentSpec switch_argument(const char* axis, json usual) {
    return worded(
        {axis, ArgumentKind::Flag, "whether anything is asked along it", false, std::move(usual), {}},
        fmt::format("along {}", axis), "", "Asked");
}

}  // namespace

std::vector<ArgumentSpec> settings_arguments(bool on_by_default) {
    const json on = on_by_default ? json(true) : json();
    std::vector<ArgumentSpec> specs{
        worded({"target",
                ArgumentKind::Part,
                "what it follows, or the ground; none for the world",
                false,
                {},
                {}},
               "Target", "the world"),
        {"path",
         ArgumentKind::Text,
         "a place on this path in place of a part; x along it, z up",
         false,
         {},
         {}},
        worded({"along",
                ArgumentKind::Text,
                "how far along the path: a length, or a share as 25 %",
                false,
                {},
                {}},
               "So far along", "its start"),
        worded({"to", ArgumentKind::Place, "where to, on the target; its pivot when left out", false, {}, {}},
               "To the place"),
        worded({"place",
                ArgumentKind::Place,
                "the part's place that is meant; its pivot when left out",
                false,
                {},
                {}},
               "Own place"),
        worded({"keep", ArgumentKind::Flag, "keeps the offset that there is", false, false, {}},
               "keep the offset there is"),
        worded({"axis", ArgumentKind::Choice, "own axis that aims, or hangs", false, {}, signed_axes},
               "Own axis"),
        worded({"second",
                ArgumentKind::Choice,
                "own axis that is kept towards something besides",
                false,
                {},
                {"none", "x", "-x", "y", "-y", "z", "-z"}},
               "Second axis"),
        worded({"towards",
                ArgumentKind::Part,
                "what the second axis is kept towards; the world's up when left out",
                false,
                {},
                {}},
               "Kept towards", "upwards"),
        worded({"axes",
                ArgumentKind::Choice,
                "by whose axes switches and bounds go",
                false,
                {},
                {"world", "target"}},
               "By axes of"),
        switch_argument("x", on),
        switch_argument("y", on),
        switch_argument("z", on),
        worded({"height", ArgumentKind::Length, "above the ground", false, {}, {}}, "Above it", "0 mm"),
        worded({"slope",
                ArgumentKind::Flag,
                "leans with the ground, own z along its normal",
                false,
                on_by_default ? json(false) : json(),
                {}},
               "lean with the slope"),
        worded({"swings",
                ArgumentKind::Flag,
                "what hangs swings as a pendulum does",
                false,
                on_by_default ? json(false) : json(),
                {}},
               "swing as a pendulum"),
        worded({"length",
                ArgumentKind::Length,
                "of the pendulum; down to the middle of what hangs when left out",
                false,
                {},
                {}},
               "Swings on", "measured"),
        worded({"damping",
                ArgumentKind::Number,
                "of the swing: 0 never ends, 1 comes to rest without swinging",
                false,
                {},
                {}},
               "Damping", "0.05"),
        frame_argument(),
        clip_argument()};
    for (const char* axis : {"x", "y", "z"})
        for (const bool most : {false, true})
            specs.push_back(worded({fmt::format("{}_{}", most ? "most" : "least", axis),
                                    ArgumentKind::Length,
                                    fmt::format("at {} so much along {}", most ? "most" : "least", axis),
                                    false,
                                    {},
                                    {}},
                                   fmt::format("{} {}", axis, most ? "at most" : "at least"), "free",
                                   "Bounds"));
    return specs;
}

}  // namespace pivrak
