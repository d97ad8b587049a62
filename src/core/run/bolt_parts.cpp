#include "core/run/bolt_parts.hpp"

#include <Eigen/Geometry>

#include "core/run/assembly.hpp"

namespace anvil::analysis {
namespace {

constexpr double give = 1e-8;

/// The shank's direction now, and how it changes with the weighted sum of places.
struct Direction {
  Vector3d n;
  Eigen::Matrix3d slope = Eigen::Matrix3d::Zero();
  double length = 1;
  bool large;

  Direction(const Problem& p, const mesh::Cut& cut, const VectorXd& u) : n(cut.axis), large(p.setting.large) {
    if (!large) return;
    Vector3d m = Vector3d::Zero();
    for (size_t i = 0; i < cut.frame.size(); ++i) m += cut.weight[i] * (p.mesh.x[size_t(cut.frame[i])] + p.at(u, cut.frame[i]));
    length = m.norm(), n = m / length;
    slope = (Eigen::Matrix3d::Identity() - n * n.transpose()) / length;
  }
  /// Second derivative of k·n by the sum: symmetric.
  Eigen::Matrix3d curvature(const Vector3d& k) const {
    const double kn = k.dot(n);
    const Vector3d across = k - kn * n;
    return -(across * n.transpose() + n * across.transpose() + kn * (Eigen::Matrix3d::Identity() - n * n.transpose())) /
           (length * length);
  }
};

}  // namespace

BoltAim boltAim(const Bolt& bolt, const LoadLevel& level) {
  const auto& stage = bolt.stages[size_t(level.step)];
  const double share = stage.atOnce ? 1 : level.stepShare;
  const double shortened = (*level.stepStart)[bolt.shortening()], force = (*level.stepStart)[bolt.force()] * bolt.scale;
  if (stage.what == BoltStage::What::tightened) return {true, force + share * (bolt.share() * stage.value - force)};
  return {false, shortened + (stage.what == BoltStage::What::shortened ? share * stage.value : 0)};
}

void boltParts(const Problem& p, const Bolt& bolt, const VectorXd& u, const LoadLevel& level, bool tangent,
               std::vector<contact::Contribution>& out) {
  if (bolt.beam) return beamParts(p, bolt, u, level, tangent, out);
  const auto& cut = p.mesh.cuts[size_t(bolt.cut)];
  const double s = bolt.scale;
  const Vector3d c = u.segment<3>(bolt.shift()), kappa = u.segment<3>(bolt.kappa());
  for (int i = 0; i < bolt.pairs; ++i) {
    const int below = cut.below[size_t(i)], above = cut.above[size_t(i)];
    contact::Contribution part;
    for (int first : {3 * below, 3 * above, bolt.lambda(i), bolt.shift()})
      for (int k = 0; k < 3; ++k) part.dofs.push_back(first + k);
    const Vector3d lambda = u.segment<3>(bolt.lambda(i)), gap = p.at(u, above) - p.at(u, below) + c;
    part.force = part.condensed = VectorXd::Zero(12);
    part.force << -s * lambda, s * lambda, s * (gap - give * lambda), s * lambda;
    if (tangent) {
      part.stiffness = Eigen::MatrixXd::Zero(12, 12);
      for (int k = 0; k < 3; ++k) {
        for (const auto& [row, sign] : {std::pair{0, -1.}, {3, 1.}, {9, 1.}})
          part.stiffness(row + k, 6 + k) = part.stiffness(6 + k, row + k) = sign * s;
        part.stiffness(6 + k, 6 + k) = -s * give;
      }
    }
    out.push_back(std::move(part));
  }
  // the shift is the shortening along the shank
  const Direction direction(p, cut, u);
  const double delta = u[bolt.shortening()], force = u[bolt.force()];
  const auto [given, wanted] = boltAim(bolt, level);

  contact::Contribution part;
  for (int first : {bolt.shift(), bolt.kappa()})
    for (int k = 0; k < 3; ++k) part.dofs.push_back(first + k);
  part.dofs.push_back(bolt.shortening()), part.dofs.push_back(bolt.force());
  const size_t count = direction.large ? cut.frame.size() : 0;
  for (size_t i = 0; i < count; ++i)
    for (int k = 0; k < 3; ++k) part.dofs.push_back(3 * cut.frame[i] + k);
  const auto size = Eigen::Index(part.dofs.size());
  constexpr Eigen::Index K = 3, D = 6, F = 7, X = 8;
  part.force = part.condensed = VectorXd::Zero(size);
  part.force.segment<3>(0) = -s * kappa;
  part.force.segment<3>(K) = -s * (c - delta * direction.n);
  part.force[D] = s * kappa.dot(direction.n) - (given ? wanted : s * force);
  part.force[F] = given ? -s * (force - wanted / s) : -s * (delta - wanted);
  const Vector3d turning = s * delta * (direction.slope * kappa);
  for (size_t i = 0; i < count; ++i) part.force.segment<3>(X + 3 * Eigen::Index(i)) = cut.weight[i] * turning;
  if (tangent) {
    auto& S = part.stiffness;
    S = Eigen::MatrixXd::Zero(size, size);
    for (int k = 0; k < 3; ++k) {
      S(k, K + k) = S(K + k, k) = -s;
      S(K + k, D) = S(D, K + k) = s * direction.n[k];
    }
    if (given)
      S(F, F) = -s;
    else
      S(F, D) = S(D, F) = -s;
    const Eigen::Matrix3d second = s * delta * direction.curvature(kappa);
    const Vector3d byDelta = s * (direction.slope * kappa);
    for (size_t i = 0; i < count; ++i) {
      const auto a = X + 3 * Eigen::Index(i);
      S.block<3, 3>(K, a) = s * delta * cut.weight[i] * direction.slope, S.block<3, 3>(a, K) = S.block<3, 3>(K, a).transpose();
      S.block<3, 1>(a, D) = cut.weight[i] * byDelta, S.block<1, 3>(D, a) = S.block<3, 1>(a, D).transpose();
      for (size_t j = 0; j < count; ++j) S.block<3, 3>(a, X + 3 * Eigen::Index(j)) = cut.weight[i] * cut.weight[j] * second;
    }
  }
  out.push_back(std::move(part));
}

BoltResultant boltResultant(const Problem& p, const Bolt& bolt, const VectorXd& u) {
  if (bolt.beam) return beamResultant(p, bolt, u);
  const auto& cut = p.mesh.cuts[size_t(bolt.cut)];
  const Vector3d n = Direction(p, cut, u).n;
  const bool large = p.setting.large;
  const auto place = [&](int i) -> Vector3d {
    return p.mesh.x[size_t(cut.below[size_t(i)])] + (large ? p.at(u, cut.below[size_t(i)]) : Vector3d::Zero());
  };
  Vector3d middle = Vector3d::Zero(), sum = middle, moment = middle;
  for (int i = 0; i < bolt.pairs; ++i) middle += cut.share[size_t(i)] * place(i);
  for (int i = 0; i < bolt.pairs; ++i) {
    const Vector3d f = bolt.scale * u.segment<3>(bolt.lambda(i));
    sum += f, moment += (place(i) - middle).cross(f);
  }
  for (const Vector3d& m : bolt.mirrors)
    sum = 2 * (sum - sum.dot(m) * m), moment = 2 * moment.dot(m) * m;  // with the mirror image's
  return {sum.dot(n), (sum - sum.dot(n) * n).norm(), (moment - moment.dot(n) * n).norm(), u[bolt.shortening()]};
}

}  // namespace anvil::analysis
