// Bolts: tangents against differences, closed forms, what turns with them, cuts through symmetry planes, words for bad input.
#include <gtest/gtest.h>

#include <Eigen/Geometry>
#include <numbers>

#include "core/base/error.hpp"
#include "core/lower/lower.hpp"
#include "core/mesh/cut.hpp"
#include "run/small_runs.hpp"
#include "run/tangents.hpp"
#include "words.hpp"

using namespace anvil;
using Eigen::Vector3d;
using Eigen::VectorXd;

namespace {

// a shank between two walls: what it is shortened by is its stretch
const char* const shank = R"({
  "anvil": 1, "space": "solid",
  "materials": {"steel": {"elastic": {"E": 200000, "nu": 0}}},
  "parts": {"rod": {"material": "steel", "element": "hex8", "shape": {"rectangle": {"at": [0, 0], "size": [4, 4]}}, "mesh": {
    "count": [2, 2]}, "extrude": {"depth": 20, "count": 4}}},
  "bolts": {"rod": {"on": ["rod.left", "rod.right", "rod.bottom", "rod.top"], "force": {"tighten": 1600}}},
  "steps": {"tighten": {}, "later": {}},
  "supports": {"walls": {"on": ["rod.front", "rod.back"], "fix": ["x", "y", "z"]}}
})";

}  // namespace

TEST(Bolt, TangentMatchesDifferencesTightenedAndHeldAtAnyTurn) {
  const std::string small =
      with(with(shank, "\"count\": 4", "\"count\": 2"), R"(["rod.front", "rod.back"], "fix": ["x", "y", "z"])",
           R"(["rod.front"], "fix": ["x", "y", "z"])");
  const std::string held = with(small, R"("force": {"tighten": 1600})", R"("shortening": {"tighten": 0.3})");
  for (const double angle : {0., 0.7, 2.5}) {
    const auto turned = [&](const analysis::Problem& p, VectorXd& u) {
      const Eigen::Matrix3d R = Eigen::AngleAxisd(angle, Vector3d(1, 2, 0.5).normalized()).toRotationMatrix();
      for (int n = 0; n < p.nodeCount(); ++n) u.segment<3>(3 * n) += R * p.mesh.x[size_t(n)] - p.mesh.x[size_t(n)];
    };
    EXPECT_LT(tangentError(small, 0, 4, turned), 2e-6) << angle;
    EXPECT_LT(tangentError(held, 0, 4, turned), 2e-6) << angle;
  }
  EXPECT_LT(tangentError(with(small, "\"space\"", "\"geometry\": \"small\", \"space\""), 0, 4), 2e-6);
}

TEST(Bolt, ForceIsGivenExactlyAndTheShorteningIsTheStretch) {
  const auto s = solved(shank);
  EXPECT_NEAR(s.last("bolts/rod/force"), 1600, 1e-8);
  const double stretch = 1 + s.last("bolts/rod/shortening") / 20;  // log strain, section kept: nominal stress E ln λ / λ
  EXPECT_NEAR(16 * 200000 * std::log(stretch) / stretch, 1600, 1e-4);
  EXPECT_NEAR(s.last("bolts/rod/shear force"), 0, 1e-6);
  EXPECT_NEAR(s.last("bolts/rod/bending moment"), 0, 1e-5);
  for (const auto& q : s.course.all.back().points) EXPECT_NEAR(q.stress[2], 100, 0.1) << "the cut is felt nowhere";
  EXPECT_NEAR(s.last("energy/external work"), s.last("energy/strain"), 2e-3 * s.last("energy/strain"))
      << "tightening is the only work";
  EXPECT_LT(s.last("balance/force"), 1e-9);
}

TEST(Bolt, IsShortenedSlackenedAndTightenedAtOnce) {
  const std::string steps =
      with(shank, R"("steps": {"tighten": {}, "later": {}})", R"("steps": {"tighten": {}, "later": {}, "end": {}})");
  const auto by = [&](const std::string& force, const std::string& shortening) {
    return solved(with(steps, R"("force": {"tighten": 1600})",
                       "\"force\": " + force + (shortening.empty() ? "" : ", \"shortening\": " + shortening)));
  };
  const auto drawn = by("{\"end\": \"off\"}", R"({"tighten": 0.01, "later": 0.02})");
  const auto at = [&](const Solved& s, double time, const char* what) {
    for (size_t i = 0; i < s.course.all.size(); ++i)
      if (std::abs(s.course.all[i].time - time) < 1e-9) return s.at(i, what);
    ADD_FAILURE() << time;
    return 0.;
  };
  EXPECT_NEAR(at(drawn, 1, "bolts/rod/force"), 1600, 3);
  EXPECT_NEAR(at(drawn, 2, "bolts/rod/shortening"), 0.03, 1e-12) << "each step draws it in by that much more";
  EXPECT_NEAR(at(drawn, 2, "bolts/rod/force"), 4800, 12);
  EXPECT_NEAR(at(drawn, 3, "bolts/rod/force"), 0, 1e-8) << "slack";
  EXPECT_NEAR(at(drawn, 3, "bolts/rod/shortening"), 0, 1e-8);
  const auto sudden = by(R"({"later": {"at once": 800}})", "");
  EXPECT_NEAR(at(sudden, 1, "bolts/rod/force"), 0, 1e-9) << "it follows its parts until it is tightened";
  EXPECT_NEAR(sudden.at(size_t(std::find_if(sudden.course.all.begin(), sudden.course.all.end(),
                                            [](const auto& i) { return i.time > 1 + 1e-9; }) -
                               sudden.course.all.begin()),
                        "bolts/rod/force"),
              800, 1e-8);
}

TEST(Bolt, ItsAxisIsGivenAsOtherDirectionsAre) {
  const auto last = [](const std::string& along) {
    return solved(with(shank, R"("force": {"tighten": 1600})", R"("force": {"tighten": 1600}, "along": )" + along))
        .last("bolts/rod/shortening");
  };
  const double free = last("[0, 0, 2]");
  EXPECT_GT(free, 0);
  EXPECT_NEAR(last("\"z\""), free, 1e-9 * free);
}

TEST(Bolt, TurnsWithItsPartsAndKeepsItsForce) {
  std::string text = with(shank, R"("steps": {"tighten": {}, "later": {}})", R"("steps": {"tighten": {}, "turn": {}})");
  text = with(
      text, R"("supports": {"walls": {"on": ["rod.front", "rod.back"], "fix": ["x", "y", "z"]}})",
      R"("supports": {"walls": {"on": ["rod.front", "rod.back"], "fix": ["x", "y", "z"], "during": "tighten"}, "guide": {"on": [
        "rod.front", "rod.back"], "fix": "x"}},
                 "motions": {"turn": {"on": ["rod.front", "rod.back"], "along": "turn x", "about": [0, 0, 0], "course": {
        "turn": 90}}})");
  text = with(text, "1600", "160000");  // a stretch of 5 %: what did not turn with it would show
  const auto s = solved(text);
  EXPECT_NEAR(s.last("bolts/rod/force"), 160000, 0.02);
  EXPECT_NEAR(s.last("bolts/rod/shear force"), 0, 0.05);
  EXPECT_NEAR(s.last("bolts/rod/bending moment"), 0, 0.5);
  EXPECT_LT(s.last("balance/moment"), 1e-6);
}

TEST(Bolt, AHalfOneIsCutThroughItsSymmetryPlane) {  // both sides of the cut are held there
  const auto s = solved(with(shank, R"("supports": {)", R"("supports": {"half": {"on": "rod.left", "fix": "normal"}, )"));
  EXPECT_NEAR(s.last("bolts/rod/force"), 1600, 1e-4);
  EXPECT_NEAR(s.last("bolts/rod/shortening"), 20 * 1600 / (16 * 200000.), 1e-5);
  EXPECT_TRUE(s.course.notes.empty()) << s.course.notes.front();
}

TEST(Bolt, AForceOfTheWholeBoltIsSharedByItsSymmetryPlanesOnly) {
  const std::string whole = with(shank, R"("force": {"tighten": 1600})", R"("of": "whole", "force": {"tighten": 1600})");
  const auto uncut = solved(whole);
  EXPECT_NEAR(uncut.last("bolts/rod/force"), 1600, 1e-8);
  for (const auto& q : uncut.course.all.back().points) EXPECT_NEAR(q.stress[2], 100, 0.1) << "no plane cuts it";
  // the left face becomes a symmetry plane: the rod is half a bolt of twice its section
  const auto half = solved(with(with(whole, R"("supports": {)", R"("supports": {"symmetry": {"on": "rod.left", "fix": ["x"]}, )"),
                                R"("rod.left", "rod.right", "rod.bottom")", R"("rod.right", "rod.bottom")"));
  EXPECT_NEAR(half.last("bolts/rod/force"), 1600, 1e-8) << "told as it was asked for";
  for (const auto& q : half.course.all.back().points) EXPECT_NEAR(q.stress[2], 50, 0.1) << "the half carries half of it";
}

TEST(Bolt, GoesOnFromAStoredIncrement) {
  const std::string text = with(shank, R"("later": {})", R"("later": {"increments": {"largest": 0.25}})");
  const auto whole = solved(text);
  const size_t middle = whole.course.all.size() / 2 + 1;
  auto p = lowered(text);
  RunLog rest;
  analysis::run(*p, rest, &whole.course.all[middle].restart);
  EXPECT_EQ(rest.all.size() + middle + 1, whole.course.all.size());
  EXPECT_NEAR(historyOf(*p, rest.all.back(), "bolts/rod/force"), whole.last("bolts/rod/force"), 1e-9);
  EXPECT_NEAR(historyOf(*p, rest.all.back(), "bolts/rod/shortening"), whole.last("bolts/rod/shortening"), 1e-14);
}

TEST(Bolt, TheCutDoublesNodesOnlyAcrossTheShank) {
  const auto p = lowered(shank);
  ASSERT_EQ(p->mesh.cuts.size(), 1u);
  const auto& cut = p->mesh.cuts.front();
  EXPECT_EQ(cut.below.size(), 9u);
  EXPECT_NEAR(cut.area, 16, 1e-12);
  EXPECT_NEAR((cut.centre - Vector3d(2, 2, 10)).norm(), 0, 1e-9);
  EXPECT_NEAR((cut.axis - Vector3d::UnitZ()).norm(), 0, 1e-12);
  EXPECT_EQ(p->mesh.boundary(0).size(), size_t(2 * 4 + 4 * 2 * 4)) << "what the cut opens is no outside";
  Vector3d turned = Vector3d::Zero();  // an even deformation takes the direction along
  const Eigen::Matrix3d F = (Eigen::Matrix3d() << 1.1, 0.2, 0, 0.1, 0.9, 0.3, -0.2, 0, 1.3).finished();
  for (size_t i = 0; i < cut.frame.size(); ++i) turned += cut.weight[i] * (F * p->mesh.x[size_t(cut.frame[i])]);
  EXPECT_NEAR((turned - F * cut.axis).norm(), 0, 1e-12);
}

TEST(Bolt, BadOnesGetASentence) {
  const auto says = [](const std::string& text, const std::string& words, const std::string& where) {
    const auto e = sentence([&] { lowered(text); });
    EXPECT_NE(e.find(words), std::string::npos) << e;
    EXPECT_NE(e.find(where), std::string::npos) << e;
  };
  const std::string force = R"("force": {"tighten": 1600})";
  says(with(shank, R"("rod.bottom", "rod.top"])", R"("rod.bottom", "rod.front"])"), "run round no axis", "bolts/rod/on");
  says(with(shank, force, R"("force": {"tighten": 1600}, "shortening": {"tighten": 0.1})"), "in the same step",
       "bolts/rod/shortening/tighten");
  says(with(shank, force, R"("force": {"tightn": 1600})"), "Did you mean 'tighten'", "bolts/rod/force/tightn");
  says(with(shank, force, R"("force": {"table": [[0, 0], [1, 5]]})"), "step by step", "bolts/rod/force/table");
  says(with(shank, force, R"("force": {"tighten": "3 MPa"})"), "MPa", "bolts/rod/force");
  says(with(shank, force, R"("force": 10, "cut": 1.5)"), "at 1.5 of its length", "bolts/rod/cut");
  says(with(shank, force, R"("force": 10, "along": [0, 0, 0])"), "not all zero", "bolts/rod/along");
  says(with(shank, force, R"("force": 10, "along": "lengthways")"), "not a direction", "bolts/rod/along");
  says(with(shank, "\"tighten\": {},", R"("tighten": {"control": "arc length"},)"), "arc of displacements",
       "bolts/rod/force/tighten");
  // a stud that is one with a plate around it, cut inside the plate
  const std::string fused =
      with(shank, R"("shape": {"rectangle": {"at": [0, 0], "size": [4, 4]}}, "mesh": {"count": [2, 2]})",
           R"("shape": [{"rectangle": {"at": [0, 0], "size": [4, 4]}, "mesh": {"count": [2, 2]}}, {"rectangle": {"at": [4, 0],
        "size": [4, 4]}, "edges": ["low", "far", "high", "left"], "mesh": {"count": [2, 2]}}])");
  says(with(fused, R"(["rod.left", "rod.right", "rod.bottom", "rod.top"])", R"(["rod.left", "rod.bottom", "rod.top"])"),
       "hangs together", "bolts/rod/cut");
}
