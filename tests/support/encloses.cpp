#include "tests/support/encloses.h"

#include <cmath>

namespace pivrak {

bool encloses(const Mesh& mesh, const Vec3& place) {
    double sum = 0;
    for (std::size_t t = 0; t < mesh.triangle_count(); ++t) {
        const Vec3 a = mesh.corner(t, 0) - place, b = mesh.corner(t, 1) - place,
                   c = mesh.corner(t, 2) - place;
        const double la = a.norm(), lb = b.norm(), lc = c.norm();
        sum +=
            2 * std::atan2(a.dot(b.cross(c)), la * lb * lc + a.dot(b) * lc + b.dot(c) * la + c.dot(a) * lb);
    }
    return sum > 2 * pi;
}

}  // namespace pivrak
