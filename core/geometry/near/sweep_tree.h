#pragma once

#include <array>
#include <atomic>
#include <memory>
#include <mutex>
#include <vector>

#include "core/geometry/mesh/mesh.h"
#include "core/geometry/near/sweep_range.h"

namespace pivrak {

/// Meshes that move together or stand together, placed in the frame of the motion.
struct SweepBody {
    struct Member {
        std::shared_ptr<const Mesh> mesh;
        Frame frame_from_mesh;
    };
    std::vector<Member> members;
};

/// A turn about the z axis of the frame of the motion, or a shift along it.
enum class SweepKind { Turn, Shift };

/// A box about some triangles, turned as they lie: thin where they make a surface.
struct SweepBox {
    Mat3 axes = Mat3::Identity();  ///< columns, in the frame of the motion
    Vec3 middle{0, 0, 0}, half{0, 0, 0};
    double ball = 0;  ///< radius of the ball about it
};

/// The triangles of a body under boxes, divided only where somebody looks: what stays far away costs nothing.
/// Several threads may look at once: what one of them has divided is there for the others.
class SweepTree {
public:
    struct Node;
    /// Room for the run being divided, one for each thread that looks.
    using Scratch = std::vector<std::pair<float, std::uint32_t>>;

    SweepTree(const SweepBody& body, SweepKind kind);
    ~SweepTree();
    SweepTree(const SweepTree&) = delete;
    SweepTree& operator=(const SweepTree&) = delete;

    SweepKind kind() const { return kind_; }
    bool empty() const { return corners_.empty(); }
    Triangle triangle(std::uint32_t t) const {
        const auto& c = corners_[t];
        return {vertices_[c[0]], vertices_[c[1]], vertices_[c[2]]};
    }
    std::uint32_t member_of(std::uint32_t triangle) const { return member_[triangle]; }
    /// The triangle at a place of a leaf's run.
    std::uint32_t at(std::uint32_t place) const { return order_[place]; }

    /// Pre: not empty.
    Node& root() const { return *root_; }
    static bool is_leaf(const Node& node);
    /// The first of two children, which stand in a row. Pre: no leaf.
    Node* divide(Node& node, Scratch& scratch);
    /// What a node, or a triangle, sweeps over.
    const SweepRange& range_of(Node& node);
    const SweepRange& range_of_triangle(std::uint32_t t) { return ranges()[t]; }

private:
    static constexpr std::uint32_t leaf_size = 4;
    /// Middle of a triangle, rounded, and a radius about it that holds its corners all the same.
    struct Ball {
        Vec3f middle;
        float radius;
    };
    static Ball ball_about(const Triangle& triangle);
    void fill_node(Node& node, std::uint32_t first, std::uint32_t count) const;
    template <class Take>
    void each_corner(std::uint32_t first, std::uint32_t count, std::uint32_t stride, Take take) const {
        for (std::uint32_t i = first; i < first + count; i += stride)
            for (const std::uint32_t corner : corners_[order_[i]]) take(vertices_[corner]);
    }
    Mat3 axes_of(std::uint32_t first, std::uint32_t count) const;
    const std::vector<SweepRange>& ranges();
    /// Dividing one node locks those that share its gate, no others.
    std::mutex& gate_of(const Node& node);

    SweepKind kind_;
    std::vector<Vec3> vertices_;
    std::vector<std::array<std::uint32_t, 3>> corners_;  ///< of the triangles
    /// `order_` holds the runs of the nodes. Dividing a node sorts its own run, which nobody reads before.
    std::vector<std::uint32_t> member_, order_;
    std::vector<Ball> balls_;
    std::unique_ptr<Node> root_;
    std::array<std::mutex, 32> gates_;
    std::once_flag ranges_once_;
    std::vector<SweepRange> ranges_;
};

struct SweepTree::Node {
    SweepBox box;
    std::uint32_t first = 0, count = 0;  ///< in the tree's order
    double radius = 0;                   ///< no corner of a triangle is farther from the axis
    std::atomic<bool> has_range = false;
    SweepRange range;
    std::atomic<Node*> children = nullptr;  ///< two; null where not divided

    ~Node() { delete[] children.load(); }
};

inline bool SweepTree::is_leaf(const Node& node) {
    return node.count <= leaf_size;
}

}  // namespace pivrak
