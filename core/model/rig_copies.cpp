// Copies and mirror images of what runs inside copied parts.
#include <algorithm>

#include "core/model/element_channels.h"
#include "core/model/part_fields.h"
#include "core/model/rig_parts.h"

namespace pivrak {
namespace {

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

RigCopies copy_rig(Document& document, const CopyOf& copy_of, const MirrorSign& mirror_sign) {
    return RigCopier(document, copy_of, mirror_sign).run();
}

}  // namespace pivrak
