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
            seconds_.push_back((frame - clip.first_frame) / frame_rate_of(document_, clip));
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

std::vector<ClipId> DeliveryOptions::chosen(const Document& document) const {
    std::vector<ClipId> all = clips;
    if (all.empty())
        for (const Clip& clip : document.clips)
            if (!clip.tracks.empty() || !clip.layers.empty()) all.push_back(clip.id);
    return with_animation ? all : std::vector<ClipId>{};
}

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
    const std::vector<ClipId> clips = options.chosen(document);
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

}  // namespace pivrak
