#pragma once

#include <memory>
#include <vector>

#include "core/geometry/mesh.h"
#include "core/geometry/sweep_range.h"

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
/// Not to be used by two threads at once.
class SweepTree {
public:
    struct Node {
        SweepBox box;
        std::uint32_t first = 0, count = 0;  ///< in `order`
        std::uint32_t left = 0;              ///< children are `left` and `left + 1`; 0 where not divided
        double radius = 0;                   ///< no corner of a triangle is farther from the axis
        bool has_range = false;
        SweepRange range;
    };

    SweepTree(const SweepBody& body, SweepKind kind);
    SweepKind kind() const { return kind_; }
    bool empty() const { return corners_.empty(); }
    Triangle triangle(std::uint32_t t) const {
        const auto& c = corners_[t];
        return {vertices_[c[0]], vertices_[c[1]], vertices_[c[2]]};
    }
    std::uint32_t member_of(std::uint32_t triangle) const { return member_[triangle]; }
    /// The triangle at a place of a node's run.
    std::uint32_t at(std::uint32_t place) const { return order_[place]; }

    const Node& node(std::uint32_t n) const { return nodes_[n]; }
    bool is_leaf(std::uint32_t n) const { return nodes_[n].count <= leaf_size; }
    /// The first of two children. Pre: no leaf. References to nodes do not outlive it.
    std::uint32_t divide(std::uint32_t n);
    /// What a node, or a triangle, sweeps over.
    const SweepRange& range_of_node(std::uint32_t n);
    const SweepRange& range_of_triangle(std::uint32_t t) { return ranges()[t]; }

private:
    static constexpr std::uint32_t leaf_size = 4;
    /// Middle of a triangle, rounded, and a radius about it that holds its corners all the same.
    struct Ball {
        Vec3f middle;
        float radius;
    };
    static Ball ball_about(const Triangle& triangle);
    Node make_node(std::uint32_t first, std::uint32_t count) const;
    template <class Take>
    void each_corner(std::uint32_t first, std::uint32_t count, std::uint32_t stride, Take take) const {
        for (std::uint32_t i = first; i < first + count; i += stride)
            for (const std::uint32_t corner : corners_[order_[i]]) take(vertices_[corner]);
    }
    std::uint32_t part_keys();
    Mat3 axes_of(std::uint32_t first, std::uint32_t count) const;
    const std::vector<SweepRange>& ranges();

    SweepKind kind_;
    std::vector<Vec3> vertices_;
    std::vector<std::array<std::uint32_t, 3>> corners_;  ///< of the triangles
    std::vector<std::uint32_t> member_, order_;
    std::vector<SweepRange> ranges_;
    std::vector<Node> nodes_;
    std::vector<Ball> balls_;
    std::vector<std::pair<float, std::uint32_t>> keys_;  ///< of the run being divided
};

}  // namespace pivrak
