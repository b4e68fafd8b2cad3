#include "app/view/instances.h"

#include <unordered_map>

namespace pivrak {
namespace {

struct Alike {
    const Mesh* mesh;
    const Paint* paint;
    std::uint32_t flags, indices;
    bool operator==(const Alike&) const = default;
};

Alike alike(const DrawItem& item) {
    return {item.mesh.get(), item.paint.get(),
            (item.selected ? 1u : 0u) | (item.measure ? 2u : 0u) | (item.lifted ? 4u : 0u) |
                (item.first_indices ? 8u : 0u) | (std::uint32_t{item.pale} << 4),
            item.first_indices.value_or(0)};
}

struct AlikeHash {
    std::size_t operator()(const Alike& a) const {
        return std::hash<const void*>()(a.mesh) ^ (std::hash<const void*>()(a.paint) << 1) ^
               (std::size_t{a.flags} << 7) ^ (std::size_t{a.indices} << 11);
    }
};

}  // namespace

Mat4 middle_from_mesh(const DrawItem& item, const Vec3& middle) {
    Mat4 matrix = item.world_from_mesh.matrix();
    matrix.topRightCorner<3, 1>() -= middle;
    return matrix;
}

Instances::Instances(QOpenGLExtraFunctions& gl) : gl_(gl) {
    gl_.glGenBuffers(1, &buffer_);
}

Instances::~Instances() {
    gl_.glDeleteBuffers(1, &buffer_);
}

void Instances::arrange(const std::vector<DrawItem>& items, const std::vector<std::size_t>& seen,
                        const Vec3& middle) {
    groups_.clear();
    std::unordered_map<Alike, std::size_t, AlikeHash> known;
    for (const std::size_t i : seen) {
        const auto [at, is_new] = known.try_emplace(alike(items[i]), groups_.size());
        if (is_new) groups_.push_back({&items[i], {}, 0});
        groups_[at->second].items.push_back(i);
    }
    matrices_.resize(16 * seen.size());
    std::size_t next = 0;
    for (InstanceGroup& group : groups_) {
        group.first = next;
        for (const std::size_t i : group.items) {
            Eigen::Map<Eigen::Matrix4f> at(&matrices_[16 * next++]);
            at = middle_from_mesh(items[i], middle).cast<float>();
        }
    }
    gl_.glBindBuffer(GL_ARRAY_BUFFER, buffer_);
    gl_.glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(matrices_.size() * sizeof(float)),
                     matrices_.data(), GL_STREAM_DRAW);
}

void Instances::bind(const InstanceGroup& group) const {
    gl_.glBindBuffer(GL_ARRAY_BUFFER, buffer_);
    for (GLuint column = 0; column < 4; ++column) {
        const std::size_t at = (16 * group.first + 4 * column) * sizeof(float);
        gl_.glEnableVertexAttribArray(4 + column);
        gl_.glVertexAttribPointer(4 + column, 4, GL_FLOAT, GL_FALSE, 16 * sizeof(float),
                                  reinterpret_cast<const void*>(at));
        gl_.glVertexAttribDivisor(4 + column, 1);
    }
}

}  // namespace pivrak
