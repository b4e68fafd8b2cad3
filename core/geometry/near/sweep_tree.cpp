#include "core/geometry/near/sweep_tree.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>

namespace pivrak {
namespace {

/// Directions need no more than these; the box itself is about every corner.
constexpr std::uint32_t most_samples = 48;

/// Nodes of no more triangles have boxes about every corner.
constexpr std::uint32_t exact_count = 700;
constexpr std::uint32_t many_keys = 512;

/// Puts the smaller half of the keys first, and answers how many these are. Many keys are parted by the
/// middle of a few of them: nearly halves, at a third of the cost.
std::uint32_t part_keys(SweepTree::Scratch& keys) {
    const auto count = static_cast<std::uint32_t>(keys.size());
    if (count > many_keys) {
        std::array<float, 31> few;
        for (std::size_t i = 0; i < few.size(); ++i) few[i] = keys[i * (count / few.size())].first;
        std::nth_element(few.begin(), few.begin() + few.size() / 2, few.end());
        const float pivot = few[few.size() / 2];
        const auto end =
            std::partition(keys.begin(), keys.end(), [&](const auto& key) { return key.first < pivot; });
        const auto below = static_cast<std::uint32_t>(end - keys.begin());
        if (below > count / 8 && below < count - count / 8) return below;
    }
    std::nth_element(keys.begin(), keys.begin() + count / 2, keys.end());
    return count / 2;
}

}  // namespace

SweepTree::Ball SweepTree::ball_about(const Triangle& t) {
    const Vec3 middle = (t[0] + t[1] + t[2]) / 3;
    const double radius = std::sqrt(std::max(
        {(t[0] - middle).squaredNorm(), (t[1] - middle).squaredNorm(), (t[2] - middle).squaredNorm()}));
    // Rounding to single precision moves the middle by less than this.
    const double moved = 2e-7 * (middle.cwiseAbs().sum() + radius);
    return {middle.cast<float>(), static_cast<float>(radius + moved)};
}

SweepTree::SweepTree(const SweepBody& body, SweepKind kind) : kind_(kind) {
    for (std::size_t m = 0; m < body.members.size(); ++m) {
        const Mesh& mesh = *body.members[m].mesh;
        const Frame& frame = body.members[m].frame_from_mesh;
        const Mat3 turn = frame.size * frame.rotation.toRotationMatrix();
        const auto first = static_cast<std::uint32_t>(vertices_.size());
        vertices_.reserve(vertices_.size() + mesh.positions.size());
        for (const Vec3f& p : mesh.positions)
            vertices_.push_back(turn * p.cast<double>() + frame.translation);
        corners_.reserve(corners_.size() + mesh.triangle_count());
        for (std::size_t i = 0; i + 2 < mesh.indices.size(); i += 3)
            corners_.push_back(
                {first + mesh.indices[i], first + mesh.indices[i + 1], first + mesh.indices[i + 2]});
        member_.resize(corners_.size(), static_cast<std::uint32_t>(m));
    }
    if (corners_.empty()) return;
    balls_.reserve(corners_.size());
    for (std::uint32_t t = 0; t < corners_.size(); ++t) balls_.push_back(ball_about(triangle(t)));
    order_.resize(corners_.size());
    std::iota(order_.begin(), order_.end(), 0u);
    root_ = std::make_unique<Node>();
    fill_node(*root_, 0, static_cast<std::uint32_t>(order_.size()));
}

SweepTree::~SweepTree() = default;

/// The mean normal, where there is one, and the main direction across it; so a patch of a surface gets a thin
/// box.
Mat3 SweepTree::axes_of(std::uint32_t first, std::uint32_t count) const {
    const std::uint32_t stride = std::max(1u, count / most_samples);
    Vec3 normal(0, 0, 0), mean(0, 0, 0);
    double area = 0, samples = 0;
    for (std::uint32_t i = first; i < first + count; i += stride) {
        const Triangle t = triangle(order_[i]);
        const Vec3 cross = (t[1] - t[0]).cross(t[2] - t[0]);
        normal += cross;
        area += cross.norm();
        mean += t[0] + t[1] + t[2];
        samples += 3;
    }
    mean /= samples;
    Mat3 axes = Mat3::Identity();
    const double length = normal.norm();
    // What looks to all sides alike has no thin direction.
    if (!(length > 0.2 * area)) return axes;
    axes.col(2) = normal / length;
    // The main direction of the corners as they lie in the plane.
    const Vec3 u = any_perpendicular(axes.col(2)), v = axes.col(2).cross(u);
    double uu = 0, uv = 0, vv = 0;
    each_corner(first, count, stride, [&](const Vec3& corner) {
        const Vec3 off = corner - mean;
        const double x = u.dot(off), y = v.dot(off);
        uu += x * x;
        uv += x * y;
        vv += y * y;
    });
    const double angle = 0.5 * std::atan2(2 * uv, uu - vv);
    axes.col(0) = std::cos(angle) * u + std::sin(angle) * v;
    axes.col(1) = axes.col(2).cross(axes.col(0));
    return axes;
}

void SweepTree::fill_node(Node& node, std::uint32_t first, std::uint32_t count) const {
    node.first = first;
    node.count = count;
    node.box.axes = axes_of(first, count);
    const Mat3& axes = node.box.axes;
    Vec3 low = Vec3::Constant(1e300), high = Vec3::Constant(-1e300);
    double radius = 0, margin = 0;
    const auto add = [&](const Vec3& place) {
        const Vec3 own(axes.col(0).dot(place), axes.col(1).dot(place), axes.col(2).dot(place));
        low = low.cwiseMin(own);
        high = high.cwiseMax(own);
        radius = std::max(radius, place.head<2>().squaredNorm());
    };
    if (count <= exact_count) {
        each_corner(first, count, 1, add);
    } else {
        // A triangle more or less is nothing to a large box.
        for (std::uint32_t i = first; i < first + count; ++i) {
            const Ball& ball = balls_[order_[i]];
            add(ball.middle.cast<double>());
            margin = std::max<double>(margin, ball.radius);
        }
    }
    node.box.middle = axes * (0.5 * (low + high));
    node.box.half = 0.5 * (high - low) + Vec3::Constant(margin);
    node.box.ball = node.box.half.norm();
    node.radius = std::sqrt(radius) + margin;
}

std::mutex& SweepTree::gate_of(const Node& node) {
    return gates_[(node.first + node.count) % gates_.size()];
}

SweepTree::Node* SweepTree::divide(Node& node, Scratch& keys) {
    if (Node* known = node.children.load(std::memory_order_acquire)) return known;
    const std::lock_guard lock(gate_of(node));
    if (Node* known = node.children.load(std::memory_order_acquire)) return known;
    Eigen::Index longest = 0;
    node.box.half.maxCoeff(&longest);
    const Vec3f way = node.box.axes.col(longest).cast<float>();
    keys.clear();
    for (std::uint32_t i = node.first; i < node.first + node.count; ++i) {
        const std::uint32_t t = order_[i];
        keys.emplace_back(way.dot(balls_[t].middle), t);
    }
    const std::uint32_t middle = part_keys(keys);
    for (std::uint32_t i = 0; i < node.count; ++i) order_[node.first + i] = keys[i].second;
    auto children = std::make_unique<Node[]>(2);
    fill_node(children[0], node.first, middle);
    fill_node(children[1], node.first + middle, node.count - middle);
    node.children.store(children.get(), std::memory_order_release);
    return children.release();
}

const std::vector<SweepRange>& SweepTree::ranges() {
    std::call_once(ranges_once_, [&] {
        ranges_.reserve(corners_.size());
        for (std::uint32_t t = 0; t < corners_.size(); ++t) ranges_.push_back(SweepRange::of(triangle(t)));
    });
    return ranges_;
}

const SweepRange& SweepTree::range_of(Node& node) {
    if (node.has_range.load(std::memory_order_acquire)) return node.range;
    const auto& all = ranges();
    std::unique_lock lock(gate_of(node));
    if (Node* children = node.children.load(std::memory_order_acquire)) {
        // Its run may be sorted at this moment, further down.
        lock.unlock();
        const SweepRange both = range_of(children[0]).with(range_of(children[1]));
        lock.lock();
        if (!node.has_range.load(std::memory_order_acquire)) node.range = both;
    } else if (!node.has_range.load(std::memory_order_acquire)) {
        node.range = all[order_[node.first]];
        for (std::uint32_t i = node.first + 1; i < node.first + node.count; ++i)
            node.range = node.range.with(all[order_[i]]);
    }
    node.has_range.store(true, std::memory_order_release);
    return node.range;
}

}  // namespace pivrak
