#include "core/model/rig_parts.h"

#include <algorithm>

#include "core/model/element_channels.h"
#include "core/model/part_fields.h"

namespace pivrak {
namespace {

using Gone = std::unordered_set<PartId>;

/// Everything of a rig, kind by kind: `change(entry)` of tables, couplings and what parts carry. What it
/// changed is put back.
template <class Change>
void each_element(Document& document, Change change) {
    const auto each_in = [&](auto& table, auto what) {
        const auto entries = table;
        for (const auto& entry : entries) {
            auto changed = entry;
            what(changed);
            if (!(changed == entry)) table.set(changed);
        }
    };
#define PIVRAK_TABLE(Type, table) each_in(document.table, change);
#include "core/elements/kinds.def"
    each_in(document.couplings, [&](Coupling& coupling) { std::visit(change, coupling.what); });
    each_in(document.parts, [&](Part& part) {
#define PIVRAK_FACET(Type, facet) \
    if (part.facet) change(*part.facet);
#include "core/elements/kinds.def"
    });
}

// What the fields of a kind cannot say of it. Each answers whether it can be without the parts that are gone.
template <class Kind>
bool stands_without(const Kind&, Kind&, const Gone&, const Document&) {
    return true;
}

/// A loop cannot be without the wheels that its form asks for; a run that starts at its first wheel not
/// without that one. One that loses a link has none.
bool stands_without(const Chain& before, Chain& after, const Gone& gone, const Document&) {
    const bool lost_end = before.ends && !after.ends;
    if (lost_end || after.wheels.size() < after.fewest_wheels()) return false;
    if (after.ends && after.folds() && !before.folds()) return false;
    if (after.ends && after.travels() && gone.contains(before.wheels.front().part)) return false;
    if (after.wheels.size() != before.wheels.size() && !after.ends)
        after.slack_after = after.wheels.size() - 1;
    if (after.links.size() != before.links.size()) after.links.clear();
    return true;
}

/// A linkage is what of its loops still closes.
bool stands_without(const Linkage&, Linkage& after, const Gone&, const Document&) {
    return !after.closures.empty();
}

/// What followed a part asks nothing from then on, and knows what it lost: the world is no one's stand-in.
bool stands_without(const Constraint& before, Constraint& after, const Gone&, const Document& document) {
    for (const auto& [was, is] : {std::pair(before.target, after.target), {before.second, after.second}})
        if (was && !is) after.lost = name_of(document, was), after.off = true;
    return true;
}
bool stands_without(const Reach& before, Reach& after, const Gone&, const Document& document) {
    if (before.goal && !after.goal) after.lost = name_of(document, before.goal), after.off = true;
    return true;
}

/// A formula keeps its arithmetic: for what is gone stands the value it had by hand, told by a finding.
bool stands_without(const Formula& before, Formula& after, const Gone& gone, const Document& document) {
    after.inputs = before.inputs;
    for (FormulaInput& input : after.inputs)
        if (input.kind == InputKind::Channel && gone.contains(input.channel.part()))
            input.let_go(find_channel(document, input.channel).value_or(Channel{}).value,
                         channel_name(document, input.channel));
    return true;
}

/// A path stays where it is at rest when what carries it goes.
bool stands_without(const Path& before, Path& after, const Gone& gone, const Document& document) {
    if (!gone.contains(before.carrier)) return true;
    const Frame world = world_from_rest(document, before.carrier);
    for (PathPoint& point : after.points)
        point = {world.point(point.place), world.direction(point.before), world.direction(point.after)};
    after.carrier = {};
    return true;
}

/// Whether it is still there; a path always is.
template <class Kind>
bool take_out(Kind& element, const Gone& gone, const Document& document) {
    const Kind before = element;
    DropParts drop{gone};
    Kind::fields(element, drop);
    if (drop.lost && !std::is_same_v<Kind, Path>) return false;
    return stands_without(before, element, gone, document);
}

template <class Table>
void drop_from_table(Table& table, const Gone& gone, const Document& document) {
    const Table entries = table;
    for (const auto& entry : entries) {
        auto changed = entry;
        if (!take_out(changed, gone, document))
            table.erase(entry.id);
        else if (!(changed == entry))
            table.set(changed);
    }
}

std::size_t drop_couplings(Document& document, const Gone& gone) {
    std::size_t count = 0;
    const SharedTable<Coupling> couplings = document.couplings;
    for (const Coupling& coupling : couplings) {
        Coupling changed = coupling;
        const bool stays =
            std::visit([&](auto& kind) { return take_out(kind, gone, document); }, changed.what);
        if (!stays) {
            document.couplings.erase(coupling.id);
            ++count;
        } else if (!(changed == coupling)) {
            document.couplings.set(changed);
        }
    }
    return count;
}

/// A datum whose chain is gone is one like any other.
void free_datums(Document& document) {
    const SharedTable<Part> parts = document.parts;
    for (const Part& part : parts) {
        if (!part.chain || document.chains.contains(part.chain)) continue;
        Part left = part;
        left.chain = {};
        document.parts.set(left);
    }
}

void drop_facets(Document& document, const Gone& gone) {
    const SharedTable<Part> parts = document.parts;
    for (const Part& part : parts) {
        if (gone.contains(part.id)) continue;
        Part kept = part;
#define PIVRAK_FACET(Type, facet) \
    if (kept.facet && !take_out(*kept.facet, gone, document)) kept.facet.reset();
#include "core/elements/kinds.def"
        if (!(kept == part)) document.parts.set(kept);
    }
}

}  // namespace

std::unordered_set<PartId> parts_of_rig(const Document& document) {
    std::unordered_set<PartId> named;
    Document scratch = document;
    EachPart each{[&](PartId& part) { named.insert(part); }};
    each_element(scratch, [&](auto& element) { std::decay_t<decltype(element)>::fields(element, each); });
    for (const Part& part : document.parts)
        if (part.ride || part.tow) named.insert(part.id);
    return named;
}

void keep_places(Document& document, PartId part, const Frame& new_from_old) {
    const auto keep = [&]<class Table>(Table& table) {
        const Table entries = table;
        for (auto entry : entries)
            if constexpr (requires { entry.pivot_moved(part, new_from_old); })
                if (entry.pivot_moved(part, new_from_old)) table.set(entry);
    };
#define PIVRAK_TABLE(Type, table) keep(document.table);
#include "core/elements/kinds.def"
}

void replace_in_rig(Document& document, PartId from, PartId to) {
    EachPart each{[&](PartId& part) {
        if (part == from) part = to;
    }};
    each_element(document, [&](auto& element) { std::decay_t<decltype(element)>::fields(element, each); });
}

std::size_t drop_from_rig(Document& document, const std::unordered_set<PartId>& gone) {
    const Document before = document;
#define PIVRAK_TABLE(Type, table) drop_from_table(document.table, gone, before);
#include "core/elements/kinds.def"
    drop_facets(document, gone);
    free_datums(document);
    return drop_couplings(document, gone);
}

namespace {

/// A path goes with what carries it.
template <class Element>
bool goes_with(const Element& element, const std::unordered_set<PartId>& parts) {
    if constexpr (std::is_same_v<Element, Path>) return element.carrier && parts.contains(element.carrier);
    Element asked = element;
    GoesWith goes(parts);
    Element::fields(asked, goes);
    return goes.some && goes.all;
}

}  // namespace

std::unordered_set<OwnerId> scale_rig(Document& document, const std::unordered_set<PartId>& parts,
                                      double factor) {
    std::unordered_set<OwnerId> scaled;
    ScaleLengths scale(factor);
    const SharedTable<Coupling> couplings = document.couplings;
    for (Coupling coupling : couplings) {
        const bool goes = std::visit([&](const auto& kind) { return goes_with(kind, parts); }, coupling.what);
        if (!goes) continue;
        std::visit(
            [&](auto& kind) {
                std::decay_t<decltype(kind)>::fields(kind, scale);
                if constexpr (requires { kind.grow(factor); }) kind.grow(factor);
            },
            coupling.what);
        scaled.insert(coupling.id);
        document.couplings.set(coupling);
    }
    const auto scale_table = [&](auto& table) {
        const auto entries = table;
        for (auto entry : entries) {
            if (!goes_with(entry, parts)) continue;
            decltype(entry)::fields(entry, scale);
            scaled.insert(entry.id);
            table.set(entry);
        }
    };
#define PIVRAK_TABLE(Type, table) scale_table(document.table);
#include "core/elements/kinds.def"
    for (const PartId id : parts) {
        Part part = *document.parts.find(id);
#define PIVRAK_FACET(Type, facet) \
    if (part.facet) Type::fields(*part.facet, scale);
#include "core/elements/kinds.def"
        if (!(part == *document.parts.find(id))) document.parts.set(part);
    }
    return scaled;
}

}  // namespace pivrak
