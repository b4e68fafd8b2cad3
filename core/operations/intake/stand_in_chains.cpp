#include "core/operations/intake/stand_in_chains.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/words.h"
#include "core/operations/drive/chain_steps.h"
#include "core/rig/chains/chain_remedies.h"
#include "core/rig/chains/run_builder.h"

namespace pivrak {
namespace {

/// As many links as go round now, with as many to spare as before.
Result<void> change_links(const Document& before, const Chain& was, const Document& after, Chain& chain) {
    if (chain.ends) {
        if (!chain.travels() && !chain.folds()) {
            chain.link_count = 0;
            fill_run(after, chain);
        }
        return check_run(after, chain);
    }
    PIVRAK_CHECK(check_chain(after, chain));
    const auto whole = [](const Document& document, const Chain& of) {
        return whole_links(of, needed_length(chain_loop(document, of)) / of.pitch_m)[1];
    };
    const int more = was.link_count - whole(before, was);
    chain.link_count = whole(after, chain) + std::max(0, more);
    return check_link_count(after, needed_length(chain_loop(after, chain)), chain.pitch_m);
}

/// The pitch of a chain once sprockets have changed: theirs, where all have changed to the same.
Result<double> new_pitch(const Document& document, const Chain& chain, const std::vector<Changed>& changes) {
    std::optional<double> pitch;
    const ChainWheel *kept = nullptr, *another = nullptr;
    for (const ChainWheel& wheel : chain.wheels) {
        if (wheel.teeth == 0) continue;
        const Changed* changed = turned_by(document, wheel.part, changes);
        if (!changed || !is_pitch(changed->was.pitch_m, chain.pitch_m) ||
            is_pitch(changed->is.pitch_m, chain.pitch_m))
            kept = &wheel;
        else if (pitch && !is_pitch(changed->is.pitch_m, *pitch))
            another = &wheel;
        else
            pitch = changed->is.pitch_m;
    }
    if (pitch && (kept || another))
        return Error{"stand_in.pitch",
                     fmt::format("'{}' goes round '{}' as well, whose pitch would be another: change all of "
                                 "its sprockets together",
                                 chain.name, name_of(document, (kept ? kept : another)->part)),
                     chain.name};
    return pitch.value_or(chain.pitch_m);
}

}  // namespace

Result<void> change_chains(const Document& before, Outcome& out, const std::vector<Changed>& changes) {
    for (const Chain& was : before.chains) {
        Chain chain = was;
        PIVRAK_TRY(pitch, new_pitch(out.document, was, changes));
        bool any = pitch != was.pitch_m;
        chain.pitch_m = pitch;
        for (ChainWheel& wheel : chain.wheels) {
            const Changed* changed = turned_by(out.document, wheel.part, changes);
            if (!changed) continue;
            double none = 0;
            if (wheel.teeth > 0) any |= take_over(wheel.teeth, none, changed);
            // Pins go round a roller as far outside its tread as before.
            if (wheel.teeth > 0 || !(changed->was.radius_m > 0) ||
                changed->was.radius_m == changed->is.radius_m)
                continue;
            wheel.radius_m += changed->is.radius_m - changed->was.radius_m;
            any = true;
        }
        if (!any) continue;
        PIVRAK_CHECK(change_links(before, was, out.document, chain));
        seat_chain(out.document, chain);
        out.document.chains.set(chain);
        lay_links(out.document, chain);
        std::string told = fmt::format("'{}' has {}", chain.name,
                                       counted(static_cast<std::size_t>(chain.link_count), "link"));
        if (pitch != was.pitch_m)
            told += fmt::format(", {} long each", format_length(pitch, LengthUnit::Millimetre, 3));
        out.messages.push_back(std::move(told));
    }
    return {};
}

}  // namespace pivrak
