// Links as parts, and what is put on them.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/words.h"
#include "core/geometry/fits/series.h"
#include "core/model/edits/branch_copy.h"
#include "core/model/edits/edits.h"
#include "core/model/names/names.h"
#include "core/operations/all_operations.h"
#include "core/operations/drive/chain_steps.h"
#include "core/rig/chains/link_shape.h"

namespace pivrak {
namespace {

/// Parts that may become links: not what carries the chain.
Result<void> check_links(const Document& document, const std::vector<PartId>& parts, const Chain& chain) {
    if (!chain.links.empty())
        return Error{"chain.built", fmt::format("'{}' has its links; remove them first", chain.name),
                     chain.name};
    if (parts.size() > 100) return Error{"chain.links", "at most 100 different links", "parts"};
    std::vector<PartId> needed{chain.frame};
    for (const ChainWheel& wheel : chain.wheels) needed.push_back(wheel.part);
    if (chain.ends)
        for (const PartId tied : {chain.ends->from.part, chain.ends->to.part})
            if (tied) needed.push_back(tied);
    for (const PartId part : parts)
        for (const PartId other : needed)
            if (is_below(document, other, part))
                return Error{
                    "chain.links",
                    fmt::format("'{}' carries the chain; it cannot be its link", name_of(document, part)),
                    name_of(document, part)};
    return {};
}

Result<LinkPins> link_pins(const Arguments& a) {
    LinkPins pins{std::nullopt, a.number_if("inner_face")};
    if (!a.has("pins")) return pins;
    const std::vector<Vec3> given = a.points("pins");
    if (given.size() != 2 || !((given[0] - given[1]).norm() > 1e-6))
        return Error{"chain.pins", "a link has two pins: give two places that are apart", "pins"};
    pins.places = {given[0], given[1]};
    return pins;
}

/// Makes the given parts links, their pivots on pins.
Result<void> take_links(Document& document, const std::vector<PartId>& parts, const LinkPins& pins,
                        const std::vector<Vec2>& at_rest, Chain& chain) {
    const Document before = document;
    for (const PartId id : parts) {
        const LinkPlace place = link_place(before, id, chain, at_rest, parts.size() == 1 ? pins : LinkPins{});
        move_pivot(document, id, place.world_from_link);
        PIVRAK_CHECK(reparent(document, id, chain.frame));
        Part link = *document.parts.find(id);
        link.joint = {};
        document.parts.set(link);
        chain.links.push_back(id);
    }
    return {};
}

/// Names links in a series and puts each where it rests.
void settle_links(Document& document, const std::string& base, const std::vector<Vec2>& at_rest,
                  const Chain& chain) {
    FreeNames names(document);
    for (std::size_t i = 0; i < chain.links.size(); ++i) {
        Part link = *document.parts.find(chain.links[i]);
        names.release(link.name);
        link.name = names.take(series_name(base, i + 1, chain.links.size()));
        link.parent_from_rest = plane_from_link(at_rest, i);
        document.parts.set(link);
    }
}

Result<Outcome> build_links(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(chain, chain_named(document, a));
    const std::vector<PartId> parts = a.parts("parts");
    PIVRAK_CHECK(check_links(document, parts, chain));
    PIVRAK_TRY(pins, link_pins(a));
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
    PIVRAK_CHECK(take_links(out.document, parts, pins, at_rest, chain));
    const auto count = static_cast<std::size_t>(chain.link_count);
    while (chain.links.size() < count) {
        chain.links.push_back(copy_link(out.document, chain.links[chain.links.size() % parts.size()]));
        out.created.push_back(chain.links.back());
    }
    settle_links(out.document, a.has("name") ? a.text("name") : chain.name + " link", at_rest, chain);
    out.document.chains.set(chain);
    out.messages.push_back(
        fmt::format("{} built of {}", counted(count, "link"), counted(parts.size(), "part")));
    tell_chain(out, chain);
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
    if (!chain.ends && chain.link_count % every != 0)
        out.messages.push_back(
            fmt::format("{} links are no multiple of {}: one gap is {} links", chain.link_count, every,
                        static_cast<int>(chain.links.size() - copies * static_cast<std::size_t>(every))));
    return out;
}

}  // namespace

void add_link_operations(Registry& registry) {
    const ArgumentSpec chain = chain_argument();
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
         build_links});
    registry.add({"chain.attach",
                  "Attach to links",
                  "Puts a bucket, flight or pad on every n-th link, as it stands on the link next to it.",
                  {chain,
                   {"part", ArgumentKind::Part, "what is attached", true, {}, {}},
                   {"every", ArgumentKind::Integer, "on every how many links", false, 1, {}}},
                  attach});
}

}  // namespace pivrak
