#include "core/material/laws.hpp"
#include "core/material/principal.hpp"

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

/// Plastic multiplier g >= 0 with trial - 2 shear g - √⅔ (h(alpha + √⅔ g)) = 0, h piecewise linear: exact, piece by piece.
/// `trial` is |ξ| with the old back stress; h here is the growth of the whole curve plus the isotropic part so far.
double J2Law::solveIncrement(double trial, double alpha, double shear) const {
  const double base = root23 * ((1 - kinematicShare) * yieldAt(alpha) + kinematicShare * yieldAt(0));
  double g = 0, excess = trial - base, at = alpha;
  if (hardening.form != Hardening::Form::table) {  // a concave law: Newton's method comes from below and never overshoots
    for (int i = 0; i < 60; ++i) {
      const double now = alpha + root23 * g, f = excess - 2 * shear * g - root23 * (yieldAt(now) - yieldAt(alpha));
      const double step = f / (2 * shear + 2. / 3 * hardening.slopeAt(now));
      g += step;
      if (std::abs(step) <= 1e-16 + 1e-15 * g) break;
    }
    return g;
  }
  for (;;) {
    const double rate = 2 * shear + 2. / 3 * hardening.slopeAt(at), step = excess / rate;
    const double next = hardening.nextCorner(at), room = next > 1e299 ? 1e300 : (next - at) / root23;
    if (!(step > room)) return g + step;  // also where it is no number: that is told by what comes of it
    g += room, excess -= room * rate, at = next;
  }
}

/// A state on the yield surface, loaded no further, is elastic whatever rounding makes of it (strains of a part carried far are
/// off by 1e-14): else the first answer of an increment would be one of two by chance.
static constexpr double onYield = 1e-10;

void J2Law::respond(const Vec6& E, const double* old, double* now, const Evaluation& how, Response& r) const {
  using Map = Eigen::Map<const Vec6>;
  const Vec6 back = Map(old);
  const double alpha = old[alphaAt], J = how.finite ? std::exp(trace(E)) : 1, mu = elastic.mu;
  std::copy(old, old + stateSize(), now);
  r.plasticIncrement = 0, r.flow.setZero();

  const Vec6 deviatoric = 2 * mu * deviator(E);
  const double pressure = (elastic.lambda + 2. / 3 * mu) * trace(E);
  const Vec6 s = deviatoric / J, xi = s - back;
  const double size = xi.norm(), radius = root23 * ((1 - kinematicShare) * yieldAt(alpha) + kinematicShare * yieldAt(0));
  r.tangent = elastic.stiffness();
  r.T = deviatoric + pressure * identity6();
  if (size <= radius * (1 + onYield) || how.elasticTrial) {
    r.strainEnergy = 0.5 * r.T.dot(E);
    return;
  }
  const double shear = mu / J, g = solveIncrement(size, alpha, shear);
  const double newAlpha = alpha + root23 * g, slope = hardening.slopeAt(newAlpha * (1 - 1e-15));
  const Vec6 n = xi / size;
  r.flow = g * n;
  r.T -= 2 * mu * r.flow;
  Eigen::Map<Vec6>{now} = back + root23 * kinematicShare * (yieldAt(newAlpha) - yieldAt(alpha)) * n;
  now[alphaAt] = newAlpha;
  // the flow stress grows over the increment: its mean does the work
  now[workAt] = old[workAt] + g * (r.T.dot(n) - J / 2 * root23 * (yieldAt(newAlpha) - yieldAt(alpha)));
  r.plasticIncrement = newAlpha - alpha;
  r.strainEnergy = 0.5 * r.T.dot(E - r.flow);

  // dT/dE: xi depends on E directly and, at large strain, through 1/J
  const Vec6 one = identity6();
  Vec6 along = 2 * shear * n;  // nᵀ dξ/dE, where dξ/dE = 2 shear dev - s ⊗ 1
  if (how.finite) along -= n.dot(s) * one;
  Vec6 dg = along;
  if (how.finite) dg += 2 * shear * g * one;
  dg /= 2 * shear + 2. / 3 * slope;
  const double part = g / size, less = 4 * mu * shear * part;  // of dn = (dξ - n nᵀ dξ)/|ξ|
  r.tangent.diagonal().array() -= less;
  r.tangent.topLeftCorner<3, 3>().array() += less / 3;
  r.tangent -= n * (2 * mu * (dg - part * along)).transpose();
  if (how.finite) r.tangent.leftCols<3>().colwise() += 2 * mu * part * s;
}

void CyclicLaw::respond(const Vec6& E, const double* old, double* now, const Evaluation& how, Response& r) const {
  using Map = Eigen::Map<const Vec6>;
  const double alpha = old[alphaAt], J = how.finite ? std::exp(trace(E)) : 1, mu = elastic.mu, shear = mu / J,
               root32 = std::sqrt(1.5);
  std::copy(old, old + stateSize(), now);
  r.plasticIncrement = 0, r.flow.setZero();
  const Vec6 deviatoric = 2 * mu * deviator(E), s = deviatoric / J;
  r.tangent = elastic.stiffness();
  r.T = deviatoric + (elastic.lambda + 2. / 3 * mu) * trace(E) * identity6();

  // the relative stress and what else depends on the increment x of the equivalent plastic strain
  Vec6 eta, slope;               // η(x) = s - Σ θ_k β_k and dη/dx
  double stiff = 0, dStiff = 0;  // 2 μ/J + ⅔ Σ θ_k C_k and its derivative
  const auto at = [&](double x) {
    eta = s, slope.setZero(), stiff = 2 * shear, dStiff = 0;
    for (size_t k = 0; k < terms.size(); ++k) {
      const Map back(old + 6 * k);
      const double theta = 1 / (1 + terms[k].recovery * x), dTheta = -terms[k].recovery * theta * theta;
      eta -= theta * back, slope -= dTheta * back;
      stiff += 2. / 3 * theta * terms[k].modulus, dStiff += 2. / 3 * dTheta * terms[k].modulus;
    }
  };
  at(0);
  if (eta.norm() <= root23 * hardening(alpha) * (1 + onYield) || how.elasticTrial) {
    r.strainEnergy = 0.5 * r.T.dot(E);
    return;
  }
  double x = 0, f, df = -1;
  for (int i = 0; i < 60; ++i) {
    at(x);
    f = eta.norm() - root23 * hardening(alpha + x) - root32 * x * stiff;
    df = eta.normalized().dot(slope) - root23 * hardening.slopeAt(alpha + x) - root32 * (stiff + x * dStiff);
    const double step = -f / df;
    x = std::max(x + step, 0.5 * x);
    if (std::abs(step) <= 1e-17 + 1e-14 * x) break;
  }
  at(x);
  df = eta.normalized().dot(slope) - root23 * hardening.slopeAt((alpha + x) * (1 - 1e-15)) - root32 * (stiff + x * dStiff);
  const double size = eta.norm();
  const Vec6 n = eta / size;
  r.flow = root32 * x * n;
  r.T -= 2 * mu * r.flow;
  for (size_t k = 0; k < terms.size(); ++k)
    Eigen::Map<Vec6>{now + 6 * k} = (Map(old + 6 * k) + 2. / 3 * terms[k].modulus * r.flow) / (1 + terms[k].recovery * x);
  now[alphaAt] = alpha + x;
  Vec6 backGrowth = Vec6::Zero();
  for (size_t k = 0; k < terms.size(); ++k) backGrowth += Map(now + 6 * k) - Map(old + 6 * k);
  now[workAt] = old[workAt] + r.flow.dot(r.T) - J / 2 * (r.flow.dot(backGrowth) + x * (hardening(alpha + x) - hardening(alpha)));
  r.plasticIncrement = x;
  r.strainEnergy = 0.5 * r.T.dot(E - r.flow);

  Mat6 ds = 2 * shear * deviatoricProjector();
  if (how.finite) ds -= s * identity6().transpose();
  Vec6 dx = ds.transpose() * n;
  if (how.finite) dx += root32 * 2 * x * shear * identity6();  // d(μ/J) = -μ/J I
  dx /= -df;
  const Mat6 across = (Mat6::Identity() - n * n.transpose()) / size, dn = across * (ds + slope * dx.transpose());
  r.tangent -= 2 * mu * root32 * (n * dx.transpose() + x * dn);
}

void CurveElasticLaw::respond(const Vec6& E, const double*, double*, const Evaluation&, Response& r) const {
  const Vec6 d = deviator(E);
  const double e = root23 * d.norm(), end = curve.x.back();
  const auto next = std::upper_bound(curve.x.begin(), curve.x.end(), e) - curve.x.begin();
  const bool beyond = next >= std::ptrdiff_t(curve.x.size());
  const double slope =
      beyond ? finalSlope
             : (curve.y[size_t(next)] - curve.y[size_t(next) - 1]) / (curve.x[size_t(next)] - curve.x[size_t(next) - 1]);
  const double q = curve(e) + (beyond ? finalSlope * (e - end) : 0), secant = e > 1e-14 ? q / e : slope;
  r.T = bulk * trace(E) * identity6() + 2. / 3 * secant * d;
  const Vec6 n = e > 1e-14 ? Vec6(d / d.norm()) : Vec6(Vec6::Zero());
  r.tangent = bulk * identity6() * identity6().transpose() + 2. / 3 * secant * deviatoricProjector() +
              2. / 3 * (slope - secant) * n * n.transpose();
  r.plasticIncrement = 0, r.flow.setZero();
  double work = 0;  // area under the curve
  for (size_t i = 0; i + 1 < curve.x.size() && curve.x[i] < e; ++i) {
    const double to = std::min(e, curve.x[i + 1]);
    work += (to - curve.x[i]) * (curve.y[i] + curve(to)) / 2;
  }
  if (beyond) work += (e - end) * (curve.y.back() + q) / 2;
  r.strainEnergy = work + bulk / 2 * trace(E) * trace(E);
}

double RubberLaw::shearModulus() const {
  double G = 2 * yeoh[0];
  for (const auto& t : terms) G += t.modulus * t.exponent / 2;
  return G;
}

void RubberLaw::respond(const Vec6& E, const double*, double*, const Evaluation&, Response& r) const {
  const auto eigen = principalOf(fromMandel(E));
  const Vec3 e = eigen.values;
  const double volume = e.sum(), J2 = std::exp(2 * volume);
  const Vec3 bar = e.array() - volume / 3;
  // derivatives of the isochoric energy with respect to the three isochoric logarithms
  Vec3 w = Vec3::Zero();
  Mat3 h = Mat3::Zero();
  double energy = bulk / 4 * (J2 - 1 - 2 * volume);
  for (const auto& t : terms) {
    const Vec3 power = (t.exponent * bar).array().exp();
    w += t.modulus * power, h.diagonal() += t.modulus * t.exponent * power;
    energy += t.modulus / t.exponent * (power.sum() - 3);
  }
  if (yeoh[0] != 0) {
    const Vec3 square = (2 * bar).array().exp();
    const double i = square.sum() - 3, first = yeoh[0] + i * (2 * yeoh[1] + 3 * i * yeoh[2]),
                 second = 2 * yeoh[1] + 6 * i * yeoh[2];
    w += 2 * first * square, h.diagonal() += 4 * first * square;
    h += 4 * second * square * square.transpose();
    energy += i * (yeoh[0] + i * (yeoh[1] + i * yeoh[2]));
  }
  const Mat3 P = Mat3::Identity() - Mat3::Constant(1. / 3);
  const Vec3 t = (P * w).array() + bulk / 2 * (J2 - 1);
  const Mat3 H = P * h * P + Mat3::Constant(bulk * J2);
  Mat6 inFrame = Mat6::Zero();
  inFrame.topLeftCorner<3, 3>() = H;
  const int pair[3][2] = {{0, 1}, {1, 2}, {0, 2}};
  for (int k = 0; k < 3; ++k) {
    const int i = pair[k][0], j = pair[k][1];
    const double gap = e[i] - e[j];
    inFrame(3 + k, 3 + k) = std::abs(gap) > 1e-6 ? (t[i] - t[j]) / gap : (H(i, i) - H(i, j) + H(j, j) - H(j, i)) / 2;
  }
  const Mat6 R = mandelRotation(eigen.directions);
  r.tangent = R * inFrame * R.transpose();
  r.T = toMandel(eigen.directions * t.asDiagonal() * eigen.directions.transpose());
  r.plasticIncrement = 0, r.flow.setZero();
  r.strainEnergy = energy;
}

double stiffestModulus(const AnyLaw& any) {
  return std::visit(
      []<class Law>(const Law& law) -> double {
        if constexpr (std::is_same_v<Law, ElasticLaw>)
          return law.lambda + 2 * law.mu;
        else if constexpr (std::is_same_v<Law, RubberLaw>)
          return law.bulk + 4. / 3 * law.shearModulus();
        else if constexpr (std::is_same_v<Law, CurveElasticLaw>)
          return law.bulk + 4. / 9 * law.curve.y.at(1) / law.curve.x.at(1);
        else
          return law.elastic.lambda + 2 * law.elastic.mu;
      },
      any);
}

}  // namespace anvil::material
