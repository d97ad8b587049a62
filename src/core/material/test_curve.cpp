#include "core/material/test_curve.hpp"

#include <Eigen/Core>
#include <algorithm>
#include <cmath>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/material/least_squares.hpp"

namespace anvil::material {

TestCurve trueOf(const TestCurve& curve) {
  TestCurve out;
  for (const auto& p : curve) out.push_back({std::log1p(p.strain), p.stress * (1 + p.strain)});
  return out;
}

TestCurve engineeringOf(const TestCurve& curve) {
  TestCurve out;
  for (const auto& p : curve) out.push_back({std::expm1(p.strain), p.stress * std::exp(-p.strain)});
  return out;
}

TestPoint plasticTrue(const TestPoint& row, const RowMeaning& meaning, double young) {
  auto [strain, stress] = row;
  if (meaning.engineering) {
    if (!meaning.total) strain += stress / young;  // engineering plastic strain: the total is meant before conversion
    stress *= 1 + strain, strain = std::log1p(strain) - stress / young;
  } else if (meaning.total) {
    strain -= stress / young;
  }
  return {strain, stress};
}

TestPoint asRow(const TestPoint& p, const RowMeaning& meaning, double young) {
  auto [strain, stress] = p;
  if (!meaning.engineering) return {meaning.total ? strain + stress / young : strain, stress};
  const double total = strain + stress / young;
  strain = std::expm1(total), stress *= std::exp(-total);
  return {meaning.total ? strain : strain - stress / young, stress};
}

TestCurve upToGreatestLoad(const TestCurve& curve) {
  const auto most =
      std::max_element(curve.begin(), curve.end(), [](const auto& a, const auto& b) { return a.stress < b.stress; });
  return {curve.begin(), most == curve.end() ? most : most + 1};
}

double slopeAtStart(const TestCurve& curve) {
  double most = 0;
  for (const auto& p : curve) most = std::max(most, p.stress);
  double n = 0, x = 0, y = 0, xx = 0, xy = 0;
  for (const auto& p : curve) {
    if (p.stress > most / 3) break;
    if (p.stress < most / 20) continue;
    n += 1, x += p.strain, y += p.stress, xx += p.strain * p.strain, xy += p.strain * p.stress;
  }
  if (const double spread = n * xx - x * x; n >= 2 && spread > 1e-30) return (n * xy - x * y) / spread;
  for (const auto& p : curve)
    if (p.strain > 0 && p.stress > 0) return p.stress / p.strain;
  throw Error("the curve has no point beyond the origin", {}, "Give strains and stresses above zero.");
}

TestPoint offsetYield(const TestCurve& curve, double young, double offset) {
  const auto above = [&](const TestPoint& p) { return p.stress - young * (p.strain - offset); };
  for (size_t i = 1; i < curve.size(); ++i) {
    const double a = above(curve[i - 1]), b = above(curve[i]);
    if (a < 0 || b > 0) continue;
    const double t = a - b > 0 ? a / (a - b) : 0;
    return {curve[i - 1].strain + t * (curve[i].strain - curve[i - 1].strain),
            curve[i - 1].stress + t * (curve[i].stress - curve[i - 1].stress)};
  }
  throw Error("the curve does not reach a plastic strain of " + shortNumber(100 * offset) + " %", {},
              "Check which column is the strain and its unit, and Young's modulus (" + shortNumber(young) + " MPa).");
}

std::vector<TestPoint> plasticRows(const TestCurve& curve, double young, double yield, bool consistent) {
  std::vector<TestPoint> rows{{0, yield}};
  double shift = 0;
  for (size_t i = 0; consistent && i < curve.size(); ++i) {
    if (curve[i].stress < yield) continue;
    const auto& b = curve[i];
    const auto a = i > 0 ? curve[i - 1] : TestPoint{};
    const double t = b.stress > a.stress ? (yield - a.stress) / (b.stress - a.stress) : 1;
    shift = std::max(0., a.strain + t * (b.strain - a.strain) - yield / young);
    break;
  }
  bool reached = false;
  for (const auto& p : curve) {
    reached |= p.stress > yield;
    const double plastic = p.strain - p.stress / young - shift;
    if (reached && plastic > rows.back().strain + 1e-12) rows.push_back({plastic, p.stress});
  }
  if (rows.size() < 2)
    throw Error("no point lies above the yield stress of " + shortNumber(yield) + " MPa", {}, "Take a lower one.");
  return rows;
}

TestCurve thinned(const TestCurve& curve, double within) {
  if (curve.size() < 3) return curve;
  double width = 0, height = 0;
  for (const auto& p : curve) width = std::max(width, std::abs(p.strain)), height = std::max(height, std::abs(p.stress));
  std::vector<bool> keep(curve.size(), false);
  std::vector<std::pair<size_t, size_t>> pieces{{0, curve.size() - 1}};
  keep.front() = keep.back() = true;
  while (!pieces.empty()) {
    const auto [a, b] = pieces.back();
    pieces.pop_back();
    size_t far = a;
    double most = within * height;
    for (size_t i = a + 1; i < b; ++i) {
      const double span = curve[b].strain - curve[a].strain;
      const double t = span != 0 ? (curve[i].strain - curve[a].strain) / span : 0;
      const double off = std::abs(curve[i].stress - curve[a].stress - t * (curve[b].stress - curve[a].stress));
      if (off > most) most = off, far = i;
    }
    if (far != a) keep[far] = true, pieces.emplace_back(a, far), pieces.emplace_back(far, b);
  }
  TestCurve out;
  for (size_t i = 0; i < curve.size(); ++i)
    if (keep[i]) out.push_back(curve[i]);
  return out;
}

namespace {

/// Laws by the logarithms of their constants, which keeps these above zero.
Hardening powerOf(const Eigen::VectorXd& c) {
  Hardening h;
  h.form = Hardening::Form::power, h.yield = std::exp(c[0]), h.strain = std::exp(c[1]), h.exponent = std::exp(c[2]);
  return h;
}
Hardening voceOf(const Eigen::VectorXd& c) {
  Hardening h;
  h.form = Hardening::Form::voce, h.yield = std::exp(c[0]), h.gain = std::exp(c[1]), h.rate = std::exp(c[2]);
  h.slope = std::exp(c[3]);
  return h;
}

/// By Levenberg and Marquardt from several beginnings; the best is taken.
HardeningFit fit(const std::vector<TestPoint>& rows, Hardening (*law)(const Eigen::VectorXd&),
                 const std::vector<Eigen::VectorXd>& beginnings) {
  if (Eigen::Index(rows.size()) < beginnings.front().size())
    throw Error("a fit needs at least " + std::to_string(beginnings.front().size()) + " points", {},
                "Give more points of the curve.");
  HardeningFit best;
  best.error = 1e300;
  double most = 0;
  for (const auto& p : rows) most = std::max(most, p.stress);
  const auto distances = [&](const Eigen::VectorXd& c, Eigen::VectorXd& d) {
    const auto h = law(c);
    for (size_t i = 0; i < rows.size(); ++i) d[Eigen::Index(i)] = h(rows[i].strain) - rows[i].stress;
  };
  for (Eigen::VectorXd c : beginnings) {
    leastSquares(c, int(rows.size()), distances);
    Eigen::VectorXd d(Eigen::Index(rows.size()));
    distances(c, d);
    const double error = std::sqrt(d.squaredNorm() / double(d.size())) / most;
    if (std::isfinite(error) && error < best.error) best = {law(c), error};
  }
  if (best.error > 1e299) throw Error("no such law comes near these points", {}, "Keep the table.");
  return best;
}

Eigen::VectorXd logarithms(std::initializer_list<double> values) {
  Eigen::VectorXd v(Eigen::Index(values.size()));
  Eigen::Index i = 0;
  for (double x : values) v[i++] = std::log(x);
  return v;
}

}  // namespace

HardeningFit fitPower(const std::vector<TestPoint>& rows) {
  const double yield = std::max(1e-6, rows.front().stress), span = std::max(1e-6, rows.back().strain);
  std::vector<Eigen::VectorXd> beginnings;
  for (double strain : {0.002, 0.02, 0.2})
    for (double exponent : {0.1, 0.4}) beginnings.push_back(logarithms({yield, strain * span * 5, exponent}));
  auto best = fit(rows, powerOf, beginnings);
  best.law.exponent = std::min(best.law.exponent, 1.);
  return best;
}

HardeningFit fitVoce(const std::vector<TestPoint>& rows) {
  const double yield = std::max(1e-6, rows.front().stress), span = std::max(1e-6, rows.back().strain);
  const double rise = std::max(1e-3 * yield, rows.back().stress - yield);
  std::vector<Eigen::VectorXd> beginnings;
  for (double rate : {2., 8., 30.})
    for (double slope : {0.01, 0.5}) beginnings.push_back(logarithms({yield, rise, rate / span, slope * rise / span}));
  return fit(rows, voceOf, beginnings);
}

}  // namespace anvil::material
