#include "core/operations/keys/key_picks.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/io/project/project_json.h"
#include "core/operations/channel_access.h"
#include "core/operations/keys/clip_access.h"

namespace pivrak {
namespace {

/// Whether a track is one of those that parts, elements and channel name; all when nothing is named.
bool is_named(const Track& track, const std::vector<OwnerId>& owners, const std::string& channel) {
    const bool owned =
        owners.empty() || std::find(owners.begin(), owners.end(), track.channel.owner) != owners.end();
    return owned && (channel == "all" || channel == word(track.channel.kind));
}

Result<std::vector<PickedKeys>> by_list(const Clip& clip, const nlohmann::json& list) {
    std::vector<PickedKeys> picked;
    for (const nlohmann::json& entry : list) {
        const OwnerId owner = PartId{entry.at("of").get<std::uint64_t>()};
        const auto kind = channel_kind_from(entry.at("channel").get<std::string>());
        const Track* track = kind ? clip.track({owner, *kind}) : nullptr;
        if (!track)
            return Error{"key.none",
                         fmt::format("there are no keys of a channel '{}' there",
                                     entry.at("channel").get<std::string>()),
                         "keys"};
        PickedKeys one{track->channel, entry.at("frames").get<std::vector<double>>()};
        std::sort(one.frames.begin(), one.frames.end());
        one.frames.erase(std::unique(one.frames.begin(), one.frames.end()), one.frames.end());
        for (const double frame : one.frames)
            if (!track->key_at(frame))
                return Error{"key.none", fmt::format("there is no key at frame {:g}", frame), "keys"};
        if (!one.frames.empty()) picked.push_back(std::move(one));
    }
    return picked;
}

}  // namespace

bool PickedKeys::has(double frame) const {
    return std::binary_search(frames.begin(), frames.end(), frame);
}

std::vector<ArgumentSpec> picking_keys(std::vector<ArgumentSpec> others) {
    ArgumentSpec channel = channel_argument();
    channel.fallback = "all";
    channel.choices.emplace_back("all");
    channel.summary = "only this channel of them";
    std::vector<ArgumentSpec> all{
        {"keys",
         ArgumentKind::Keys,
         "keys one by one: [{\"of\": part or element, \"channel\": ..., \"frames\": [...]}]",
         false,
         {},
         {}},
        {"parts",
         ArgumentKind::Parts,
         "parts whose keys are meant; all when nothing is named",
         false,
         {},
         {}},
        elements_argument(),
        channel,
        {"from", ArgumentKind::Number, "no keys before this frame", false, {}, {}},
        {"to", ArgumentKind::Number, "no keys behind this frame", false, {}, {}},
        clip_argument()};
    all.insert(all.end(), std::make_move_iterator(others.begin()), std::make_move_iterator(others.end()));
    return all;
}

Result<std::vector<PickedKeys>> picked_keys(const Clip& clip, const Arguments& a) {
    std::vector<PickedKeys> picked;
    if (a.has("keys")) {
        PIVRAK_TRY(listed, by_list(clip, a.values().at("keys")));
        picked = std::move(listed);
    } else {
        const double from = a.number_if("from").value_or(-1e300), to = a.number_if("to").value_or(1e300);
        if (from > to)
            return Error{"key.range", fmt::format("from frame {:g} to {:g} is backwards", from, to), "from"};
        const std::vector<OwnerId> owners = owners_asked(a);
        for (const Track& track : clip.tracks) {
            if (!is_named(track, owners, a.text("channel"))) continue;
            PickedKeys one{track.channel, {}};
            for (const Key& key : track.keys)
                if (key.frame >= from && key.frame <= to) one.frames.push_back(key.frame);
            if (!one.frames.empty()) picked.push_back(std::move(one));
        }
    }
    if (picked.empty())
        return Error{"key.none", fmt::format("no key of '{}' is meant by that", clip.name), "keys"};
    return picked;
}

Result<std::vector<ChannelRef>> keyed_channels(const Clip& clip, const Arguments& a) {
    PIVRAK_TRY(picked, picked_keys(clip, a));
    std::vector<ChannelRef> channels;
    for (const PickedKeys& one : picked) channels.push_back(one.channel);
    return channels;
}

std::size_t count_of(const std::vector<PickedKeys>& picked) {
    std::size_t count = 0;
    for (const PickedKeys& one : picked) count += one.frames.size();
    return count;
}

Limits frames_of(const std::vector<PickedKeys>& picked) {
    Limits range{1e300, -1e300};
    for (const PickedKeys& one : picked) {
        range.min = std::min(range.min, one.frames.front());
        range.max = std::max(range.max, one.frames.back());
    }
    return range;
}

Outcome with_clip(const Document& document, Clip clip, std::string words) {
    std::erase_if(clip.tracks, [](const Track& track) { return track.keys.empty(); });
    Outcome out{document};
    out.document.clips.set(std::move(clip));
    out.messages.push_back(std::move(words));
    return out;
}

}  // namespace pivrak
