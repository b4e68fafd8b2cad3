#include "core/io/delivery/deliver.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <optional>

#include "core/io/delivery/delivered_prints.h"
#include "core/io/delivery/delivered_stretches.h"
#include "core/io/delivery/delivered_tree.h"
#include "core/io/gltf/gltf_axes.h"
#include "core/io/gltf/gltf_read.h"
#include "core/io/gltf/gltf_sample.h"
#include "core/io/gltf/gltf_write.h"
#include "core/io/gltf/thin_samples.h"
#include "core/motion/bake.h"

namespace pivrak {
namespace {

constexpr std::size_t looks_a_frame = 4;

std::vector<ClipId> chosen_clips(const Document& document, const DeliveryOptions& options) {
    std::vector<ClipId> clips = options.clips;
    if (clips.empty())
        for (const Clip& clip : document.clips)
            if (!clip.tracks.empty()) clips.push_back(clip.id);
    return options.with_animation ? clips : std::vector<ClipId>{};
}

/// Meshes in the frames of their parts; one for each pair of shape and offset.
class PartMeshes {
public:
    PartMeshes(const Document& document, GltfBuilder& builder) : document_(document), builder_(builder) {}

    int mesh_of(const Part& part) {
        const Shape* shape = document_.shapes.find(part.shape);
        if (!shape || shape->mesh->indices.empty()) return -1;
        for (const Made& made : made_[part.shape])
            if (made.offset == part.part_from_shape) return made.mesh;
        const bool as_is = part.part_from_shape == Frame{};
        const int mesh = builder_.add_mesh(
            as_is ? *shape->mesh : transformed(*shape->mesh, part.part_from_shape), shape->name);
        made_[part.shape].push_back({part.part_from_shape, mesh});
        return mesh;
    }

private:
    struct Made {
        Frame offset;
        int mesh;
    };
    const Document& document_;
    GltfBuilder& builder_;
    std::unordered_map<ShapeId, std::vector<Made>> made_;
};

/// Writes the clips of one document as animations.
class ClipWriter {
public:
    ClipWriter(const Document& document, const DeliveredTree& tree, GltfBuilder& builder,
               const std::unordered_map<PartId, int>& node_of, const DeliveredPrints& prints,
               const DeliveredStretches& stretches, const Sampling& sampling, Delivery& report)
        : document_(document),
          tree_(tree),
          builder_(builder),
          node_of_(node_of),
          prints_(prints),
          stretches_(stretches),
          sampling_(sampling),
          report_(report) {}

    Result<void> write(ClipId id, const Progress& progress) {
        const Clip& clip = clip_or_first(document_, id);
        PIVRAK_TRY(bake, sample_clip(document_, id, tree_, sampling_, progress));
        seconds_.clear();
        for (const double frame : bake.frames)
            seconds_.push_back((frame - clip.first_frame) / document_.settings.frame_rate);
        animation_ = {};
        animation_.name = clip.name;
        std::unordered_map<PartId, std::size_t> slot;
        for (std::size_t p = 0; p < bake.parts.size(); ++p) slot[bake.parts[p]] = p;
        for (std::size_t p = 0; p < bake.parts.size(); ++p) {
            const DeliveredTree::Entry* entry = tree_.find(bake.parts[p]);
            if (!entry) continue;
            write_part(bake, p, entry->parent ? std::optional(slot.at(entry->parent)) : std::nullopt,
                       entry->parent_from_rest);
            if (stretches_.far_bone(bake.parts[p]) >= 0)
                write_stretch(bake, *document_.parts.find(bake.parts[p]));
        }
        prints_.add_channels(document_, clip.id, builder_, animation_);
        if (animation_.channels.empty()) {
            report_.still_clips.push_back(clip.name);
            return {};
        }
        builder_.model().animations.push_back(animation_);
        ++report_.clips;
        return {};
    }

private:
    void write_part(const Bake& bake, std::size_t p, std::optional<std::size_t> parent, const Frame& rest) {
        std::vector<Quat> rotations;
        std::vector<Vec3> translations, sizes;
        for (std::size_t f = 0; f < bake.frames.size(); ++f) {
            const Frame local = parent ? bake.at(f, *parent).inverse() * bake.at(f, p) : bake.at(f, p);
            rotations.push_back(local.rotation.normalized());
            translations.push_back(local.translation);
            sizes.emplace_back(local.size, local.size, local.size);
        }
        const int node = node_of_.at(bake.parts[p]);
        const bool turns = std::any_of(rotations.begin(), rotations.end(), [&](const Quat& q) {
            return angle_between(q, rest.rotation) > thin_.rotation_rad;
        });
        const bool shifts = std::any_of(translations.begin(), translations.end(), [&](const Vec3& t) {
            return (t - rest.translation).norm() > thin_.translation_m;
        });
        if (turns) {
            const auto kept = thin_rotations(seconds_, rotations, thin_);
            std::vector<float> values;
            for (const std::size_t i : kept) {
                const Eigen::Quaternionf q = Eigen::Quaterniond(gltf_from_core(rotations[i])).cast<float>();
                values.insert(values.end(), {q.x(), q.y(), q.z(), q.w()});
            }
            add_channel(node, "rotation", kept, builder_.add_values(values, 4));
        }
        const bool grows = std::any_of(sizes.begin(), sizes.end(), [&](const Vec3& s) {
            return std::abs(s.x() - rest.size) > thin_.translation_m;
        });
        if (shifts) {
            for (Vec3& t : translations) t = gltf_from_core(t);
            add_vectors(node, "translation", translations);
        }
        if (grows) add_vectors(node, "scale", sizes);
    }

    void write_stretch(const Bake& bake, const Part& part) {
        std::vector<Vec3> shifts;
        for (std::size_t f = 0; f < bake.frames.size(); ++f)
            shifts.push_back(gltf_from_core(stretches_.shift(part, bake, f)));
        if (std::any_of(shifts.begin(), shifts.end(),
                        [&](const Vec3& shift) { return shift.norm() > thin_.translation_m; }))
            add_vectors(stretches_.far_bone(part.id), "translation", shifts);
    }

    void add_vectors(int node, const char* path, const std::vector<Vec3>& vectors) {
        const auto kept = thin_translations(seconds_, vectors, thin_);
        std::vector<float> values;
        for (const std::size_t i : kept) {
            const Vec3f v = vectors[i].cast<float>();
            values.insert(values.end(), {v.x(), v.y(), v.z()});
        }
        add_channel(node, path, kept, builder_.add_values(values, 3));
    }

    void add_channel(int node, const char* path, const std::vector<std::size_t>& kept, int output) {
        report_.samples += seconds_.size();
        report_.kept_samples += kept.size();
        std::vector<float> times;
        for (const std::size_t i : kept) times.push_back(static_cast<float>(seconds_[i]));
        tinygltf::AnimationSampler sampler;
        sampler.input = times_accessor(times);
        sampler.output = output;
        sampler.interpolation = "LINEAR";
        animation_.samplers.push_back(sampler);
        tinygltf::AnimationChannel channel;
        channel.sampler = static_cast<int>(animation_.samplers.size()) - 1;
        channel.target_node = node;
        channel.target_path = path;
        animation_.channels.push_back(channel);
    }

    int times_accessor(const std::vector<float>& times) {
        const auto [known, added] = times_.try_emplace(times, -1);
        if (added) known->second = builder_.add_times(times);
        return known->second;
    }

    const Document& document_;
    const DeliveredTree& tree_;
    GltfBuilder& builder_;
    const std::unordered_map<PartId, int>& node_of_;
    const DeliveredPrints& prints_;
    const DeliveredStretches& stretches_;
    const Sampling& sampling_;
    Delivery& report_;
    ThinOptions thin_;
    std::vector<double> seconds_;
    tinygltf::Animation animation_;
    std::map<std::vector<float>, int> times_;
};

}  // namespace

Result<DeliveryBytes> delivery_bytes(const Document& document, const DeliveryOptions& options,
                                     const Progress& progress) {
    DeliveryBytes out;
    GltfBuilder builder(document);
    PartMeshes meshes(document, builder);
    std::unordered_map<PartId, int> node_of;
    const DeliveredTree tree(document, options.with_controls);
    if (tree.entries().empty())
        return Error{"delivery.nothing", "there is no part to deliver: bring a model in first", ""};
    PIVRAK_TRY(evaluator, Evaluator::compile(document));
    DeliveredStretches stretches(evaluator);
    for (const DeliveredTree::Entry& entry : tree.entries()) {
        const Part& part = *document.parts.find(entry.id);
        const bool drawn_out = stretches.of(entry.id) != nullptr;
        node_of[entry.id] =
            builder.add_node(part.name, entry.parent_from_rest, drawn_out ? -1 : meshes.mesh_of(part));
        if (drawn_out) stretches.add_nodes(document, part, node_of[entry.id], builder);
        if (entry.parent)
            builder.add_child(node_of.at(entry.parent), node_of[entry.id]);
        else
            builder.add_root(node_of[entry.id]);
    }
    const std::vector<ClipId> clips = chosen_clips(document, options);
    PIVRAK_TRY(prints, DeliveredPrints::make(document, clips, progress));
    prints.add_nodes(document, builder);
    out.report.prints = document.prints.size();
    ClipWriter writer(document, tree, builder, node_of, prints, stretches, options.sampling, out.report);
    for (const ClipId clip : clips) PIVRAK_CHECK(writer.write(clip, progress));
    PIVRAK_TRY(bytes, builder.finish());
    out.bytes = std::move(bytes);
    out.report.bytes = out.bytes.size();
    out.report.parts = tree.entries().size();
    out.report.triangles = triangle_count(document);
    return out;
}

namespace {

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
                player.world_from_nodes((frames[f] - clip.first_frame) / document_.settings.frame_rate);
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
    const std::vector<ClipId> clips = chosen_clips(document, options);
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
