// The ropeway's own iron: what is neither station nor cabin.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "core/rig/paths/path_curve.h"
#include "demo/glb_scene.h"
#include "demo/laid_solids.h"
#include "demo/saddle.h"

namespace pivrak::demo {
namespace {

double smooth_step(double share) {
    const double s = std::clamp(share, 0.0, 1.0);
    return s * s * (3 - 2 * s);
}

/// A control point on a bend: those inside it stand a little farther out, so the curve is nearly round.
Vec3 bend_point(const SaddleFigures& f, double middle_x, int twelfths) {
    const int from_strand = std::abs(std::abs(twelfths % 12 - 6) - 3);
    const double out = f.strand * (from_strand == 0 ? 1 : from_strand == 1 ? 1.03 : 1.062);
    const double angle = twelfths * pi / 6;
    return {middle_x + out * std::cos(angle), f.line_y + out * std::sin(angle), 0};
}

double rope_height(const SaddleFigures& f, double x) {
    return f.rope_z + 4 * smooth_step((x + 26) / 17) * smooth_step((f.east_x - 7 - x) / 17);
}

}  // namespace

std::vector<Vec3> rope_points(const SaddleFigures& f) {
    const std::vector<double> in{1.3, 3.2, 6, 9.5, 13.5, 18, 23, 28.5};
    std::vector<double> along;
    for (const double d : in) along.push_back(f.west_x + d);
    along.push_back((f.west_x + f.east_x) / 2);
    for (auto d = in.rbegin(); d != in.rend(); ++d) along.push_back(f.east_x - *d);
    std::vector<Vec3> points;
    for (int k = 6; k <= 9; ++k) points.push_back(bend_point(f, f.west_x, k));
    for (const double x : along) points.emplace_back(x, f.line_y - f.strand, 0);
    for (int k = 9; k <= 15; ++k) points.push_back(bend_point(f, f.east_x, k));
    for (auto x = along.rbegin(); x != along.rend(); ++x) points.emplace_back(*x, f.line_y + f.strand, 0);
    for (int k = 3; k <= 5; ++k) points.push_back(bend_point(f, f.west_x, k));
    for (Vec3& p : points) {
        p.z() = rope_height(f, p.x());
        for (double& number : p) number = std::round(number * 1e5) / 1e5;
    }
    return points;
}

namespace {

class Ropeway {
public:
    explicit Ropeway(const SaddleFigures& figures)
        : f_(figures), scene_(1e-3), curve_(*PathCurve::make(rope_path(figures))) {
        scene_.add_material("rope steel", {0.46, 0.48, 0.50}, 0.7, 0.45);
        scene_.add_material("mast green", {0.24, 0.38, 0.34});
        scene_.add_material("galvanised", {0.66, 0.69, 0.70}, 0.5, 0.5);
        scene_.add_material("deck timber", {0.55, 0.43, 0.30});
        scene_.add_material("lining", {0.16, 0.16, 0.17}, 0, 0.9);
        scene_.add_material("concrete", {0.62, 0.61, 0.58}, 0, 0.9);
        root_ = scene_.group("ropeway", -1);
    }

    Result<std::string> bytes() {
        rope();
        guide_rail();
        for (std::size_t i = 0; i < f_.towers.size(); ++i) tower(f_.towers[i], i + 1);
        return_end();
        station_frame();
        deflection();
        deck();
        return scene_.bytes();
    }

private:
    static Path rope_path(const SaddleFigures& figures) {
        Path path;
        path.closed = true;
        for (const Vec3& p : rope_points(figures)) path.points.push_back({p});
        return path;
    }
    static Vec3 mm(const Vec3& metres) { return 1000 * metres; }

    /// Places on the rope's curve from one way to another, ends included.
    std::vector<Vec3> on_curve(double from, double to, double step) const {
        std::vector<Vec3> out;
        const int pieces = std::max(1, static_cast<int>(std::ceil((to - from) / step)));
        for (int i = 0; i <= pieces; ++i) out.push_back(mm(curve_.place(from + (to - from) * i / pieces)));
        return out;
    }
    double way_of(double x, double side) const {
        return curve_.nearest({x, f_.line_y + side * f_.strand, rope_height(f_, x)});
    }

    /// From the line over the deflection sheaves down round the bull wheel, one rope.
    void rope() {
        const double west = f_.west_x;
        std::vector<Vec3> points = on_curve(way_of(west, -1), way_of(west, 1), 4);
        const double drop_y = f_.bull_wheel_radius, top = f_.rope_z - f_.deflection_radius;
        const double over_x = f_.station_x + f_.deflection_radius;
        const auto at = [&](double x, double y, double z) { return mm({x, f_.line_y + y, z}); };
        const auto over_sheave = [&](double y, bool down) {
            std::vector<Vec3> arc;
            for (int i = 0; i <= 6; ++i) {
                const double a = pi / 2 + (pi / 2) * i / 6;
                arc.push_back(at(over_x + f_.deflection_radius * std::cos(a), y,
                                 top + f_.deflection_radius * std::sin(a)));
            }
            if (!down) std::reverse(arc.begin(), arc.end());
            points.insert(points.end(), arc.begin(), arc.end());
        };
        over_sheave(drop_y, true);
        for (int i = 0; i <= 24; ++i) {
            const double a = -pi * i / 24;
            points.push_back(at(f_.station_x, drop_y * std::cos(a), f_.bull_wheel_z + drop_y * std::sin(a)));
        }
        over_sheave(-drop_y, false);
        points.push_back(points.front() + Vec3(-8, 0, 0));
        scene_.part("haul rope", root_, pipe(points, 22, 6), "rope steel");
    }

    /// Round the station cabins hang on a rail, off the rope.
    void guide_rail() {
        const double lap = curve_.length(), from = way_of(f_.west_x, 1) - lap, to = way_of(f_.west_x, -1);
        std::vector<Vec3> points = on_curve(from - 0.4, to + 0.4, 0.5);
        scene_.part("guide rail", root_, pipe(points, 30, 6), "galvanised");
    }

    void tower(double x, std::size_t number) {
        const int tower = scene_.group(fmt::format("tower {}", number), root_, placed(mm({x, f_.line_y, 0})));
        const double rope = 1000 * curve_.place(way_of(x, 1)).z(), arm = rope - 420;
        scene_.part("tower footing", tower, block({-700, -700, -1600}, {700, 700, 260}, 40), "concrete");
        scene_.part("tower mast", tower,
                    revolve({{0, 291}, {330, 291}, {210, arm - 120}, {0, arm - 120}}, 24), "mast green");
        for (int i = 0; i < 8; ++i)
            shared(
                "bolt", "tower bolt", tower,
                placed({460 * std::cos(i * pi / 4), 460 * std::sin(i * pi / 4), 290}),
                [] { return bolt(36); }, "galvanised");
        shared(
            "flange", "tower flange", tower, {},
            [] {
                return revolve({{0, 262}, {560, 262}, {560, 290}, {0, 290}}, 32);
            },
            "mast green");
        const double strand = 1000 * f_.strand;
        scene_.part("tower arm", tower,
                    across({{-120, arm - 180}, {120, arm - 180}, {160, arm + 60}, {-160, arm + 60}}, {},
                           -strand - 120, strand + 120, 20),
                    "mast green");
        for (const double side : {1.0, -1.0}) rollers(tower, side, x, rope);
    }

    /// A row of rollers below the rope, on a beam that follows its slope.
    void rollers(int tower, double side, double x, double rope) {
        const double y = 1000 * side * f_.strand, radius = 1000 * f_.roller_radius;
        const double pitch = 2.3 * radius, half = 0.5 * (f_.rollers_a_side - 1) * pitch;
        const Vec3 along = curve_.at(way_of(x, side)).tangent;
        const double slope = -std::atan2(along.z(), along.x()) + (along.x() < 0 ? pi : 0);
        const int beam = scene_.group("roller beam", tower, placed({0, y, rope - 22 - radius}, 1, slope));
        for (const double out : {-1.0, 1.0})
            scene_.part("roller plate", beam,
                        across({{-half - 120, -70}, {half + 120, -70}, {half + 60, 50}, {-half - 60, 50}}, {},
                               out * 70 - 8, out * 70 + 8, 3),
                        "galvanised");
        for (int i = 0; i < f_.rollers_a_side; ++i)
            shared(
                "roller", fmt::format("roller {}", ++rollers_), beam, placed({-half + i * pitch, 0, 0}),
                [&] { return sheave(radius, 45, 18).lay_along(1); }, "lining");
    }

    /// A wheel with a groove that a rope lies in, about z.
    static Solid sheave(double radius, double half_width, int segments) {
        return revolve({{0, -half_width - 14},
                        {0.3 * radius, -half_width - 14},
                        {0.34 * radius, -0.4 * half_width},
                        {0.78 * radius, -0.4 * half_width},
                        {0.8 * radius, -half_width},
                        {radius + 26, -half_width},
                        {radius, -12},
                        {radius, 12},
                        {radius + 26, half_width},
                        {0.8 * radius, half_width},
                        {0.78 * radius, 0.4 * half_width},
                        {0.34 * radius, 0.4 * half_width},
                        {0.3 * radius, half_width + 14},
                        {0, half_width + 14}},
                       segments);
    }

    /// A part whose mesh others show too, made when the first one comes.
    template <class Make>
    void shared(const std::string& mesh, const std::string& name, int under, const Frame& at, Make make,
                const char* material) {
        const auto known = shared_.find(mesh);
        if (known == shared_.end())
            shared_[mesh] = scene_.part(name, under, make(), material, at);
        else
            scene_.again(name, under, known->second, at);
    }

    /// The wheel that sends the rope back, and what it hangs in.
    void return_end() {
        const Vec3 hub(f_.east_x, f_.line_y, f_.rope_z);
        const int end = scene_.group("return station", root_, placed(mm(hub)));
        const double r = 1000 * f_.return_radius;
        const double ground = -1000 * hub.z();
        const int wheel = scene_.part(
            "return wheel", end,
            revolve({{r - 130, -70}, {r + 30, -70}, {r - 10, 0}, {r + 30, 70}, {r - 130, 70}}, 48, true),
            "mast green");
        scene_.part("return spokes", wheel, spokes(r - 120), "mast green");
        scene_.part("return hub", wheel, shaft(190, -160, 160, 12, 32), "galvanised");
        scene_.part("return axle", end, shaft(95, -380, 420, 10, 32), "galvanised");
        scene_.part("return post", end, block({-330, -330, ground - 1200}, {330, 330, -390}, 40), "concrete");
        scene_.part("return cap", end, revolve({{0, -388}, {250, -388}, {200, -200}, {0, -200}}, 28),
                    "mast green");
        for (int i = 0; i < 6; ++i)
            shared(
                "bolt", "return bolt", end,
                placed({300 * std::cos(i * pi / 3), 300 * std::sin(i * pi / 3), -388}),
                [] { return bolt(36); }, "galvanised");
    }
    static Solid spokes(double length) {
        Loop star;
        constexpr int count = 8;
        for (int i = 0; i < count; ++i) {
            const double a = 2 * pi * i / count, across = 75;
            const Vec2 out(std::cos(a), std::sin(a)), left(-out.y(), out.x());
            const double inner = across / std::tan(pi / count);
            star.push_back(inner * out - across * left);
            star.push_back(length * out - 0.7 * across * left);
            star.push_back(length * out + 0.7 * across * left);
        }
        return extrude(star, {}, -34, 34, 6);
    }

    /// Posts and beams over the station, which carry rail and deflection.
    void station_frame() {
        const int frame = scene_.group("station frame", root_, placed(mm({0, f_.line_y, 0})));
        const double west = 1000 * (f_.station_x - 0.9), east = 1000 * (f_.west_x + 6), side = 4550,
                     top = 1000 * f_.rope_z + 620;
        for (const double x : {west, 0.5 * (west + east), east})
            for (const double y : {-side, side}) {
                shared(
                    "post", "frame post", frame, placed({x, y, 0}),
                    [&] {
                        return block({-110, -110, 35}, {110, 110, top}, 12);
                    },
                    "mast green");
                shared(
                    "foot", "frame foot", frame, placed({x, y, 0}),
                    [] {
                        return block({-260, -260, -300}, {260, 260, 34}, 8);
                    },
                    "concrete");
            }
        for (const double x : {west, 0.5 * (west + east), east})
            scene_.part("frame beam", frame,
                        block({x - 90, -side - 200, top}, {x + 90, side + 200, top + 260}, 12), "mast green");
        for (const double y : {-side, 0.0, side})
            scene_.part("frame purlin", frame,
                        block({west - 300, y - 70, top + 262}, {east + 300, y + 70, top + 400}, 10),
                        "mast green");
        for (const double half : {-1.0, 1.0}) {
            Solid sheet = block({west - 500, 0, 0}, {east + 500, side + 700, 40}, 6);
            if (half < 0) sheet = block({west - 500, -side - 700, 0}, {east + 500, 0, 40}, 6);
            sheet.turn(0, -half * 0.14).move({0, 0, top + 1050});
            scene_.part("roof sheet", frame, sheet, "galvanised");
        }
        hangers(frame, top);
    }
    /// What the rail hangs by.
    void hangers(int frame, double top) {
        const double lap = curve_.length(), from = way_of(f_.west_x, 1) - lap, to = way_of(f_.west_x, -1);
        for (int i = 0; i <= 6; ++i) {
            const Vec3 at = mm(curve_.place(from + (to - from) * i / 6) - Vec3(0, f_.line_y, 0));
            scene_.part(
                "rail hanger", frame,
                block({at.x() - 25, at.y() - 25, at.z() + 190}, {at.x() + 25, at.y() + 25, top + 265}, 4),
                "galvanised");
        }
    }

    void deflection() {
        const double r = 1000 * f_.deflection_radius;
        const double x = 1000 * (f_.station_x + f_.deflection_radius),
                     z = 1000 * (f_.rope_z - f_.deflection_radius);
        for (const double side : {1.0, -1.0}) {
            const double y = 1000 * (f_.line_y + side * f_.bull_wheel_radius);
            shared(
                "deflection", side > 0 ? "deflection sheave left" : "deflection sheave right", root_,
                placed({x, y, z}), [&] { return sheave(r - 22, 60, 30).lay_along(1); }, "mast green");
            shared(
                "deflection axle", "deflection axle", root_, placed({x, y, z}),
                [] { return shaft(36, -190, 190, 5, 20).lay_along(1); }, "galvanised");
            for (const double out : {-150.0, 150.0})
                scene_.part(
                    "deflection bracket", root_,
                    block({x - 50, y + out - 12, z - 60}, {x + 50, y + out + 12, 1000 * f_.rope_z + 890}, 4),
                    "mast green");
        }
    }

    /// An island between the strands, a step below the cabins' floors.
    void deck() {
        const int deck = scene_.group("deck", root_, placed(mm({0, f_.line_y, 0})));
        const double low = 1000 * f_.west_x - 200, high = 1000 * f_.west_x + 6600, half = 2010;
        const double top = 1000 * (f_.rope_z - f_.rope_from_floor) - 30;
        for (int i = 0; i * 170 < high - low; ++i)
            shared(
                "plank", "deck plank", deck, placed({low + 170.0 * i, 0, top}),
                [&] {
                    return block({0, -half, -46}, {158, half, 0}, 5);
                },
                "deck timber");
        for (const double y : {-half + 180, 0.0, half - 180})
            scene_.part("deck bearer", deck,
                        block({low + 60, y - 55, top - 206}, {high - 60, y + 55, top - 47}, 6), "mast green");
        for (int i = 0; i < 4; ++i)
            for (const double y : {-half + 180, half - 180}) {
                const double x = low + 300 + i * (high - low - 600) / 3;
                shared(
                    "leg", "deck leg", deck, placed({x, y, 0}),
                    [&] {
                        return block({-60, -60, -300}, {60, 60, top - 207}, 6);
                    },
                    "mast green");
            }
        for (int i = 0; i < 3; ++i)
            scene_.part("deck stair", deck,
                        block({high + 4 + 260.0 * i, -500, -200},
                              {high + 260 + 260.0 * i, 500, top - 190.0 * (i + 1)}, 5),
                        "deck timber");
    }

    SaddleFigures f_;
    GlbScene scene_;
    PathCurve curve_;
    int root_ = -1, rollers_ = 0;
    std::map<std::string, int> shared_;
};

}  // namespace

Result<std::string> ropeway(const SaddleFigures& figures) {
    return Ropeway(figures).bytes();
}

}  // namespace pivrak::demo
