#include "app/drive_map/map_edit.h"

#include <QObject>

#include "app/stages/kit/part_field.h"
#include "core/elements/follow/follow_words.h"
#include "core/io/project/project_json.h"
#include "core/model/element_channels.h"

namespace pivrak {

using nlohmann::json;

namespace {

ArrowNumber gainOf(const Follow& follow, const DriveMap& map, const DriveEdge& edge) {
    std::vector<PartId> parts{edge.to.part()};
    // A box that stands for many is changed with all of them.
    if (const auto others = map.folded.find(edge.to); others != map.folded.end())
        for (const ChannelRef other : others->second) parts.push_back(other.part());
    const bool turn = is_turn(follow.driven.kind), by_turn = is_turn(follow.driver.kind);
    const QString what = !follow.curve.empty() ? QObject::tr("times what the curve gives")
                         : turn == by_turn     ? QObject::tr("times the driver")
                         : turn                ? QObject::tr("degrees for each m")
                                               : QObject::tr("m for each degree");
    return {
        QString::number(typed_gain(follow), 'g', 9), what, [parts, kind = follow.driven.kind](double gain) {
            return json{
                {"op", "follow.set"}, {"parts", part_ids(parts)}, {"channel", word(kind)}, {"gain", gain}};
        }};
}

}  // namespace

std::optional<ArrowNumber> arrowNumber(const Document& document, const DriveMap& map, const DriveEdge& edge,
                                       QString& why) {
    const Coupling* coupling = document.couplings.find(CouplingId{edge.by.value});
    if (coupling && coupling->as<Follow>()) return gainOf(*coupling->as<Follow>(), map, edge);
    const ChannelRef blend{edge.by, ChannelKind::Blend};
    if (const auto channel = edge.by ? find_channel(document, blend) : std::nullopt)
        return ArrowNumber{QString::number(channel->value, 'g', 6), QObject::tr("blend, 0 to 1"),
                           [element = edge.by](double share) {
                               return json{{"op", "channel.set"},
                                           {"elements", {element.value}},
                                           {"channel", "blend"},
                                           {"value", share}};
                           }};
    why = !edge.by ? QObject::tr("several things tie these two: unfold them first")
          : coupling && coupling->as<Formula>() ? QObject::tr("its formula decides: edit it under Formulas")
          : coupling && coupling->as<GearPair>()
              ? QObject::tr("its teeth and radii decide: change them under Gears")
              : QObject::tr("what is measured on the parts decides: there is no number to type");
    return std::nullopt;
}

}  // namespace pivrak
