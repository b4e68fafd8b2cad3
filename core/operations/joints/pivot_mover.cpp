#include "core/operations/joints/pivot_mover.h"

#include <fmt/format.h>

#include "core/base/words.h"
#include "core/model/edits/edits.h"

namespace pivrak {
namespace {

/// Keys count from the frame of the part; they stay, and now turn or shift it about another one.
void tell_keys(const Document& document, const Part& part, std::vector<std::string>& messages) {
    for (const Clip& clip : document.clips) {
        std::size_t keys = 0;
        for (const ChannelKind kind : channels_of(part.joint.kind))
            if (const Track* track = clip.track({part.id, kind})) keys += track->keys.size();
        if (keys > 0)
            messages.push_back(fmt::format("'{}' has {} in '{}': they now move it about the new pivot",
                                           part.name, counted(keys, "key"), clip.name));
    }
}

}  // namespace

void PivotMover::move(PartId id, const Frame& world_from_new, const std::string& note,
                      nlohmann::json readings) {
    const Part part = *out_.document.parts.find(id);
    const Frame before = world_from_rest(out_.document, id);
    const double moved = (world_from_new.translation - before.translation).norm(),
                 turned = angle_between(before.rotation, world_from_new.rotation);
    out_.messages.push_back(fmt::format("'{}': {}pivot moved {}, axes turned {}", part.name,
                                        note.empty() ? "" : note + ", ", format_length(moved, out_.document),
                                        format_angle(turned)));
    readings["part"] = id.value;
    readings["moved_m"] = moved;
    readings["turned_rad"] = turned;
    out_.readings["pivots"].push_back(std::move(readings));
    move_pivot(out_.document, id, world_from_new);
    tell_keys(out_.document, part, out_.messages);
}

Vec3 positive_direction(const Vec3& direction) {
    Eigen::Index largest = 0;
    direction.cwiseAbs().maxCoeff(&largest);
    return direction[largest] < 0 ? Vec3(-direction) : direction;
}

}  // namespace pivrak
