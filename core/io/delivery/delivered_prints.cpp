#include "core/io/delivery/delivered_prints.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "core/io/gltf/gltf_axes.h"
#include "core/io/gltf/gltf_read.h"
#include "core/motion/bake.h"

namespace pivrak {
namespace {

/// Frames of a clip between which a strip grows: a long clip gets strips over several frames.
std::vector<double> growing_frames(const Clip& clip) {
    constexpr std::size_t most = 2000;
    const std::vector<double> all = clip_frames(clip);
    const std::size_t step = all.size() / most + 1;
    std::vector<double> some;
    for (std::size_t f = 0; f + 1 < all.size(); f += step) some.push_back(all[f]);
    some.push_back(all.back());
    return some;
}

constexpr double least_growth_m = 1e-5;

/// Where a strip begins, with X along it.
Frame frame_of(const PrintStrip& print, double from, double to) {
    const Mesh piece = print.piece(from, to);
    const std::size_t columns = print.rows.front().places.size(), middle = columns / 2;
    const Vec3 begin = piece.positions[middle].cast<double>(),
               end = piece.positions[piece.positions.size() - columns + middle].cast<double>();
    Vec3 ahead = end - begin;
    if (!(ahead.norm() > 1e-9)) ahead = Vec3::UnitX();
    ahead.normalize();
    const Vec3 left = Vec3::UnitZ().cross(ahead).normalized();
    Mat3 axes;
    axes << ahead, left, ahead.cross(left);
    return {Quat(axes), begin};
}

/// Length of a piece as its picture tells: how far that runs over each of its quads.
double length_of(const Mesh& mesh, const PrintStrip& print) {
    double sum = 0;
    for (std::size_t i = 0; i + 5 < mesh.indices.size(); i += 6) {
        double low = 1e300, high = -1e300;
        for (std::size_t k = i; k < i + 6; ++k) {
            const auto v = static_cast<double>(mesh.uvs[mesh.indices[k]].y());
            low = std::min(low, v);
            high = std::max(high, v);
        }
        sum += high - low;
    }
    return sum * print.tile_m / static_cast<double>(print.rows.front().places.size() - 1);
}

int add_scale(GltfBuilder& builder, const std::vector<double>& along, const std::vector<double>& across) {
    std::vector<float> values;
    for (std::size_t i = 0; i < along.size(); ++i) {
        const Vec3f scale = gltf_from_core(Vec3(along[i], across[i], across[i])).cast<float>();
        values.insert(values.end(), {scale.x(), scale.y(), scale.z()});
    }
    return builder.add_values(values, 3);
}

}  // namespace

Result<DeliveredPrints> DeliveredPrints::make(const Document& document, const std::vector<ClipId>& clips,
                                              const Progress& progress) {
    DeliveredPrints out;
    for (const ClipId id : clips) {
        PIVRAK_TRY(strips, lay_prints(document, id, progress));
        for (PrintStrip& strip : strips) {
            if (strip.rows.size() < 2) continue;
            const Print& print = *document.prints.find(strip.print);
            const Clip& clip = clip_or_first(document, id);
            out.strips_.push_back(
                {id, clips.size() > 1 ? fmt::format("{} of {}", print.name, clip.name) : print.name,
                 std::move(strip)});
        }
    }
    return out;
}

void DeliveredPrints::add_nodes(const Document& document, GltfBuilder& builder) {
    for (const Strip& strip : strips_) {
        const int top = builder.add_node(strip.name, {});
        builder.add_root(top);
        const std::vector<double> frames = growing_frames(clip_or_first(document, strip.clip));
        double done = strip.print.ways.front();
        for (std::size_t f = 1; f < frames.size(); ++f) {
            const double way = strip.print.way_at(frames[f]);
            if (way - done < least_growth_m) continue;
            const Mesh mesh = strip.print.piece(done, way);
            if (!mesh.indices.empty()) {
                const Frame world = frame_of(strip.print, done, way);
                const int node =
                    builder.add_node(fmt::format("{} {}", strip.name, f), world,
                                     builder.add_mesh(transformed(mesh, world.inverse()), strip.name));
                builder.add_child(top, node);
                pieces_.push_back({node, strip.clip, frames[f - 1], frames[f]});
            }
            done = way;
        }
    }
}

void DeliveredPrints::add_channels(const Document& document, ClipId clip_id, GltfBuilder& builder,
                                   tinygltf::Animation& animation) const {
    if (pieces_.empty()) return;
    const Clip& clip = clip_or_first(document, clip_id);
    const auto seconds = [&](double frame) {
        return static_cast<float>((frame - clip.first_frame) / frame_rate_of(document, clip));
    };
    const auto sampler = [&](const std::vector<float>& times, int output) {
        tinygltf::AnimationSampler made;
        made.input = builder.add_times(times);
        made.output = output;
        made.interpolation = "LINEAR";
        animation.samplers.push_back(made);
        return static_cast<int>(animation.samplers.size()) - 1;
    };
    const int growing = add_scale(builder, {0, 1}, {1, 1});
    int hidden = -1;
    std::map<std::pair<double, double>, int> shared;  // wheels of one vehicle grow over the same frames
    for (const Piece& piece : pieces_) {
        tinygltf::AnimationChannel channel;
        channel.target_node = piece.node;
        channel.target_path = "scale";
        if (piece.clip == clip_id) {
            const auto [known, fresh] = shared.try_emplace({piece.from_frame, piece.to_frame}, -1);
            if (fresh) known->second = sampler({seconds(piece.from_frame), seconds(piece.to_frame)}, growing);
            channel.sampler = known->second;
        } else {
            if (hidden < 0) hidden = sampler({0.0f}, add_scale(builder, {0}, {0}));
            channel.sampler = hidden;
        }
        animation.channels.push_back(channel);
    }
}

Result<double> DeliveredPrints::compare(const Document& document, ClipId clip_id,
                                        const tinygltf::Model& model, const GltfPlayer& player) const {
    double largest = 0;
    const Clip& clip = clip_or_first(document, clip_id);
    for (const Strip& strip : strips_) {
        const auto top = std::find_if(model.nodes.begin(), model.nodes.end(),
                                      [&](const tinygltf::Node& n) { return n.name == strip.name; });
        if (top == model.nodes.end())
            return Error{"delivery.part_missing",
                         fmt::format("the delivered file has no print '{}'", strip.name), strip.name};
        std::vector<std::pair<int, double>> lengths;
        for (const int child : top->children) {
            PIVRAK_TRY(mesh, read_mesh(model, model.nodes[static_cast<std::size_t>(child)].mesh));
            lengths.emplace_back(child, length_of(mesh, strip.print));
        }
        const double begin = strip.print.printed_m(strip.print.ways.front());
        for (const double frame : growing_frames(clip)) {
            const double seconds = (frame - clip.first_frame) / frame_rate_of(document, clip);
            double shown = 0;
            for (const auto& [node, length] : lengths) shown += length * player.scale_of(node, seconds).x();
            const double wanted =
                strip.clip == clip_id ? strip.print.printed_m(strip.print.way_at(frame)) - begin : 0;
            largest = std::max(largest, std::abs(shown - wanted));
        }
    }
    return largest;
}

}  // namespace pivrak
