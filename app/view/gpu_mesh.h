#pragma once

#include <QFuture>
#include <QOpenGLExtraFunctions>
#include <memory>
#include <optional>

#include "app/view/instances.h"
#include "app/view/mesh_levels.h"
#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// A mesh and its crease lines on the graphics card. Made, drawn and destroyed with the context current.
class GpuMesh {
public:
    /// `edges` are its crease lines where they are known.
    GpuMesh(QOpenGLExtraFunctions& gl, std::shared_ptr<const Mesh> mesh,
            const std::vector<std::uint32_t>* edges = nullptr);
    ~GpuMesh();
    GpuMesh(const GpuMesh&) = delete;
    GpuMesh& operator=(const GpuMesh&) = delete;

    /// At all places of a group, a submesh by its number, or all. Faces of one that is alone are drawn
    /// without instances.
    void draw_submesh(const Instances& at, const InstanceGroup& group, std::size_t submesh,
                      double error_m) const;
    void draw_all_faces(const Instances& at, const InstanceGroup& group, double error_m) const;
    /// Those of the first indices alone.
    void draw_first_faces(const Instances& at, const InstanceGroup& group, std::uint32_t indices) const;
    void draw_edges(const Instances& at, const InstanceGroup& group) const;
    /// Has coarser levels made for it, beside what goes on, and takes them when they are there.
    void want_levels();
    /// How many triangles are drawn where so large an error is not seen.
    std::size_t triangle_count(double error_m) const;
    /// A ball about it, in its own frame.
    const Vec3& middle() const { return middle_; }
    double radius() const { return radius_; }

private:
    /// Triangles on the card.
    struct Level {
        GLuint array = 0, indices = 0;
        std::size_t index_count = 0;
        std::vector<Submesh> submeshes;
        double error_m = 0;
    };
    void make_array(GLuint& array, GLuint& indices, const std::vector<std::uint32_t>& data) const;
    const Level& level(double error_m) const;
    void draw(const Instances& at, const InstanceGroup& group, const Level& level, std::size_t first,
              std::size_t count) const;

    QOpenGLExtraFunctions& gl_;
    std::shared_ptr<const Mesh> mesh_;
    std::vector<Level> levels_;  ///< the finest first
    std::optional<QFuture<std::vector<MeshLevel>>> coming_;
    GLuint edge_array_ = 0, vertices_ = 0, edges_ = 0;
    GLsizei edge_count_ = 0;
    Vec3 middle_{0, 0, 0};
    double radius_ = 0;
};

}  // namespace pivrak
