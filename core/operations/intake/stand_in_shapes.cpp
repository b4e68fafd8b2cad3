// Source of chain sizes: ISO 606:2015.
#include "core/operations/intake/stand_in_shapes.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "core/geometry/fits/recognise.h"
#include "core/geometry/teeth/crossed_gear_shapes.h"

namespace pivrak {
namespace {

/// Solids are made in millimetres, about z.
constexpr double mm = 1e-3;

/// Reads the measures of one stand-in: each must be above zero, or at least not below where it may be none.
class StandInMeasures {
public:
    StandInMeasures(const Arguments& a, LengthUnit unit) : a_(a), unit_(unit) {}

    /// Of a length in millimetres.
    std::string told(double length) const { return format_length(length * mm, unit_); }

    double length(const char* name) { return checked(name, a_.number(name) / mm, false); }
    double length_or_none(const char* name) { return checked(name, a_.number(name) / mm, true); }
    int count(const char* name, int least, int most) {
        const int value = a_.integer(name);
        if (value < least || value > most)
            fail(fmt::format("{} '{}' is out of range: {} to {}", value, name, least, most), name);
        return value;
    }
    void fail(const std::string& message, const std::string& subject) {
        if (!error_) error_ = Error{"stand_in.measure", message, subject};
    }
    const std::optional<Error>& error() const { return error_; }

private:
    double checked(const char* name, double value, bool may_be_none) {
        if (value < 0 || (value == 0 && !may_be_none))
            fail(fmt::format("'{}' is {}; it must be above zero", name, told(value)), name);
        if (value > 1e6) fail(fmt::format("'{}' is {}; at most 1000 m", name, told(value)), name);
        return value;
    }
    const Arguments& a_;
    LengthUnit unit_;
    std::optional<Error> error_;
};

Solid gear_solid(StandInMeasures& m, const Arguments& a) {
    GearShape g{m.count("teeth", 5, 400), m.length("module"), m.length("width"),
                m.length_or_none("bore") / 2};
    g.pressure_angle_rad = a.number("pressure_angle");
    if (g.pressure_angle_rad < 10 * rad_per_deg || g.pressure_angle_rad > 30 * rad_per_deg)
        m.fail(fmt::format("a pressure angle of {} is out of range: 10° to 30°",
                           format_angle(g.pressure_angle_rad, 1)),
               "pressure_angle");
    const double root = g.module * (g.teeth / 2.0 - 1.25);
    if (g.bore_radius >= root)
        m.fail(fmt::format("a bore of {} leaves nothing of a root circle of {}", m.told(2 * g.bore_radius),
                           m.told(2 * root)),
               "bore");
    const double helix = a.number("helix");
    if (std::abs(helix) > 45 * rad_per_deg)
        m.fail(fmt::format("teeth cannot wind by {}: 45° at most", format_angle(helix, 1)), "helix");
    if (m.error()) return {};
    if (helix != 0) return helical_gear(g, helix);
    if (a.flag("web") && root > 8 * g.module && g.bore_radius > 0 && 2.2 * g.bore_radius < 0.6 * root) {
        g.hub_radius = std::max(1.8 * g.bore_radius, 0.2 * root);
        g.hub_extra = 0.15 * g.width;
        g.web = 0.35 * g.width;
        g.holes = 6;
        g.hole_radius = 0.18 * (root - g.hub_radius);
    }
    return gear(g);
}

Solid ring_gear_solid(StandInMeasures& m, const Arguments& a) {
    GearShape g{m.count("teeth", 12, 400), m.length("module"), m.length("width"), 0};
    g.pressure_angle_rad = a.number("pressure_angle");
    const double root = g.module * (g.teeth / 2.0 + 1.25), outer = m.length("diameter") / 2;
    if (outer <= root)
        m.fail(fmt::format("a diameter of {} leaves no ring round the tooth roots at {}", m.told(2 * outer),
                           m.told(2 * root)),
               "diameter");
    return m.error() ? Solid{} : ring_gear(g, outer, {});
}

Solid rack_solid(StandInMeasures& m, const Arguments& a) {
    const RackShape r{m.count("teeth", 2, 1000), m.length("module"), m.length("width"), 0, 0.01,
                      a.number("pressure_angle")};
    return m.error() ? Solid{} : rack(r);
}

Solid worm_solid(StandInMeasures& m, const Arguments& a) {
    const WormShape w{m.count("starts", 1, 12),  m.length("module"),       m.length("diameter") / 2,
                      m.length("length"),        a.text("hand") == "left", 0.01,
                      a.number("pressure_angle")};
    if (w.pitch_radius <= 1.5 * w.module)
        m.fail(
            fmt::format("a pitch diameter of {} leaves no core below the thread", m.told(2 * w.pitch_radius)),
            "diameter");
    return m.error() ? Solid{} : worm(w);
}

Solid bevel_solid(StandInMeasures& m, const Arguments& a) {
    BevelShape b{m.count("teeth", 8, 200), m.count("mate_teeth", 8, 200), m.length("module"),
                 m.length("width")};
    b.shaft_angle_rad = a.number("shaft_angle");
    b.pressure_angle_rad = a.number("pressure_angle");
    if (!(b.shaft_angle_rad > 5 * rad_per_deg && b.shaft_angle_rad < 175 * rad_per_deg) ||
        b.pitch_cone_rad() > 85 * rad_per_deg) {
        m.fail(fmt::format("{} and {} teeth have no cones at {}", b.teeth, b.mate_teeth,
                           format_angle(b.shaft_angle_rad, 1)),
               "shaft_angle");
        return {};
    }
    if (b.width > 0.5 * b.outer_cone_distance())
        m.fail(fmt::format("a width of {} is more than half the cone's {}", m.told(b.width),
                           m.told(b.outer_cone_distance())),
               "width");
    return m.error() ? Solid{} : bevel_gear(b);
}

/// One of the standard's sizes, or a pitch and a roller of its own.
Result<ChainSize> chain_of(const Arguments& a) {
    const std::string name = a.text("chain");
    const double pitch = a.number("pitch"), roller = a.number("roller");
    if (name == other_chain || pitch != 0 || roller != 0) {
        // Common practice, no source: a roller is about five eighths of a pitch across.
        const ChainSize own{other_chain, pitch, roller != 0 ? roller : 0.625 * pitch};
        if (!(pitch > 1e-4 && pitch <= 10))
            return Error{"stand_in.measure",
                         fmt::format("a pitch of {} is out of range: above 0.1 mm, at most 10 m",
                                     format_length(pitch, LengthUnit::Millimetre)),
                         "pitch"};
        if (!(own.roller_m > 0 && own.roller_m <= 0.8 * pitch))
            return Error{"stand_in.measure",
                         fmt::format("rollers of {} do not fit links of {}: at most four fifths of it",
                                     format_length(own.roller_m, LengthUnit::Millimetre),
                                     format_length(pitch, LengthUnit::Millimetre)),
                         "roller"};
        return own;
    }
    for (const ChainSize& size : roller_chains())
        if (size.name == name) return size;
    return Error{"stand_in.chain", fmt::format("there is no roller chain '{}'", name), "chain"};
}

Solid sprocket_solid(StandInMeasures& m, const ChainSize& chain) {
    const int teeth = m.count("teeth", 6, 200);
    const double bore = m.length_or_none("bore") / 2, width = m.length("width");
    const double pitch = chain.pitch_m / mm, roller = chain.roller_m / mm;
    const double root = pitch / (2 * std::sin(pi / std::max(teeth, 3))) - 0.505 * roller;
    if (bore >= 0.9 * root)
        m.fail(fmt::format("a bore of {} leaves nothing of a root circle of {}", m.told(2 * bore),
                           m.told(2 * root)),
               "bore");
    if (m.error()) return {};
    const double hub = std::min(1.6 * bore, 0.85 * root);
    return sprocket({teeth, pitch, roller, width, bore, hub, bore > 0 ? 0.8 * width : 0});
}

Solid link_solid(const Arguments& a, const ChainSize& chain) {
    // Common practice, no source: plates are 0.83 pitches high and an eighth of a pitch thick, the inside
    // 0.67 wide.
    const double pitch = chain.pitch_m / mm, roller = chain.roller_m / mm, inside = 0.67 * pitch;
    const bool inner = a.text("kind") == "inner link";
    return inner ? inner_link(pitch, roller, inside, 0.83 * pitch, 0.125 * pitch)
                 : outer_link(pitch, 0.52 * roller, inside, 0.83 * pitch, 0.125 * pitch);
}

Solid wheel_solid(StandInMeasures& m) {
    WheelShape w{m.length("diameter") / 2, m.length("width"), 0, m.length_or_none("bore") / 2};
    w.rim_radius = m.length_or_none("rim") / 2;
    if (w.rim_radius == 0) w.rim_radius = 0.6 * w.radius;
    w.lugs = m.count("lugs", 0, 200);
    w.lug_depth = m.length_or_none("lug_depth");
    w.holes = 5;
    if (w.rim_radius >= 0.95 * w.radius)
        m.fail(fmt::format("a rim of {} leaves no tyre on a wheel of {}", m.told(2 * w.rim_radius),
                           m.told(2 * w.radius)),
               "rim");
    if (w.bore_radius >= 0.35 * w.rim_radius)
        m.fail(fmt::format("a bore of {} leaves no disc in a rim of {}", m.told(2 * w.bore_radius),
                           m.told(2 * w.rim_radius)),
               "bore");
    if (w.lugs > 0 && w.lugs < 3) m.fail("a tread has no lugs, or at least three", "lugs");
    if (w.lugs > 0 && w.lug_depth >= 0.5 * (w.radius - w.rim_radius))
        m.fail(fmt::format("lugs of {} go through the tyre", m.told(w.lug_depth)), "lug_depth");
    return m.error() ? Solid{} : wheel(w);
}

Solid tube_solid(StandInMeasures& m) {
    const double outer = m.length("diameter") / 2, inner = m.length("bore") / 2,
                 half = m.length("length") / 2;
    if (inner >= outer)
        m.fail(
            fmt::format("a bore of {} leaves no wall in a tube of {}", m.told(2 * inner), m.told(2 * outer)),
            "bore");
    return m.error() ? Solid{}
                     : revolve({{inner, -half}, {outer, -half}, {outer, half}, {inner, half}}, 48, true);
}

}  // namespace

bool is_round_stand_in(const std::string& kind) {
    return kind != "box" && kind != "plate" && kind != "rack" && kind != "inner link" && kind != "outer link";
}

Result<Solid> stand_in_solid(const Arguments& a, LengthUnit unit) {
    const std::string kind = a.text("kind");
    StandInMeasures m(a, unit);
    Solid solid;
    if (kind == "box") {
        const double chamfer = m.length_or_none("chamfer");
        const Vec3 size(m.length("length"), m.length("width"), m.length("height"));
        if (2 * chamfer >= size.minCoeff()) m.fail("the chamfer takes more than there is", "chamfer");
        if (!m.error())
            solid = block({-size.x() / 2, -size.y() / 2, 0}, {size.x() / 2, size.y() / 2, size.z()}, chamfer);
    } else if (kind == "plate") {
        const double length = m.length("length"), width = m.length("width"),
                     thickness = m.length("thickness"), corner = m.length_or_none("corner");
        if (!m.error()) solid = plate(length, width, thickness, corner);
    } else if (kind == "cylinder") {
        const double radius = m.length("diameter") / 2, half = m.length("length") / 2,
                     chamfer = m.length_or_none("chamfer");
        if (chamfer >= std::min(radius, half)) m.fail("the chamfer takes more than there is", "chamfer");
        if (!m.error()) solid = shaft(radius, -half, half, chamfer, 48);
    } else if (kind == "tube") {
        solid = tube_solid(m);
    } else if (kind == "wheel") {
        solid = wheel_solid(m);
    } else if (kind == "gear") {
        solid = gear_solid(m, a);
    } else if (kind == "ring gear") {
        solid = ring_gear_solid(m, a);
    } else if (kind == "rack") {
        solid = rack_solid(m, a);
    } else if (kind == "worm") {
        solid = worm_solid(m, a);
    } else if (kind == "bevel gear") {
        solid = bevel_solid(m, a);
    } else {
        PIVRAK_TRY(chain, chain_of(a));
        solid = kind == "sprocket" ? sprocket_solid(m, chain) : link_solid(a, chain);
    }
    if (m.error()) return *m.error();
    return solid;
}

const std::vector<std::string>& stand_in_kinds() {
    static const std::vector<std::string> kinds{"box",      "plate",      "cylinder",  "tube", "wheel",
                                                "gear",     "ring gear",  "rack",      "worm", "bevel gear",
                                                "sprocket", "inner link", "outer link"};
    return kinds;
}

std::vector<std::string> stand_in_measures(const std::string& kind) {
    static const std::map<std::string, std::vector<std::string>> of{
        {"box", {"length", "width", "height", "chamfer"}},
        {"plate", {"length", "width", "thickness", "corner"}},
        {"cylinder", {"diameter", "length", "chamfer"}},
        {"tube", {"diameter", "bore", "length"}},
        {"wheel", {"diameter", "width", "rim", "bore", "lugs", "lug_depth"}},
        {"gear", {"teeth", "module", "width", "bore", "helix", "pressure_angle", "web"}},
        {"ring gear", {"teeth", "module", "width", "diameter", "pressure_angle"}},
        {"rack", {"teeth", "module", "width", "pressure_angle"}},
        {"worm", {"starts", "module", "diameter", "length", "hand", "pressure_angle"}},
        {"bevel gear", {"teeth", "mate_teeth", "module", "width", "shaft_angle", "pressure_angle"}},
        {"sprocket", {"teeth", "chain", "pitch", "roller", "width", "bore"}},
        {"inner link", {"chain", "pitch", "roller"}},
        {"outer link", {"chain", "pitch", "roller"}}};
    const auto found = of.find(kind);
    return found == of.end() ? std::vector<std::string>{} : found->second;
}

std::vector<ArgumentSpec> stand_in_specs() {
    const auto length = [](const char* name, const char* summary, double fallback) {
        return ArgumentSpec{name, ArgumentKind::Length, summary, false, fallback, {}};
    };
    std::vector<std::string> chains;
    for (const ChainSize& size : roller_chains()) chains.emplace_back(size.name);
    chains.emplace_back(other_chain);
    std::vector<ArgumentSpec> specs{
        length("length", "box, plate, cylinder, tube, worm", 1.0),
        length("width", "box and plate; of wheels, gears and sprockets along the axis", 0.1),
        length("height", "box", 0.5),
        length("thickness", "plate", 0.01),
        length("chamfer", "box and cylinder", 0.0),
        length("corner", "radius of a plate's corners", 0.0),
        length("diameter", "cylinder, tube, wheel, the outside of a ring gear, a worm's pitch circle", 0.5),
        length("bore", "tube, wheel, gear, sprocket", 0.0),
        length("rim", "diameter of a wheel's rim; 60 % when 0", 0.0),
        {"lugs", ArgumentKind::Integer, "blocks round a wheel's tread", false, 0, {}},
        length("lug_depth", "of a wheel's tread", 0.01),
        length("module", "gears: ISO 54", 0.004),
        {"teeth", ArgumentKind::Integer, "gears and sprockets", false, 24, {}},
        {"pressure_angle", ArgumentKind::Angle, "gears", false, "20 deg", {}},
        {"helix",
         ArgumentKind::Angle,
         "gears: by how much teeth wind, above zero right-handed",
         false,
         0.0,
         {}},
        {"mate_teeth", ArgumentKind::Integer, "bevel gears: teeth of the other one", false, 24, {}},
        {"shaft_angle", ArgumentKind::Angle, "bevel gears: between both axes", false, "90 deg", {}},
        {"starts", ArgumentKind::Integer, "worms: threads", false, 1, {}},
        {"hand", ArgumentKind::Choice, "worms", false, "right", {"right", "left"}},
        {"web", ArgumentKind::Flag, "large gears get a web with holes", false, true, {}},
        {"chain", ArgumentKind::Choice, "sprockets and links: ISO 606", false, "16B", chains},
        length("pitch", "sprockets and links of no standard chain", 0.0),
        length("roller", "their rollers' diameter; five eighths of the pitch when 0", 0.0)};
    const std::pair<std::string_view, const char*> labels[]{{"starts", "Threads"},
                                                            {"mate_teeth", "Teeth of the other"},
                                                            {"shaft_angle", "Angle of shafts"},
                                                            {"helix", "Teeth wind by"},
                                                            {"rim", "Rim diameter"},
                                                            {"lugs", "Tread lugs"},
                                                            {"corner", "Corner radius"},
                                                            {"hand", "Thread"},
                                                            {"chain", "Chain size"},
                                                            {"roller", "Roller diameter"}};
    for (ArgumentSpec& spec : specs)
        for (const auto& [name, label] : labels)
            if (spec.name == name) spec.label = label;
    return specs;
}

nlohmann::json stand_in_record(const Arguments& a, char lies_along) {
    nlohmann::json out{{"kind", a.text("kind")}};
    const bool own_pitch = a.number("pitch") != 0;
    for (const std::string& name : stand_in_measures(a.text("kind")))
        if (own_pitch || (name != "pitch" && name != "roller")) out[name] = a.values().at(name);
    if (own_pitch && out.contains("chain")) out["chain"] = other_chain;
    if (lies_along != 0) out["lies_along"] = std::string(1, lies_along);
    return out;
}

}  // namespace pivrak
