#include "core/element/point_driver.hpp"

#include <Eigen/Eigenvalues>
#include <algorithm>
#include <cmath>

#include "core/base/dense.hpp"
#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/base/units.hpp"

namespace anvil::element {
namespace {

using Eigen::VectorXd;
using material::Mat3;
using material::Vec6;

Vec6 mandel(const Six& t) {
  return (Vec6() << t[0], t[1], t[2], material::root2 * t[3], material::root2 * t[4], material::root2 * t[5]).finished();
}
Six tensor(const Vec6& m) { return {m[0], m[1], m[2], m[3] / material::root2, m[4] / material::root2, m[5] / material::root2}; }

class Driver {
 public:
  Driver(const material::AnyLaw& law, bool large) : large_(large) {
    Setting setting;
    setting.space = Space::solid, setting.large = large;
    points_ = makePoints<3>(1, setting, law);
  }

  Components<3> gradient(const Six& strain) const {
    const Mat3 E = material::fromMandel(mandel(strain));
    Mat3 F = Mat3::Identity() + E;
    if (large_) {
      const Eigen::SelfAdjointEigenSolver<Mat3> eigen(E);
      F = eigen.eigenvectors() * eigen.eigenvalues().array().exp().matrix().asDiagonal() * eigen.eigenvectors().transpose();
    }
    Components<3> f;
    for (int a = 0; a < 9; ++a) f[a] = F(Layout<3>::row[a], Layout<3>::column[a]);
    return f;
  }

  DrivenState at(const Six& strain) {
    const auto F = gradient(strain);
    PointStress<3> stress;
    points_->evaluate(0, 1, &F, false, false, nullptr, &stress);
    PointOutput o;
    points_->output(0, 1, &F, &o);
    DrivenState s;
    s.strain = strain, s.stress = tensor(o.stress), s.vonMises = material::vonMises(o.stress);
    s.equivalentPlastic = o.equivalentPlastic, s.strainEnergy = o.strainEnergy, s.plasticWork = o.plasticWork;
    return s;
  }

  /// The state whose stresses `wanted` are met by changing those components' strains, from a first guess.
  std::optional<DrivenState> meet(Six strain, const std::array<std::optional<double>, 6>& wanted, double scale) {
    std::vector<size_t> open;
    for (size_t i = 0; i < 6; ++i)
      if (wanted[i]) open.push_back(i);
    const auto n = Eigen::Index(open.size());
    const auto residual = [&](const DrivenState& s) {
      VectorXd r(n);
      for (Eigen::Index k = 0; k < n; ++k) r[k] = s.stress[open[size_t(k)]] - *wanted[open[size_t(k)]];
      return r;
    };
    DrivenState now = at(strain);
    VectorXd r = residual(now);
    for (int it = 0; it < 60; ++it) {
      if (n == 0 || r.cwiseAbs().maxCoeff() <= 1e-10 * scale) return at(strain);
      Eigen::MatrixXd J(n, n);
      for (Eigen::Index k = 0; k < n; ++k) {
        Six moved = strain;
        const double h = 1e-7;
        moved[open[size_t(k)]] += h;
        J.col(k) = (residual(at(moved)) - r) / h;
      }
      const VectorXd step = solveSquare(J, -r);
      if (!step.allFinite() || step.cwiseAbs().maxCoeff() > 5) return {};
      double share = 1;
      for (;; share /= 2) {
        Six trial = strain;
        for (Eigen::Index k = 0; k < n; ++k) trial[open[size_t(k)]] += share * step[k];
        now = at(trial);
        const VectorXd next = residual(now);
        if (next.allFinite() && (next.norm() < r.norm() || share < 1e-3)) {
          if (share < 1e-3 && !(next.norm() < 2 * r.norm())) return {};
          strain = trial, r = next;
          break;
        }
        if (share < 1e-3) return {};
      }
    }
    // rounding of the differences may hold it just above the limit
    if (r.cwiseAbs().maxCoeff() <= 1e-7 * scale) return at(strain);
    return {};
  }

  void accept() { points_->accept(); }

 private:
  bool large_;
  std::unique_ptr<PointsIn<3>> points_;
};

}  // namespace

std::vector<DrivenState> drive(const material::AnyLaw& law, const std::vector<Leg>& path, bool large) {
  Driver driver(law, large);
  std::vector<DrivenState> states{driver.at({})};
  // stiffness of the start, to measure stresses by
  const double scale = std::max(1e-300, std::abs(driver.at({1e-6, 0, 0, 0, 0, 0}).stress[0]) * 1e6 * 1e-3);
  Six held{};  // stress that components keep where a leg does not name them
  for (size_t l = 0; l < path.size(); ++l) {
    const auto& leg = path[l];
    const std::string where = "leg " + std::to_string(l + 1);
    if (leg.increments < 1)
      throw Error("the number of increments is " + std::to_string(leg.increments), where, "Give one or more.");
    for (size_t i = 0; i < 6; ++i)
      if (leg.strain[i] && leg.stress[i])
        throw Error(std::string("both a strain and a stress are given for ") + componentNames[i], where, "Give one of them.");
    constexpr double largest = 10;  // a bar pulled to 22 000 times its length
    for (size_t i = 0; i < 6; ++i)
      if (leg.strain[i] && !(std::abs(*leg.strain[i]) <= largest))
        throw Error("a strain of " + shortNumber(*leg.strain[i]) + " is beyond every material", where,
                    std::string("For a stress write \"") + componentNames[i] + "=stress " + shortNumber(*leg.strain[i]) +
                        " MPa\"; strains are parts of one, or in %.");
    if (leg.increments > 100000)
      throw Error("the number of increments is " + std::to_string(leg.increments), where, "Give at most 100000.");
    const auto from = states.back();
    Six change{};
    for (int k = 1; k <= leg.increments; ++k) {
      const double share = double(k) / leg.increments;
      std::array<std::optional<double>, 6> wanted;
      Six guess = states.back().strain;
      for (size_t i = 0; i < 6; ++i) {
        if (leg.strain[i])
          guess[i] = from.strain[i] + share * (*leg.strain[i] - from.strain[i]);
        else
          wanted[i] = leg.stress[i] ? from.stress[i] + share * (*leg.stress[i] - from.stress[i]) : held[i];
      }
      Six extrapolated = guess;
      for (size_t i = 0; i < 6; ++i)
        if (wanted[i]) extrapolated[i] += change[i];
      auto s = driver.meet(guess, wanted, scale);
      if (!s) s = driver.meet(extrapolated, wanted, scale);
      if (!s)
        throw Error("no strain was found that brings the stress, at increment " + std::to_string(k) + " of " +
                        std::to_string(leg.increments),
                    where, "The material may not carry this stress: drive it by strain, or take more increments.");
      for (size_t i = 0; i < 6; ++i) change[i] = s->strain[i] - states.back().strain[i];
      driver.accept();
      s->leg = int(l) + 1;
      states.push_back(*s);
    }
    for (size_t i = 0; i < 6; ++i) held[i] = leg.stress[i] ? *leg.stress[i] : leg.strain[i] ? 0 : held[i];
  }
  return states;
}

Leg legFrom(const std::string& words, int increments) {
  Leg leg;
  leg.increments = increments;
  const auto trimmed = [](std::string s) {
    s.erase(0, s.find_first_not_of(" \t"));
    s.erase(s.find_last_not_of(" \t") + 1);
    return s;
  };
  size_t at = 0;
  while (at <= words.size()) {
    const auto comma = std::min(words.find(',', at), words.size());
    const auto piece = trimmed(words.substr(at, comma - at));
    at = comma + 1;
    const auto equals = piece.find('=');
    const auto name = trimmed(piece.substr(0, equals));
    const auto found = std::find(std::begin(componentNames), std::end(componentNames), name);
    if (equals == std::string::npos || found == std::end(componentNames))
      throw Error("'" + piece + "' is not understood", "",
                  "Write for example \"xx=0.05\" or \"xx=stress 200 MPa\"; components are xx, yy, zz, xy, yz, xz.");
    auto value = trimmed(piece.substr(equals + 1));
    const bool stress = value.starts_with("stress");
    if (stress) value = trimmed(value.substr(6));
    double number = 0;
    std::string unit;
    if (!splitQuantity(value, number, unit))
      throw Error("'" + value + "' is not a number", name, "Write for example 0.05, 5 % or stress 200 MPa.");
    if (!unit.empty()) {
      if (!stress && unit == "%")
        number /= 100;
      else
        number = conversion(unit, stress ? Kind::stress : Kind::number).toCore(number);
    }
    if (!std::isfinite(number)) throw Error("'" + value + "' is not a finite number", name, "Give one.");
    (stress ? leg.stress : leg.strain)[size_t(found - componentNames)] = number;
  }
  return leg;
}

}  // namespace anvil::element
