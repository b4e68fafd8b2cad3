#include "app/view/person.h"

#include "core/geometry/mesh/mesh_edit.h"
#include "core/geometry/mesh/solid.h"

namespace pivrak {
namespace {

/// The right half of the figure from the crotch round to the top of the neck, in metres: across, up.
const std::vector<Vec2>& half_outline() {
    static const std::vector<Vec2> half{
        {0.000, 0.800}, {0.030, 0.500}, {0.045, 0.250}, {0.050, 0.060}, {0.045, 0.000}, {0.170, 0.000},
        {0.175, 0.030}, {0.120, 0.075}, {0.130, 0.280}, {0.150, 0.470}, {0.175, 0.700}, {0.180, 0.880},
        {0.165, 1.000}, {0.170, 1.120}, {0.195, 1.250}, {0.215, 1.150}, {0.225, 1.000}, {0.235, 0.860},
        {0.250, 0.760}, {0.285, 0.770}, {0.290, 0.880}, {0.288, 1.020}, {0.280, 1.180}, {0.268, 1.320},
        {0.240, 1.395}, {0.170, 1.435}, {0.075, 1.465}, {0.055, 1.500}};
    return half;
}

}  // namespace

std::shared_ptr<const Mesh> person_silhouette() {
    Loop body = half_outline();
    for (auto p = half_outline().rbegin(); p != half_outline().rend(); ++p)
        if (p->x() > 0) body.emplace_back(-p->x(), p->y());
    Loop head;
    for (int i = 0; i < 28; ++i) {
        const double a = 2 * pi * i / 28;
        head.emplace_back(0.085 * std::cos(a), 1.625 + 0.125 * std::sin(a));
    }
    Mesh figure = solid_mesh(extrude(body, {}, -0.012, 0.012), 1);
    append_mesh(figure, solid_mesh(extrude(head, {}, -0.012, 0.012), 1));
    // Drawn lying on its back: across, up, thick become left, up, forward.
    Mat3 standing;
    standing << 0, 0, 1, 1, 0, 0, 0, 1, 0;
    return std::make_shared<const Mesh>(transformed(figure, Frame{Quat(standing), Vec3(0, 0, 0)}));
}

}  // namespace pivrak
