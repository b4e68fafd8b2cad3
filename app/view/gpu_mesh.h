#pragma once

#include <QOpenGLExtraFunctions>
#include <memory>

#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// A mesh and its crease lines on the graphics card. Made, drawn and destroyed with the context current.
class GpuMesh {
public:
    GpuMesh(QOpenGLExtraFunctions& gl, std::shared_ptr<const Mesh> mesh);
    ~GpuMesh();
    GpuMesh(const GpuMesh&) = delete;
    GpuMesh& operator=(const GpuMesh&) = delete;

    void draw_faces(const Submesh& run) const;
    void draw_all_faces() const;
    /// Those of the first indices alone.
    void draw_first_faces(std::uint32_t indices) const;
    void draw_edges() const;
    const Mesh& mesh() const { return *mesh_; }

private:
    QOpenGLExtraFunctions& gl_;
    std::shared_ptr<const Mesh> mesh_;
    GLuint face_array_ = 0, edge_array_ = 0, vertices_ = 0, faces_ = 0, edges_ = 0;
    GLsizei edge_count_ = 0;
};

}  // namespace pivrak
