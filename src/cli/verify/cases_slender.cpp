// Slender parts.
#include <fmt/format.h>
#include <Eigen/Core>
#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "cli/verify/cases.hpp"
#include "core/model/actions.hpp"
#include "core/model/document.hpp"
#include "core/model/part.hpp"

namespace anvil::cli {
namespace {

/// The tip of a cantilever of length 1 under a dead force across it, P L²/(E I) = k: how far it comes in, how far across
/// (K. Bisshopp, D. Drucker, Q. Appl. Math. 3, 1945).
std::pair<double, double> elasticaTip(double k) {
  const auto lengthTo = [](double turn) {
    const double p = std::sqrt((1 + std::sin(turn)) / 2), first = std::asin(1 / (p * std::numbers::sqrt2));
    return std::comp_ellint_1(p) - std::ellint_1(p, first);
  };
  const double alpha = std::sqrt(k);
  double low = 1e-9, high = pi / 2 - 1e-12;  // the turn of the tip
  for (int i = 0; i < 200; ++i) (lengthTo((low + high) / 2) < alpha ? low : high) = (low + high) / 2;
  const double p = std::sqrt((1 + std::sin(low)) / 2), first = std::asin(1 / (p * std::numbers::sqrt2));
  return {1 - std::sqrt(2 * std::sin(low)) / alpha, 1 - 2 / alpha * (std::comp_ellint_2(p) - std::ellint_2(p, first))};
}

/// A column shortened by this share of its length after it has buckled: its load over the critical one, and the greatest sideways
/// travel over the length of a quarter wave (S. Timoshenko, J. Gere, Theory of Elastic Stability, 1961, 2.7).
std::pair<double, double> elasticaColumn(double shortening) {
  double low = 0, high = 0.95;
  for (int i = 0; i < 200; ++i) {
    const double p = (low + high) / 2;
    (2 * (1 - std::comp_ellint_2(p) / std::comp_ellint_1(p)) < shortening ? low : high) = p;
  }
  const double K = std::comp_ellint_1(low);
  return {4 * K * K / (pi * pi), 2 * low / K};
}

double greatest(const std::vector<double>& v) { return *std::max_element(v.begin(), v.end()); }

}  // namespace

void caseN1(Study& study) {
  for (const double k : {1., 2., 5., 10.})
    for (const int n : {8, 16, 32}) {
      const auto s = study.solve("N1-cantilever", {fmt::format("k={}", k), fmt::format("n={}", n)});
      const auto [in, across] = elasticaTip(k);
      const double limit = 0.001 * std::max(1., std::pow(32. / n, 2));
      study.row("N1", fmt::format("L1, k = {}, {} elements: tip in over the length", k, n), in,
                -s.history("watch/tip/ux", s.last()) / 100, limit, &s);
      study.row("N1", fmt::format("L1, k = {}, {} elements: tip across over the length", k, n), across,
                s.history("watch/tip/uy", s.last()) / 100, limit, &s);
    }
  for (const int n : {8, 32}) {
    const auto s = study.solve("N1-roll", {fmt::format("n={}", n)});
    study.row("N1", fmt::format("L2, {} elements: tip from the root, over the length", n), 0,
              std::hypot(100 + s.history("watch/tip/ux", s.last()), s.history("watch/tip/uy", s.last())) / 100, 0.001, &s);
  }
  for (const int n : {8, 16, 32}) {
    const auto s = study.solve("N1-frame", {fmt::format("n={}", n)});
    // the first limit: before the load falls for the first time
    const auto share = s.reader().history("step/share of the loading");
    double limit = 0;
    for (size_t i = 0; i < share.size() && 20000 * share[i] >= limit; ++i) limit = 20000 * share[i];
    study.row("N1", fmt::format("L4, {} elements: first limit load", n), 18552, limit, 0.01 * std::max(1., std::pow(32. / n, 2)),
              &s);
    study.row("N1", fmt::format("L4, {} elements: the load falls below zero behind it", n), 1,
              *std::min_element(share.begin(), share.end()) < 0 ? 1 : 0, 0, &s);
  }
}

void caseN2(Study& study) {
  // the paper's numbers are those of eight elements; finer meshes are held to converge with the square of their size
  const double tips[2][4] = {{300, 22.33, 58.84, 40.08}, {600, 15.79, 47.23, 53.37}};
  for (const auto& tip : tips) {
    std::array<Eigen::Vector3d, 3> found;
    for (int k = 0; k < 3; ++k) {
      const int n = 8 << k;
      const auto s = study.solve("N2-bend", {fmt::format("F={}", tip[0]), fmt::format("n={}", n)});
      found[size_t(k)] = {100 * (1 - std::cos(pi / 4)) + s.history("watch/tip/ux", s.last()),
                          100 * std::sin(pi / 4) + s.history("watch/tip/uy", s.last()), s.history("watch/tip/uz", s.last())};
      for (int i = 0; k == 0 && i < 3; ++i)
        study.row("N2", fmt::format("force {}, {} elements: {}", tip[0], n, "xyz"[i]), tip[i + 1], found[0][i], 0.005, &s);
      if (k == 2)
        study.row("N2", fmt::format("force {}: change from 16 to 32 elements over that from 8 to 16", tip[0]), 0.25,
                  (found[2] - found[1]).norm() / (found[1] - found[0]).norm(), 0.2, &s);
    }
  }
}

void caseN3(Study& study) {
  for (const double r : {4., 2., 1.})
    for (const int n : {1, 4}) {
      const auto s = study.solve("N3-short", {fmt::format("r={}", r), fmt::format("n={}", n)});
      const double w = 0.5, h = 1, L = r * h, P = 1000, E = 200000, G = E / 2.6;
      study.row("N3", fmt::format("L/h = {}, {} elements: tip", r, n),
                P * L * L * L / (3 * E * w * h * h * h / 12) + P * L / (G * 5 / 6 * w * h), s.history("watch/tip/uz", s.last()),
                0.001, &s);
    }
}

void caseN4(Study& study) {
  struct Form {
    std::string name;
    std::function<void(model::Section&)> change;
    std::function<double(double)> width;  ///< at a height from the middle
    double factor;                        ///< plastic moment over that of first yield
  };
  const double half = 5, yield = 250, E = 200000;
  const auto round = [](double r, double y) { return y < r ? 2 * std::sqrt(r * r - y * y) : 0; };
  const std::vector<Form> forms{
      {"rectangle", {}, [](double) { return 4.; }, 1.5},
      {"round", [](model::Section& s) { s.form = "round", s.diameter = 10.; }, [&](double y) { return round(5, y); },
       16 / (3 * pi)},
      {"thin tube", [](model::Section& s) { s.form = "tube", s.diameter = 10., s.wall = 0.02; },
       [&](double y) { return round(5, y) - round(4.98, y); }, 4 / pi},
      {"I", [](model::Section& s) { s.form = "I", s.width = 6., s.height = 10., s.wall = 0.8, s.flange = 1.; },
       [](double y) { return y < 4 ? 0.8 : 6.; }, 0}};
  const double first = yield / E / half;
  for (const auto& f : forms) {
    const auto moment = [&](const std::function<double(double)>& stress) {
      double sum = 0;
      const int n = 400000;
      for (int i = 0; i < n; ++i) {
        const double y = half * (i + 0.5) / n;
        sum += 2 * f.width(y) * y * stress(y) * half / n;
      }
      return sum;
    };
    const auto bent = [&](double ratio) { return moment([&](double y) { return std::min(E * ratio * first * y, yield); }); };
    for (const double ratio : {0.5, 1.5, 3., 10.}) {
      const auto s = study.solve(
          "N4-section", {fmt::format("first={}", first), fmt::format("far={}", ratio), fmt::format("back={}", 0.8 * ratio)},
          [&](model::Document& d) {
            if (f.change) f.change(d.parts.front().second.slender->sections.front().second);
          });
      const size_t far = s.rowAt(1);
      study.row("N4", fmt::format("{} bent to {} of first yield: moment", f.name, ratio), bent(ratio),
                -s.history("motions/turn/moment y", far), 0.005, &s);
      if (ratio > 1)
        study.row("N4", fmt::format("{} bent to {} of first yield and back by a fifth: moment", f.name, ratio),
                  bent(ratio) - std::min(0.2 * ratio, 2.) * first * E * moment([](double y) { return y; }),
                  -s.history("motions/turn/moment y", s.last()), 0.005, &s);
      if (ratio == 10 && f.factor > 0)
        study.row("N4", f.name + ": shape factor, from the moment at 10 of first yield", f.factor,
                  -s.history("motions/turn/moment y", far) / bent(1), 0.005, &s);
    }
  }
}

void caseN5(Study& study) {
  const double Mp = 250. * 10 * 20 * 20 / 4;
  for (const int n : {1, 4, 16}) {
    const auto s = study.solve("N5-beam", {fmt::format("n={}", n)});
    study.row("N5", fmt::format("fixed beam, {} elements along a half: greatest force", n), 8 * Mp / 1000,
              -s.history("motions/press/force y", s.last()), 0.01, &s);
  }
  for (const int n : {2, 8}) {
    const auto s = study.solve("N5-portal", {fmt::format("n={}", n)});
    study.row("N5", fmt::format("portal, {} elements along a line: both forces", n), 3 * Mp / 1000,
              900 * greatest(s.reader().history("step/share of the loading")), 0.01, &s);
  }
}

void caseN6(Study& study) {
  struct Ends {
    std::string name;
    std::vector<std::string> foot, top;
    double length;   ///< of a half wave, over the column's
    double quarter;  ///< of a quarter wave, over the column's; 0: no such wave
    std::string across;
    double waves;  ///< of sideways travel, in quarters
  };
  const std::vector<Ends> all{{"hinged and hinged", {"x", "y"}, {"x"}, 1, 0.5, "middle", 1},
                              {"fixed and free", {"all"}, {}, 2, 1, "top", 1},
                              {"fixed and guided", {"all"}, {"x", "turn"}, 0.5, 0.25, "middle", 2},
                              {"fixed and hinged", {"all"}, {"x"}, 0.699156, 0, "", 0}};
  const double EI = 200000 * 10 * 8 / 12., L = 1000;
  for (const auto& ends : all)
    for (const int n : {16, 64}) {
      const auto s = study.solve("N6-column", {fmt::format("n={}", n)}, [&](model::Document& d) {
        d.supports.find("foot")->fix = ends.foot, d.supports.find("top")->fix = ends.top;
        if (ends.top.empty()) std::erase_if(d.supports, [](const auto& s) { return s.first == "top"; });
      });
      const double limit = n < 32 ? 0.04 : 0.01;  // coarse meshes converge with the square of their size
      const double critical = pi * pi * EI / std::pow(ends.length * L, 2);
      study.row("N6", fmt::format("{}, {} elements: load when shortened by 0.5 %", ends.name, n), critical,
                -s.history("motions/press/force y", s.rowAt(1)), limit, &s);
      if (ends.quarter == 0) continue;
      const auto [load, travel] = elasticaColumn(0.2);
      study.row("N6", fmt::format("{}, {} elements: load when shortened by a fifth", ends.name, n), load * critical,
                -s.history("motions/press/force y", s.last()), limit, &s);
      study.row("N6", fmt::format("{}, {} elements: sideways travel over the length", ends.name, n),
                ends.waves * ends.quarter * travel, std::abs(s.history("watch/" + ends.across + "/ux", s.last())) / L, limit, &s);
    }
}

void caseN7(Study& study) {
  {
    const auto s = study.solve("N7-turned");
    double most = 0;
    for (size_t row = 0; row <= s.last(); ++row) {
      const auto v = s.reader().field("slender", row);
      for (size_t i = 0; i + results::slenderColumns <= v.size(); i += results::slenderColumns)
        most = std::max({most, std::abs(double(v[i + size_t(results::SlenderColumn::greatest)])),
                         std::abs(double(v[i + size_t(results::SlenderColumn::least)]))});
    }
    study.row("N7", "frame turned about three axes: stress over Young's modulus", 0, most / 200000, 1e-8, &s);
    const double moved =
        std::hypot(s.history("watch/end/ux", s.last()), s.history("watch/end/uy", s.last()), s.history("watch/end/uz", s.last()));
    // x turned by 120, y by 100, z by 150 degrees
    double x[3] = {160, 80, 60};
    const auto turn = [&](int a, int b, double angle) {
      const double c = std::cos(angle * pi / 180), t = std::sin(angle * pi / 180), u = c * x[a] - t * x[b];
      x[b] = t * x[a] + c * x[b], x[a] = u;
    };
    turn(1, 2, 120), turn(2, 0, 100), turn(0, 1, 150);
    study.row("N7", "its end moves as a rigid body's", std::hypot(x[0] - 160, x[1] - 80, x[2] - 60), moved, 1e-8, &s);
  }
  {
    const auto s = study.solve("N7-solid");
    const double I = 8 * 1000 / 12., G = 200000 / 2.6;
    study.row("N7", "beam joined to a solid: tip", 100 * std::pow(200, 3) / (3 * 200000 * I) + 100 * 200 / (G * 5 / 6 * 80),
              s.history("watch/tip/uy", s.last()), 0.01, &s);
  }
  {
    const auto s = study.solve("N7-sheet", {}, [](model::Document& d) { d.materials.front().second.elastic.nu = 0.; });
    study.row("N7", "beam joined to a sheet's edge: tip", std::pow(200, 3) / (3 * 200000 * 20 * 8 / 12.),
              s.history("watch/tip/uz", s.last()), 0.01, &s);
  }
}

}  // namespace anvil::cli
