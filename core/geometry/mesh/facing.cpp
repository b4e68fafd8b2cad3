#include "core/geometry/mesh/facing.h"

#include <Eigen/Dense>
#include <vector>

#include "core/geometry/direction.h"
#include "core/geometry/mesh/topology.h"

namespace pivrak {

std::optional<Facing> facing(const Mesh& mesh) {
    Facing out;
    Mat3 covariance = Mat3::Zero();
    Vec3 moment(0, 0, 0);
    const std::vector<Vec3> normals = face_normals(mesh);
    for (std::size_t t = 0; t < normals.size(); ++t) {
        const double area = triangle_area(mesh, t);
        covariance += area * normals[t] * normals[t].transpose();
        moment += area * (mesh.corner(t, 0) + mesh.corner(t, 1) + mesh.corner(t, 2)) / 3.0;
        out.area += area;
    }
    if (out.area <= 0) return std::nullopt;
    out.middle = moment / out.area;
    const Eigen::SelfAdjointEigenSolver<Mat3> eigen(covariance);
    out.least = eigen.eigenvectors().col(0);
    out.between = eigen.eigenvectors().col(1);
    out.most = mostly_positive(eigen.eigenvectors().col(2));
    return out;
}

}  // namespace pivrak
