#include "app/session/key_picks.h"

#include "core/io/project/project_json.h"

namespace pivrak {

bool KeyPicks::has(ChannelRef channel, double frame) const {
    const auto found = frames_.find(channel);
    return found != frames_.end() && found->second.contains(frame);
}

void KeyPicks::set(Frames frames) {
    std::erase_if(frames, [](const auto& one) { return one.second.empty(); });
    if (frames == frames_) return;
    frames_ = std::move(frames);
    emit changed();
}

void KeyPicks::add(ChannelRef channel, double frame) {
    if (frames_[channel].insert(frame).second) emit changed();
}

void KeyPicks::move(double by) {
    Frames moved;
    for (const auto& [channel, frames] : frames_)
        for (const double frame : frames) moved[channel].insert(frame + by);
    set(std::move(moved));
}

void KeyPicks::keepIn(const Clip& clip) {
    Frames kept = frames_;
    for (auto& [channel, frames] : kept) {
        const Track* track = clip.track(channel);
        std::erase_if(frames, [&](double frame) { return !track || !track->key_at(frame); });
    }
    set(std::move(kept));
}

nlohmann::json KeyPicks::argument() const {
    nlohmann::json keys = nlohmann::json::array();
    for (const auto& [channel, frames] : frames_)
        keys.push_back({{"of", channel.owner.value}, {"channel", word(channel.kind)}, {"frames", frames}});
    return keys;
}

}  // namespace pivrak
