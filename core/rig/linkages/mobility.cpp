#include "core/rig/linkages/mobility.h"

#include <Eigen/QR>
#include <algorithm>

namespace pivrak {
namespace {

using Eigen::MatrixXd;
using Eigen::VectorXd;

/// Directions that are weaker than this, against the strongest, count as none.
constexpr double weakest_share = 1e-6;
/// How far beside a pose is looked, in radians or sizes.
constexpr double beside = 0.02;

/// Of a matrix its rank, and the directions that it takes to nothing.
int rank_of(const MatrixXd& matrix) {
    if (matrix.cols() == 0 || matrix.rows() == 0) return 0;
    Eigen::ColPivHouseholderQR<MatrixXd> parts(matrix);
    parts.setThreshold(weakest_share);
    return matrix.isZero(0) ? 0 : static_cast<int>(parts.rank());
}

MatrixXd null_of(const MatrixXd& matrix) {
    const Eigen::Index columns = matrix.cols();
    if (matrix.isZero(0)) return MatrixXd::Identity(columns, columns);
    Eigen::CompleteOrthogonalDecomposition<MatrixXd> parts(matrix);
    parts.setThreshold(weakest_share);
    const MatrixXd last = parts.matrixZ().transpose().rightCols(columns - parts.rank());
    return parts.colsPermutation() * last;
}

MatrixXd columns_of(const MatrixXd& all, const std::vector<bool>& taken) {
    MatrixXd some(all.rows(), std::count(taken.begin(), taken.end(), true));
    Eigen::Index at = 0;
    for (std::size_t c = 0; c < taken.size(); ++c)
        if (taken[c]) some.col(at++) = all.col(static_cast<Eigen::Index>(c));
    return some;
}

/// The derivatives in a pose and in some beside it, into which what is not held can move.
std::vector<MatrixXd> derivatives_beside(const LinkageModel& model, std::span<const double> values,
                                         const std::vector<bool>& held) {
    LinkageModel freed = model;
    freed.loose = true;
    freed.given = held;
    const LinkageSolver solver(freed);
    LinkageRoom room = solver.make_room();
    std::vector<MatrixXd> found{solver.derivatives(values, room)};
    for (std::uint32_t c = 0; c < held.size(); ++c)
        if (held[c]) found.front().col(c).setZero();
    const MatrixXd ways = null_of(found.front());
    for (int k = 0; k < 3; ++k) {
        std::vector<double> moved(values.begin(), values.end());
        VectorXd way = VectorXd::Zero(ways.rows());
        for (Eigen::Index i = 0; i < ways.cols(); ++i)
            way += (static_cast<double>((i + k) % 3) - 0.6) * ways.col(i);  // any mixture will do
        for (std::uint32_t c = 0; c < held.size(); ++c)
            if (held[c]) way[c] = 0;
        if (way.norm() < 1e-12) break;
        way *= beside / way.cwiseAbs().maxCoeff();
        for (std::uint32_t c = 0; c < moved.size(); ++c) moved[c] += way[c] * model.unit(c);
        if (solver.settle(moved, room) > std::max(model.slop_m, 1e-7 * model.size_m)) continue;
        found.push_back(solver.derivatives(moved, room));
    }
    return found;
}

int highest_rank(const std::vector<MatrixXd>& poses, const std::vector<bool>& columns) {
    int highest = 0;
    for (const MatrixXd& pose : poses) highest = std::max(highest, rank_of(columns_of(pose, columns)));
    return highest;
}

int count_of(const std::vector<bool>& columns) {
    return static_cast<int>(std::count(columns.begin(), columns.end(), true));
}

}  // namespace

Mobility mobility(const LinkageModel& model, std::span<const double> values, const std::vector<bool>& held) {
    const auto poses = derivatives_beside(model, values, held);
    std::vector<bool> moving = held;
    moving.flip();
    Mobility found;
    found.counted = count_of(moving);
    found.ways = found.counted - highest_rank(poses, moving);
    found.at_once = found.counted - rank_of(columns_of(poses.front(), moving));
    for (const ClosureRows& closure : model.closures) found.counted -= closure.freedoms_taken();
    return found;
}

std::vector<std::uint32_t> inputs_for(const LinkageModel& model, std::span<const double> values,
                                      const std::vector<bool>& held,
                                      const std::vector<std::uint32_t>& preferred) {
    const auto poses = derivatives_beside(model, values, held);
    std::vector<bool> left = held;
    left.flip();
    const int rank = highest_rank(poses, left);
    const auto needed = static_cast<std::size_t>(count_of(left) - rank);
    std::vector<std::uint32_t> found;
    for (const std::uint32_t column : preferred) {
        if (found.size() == needed) break;
        if (!left[column]) continue;
        left[column] = false;
        if (highest_rank(poses, left) == rank)
            found.push_back(column);
        else
            left[column] = true;
    }
    return found;
}

bool is_loose(const LinkageModel& model) {
    std::vector<bool> follows = model.given;
    follows.flip();
    const std::vector<double> rest(follows.size(), 0.0);
    const std::vector<bool> none(follows.size(), false);
    return highest_rank(derivatives_beside(model, rest, none), follows) < count_of(follows);
}

}  // namespace pivrak
