// Bolts: a joint pulled until it opens, bolts tightened in turn. Rigid blocks and Poisson's ratio zero make every member a
// spring whose stiffness is known, so that the joint's diagram is closed form (VDI 2230; Shigley, Mechanical Engineering
// Design, section on tension joints).
#include <Eigen/LU>
#include <algorithm>
#include <cmath>

#include "cli/verify/cases.hpp"
#include "core/model/actions.hpp"
#include "core/model/bolts.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/features.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"
#include "core/model/regions.hpp"

namespace anvil::cli {
namespace {

constexpr double E = 200e3, length = 60, area = 100, k = E * area / length;

std::function<void(model::Document&)> with(const std::string& element, double size) {
  return [=](model::Document& d) {
    for (auto& [name, part] : d.parts) {
      if (part.rigid) continue;
      if (element != "free" && element != "swept") {
        part.element = element;
        continue;
      }
      // the same block as a solid filled freely
      const model::Quantities q(d);
      const auto at = q.list(part.shape.front().rectangle->at, Kind::length, ""),
                 wide = q.list(part.shape.front().rectangle->size, Kind::length, "");
      model::Feature box;
      box.name = "b", box.box = model::BoxFeature{{model::Entry(at[0]), model::Entry(at[1]), model::Entry(0.)},
                                                  {model::Entry(wide[0]), model::Entry(wide[1]), model::Entry(length)}};
      part.solid = {box}, part.shape.clear(), part.extrude.reset(), part.element = element == "free" ? "tet10" : "auto";
      part.mesh = {}, part.mesh.size = size;
    }
    if (element != "free" && element != "swept") return;
    const auto rename = [](std::vector<std::string>& on) {
      for (auto& name : on)
        if (const auto dot = name.find('.'); dot != std::string::npos) name.insert(dot, ".b");
    };
    for (auto& [name, r] : d.regions) rename(r.edges);
    for (auto& [name, c] : d.contacts) rename(c.between);
    for (auto& [name, s] : d.supports) rename(s.on);
    for (auto& [name, b] : d.bolts) rename(b.on);
  };
}

}  // namespace

void caseB1(Study& study) {
  const double preload = 10e3, open = preload * 1.5;  // two columns like the bolt: opens at F kc/(kb + kc) = preload
  for (const std::string element : {"hex20", "hex8", "tet10", "free", "swept"}) {
    const auto s = study.solve("B1-joint", {}, with(element, 5));
    const std::string what = (element == "free" ? "free tet10" : element == "swept" ? "solid swept by itself" : element) + ": ";
    const auto force = s.reader().history("bolts/bolt/force"), pull = s.reader().history("loads/pull/value");
    study.row("B1", what + "force when tightened, N", preload, force[s.rowAt(1)], 1e-6, &s);
    study.row("B1", what + "force when held, N", preload, force[s.rowAt(2)], 1e-6, &s);
    double closed = 0, opened = 0;
    for (size_t i = s.rowAt(2) + 1; i < force.size(); ++i) {
      const double F = pull[i], wanted = F < open ? preload + F / 3 : F;
      (F < open ? closed : opened) = std::max(F < open ? closed : opened, std::abs(force[i] - wanted) / wanted);
    }
    study.row("B1", what + "pulled, still closed: greatest error of the bolt's force", 0, closed, 0.02, &s);
    study.row("B1", what + "pulled open: greatest error of the bolt's force", 0, opened, 0.02, &s);
    study.row("B1", what + "work not found again, over the work", 0,
              s.history("energy/imbalance", s.last()) / s.history("energy/external work", s.last()), 0.01, &s);
    if (element == "hex20")
      study.plot({"B1",
                  "bolted joint: force of the bolt against the pull",
                  "kN",
                  "kN",
                  {{"solved", s.curve("loads/pull/value", "bolts/bolt/force", 1e-3, 1e-3)},
                   {"closed form", {{0, 10}, {15, 15}, {24, 24}}, true}}});
  }
}

void caseB2(Study& study) {
  // the block's rise w and tilt t from springs: bolts at ±30, columns of twice the area at ±65
  const double a = 30, c = 65, kc = 2 * k, I = 1e4 / 12, phi = 12 * I * 2 / (5. / 6 * area * length * length);
  const double tilting = 2 * kc * (c * c + 100. / 12) + 2 * E * I / length * (4 + phi) / (1 + phi), first = 10e3, second = 8e3;
  struct State {
    double w, t;
  };
  // bolts with a given force pull with it, held ones are springs with their own shortening
  const auto solve = [&](std::array<bool, 2> given, std::array<double, 2> value) {
    Eigen::Matrix2d K;
    K << 2 * kc, 0, 0, tilting;
    Eigen::Vector2d f(0, 0);
    for (int i = 0; i < 2; ++i) {
      const Eigen::Vector2d at(1, i ? a : -a);
      if (given[size_t(i)])
        f -= value[size_t(i)] * at;
      else
        K += k * at * at.transpose(), f -= k * value[size_t(i)] * at;  // value: shortening
    }
    const Eigen::Vector2d x = K.inverse() * f;
    return State{x[0], x[1]};
  };
  const auto rise = [&](const State& s, int bolt) { return s.w + s.t * (bolt ? a : -a); };
  const State one = solve({true, false}, {first, 0});
  const double drawn1 = first / k - rise(one, 0);
  const State two = solve({false, true}, {drawn1, second});
  const double drawn2 = second / k - rise(two, 1);
  const State three = solve({true, false}, {first, drawn2});
  for (const std::string element : {"hex20", "hex8", "tet10", "free", "swept"}) {
    const auto s = study.solve("B2-flange", {}, with(element, 4));
    const std::string what = (element == "free" ? "free tet10" : element == "swept" ? "solid swept by itself" : element) + ": ";
    const auto left = [&](double t) { return s.history("bolts/left/force", s.rowAt(t)); };
    const auto right = [&](double t) { return s.history("bolts/right/force", s.rowAt(t)); };
    study.row("B2", what + "left bolt tightened, N", first, left(1), 1e-6, &s);
    study.row("B2", what + "right bolt tightened, N", second, right(2), 1e-6, &s);
    study.row("B2", what + "left bolt tightened again, N", first, left(3), 1e-6, &s);
    study.row("B2", what + "left bolt after the right one, N", k * (drawn1 + rise(two, 0)), left(2), 0.02, &s);
    study.row("B2", what + "what the right one's tightening took from it, N", first - k * (drawn1 + rise(two, 0)),
              first - left(2), 0.02, &s);
    study.row("B2", what + "right bolt in the end, N", k * (drawn2 + rise(three, 1)), right(3), 0.02, &s);
    double worst = 0;
    for (const double t : {1., 2., 3.})
      worst = std::max(
          worst, std::abs(left(t) + right(t) - std::abs(s.history("contacts/seat/force z", s.rowAt(t)))) / (left(t) + right(t)));
    study.row("B2", what + "bolts against the columns' contact force, greatest difference over it", 0, worst, 1e-6, &s);
  }
}

}  // namespace anvil::cli
