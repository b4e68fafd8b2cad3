#include "app/drive_map/map_edit.h"

#include <fmt/format.h>

#include <QObject>

#include "app/stages/kit/part_field.h"
#include "core/elements/follow/follow_words.h"
#include "core/io/project/project_json.h"
#include "core/model/element_channels.h"

namespace pivrak {

using nlohmann::json;

namespace {

/// A step with a plain number; a comma stands for a point.
auto byNumber(std::function<json(double)> step) {
    return [step](const std::string& typed) -> Result<json> {
        bool is_number = false;
        const double value = QString::fromStdString(typed)
                                 .trimmed()
                                 .replace(QLatin1Char(','), QLatin1Char('.'))
                                 .toDouble(&is_number);
        if (!is_number) return Error{"map.number", fmt::format("'{}' is no number", typed), typed};
        return step(value);
    };
}

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
        QString::number(typed_gain(follow), 'g', 9), what,
        byNumber([parts, kind = follow.driven.kind](double gain) {
            return json{
                {"op", "follow.set"}, {"parts", part_ids(parts)}, {"channel", word(kind)}, {"gain", gain}};
        })};
}

json gearStep(ChannelRef first, ChannelRef second) {
    return {{"op", "coupling.set"}, {"driver", first.owner.value}, {"driven", second.owner.value}};
}

/// Both sizes of a pair, in the order of its arrow: teeth, or radii with their unit.
ArrowNumber ratioOf(const GearPair& pair, const DriveEdge& edge, LengthUnit unit) {
    const bool turned_round = edge.from != pair.driver;
    const bool by_radii = pair.driver_radius_m > 0 && pair.driven_radius_m > 0;
    const double radii[] = {pair.driver_radius_m, pair.driven_radius_m};
    const std::string shown[] = {
        by_radii ? format_length(radii[0], unit) : std::to_string(pair.driver_teeth),
        by_radii ? format_length(radii[1], unit) : std::to_string(pair.driven_teeth)};
    return {
        QString::fromStdString(shown[turned_round] + " : " + shown[!turned_round]),
        by_radii ? QObject::tr("radius : radius") : QObject::tr("teeth : teeth"),
        [=, step = gearStep(edge.from, edge.to)](const std::string& typed) mutable -> Result<json> {
            const std::size_t colon = typed.find(':');
            if (colon == std::string::npos)
                return Error{"map.number", fmt::format("'{}' is no ratio: say 20 : 60", typed), typed};
            const std::string sizes[] = {typed.substr(0, colon), typed.substr(colon + 1)};
            for (const int i : {0, 1}) {
                const char* of = i == 0 ? "driver" : "driven";
                const auto value =
                    parse_quantity(sizes[i], by_radii ? Dimension::Length : Dimension::None, unit);
                if (!value) return value.error();
                // One that was left as it is shown, rounded, stays what it is.
                const std::size_t end = (i == 0) == turned_round ? 1 : 0;
                if (by_radii)
                    step[fmt::format("{}_radius", of)] =
                        *value == *parse_quantity(shown[end], Dimension::Length, unit) ? radii[end] : *value;
                else if (*value != std::round(*value) || std::abs(*value) > 1e6)
                    return Error{"map.number", fmt::format("'{}' is no number of teeth", sizes[i]), typed};
                else
                    step[fmt::format("{}_teeth", of)] = static_cast<int>(*value);
            }
            return step;
        }};
}

/// The one length of a rack's pinion or a screw.
ArrowNumber lengthOf(const GearPair& pair, LengthUnit unit) {
    const bool screw = pair.kind == PairKind::Screw;
    const char* name = screw ? "lead" : is_turn(pair.driver.kind) ? "driver_radius" : "driven_radius";
    const double now = screw ? pair.lead_m : std::max(pair.driver_radius_m, pair.driven_radius_m);
    return {QString::fromStdString(format_length(now, unit)),
            screw ? QObject::tr("lead of a turn") : QObject::tr("pitch radius"),
            [=, step = gearStep(pair.driver, pair.driven)](const std::string& typed) mutable -> Result<json> {
                PIVRAK_TRY(value, parse_quantity(typed, Dimension::Length, unit));
                step[name] = value;
                return step;
            }};
}

}  // namespace

std::optional<ArrowNumber> arrowNumber(const Document& document, const DriveMap& map, const DriveEdge& edge,
                                       QString& why) {
    const Coupling* coupling = document.couplings.find(CouplingId{edge.by.value});
    const LengthUnit unit = document.settings.length_unit;
    if (coupling && coupling->as<Follow>()) return gainOf(*coupling->as<Follow>(), map, edge);
    if (const GearPair* pair = coupling ? coupling->as<GearPair>() : nullptr;
        pair && (edge.from == pair->driver || edge.from == pair->driven) &&
        (edge.to == pair->driver || edge.to == pair->driven))
        return pair->kind == PairKind::Screw || pair->kind == PairKind::Rack ? lengthOf(*pair, unit)
                                                                             : ratioOf(*pair, edge, unit);
    const ChannelRef blend{edge.by, ChannelKind::Blend};
    if (const auto channel = edge.by ? find_channel(document, blend) : std::nullopt)
        return ArrowNumber{QString::number(channel->value, 'g', 6), QObject::tr("blend, 0 to 1"),
                           byNumber([element = edge.by](double share) {
                               return json{{"op", "channel.set"},
                                           {"elements", {element.value}},
                                           {"channel", "blend"},
                                           {"value", share}};
                           })};
    why = !edge.by ? QObject::tr("several things tie these two: unfold them first")
          : coupling && coupling->as<Formula>() ? QObject::tr("its formula decides: edit it under Formulas")
          : coupling && coupling->as<GearPair>()
              ? QObject::tr("its teeth and radii decide: change them under Gears")
              : QObject::tr("what is measured on the parts decides: there is no number to type");
    return std::nullopt;
}

}  // namespace pivrak
