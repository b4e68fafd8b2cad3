#include "core/io/import/import_scene.h"

#include <Eigen/SVD>

namespace pivrak {

std::string text_of(const char* bytes) {
    const std::string text(bytes);
    std::size_t at = 0;
    const auto byte = [&](std::size_t i) { return static_cast<unsigned char>(text[i]); };
    while (at < text.size()) {
        const std::size_t more = byte(at) < 0x80   ? 0
                                 : byte(at) < 0xC2 ? 9
                                 : byte(at) < 0xE0 ? 1
                                 : byte(at) < 0xF0 ? 2
                                 : byte(at) < 0xF5 ? 3
                                                   : 9;
        if (more == 9 || at + more >= text.size()) break;
        bool follows = true;
        for (std::size_t k = 1; k <= more; ++k) follows &= (byte(at + k) & 0xC0) == 0x80;
        if (!follows) break;
        at += more + 1;
    }
    if (at == text.size()) return text;
    std::string out;
    for (std::size_t i = 0; i < text.size(); ++i) {
        if (byte(i) < 0x80)
            out += text[i];
        else
            out += {static_cast<char>(0xC0 | byte(i) >> 6), static_cast<char>(0x80 | (byte(i) & 0x3F))};
    }
    return out;
}

RigidSplit split_rigid(const Mat4& world) {
    const Mat3 m = world.topLeftCorner<3, 3>();
    const Eigen::JacobiSVD<Mat3> svd(m, Eigen::ComputeFullU | Eigen::ComputeFullV);
    Mat3 rotation = svd.matrixU() * svd.matrixV().transpose();
    if (rotation.determinant() < 0) {
        Mat3 flip = Mat3::Identity();
        flip(2, 2) = -1;
        rotation = svd.matrixU() * flip * svd.matrixV().transpose();
    }
    const Quat turn = Quat(rotation).normalized();
    return {{turn, world.topRightCorner<3, 1>()}, turn.conjugate().toRotationMatrix() * m};
}

Mat4 matrix_of(const aiMatrix4x4& m) {
    Mat4 out;
    out << m.a1, m.a2, m.a3, m.a4, m.b1, m.b2, m.b3, m.b4, m.c1, m.c2, m.c3, m.c4, m.d1, m.d2, m.d3, m.d4;
    return out;
}

}  // namespace pivrak
