// Which parts the view draws as one mesh.
#include <map>

#include "app/view/drawn_scene.h"

namespace pivrak {
namespace {

/// What has more triangles is worth a call of its own, and its coarser levels.
constexpr std::size_t most_of_a_member = 1500;
/// A mesh has no more: what is out of sight is left out mesh by mesh.
constexpr std::size_t most_of_a_group = 6000;
/// What is shown more often is drawn in one call already.
constexpr std::size_t most_times = 8;
/// Who moves further from where it is in its mesh is not in its place any more [m, radians].
constexpr double stays_within = 1e-7;

bool is_still_there(const Frame& at, const Frame& meant) {
    return (at.translation - meant.translation).cwiseAbs().maxCoeff() < stays_within &&
           angle_between(at.rotation, meant.rotation) < stays_within &&
           std::abs(at.size - meant.size) < stays_within;
}

/// Whether all of it has one surface, without pictures.
bool is_even(const Paint& paint) {
    return std::ranges::all_of(paint.surfaces, [&](const SurfacePaint& surface) {
        return !surface.is_pictured() && surface.is_like(paint.surfaces.front());
    });
}

bool is_alike_even(const Paint& a, const Paint& b) {
    const SurfacePaint plain;
    return (a.surfaces.empty() ? plain : a.surfaces.front())
        .is_like(b.surfaces.empty() ? plain : b.surfaces.front());
}

/// The part whose motion it has: itself, or what it is fixed to. None where that is the world.
PartId mover_of(const Document& document, const Part& part) {
    const Part* at = &part;
    while (at && at->channels().empty() && !at->tow) at = document.parts.find(at->parent);
    return at ? at->id : PartId{};
}

}  // namespace

Frame DrawnScene::worldOf(std::optional<std::size_t> mover) const {
    return mover ? session_.pose().world_from_part[*mover] : Frame{};
}

bool DrawnScene::canShare(const Drawn& drawn, std::size_t times) const {
    return !drawn.item.selected && is_even(*drawn.item.paint) && times < most_times &&
           drawn.item.mesh->triangle_count() <= most_of_a_member && !apart_.contains(drawn.part);
}

/// Small parts with the same mover become meshes; all others stay alone.
void DrawnScene::group() {
    alone_.clear();
    groups_.clear();
    items_.clear();
    merged_.begin();
    const Document& document = session_.shownDocument();
    std::unordered_map<const Mesh*, std::size_t> times;
    for (const Drawn& drawn : drawn_) ++times[drawn.item.mesh.get()];
    std::map<std::optional<std::size_t>, std::vector<std::size_t>> by_mover;
    for (std::size_t i = 0; i < drawn_.size(); ++i) {
        const Drawn& drawn = drawn_[i];
        if (canShare(drawn, times[drawn.item.mesh.get()]))
            by_mover[session_.evaluator().part_slot(mover_of(document, *document.parts.find(drawn.part)))]
                .push_back(i);
        else
            alone_.push_back(i);
    }
    for (const auto& [mover, members] : by_mover) addGroups(mover, members);
    items_.insert(items_.begin(), alone_.size(), DrawItem{});
    merged_.forget_others();
}

void DrawnScene::addGroups(std::optional<std::size_t> mover, const std::vector<std::size_t>& members) {
    std::vector<std::size_t> chosen, others;
    std::size_t triangles = 0;
    for (const std::size_t i : members) {
        if (!is_alike_even(*drawn_[i].item.paint, *drawn_[members.front()].item.paint)) {
            others.push_back(i);
            continue;
        }
        const std::size_t more = drawn_[i].item.mesh->triangle_count();
        if (triangles + more > most_of_a_group) {
            addGroup(mover, std::exchange(chosen, {}));
            triangles = 0;
        }
        chosen.push_back(i);
        triangles += more;
    }
    addGroup(mover, std::move(chosen));
    if (!others.empty()) addGroups(mover, others);
}

std::shared_ptr<const Paint> DrawnScene::mergedPaint(const Paint& member) {
    for (const auto& known : merged_paints_)
        if (is_alike_even(*known, member)) return known;
    Paint paint{{QColor(Qt::white)}, member.surfaces};
    if (!paint.surfaces.empty()) paint.surfaces.resize(1);
    return merged_paints_.emplace_back(std::make_shared<const Paint>(std::move(paint)));
}

void DrawnScene::addGroup(std::optional<std::size_t> mover, std::vector<std::size_t> members) {
    if (members.size() < 2) return alone_.insert(alone_.end(), members.begin(), members.end()), void();
    const Frame mover_from_world = worldOf(mover).inverse();
    Group group{mover, {}, std::move(members), {}};
    for (const std::size_t i : group.members)
        group.mover_from_member.push_back(mover_from_world * drawn_[i].item.world_from_mesh);
    // Near its first shape, single precision serves however far away its mover is.
    group.mover_from_mesh.translation = group.mover_from_member.front().translation;
    const Frame mesh_from_mover = group.mover_from_mesh.inverse();
    std::vector<MergedShape> shapes;
    for (std::size_t k = 0; k < group.members.size(); ++k) {
        const DrawItem& item = drawn_[group.members[k]].item;
        shapes.push_back({item.mesh, item.paint, mesh_from_mover * group.mover_from_member[k]});
    }
    const MergedMesh merged = merged_.of(shapes);
    DrawItem item{merged.mesh, {}, mergedPaint(*drawn_[group.members.front()].item.paint)};
    item.edges = merged.edges;
    items_.push_back(std::move(item));
    groups_.push_back(std::move(group));
}

bool DrawnScene::stayTogether() {
    const std::size_t before = apart_.size();
    const Document& document = session_.shownDocument();
    for (const Group& group : groups_) {
        const Frame world = worldOf(group.mover);
        for (std::size_t k = 0; k < group.members.size(); ++k) {
            const Drawn& drawn = drawn_[group.members[k]];
            const bool is_whole =
                document.stretches.empty() ||
                drawn.item.mesh == document.shapes.find(document.parts.find(drawn.part)->shape)->mesh;
            if (!is_whole || !is_still_there(drawn.item.world_from_mesh, world * group.mover_from_member[k]))
                apart_.insert(drawn.part);
        }
    }
    return apart_.size() == before;
}

}  // namespace pivrak
