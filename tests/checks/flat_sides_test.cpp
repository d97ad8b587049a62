// Flat sides against round faces: the stand-off against the circle's own sagitta, and the doubt about fits that the mesh would
// decide.
#include <fmt/format.h>
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/checks/contact_start.hpp"
#include "core/checks/flat_sides.hpp"
#include "core/checks/readiness.hpp"
#include "core/lower/lower.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/problem/problem.hpp"
#include "run/small_runs.hpp"

using namespace anvil;

namespace {

/// A shaft in a hub, with a play (below 0: an overlap) between them.
model::Document fit(const std::string& element, double play, double size, const std::string& kind = "touching") {
  return model::parse(fmt::format(R"({{
    "anvil": 1, "space": "solid", "materials": {{"m": {{"elastic": {{"E": 205000, "nu": 0.3}}}}}},
    "parts": {{
      "shaft": {{"material": "m", "element": "{0}", "mesh": {{"size": {2}}}, "solid": [{{"name": "s", "cylinder": {{"from": [0,
        0, 0], "to": [0, 0, 6], "radius": 10}}}}]}},
      "hub": {{"material": "m", "element": "{0}", "mesh": {{"size": "=1.3*{2}"}}, "solid": [{{"name": "h", "cylinder": {{
        "from": [0, 0, 0], "to": [0, 0, 6], "radius": 20}}}},
        {{"name": "bore", "how": "cut", "cylinder": {{"from": [0, 0, -1], "to": [0, 0, 7], "radius": {1}}}}}]}}}},
    "contacts": {{"fit": {{"between": ["shaft.s.side", "hub.bore.side"], "kind": "{3}"}}}},
    "supports": {{"a": {{"on": "shaft.s.start", "fix": ["x", "y", "z"]}}, "b": {{"on": "hub.h.start", "fix": ["x", "y", "z"]}}}},
    "steps": {{"s": {{}}}}}})",
                                  element, 10 + play, size, kind));
}

bool doubted(const model::Document& d) {
  const auto r = checks::readiness(d);
  for (const auto& f : r.findings) {
    EXPECT_FALSE(f.fault) << f.what;
    if (f.what.find("flat sides") != std::string::npos && f.what.find("are drawn with a") != std::string::npos) {
      EXPECT_EQ(f.where, "contacts/fit");
      return true;
    }
  }
  return false;
}

TEST(FlatSides, StandOffIsTheSagittaOfTheCircle) {
  const auto p = analysis::lower(fit("hex8", 1, 3));
  ASSERT_EQ(p->pairs.size(), 1u);
  for (const auto* surface : {&p->pairs.front().setup().slave, &p->pairs.front().setup().master}) {
    const bool shaft = surface->name.starts_with("shaft");
    const double R = shaft ? 10 : 11;
    // all sides are as long: 2 R sin(π/n), n of them around
    double chord = 0;
    for (const auto& side : surface->sides)
      for (int i = 0; i < 4; ++i) {
        const auto d = p->mesh.x[size_t(side.node[size_t(i)])] - p->mesh.x[size_t(side.node[size_t((i + 1) % 4)])];
        if (std::abs(d.z()) < 1e-9) chord = std::max(chord, d.norm());
      }
    const double sagitta = R - std::sqrt(R * R - chord * chord / 4);
    const auto flat = checks::flatSides(*surface, p->mesh);
    EXPECT_NEAR(flat.standOff, sagitta, 0.05 * sagitta) << surface->name;
    EXPECT_NEAR(flat.curvature, shaft ? 1 / R : -1 / R, 0.05 / R) << surface->name;
  }
}

TEST(FlatSides, QuadraticSidesFollowTheFace) {
  const auto p = analysis::lower(fit("hex20", 1, 3));
  EXPECT_EQ(checks::flatSides(p->pairs.front().setup().slave, p->mesh).standOff, 0);
}

TEST(FlatSides, AFitThatTheMeshWouldDecideIsDoubted) {
  EXPECT_TRUE(doubted(fit("hex8", -0.01, 3)));
  EXPECT_TRUE(doubted(fit("hex8", 0.02, 3)));
}

TEST(FlatSides, FitsThatTheMeshDoesNotDecideAreNot) {
  EXPECT_FALSE(doubted(fit("hex20", -0.01, 3)));
  EXPECT_FALSE(doubted(fit("hex8", 0.8, 3))) << "much more play than the sides stand off";
  EXPECT_FALSE(doubted(fit("hex8", -0.01, 3, "tied"))) << "tied faces keep the gap they have";
  EXPECT_FALSE(doubted(fit("hex8", 0.2, 0.9))) << "small elements";
}

/// Quadratic sides of which a middle was left on its chord, as where elements are too long for the curvature.
TEST(FlatSides, QuadraticSidesOffTheirFaceAreDoubted) {
  auto p = analysis::lower(fit("tet10", 0.4, 5));
  for (const auto* surface : {&p->pairs.front().setup().slave, &p->pairs.front().setup().master}) {
    const auto round = checks::roundFace(*surface, p->mesh);
    ASSERT_TRUE(round) << surface->name;
    const bool shaft = surface->name.starts_with("shaft");
    EXPECT_NEAR(round->radius, shaft ? 10 : 10.4, 1e-6);
    EXPECT_EQ(round->bulge, shaft ? 1 : -1);
    EXPECT_LT(round->standOff, 0.01) << "they follow it";
  }
  checks::Report followed;
  checks::contactsAtStart(*p, followed);
  for (const auto& f : followed.findings) EXPECT_EQ(f.what.find("stand off"), std::string::npos) << f.what;
  // each middle halfway back to its chord: the sagitta of 30 degrees or so is more than the play
  const auto& sides = p->pairs.front().setup().master.sides;
  double most = 0;
  for (const auto& s : sides)
    for (size_t i = 0; i < 3; ++i) {
      auto& x = p->mesh.x[size_t(s.node[3 + i])];
      const Eigen::Vector3d chord = (p->mesh.x[size_t(s.node[i])] + p->mesh.x[size_t(s.node[(i + 1) % 3])]) / 2;
      x = (x + chord) / 2;
      most = std::max(most, 10.4 - x.head<2>().norm());
    }
  EXPECT_GE(checks::roundFace(p->pairs.front().setup().master, p->mesh)->standOff, most - 1e-9);
  checks::Report report;
  checks::contactsAtStart(*p, report);
  const auto said = std::count_if(report.findings.begin(), report.findings.end(), [](const auto& f) {
    return !f.fault && f.where == "contacts/fit" && f.what.find("drawn with a play of 0.4 mm") != std::string::npos;
  });
  EXPECT_GT(most, 0.1);
  EXPECT_EQ(said, 1);
}

}  // namespace
