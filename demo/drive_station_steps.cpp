#include <fmt/format.h>

#include <cmath>
#include <map>

#include "demo/drive_station.h"

namespace pivrak::demo {

nlohmann::json drive_station_steps(const std::vector<Component>& components) {
    using nlohmann::json;
    std::map<std::string, int> total, number;
    for (const Component& c : components) ++total[c.lump];
    json steps = json::array();
    steps.push_back({{"op", "split.pieces"}, {"parts", {"steel", "paint", "cast"}}});
    for (const Component& c : components) {
        const std::size_t width = std::to_string(total[c.lump]).size();
        steps.push_back({{"op", "part.rename"},
                         {"part", fmt::format("{} {:0{}}", c.lump, ++number[c.lump], width)},
                         {"name", c.name}});
    }
    json round = json::array();
    for (const Component& c : components)
        if (c.turns) round.push_back(c.name);
    steps.push_back({{"op", "pivot.fit_cylinder"}, {"parts", round}, {"axis", "x"}});
    std::map<std::string, json> carried;
    std::vector<std::string> order;
    for (const Component& c : components)
        if (!c.carried_by.empty()) {
            if (!carried.contains(c.carried_by)) order.push_back(c.carried_by);
            carried[c.carried_by].push_back(c.name);
        }
    steps.push_back({{"op", "tree.parent"}, {"parts", {"Bed plate"}}, {"under", "drive-station"}});
    for (const std::string& carrier : order)
        steps.push_back({{"op", "tree.parent"}, {"parts", carried[carrier]}, {"under", carrier}});
    steps.push_back({{"op", "part.remove"}, {"parts", {"steel", "paint", "cast"}}});
    const json planets = {"Planet 1", "Planet 2", "Planet 3"};
    const json hinges = {"Motor shaft", "Layshaft", "Input shaft", "Carrier",
                         "Ring 60T",    planets[0], planets[1],    planets[2]};
    steps.push_back({{"op", "joint.set"}, {"parts", hinges}, {"kind", "hinge"}, {"axis", "x"}});
    // The ring is bolted down: it is held.
    steps.push_back({{"op", "joint.set"}, {"parts", {"Ring 60T"}}, {"channel", "turn"}, {"locked", true}});
    steps.push_back({{"op", "coupling.gear"}, {"driver", "Pinion 17T"}, {"driven", "Wheel 51T"}});
    steps.push_back({{"op", "chain.add"},
                     {"name", "Drive chain"},
                     {"wheels", {"Sprocket 19T", "Sprocket 38T"}},
                     {"size", "16B"},
                     {"pattern", 2}});
    steps.push_back(
        {{"op", "chain.build"}, {"chain", "Drive chain"}, {"parts", {"Inner link", "Outer link"}}});
    steps.push_back(
        {{"op", "coupling.planets"}, {"planets", planets}, {"sun", "Sun 18T"}, {"ring", "Ring 60T"}});
    steps.push_back({{"op", "clip.set"},
                     {"name", "station run"},
                     {"first_frame", 0},
                     {"last_frame", 72},
                     {"loop", true}});
    // Three turns of the motor; the train turns all the rest.
    for (const double frame : {0.0, 72.0})
        steps.push_back({{"op", "key.set"},
                         {"parts", {"Motor shaft"}},
                         {"frame", frame},
                         {"value", frame > 0 ? "1080 deg" : "0 deg"},
                         {"interpolation", "linear"}});
    return steps;
}

}  // namespace pivrak::demo
