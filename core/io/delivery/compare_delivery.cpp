// A delivery is read back and held against the rig.
#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <optional>

#include "core/io/delivery/deliver.h"
#include "core/io/delivery/delivered_prints.h"
#include "core/io/delivery/delivered_stretches.h"
#include "core/io/delivery/delivered_tree.h"
#include "core/io/gltf/gltf_axes.h"
#include "core/io/gltf/gltf_read.h"
#include "core/io/gltf/gltf_sample.h"
#include "core/motion/bake.h"

namespace pivrak {
namespace {

constexpr std::size_t looks_a_frame = 4;

/// Compares one delivered file with one document. Nodes are matched by their path of names and, among equal
/// paths, by their order, so the comparison does not lean on the numbering of the writer.
class Comparison {
public:
    Comparison(const Document& document, const tinygltf::Model& model, bool with_controls)
        : document_(document), tree_(document, with_controls), model_(model) {}

    Result<void> match_nodes() {
        std::unordered_map<std::string, std::vector<int>> nodes_by_path;
        std::vector<std::pair<int, std::string>> pending;
        for (auto root = model_.scenes.at(0).nodes.rbegin(); root != model_.scenes.at(0).nodes.rend(); ++root)
            pending.emplace_back(*root, "");
        while (!pending.empty()) {
            const auto [node, above] = pending.back();
            pending.pop_back();
            const auto& source = model_.nodes.at(static_cast<std::size_t>(node));
            const std::string path = above + "/" + source.name;
            nodes_by_path[path].push_back(node);
            for (auto child = source.children.rbegin(); child != source.children.rend(); ++child)
                pending.emplace_back(*child, path);
        }
        std::unordered_map<std::string, std::size_t> used;
        for (const DeliveredTree::Entry& entry : tree_.entries()) {
            const std::string path = "/" + tree_.path(document_, entry.id);
            auto& nodes = nodes_by_path[path];
            std::size_t& next = used[path];
            if (next >= nodes.size())
                return Error{"delivery.part_missing",
                             fmt::format("the delivered file has no node '{}'", path.substr(1)),
                             path.substr(1)};
            node_of_[entry.id] = nodes[next++];
            reach_of_[entry.id] = shape_reach(document_, *document_.parts.find(entry.id));
        }
        return {};
    }

    /// Vertices of the delivered meshes against the shapes, at rest: bounds in the part's frame.
    Result<void> compare_shapes() {
        for (const Part& part : document_.parts) {
            const Shape* shape = document_.shapes.find(part.shape);
            if (!shape || shape->mesh->indices.empty()) continue;
            const int bound = bound_to(node_of_.at(part.id));
            PIVRAK_TRY(mesh, read_mesh(model_, node(bound < 0 ? node_of_.at(part.id) : bound).mesh));
            const Bounds ours = mesh_bounds(*shape->mesh, part.part_from_shape), theirs = mesh_bounds(mesh);
            note_length(std::max((ours.min - theirs.min).norm(), (ours.max - theirs.max).norm()), part.id, 0,
                        result_.at_frames);
        }
        return {};
    }

    /// What springs and cables are drawn out by: every vertex where the file's own bones put it, against the
    /// rig's.
    Result<void> compare_stretches(const Evaluator& evaluator, const Pose& pose,
                                   const std::vector<Frame>& world, double frame,
                                   DeliveredError& worst) const {
        for (const Stretch& stretch : document_.stretches) {
            const auto found = node_of_.find(stretch.part);
            if (found == node_of_.end()) continue;
            const auto now = stretched_now(evaluator, pose, *evaluator.part_slot(stretch.part));
            if (!now || !now->step->shape) continue;
            const int bound = bound_to(found->second);
            const std::string& name = document_.parts.find(stretch.part)->name;
            if (bound < 0)
                return Error{"delivery.part_missing",
                             fmt::format("the delivered file has no bones that draw out '{}'", name), name};
            const auto& skin = model_.skins[static_cast<std::size_t>(node(bound).skin)];
            const auto& primitive =
                model_.meshes.at(static_cast<std::size_t>(node(bound).mesh)).primitives.at(0);
            PIVRAK_TRY(places, read_floats(model_, primitive.attributes.at("POSITION"), 3));
            PIVRAK_TRY(weights, read_floats(model_, primitive.attributes.at("WEIGHTS_0"), 4));
            const Part& part = *document_.parts.find(stretch.part);
            const Frame rig = pose.world_from_part[*evaluator.part_slot(part.id)] * part.part_from_shape;
            const auto mesh = mesh_now(document_, evaluator, pose, part.id);
            const Frame &near = world[static_cast<std::size_t>(skin.joints[0])],
                        &far = world[static_cast<std::size_t>(skin.joints[1])];
            for (std::size_t v = 0; v < mesh->positions.size() && 4 * v + 1 < weights.size(); ++v) {
                const Vec3 at = core_from_gltf(Vec3(places[3 * v], places[3 * v + 1], places[3 * v + 2]));
                const double second = weights[4 * v + 1];
                const Vec3 delivered = (1 - second) * near.point(at) + second * far.point(at);
                note_length((delivered - rig.point(mesh->positions[v].cast<double>())).norm(), part.id, frame,
                            worst);
            }
        }
        return {};
    }

    Result<void> compare_clip(const Clip& clip, int animation, const DeliveredPrints& prints,
                              const Progress& progress) {
        PIVRAK_TRY(player, GltfPlayer::make(model_, animation));
        PIVRAK_TRY(print_error, prints.compare(document_, clip.id, model_, player));
        result_.print_error_m = std::max(result_.print_error_m, print_error);
        PIVRAK_TRY(evaluator, Evaluator::compile(document_, clip.id));
        Pose pose = evaluator.make_pose();
        const std::vector<double> frames = clip_frames(clip, looks_a_frame);
        for (std::size_t f = 0; f < frames.size(); ++f) {
            const bool whole = f % looks_a_frame == 0 || f + 1 == frames.size();
            if (!progress.go_on(static_cast<double>(f) / static_cast<double>(frames.size()), "reading back"))
                return Error{"bake.cancelled", "cancelled; nothing was written", clip.name};
            evaluator.evaluate(frames[f], pose);
            const auto world =
                player.world_from_nodes((frames[f] - clip.first_frame) / frame_rate_of(document_, clip));
            for (std::size_t p = 0; p < evaluator.parts().size(); ++p)
                if (tree_.find(evaluator.parts()[p]))
                    compare(evaluator.parts()[p], pose.world_from_part[p], world, frames[f],
                            whole ? result_.at_frames : result_.between);
            PIVRAK_CHECK(compare_stretches(evaluator, pose, world, frames[f],
                                           whole ? result_.at_frames : result_.between));
        }
        result_.frames += clip_frames(clip).size();
        return {};
    }

    ReadBack result() const {
        ReadBack out = result_;
        out.parts = node_of_.size();
        return out;
    }

private:
    const tinygltf::Node& node(int index) const { return model_.nodes[static_cast<std::size_t>(index)]; }
    /// The node whose shape is bound to bones below another one; -1 when there is none.
    int bound_to(int carrier) const {
        for (std::size_t n = 0; n < model_.nodes.size(); ++n) {
            const int skin = model_.nodes[n].skin;
            if (skin < 0 || static_cast<std::size_t>(skin) >= model_.skins.size()) continue;
            const auto& joints = model_.skins[static_cast<std::size_t>(skin)].joints;
            const auto& children = node(carrier).children;
            if (joints.size() == 2 &&
                std::find(children.begin(), children.end(), joints[0]) != children.end())
                return static_cast<int>(n);
        }
        return -1;
    }

    void compare(PartId part, const Frame& rig, const std::vector<Frame>& world, double frame,
                 DeliveredError& worst) const {
        const Frame& delivered = world[static_cast<std::size_t>(node_of_.at(part))];
        note_length((delivered.translation - rig.translation).norm(), part, frame, worst);
        note_length(std::abs(delivered.size - rig.size) * reach_of_.at(part), part, frame, worst);
        const double angle = angle_between(delivered.rotation, rig.rotation);
        if (angle <= worst.largest_rad) return;
        worst.largest_rad = angle;
        worst.part_rad = document_.parts.find(part)->name;
        worst.frame_rad = frame;
    }

    void note_length(double metres, PartId part, double frame, DeliveredError& worst) const {
        if (metres <= worst.largest_m) return;
        worst.largest_m = metres;
        worst.part_m = document_.parts.find(part)->name;
        worst.frame_m = frame;
    }

    const Document& document_;
    const DeliveredTree tree_;
    const tinygltf::Model& model_;
    std::unordered_map<PartId, int> node_of_;
    std::unordered_map<PartId, double> reach_of_;  ///< of its shape from its pivot [m]
    ReadBack result_;
};

}  // namespace

Result<ReadBack> compare_delivery(const Document& document, const std::string& bytes, const std::string& file,
                                  const DeliveryOptions& options, const Progress& progress) {
    PIVRAK_TRY(model, read_glb(bytes, file));
    if (model.scenes.empty())
        return Error{"delivery.part_missing", fmt::format("'{}' has no scene", file), file};
    Comparison comparison(document, model, options.with_controls);
    PIVRAK_CHECK(comparison.match_nodes());
    PIVRAK_CHECK(comparison.compare_shapes());
    const std::vector<ClipId> clips = options.chosen(document);
    PIVRAK_TRY(prints, DeliveredPrints::make(document, clips, progress));
    for (const ClipId id : clips) {
        const Clip& clip = clip_or_first(document, id);
        // A clip in which nothing moves is delivered as the file at rest.
        int animation = -1;
        for (std::size_t a = 0; a < model.animations.size(); ++a)
            if (model.animations[a].name == clip.name) animation = static_cast<int>(a);
        PIVRAK_CHECK(comparison.compare_clip(clip, animation, prints, progress));
    }
    return comparison.result();
}

}  // namespace pivrak
