#pragma once

#include <QOpenGLExtraFunctions>
#include <vector>

#include "app/view/draw_item.h"

namespace pivrak {

/// Items that are drawn by one call: the same mesh, painted alike, picked or not.
struct InstanceGroup {
    const DrawItem* like = nullptr;
    std::vector<std::size_t> items;
    std::size_t first = 0;  ///< its first matrix in the buffer
    double unseen_m = 0;    ///< errors of its mesh up to this are not seen

    bool is_alone() const { return items.size() == 1; }
};

/// Where an item lies, counted from a middle.
Mat4 middle_from_mesh(const DrawItem& item, const Vec3& middle);

/// Where the things of a picture stand, in one buffer on the card: a matrix for each, group by group. Places
/// are counted from a middle near the eye, so that single precision serves far away from zero. All calls with
/// the context current.
class Instances {
public:
    explicit Instances(QOpenGLExtraFunctions& gl);
    ~Instances();
    Instances(const Instances&) = delete;
    Instances& operator=(const Instances&) = delete;

    /// Groups what shall be drawn, in its order, and puts its places on the card.
    void arrange(const std::vector<DrawItem>& items, const std::vector<std::size_t>& seen,
                 const Vec3& middle);
    std::vector<InstanceGroup>& groups() { return groups_; }
    /// For the vertex array that is bound: slots 4 to 7 are a matrix for each instance of a group.
    void bind(const InstanceGroup& group) const;

private:
    QOpenGLExtraFunctions& gl_;
    GLuint buffer_ = 0;
    std::vector<InstanceGroup> groups_;
    std::vector<float> matrices_;
};

}  // namespace pivrak
