#include "core/model/part.h"

#include <algorithm>
#include <array>

namespace pivrak {

std::span<const ChannelKind> channels_of(JointKind kind) {
    using enum ChannelKind;
    static constexpr std::array all{Turn, Shift, ShiftX, ShiftY, ShiftZ, TurnX, TurnY, TurnZ};
    const std::span<const ChannelKind> list(all);
    switch (kind) {
        case JointKind::Fixed:
            return {};
        case JointKind::Hinge:
            return list.subspan(0, 1);
        case JointKind::Slide:
            return list.subspan(1, 1);
        case JointKind::Cylinder:
            return list.subspan(0, 2);
        case JointKind::Ball:
            return list.subspan(5, 3);
        case JointKind::Free:
            return list.subspan(2, 6);
    }
    return {};
}

bool Joint::has(ChannelKind wanted) const {
    if (wanted == ChannelKind::Size) return size.has_value();
    const auto channels = channels_of(kind);
    return std::find(channels.begin(), channels.end(), wanted) != channels.end();
}

const Channel& Joint::channel(ChannelKind wanted) const {
    static const Channel as_made, as_large{rest_of(ChannelKind::Size), std::nullopt, false};
    if (wanted == ChannelKind::Size) return size ? *size : as_large;
    if (wanted == ChannelKind::Turn) return turn;
    if (wanted == ChannelKind::Shift) return shift;
    if (wanted == ChannelKind::Along) return along;
    if (wanted == ChannelKind::Travel) return travel;
    return own.empty()
               ? as_made
               : own[static_cast<std::size_t>(wanted) - static_cast<std::size_t>(ChannelKind::ShiftX)];
}

void Joint::set_channel(ChannelKind wanted, const Channel& channel) {
    if (wanted == ChannelKind::Turn) {
        turn = channel;
    } else if (wanted == ChannelKind::Shift) {
        shift = channel;
    } else if (wanted == ChannelKind::Along) {
        along = channel;
    } else if (wanted == ChannelKind::Travel) {
        travel = channel;
    } else if (wanted == ChannelKind::Size) {
        size = channel;
    } else {
        own.resize(6);
        own[static_cast<std::size_t>(wanted) - static_cast<std::size_t>(ChannelKind::ShiftX)] = channel;
        if (std::all_of(own.begin(), own.end(), [](const Channel& c) { return c == Channel{}; })) own.clear();
    }
}

std::vector<ChannelKind> Part::channels() const {
    const auto of_joint = channels_of(joint.kind);
    std::vector<ChannelKind> all(of_joint.begin(), of_joint.end());
    if (joint.size) all.push_back(ChannelKind::Size);
    if (ride) all.push_back(ChannelKind::Along);
    if (chain) all.push_back(ChannelKind::Travel);
    return all;
}

}  // namespace pivrak
