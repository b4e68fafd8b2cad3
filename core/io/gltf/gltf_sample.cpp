#include "core/io/gltf/gltf_sample.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/io/gltf/gltf_axes.h"
#include "core/io/gltf/gltf_read.h"

namespace pivrak {
namespace {

struct Segment {
    std::size_t before, after;
    double t;
};

Segment locate(const std::vector<float>& times, double seconds) {
    if (seconds <= static_cast<double>(times.front())) return {0, 0, 0};
    if (seconds >= static_cast<double>(times.back())) return {times.size() - 1, times.size() - 1, 0};
    const auto next = std::upper_bound(times.begin(), times.end(), seconds,
                                       [](double s, float t) { return s < static_cast<double>(t); });
    const auto after = static_cast<std::size_t>(next - times.begin());
    const double a = static_cast<double>(times[after - 1]), b = static_cast<double>(times[after]);
    return {after - 1, after, (seconds - a) / (b - a)};
}

Quat quat_at(const std::vector<float>& values, std::size_t i) {
    return Quat(values[4 * i + 3], values[4 * i], values[4 * i + 1], values[4 * i + 2]).normalized();
}

/// Shortest-path slerp as the specification writes it out.
Quat slerp(const Quat& a, Quat b, double t) {
    double dot = a.dot(b);
    if (dot < 0) {
        b.coeffs() = -b.coeffs();
        dot = -dot;
    }
    const double angle = std::acos(std::min(1.0, dot));
    Quat out;
    if (angle < 1e-9)
        out.coeffs() = (1 - t) * a.coeffs() + t * b.coeffs();
    else
        out.coeffs() =
            (std::sin((1 - t) * angle) * a.coeffs() + std::sin(t * angle) * b.coeffs()) / std::sin(angle);
    return out.normalized();
}

}  // namespace

Result<GltfPlayer> GltfPlayer::make(const tinygltf::Model& model, int animation) {
    GltfPlayer player;
    PIVRAK_CHECK(player.read_nodes(model));
    if (animation >= 0) {
        if (static_cast<std::size_t>(animation) >= model.animations.size())
            return Error{"gltf.animation", "the animation does not exist", ""};
        PIVRAK_CHECK(player.read_animation(model, model.animations[static_cast<std::size_t>(animation)]));
    }
    return player;
}

Result<void> GltfPlayer::read_nodes(const tinygltf::Model& model) {
    nodes_.resize(model.nodes.size());
    for (std::size_t n = 0; n < nodes_.size(); ++n) {
        PIVRAK_TRY(frame, read_node_frame(model, static_cast<int>(n)));
        nodes_[n].rest = frame;
        for (const int child : model.nodes[n].children) {
            if (child < 0 || static_cast<std::size_t>(child) >= nodes_.size())
                return Error{"gltf.node", fmt::format("node {} has a child that does not exist", n), ""};
            nodes_[static_cast<std::size_t>(child)].parent = static_cast<int>(n);
        }
    }
    for (std::size_t n = 0; n < nodes_.size(); ++n)
        if (nodes_[n].parent < 0) order_.push_back(static_cast<int>(n));
    for (std::size_t i = 0; i < order_.size(); ++i)
        for (const int child : model.nodes[static_cast<std::size_t>(order_[i])].children)
            order_.push_back(child);
    if (order_.size() != nodes_.size()) return Error{"gltf.node", "the nodes are not a tree", ""};
    return {};
}

Result<void> GltfPlayer::read_animation(const tinygltf::Model& model, const tinygltf::Animation& animation) {
    const auto problem = [&](const char* what) {
        return Error{"gltf.animation", fmt::format("animation '{}' {}", animation.name, what),
                     animation.name};
    };
    samplers_.resize(animation.samplers.size());
    for (const auto& channel : animation.channels) {
        if (channel.sampler < 0 || static_cast<std::size_t>(channel.sampler) >= samplers_.size() ||
            channel.target_node < 0 || static_cast<std::size_t>(channel.target_node) >= nodes_.size())
            return problem("names a sampler or node that does not exist");
        const bool rotation = channel.target_path == "rotation";
        const bool scale = channel.target_path == "scale";
        if (!rotation && !scale && channel.target_path != "translation")
            return problem("moves something other than rotation, translation and scale");
        const auto& source = animation.samplers[static_cast<std::size_t>(channel.sampler)];
        if (source.interpolation != "LINEAR" && source.interpolation != "STEP")
            return problem("has an interpolation other than LINEAR and STEP");
        Sampler& sampler = samplers_[static_cast<std::size_t>(channel.sampler)];
        const std::size_t width = rotation ? 4 : 3;
        PIVRAK_TRY(times, read_floats(model, source.input, 1));
        PIVRAK_TRY(values, read_floats(model, source.output, static_cast<int>(width)));
        if (times.empty() || values.size() != times.size() * width)
            return problem("has times and values that do not match");
        sampler = {std::move(times), std::move(values), source.interpolation == "STEP"};
        NodeMotion& node = nodes_[static_cast<std::size_t>(channel.target_node)];
        (rotation ? node.rotation : scale ? node.scale : node.translation) = channel.sampler;
    }
    return {};
}

Vec3 GltfPlayer::scale_of(int n, double seconds) const {
    const NodeMotion& node = nodes_[static_cast<std::size_t>(n)];
    if (node.scale < 0) return {1, 1, 1};
    const Sampler& s = samplers_[static_cast<std::size_t>(node.scale)];
    const Segment at = locate(s.times, seconds);
    const auto value = [&](std::size_t i) {
        return Vec3(s.values[3 * i], s.values[3 * i + 1], s.values[3 * i + 2]);
    };
    return core_from_gltf(
        Vec3(value(at.before) + (s.step ? 0 : at.t) * (value(at.after) - value(at.before))));
}

std::vector<Frame> GltfPlayer::world_from_nodes(double seconds) const {
    std::vector<Frame> world(nodes_.size());
    for (const int n : order_) {
        const NodeMotion& node = nodes_[static_cast<std::size_t>(n)];
        Frame local = node.rest;
        if (node.rotation >= 0) {
            const Sampler& s = samplers_[static_cast<std::size_t>(node.rotation)];
            const Segment at = locate(s.times, seconds);
            local.rotation = core_from_gltf(
                slerp(quat_at(s.values, at.before), quat_at(s.values, at.after), s.step ? 0 : at.t));
        }
        if (node.translation >= 0) {
            const Sampler& s = samplers_[static_cast<std::size_t>(node.translation)];
            const Segment at = locate(s.times, seconds);
            const auto value = [&](std::size_t i) {
                return Vec3(s.values[3 * i], s.values[3 * i + 1], s.values[3 * i + 2]);
            };
            local.translation = core_from_gltf(
                Vec3(value(at.before) + (s.step ? 0 : at.t) * (value(at.after) - value(at.before))));
        }
        // What is scaled unevenly carries nothing.
        if (const Vec3 scale = scale_of(n, seconds);
            node.scale >= 0 && scale.isConstant(scale.x()) && scale.x() > 0)
            local.size = scale.x();
        world[static_cast<std::size_t>(n)] =
            node.parent < 0 ? local : world[static_cast<std::size_t>(node.parent)] * local;
    }
    return world;
}

}  // namespace pivrak
