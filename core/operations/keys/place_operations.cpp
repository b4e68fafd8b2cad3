// Keys that bring a place of a part somewhere.
#include <fmt/format.h>

#include <algorithm>

#include "core/base/words.h"
#include "core/model/element_channels.h"
#include "core/motion/place_solver.h"
#include "core/operations/all_operations.h"
#include "core/operations/keys/clip_access.h"
#include "core/operations/keys/key_picks.h"

namespace pivrak {
namespace {

Result<Outcome> key_place(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(source, clip_named(document, a));
    const double frame = a.number("frame");
    PIVRAK_TRY(evaluator, Evaluator::compile(document, source->id));
    const PartId part = a.part("part");
    const PlaceWanted wanted{
        part,
        world_from_rest(document, part)
            .inverse()
            .point(a.point_if("at").value_or(world_from_rest(document, part).translation)),
        a.point("to"), frame};
    std::vector<ChannelRef> keyed;
    for (const ChannelRef channel : keyed_at(document, *source, frame))
        if (evaluator.channel_slot(channel)) keyed.push_back(channel);
    keyed = moving_channels(evaluator, wanted, keyed);
    if (keyed.empty())
        return Error{"key.place",
                     fmt::format("no key at frame {:g} moves '{}'", frame, name_of(document, part)), "frame"};
    const std::vector<double> values = bring_place(evaluator, wanted, keyed);
    Clip clip = *source;
    for (std::size_t i = 0; i < keyed.size(); ++i) {
        Track& track = clip.track_or_new(keyed[i]);
        Key key = *track.key_at(frame);
        key.value = values[i] - evaluator.layered(*evaluator.channel_slot(keyed[i]), frame);
        put_key(track, key);
    }
    Pose pose = evaluator.make_pose();
    std::vector<HeldChannel> held;
    for (std::size_t i = 0; i < keyed.size(); ++i)
        held.push_back({*evaluator.channel_slot(keyed[i]), values[i]});
    evaluator.evaluate(frame, pose, held);
    const double off =
        (pose.world_from_part[*evaluator.part_slot(part)].point(wanted.place) - wanted.to).norm();
    if (clip == *source) return nothing_to_do(document, "it stands there already, or as near as it can");
    std::string words = fmt::format("{} at frame {:g} moved", counted(keyed.size(), "key"), frame);
    if (off > 1e-6) words += fmt::format(", {} short of that place", format_length(off, document));
    return with_clip(document, std::move(clip), std::move(words));
}

}  // namespace

void add_place_operations(Registry& registry) {
    registry.add({"key.place",
                  "Bring a place somewhere by keys",
                  "Changes the values of keys that stand at a frame until a place of a part is where it is "
                  "asked to be, or "
                  "as near as their channels can bring it.",
                  {{"part", ArgumentKind::Part, "the part whose place it is", true, {}, {}},
                   {"at",
                    ArgumentKind::Point,
                    "the place, with the part at rest; its pivot when left out",
                    false,
                    {},
                    {}},
                   {"to", ArgumentKind::Point, "where it is to be", true, {}, {}},
                   {"frame", ArgumentKind::Number, "at which the keys stand", true, {}, {}},
                   clip_argument()},
                  key_place});
}

}  // namespace pivrak
