#include "core/run/bolt_parts.hpp"
// Bolts that are beams: energy, residual and tangent by automatic differentiation of the energy.
#include <Eigen/Geometry>
#include <unsupported/Eigen/AutoDiff>

#include "core/run/assembly.hpp"

namespace anvil::analysis {
namespace {

constexpr int ends = 12, all = 13;  // shift and turn of head and nut; the shortening
using Own = Eigen::Matrix<double, all, 1>;
using First = Eigen::AutoDiffScalar<Own>;
using Second = Eigen::AutoDiffScalar<Eigen::Matrix<First, all, 1>>;
template <class T>
using Vector = Eigen::Matrix<T, 3, 1>;

/// A vector turned by a rotation vector (J. Argyris, CMAME 32, 1982), with series where the turn is small.
template <class T>
Vector<T> turned(const Vector<T>& theta, const Vector3d& v) {
  const T square = theta.dot(theta);
  const Vector<T> x = v.cast<T>(), once = theta.cross(x), twice = theta.cross(once);
  T a, b;  // sin t / t, (1 - cos t) / t²
  if (square < 1e-4) {
    a = T(1) - square * (T(1. / 6) - square * (T(1. / 120) - square * T(1. / 5040)));
    b = T(0.5) - square * (T(1. / 24) - square * (T(1. / 720) - square * T(1. / 40320)));
  } else {
    using std::cos;
    using std::sin;
    using std::sqrt;
    const T t = sqrt(square);
    a = sin(t) / t, b = (T(1) - cos(t)) / square;
  }
  return x + a * once + b * twice;
}

/// How the beam is strained: stretch, turns of the ends against the chord about its second and third axis, twist.
template <class T>
struct Strained {
  T stretch, twist, turn[2][2];
};
template <class T>
Strained<T> strained(const BeamShank& b, bool large, const Eigen::Matrix<T, all, 1>& q) {
  Strained<T> s;
  const Vector<T> apart = q.template segment<3>(6) - q.template segment<3>(0);
  if (!large) {
    s.stretch = b.axis.cast<T>().dot(apart) + q[ends];
    for (int e = 0; e < 2; ++e) {
      const Vector<T> theta = q.template segment<3>(6 * e + 3);
      s.turn[e][0] = b.second.cast<T>().dot(apart) / T(b.length) - b.third.cast<T>().dot(theta);
      s.turn[e][1] = b.third.cast<T>().dot(apart) / T(b.length) + b.second.cast<T>().dot(theta);
    }
    s.twist = b.axis.cast<T>().dot(Vector<T>(q.template segment<3>(9) - q.template segment<3>(3)));
    return s;
  }
  using std::sqrt;
  const Vector<T> chord = (b.length * b.axis).cast<T>() + apart;
  const T length = sqrt(chord.dot(chord));
  const Vector<T> along = chord / length;
  s.stretch = length - T(b.length) + q[ends];
  Vector<T> second[2], third[2];
  for (int e = 0; e < 2; ++e) {
    const Vector<T> theta = q.template segment<3>(6 * e + 3);
    second[e] = turned<T>(theta, b.second), third[e] = turned<T>(theta, b.third);
    s.turn[e][0] = along.dot(second[e]), s.turn[e][1] = along.dot(third[e]);
  }
  s.twist = (second[1].dot(third[0]) - third[1].dot(second[0])) * T(-0.5);
  return s;
}

template <class T>
T energyOf(const BeamShank& b, const Strained<T>& s) {
  T energy = T(0.5 * b.axial) * s.stretch * s.stretch + T(0.5 * b.twist) * s.twist * s.twist;
  const double k = b.bending / (1 + b.shear);
  for (int plane = 0; plane < 2; ++plane) {
    const T &one = s.turn[0][plane], &two = s.turn[1][plane];
    energy += T(k * (4 + b.shear) / 2) * (one * one + two * two) + T(k * (2 - b.shear)) * one * two;
  }
  return energy;
}

std::vector<int> dofsOf(const Problem& p, const Bolt& bolt) {
  std::vector<int> dofs;
  for (int body : {bolt.beam->head, bolt.beam->nut})
    for (int k = 0; k < 6; ++k) dofs.push_back(p.rigidDof(body, k));
  dofs.push_back(bolt.shortening());
  return dofs;
}

Own placesOf(const Problem& p, const Bolt& bolt, const VectorXd& u) {
  Own q;
  const auto dofs = dofsOf(p, bolt);
  for (int i = 0; i < all; ++i) q[i] = u[dofs[size_t(i)]];
  return q;
}

}  // namespace

double beamEnergy(const Problem& p, const Bolt& bolt, const VectorXd& u) {
  return energyOf(*bolt.beam, strained<double>(*bolt.beam, p.setting.large, placesOf(p, bolt, u)));
}

void beamParts(const Problem& p, const Bolt& bolt, const VectorXd& u, const LoadLevel& level, bool tangent,
               std::vector<contact::Contribution>& out) {
  const Own q = placesOf(p, bolt, u);
  Eigen::Matrix<Second, all, 1> x;
  for (int i = 0; i < all; ++i) {
    x[i] = Second(First(q[i], all, i), all, i);
    for (int k = 0; k < all; ++k) x[i].derivatives()[k].derivatives().setZero();
  }
  const Second energy = energyOf(*bolt.beam, strained<Second>(*bolt.beam, p.setting.large, x));
  contact::Contribution part;
  part.dofs = dofsOf(p, bolt);
  part.dofs.push_back(bolt.force());
  part.force = part.condensed = VectorXd::Zero(all + 1);
  for (int i = 0; i < all; ++i) part.force[i] = energy.derivatives()[i].value();
  // the shortening is free under a given force, else the force is what holds it
  const auto [given, wanted] = boltAim(bolt, level);
  const double s = bolt.scale, force = u[bolt.force()];
  constexpr Eigen::Index D = ends, F = all;
  part.force[D] -= given ? wanted : s * force;
  part.force[F] = given ? -s * (force - wanted / s) : -s * (u[bolt.shortening()] - wanted);
  if (tangent) {
    auto& S = part.stiffness;
    S = Eigen::MatrixXd::Zero(all + 1, all + 1);
    for (int i = 0; i < all; ++i) S.row(i).head(all) = energy.derivatives()[i].derivatives().transpose();
    if (given)
      S(F, F) = -s;
    else
      S(F, D) = S(D, F) = -s;
  }
  out.push_back(std::move(part));
}

BoltResultant beamResultant(const Problem& p, const Bolt& bolt, const VectorXd& u) {
  const auto& b = *bolt.beam;
  const auto s = strained<double>(b, p.setting.large, placesOf(p, bolt, u));
  const double k = b.bending / (1 + b.shear);
  Vector3d shear = Vector3d::Zero(), moment[2] = {shear, shear};
  for (int plane = 0; plane < 2; ++plane) {
    double sum = 0;
    for (int e = 0; e < 2; ++e) {
      const double m = k * ((4 + b.shear) * s.turn[e][plane] + (2 - b.shear) * s.turn[1 - e][plane]);
      moment[e] += m * (plane == 0 ? -b.third : b.second), sum += m;
    }
    shear += sum / b.length * (plane == 0 ? b.second : b.third);
  }
  double force = b.axial * s.stretch;
  for (const Vector3d& m : bolt.mirrors) {
    force *= 2, shear = 2 * (shear - shear.dot(m) * m);
    for (auto& one : moment) one = 2 * one.dot(m) * m;
  }
  return {force, shear.norm(), std::max(moment[0].norm(), moment[1].norm()), u[bolt.shortening()]};
}

}  // namespace anvil::analysis
