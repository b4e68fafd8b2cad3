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

/// Copies of what runs inside copied parts.
class RigCopier {
public:
    RigCopier(Document& document, const CopyOf& copy_of, const MirrorSign& mirror_sign)
        : document_(document), parts_(copy_of), copy_of_(copy_of), mirror_sign_(mirror_sign) {}

    RigCopies run() {
        const SharedTable<Coupling> couplings = document_.couplings;
        copy_couplings(couplings);
        copy_paths();
        copy_facets();
        copy_chains();
#define PIVRAK_TABLE(Type, table) copy_plain(document_.table);
#include "core/elements/kinds.def"
        // Those that name channels of what was copied just now.
        copy_couplings(couplings);
        take_copied_channels(couplings);
        return std::move(out_);
    }

private:
    /// Names copies in place of originals; answers whether a copy can be. Channels that count the other way
    /// round then are in `flipped_`.
    template <class Kind>
    bool take_over(Kind& element) {
        TakeOver over{copy_of_};
        Kind::fields(element, over);
        flipped_.clear();
        if (over.whole && mirror_sign_) {
            MirrorFields mirror{driven_sign(element)};
            Kind::fields(element, mirror);
            flipped_ = std::move(mirror.flipped);
            if constexpr (requires { element.mirror(mirror_sign_); }) element.mirror(mirror_sign_);
        }
        return over.whole;
    }
    void came(OwnerId original, OwnerId copy) {
        out_.elements[original] = copy;
        copy_of_[PartId{original.value}] = PartId{copy.value};
        for (const ChannelKind kind : flipped_) out_.flipped.insert({copy, kind});
    }
    template <class Kind>
    double driven_sign(const Kind& element) const {
        if constexpr (requires { element.driven; })
            return mirror_sign_(element.driven);
        else
            return 1;
    }

    void copy_couplings(const SharedTable<Coupling>& couplings) {
        for (Coupling coupling : couplings) {
            const CouplingId original = coupling.id;
            if (out_.elements.contains(original)) continue;
            if (!std::visit([&](auto& kind) { return take_over(kind); }, coupling.what)) continue;
            coupling.id = document_.new_id<CouplingId>();
            document_.couplings.set(coupling);
            came(original, coupling.id);
            ++out_.couplings;
        }
    }

    /// A formula was copied before what it measures.
    void take_copied_channels(const SharedTable<Coupling>& originals) {
        TakeCopiedChannels take(out_.elements);
        for (const Coupling& original : originals) {
            const auto copy = out_.elements.find(original.id);
            if (copy == out_.elements.end()) continue;
            Coupling coupling = *document_.couplings.find(CouplingId{copy->second.value});
            std::visit([&](auto& kind) { std::decay_t<decltype(kind)>::fields(kind, take); }, coupling.what);
            document_.couplings.set(coupling);
        }
    }

    template <class Entry>
    void put_copy(Entry copy) {
        const auto original = std::exchange(copy.id, document_.new_id<decltype(copy.id)>());
        came(original, copy.id);
        copy.name += " copy";
        table_of(copy).set(copy);
    }
#define PIVRAK_TABLE(Type, table)              \
    SharedTable<Type>& table_of(const Type&) { \
        return document_.table;                \
    }
#include "core/elements/kinds.def"

    template <class Entry>
    void copy_plain(const SharedTable<Entry>& table) {
        const SharedTable<Entry> entries = table;
        for (Entry entry : entries)
            if (take_over(entry)) put_copy(std::move(entry));
    }
    /// Loops whose joints are all copied. What closes them on a part that stays closes there where the copy
    /// rests.
    void copy_plain(const SharedTable<Linkage>& table) {
        const SharedTable<Linkage> entries = table;
        for (Linkage linkage : entries) {
            const auto whole = [&](const Closure& closure) { return copies_loop(closure); };
            const Linkage original = linkage;
            if (!std::all_of(original.closures.begin(), original.closures.end(), whole)) continue;
            if (!take_over(linkage)) continue;
            for (std::size_t i = 0; i < linkage.closures.size(); ++i)
                close_again(linkage.closures[i], original.closures[i]);
            put_copy(std::move(linkage));
        }
    }
    /// Whether all that moves between the two was copied.
    bool copies_loop(const Closure& closure) const {
        bool some = false;
        for (const auto& [from, other] : {std::pair(closure.a, closure.b), std::pair(closure.b, closure.a)})
            for (const Part* p = document_.parts.find(from); p && !is_below(document_, other, p->id);
                 p = document_.parts.find(p->parent)) {
                if (p->joint.kind == JointKind::Fixed) continue;
                if (!parts_.contains(p->id)) return false;
                some = true;
            }
        return some;
    }
    void close_again(Closure& copy, const Closure& original) const {
        const bool stays_a = copy.a == original.a, stays_b = copy.b == original.b;
        if (stays_a == stays_b) return;
        const Frame from = world_from_rest(document_, stays_a ? copy.b : copy.a),
                    to = world_from_rest(document_, stays_a ? copy.a : copy.b);
        const Frame across = to.inverse() * from;
        Vec3 &place = stays_a ? copy.place_a : copy.place_b, &axis = stays_a ? copy.axis_a : copy.axis_b;
        place = across.point(stays_a ? copy.place_b : copy.place_a);
        axis = across.direction(stays_a ? copy.axis_b : copy.axis_a);
        copy.turn = (world_from_rest(document_, copy.b).rotation.conjugate() *
                     world_from_rest(document_, copy.a).rotation)
                        .normalized();
    }

    /// Of what was copied; what is measured of nothing that was stays what it is for all.
    void copy_plain(const SharedTable<Measure>& table) {
        const SharedTable<Measure> entries = table;
        for (Measure measure : entries) {
            const auto path = path_of_.find(measure.path);
            const auto chain = out_.elements.find(measure.chain);
            const bool named = measure.a && parts_.contains(measure.a);
            if (!named && path == path_of_.end() && chain == out_.elements.end()) continue;
            if (!take_over(measure)) continue;
            if (path != path_of_.end()) measure.path = path->second;
            if (chain != out_.elements.end()) measure.chain = ChainId{chain->second.value};
            put_copy(std::move(measure));
        }
    }

    // They have their own ways.
    void copy_plain(const SharedTable<Path>&) {}
    void copy_plain(const SharedTable<Chain>&) {}

    /// Those that a copied part carries.
    void copy_paths() {
        const SharedTable<Path> paths = document_.paths;
        for (Path path : paths) {
            if (!path.carrier || !take_over(path)) continue;
            path_of_[path.id] = PathId{document_.next_id};
            put_copy(std::move(path));
        }
    }

    void copy_facets() {
        for (const auto& [original, copy] : parts_) {
            Part part = *document_.parts.find(copy);
            bool carries = false;
#define PIVRAK_FACET(Type, facet) \
    if (part.facet) take_over(*part.facet), carries = true;
#include "core/elements/kinds.def"
            if (part.ride)
                if (const auto path = path_of_.find(part.ride->path); path != path_of_.end())
                    part.ride->path = path->second;
            if (carries) document_.parts.set(part);
        }
    }

    /// A copied datum goes round copied wheels or round none.
    void copy_chains() {
        const SharedTable<Chain> chains = document_.chains;
        for (Chain chain : chains) {
            const auto frame = parts_.find(chain.frame);
            if (frame == parts_.end()) continue;
            Part datum = *document_.parts.find(frame->second);
            datum.chain = {};
            if (take_over(chain)) {
                if (chain.travels()) datum.chain = ChainId{document_.next_id};
                put_copy(std::move(chain));
            }
            document_.parts.set(datum);
        }
    }

    Document& document_;
    const CopyOf& parts_;
    CopyOf copy_of_;  ///< parts, and elements as far as they have come
    const MirrorSign& mirror_sign_;
    std::vector<ChannelKind> flipped_;
    RigCopies out_;
    std::unordered_map<PathId, PathId> path_of_;
};

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

RigCopies copy_rig(Document& document, const CopyOf& copy_of, const MirrorSign& mirror_sign) {
    return RigCopier(document, copy_of, mirror_sign).run();
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
        std::visit([&](auto& kind) { std::decay_t<decltype(kind)>::fields(kind, scale); }, coupling.what);
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
