#include "app/view/gpu_mesh.h"

#include <vector>

#include "core/geometry/mesh/creases.h"

namespace pivrak {

GpuMesh::GpuMesh(QOpenGLExtraFunctions& gl, std::shared_ptr<const Mesh> mesh)
    : gl_(gl), mesh_(std::move(mesh)) {
    // Position, normal, texture place, colour.
    constexpr std::size_t numbers = 12;
    std::vector<float> packed;
    packed.reserve(mesh_->positions.size() * numbers);
    for (std::size_t v = 0; v < mesh_->positions.size(); ++v) {
        const Vec3f& p = mesh_->positions[v];
        const Vec3f n = mesh_->normals.empty() ? Vec3f(0, 0, 1) : mesh_->normals[v];
        const Vec2f uv = mesh_->uvs.empty() ? Vec2f(0, 0) : mesh_->uvs[v];
        const Vec4f c = mesh_->colors.empty() ? Vec4f(1, 1, 1, 1) : mesh_->colors[v];
        packed.insert(packed.end(),
                      {p.x(), p.y(), p.z(), n.x(), n.y(), n.z(), uv.x(), uv.y(), c.x(), c.y(), c.z(), c.w()});
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
        constexpr GLint sizes[] = {3, 3, 2, 4};
        std::size_t offset = 0;
        for (GLuint slot = 0; slot < 4; ++slot) {
            gl_.glEnableVertexAttribArray(slot);
            gl_.glVertexAttribPointer(slot, sizes[slot], GL_FLOAT, GL_FALSE, numbers * sizeof(float),
                                      reinterpret_cast<const void*>(offset * sizeof(float)));
            offset += static_cast<std::size_t>(sizes[slot]);
        }
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

void GpuMesh::draw_first_faces(std::uint32_t indices) const {
    draw_faces({MaterialId{}, 0, indices, {}});
}

void GpuMesh::draw_all_faces() const {
    draw_first_faces(static_cast<std::uint32_t>(mesh_->indices.size()));
}

void GpuMesh::draw_edges() const {
    gl_.glBindVertexArray(edge_array_);
    gl_.glDrawElements(GL_LINES, edge_count_, GL_UNSIGNED_INT, nullptr);
}

}  // namespace pivrak
