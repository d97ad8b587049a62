// Surface loads: follower pressure with its load stiffness, and forces of fixed direction spread over a face.
#include <Eigen/Geometry>
#include <array>
#include <numbers>

#include "core/contact/rotation.hpp"
#include "core/element/face.hpp"
#include "core/run/assembly.hpp"

namespace anvil::analysis {
namespace {

/// A point of a loaded facet: shape functions, their slopes, place and tangents.
struct FacePoint {
  element::FaceShape shape;
  double weight;
  Vector3d x{0, 0, 0}, t1{0, 0, 0}, t2{0, 0, 0};
};

/// Points of a facet with places by `place(node)`. In the plane t2 is the unit vector z, so that t1 x t2 points out
/// of a body on the left.
template <class Place>
std::vector<FacePoint> pointsOf(const std::vector<int>& nodes, int corners, const Place& place) {
  std::vector<FacePoint> points;
  for (const auto& [local, weight] : element::faceRule(corners)) {
    FacePoint q{element::faceShape(corners, nodes.size() > size_t(corners), local), weight};
    for (size_t a = 0; a < nodes.size(); ++a) {
      const Vector3d x = place(nodes[a]);
      q.x += q.shape.N[a] * x, q.t1 += q.shape.d1[a] * x, q.t2 += q.shape.d2[a] * x;
    }
    if (corners == 2) q.t2 = Vector3d::UnitZ();
    points.push_back(q);
  }
  return points;
}

Eigen::Matrix3d cross(const Vector3d& a) {
  Eigen::Matrix3d m;
  m << 0, -a.z(), a.y(), a.z(), 0, -a.x(), -a.y(), a.x(), 0;
  return m;
}

}  // namespace

/// Force or moment of fixed direction on a body. A moment m works on the rotation vector through Tᵀ m, which changes
/// with it.
void Assembly::bodyLoad(const Load& load, double value, const VectorXd& u, bool tangent, const VectorXd* du) {
  const int dim = p_.dim();
  if (!load.moment) {
    for (int k = 0; k < dim; ++k) external_[p_.rigidDof(load.body, k)] += value * load.direction[k];
    return;
  }
  const int first = p_.rigidDof(load.body, dim);
  if (dim == 2) {
    external_[first] += value;
    return;
  }
  const Vector3d theta = u.segment<3>(first), m = value * load.direction;
  if (!p_.setting.large) {
    external_.segment<3>(first) += m;
    return;
  }
  external_.segment<3>(first) += contact::spinOf(theta).transpose() * m;
  if (!tangent) return;
  Eigen::MatrixXd K(3, 3);
  const double h = 1e-5;
  for (int k = 0; k < 3; ++k)
    K.col(k) = -(contact::spinOf(theta + h * Vector3d::Unit(k)) - contact::spinOf(theta - h * Vector3d::Unit(k))).transpose() *
               m / (2 * h);
  addDense({first, first + 1, first + 2}, K, du);
}

/// Moment of fixed direction along the edge of a sheet: at each place of it two forces, on the upper side f = m × r / r² with the
/// way r from the lower side to the upper, on the lower one the opposite. What would turn the sheet about r itself is left out.
void Assembly::edgeMoment(const Load& load, double value, const VectorXd& u, bool tangent, const VectorXd* du) {
  for (size_t i = 0; i < load.nodes.size(); ++i) {
    const int upper = load.nodes[i], lower = load.opposite[i];
    Vector3d r = p_.mesh.x[size_t(upper)] - p_.mesh.x[size_t(lower)];
    if (p_.setting.large) r += p_.at(u, upper) - p_.at(u, lower);
    const double square = r.squaredNorm();
    const Vector3d m = value * load.share[i] * load.direction, f = m.cross(r) / square;
    external_.segment<3>(3 * upper) += f, external_.segment<3>(3 * lower) -= f;
    if (!tangent || !p_.setting.large) continue;
    const Eigen::Matrix3d slope = (cross(m) - 2 * f * r.transpose()) / square;
    Eigen::MatrixXd K(6, 6);
    K << -slope, slope, slope, -slope;
    const int nodes[2] = {upper, lower};
    for (int a = 0; a < 2; ++a)
      if (constraints_->framed(nodes[a])) {
        const Eigen::MatrixXd Q = constraints_->frame(nodes[a]);
        K.middleRows(3 * a, 3) = (Q.transpose() * K.middleRows(3 * a, 3)).eval();
        K.middleCols(3 * a, 3) = (K.middleCols(3 * a, 3) * Q).eval();
      }
    addDense({3 * upper, 3 * upper + 1, 3 * upper + 2, 3 * lower, 3 * lower + 1, 3 * lower + 2}, K, du);
  }
}

void Assembly::loads(const VectorXd& u, const LoadLevel& level, bool tangent, const VectorXd* du) {
  external_.setZero();
  const int dim = p_.dim();
  const bool axisymmetric = p_.setting.space == element::Space::axisymmetric;
  const auto scaleOf = [&](const Vector3d& x) {
    return dim == 3 ? 1 : axisymmetric ? 2 * std::numbers::pi * x.x() : p_.setting.thickness;
  };
  const auto undeformed = [&](int n) { return p_.mesh.x[size_t(n)]; };
  for (const auto& load : p_.loads) {
    const double value = load.course.active[size_t(level.step)] ? level.time.of(load.course) : 0;
    if (value == 0) continue;
    if (load.body >= 0) {
      bodyLoad(load, value, u, tangent, du);
      continue;
    }
    if (!load.opposite.empty()) {
      edgeMoment(load, value, u, tangent, du);
      continue;
    }
    for (size_t i = 0; i < load.nodes.size(); ++i)
      for (int k = 0; k < dim; ++k) external_[dim * load.nodes[i] + k] += value * load.share[i] * load.direction[k];
    double area = 0;
    if (!load.pressure)
      for (const auto& f : load.facets)
        for (const auto& q : pointsOf(p_.mesh.nodesOf(f), p_.mesh.cornersOf(f), undeformed))
          area += q.weight * q.t1.cross(q.t2).norm() * scaleOf(q.x);
    const bool follow = load.pressure && p_.setting.large;
    for (const auto& f : load.facets) {
      const auto nodes = p_.mesh.nodesOf(f);
      const auto m = Eigen::Index(nodes.size());
      VectorXd force = VectorXd::Zero(dim * m);
      Eigen::MatrixXd K = Eigen::MatrixXd::Zero(dim * m, dim * m);
      const auto points =
          follow ? pointsOf(nodes, p_.mesh.cornersOf(f), [&](int n) { return Vector3d(p_.mesh.x[size_t(n)] + p_.at(u, n)); })
                 : pointsOf(nodes, p_.mesh.cornersOf(f), undeformed);
      for (const auto& q : points) {
        const double scale = q.weight * scaleOf(q.x);
        const Vector3d normal = q.t1.cross(q.t2), traction = load.pressure
                                                                 ? Vector3d(-value * normal)
                                                                 : Vector3d(value / area * normal.norm() * load.direction);
        for (Eigen::Index a = 0; a < m; ++a)
          for (int k = 0; k < dim; ++k) force[dim * a + k] += scale * q.shape.N[size_t(a)] * traction[k];
        if (!follow || !tangent) continue;
        for (Eigen::Index b = 0; b < m; ++b) {  // minus the derivative of the force: d(t1 x t2) = -[t2] dt1 + [t1] dt2
          const auto B = size_t(b);
          const Eigen::Matrix3d dNormal = dim == 3 ? Eigen::Matrix3d(q.shape.d2[B] * cross(q.t1) - q.shape.d1[B] * cross(q.t2))
                                                   : Eigen::Matrix3d(-q.shape.d1[B] * cross(q.t2));
          for (Eigen::Index a = 0; a < m; ++a) {
            for (int i = 0; i < dim; ++i)
              for (int k = 0; k < dim; ++k) K(dim * a + i, dim * b + k) += scale * q.shape.N[size_t(a)] * value * dNormal(i, k);
            for (int k = 0; axisymmetric && k < dim; ++k)
              K(dim * a + k, dim * b) -= q.weight * q.shape.N[size_t(a)] * 2 * std::numbers::pi * q.shape.N[B] * traction[k];
          }
        }
      }
      std::vector<int> dofs;
      for (int n : nodes)
        for (int k = 0; k < dim; ++k) dofs.push_back(dim * n + k);
      for (size_t i = 0; i < dofs.size(); ++i) external_[dofs[i]] += force[Eigen::Index(i)];
      if (!tangent || !follow) continue;
      for (Eigen::Index a = 0; a < m; ++a)
        if (constraints_->framed(nodes[size_t(a)])) {
          const Eigen::MatrixXd Q = constraints_->frame(nodes[size_t(a)]);
          K.middleRows(dim * a, dim) = (Q.transpose() * K.middleRows(dim * a, dim)).eval();
          K.middleCols(dim * a, dim) = (K.middleCols(dim * a, dim) * Q).eval();
        }
      addDense(dofs, K, du);
    }
  }
  if (level.releasedForce) external_ += *level.releasedForce * (1 - level.stepShare);
}

}  // namespace anvil::analysis
