// Source of chain sizes: ISO 606:2015.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/words.h"
#include "core/geometry/fits/recognise.h"
#include "core/geometry/fits/series.h"
#include "core/model/edits/branch_copy.h"
#include "core/model/edits/edits.h"
#include "core/model/names/names.h"
#include "core/operations/all_operations.h"
#include "core/operations/drive/chain_steps.h"
#include "core/rig/chains/chain_builder.h"
#include "core/rig/chains/chain_remedies.h"
#include "core/rig/chains/link_shape.h"
#include "core/rig/chains/run_builder.h"

namespace pivrak {
namespace {

Result<void> read_tensioner(const Document& document, const Arguments& a, Chain& chain) {
    chain.slack.value = a.number_if("spare").value_or(chain.slack.value);
    if (chain.slack.value < 0)
        return Error{"chain.take_up", "a tensioner cannot leave less than nothing to spare", "spare"};
    return read_take_up(document, a, "take_up", chain);
}

Result<Outcome> add_chain(const Document& document, const Arguments& a, const OperationContext&) {
    ChainPlan plan;
    plan.wheels = a.parts("wheels");
    if (a.has("outside")) plan.outside = a.parts("outside");
    PIVRAK_TRY(teeth, teeth_list(a));
    plan.teeth = teeth;
    PIVRAK_TRY(pitch, pitch_asked(a));
    plan.pitch_m = pitch;
    plan.pin_height_m = a.number("pin_height");
    plan.link_count = a.has("links") ? a.integer("links") : 0;
    plan.pattern = a.integer("pattern");
    if (a.has("slack_after")) plan.slack_after = a.part("slack_after");
    PIVRAK_TRY(built, build_chain(document, plan));
    Outcome out{document};
    Chain chain = built.chain;
    PIVRAK_CHECK(read_tensioner(document, a, chain));
    PIVRAK_CHECK(add_chain_datum(out, chain, built.plane, a.has("name") ? a.text("name") : "Chain",
                                 a.has("under") ? a.part("under") : common_carrier(document, plan.wheels)));
    PIVRAK_CHECK(check_turns(document, out.document));
    tell_chain(out, chain);
    return out;
}

Result<void> set_slack_run(const Document& document, const Arguments& a, Chain& chain) {
    if (!a.has("slack_after")) return {};
    const PartId wheel = a.part("slack_after");
    const auto found = std::find_if(chain.wheels.begin(), chain.wheels.end(),
                                    [&](const ChainWheel& w) { return w.part == wheel; });
    if (found == chain.wheels.end())
        return Error{"chain.wheels",
                     fmt::format("'{}' is no wheel of '{}'", name_of(document, wheel), chain.name),
                     "slack_after"};
    chain.slack_after = static_cast<std::size_t>(found - chain.wheels.begin());
    return {};
}

/// The links of a loop, as many as asked for or as a new pitch asks for.
Result<void> set_loop_links(const Document& document, const Arguments& a, Chain& chain) {
    PIVRAK_CHECK(check_chain(document, chain));
    PIVRAK_CHECK(check_link_count(document, needed_length(chain_loop(document, chain)), chain.pitch_m));
    const double needed = needed_length(chain_loop(document, chain)) / chain.pitch_m;
    chain.link_count = a.has("links")   ? a.integer("links")
                       : a.has("pitch") ? whole_links(chain, needed)[1]
                                        : chain.link_count;
    if (chain.link_count < 4 || chain.link_count > 100000 || chain.link_count < needed - 0.25 * needed)
        return Error{"chain.links",
                     fmt::format("{} links do not go round: the loop needs {:.2f}", chain.link_count, needed),
                     "links"};
    return {};
}

/// Links of a cord that is tied at both ends fill it; a drum winds up what is more.
Result<void> set_run_links(const Document& document, const Arguments& a, Chain& chain) {
    const bool fills = !chain.travels() && !chain.folds();
    if (a.has("links")) chain.link_count = a.integer("links");
    if (fills && a.has("pitch") && !a.has("links")) chain.link_count = 0;
    if (fills && a.has("pitch") != a.has("links")) fill_run(document, chain);
    return check_run(document, chain);
}

Result<Outcome> set(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(chain, chain_named(document, a));
    Outcome out{document};
    if (a.has("pitch")) chain.pitch_m = a.number("pitch");
    PIVRAK_CHECK(check_pitch(chain.pitch_m));
    if (a.has("pattern")) chain.pattern = a.integer("pattern");
    if (chain.pattern < 1 || chain.pattern > 100)
        return Error{"chain.links",
                     fmt::format("{} different links in a row are out of range: 1 to 100", chain.pattern),
                     "pattern"};
    PIVRAK_CHECK(set_slack_run(document, a, chain));
    PIVRAK_CHECK(read_tensioner(document, a, chain));
    PIVRAK_CHECK(chain.ends ? set_run_links(document, a, chain) : set_loop_links(document, a, chain));
    seat_chain(out.document, chain);
    out.document.chains.set(chain);
    lay_links(out.document, chain);
    tell_chain(out, chain);
    return out;
}

Result<Outcome> fit(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(chain, chain_named(document, a));
    const std::vector<ChainRemedy> remedies = chain_remedies(document, chain);
    const auto fits = [&](const ChainRemedy& remedy) {
        return word(remedy.kind) == a.text("remedy") && (!a.has("part") || remedy.part == a.part("part")) &&
               (!a.has("links") || remedy.links == a.integer("links"));
    };
    const auto found = std::find_if(remedies.begin(), remedies.end(), fits);
    if (found == remedies.end())
        return Error{
            "chain.no_remedy",
            fmt::format("'{}' cannot be fitted that way{}", chain.name,
                        a.has("part") ? fmt::format(" by '{}'", name_of(document, a.part("part"))) : ""),
            chain.name};
    Outcome out{document};
    const std::string done = remedy_words(document, chain, *found);
    apply_remedy(out.document, chain, *found);
    seat_chain(out.document, chain);
    out.document.chains.set(chain);
    lay_links(out.document, chain);
    out.messages.push_back(done);
    tell_chain(out, chain);
    out.readings["amount"] = found->amount;
    return out;
}

Result<Outcome> remove_chain(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(chain, chain_named(document, a));
    Outcome out{document};
    out.document.chains.erase(chain.id);
    Part datum = *document.parts.find(chain.frame);
    datum.chain = {};
    out.document.parts.set(datum);
    if (a.flag("links")) {
        for (const PartId link : chain.links) remove_branch(out.document, link);
        if (Tree(out.document).children(datum.id).empty()) remove_branch(out.document, datum.id);
    }
    return out;
}

}  // namespace

void add_chain_operations(Registry& registry) {
    std::vector<std::string> sizes;
    for (const ChainSize& size : roller_chains()) sizes.emplace_back(size.name);
    const ArgumentSpec chain = chain_argument();
    const ArgumentSpec slack{"slack_after",
                             ArgumentKind::Part,
                             "the wheel from which the run goes that hangs with what is left over",
                             false,
                             {},
                             {}};
    const ArgumentSpec take_up{
        "take_up",
        ArgumentKind::Part,
        "a tensioner: a hinge or slide that carries a wheel and is set so that the chain keeps "
        "its slack",
        false,
        {},
        {}};
    const ArgumentSpec spare{
        "spare", ArgumentKind::Length, "the slack that a tensioner leaves to hang", false, {}, {}};
    const ArgumentSpec links{"links", ArgumentKind::Integer, "how many", false, {}, {}};
    const ArgumentSpec pitch{"pitch", ArgumentKind::Length, "from pin to pin", false, {}, {}};
    registry.add(
        {"chain.add",
         "Chain round wheels",
         "Lays a closed chain or crawler track round wheels, counts its links, and couples its travel with "
         "the "
         "turns of all wheels.",
         {{"wheels", ArgumentKind::Parts, "hinges in the order in which links reach them", true, {}, {}},
          {"outside",
           ArgumentKind::Parts,
           "those of them that stand outside the loop and press on its back",
           false,
           {},
           {}},
          {"teeth",
           ArgumentKind::Text,
           "of each wheel, such as '19 38', 0 for a roller; counted when left out",
           false,
           {},
           {}},
          {"size",
           ArgumentKind::Choice,
           "a roller chain of ISO 606; by the first sprocket when left out",
           false,
           {},
           sizes},
          pitch,
          {"pin_height",
           ArgumentKind::Length,
           "from the tread of a roller to the line of pins",
           false,
           0.0,
           {}},
          {"links", ArgumentKind::Integer, "how many; as many as it takes when left out", false, {}, {}},
          {"pattern",
           ArgumentKind::Integer,
           "different links in a row: 2 where inner and outer ones alternate",
           false,
           1,
           {}},
          slack,
          take_up,
          spare,
          {"under",
           ArgumentKind::Part,
           "carries the chain; what carries all wheels when left out",
           false,
           {},
           {}},
          {"name", ArgumentKind::Text, "of the chain and its datum", false, {}, {}}},
         add_chain});
    registry.add({"chain.set",
                  "Change a chain",
                  "Changes links, pitch or hanging run of a chain; sprockets and links are set anew.",
                  {chain,
                   links,
                   pitch,
                   {"pattern", ArgumentKind::Integer, "different links in a row", false, {}, {}},
                   slack,
                   take_up,
                   spare},
                  set});
    registry.add(
        {"chain.fit",
         "Fit whole links",
         "Makes a loop take whole links: moves a wheel, turns an arm that carries one, lets a run sag, or "
         "takes the "
         "pitch a little off.",
         {chain,
          {"remedy", ArgumentKind::Choice, "what is done", true, {}, {"move", "turn", "sag", "pitch"}},
          {"part", ArgumentKind::Part, "the wheel that is moved, or the arm", false, {}, {}},
          links},
         fit});
    registry.add({"chain.remove",
                  "Remove a chain",
                  "Takes a chain away; its links stay where they are, or go with it.",
                  {chain, {"links", ArgumentKind::Flag, "links go too", false, false, {}}},
                  remove_chain});
}

}  // namespace pivrak
