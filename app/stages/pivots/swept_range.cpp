#include "app/stages/pivots/swept_range.h"

#include "app/session/shown_value.h"
#include "app/stages/kit/card.h"
#include "core/model/limit_ends.h"

namespace pivrak {

ChannelKind swept_kind(const Part& part) {
    return part.joint.has(ChannelKind::Turn) ? ChannelKind::Turn : ChannelKind::Shift;
}

SweptRange::SweptRange(Session& session, const char* from_name, const char* to_name)
    : session_(session), ends_{{makeNumber(from_name)}, {makeNumber(to_name)}} {}

void SweptRange::propose(const Part& part, double turn_reach_rad, double shift_reach_m) {
    const ChannelKind kind = swept_kind(part);
    if (part.id == proposed_for_ && kind == proposed_kind_) return;
    proposed_for_ = part.id;
    proposed_kind_ = kind;
    const double reach = is_turn(kind) ? turn_reach_rad : shift_reach_m;
    const auto& limits = part.joint.channel(kind).limits;
    const Limits range = limits ? closed(*limits, reach) : Limits{-reach, reach};
    put(ends_[0], kind, range.min);
    put(ends_[1], kind, range.max);
}

std::optional<Limits> SweptRange::read(const Part& part) {
    const ChannelKind kind = swept_kind(part);
    for (End& end : ends_) {
        if (end.field->text() == end.shown) continue;
        const auto typed = parse_quantity(end.field->text().toStdString(), dimension_of(kind),
                                          session_.document().settings.length_unit);
        if (!typed) {
            emit session_.told(QString::fromStdString(typed.error().message), true);
            return std::nullopt;
        }
        put(end, kind, *typed);
    }
    return Limits{ends_[0].value, ends_[1].value};
}

void SweptRange::put(End& end, ChannelKind kind, double value) {
    end.value = value;
    end.shown = shownValue(session_.document(), kind, value);
    end.field->setText(end.shown);
}

}  // namespace pivrak
