#include "core/checks/exercise/contacts.h"

#include <algorithm>

#include "core/checks/grounds.h"
#include "core/geometry/mesh/mesh_edit.h"
#include "core/model/each_element.h"
#include "core/model/part_fields.h"

namespace pivrak {
namespace {

Contacts::Pair pair_of(PartId a, PartId b) {
    return a.value < b.value ? Contacts::Pair{a, b} : Contacts::Pair{b, a};
}

/// The part that one is fixed to at last.
PartId group_of(const Document& document, PartId id) {
    const Part* part = document.parts.find(id);
    while (part->parent && part->joint.kind == JointKind::Fixed && !part->joint.size && !part->ride &&
           !part->tow)
        part = document.parts.find(part->parent);
    return part->id;
}

/// What an element is made of.
struct PartsOf : DeepFields<PartsOf> {
    std::vector<PartId> found;
    void channel(const char*, const ChannelRef& channel, Role role) { add(channel.part(), role); }
    void part(const char*, const PartId& part, Role role) { add(part, role); }
    void part_if(const char*, const PartId& part, Role role) {
        if (part) add(part, role);
    }
    void parts(const char*, const std::vector<PartId>& named, Role role) {
        for (const PartId part : named) add(part, role);
    }

private:
    void add(PartId part, Role role) {
        if (role != Role::Outside) found.push_back(part);
    }
};

}  // namespace

/// A body's box in the world.
struct Contacts::Placed {
    std::size_t body;
    Vec3 low, high;
    bool meets(const Placed& other) const {
        return (low.array() <= other.high.array()).all() && (other.low.array() <= high.array()).all();
    }
};

Contacts::Contacts(const Document& document, const Evaluator& evaluator) : document_(document) {
    auto grounds = grounds_of(document);
    for (const Stretch& stretch : document.stretches) grounds.insert(stretch.part);
    for (const Part& part : document.parts) {
        const Shape* shape = document.shapes.find(part.shape);
        if (!shape || shape->mesh->indices.empty() || grounds.contains(part.id)) continue;
        bodies_.push_back(
            {part.id, group_of(document, part.id), part.shape, part.part_from_shape, shape->bounds});
    }
    use(evaluator);
    left_out_ = running_pairs();
    Pose rest = evaluator.make_pose();
    evaluator.evaluate(0, rest);
    for (const Pair& pair : touching(rest, {})) left_out_.insert(pair);
}

void Contacts::use(const Evaluator& evaluator) {
    for (Body& body : bodies_) body.slot = *evaluator.part_slot(body.part);
}

/// All that is fixed to what runs in each other.
std::set<Contacts::Pair> Contacts::running_pairs() const {
    std::unordered_map<PartId, std::vector<PartId>> members;
    for (const Body& body : bodies_) members[body.group].push_back(body.part);
    std::set<Pair> pairs;
    each_element(document_, [&](const auto& element, const auto&...) {
        using Element = std::decay_t<decltype(element)>;
        // A vehicle and an arm are whole machines: what they are made of may meet.
        if constexpr (std::is_same_v<Element, Chain> || std::is_same_v<Element, GearPair> ||
                      std::is_same_v<Element, Linkage>) {
            Element named = element;
            PartsOf parts;
            Element::fields(named, parts);
            std::vector<PartId> all;
            for (const PartId part : parts.found) {
                const auto& group = members[group_of(document_, part)];
                all.insert(all.end(), group.begin(), group.end());
            }
            for (std::size_t i = 0; i < all.size(); ++i)
                for (std::size_t k = 0; k < i; ++k) pairs.insert(pair_of(all[i], all[k]));
        }
    });
    return pairs;
}

const ClearanceBody& Contacts::body_of(ShapeId shape, double size) const {
    const std::pair key{shape, size};
    const auto known = made_.find(key);
    if (known != made_.end()) return known->second;
    const Mesh& mesh = *document_.shapes.find(shape)->mesh;
    return made_.emplace(key, ClearanceBody(size == 1 ? mesh : scaled(mesh, size))).first->second;
}

bool Contacts::touch(const Body& a, const Body& b, const Pose& pose) const {
    const Frame in_a = pose.world_from_part[a.slot] * a.part_from_shape,
                in_b = pose.world_from_part[b.slot] * b.part_from_shape;
    return body_of(a.shape, in_a.size).touches(in_a.rigid(), body_of(b.shape, in_b.size), in_b.rigid());
}

std::vector<Contacts::Pair> Contacts::touching(const Pose& pose, const std::set<Pair>& known) const {
    std::vector<Placed> placed;
    for (std::size_t i = 0; i < bodies_.size(); ++i) {
        const Frame world = pose.world_from_part[bodies_[i].slot] * bodies_[i].part_from_shape;
        const Vec3 middle = world.point(bodies_[i].bounds.middle()),
                   half = 0.5 * world.size * bodies_[i].bounds.size();
        const Vec3 reach = world.rotation.toRotationMatrix().cwiseAbs() * half;
        placed.push_back({i, middle - reach, middle + reach});
    }
    // Along one axis in order, so that only what overlaps there is compared.
    std::sort(placed.begin(), placed.end(),
              [](const Placed& a, const Placed& b) { return a.low.x() < b.low.x(); });
    std::vector<Pair> found;
    for (std::size_t i = 0; i < placed.size(); ++i)
        for (std::size_t k = i + 1; k < placed.size() && placed[k].low.x() <= placed[i].high.x(); ++k) {
            const Body &a = bodies_[placed[i].body], &b = bodies_[placed[k].body];
            if (a.group == b.group || !placed[i].meets(placed[k])) continue;
            const Pair pair = pair_of(a.part, b.part);
            if (left_out_.contains(pair) || known.contains(pair) || !touch(a, b, pose)) continue;
            found.push_back(pair);
        }
    std::sort(found.begin(), found.end());
    return found;
}

}  // namespace pivrak
