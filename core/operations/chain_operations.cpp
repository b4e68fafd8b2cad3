// Source of chain sizes: ISO 606:2015.
#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <sstream>

#include "core/base/words.h"
#include "core/geometry/recognise.h"
#include "core/geometry/series.h"
#include "core/model/branch_copy.h"
#include "core/model/edits.h"
#include "core/model/names.h"
#include "core/operations/all_operations.h"
#include "core/rig/chain_builder.h"
#include "core/rig/chain_remedies.h"
#include "core/rig/link_shape.h"
#include "core/rig/train.h"

namespace pivrak {
namespace {

const std::string& name_of(const Document& document, PartId part) {
    return document.parts.find(part)->name;
}

/// `19 38 0`: teeth of each wheel.
Result<std::vector<int>> teeth_list(const Arguments& a) {
    std::vector<int> teeth;
    if (!a.has("teeth")) return teeth;
    std::istringstream words(a.text("teeth"));
    for (std::string word; words >> word;) {
        int count = 0;
        const auto [end, problem] = std::from_chars(word.data(), word.data() + word.size(), count);
        if (problem != std::errc{} || end != word.data() + word.size() || count < 0)
            return Error{"chain.teeth",
                         fmt::format("'{}' is no number of teeth; write '19 38', and 0 for a roller", word),
                         "teeth"};
        teeth.push_back(count);
    }
    return teeth;
}

Result<double> pitch_asked(const Arguments& a) {
    if (a.has("pitch")) return a.number("pitch");
    if (!a.has("size")) return 0.0;
    for (const ChainSize& size : roller_chains())
        if (size.name == a.text("size")) return size.pitch_m;
    return Error{"chain.pitch", fmt::format("there is no roller chain '{}'", a.text("size")), "size"};
}

/// Refuses a chain that would keep its train from turning: its wheels are geared with each other otherwise.
Result<void> check_turns(const Document& before, const Document& after) {
    const std::vector<ChannelRef> stuck = newly_stuck(before, after);
    if (!stuck.empty())
        return Error{
            "train.stuck",
            fmt::format("then '{}' could not turn any more: what turns it otherwise blocks the chain",
                        name_of(after, stuck.front().part)),
            name_of(after, stuck.front().part)};
    return {};
}

/// Takes a tensioner, or with the chain's own datum named as one takes it away.
Result<void> read_take_up(const Document& document, const Arguments& a, Chain& chain) {
    chain.spare_m = a.number_if("spare").value_or(chain.spare_m);
    if (chain.spare_m < 0)
        return Error{"chain.take_up", "a tensioner cannot leave less than nothing to spare", "spare"};
    if (!a.has("take_up")) return {};
    const Part& arm = *document.parts.find(a.part("take_up"));
    if (arm.id == chain.frame) {
        chain.take_up = {};
        return {};
    }
    const bool carries = std::any_of(chain.wheels.begin(), chain.wheels.end(), [&](const ChainWheel& wheel) {
        return wheel.part != arm.id && is_below(document, wheel.part, arm.id);
    });
    if ((arm.joint.kind != JointKind::Hinge && arm.joint.kind != JointKind::Slide) || !carries ||
        is_below(document, chain.frame, arm.id))
        return Error{
            "chain.take_up",
            fmt::format("'{}' is no tensioner: it must be a hinge or a slide that carries a wheel of "
                        "the chain, and not the chain itself",
                        arm.name),
            arm.name};
    chain.take_up = arm.id;
    return {};
}

void tell(Outcome& out, const Chain& chain) {
    const ChainFacts facts = chain_facts(chain_loop(out.document, chain));
    out.messages.push_back(fmt::format("'{}': {} links of {}, the loop needs {:.3f}, {} {}", chain.name,
                                       chain.link_count, format_length(chain.pitch_m), facts.links_needed,
                                       format_length(std::abs(facts.slack_m), LengthUnit::Millimetre, 2),
                                       facts.slack_m < 0 ? "missing" : "to spare"));
    out.readings = {{"links", chain.link_count},  {"pitch_m", chain.pitch_m},
                    {"needed_m", facts.needed_m}, {"links_needed", facts.links_needed},
                    {"smooth_m", facts.smooth_m}, {"slack_m", facts.slack_m},
                    {"sag_m", facts.sag_m},       {"remedies", nlohmann::json::array()}};
    for (const ChainRemedy& remedy : chain_remedies(out.document, chain))
        out.readings["remedies"].push_back(remedy_words(out.document, chain, remedy));
}

Result<Outcome> add(const Document& document, const Arguments& a, const OperationContext&) {
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
    Part datum;
    datum.id = out.document.new_id<PartId>();
    datum.name = FreeNames(document).take(a.has("name") ? a.text("name") : "Chain");
    PIVRAK_CHECK(check_name(datum.name));
    datum.parent = a.has("under") ? a.part("under") : common_carrier(document, plan.wheels);
    datum.parent_from_rest =
        datum.parent ? (world_from_rest(document, datum.parent).inverse() * built.plane).normalized()
                     : built.plane;
    Chain chain = built.chain;
    PIVRAK_CHECK(read_take_up(document, a, chain));
    chain.id = out.document.new_id<ChainId>();
    chain.frame = datum.id;
    chain.name = datum.name;
    datum.chain = chain.id;
    out.document.parts.set(datum);
    out.document.chains.set(chain);
    out.created.push_back(datum.id);
    PIVRAK_CHECK(check_turns(document, out.document));
    tell(out, chain);
    return out;
}

Result<Chain> chain_named(const Document& document, const Arguments& a) {
    const Part& datum = *document.parts.find(a.part("chain"));
    if (const Chain* chain = document.chains.find(datum.chain)) return *chain;
    // Any link will do too.
    for (const Chain& chain : document.chains)
        if (std::find(chain.links.begin(), chain.links.end(), datum.id) != chain.links.end()) return chain;
    return Error{"chain.none", fmt::format("'{}' carries no chain", datum.name), datum.name};
}

/// Pins at rest; empty when the chain cannot be laid.
std::vector<Vec2> rest_pins(const Document& document, const Chain& chain) {
    std::vector<Vec2> pins(static_cast<std::size_t>(chain.link_count));
    if (!place_pins(chain_loop(document, chain), 0, pins).placed) pins.clear();
    return pins;
}

/// A link as another one: its copy with all it carries, named later.
PartId copy_link(Document& document, PartId link) {
    const Part& pattern = *document.parts.find(link);
    if (!Tree(document).children(link).empty()) return copy_branches(document, {link}, {}).tops.front();
    Part copy = pattern;
    copy.id = document.new_id<PartId>();
    copy.unknown = nlohmann::json::object();
    document.parts.set(copy);
    return copy.id;
}

/// Makes links more or fewer, and puts each where it rests.
void lay_links(Document& document, Chain& chain) {
    if (chain.links.empty()) return;
    const auto count = static_cast<std::size_t>(chain.link_count),
               pattern = static_cast<std::size_t>(chain.pattern);
    const std::size_t had = chain.links.size();
    while (chain.links.size() > count) {
        const PartId gone = chain.links.back();
        chain.links.pop_back();
        document.chains.set(chain);
        remove_branch(document, gone);
    }
    for (std::size_t i = had; i < count; ++i)
        chain.links.push_back(copy_link(document, chain.links[i % pattern]));
    const std::vector<Vec2> pins = rest_pins(document, chain);
    FreeNames names(document);
    for (std::size_t i = 0; i < count; ++i) names.release(name_of(document, chain.links[i]));
    for (std::size_t i = 0; i < count; ++i) {
        Part link = *document.parts.find(chain.links[i]);
        if (had != count) link.name = names.take(series_name(chain.name + " link", i + 1, count));
        if (!pins.empty()) link.parent_from_rest = plane_from_link(pins, i);
        document.parts.set(link);
    }
    document.chains.set(chain);
}

Result<Outcome> set(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(chain, chain_named(document, a));
    Outcome out{document};
    if (a.has("pitch")) chain.pitch_m = a.number("pitch");
    if (!(chain.pitch_m > 0) || chain.pitch_m > 10)
        return Error{"chain.pitch",
                     fmt::format("a pitch of {} is out of range", format_length(chain.pitch_m)), "pitch"};
    if (a.has("pattern")) chain.pattern = a.integer("pattern");
    if (chain.pattern < 1 || chain.pattern > 100)
        return Error{"chain.links",
                     fmt::format("{} different links in a row are out of range: 1 to 100", chain.pattern),
                     "pattern"};
    if (a.has("slack_after")) {
        const PartId wheel = a.part("slack_after");
        const auto found = std::find_if(chain.wheels.begin(), chain.wheels.end(),
                                        [&](const ChainWheel& w) { return w.part == wheel; });
        if (found == chain.wheels.end())
            return Error{"chain.wheels",
                         fmt::format("'{}' is no wheel of '{}'", name_of(document, wheel), chain.name),
                         "slack_after"};
        chain.slack_after = static_cast<std::size_t>(found - chain.wheels.begin());
    }
    PIVRAK_CHECK(read_take_up(document, a, chain));
    PIVRAK_CHECK(check_chain(document, chain));
    const double needed = needed_length(chain_loop(document, chain)) / chain.pitch_m;
    chain.link_count = a.has("links")   ? a.integer("links")
                       : a.has("pitch") ? whole_links(chain, needed)[1]
                                        : chain.link_count;
    if (chain.link_count < 4 || chain.link_count > 100000 || chain.link_count < needed - 0.25 * needed)
        return Error{"chain.links",
                     fmt::format("{} links do not go round: the loop needs {:.2f}", chain.link_count, needed),
                     "links"};
    seat_chain(out.document, chain);
    out.document.chains.set(chain);
    lay_links(out.document, chain);
    tell(out, chain);
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
    tell(out, chain);
    out.readings["amount"] = found->amount;
    return out;
}

Result<Outcome> build(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(chain, chain_named(document, a));
    const std::vector<PartId> parts = a.parts("parts");
    if (!chain.links.empty())
        return Error{"chain.built", fmt::format("'{}' has its links; remove them first", chain.name),
                     chain.name};
    if (parts.size() > 100) return Error{"chain.links", "at most 100 different links", "parts"};
    for (const PartId part : parts)
        if (is_below(document, chain.frame, part) ||
            std::any_of(chain.wheels.begin(), chain.wheels.end(),
                        [&](const ChainWheel& w) { return is_below(document, w.part, part); }))
            return Error{
                "chain.links",
                fmt::format("'{}' carries the chain; it cannot be its link", name_of(document, part)),
                name_of(document, part)};
    LinkPins pins{std::nullopt, a.number_if("inner_face")};
    if (a.has("pins")) {
        const std::vector<Vec3> given = a.points("pins");
        if (given.size() != 2 || !((given[0] - given[1]).norm() > 1e-6))
            return Error{"chain.pins", "a link has two pins: give two places that are apart", "pins"};
        pins.places = {given[0], given[1]};
    }
    Outcome out{document};
    chain.pattern = static_cast<int>(parts.size());
    if (chain.link_count % chain.pattern != 0) {
        // Inner and outer links alternate: the number becomes even.
        chain.link_count += chain.pattern - chain.link_count % chain.pattern;
        out.messages.push_back(
            fmt::format("{} links, so that {} kinds alternate", chain.link_count, chain.pattern));
    }
    seat_chain(out.document, chain);
    const std::vector<Vec2> at_rest = rest_pins(document, chain);
    if (at_rest.empty())
        return Error{"chain.impossible", fmt::format("'{}' does not go round its wheels", chain.name),
                     chain.name};
    for (const PartId id : parts) {
        const LinkPlace place =
            link_place(document, id, chain, at_rest, parts.size() == 1 ? pins : LinkPins{});
        move_pivot(out.document, id, place.world_from_link);
        PIVRAK_CHECK(reparent(out.document, id, chain.frame));
        Part link = *out.document.parts.find(id);
        link.joint = {};
        out.document.parts.set(link);
        chain.links.push_back(id);
    }
    const auto count = static_cast<std::size_t>(chain.link_count);
    while (chain.links.size() < count) {
        const std::size_t i = chain.links.size();
        chain.links.push_back(copy_link(out.document, chain.links[i % parts.size()]));
        out.created.push_back(chain.links.back());
    }
    FreeNames names(out.document);
    const std::string base = a.has("name") ? a.text("name") : chain.name + " link";
    for (std::size_t i = 0; i < count; ++i) {
        Part link = *out.document.parts.find(chain.links[i]);
        names.release(link.name);
        link.name = names.take(series_name(base, i + 1, count));
        link.parent_from_rest = plane_from_link(at_rest, i);
        out.document.parts.set(link);
    }
    out.document.chains.set(chain);
    out.messages.push_back(
        fmt::format("{} built of {}", counted(count, "link"), counted(parts.size(), "part")));
    tell(out, chain);
    return out;
}

/// A bucket, flight or pad on every n-th link, copied as it stands on the link next to it.
Result<Outcome> attach(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(chain, chain_named(document, a));
    if (chain.links.empty())
        return Error{"chain.no_links", fmt::format("'{}' has no links yet; build them first", chain.name),
                     chain.name};
    const int every = a.integer("every");
    if (every < 1 || every > chain.link_count)
        return Error{"chain.every",
                     fmt::format("every {}. link is out of range: 1 to {}", every, chain.link_count),
                     "every"};
    const PartId part = a.part("part");
    if (is_below(document, chain.frame, part) ||
        std::find(chain.links.begin(), chain.links.end(), part) != chain.links.end())
        return Error{"chain.attach",
                     fmt::format("'{}' carries or is a link; attach another part", name_of(document, part)),
                     "part"};
    const std::vector<Vec2> pins = rest_pins(document, chain);
    if (pins.empty())
        return Error{"chain.impossible", fmt::format("'{}' does not go round its wheels", chain.name),
                     chain.name};
    const LinkPlace place = link_place(document, part, chain, pins);
    Outcome out{document};
    const Frame first = world_from_rest(document, chain.links[place.nearest]);
    PIVRAK_CHECK(reparent(out.document, part, chain.links[place.nearest]));
    const std::size_t copies = (chain.links.size() - 1) / static_cast<std::size_t>(every);
    for (std::size_t k = 1; k <= copies; ++k) {
        const std::size_t i = (place.nearest + k * static_cast<std::size_t>(every)) % chain.links.size();
        const Frame there = world_from_rest(document, chain.links[i]);
        const BranchCopy copy =
            copy_branches(out.document, {part}, {there * first.inverse(), std::nullopt, false});
        PIVRAK_CHECK(reparent(out.document, copy.tops.front(), chain.links[i]));
        out.created.push_back(copy.tops.front());
    }
    out.messages.push_back(
        fmt::format("{} on '{}', one on every {} links", counted(copies + 1, "piece"), chain.name, every));
    if (chain.link_count % every != 0)
        out.messages.push_back(
            fmt::format("{} links are no multiple of {}: one gap is {} links", chain.link_count, every,
                        static_cast<int>(chain.links.size() - copies * static_cast<std::size_t>(every))));
    return out;
}

Result<Outcome> remove(const Document& document, const Arguments& a, const OperationContext&) {
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
    const ArgumentSpec chain{
        "chain", ArgumentKind::Part, "the datum that carries the chain, or one of its links", true, {}, {}};
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
         add});
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
    registry.add(
        {"chain.build",
         "Build the links",
         "Makes every link of a chain from one or more link parts that alternate: real parts that "
         "share shapes, named in "
         "a series.",
         {chain,
          {"parts", ArgumentKind::Parts, "one link, or an inner and an outer one", true, {}, {}},
          {"pins",
           ArgumentKind::Places,
           "the two pins of a single link; half a pitch from its middle when left out",
           false,
           {},
           {}},
          {"inner_face",
           ArgumentKind::Length,
           "from the line of pins to the face that looks to the wheels; by where the link lies when left out",
           false,
           {},
           {}},
          {"name", ArgumentKind::Text, "of the links, before their number", false, {}, {}}},
         build});
    registry.add({"chain.attach",
                  "Attach to links",
                  "Puts a bucket, flight or pad on every n-th link, as it stands on the link next to it.",
                  {chain,
                   {"part", ArgumentKind::Part, "what is attached", true, {}, {}},
                   {"every", ArgumentKind::Integer, "on every how many links", false, 1, {}}},
                  attach});
    registry.add({"chain.remove",
                  "Remove a chain",
                  "Takes a chain away; its links stay where they are, or go with it.",
                  {chain, {"links", ArgumentKind::Flag, "links go too", false, false, {}}},
                  remove});
}

}  // namespace pivrak
