#include "app/view/gpu_mesh.h"

#include <vector>

#include "core/geometry/creases.h"

namespace pivrak {

GpuMesh::GpuMesh(QOpenGLExtraFunctions& gl, std::shared_ptr<const Mesh> mesh)
    : gl_(gl), mesh_(std::move(mesh)) {
    std::vector<float> packed;
    packed.reserve(mesh_->positions.size() * 6);
    for (std::size_t v = 0; v < mesh_->positions.size(); ++v) {
        const Vec3f n = v < mesh_->normals.size() ? mesh_->normals[v] : Vec3f(0, 0, 1);
        packed.insert(packed.end(), {mesh_->positions[v].x(), mesh_->positions[v].y(),
                                     mesh_->positions[v].z(), n.x(), n.y(), n.z()});
    }
    const std::vector<std::uint32_t> edges = crease_edges(*mesh_);
    edge_count_ = static_cast<GLsizei>(edges.size());

    gl_.glGenBuffers(1, &vertices_);
    gl_.glBindBuffer(GL_ARRAY_BUFFER, vertices_);
    gl_.glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(packed.size() * sizeof(float)), packed.data(),
                     GL_STATIC_DRAW);
    const auto make_array = [&](GLuint& array, GLuint& indices, const std::vector<std::uint32_t>& data) {
        gl_.glGenVertexArrays(1, &array);
        gl_.glBindVertexArray(array);
        gl_.glBindBuffer(GL_ARRAY_BUFFER, vertices_);
        gl_.glEnableVertexAttribArray(0);
        gl_.glVertexAttribPointer(0, 3, GL_FLOAT, GL_FALSE, 6 * sizeof(float), nullptr);
        gl_.glEnableVertexAttribArray(1);
        gl_.glVertexAttribPointer(1, 3, GL_FLOAT, GL_FALSE, 6 * sizeof(float),
                                  reinterpret_cast<const void*>(3 * sizeof(float)));
        gl_.glGenBuffers(1, &indices);
        gl_.glBindBuffer(GL_ELEMENT_ARRAY_BUFFER, indices);
        gl_.glBufferData(GL_ELEMENT_ARRAY_BUFFER,
                         static_cast<GLsizeiptr>(data.size() * sizeof(std::uint32_t)), data.data(),
                         GL_STATIC_DRAW);
        gl_.glBindVertexArray(0);
    };
    make_array(face_array_, faces_, mesh_->indices);
    make_array(edge_array_, edges_, edges);
}

GpuMesh::~GpuMesh() {
    const GLuint buffers[] = {vertices_, faces_, edges_}, arrays[] = {face_array_, edge_array_};
    gl_.glDeleteBuffers(3, buffers);
    gl_.glDeleteVertexArrays(2, arrays);
}

void GpuMesh::draw_faces(const Submesh& run) const {
    gl_.glBindVertexArray(face_array_);
    gl_.glDrawElements(GL_TRIANGLES, static_cast<GLsizei>(run.index_count), GL_UNSIGNED_INT,
                       reinterpret_cast<const void*>(std::size_t{run.first_index} * sizeof(std::uint32_t)));
}

void GpuMesh::draw_all_faces() const {
    draw_faces({MaterialId{}, 0, static_cast<std::uint32_t>(mesh_->indices.size())});
}

void GpuMesh::draw_edges() const {
    gl_.glBindVertexArray(edge_array_);
    gl_.glDrawElements(GL_LINES, edge_count_, GL_UNSIGNED_INT, nullptr);
}

}  // namespace pivrak
