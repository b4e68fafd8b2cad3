#include "app/view/drawn_scene.h"

#include <cmath>
#include <unordered_set>

#include "app/view/person.h"
#include "core/geometry/mesh/mesh_edit.h"
#include "core/model/control_sizes.h"

namespace pivrak {
namespace {

/// Linear colour components as a screen shows them (IEC 61966-2-1).
double to_screen(double c) {
    return c <= 0.0031308 ? 12.92 * c : 1.055 * std::pow(c, 1 / 2.4) - 0.055;
}

}  // namespace

DrawnScene::DrawnScene(const Session& session, const LaidPrints& prints, const Look& look)
    : session_(session), prints_(prints), look_(look), person_mesh_(person_silhouette()) {}

std::shared_ptr<const Paint> DrawnScene::paintOf(const Part& part, const std::shared_ptr<const Mesh>& mesh) {
    if (const StepPreview* preview = session_.previewed(); preview && preview->colours_pieces()) {
        const auto& created = preview->outcome.created;
        const auto found = std::find(created.begin(), created.end(), part.id);
        if (found != created.end())
            return std::make_shared<const Paint>(
                Paint{{pieceColor(static_cast<std::size_t>(found - created.begin()))}, {}});
        return std::make_shared<const Paint>(Paint{materialColors(*mesh), {}});
    }
    auto& known = paints_[mesh.get()];
    if (!known) known = materialPaint(*mesh);
    return known;
}

std::shared_ptr<const Paint> DrawnScene::materialPaint(const Mesh& mesh) const {
    return std::make_shared<const Paint>(Paint{materialColors(mesh), surfacesOf(mesh)});
}

std::vector<QColor> DrawnScene::materialColors(const Mesh& mesh) const {
    std::vector<QColor> colors;
    for (const Submesh& run : mesh.submeshes) {
        const Material* material = session_.shownDocument().materials.find(run.material);
        const std::array<double, 4> c =
            material ? material->base_color : std::array<double, 4>{0.6, 0.6, 0.6, 1};
        colors.push_back(QColor::fromRgbF(
            static_cast<float>(to_screen(c[0])), static_cast<float>(to_screen(c[1])),
            static_cast<float>(to_screen(c[2])), static_cast<float>(std::clamp(c[3], 0.0, 1.0))));
    }
    if (colors.empty()) colors.emplace_back(170, 178, 180);
    return colors;
}

/// Pictures lie by texture coordinates: a mesh without them shows none.
std::vector<SurfacePaint> DrawnScene::surfacesOf(const Mesh& mesh) const {
    std::vector<SurfacePaint> surfaces;
    for (const Submesh& run : mesh.submeshes) {
        const Material* material = session_.shownDocument().materials.find(run.material);
        surfaces.push_back(material ? surfaceOf(*material, mesh) : SurfacePaint{});
    }
    if (std::ranges::all_of(surfaces, &SurfacePaint::is_plain)) surfaces.clear();
    return surfaces;
}

SurfacePaint DrawnScene::surfaceOf(const Material& m, const Mesh& mesh) const {
    SurfacePaint out;
    out.metallic = static_cast<float>(m.metallic);
    out.roughness = static_cast<float>(m.roughness);
    if (m.alpha == AlphaMode::Mask) out.cutoff = static_cast<float>(std::clamp(m.alpha_cutoff, 1e-3, 1.0));
    out.unlit = m.extensions.contains("KHR_materials_unlit");
    double strength = 1;
    if (const auto found = m.extensions.find("KHR_materials_emissive_strength"); found != m.extensions.end())
        if (const auto given = found->second.numbers.find("emissiveStrength");
            given != found->second.numbers.end() && given->is_number())
            strength = given->get<double>();
    const auto shown = [&](double c) {
        return static_cast<float>(to_screen(std::clamp(strength * c, 0.0, 1.0)));
    };
    out.glow = QColor::fromRgbF(shown(m.emissive[0]), shown(m.emissive[1]), shown(m.emissive[2]));
    const std::array<const PictureUse*, 4> uses{&m.base_color_picture, &m.metal_rough_picture,
                                                &m.normal_picture, &m.emissive_picture};
    const auto has_places = [&](const PictureUse& use) {
        return !(use.coords == 0 ? mesh.uvs : mesh.second_uvs).empty();
    };
    for (std::size_t i = 0; i < uses.size(); ++i)
        if (const Image* image =
                has_places(*uses[i]) ? session_.shownDocument().images.find(uses[i]->image) : nullptr)
            out.pictures[i] = {image->bytes, *uses[i]};
    return out;
}

/// Everything about parts but where they stand.
void DrawnScene::look() {
    known_ = true;
    paints_.clear();
    drawn_.clear();
    const Document& document = session_.shownDocument();
    const auto& parts = session_.evaluator().parts();
    for (std::size_t i = 0; i < parts.size(); ++i) {
        const Part* part = document.parts.find(parts[i]);
        const Shape* shape = part ? document.shapes.find(part->shape) : nullptr;
        if (!shape || !part->shown) continue;
        const auto mesh = session_.shownMeshOf(part->id);
        if (!mesh || mesh->indices.empty()) continue;
        drawn_.push_back({i,
                          part->id,
                          part->part_from_shape,
                          {mesh, {}, paintOf(*part, shape->mesh), session_.isSelected(part->id)}});
    }
    placeParts();
    group();
}

void DrawnScene::placeParts() {
    const bool stretches = !session_.shownDocument().stretches.empty();
    for (Drawn& drawn : drawn_) {
        drawn.item.world_from_mesh = session_.pose().world_from_part[drawn.slot] * drawn.part_from_shape;
        if (stretches) drawn.item.mesh = session_.shownMeshOf(drawn.part);
    }
}

const std::vector<DrawItem>& DrawnScene::items(const Camera& camera, bool person) {
    if (!known_) {
        look();
    } else {
        placeParts();
        if (!stayTogether()) group();
    }
    items_.resize(alone_.size() + groups_.size());
    for (std::size_t i = 0; i < alone_.size(); ++i) items_[i] = drawn_[alone_[i]].item;
    for (std::size_t i = 0; i < groups_.size(); ++i)
        items_[alone_.size() + i].world_from_mesh = worldOf(groups_[i].mover) * groups_[i].mover_from_mesh;
    addPrints(items_);
    addPickedFaces(items_);
    addPalePoses(items_);
    if (person) addPerson(items_, camera);
    return items_;
}

/// Prints as far as they have grown: laid blocks, whole rows of the one that grows, and a piece that ends at
/// the wheel.
void DrawnScene::addPrints(std::vector<DrawItem>& items) const {
    for (const LaidPrints::Laid& laid : prints_.all()) {
        const double way = laid.strip.way_at(session_.frame());
        const auto [indices, last] = laid.strip.whole_rows(way);
        std::shared_ptr<const Paint> paint;
        const auto add = [&](std::shared_ptr<const Mesh> mesh, std::optional<std::uint32_t> first) {
            if (mesh->indices.empty()) return;
            if (!paint) paint = materialPaint(*mesh);
            DrawItem item{mesh, {}, paint};
            item.lifted = true;
            item.first_indices = first;
            items.push_back(std::move(item));
        };
        for (const LaidPrints::Block& block : laid.blocks) {
            if (block.indices_before >= indices) break;
            block.to_m <= way ? add(block.mesh, std::nullopt)
                              : add(block.mesh, indices - block.indices_before);
        }
        if (way > last) add(std::make_shared<const Mesh>(laid.strip.piece(last, way)), std::nullopt);
    }
}

/// Picked faces are drawn once more, in the colour of what is picked.
void DrawnScene::addPickedFaces(std::vector<DrawItem>& items) const {
    const Document& document = session_.shownDocument();
    for (const auto& [id, mask] : session_.picks().faces) {
        const Part* part = document.parts.find(id);
        const Shape* shape = part ? document.shapes.find(part->shape) : nullptr;
        if (!shape || !part->shown || mask.size() != shape->mesh->triangle_count()) continue;
        DrawItem item{std::make_shared<const Mesh>(kept_triangles(*shape->mesh, mask)),
                      session_.worldFromPart(id) * part->part_from_shape,
                      std::make_shared<const Paint>(Paint{{look_.theme().raspberry}, {}})};
        item.lifted = true;
        if (!item.mesh->indices.empty()) items.push_back(std::move(item));
    }
}

void DrawnScene::addPalePoses(std::vector<DrawItem>& items) const {
    const Seeing& seeing = session_.seeing();
    if (seeing.before + seeing.after == 0 || session_.selection().empty() || session_.previewed()) return;
    std::unordered_set<PartId> meant;
    const Tree tree(session_.document());
    for (const PartId picked : session_.selection())
        for (const PartId part : tree.branch(picked)) meant.insert(part);
    Pose pose = session_.evaluator().make_pose();
    const Clip& clip = session_.clip();
    for (int k = -seeing.before; k <= seeing.after; ++k) {
        const double frame = session_.frame() + k * seeing.step;
        if (k == 0 || frame < clip.first_frame || frame > clip.last_frame) continue;
        session_.evaluator().evaluate(frame, pose);
        for (std::size_t i = 0; i < drawn_.size(); ++i) {
            if (!meant.contains(drawn_[i].part)) continue;
            DrawItem item = drawn_[i].item;
            item.world_from_mesh = pose.world_from_part[drawn_[i].slot] * drawn_[i].part_from_shape;
            item.selected = false;
            item.pale = k < 0 ? 22 : 34;
            items.push_back(std::move(item));
        }
    }
}

/// A person stands behind the model while it comes in, turned to the eye: seen from most sides, hiding
/// nothing.
void DrawnScene::addPerson(std::vector<DrawItem>& items, const Camera& camera) const {
    if (session_.stage() != Stage::Intake || items.empty()) return;
    const Bounds bounds = shownBounds();
    DrawItem item{person_mesh_, Frame{turn_about_axis(2, camera.azimuth), Vec3(0, 0, 0)},
                  std::make_shared<const Paint>(
                      Paint{{look_.theme().softInk.lighter(look_.isNight() ? 90 : 130)}, {}})};
    item.world_from_mesh.translation = Vec3(bounds.min.x() - 0.5, bounds.middle().y(), 0);
    item.measure = true;
    items.push_back(std::move(item));
}

Bounds DrawnScene::shownBounds() const {
    Bounds bounds;
    const Document& document = session_.shownDocument();
    for (const PartId id : session_.evaluator().parts()) {
        const Part& part = *document.parts.find(id);
        const Shape* shape = part.shown ? document.shapes.find(part.shape) : nullptr;
        if (!shape || shape->bounds.empty()) continue;
        // The corners of its box are near enough here, and cost nothing.
        const Frame world = session_.worldFromPart(id) * part.part_from_shape;
        for (int corner = 0; corner < 8; ++corner)
            bounds.add(world.point(Vec3(corner & 1 ? shape->bounds.max.x() : shape->bounds.min.x(),
                                        corner & 2 ? shape->bounds.max.y() : shape->bounds.min.y(),
                                        corner & 4 ? shape->bounds.max.z() : shape->bounds.min.z())));
    }
    return bounds;
}

Bounds DrawnScene::boundsOf(const std::vector<PartId>& parts) const {
    const Document& document = session_.shownDocument();
    Bounds bounds;
    for (const PartId id : parts) {
        const Part* part = document.parts.find(id);
        const Shape* shape = part ? document.shapes.find(part->shape) : nullptr;
        if (shape) bounds.add(mesh_bounds(*shape->mesh, session_.worldFromPart(id) * part->part_from_shape));
        if (part && part->control)
            for (const auto& line : symbol_lines(*part->control))
                for (const Vec3& p : line) bounds.add(session_.worldFromPart(id).point(p));
    }
    return bounds;
}

}  // namespace pivrak
