#include "app/view/gpu_mesh.h"

#include <QtConcurrent>
#include <cmath>
#include <vector>

#include "core/geometry/mesh/creases.h"
#include "core/geometry/mesh/mesh_edit.h"

namespace pivrak {
namespace {

constexpr GLint numbers[] = {3, 3, 2, 4};  // position, normal, texture place, colour
constexpr std::size_t numbers_a_vertex = 12;
constexpr GLuint second_slot = 8;  // behind the instances' matrices

/// A linear colour about as a screen shows it.
Vec4f for_screen(const Vec4f& linear) {
    return linear.unaryExpr([](float c) { return std::pow(std::max(c, 0.0f), 1 / 2.2f); });
}

}  // namespace

GpuMesh::GpuMesh(QOpenGLExtraFunctions& gl, std::shared_ptr<const Mesh> mesh,
                 const std::vector<std::uint32_t>* known_edges)
    : gl_(gl), mesh_(std::move(mesh)) {
    std::vector<float> packed;
    packed.reserve(mesh_->positions.size() * numbers_a_vertex);
    for (std::size_t v = 0; v < mesh_->positions.size(); ++v) {
        const Vec3f& p = mesh_->positions[v];
        const Vec3f n = mesh_->normals.empty() ? Vec3f(0, 0, 1) : mesh_->normals[v];
        const Vec2f uv = mesh_->uvs.empty() ? Vec2f(0, 0) : mesh_->uvs[v];
        const Vec4f c = mesh_->colors.empty() ? Vec4f(1, 1, 1, 1) : for_screen(mesh_->colors[v]);
        packed.insert(packed.end(),
                      {p.x(), p.y(), p.z(), n.x(), n.y(), n.z(), uv.x(), uv.y(), c.x(), c.y(), c.z(), c.w()});
    }
    // Few meshes have second places: they stand behind all others.
    for (const Vec2f& uv : mesh_->second_uvs) packed.insert(packed.end(), {uv.x(), uv.y()});
    const std::vector<std::uint32_t> edges = known_edges ? *known_edges : crease_edges(*mesh_);
    edge_count_ = static_cast<GLsizei>(edges.size());

    gl_.glGenBuffers(1, &vertices_);
    gl_.glBindBuffer(GL_ARRAY_BUFFER, vertices_);
    gl_.glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(packed.size() * sizeof(float)), packed.data(),
                     GL_STATIC_DRAW);
    const Bounds bounds = mesh_bounds(*mesh_);
    middle_ = bounds.middle();
    radius_ = 0.5 * bounds.size().norm();
    levels_.push_back({0, 0, mesh_->indices.size(), mesh_->submeshes});
    make_array(levels_[0].array, levels_[0].indices, mesh_->indices);
    make_array(edge_array_, edges_, edges);
}

void GpuMesh::make_array(GLuint& array, GLuint& indices, const std::vector<std::uint32_t>& data) const {
    gl_.glGenVertexArrays(1, &array);
    gl_.glBindVertexArray(array);
    gl_.glBindBuffer(GL_ARRAY_BUFFER, vertices_);
    std::size_t offset = 0;
    for (GLuint slot = 0; slot < 4; ++slot) {
        gl_.glEnableVertexAttribArray(slot);
        gl_.glVertexAttribPointer(slot, numbers[slot], GL_FLOAT, GL_FALSE, numbers_a_vertex * sizeof(float),
                                  reinterpret_cast<const void*>(offset * sizeof(float)));
        offset += static_cast<std::size_t>(numbers[slot]);
    }
    if (!mesh_->second_uvs.empty()) {
        gl_.glEnableVertexAttribArray(second_slot);
        gl_.glVertexAttribPointer(
            second_slot, 2, GL_FLOAT, GL_FALSE, 2 * sizeof(float),
            reinterpret_cast<const void*>(mesh_->positions.size() * numbers_a_vertex * sizeof(float)));
    }
    gl_.glGenBuffers(1, &indices);
    gl_.glBindBuffer(GL_ELEMENT_ARRAY_BUFFER, indices);
    gl_.glBufferData(GL_ELEMENT_ARRAY_BUFFER, static_cast<GLsizeiptr>(data.size() * sizeof(std::uint32_t)),
                     data.data(), GL_STATIC_DRAW);
    gl_.glBindVertexArray(0);
}

GpuMesh::~GpuMesh() {
    const GLuint buffers[] = {vertices_, edges_};
    gl_.glDeleteBuffers(2, buffers);
    gl_.glDeleteVertexArrays(1, &edge_array_);
    for (const Level& level : levels_) {
        gl_.glDeleteBuffers(1, &level.indices);
        gl_.glDeleteVertexArrays(1, &level.array);
    }
}

void GpuMesh::want_levels() {
    if (!coming_) coming_ = QtConcurrent::run([mesh = mesh_] { return mesh_levels(*mesh); });
    if (!coming_->isFinished() || coming_->resultCount() == 0 || levels_.size() > 1) return;
    for (const MeshLevel& made : coming_->result()) {
        levels_.push_back({0, 0, made.indices.size(), made.submeshes, made.error_m});
        make_array(levels_.back().array, levels_.back().indices, made.indices);
    }
}

const GpuMesh::Level& GpuMesh::level(double error_m) const {
    std::size_t coarsest = 0;
    if (error_m <= 0) return levels_.front();
    while (coarsest + 1 < levels_.size() && levels_[coarsest + 1].error_m <= error_m) ++coarsest;
    return levels_[coarsest];
}

std::size_t GpuMesh::triangle_count(double error_m) const {
    return level(error_m).index_count / 3;
}

void GpuMesh::draw(const Instances& at, const InstanceGroup& group, const Level& level, std::size_t first,
                   std::size_t count) const {
    gl_.glBindVertexArray(level.array);
    const void* from = reinterpret_cast<const void*>(first * sizeof(std::uint32_t));
    if (group.is_alone())
        return gl_.glDrawElements(GL_TRIANGLES, static_cast<GLsizei>(count), GL_UNSIGNED_INT, from);
    at.bind(group);
    gl_.glDrawElementsInstanced(GL_TRIANGLES, static_cast<GLsizei>(count), GL_UNSIGNED_INT, from,
                                static_cast<GLsizei>(group.items.size()));
}

void GpuMesh::draw_submesh(const Instances& at, const InstanceGroup& group, std::size_t submesh,
                           double error_m) const {
    const Level& drawn = level(error_m);
    const Submesh& run = drawn.submeshes[submesh];
    draw(at, group, drawn, run.first_index, run.index_count);
}

void GpuMesh::draw_first_faces(const Instances& at, const InstanceGroup& group, std::uint32_t indices) const {
    draw(at, group, levels_[0], 0, indices);
}

void GpuMesh::draw_all_faces(const Instances& at, const InstanceGroup& group, double error_m) const {
    const Level& drawn = level(error_m);
    draw(at, group, drawn, 0, drawn.index_count);
}

void GpuMesh::draw_edges(const Instances& at, const InstanceGroup& group) const {
    gl_.glBindVertexArray(edge_array_);
    at.bind(group);
    gl_.glDrawElementsInstanced(GL_LINES, edge_count_, GL_UNSIGNED_INT, nullptr,
                                static_cast<GLsizei>(group.items.size()));
}

}  // namespace pivrak
