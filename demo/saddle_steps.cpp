// The finished machines put together: the whole saddle at work, as a job.
#include <fmt/format.h>

#include <cmath>

#include "demo/saddle.h"

namespace pivrak::demo {
namespace {

using nlohmann::json;

class SaddleJob {
public:
    explicit SaddleJob(const SaddleFigures& figures) : f_(figures) {}

    json make() {
        station();
        ropeway_iron();
        cabins();
        groomer();
        truck();
        crane();
        clips();
        cameras();
        return {{"open", "station-brake.job.json"}, {"steps", steps_}, {"save", "saddle.pivrak.glb"}};
    }

private:
    void step(json step) { steps_.push_back(std::move(step)); }
    void key(const char* part, const char* channel, double frame, json value, const char* run = "linear") {
        step({{"op", "key.set"},
              {"parts", {part}},
              {"channel", channel},
              {"clip", clip_},
              {"frame", frame},
              {"value", std::move(value)},
              {"interpolation", run}});
    }
    void hinge(const json& parts, const char* axis) {
        step({{"op", "joint.set"}, {"parts", parts}, {"kind", "hinge"}, {"axis", axis}});
    }

    /// The machine goes to the end of the line, its bull wheel across.
    void station() {
        // The bull wheel stands 0.0619 m before and 0.4206 m beside the machine's origin.
        step({{"op", "tree.place"},
              {"parts", {"drive-station"}},
              {"forward", f_.station_x + 0.4206},
              {"left", f_.line_y - 0.0619},
              {"turn", "90 deg"}});
    }

    void ropeway_iron() {
        step({{"op", "model.import"}, {"file", "ropeway.glb"}});
        step({{"op", "tree.tidy"}, {"what", "names"}});
        json left = json::array(), right = json::array();
        for (std::size_t i = 0; i < 2 * f_.towers.size() * static_cast<std::size_t>(f_.rollers_a_side); ++i) {
            const bool is_left = i / static_cast<std::size_t>(f_.rollers_a_side) % 2 == 0;
            (is_left ? left : right).push_back(fmt::format("roller {}", i + 1));
        }
        hinge({"return wheel"}, "z");
        json across = {"deflection sheave left", "deflection sheave right"};
        for (const json& side : {left, right})
            for (const json& roller : side) across.push_back(roller);
        hinge(across, "y");
        // Rope that runs out at one wheel's rim runs in at another's.
        const auto follow = [&](const json& parts, double radius) {
            step({{"op", "follow.add"},
                  {"parts", parts},
                  {"driver", "Carrier"},
                  {"gain", f_.bull_wheel_radius / radius}});
        };
        follow({"return wheel"}, f_.return_radius);
        follow({"deflection sheave left"}, -f_.deflection_radius);
        follow({"deflection sheave right"}, f_.deflection_radius);
        follow(left, -f_.roller_radius);
        follow(right, f_.roller_radius);
    }

    void cabins() {
        step({{"op", "project.add"}, {"file", "cabin-doors.job.json"}});
        step({{"op", "clip.remove"}, {"clip", "once round"}});
        json points = json::array();
        for (const Vec3& p : rope_points(f_)) points.push_back({p.x(), p.y(), p.z()});
        step({{"op", "path.set"}, {"path", "rope"}, {"points", points}});
        step({{"op", "ride.string"},
              {"parts", {"cabin", "cabin 2", "cabin 3", "cabin 4", "cabin 5", "cabin 6"}},
              {"path", "rope"},
              {"coupling", "path"},
              {"upright", "plumb"},
              {"height", -f_.rope_from_floor}});
        step({{"op", "follow.add"},
              {"parts", {"cabin"}},
              {"channel", "along"},
              {"driver", "Carrier"},
              {"gain", f_.bull_wheel_radius * pi / 180}});
    }

    void groomer() {
        step({{"op", "project.add"}, {"file", "groomer.job.json"}});
        step({{"op", "part.rename"}, {"part", "saddle"}, {"name", "Saddle"}});
        step({{"op", "part.rename"}, {"part", "snow field"}, {"name", "Snow field"}});
        step({{"op", "channel.set"}, {"parts", {"Groomer place"}}, {"channel", "along"}, {"value", "10 %"}});
    }

    void truck() {
        step({{"op", "project.add"}, {"file", "supply-truck.job.json"}});
        step({{"op", "tree.replace"}, {"parts", {"snow field"}}, {"with", "Snow field"}});
        step({{"op", "part.remove"}, {"parts", {"saddle"}}});
        step({{"op", "channel.set"}, {"parts", {"Truck place"}}, {"channel", "along"}, {"value", 10}});
    }

    void crane() {
        step({{"op", "project.add"}, {"file", "loader.job.json"}});
        step({{"op", "tree.place"},
              {"parts", {"Bed", "Crate"}},
              {"forward", 8.5},
              {"left", -5.6},
              {"about", {0, 0, 0}}});
        step({{"op", "clip.set"}, {"clip", "loading"}, {"name", "crane lift"}});
        step({{"op", "tree.tidy"}});
    }

    void clips() {
        clip_ = "station run";
        const int turns = 26 * f_.bull_wheel_turns, frames = 1512;
        step({{"op", "key.remove"}, {"parts", {"Motor shaft"}}, {"frame", 72}});
        // While the rope runs the brake stays open.
        for (const double frame : {24, 72})
            step({{"op", "key.remove"}, {"parts", {"Ram rod"}}, {"channel", "shift"}, {"frame", frame}});
        step({{"op", "clip.set"}, {"clip", clip_}, {"last_frame", frames}, {"loop", true}});
        key("Motor shaft", "turn", frames, fmt::format("{} turn", -turns));
        clip_ = "cabin doors";
        step({{"op", "clip.add"}, {"name", clip_}, {"first_frame", 0}, {"last_frame", 252}, {"loop", false}});
        key("Motor shaft", "turn", 0, fmt::format("{} turn", turns / 12.0));
        key("Motor shaft", "turn", 252, fmt::format("{} turn", -turns / 12.0));
        step({{"op", "marker.set"}, {"clip", clip_}, {"frame", 81}, {"name", "doors open"}});
        step({{"op", "marker.set"}, {"clip", clip_}, {"frame", 171}, {"name", "doors close"}});
        clip_ = "whole pass";
        step({{"op", "clip.add"}, {"name", clip_}, {"first_frame", 0}, {"last_frame", 480}, {"loop", false}});
        const auto layer = [&](const char* added, double from) {
            step({{"op", "layer.set"}, {"clip", clip_}, {"add", added}, {"from_frame", from}});
        };
        layer("station run", 0);
        layer("groomer pass", 24);
        layer("truck delivery", 72);
        layer("crane lift", 216);
        step({{"op", "clip.set"}, {"clip", clip_}, {"before", "station run"}});
    }

    void cameras() {
        const auto camera = [&](const char* name, const json& at, const json& to, const char* field) {
            step({{"op", "camera.add"}, {"name", name}, {"at", at}, {"to", to}, {"field", field}});
        };
        camera("Camera pass", {40, -56, 27}, {-1, -5, 0}, "40 deg");
        camera("Camera groomer", {-2, 24, 7}, {-6, 6, 0.5}, "46 deg");
        camera("Camera station", {-24, -31, 5.5}, {-35, -18, 2.6}, "44 deg");
        camera("Camera platform", {-23.5, -14.5, 3.2}, {-34, -18, 2.4}, "48 deg");
        camera("Camera crane", {14.5, -11, 3.2}, {8.6, -4.8, 1.1}, "40 deg");
    }

    SaddleFigures f_;
    json steps_ = json::array();
    std::string clip_;
};

}  // namespace

nlohmann::json saddle_job(const SaddleFigures& figures) {
    return SaddleJob(figures).make();
}

}  // namespace pivrak::demo
