#include "core/io/rig_json.h"

#include <array>

#include "core/io/json_fields.h"
#include "core/io/project_json.h"
#include "core/rig/chain_builder.h"

namespace pivrak {

using nlohmann::json;
using namespace fields;

namespace {

constexpr std::array<std::string_view, 4> path_form_words{"polyline", "smooth", "bezier", "ellipse"};
constexpr std::array<std::string_view, 8> pair_words{"outside", "inside", "rack",         "worm",
                                                     "bevel",   "belt",   "crossed_belt", "screw"};
constexpr std::array<std::string_view, 4> upright_words{"world", "path", "bank", "plumb"};

template <class T, std::size_t n>
std::optional<T> value_of(const std::array<std::string_view, n>& words, std::string_view text) {
    for (std::size_t i = 0; i < n; ++i)
        if (words[i] == text) return static_cast<T>(i);
    return std::nullopt;
}

void put_part(json& out, const char* key, PartId part) {
    if (part) out[key] = part.value;
}

ChannelKind kind_at(const json& entry, const char* key) {
    const auto kind = channel_kind_from(entry.value(key, "turn"));
    if (!kind) throw Damage{"a coupling has an unknown channel"};
    return *kind;
}

int axis_at(const json& entry, const char* key, int fallback) {
    if (!entry.contains(key)) return fallback;
    const auto axis = axis_from(entry.at(key).get<std::string>());
    if (!axis) throw Damage{"an axis has an unknown name"};
    return *axis;
}

double number_at(const json& entry, const char* key, double fallback) {
    return entry.contains(key) ? finite(entry.at(key)) : fallback;
}

}  // namespace

std::string_view word(PathForm form) {
    return path_form_words[static_cast<std::size_t>(form)];
}
std::string_view word(Upright upright) {
    return upright_words[static_cast<std::size_t>(upright)];
}
std::string_view word(PairKind kind) {
    return pair_words[static_cast<std::size_t>(kind)];
}
std::optional<PairKind> pair_kind_from(std::string_view text) {
    return value_of<PairKind>(pair_words, text);
}
std::optional<PathForm> path_form_from(std::string_view text) {
    return value_of<PathForm>(path_form_words, text);
}
std::optional<Upright> upright_from(std::string_view text) {
    return value_of<Upright>(upright_words, text);
}

json coupling_to_json(const Coupling& coupling) {
    json out{{"id", coupling.id.value}, {"driven", coupling.driven().part.value}};
    if (coupling.driven().kind != ChannelKind::Turn) out["driven_channel"] = word(coupling.driven().kind);
    if (const GearPair* gear = coupling.gear()) {
        out.update({{"kind", "gear"},
                    {"driver", gear->driver.part.value},
                    {"driver_teeth", gear->driver_teeth},
                    {"driven_teeth", gear->driven_teeth},
                    {"phase", gear->phase},
                    {"phase_measured", gear->phase_measured}});
        if (gear->driver.kind != ChannelKind::Turn) out["driver_channel"] = word(gear->driver.kind);
        if (gear->kind != PairKind::Outside) out["pair"] = word(gear->kind);
        if (gear->driver_radius_m != 0) out["driver_radius_m"] = gear->driver_radius_m;
        if (gear->driven_radius_m != 0) out["driven_radius_m"] = gear->driven_radius_m;
        if (gear->lead_m != 0) out["lead_m"] = gear->lead_m;
        if (gear->left_hand) out["left_hand"] = true;
    } else if (const Roll* roll = coupling.roll()) {
        out["kind"] = "roll";
        put_part(out, "rider", roll->rider);
        out["radius_m"] = roll->radius_m;
        out["slip"] = roll->slip;
        put_part(out, "like", roll->like);
    } else if (const Steer* steer = coupling.steer()) {
        out.update({{"kind", "steer"},
                    {"driver", steer->driver.part.value},
                    {"driver_channel", word(steer->driver.kind)},
                    {"reference_m", steer->reference_m},
                    {"forward_m", steer->forward_m},
                    {"left_m", steer->left_m}});
        put_part(out, "rider", steer->rider);
    } else if (const Lean* lean = coupling.lean()) {
        out["kind"] = "lean";
        out["wheel"] = lean->wheel.value;
        put_part(out, "ground", lean->ground);
    }
    return out;
}

Coupling coupling_from_json(const json& entry) {
    Coupling coupling;
    coupling.id = id_of<CouplingId>(entry);
    const ChannelRef driven{id_of<PartId>(entry, "driven"), kind_at(entry, "driven_channel")};
    const std::string kind = entry.at("kind").get<std::string>();
    if (kind == "gear") {
        GearPair gear;
        gear.driver = {id_of<PartId>(entry, "driver"), kind_at(entry, "driver_channel")};
        const auto pair = pair_kind_from(entry.value("pair", "outside"));
        if (!pair) throw Damage{"a gear pair has an unknown kind"};
        gear.kind = *pair;
        gear.driver_radius_m = number_at(entry, "driver_radius_m", 0);
        gear.driven_radius_m = number_at(entry, "driven_radius_m", 0);
        gear.lead_m = number_at(entry, "lead_m", 0);
        gear.left_hand = entry.value("left_hand", false);
        if (gear.driver_radius_m < 0 || gear.driven_radius_m < 0 || gear.lead_m < 0)
            throw Damage{"a gear pair has a size below zero"};
        gear.driven = driven;
        gear.driver_teeth = whole<int>(entry.at("driver_teeth"));
        gear.driven_teeth = whole<int>(entry.at("driven_teeth"));
        if (gear.driver_teeth < 1 || gear.driven_teeth < 1) throw Damage{"a gear has no teeth"};
        // Earlier files name it by its unit.
        gear.phase = number_at(entry, "phase", number_at(entry, "phase_rad", 0));
        gear.phase_measured = entry.at("phase_measured").get<bool>();
        coupling.what = gear;
    } else if (kind == "roll") {
        const Roll roll{driven, id_if<PartId>(entry, "rider"), number_at(entry, "radius_m", 0),
                        number_at(entry, "slip", 0), id_if<PartId>(entry, "like")};
        if (roll.radius_m < 0) throw Damage{"a rolling wheel has a radius below zero"};
        coupling.what = roll;
    } else if (kind == "steer") {
        coupling.what = Steer{{id_of<PartId>(entry, "driver"), kind_at(entry, "driver_channel")},
                              driven,
                              finite(entry.at("reference_m")),
                              finite(entry.at("forward_m")),
                              finite(entry.at("left_m")),
                              id_if<PartId>(entry, "rider")};
    } else if (kind == "lean") {
        coupling.what = Lean{driven, id_of<PartId>(entry, "wheel"), id_if<PartId>(entry, "ground")};
    } else {
        throw Damage{"a coupling has an unknown kind"};
    }
    return coupling;
}

json path_to_json(const Path& path) {
    json points = json::array();
    for (const PathPoint& point : path.points) {
        json one{{"place", vec_to_json(point.place)}};
        if (point.before != Vec3(0, 0, 0)) one["before"] = vec_to_json(point.before);
        if (point.after != Vec3(0, 0, 0)) one["after"] = vec_to_json(point.after);
        points.push_back(one);
    }
    json out{{"id", path.id.value}, {"name", path.name}, {"form", word(path.form)}, {"points", points}};
    put_part(out, "carrier", path.carrier);
    if (path.closed) out["closed"] = true;
    for (const PathRoll& roll : path.rolls) out["rolls"].push_back({roll.at_m, roll.roll_rad});
    if (path.drape)
        out["drape"] = {{"ground", path.drape->ground.value},
                        {"height_m", path.drape->height_m},
                        {"ease_m", path.drape->ease_m}};
    return with_unknown(std::move(out), path.unknown);
}

Path path_from_json(const json& entry) {
    Path path;
    path.id = id_of<PathId>(entry);
    path.name = entry.at("name").get<std::string>();
    path.carrier = id_if<PartId>(entry, "carrier");
    const auto form = path_form_from(entry.at("form").get<std::string>());
    if (!form) throw Damage{"a path has an unknown form"};
    path.form = *form;
    path.closed = entry.value("closed", false);
    for (const json& one : entry.at("points")) {
        PathPoint point{vec_from_json(one.at("place"))};
        if (one.contains("before")) point.before = vec_from_json(one["before"]);
        if (one.contains("after")) point.after = vec_from_json(one["after"]);
        path.points.push_back(point);
    }
    if (path.form == PathForm::Ellipse ? path.points.size() != 3 : path.points.size() < 2)
        throw Damage{"a path has too few points"};
    for (const json& roll : entry.value("rolls", json::array())) {
        path.rolls.push_back({finite(roll.at(0)), finite(roll.at(1))});
        if (path.rolls.size() > 1 && !(path.rolls[path.rolls.size() - 2].at_m < path.rolls.back().at_m))
            throw Damage{"the rolls of a path are out of order"};
    }
    if (entry.contains("drape")) {
        const json& drape = entry["drape"];
        path.drape =
            Drape{id_of<PartId>(drape, "ground"), finite(drape.at("height_m")), finite(drape.at("ease_m"))};
    }
    path.unknown =
        unknown_fields(entry, {"id", "name", "carrier", "form", "closed", "points", "rolls", "drape"});
    return path;
}

json ride_to_json(const Ride& ride) {
    json out{{"path", ride.path.value},
             {"axis", axis_word(ride.axis)},
             {"up_axis", axis_word(ride.up_axis)},
             {"upright", word(ride.upright)}};
    if (ride.against) out["against"] = true;
    if (ride.along_path) out["along_path"] = true;
    put_part(out, "ahead", ride.ahead);
    const auto put = [&](const char* key, double value, double usual) {
        if (value != usual) out[key] = value;
    };
    put("bank_speed_m_s", ride.bank_speed_m_s, 0);
    put("bank_gain", ride.bank_gain, 1);
    put("side_m", ride.side_m, 0);
    put("height_m", ride.height_m, 0);
    put("front_m", ride.front_m, 0);
    put("rear_m", ride.rear_m, 0);
    put("gap_m", ride.gap_m, 0);
    put("coupler_front_m", ride.coupler_front_m, 0);
    put("coupler_rear_m", ride.coupler_rear_m, 0);
    return out;
}

Ride ride_from_json(const json& entry) {
    Ride ride;
    ride.path = id_of<PathId>(entry, "path");
    ride.axis = axis_at(entry, "axis", 0);
    ride.up_axis = axis_at(entry, "up_axis", 2);
    if (ride.axis == ride.up_axis) throw Damage{"a rider's leading axis is kept up too"};
    ride.against = entry.value("against", false);
    ride.along_path = entry.value("along_path", false);
    const auto upright = upright_from(entry.value("upright", "world"));
    if (!upright) throw Damage{"a rider is kept upright in an unknown way"};
    ride.upright = *upright;
    ride.ahead = id_if<PartId>(entry, "ahead");
    ride.bank_speed_m_s = number_at(entry, "bank_speed_m_s", 0);
    ride.bank_gain = number_at(entry, "bank_gain", 1);
    ride.side_m = number_at(entry, "side_m", 0);
    ride.height_m = number_at(entry, "height_m", 0);
    ride.front_m = number_at(entry, "front_m", 0);
    ride.rear_m = number_at(entry, "rear_m", 0);
    ride.gap_m = number_at(entry, "gap_m", 0);
    ride.coupler_front_m = number_at(entry, "coupler_front_m", 0);
    ride.coupler_rear_m = number_at(entry, "coupler_rear_m", 0);
    return ride;
}

json tow_to_json(const Tow& tow) {
    json out{{"hitch", tow.hitch.value}, {"hitch_m", vec_to_json(tow.hitch_m)}, {"drawbar_m", tow.drawbar_m}};
    put_part(out, "turntable", tow.turntable);
    put_part(out, "drawbar", tow.drawbar);
    if (tow.wheelbase_m != 0) out["wheelbase_m"] = tow.wheelbase_m;
    return out;
}

Tow tow_from_json(const json& entry) {
    Tow tow{id_of<PartId>(entry, "hitch"),      vec_from_json(entry.at("hitch_m")),
            finite(entry.at("drawbar_m")),      id_if<PartId>(entry, "turntable"),
            number_at(entry, "wheelbase_m", 0), id_if<PartId>(entry, "drawbar")};
    if (!(tow.drawbar_m > 0) || tow.wheelbase_m < 0) throw Damage{"a drawbar has no length"};
    return tow;
}

json vehicle_to_json(const Vehicle& vehicle) {
    json wheels = json::array();
    for (const VehicleWheel& wheel : vehicle.wheels) {
        json one{{"wheel", wheel.wheel.value}};
        put_part(one, "suspension", wheel.suspension);
        put_part(one, "steering", wheel.steering);
        wheels.push_back(one);
    }
    json out{{"id", vehicle.id.value},         {"name", vehicle.name},       {"root", vehicle.root.value},
             {"follow", vehicle.follow.value}, {"body", vehicle.body.value}, {"wheels", wheels},
             {"heave", vehicle.heave},         {"pitch", vehicle.pitch},     {"roll", vehicle.roll}};
    put_part(out, "skid", vehicle.skid);
    put_part(out, "steering", vehicle.steering);
    put_part(out, "ground", vehicle.ground);
    if (vehicle.track_thickness_m != 0) out["track_thickness_m"] = vehicle.track_thickness_m;
    for (const PartId runner : vehicle.runners) out["runners"].push_back(runner.value);
    return out;
}

Vehicle vehicle_from_json(const json& entry) {
    Vehicle vehicle;
    vehicle.id = id_of<VehicleId>(entry);
    vehicle.name = entry.at("name").get<std::string>();
    vehicle.root = id_of<PartId>(entry, "root");
    vehicle.follow = id_of<PartId>(entry, "follow");
    vehicle.body = id_of<PartId>(entry, "body");
    vehicle.skid = id_if<PartId>(entry, "skid");
    vehicle.steering = id_if<PartId>(entry, "steering");
    vehicle.ground = id_if<PartId>(entry, "ground");
    for (const json& one : entry.at("wheels"))
        vehicle.wheels.push_back(
            {id_of<PartId>(one, "wheel"), id_if<PartId>(one, "suspension"), id_if<PartId>(one, "steering")});
    vehicle.heave = number_at(entry, "heave", 1);
    vehicle.pitch = number_at(entry, "pitch", 1);
    vehicle.roll = number_at(entry, "roll", 1);
    vehicle.track_thickness_m = number_at(entry, "track_thickness_m", 0);
    for (const json& runner : entry.value("runners", json::array()))
        vehicle.runners.push_back(PartId{whole<std::uint64_t>(runner)});
    return vehicle;
}

json print_to_json(const Print& print) {
    json out{{"id", print.id.value},     {"name", print.name},     {"wheel", print.wheel.value},
             {"width_m", print.width_m}, {"tile_m", print.tile_m}, {"lift_m", print.lift_m}};
    put_part(out, "ground", print.ground);
    if (print.material) out["material"] = print.material.value;
    return out;
}

Print print_from_json(const json& entry) {
    Print print{id_of<PrintId>(entry),         entry.at("name").get<std::string>(),
                id_of<PartId>(entry, "wheel"), id_if<PartId>(entry, "ground"),
                finite(entry.at("width_m")),   finite(entry.at("tile_m")),
                finite(entry.at("lift_m")),    id_if<MaterialId>(entry, "material")};
    if (print.width_m < 0 || !(print.tile_m > 0)) throw Damage{"a print has no size"};
    return print;
}

constexpr std::string_view run_starts[] = {"tied", "wound", "loose"};

json tie_to_json(const ChainTie& tie) {
    return {{"part", tie.part.value}, {"place", vec_to_json(tie.place)}};
}

ChainTie tie_from_json(const json& entry) {
    return {id_of<PartId>(entry, "part"), vec_from_json(entry.at("place"))};
}

json ends_to_json(const RunEnds& ends) {
    json out{{"start", run_starts[static_cast<std::size_t>(ends.start)]}, {"to", tie_to_json(ends.to)}};
    if (ends.start == RunStart::Tied)
        out["from"] = tie_to_json(ends.from);
    else
        out["leaving_rad"] = ends.leaving_rad;
    return out;
}

RunEnds ends_from_json(const json& entry) {
    RunEnds ends;
    const auto found =
        std::find(std::begin(run_starts), std::end(run_starts), entry.at("start").get<std::string>());
    if (found == std::end(run_starts)) throw Damage{"a run starts in no known way"};
    ends.start = static_cast<RunStart>(found - std::begin(run_starts));
    ends.to = tie_from_json(entry.at("to"));
    if (ends.start == RunStart::Tied)
        ends.from = tie_from_json(entry.at("from"));
    else
        ends.leaving_rad = finite(entry.at("leaving_rad"));
    return ends;
}

json chain_to_json(const Chain& chain) {
    json wheels = json::array();
    for (const ChainWheel& wheel : chain.wheels) {
        json one{{"part", wheel.part.value}};
        if (wheel.teeth > 0) one["teeth"] = wheel.teeth;
        if (wheel.radius_m != 0) one["radius_m"] = wheel.radius_m;
        if (wheel.outside) one["outside"] = true;
        if (wheel.phase_rad != 0) one["phase_rad"] = wheel.phase_rad;
        wheels.push_back(one);
    }
    json out{{"id", chain.id.value},
             {"name", chain.name},
             {"frame", chain.frame.value},
             {"pitch_m", chain.pitch_m},
             {"link_count", chain.link_count},
             {"pattern", chain.pattern},
             {"slack_after", chain.slack_after},
             {"start_rad", chain.start_rad},
             {"wheels", wheels}};
    put_part(out, "take_up", chain.take_up);
    if (chain.spare_m != 0) out["spare_m"] = chain.spare_m;
    for (const PartId link : chain.links) out["links"].push_back(link.value);
    if (chain.ends) out["ends"] = ends_to_json(*chain.ends);
    return out;
}

Chain chain_from_json(const json& entry) {
    Chain chain;
    chain.id = id_of<ChainId>(entry);
    chain.name = entry.at("name").get<std::string>();
    chain.frame = id_of<PartId>(entry, "frame");
    chain.pitch_m = finite(entry.at("pitch_m"));
    chain.link_count = whole<int>(entry.at("link_count"));
    chain.pattern = whole<int>(entry.at("pattern"));
    chain.slack_after = whole<std::size_t>(entry.at("slack_after"));
    chain.start_rad = finite(entry.at("start_rad"));
    for (const json& one : entry.at("wheels"))
        chain.wheels.push_back({id_of<PartId>(one, "part"), whole_at(one, "teeth", 0),
                                number_at(one, "radius_m", 0), one.value("outside", false),
                                number_at(one, "phase_rad", 0)});
    chain.take_up = id_if<PartId>(entry, "take_up");
    chain.spare_m = number_at(entry, "spare_m", 0);
    for (const json& link : entry.value("links", json::array()))
        chain.links.push_back(PartId{whole<std::uint64_t>(link)});
    if (!check_pitch(chain.pitch_m) || chain.link_count < 3 || chain.link_count > 100000 || chain.pattern < 1)
        throw Damage{"a chain has no length"};
    if (entry.contains("ends")) chain.ends = ends_from_json(entry.at("ends"));
    if (chain.wheels.size() < chain.fewest_wheels() ||
        (!chain.ends && chain.slack_after >= chain.wheels.size()))
        throw Damage{"a chain has too few wheels"};
    for (const ChainWheel& wheel : chain.wheels)
        if (wheel.teeth < 0 || (wheel.teeth == 0 && !(wheel.radius_m > 0)))
            throw Damage{"a wheel of a chain has no size"};
    if (!chain.links.empty() && chain.links.size() != static_cast<std::size_t>(chain.link_count))
        throw Damage{"a chain has more or fewer links than it counts"};
    return chain;
}

}  // namespace pivrak
