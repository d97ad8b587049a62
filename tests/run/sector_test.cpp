// Cyclic symmetry: one sector stands for the whole.
#include <gtest/gtest.h>

#include <fmt/format.h>
#include <numbers>

#include "core/checks/readiness.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "run/small_runs.hpp"
#include "words.hpp"

using namespace anvil;

namespace {

using std::numbers::pi;

/// A ring of radii 20 and 50 in the plane, of which one part in `count` is modelled; its bore is held.
std::string sectorRing(double angle, const std::string& motions) {
  return fmt::format(R"({{"space": "plane strain", "materials": {{"m": {{"elastic": {{"E": 208000, "nu": 0.3}}}}}},
    "parts": {{"ring": {{"material": "m", "mesh": {{"count": [8, 12]}}, "shape": {{"ring": {{"inner": 20, "outer": 50,
      "from": 10, "to": {}}}}}}}}},
    "contacts": {{"round": {{"between": ["ring.start", "ring.end"], "kind": "cyclic"}}}},
    "steps": {{"turn": {{"increments": {{"first": 1, "largest": 1}}}}}},
    "motions": {{{}}}}})",
                     10 + angle, motions);
}
const std::string heldAndTwisted = R"("hold": {"on": "ring.inner", "along": "turn", "course": 0},
  "twist": {"on": "ring.outer", "along": "turn", "course": 0.001})";

TEST(Sector, TwistsLikeTheWholeRing) {
  // shear round a ring: T = 4 π G θ / (1/a² - 1/b²) per mm of thickness. Without its neighbours a sector is far softer.
  const double whole = 4 * pi * 80000 * (0.001 * pi / 180) / (1 / 400. - 1 / 2500.);
  for (const int count : {3, 6, 8}) {
    const auto s = solved(sectorRing(360. / count, heldAndTwisted));
    EXPECT_NEAR(s.last("motions/twist/moment") * count / whole, 1, 2e-4) << count;
    EXPECT_LT(s.last("balance/force"), 1e-9) << "what the neighbours bring is counted";
    EXPECT_LT(s.last("balance/moment"), 1e-9);
    EXPECT_NEAR(s.last("energy/imbalance"), 0, 1e-9 * s.last("energy/strain"));
  }
  const auto alone = solved(with(sectorRing(60, heldAndTwisted), R"("contacts": {"round": {"between": ["ring.start", "ring.end"],
    "kind": "cyclic"}},)",
                                 ""));
  EXPECT_LT(alone.last("motions/twist/moment") * 6 / whole, 0.8) << "which the seam makes up for";
}

TEST(Sector, TurnsAboutItsAxisWithoutStrain) {
  const auto s = solved(sectorRing(60, R"("turn": {"on": "ring.inner", "along": "turn", "course": 140})"));
  EXPECT_LT(s.last("energy/strain"), 1e-12 * 208000 * 400);
  EXPECT_NEAR(s.last("motions/turn/moment"), 0, 1e-6 * 208000);
}

/// A fifth of a tube about y in free tetrahedra, whose cut faces are meshed each in its own way.
const std::string tube = R"({"space": "solid", "materials": {"m": {"elastic": {"E": 208000, "nu": 0.3}}},
  "parts": {"tube": {"material": "m", "element": "tet10", "mesh": {"size": 4},
    "near": [{"at": [14, 3, 0], "within": 3, "size": 2}],
    "solid": [{"profile": {"start": [10, 0], "path": [{"line": [18, 0], "name": "low"}, {"line": [18, 6], "name": "outer"},
      {"line": [10, 6], "name": "high"}, {"line": [10, 0], "name": "inner"}]}, "revolve": {"angle": 72}, "name": "p"}]}},
  "contacts": {"round": {"between": ["tube.p.front", "tube.p.back"], "kind": "cyclic", "axis": "y"}},
  "steps": {"turn": {"increments": {"first": 1, "largest": 1}}}, "supports": {"seat": {"on": "tube.p.low", "fix": "y"}},
  "motions": {"hold": {"on": "tube.p.inner", "along": "turn y", "course": 0},
              "twist": {"on": "tube.p.outer", "along": "turn y", "course": 0.001}}})";

TEST(Sector, OfTetrahedraWhoseFacesDoNotMatch) {
  const auto s = solved(tube);
  std::vector<size_t> corners;
  for (const auto& pair : s.p->pairs) corners = {pair.setup().slave.corners.size(), pair.setup().master.corners.size()};
  ASSERT_NE(corners[0], corners[1]) << "the smaller elements at one face make the two differ";
  const double whole = 4 * pi * 80000 * (0.001 * pi / 180) / (1 / 100. - 1 / 324.) * 6;
  EXPECT_NEAR(s.last("motions/twist/moment y") * 5 / whole, 1, 3e-3);
  EXPECT_LT(s.last("balance/force"), 1e-9);
}

TEST(Sector, SlopesAreThoseOfTheForces) {
  // at given tractions, in a state of large random strain, against central differences
  for (const auto& text : {sectorRing(60, heldAndTwisted), with(tube, R"("size": 4)", R"("size": 8)")}) {
    const auto p = lowered(text);
    const Eigen::VectorXd none = Eigen::VectorXd::Zero(p->dofs());
    std::srand(3);
    Eigen::VectorXd u = 0.2 * Eigen::VectorXd::Random(p->dofs()), way = Eigen::VectorXd::Random(p->dofs());
    auto& pair = p->pairs.front();
    const auto at = [&](const Eigen::VectorXd& now) {
      return contact::Configuration{p->dim(), &p->mesh.x, &now, &none, &p->rigid, p->depth()};
    };
    pair.measureInitial(at(none));
    pair.begin();
    std::vector<contact::Contribution> parts;
    pair.setHardness(1e-3);  // tractions by the gaps
    pair.evaluate(at(u), false, true, parts);
    pair.setHardness(1);  // which stay now
    parts.clear();
    pair.evaluate(at(u), true, false, parts);
    Eigen::VectorXd slope = none, difference = none;
    double most = 0;
    for (const auto& part : parts) {
      if (part.stiffness.size() == 0) continue;
      Eigen::VectorXd own(part.dofs.size());
      for (size_t i = 0; i < part.dofs.size(); ++i) own[Eigen::Index(i)] = way[part.dofs[i]];
      const Eigen::VectorXd f = part.stiffness * own;
      for (size_t i = 0; i < part.dofs.size(); ++i) slope[part.dofs[i]] += f[Eigen::Index(i)];
    }
    const double h = 1e-6;
    for (const double sign : {1., -1.}) {
      const Eigen::VectorXd there = u + sign * h * way;
      for (const auto& part : pair.forces(at(there)))
        for (size_t i = 0; i < part.dofs.size(); ++i) difference[part.dofs[i]] += sign * part.force[Eigen::Index(i)] / (2 * h);
    }
    most = slope.cwiseAbs().maxCoeff();
    ASSERT_GT(most, 0);
    EXPECT_LT((slope - difference).cwiseAbs().maxCoeff() / most, 1e-6) << p->dim();
  }
}

TEST(Sector, LargeTwistsConvergeQuadratically) {
  const auto s = solved(with(sectorRing(60, heldAndTwisted), R"("course": 0.001)", R"("course": 4)"));
  ASSERT_EQ(s.course.all.size(), 1u);
  EXPECT_LE(s.course.all.front().iterations, 6);
  EXPECT_LT(s.last("balance/moment"), 1e-9);
}

TEST(Sector, MayMoveAlongAndAboutItsAxisOnly) {
  auto free = with(tube, R"("supports": {"seat": {"on": "tube.p.low", "fix": "y"}},)", "");
  free = with(free, R"("motions": {"hold": {"on": "tube.p.inner", "along": "turn y", "course": 0},
              "twist": {"on": "tube.p.outer", "along": "turn y", "course": 0.001}})",
              R"("motions": {})");
  const auto report = checks::readiness(model::parse(free));
  std::string said;
  for (const auto& f : report.findings)
    if (f.fault) said += f.what;
  EXPECT_SAYS(said, "is free to move (along y and turning about y)");
}

TEST(Sector, WhatIsNoneIsRefusedInWords) {
  const auto said = [](const std::string& text) { return sentence([&] { (void)lowered(text); }); };
  EXPECT_SAYS(said(sectorRing(50, heldAndTwisted)), "50 degrees apart, of which no whole number makes a full turn");
  EXPECT_SAYS(said(with(sectorRing(60, heldAndTwisted), R"(["ring.start", "ring.end"])", R"(["ring.start"])")), "two cut faces");
  EXPECT_SAYS(said(with(sectorRing(60, heldAndTwisted), R"("ring.end"])", R"("ring.outer"])")),
              "do not lie alike about the axis");
  EXPECT_SAYS(said(with(tube, R"("axis": "y")", R"("axis": "x")")), "do not lie alike about the axis");
  EXPECT_SAYS(said(with(tube, R"("kind": "cyclic")", R"("kind": "tied")")), "an axis is given, but the kind is tied");
  EXPECT_SAYS(said(with(tube, R"(, "axis": "y")", "")), "contacts/round/axis");
}

}  // namespace
