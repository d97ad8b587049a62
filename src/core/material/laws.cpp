#include "core/material/laws.hpp"

#include <algorithm>

namespace anvil::material {
namespace {
const double root23 = std::sqrt(2. / 3);
}

ElasticLaw ElasticLaw::fromYoung(double E, double nu) { return {E * nu / ((1 + nu) * (1 - 2 * nu)), E / (2 * (1 + nu))}; }

Mat6 ElasticLaw::stiffness() const { return lambda * identity6() * identity6().transpose() + 2 * mu * Mat6::Identity(); }

void ElasticLaw::respond(const Vec6& E, const double*, double*, const Evaluation&, Response& r) const {
  r.tangent = stiffness();
  r.T = r.tangent * E;
  r.plasticIncrement = 0, r.flow.setZero();
  r.strainEnergy = 0.5 * r.T.dot(E);
}

double J2Law::yieldAt(double alpha) const {
  const double end = hardening.x.back();
  return hardening(alpha) + (alpha > end ? finalSlope * (alpha - end) : 0);
}

double J2Law::slopeAt(double alpha) const {
  const auto& x = hardening.x;
  const auto i = std::upper_bound(x.begin(), x.end(), alpha) - x.begin() - 1;
  if (i + 1 >= std::ptrdiff_t(x.size())) return finalSlope;
  if (i < 0) return 0;
  return (hardening.y[size_t(i) + 1] - hardening.y[size_t(i)]) / (x[size_t(i) + 1] - x[size_t(i)]);
}

/// Plastic multiplier g >= 0 with trial - 2 shear g - √⅔ (h(alpha + √⅔ g)) = 0, h piecewise linear: exact, piece by piece.
/// `trial` is |ξ| with the old back stress; h here is the growth of the whole curve plus the isotropic part so far.
double J2Law::solveIncrement(double trial, double alpha, double shear) const {
  const double base = root23 * ((1 - kinematicShare) * yieldAt(alpha) + kinematicShare * yieldAt(0));
  double g = 0, excess = trial - base, at = alpha;
  for (;;) {
    const auto next = std::upper_bound(hardening.x.begin(), hardening.x.end(), at);
    const double rate = 2 * shear + 2. / 3 * slopeAt(at), step = excess / rate;
    const double room = next == hardening.x.end() ? 1e300 : (*next - at) / root23;
    if (step <= room) return g + step;
    g += room, excess -= room * rate, at = *next;
  }
}

void J2Law::respond(const Vec6& E, const double* old, double* now, const Evaluation& how, Response& r) const {
  using Map = Eigen::Map<const Vec6>;
  const Vec6 back = Map(old);
  const double alpha = old[alphaState], J = how.finite ? std::exp(trace(E)) : 1, mu = elastic.mu;
  std::copy(old, old + stateSize(), now);
  r.plasticIncrement = 0, r.flow.setZero();

  const Vec6 deviatoric = 2 * mu * deviator(E);
  const double pressure = (elastic.lambda + 2. / 3 * mu) * trace(E);
  const Vec6 s = deviatoric / J, xi = s - back;
  const double size = xi.norm(), radius = root23 * ((1 - kinematicShare) * yieldAt(alpha) + kinematicShare * yieldAt(0));
  r.tangent = elastic.stiffness();
  r.T = deviatoric + pressure * identity6();
  if (size <= radius * (1 + 1e-14) || how.elasticTrial) {
    r.strainEnergy = 0.5 * r.T.dot(E);
    return;
  }
  const double shear = mu / J, g = solveIncrement(size, alpha, shear);
  const double newAlpha = alpha + root23 * g, slope = slopeAt(newAlpha * (1 - 1e-15));
  const Vec6 n = xi / size;
  r.flow = g * n;
  r.T -= 2 * mu * r.flow;
  Eigen::Map<Vec6>{now} = back + root23 * kinematicShare * (yieldAt(newAlpha) - yieldAt(alpha)) * n;
  now[alphaState] = newAlpha;
  now[plasticWorkState] = old[plasticWorkState] + g * r.T.dot(n);
  r.plasticIncrement = newAlpha - alpha;
  r.strainEnergy = 0.5 * r.T.dot(E - r.flow);

  // dT/dE: xi depends on E directly and, at large strain, through 1/J
  const Mat6 dev = deviatoricProjector();
  Mat6 dxi = 2 * shear * dev;
  if (how.finite) dxi -= s * identity6().transpose();
  Vec6 dg = dxi.transpose() * n;
  if (how.finite) dg += 2 * shear * g * identity6();
  dg /= 2 * shear + 2. / 3 * slope;
  const Mat6 dn = (dxi - n * (n.transpose() * dxi)) / size;
  r.tangent -= 2 * mu * (n * dg.transpose() + g * dn);
}

}  // namespace anvil::material
