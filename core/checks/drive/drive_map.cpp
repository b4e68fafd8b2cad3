#include "core/checks/drive/drive_map.h"

#include <fmt/format.h>

#include <algorithm>
#include <limits>
#include <set>
#include <unordered_map>
#include <unordered_set>

#include "core/checks/drive/drive_mapper.h"
#include "core/checks/drive/train_report.h"
#include "core/model/element_channels.h"

namespace pivrak {

std::string short_length(double metres) {
    return format_length(metres, metres < 1 ? LengthUnit::Millimetre : LengthUnit::Metre, metres < 1 ? 1 : 3);
}

std::string with_blend(std::string verb, double blend) {
    return blend >= 1 ? verb : fmt::format("{}, {:.4g}", verb, blend);
}

DriveMapper::DriveMapper(const Document& document, const Clip& clip)
    : document_(document), couplings_(document.couplings) {
    const TrainReport report = report_trains(document, &clip);
    clashes_.insert(report.against.begin(), report.against.end());
    for (const TrainPart& train : report.trains) {
        int place = 0;
        for (const TrainLine& line : train.lines) {
            // Every one that drives stands before those that follow.
            const bool drives = line.state == ShaftState::Input || line.state == ShaftState::Held;
            place_[line.channel] = drives ? 0 : ++place;
        }
    }
}

bool DriveMapper::there(ChannelRef channel) const {
    return find_channel(document_, channel).has_value();
}

bool DriveMapper::has(ChannelRef from, ChannelRef to) const {
    return std::any_of(edges_.begin(), edges_.end(),
                       [&](const DriveEdge& e) { return e.from == from && e.to == to; });
}

void DriveMapper::add(ChannelRef from, ChannelRef to, std::string label) {
    if (there(from) && there(to) && from != to) edges_.push_back({from, to, std::move(label), by_, off_});
}

int DriveMapper::place(ChannelRef channel) const {
    const auto found = place_.find(channel);
    return found == place_.end() ? std::numeric_limits<int>::max() : found->second;
}

ChannelRef DriveMapper::joint_channel(PartId part) const {
    const Part* found = document_.parts.find(part);
    const bool slides = found && found->joint.kind == JointKind::Slide;
    return {part, slides ? ChannelKind::Shift : ChannelKind::Turn};
}

ChannelRef DriveMapper::moving_channel(const Part& part) const {
    for (const ChannelKind kind : part.channels())
        for (const Clip& clip : document_.clips)
            if (const Track* track = clip.track({part.id, kind}); track && !track->keys.empty())
                return {part.id, kind};
    return {part.id, part.channels().front()};
}

DriveMap DriveMapper::map() {
    for (const Coupling& coupling : document_.couplings)
        each_of(coupling.id, coupling.is_off(),
                [&] { std::visit([&](const auto& kind) { pivrak::map(kind, *this); }, coupling.what); });
#define PIVRAK_TABLE(Type, table)               \
    for (const Type& element : document_.table) \
        each_of(element.id, false, [&] { pivrak::map(element, *this); });
#include "core/elements/kinds.def"
    for (const Part& part : document_.parts) {
#define PIVRAK_FACET(Type, facet) \
    if (part.facet) each_of({}, false, [&] { pivrak::map(*part.facet, part, *this); });
#include "core/elements/kinds.def"
    }
    DriveMap map;
    std::set<ChannelRef> channels;
    for (DriveEdge& edge : edges_) {
        channels.insert(edge.from);
        channels.insert(edge.to);
        map.edges.push_back(std::move(edge));
    }
    map.channels.assign(channels.begin(), channels.end());
    for (const ChannelRef channel : clashes_)
        if (channels.contains(channel)) map.clashes.insert(channel);
    return map;
}

DriveMap drive_map(const Document& document, const Clip& clip) {
    return DriveMapper(document, clip).map();
}

DriveMap folded(const DriveMap& map, std::size_t least) {
    // What moves a channel and what it moves, told by index and label.
    std::map<ChannelRef, std::vector<std::string>> ties;
    const auto tie = [&](ChannelRef channel, char way, ChannelRef other, const std::string& label) {
        ties[channel].push_back(way + std::to_string(other.owner.value) + ' ' +
                                std::to_string(static_cast<int>(other.kind)) + ' ' + label);
    };
    for (const DriveEdge& edge : map.edges) {
        const std::string label = edge.off ? edge.label + " off" : edge.label;
        tie(edge.to, '<', edge.from, label);
        tie(edge.from, '>', edge.to, label);
    }
    std::map<std::pair<ChannelKind, std::vector<std::string>>, std::vector<ChannelRef>> alike;
    for (const ChannelRef channel : map.channels) {
        std::vector<std::string>& its = ties[channel];
        std::sort(its.begin(), its.end());
        if (!its.empty()) alike[{channel.kind, its}].push_back(channel);
    }
    DriveMap out;
    out.clashes = map.clashes;
    std::set<ChannelRef> hidden;
    for (const auto& [key, group] : alike) {
        if (group.size() < std::max<std::size_t>(least, 2)) continue;
        out.folded[group.front()].assign(group.begin() + 1, group.end());
        hidden.insert(group.begin() + 1, group.end());
    }
    for (const ChannelRef channel : map.channels)
        if (!hidden.contains(channel)) out.channels.push_back(channel);
    for (const DriveEdge& edge : map.edges)
        if (!hidden.contains(edge.from) && !hidden.contains(edge.to)) out.edges.push_back(edge);
    return out;
}

DriveMap grouped(const DriveMap& map, const std::function<std::optional<MapGroup>(ChannelRef)>& group_of) {
    DriveMap out;
    std::map<std::uint64_t, ChannelRef> first;
    std::map<ChannelRef, ChannelRef> stands_for;
    for (const ChannelRef channel : map.channels) {
        const auto group = group_of(channel);
        const ChannelRef box = group ? first.try_emplace(group->id, channel).first->second : channel;
        stands_for[channel] = box;
        if (box == channel) out.channels.push_back(channel);
        if (group) out.titles[box] = group->name;
        if (box != channel) out.folded[box].push_back(channel);
        if (map.clashes.contains(channel)) out.clashes.insert(box);
    }
    // What several say of two boxes is one arrow.
    std::map<std::pair<ChannelRef, ChannelRef>, std::size_t> number;
    std::vector<std::size_t> count;
    for (const DriveEdge& edge : map.edges) {
        const ChannelRef from = stands_for.at(edge.from), to = stands_for.at(edge.to);
        if (from == to) continue;
        const auto [at, is_new] = number.try_emplace({from, to}, out.edges.size());
        if (is_new) {
            out.edges.push_back({from, to, edge.label, edge.by, edge.off});
            count.push_back(1);
            continue;
        }
        DriveEdge& one = out.edges[at->second];
        one.by = {};
        one.off = one.off && edge.off;
        ++count[at->second];
        one.label = std::to_string(count[at->second]) + " ties";
    }
    return out;
}

DriveMap by_branch(const DriveMap& map, const Document& document) {
    const Tree tree(document);
    // Down from what carries all to where there are branches.
    std::span<const PartId> tops = tree.roots();
    while (tops.size() == 1 && !tree.children(tops.front()).empty()) tops = tree.children(tops.front());
    std::map<PartId, PartId> branch_of;
    for (const PartId top : tops)
        for (const PartId part : tree.branch(top)) branch_of[part] = top;
    return grouped(map, [&](ChannelRef channel) -> std::optional<MapGroup> {
        const auto found = branch_of.find(home_of(document, channel.owner));
        if (found == branch_of.end()) return std::nullopt;
        return MapGroup{found->second.value, name_of(document, found->second)};
    });
}

DriveMap by_set(const DriveMap& map, const Document& document) {
    return grouped(map, [&](ChannelRef channel) -> std::optional<MapGroup> {
        const PartId part = home_of(document, channel.owner);
        for (const PartSet& set : document.sets)
            if (part && std::find(set.parts.begin(), set.parts.end(), part) != set.parts.end())
                return MapGroup{set.id.value, set.name};
        return std::nullopt;
    });
}

DriveMap around(const DriveMap& map, const std::vector<PartId>& of) {
    const std::unordered_set<PartId> picked(of.begin(), of.end());
    std::set<ChannelRef> near;
    const auto spread = [&](bool forwards) {
        std::unordered_map<ChannelRef, std::vector<ChannelRef>> next;
        for (const DriveEdge& edge : map.edges)
            next[forwards ? edge.from : edge.to].push_back(forwards ? edge.to : edge.from);
        std::vector<ChannelRef> front;
        for (const ChannelRef channel : map.channels)
            if (picked.contains(channel.part())) front.push_back(channel);
        std::set<ChannelRef> found(front.begin(), front.end());
        while (!front.empty()) {
            const ChannelRef at = front.back();
            front.pop_back();
            for (const ChannelRef channel : next[at])
                if (found.insert(channel).second) front.push_back(channel);
        }
        near.insert(found.begin(), found.end());
    };
    spread(true);
    spread(false);
    DriveMap part;
    part.clashes = map.clashes;
    part.channels.assign(near.begin(), near.end());
    for (const DriveEdge& edge : map.edges)
        if (near.contains(edge.from) && near.contains(edge.to)) part.edges.push_back(edge);
    return part;
}

}  // namespace pivrak
