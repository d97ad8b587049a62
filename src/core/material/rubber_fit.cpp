#include "core/material/rubber_fit.hpp"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/material/least_squares.hpp"

namespace anvil::material {
namespace {

/// The other stretches of a test at the first one, as powers of it; and how much of dW/dλ is the nominal stress.
struct Way {
  double second, third, share;
};
Way wayOf(RubberTest test) {
  if (test == RubberTest::oneWay) return {-0.5, -0.5, 1};
  if (test == RubberTest::twoWays) return {1, -2, 0.5};
  return {0, -1, 1};
}

/// Stretch and what the stress along it is to be multiplied by: in shear γ = λ - 1/λ.
std::pair<double, double> stretchOf(RubberTest test, double strain) {
  if (test != RubberTest::shear) return {1 + strain, 1};
  const double l = strain / 2 + std::sqrt(1 + strain * strain / 4);
  return {l, l * l / (l * l + 1)};
}

/// dW/dλ of one term μ/α (Σ λ^α - 3) for μ = 1.
double termSlope(double alpha, const Way& w, double l) {
  double sum = std::pow(l, alpha - 1);
  for (double p : {w.second, w.third})
    if (p != 0) sum += p * std::pow(l, p * alpha - 1);
  return sum;
}
double firstInvariant(const Way& w, double l) { return l * l + std::pow(l, 2 * w.second) + std::pow(l, 2 * w.third); }
double invariantSlope(const Way& w, double l) { return 2 * termSlope(2, w, l); }

RubberLaw lawOf(RubberForm form, const Eigen::VectorXd& c) {
  RubberLaw law;
  switch (form) {
    case RubberForm::neoHooke:
      law.terms = {{c[0], 2}};
      break;
    case RubberForm::mooney:
      law.terms = {{2 * c[0], 2}, {-2 * c[1], -2}};
      break;
    case RubberForm::yeoh:
      law.yeoh = {c[0], c[1], c[2]};
      break;
    case RubberForm::ogden1:
    case RubberForm::ogden2:
    case RubberForm::ogden3:
      for (Eigen::Index k = 0; k + 1 < c.size(); k += 2) law.terms.push_back({c[k], c[k + 1]});
      break;
  }
  return law;
}

/// Distances of a law from the tests, each over its greatest stress and the root of its number of points.
struct Misfit {
  RubberForm form;
  const std::vector<RubberData>& tests;
  void operator()(const Eigen::VectorXd& c, Eigen::VectorXd& d) const {
    const auto law = lawOf(form, c);
    Eigen::Index at = 0;
    for (const auto& t : tests) {
      double most = 1e-30;
      for (const auto& p : t.points) most = std::max(most, std::abs(p.stress));
      const double weight = 1 / (most * std::sqrt(double(t.points.size())));
      for (const auto& p : t.points) d[at++] = weight * (nominalStress(law, t.test, p.strain) - p.stress);
    }
  }
};

}  // namespace

double nominalStress(const RubberLaw& law, RubberTest test, double strain) {
  const auto w = wayOf(test);
  const auto [l, factor] = stretchOf(test, strain);
  double slope = 0;
  if (law.yeoh[0] != 0) {
    const double x = firstInvariant(w, l) - 3;
    slope = (law.yeoh[0] + 2 * law.yeoh[1] * x + 3 * law.yeoh[2] * x * x) * invariantSlope(w, l);
  } else {
    for (const auto& t : law.terms) slope += t.modulus * termSlope(t.exponent, w, l);
  }
  return factor * w.share * slope;
}

std::string instability(const RubberLaw& law, double least, double greatest) {
  const std::pair<RubberTest, const char*> ways[] = {
      {RubberTest::oneWay, "pulled one way"}, {RubberTest::twoWays, "pulled two ways"}, {RubberTest::widthHeld, "sheared"}};
  const auto stable = [&](double e1, double e2) {  // the second derivatives of the energy by two log strains, volume kept
    Eigen::Matrix2d H = Eigen::Matrix2d::Zero();
    const double e3 = -e1 - e2;
    if (law.yeoh[0] != 0) {
      const double a = std::exp(2 * e1), b = std::exp(2 * e2), c = std::exp(2 * e3), x = a + b + c - 3;
      const double one = law.yeoh[0] + 2 * law.yeoh[1] * x + 3 * law.yeoh[2] * x * x, two = 2 * law.yeoh[1] + 6 * law.yeoh[2] * x;
      const Eigen::Vector2d g(2 * (a - c), 2 * (b - c));
      H << 4 * (a + c), 4 * c, 4 * c, 4 * (b + c);
      H = one * H + two * g * g.transpose();
    } else {
      for (const auto& t : law.terms) {
        const double k = t.modulus * t.exponent, c = std::exp(t.exponent * e3);
        H(0, 0) += k * (std::exp(t.exponent * e1) + c), H(1, 1) += k * (std::exp(t.exponent * e2) + c);
        H(0, 1) += k * c, H(1, 0) += k * c;
      }
    }
    return H(0, 0) > 0 && H.determinant() > 0;
  };
  for (const bool up : {true, false}) {
    const double end = std::log(up ? greatest : least);
    for (int i = 1; i <= 200; ++i) {  // the way that goes wrong first
      const double e = end * i / 200;
      for (const auto& [test, words] : ways) {
        if (!stable(e, wayOf(test).second * e))
          return std::string(words) + (up ? ", from a stretch of " : ", pressed below a stretch of ") +
                 shortNumber(std::exp(e), 3);
      }
    }
  }
  return {};
}

RubberFit fitRubber(RubberForm form, const std::vector<RubberData>& tests) {
  int points = 0;
  double least = 1, greatest = 1, shear = 0;
  for (const auto& t : tests)
    for (const auto& p : t.points) {
      const auto l = stretchOf(t.test, p.strain).first;
      if (!(l > 0))
        throw Error("a strain of " + shortNumber(p.strain) + " would crush the rubber to nothing", {}, "Check the unit.");
      least = std::min(least, l), greatest = std::max(greatest, l), points += 1;
      if (p.strain != 0) shear = std::max(shear, std::abs(p.stress / p.strain) / 3);
    }
  const bool terms = form == RubberForm::ogden1 || form == RubberForm::ogden2 || form == RubberForm::ogden3;
  const int count = form == RubberForm::neoHooke                               ? 1
                    : form == RubberForm::mooney || form == RubberForm::ogden1 ? 2
                    : form == RubberForm::yeoh                                 ? 3
                    : form == RubberForm::ogden2                               ? 4
                                                                               : 6;
  if (points <= count)
    throw Error("a fit of " + std::to_string(count) + " constants needs more than " + std::to_string(points) + " points", {},
                "Give more points, or take a law of fewer constants.");
  const Misfit misfit{form, tests};
  Eigen::VectorXd best = Eigen::VectorXd::Zero(count), d(points);
  double error = 1e300;
  if (!terms) {  // the stress is linear in the constants
    Eigen::MatrixXd A(points, count);
    Eigen::VectorXd zero = Eigen::VectorXd::Zero(count), b(points), at(points);
    misfit(zero, b);
    for (int k = 0; k < count; ++k) {
      Eigen::VectorXd one = zero;
      one[k] = 1;
      if (form == RubberForm::yeoh) one[0] += 1;  // without the first constant it is no Yeoh rubber
      misfit(one, at);
      A.col(k) = at - b;
      if (form == RubberForm::yeoh && k > 0) A.col(k) -= A.col(0);
      if (form == RubberForm::yeoh && k == 0) A.col(k) /= 2;
    }
    best = A.colPivHouseholderQr().solve(-b);
    misfit(best, d), error = d.norm();
  } else {
    const std::vector<std::vector<double>> exponents{{2, -2, 8}, {1.3, 5, -2}, {3, -1, 10}, {0.7, 4, -4}, {6, 1.5, -3}};
    for (const auto& start : exponents) {
      Eigen::VectorXd c(count);
      for (int k = 0; k < count / 2; ++k)
        c[2 * k] = shear / start[size_t(k)] * (k == 0 ? 1.6 : 0.2), c[2 * k + 1] = start[size_t(k)];
      leastSquares(c, points, misfit);
      misfit(c, d);
      if (d.allFinite() && d.norm() < error) error = d.norm(), best = c;
    }
  }
  if (error > 1e299) throw Error("no such law comes near these points", {}, "Take a law of fewer constants.");
  RubberFit fit;
  fit.law = lawOf(form, best), fit.constants.assign(best.begin(), best.end());
  fit.error = error / std::sqrt(double(tests.size()));
  fit.unstable = instability(fit.law, std::min(0.6, 0.9 * least), std::max(2., 1.2 * greatest));
  return fit;
}

}  // namespace anvil::material
