#include "core/run/carrier_parts.hpp"

#include <Eigen/Geometry>
#include <cmath>

#include "core/contact/rotation.hpp"
#include "core/problem/problem.hpp"

namespace anvil::analysis {
namespace {

/// A body's rotation now, and how arms turned by it change with its turning dofs.
struct Turn {
  int count = 3;      ///< turning dofs: 1 in the plane
  bool large = true;  ///< else linear in the turn, as the elements are
  Eigen::Matrix3d R, T;
  std::array<Eigen::Matrix3d, 3> dT;

  Turn(const Problem& p, int body, const VectorXd& u, bool second) {
    Vector3d theta = Vector3d::Zero();
    const int dof = p.rigidDof(body, p.dim());
    if (p.dim() == 2) {
      count = 1, theta.z() = u[dof];
    } else {
      theta = u.segment<3>(dof);
    }
    large = p.setting.large;
    R = contact::rotationOf(theta), T = Eigen::Matrix3d::Identity();
    for (auto& m : dT) m.setZero();
    if (!large) {
      for (int k = 0; k < 3; ++k) R.col(k) = Vector3d::Unit(k) + theta.cross(Vector3d::Unit(k));
    }
    if (p.dim() == 2) T.col(0) = Vector3d::UnitZ();
    if (p.dim() == 2 || !large) return;
    T = contact::spinOf(theta);
    if (!second) return;
    const double h = 1e-5;
    for (int j = 0; j < 3; ++j)
      dT[size_t(j)] = (contact::spinOf(theta + h * Vector3d::Unit(j)) - contact::spinOf(theta - h * Vector3d::Unit(j))) / (2 * h);
  }
  /// d(R r)/dθ_j.
  Vector3d slope(int j, const Vector3d& r) const { return T.col(j).cross(large ? Vector3d(R * r) : r); }
  /// d²(R r)/dθ_j dθ_k.
  Vector3d curvature(int j, int k, const Vector3d& r) const {
    if (!large) return Vector3d::Zero();
    const Vector3d a = R * r;
    return dT[size_t(k)].col(j).cross(a) + T.col(j).cross(T.col(k).cross(a));
  }
};

/// Rows and columns of a part by local number.
struct Part {
  contact::Contribution c;
  explicit Part(std::vector<int> dofs, bool tangent) {
    const auto n = Eigen::Index(dofs.size());
    c.dofs = std::move(dofs);
    c.force = c.condensed = VectorXd::Zero(n);
    if (tangent) c.stiffness = Eigen::MatrixXd::Zero(n, n);
  }
  void pair(int i, int j, double k) {
    if (!c.stiffness.size()) return;
    c.stiffness(i, j) += k;
    if (i != j) c.stiffness(j, i) += k;
  }
};

std::vector<int> bodyDofs(const Problem& p, int body) {
  std::vector<int> dofs;
  for (int k = 0; k < p.rigidSize(); ++k) dofs.push_back(p.rigidDof(body, k));
  return dofs;
}

void rigidCarrier(const Problem& p, const Carrier& carrier, const VectorXd& u, bool tangent,
                  std::vector<contact::Contribution>& out) {
  const int dim = p.dim();
  const auto& body = p.bodies[size_t(carrier.body)];
  const Turn turn(p, carrier.body, u, tangent);
  const double s = carrier.scale;
  Vector3d shift = Vector3d::Zero();
  for (int k = 0; k < dim; ++k) shift[k] = u[p.rigidDof(carrier.body, k)];
  for (size_t i = 0; i < carrier.nodes.size(); ++i) {
    const int node = carrier.nodes[i], first = carrier.firstMultiplier + dim * int(i);
    std::vector<int> dofs;
    for (int k = 0; k < dim; ++k) dofs.push_back(dim * node + k);
    for (int d : bodyDofs(p, carrier.body)) dofs.push_back(d);
    for (int k = 0; k < dim; ++k) dofs.push_back(first + k);
    Part part(std::move(dofs), tangent);
    const int B = dim, A = 2 * dim, L = dim + p.rigidSize();  // shift, turn, multipliers
    const Vector3d r = p.mesh.x[size_t(node)] - body.pivot, a = turn.R * r;
    const Vector3d c = p.mesh.x[size_t(node)] + p.at(u, node) - body.pivot - shift - a;
    Vector3d lambda = Vector3d::Zero();
    for (int k = 0; k < dim; ++k) lambda[k] = u[first + k];
    for (int k = 0; k < dim; ++k) {
      part.c.force[k] = s * lambda[k], part.c.force[B + k] = -s * lambda[k], part.c.force[L + k] = s * c[k];
      part.pair(k, L + k, s), part.pair(B + k, L + k, -s);
    }
    for (int j = 0; j < turn.count; ++j) {
      const Vector3d slope = turn.slope(j, r);
      part.c.force[A + j] = -s * lambda.dot(slope);
      for (int k = 0; k < dim; ++k) part.pair(A + j, L + k, -s * slope[k]);
      for (int k = 0; tangent && k < turn.count; ++k) part.c.stiffness(A + j, A + k) -= s * lambda.dot(turn.curvature(j, k, r));
    }
    out.push_back(std::move(part.c));
  }
}

/// The end of a slender part turns as the rigid part it stands on: both from nothing, so that their rotation vectors are the
/// same.
void followTurn(const Problem& p, const Carrier& carrier, const VectorXd& u, std::vector<contact::Contribution>& out,
                bool tangent) {
  const int dim = p.dim(), turns = dim == 2 ? 1 : 3;
  const double q = carrier.scale * p.bodies[size_t(carrier.body)].lever;
  for (int k = 0; k < turns; ++k) {
    const int own = p.rigidDof(carrier.follower, dim + k), led = p.rigidDof(carrier.body, dim + k),
              held = carrier.firstMultiplier + dim * int(carrier.nodes.size()) + k;
    Part part({own, led, held}, tangent);
    part.c.force << q * u[held], -q * u[held], q * (u[own] - u[led]);
    part.pair(0, 2, q), part.pair(1, 2, -q);
    out.push_back(std::move(part.c));
  }
}

void meanCarrier(const Problem& p, const Carrier& carrier, const VectorXd& u, bool tangent,
                 std::vector<contact::Contribution>& out) {
  const int dim = p.dim();
  const auto& body = p.bodies[size_t(carrier.body)];
  const Turn turn(p, carrier.body, u, tangent);
  const double s = carrier.scale, q = s / body.lever;
  const int first = carrier.firstMultiplier;
  Vector3d shift = Vector3d::Zero(), lambda = Vector3d::Zero(), mu = Vector3d::Zero();
  for (int k = 0; k < dim; ++k) shift[k] = u[p.rigidDof(carrier.body, k)], lambda[k] = u[first + k];
  if (dim == 2)
    mu.z() = u[first + 2];
  else
    mu = u.segment<3>(first + 3);
  const int spins = dim == 2 ? 1 : 3;
  const auto axis = [&](int k) { return dim == 2 ? 2 : k; };
  std::vector<int> shared = bodyDofs(p, carrier.body);
  for (int k = 0; k < carrier.multipliers(dim); ++k) shared.push_back(first + k);
  for (size_t i = 0; i < carrier.nodes.size(); ++i) {
    const int node = carrier.nodes[i];
    const double w = carrier.weight[i];
    std::vector<int> dofs;
    for (int k = 0; k < dim; ++k) dofs.push_back(dim * node + k);
    dofs.insert(dofs.end(), shared.begin(), shared.end());
    Part part(std::move(dofs), tangent);
    const int A = 2 * dim, L = dim + p.rigidSize(), M = L + dim;
    const Vector3d r = p.mesh.x[size_t(node)] - carrier.centre, a = turn.R * r,
                   x = r + p.at(u, node);  // places against the centre
    const Vector3d onNode = s * w * lambda + q * w * mu.cross(a);
    for (int k = 0; k < dim; ++k) part.c.force[k] = onNode[k], part.c.force[L + k] = s * w * x[k], part.pair(k, L + k, s * w);
    const Vector3d torque = a.cross(x);
    for (int m = 0; m < spins; ++m) {
      const Vector3d unit = Vector3d::Unit(axis(m)), column = unit.cross(a);
      part.c.force[M + m] = q * w * torque[axis(m)];
      for (int k = 0; k < dim; ++k) part.pair(k, M + m, q * w * column[k]);
    }
    for (int j = 0; j < turn.count; ++j) {
      const Vector3d slope = turn.slope(j, r), across = slope.cross(x), pull = mu.cross(slope);
      part.c.force[A + j] = q * w * mu.dot(across);
      for (int k = 0; k < dim; ++k) part.pair(k, A + j, q * w * pull[k]);
      for (int m = 0; m < spins; ++m) part.pair(A + j, M + m, q * w * across[axis(m)]);
      for (int k = 0; tangent && k < turn.count; ++k)
        part.c.stiffness(A + j, A + k) += q * w * mu.dot(turn.curvature(j, k, r).cross(x));
    }
    out.push_back(std::move(part.c));
  }
  // the point itself: mean place = point + R (centre - pivot)
  Part part(shared, tangent);
  const int A = dim, L = p.rigidSize();
  const Vector3d own = body.pivot - carrier.centre, c = turn.R * own - own - shift;
  for (int k = 0; k < dim; ++k) part.c.force[k] = -s * lambda[k], part.c.force[L + k] = s * c[k], part.pair(k, L + k, -s);
  for (int j = 0; j < turn.count; ++j) {
    const Vector3d slope = turn.slope(j, own);
    part.c.force[A + j] = s * lambda.dot(slope);
    for (int k = 0; k < dim; ++k) part.pair(A + j, L + k, s * slope[k]);
    for (int k = 0; tangent && k < turn.count; ++k) part.c.stiffness(A + j, A + k) += s * lambda.dot(turn.curvature(j, k, own));
  }
  out.push_back(std::move(part.c));
}

Vector3d placeOf(const Problem& p, int body, const VectorXd& u) {
  Vector3d x = p.bodies[size_t(body)].pivot;
  for (int k = 0; k < p.dim(); ++k) x[k] += u[p.rigidDof(body, k)];
  return x;
}

/// Generalised extension: its slope on the ends' dofs and, for springs along their line, the direction.
struct Stretch {
  double extension = 0, length = 0;
  Vector3d direction{0, 0, 0};
};
Stretch stretchOf(const Problem& p, const Spring& spring, const VectorXd& u) {
  Stretch s;
  if (spring.turning) {
    s.direction = spring.axis;
    for (const auto& [body, sign] : {std::pair{spring.first, -1.}, {spring.second, 1.}}) {
      if (body < 0) continue;
      for (int k = 0; k < 3; ++k)
        if (spring.axis[k] != 0 && (p.dim() == 3 || k == 2))
          s.extension += sign * spring.axis[k] * u[p.rigidDof(body, p.dim() == 2 ? 2 : 3 + k)];
    }
    if (spring.second < 0) s.extension = -s.extension;  // against the ground: the body's own angle
    return s;
  }
  const Vector3d a = placeOf(p, spring.first, u), b = spring.second < 0 ? spring.ground : placeOf(p, spring.second, u);
  const Vector3d A = p.bodies[size_t(spring.first)].pivot,
                 B = spring.second < 0 ? spring.ground : p.bodies[size_t(spring.second)].pivot;
  if (!spring.axis.isZero(0)) {
    s.direction = spring.axis, s.extension = spring.axis.dot((b - a) - (B - A));
    if (spring.second < 0) s.extension = -s.extension;  // against the ground: the body's own travel
    return s;
  }
  s.length = (b - a).norm(), s.direction = (b - a) / s.length, s.extension = s.length - (B - A).norm();
  return s;
}

}  // namespace

void carrierParts(const Problem& p, const Carrier& carrier, const VectorXd& u, bool tangent,
                  std::vector<contact::Contribution>& out) {
  if (carrier.rigid) {
    rigidCarrier(p, carrier, u, tangent, out);
    if (carrier.follower >= 0) followTurn(p, carrier, u, out, tangent);
  } else {
    meanCarrier(p, carrier, u, tangent, out);
  }
}

CarrierResultant carrierResultant(const Problem& p, const Carrier& carrier, const VectorXd& u) {
  std::vector<contact::Contribution> parts;
  carrierParts(p, carrier, u, false, parts);
  CarrierResultant r;
  const Vector3d point = placeOf(p, carrier.body, u);
  for (size_t i = 0; i < carrier.nodes.size(); ++i) {
    Vector3d f = Vector3d::Zero();
    for (int k = 0; k < p.dim(); ++k) f[k] = -parts[i].force[k];
    const int node = carrier.nodes[i];
    const Vector3d x = p.mesh.x[size_t(node)];
    r.force += f,
        r.moment +=
        (p.setting.large ? Vector3d(x + p.at(u, node) - point) : Vector3d(x - p.bodies[size_t(carrier.body)].pivot)).cross(f);
  }
  if (carrier.follower >= 0) {
    Vector3d m = Vector3d::Zero();
    for (int k = 0; k < (p.dim() == 2 ? 1 : 3); ++k) m[p.dim() == 2 ? 2 : k] = -parts[carrier.nodes.size() + size_t(k)].force[0];
    r.moment += p.dim() == 3 && p.setting.large ? contact::spatialMoment(p.turnOf(u, carrier.follower), m) : m;
  }
  return r;
}

double springExtension(const Problem& p, const Spring& spring, const VectorXd& u) { return stretchOf(p, spring, u).extension; }

SpringLaw springLaw(const Curve& c, double e) {
  const size_t n = c.x.size();
  const auto slope = [&](size_t i) { return (c.y[i + 1] - c.y[i]) / (c.x[i + 1] - c.x[i]); };
  const auto at = [&](double x) {  // straight on beyond the ends
    size_t i = 0;
    while (i + 2 < n && x > c.x[i + 1]) ++i;
    return std::pair{c.y[i] + slope(i) * (x - c.x[i]), slope(i)};
  };
  SpringLaw law;
  std::tie(law.force, law.slope) = at(e);
  // ∫ from 0 to e, piece by piece
  const double low = std::min(0., e), high = std::max(0., e);
  double from = low, sum = 0;
  for (size_t i = 0; i <= n; ++i) {
    const double to = i < n ? std::clamp(c.x[i], low, high) : high;
    sum += 0.5 * (at(from).first + at(to).first) * (to - from);
    from = to;
  }
  law.energy = e < 0 ? -sum : sum;
  return law;
}

void springParts(const Problem& p, const Spring& spring, const VectorXd& u, const VectorXd& before, double size, bool tangent,
                 std::vector<contact::Contribution>& out) {
  const int dim = p.dim();
  const auto s = stretchOf(p, spring, u);
  const auto law = springLaw(spring.force, s.extension);
  const double rate = size > 0 ? spring.damping / size : 0;
  const double force = law.force + rate * (s.extension - stretchOf(p, spring, before).extension), slope = law.slope + rate;
  std::vector<int> dofs = bodyDofs(p, spring.first);
  if (spring.second >= 0)
    for (int d : bodyDofs(p, spring.second)) dofs.push_back(d);
  Part part(std::move(dofs), tangent);
  VectorXd g = VectorXd::Zero(part.c.force.size());  // slope of the extension
  const int width = p.rigidSize();
  const bool own = spring.second < 0 && (spring.turning || !spring.axis.isZero(0));
  for (int end = 0; end < (spring.second < 0 ? 1 : 2); ++end) {
    const double sign = end == 1 || own ? 1 : -1;
    for (int k = 0; k < 3; ++k) {
      if (!spring.turning && k < dim) g[end * width + k] = sign * s.direction[k];
      if (spring.turning && (dim == 3 || k == 2)) g[end * width + (dim == 2 ? 2 : 3 + k)] = sign * spring.axis[k];
    }
  }
  part.c.force = force * g;
  if (tangent) {
    part.c.stiffness = slope * g * g.transpose();
    if (s.length > 0) {  // the line turns
      const Eigen::Matrix3d across = force / s.length * (Eigen::Matrix3d::Identity() - s.direction * s.direction.transpose());
      for (int a = 0; a < (spring.second < 0 ? 1 : 2); ++a)
        for (int b = 0; b < (spring.second < 0 ? 1 : 2); ++b)
          for (int i = 0; i < dim; ++i)
            for (int j = 0; j < dim; ++j) part.c.stiffness(a * width + i, b * width + j) += (a == b ? 1 : -1) * across(i, j);
    }
  }
  out.push_back(std::move(part.c));
}

}  // namespace anvil::analysis
