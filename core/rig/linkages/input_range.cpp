#include "core/rig/linkages/input_range.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/model/element_channels.h"

namespace pivrak {

InputRange input_range(const BuiltLinkage& built, std::uint32_t input) {
    const LinkageSolver& solver = built.solver;
    const LinkageModel& model = solver.model();
    LinkageRoom room = solver.make_room();
    const double far = model.tree.turns(input) ? 2 * pi : 10 * model.size_m;
    InputRange range;
    for (const bool most : {false, true}) {
        std::vector<double> values = built.rest, way(values.size(), 0.0), goal = values;
        const Limits& limits = model.limits[input];
        goal[input] = most ? std::min(far, limits.max) : std::max(-far, limits.min);
        LinkageStop stop = solver.follow(values, way, goal, room);
        if (stop.why == Stops::Not && std::abs(goal[input]) < far) stop = {Stops::Limit, input};
        (most ? range.most : range.least) = values[input];
        (most ? range.at_most : range.at_least) = stop;
    }
    return range;
}

std::string range_words(const Document& document, const BuiltLinkage& built, std::uint32_t input,
                        const InputRange& range) {
    const ChannelRef channel = built.channels[input];
    const auto end = [&](double value, const LinkageStop& stop) {
        if (stop.why == Stops::Not) return std::string("without end");
        const std::string why = stop.why == Stops::Limit && stop.column == input
                                    ? "its limit"
                                    : stop_words(document, built, stop);
        return fmt::format("{} ({})", format_channel(channel.kind, value, document), why);
    };
    const std::string name = channel_name(document, channel);
    if (range.free()) return fmt::format("'{}' goes all round", name);
    return fmt::format("'{}' goes from {} to {}", name, end(range.least, range.at_least),
                       end(range.most, range.at_most));
}

std::string stop_words(const Document& document, const BuiltLinkage& built, const LinkageStop& stop) {
    if (stop.why == Stops::DeadPoint) return "dead point";
    return fmt::format("'{}' at its limit", channel_name(document, built.channels[stop.column]));
}

}  // namespace pivrak
