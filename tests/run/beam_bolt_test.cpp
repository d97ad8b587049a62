// Bolts that are beams, and forces entered for the whole of a model cut by symmetry planes.
#include <gtest/gtest.h>

#include <Eigen/Geometry>
#include <numbers>

#include "core/lower/lower.hpp"
#include "run/small_runs.hpp"
#include "run/tangents.hpp"
#include "words.hpp"

using namespace anvil;
using Eigen::Vector3d;
using Eigen::VectorXd;

namespace {

using std::numbers::pi;
constexpr double E = 200000, nu = 0.3, d = 6, L = 30;

// a beam between two small blocks, whose near faces are 30 mm apart
const char* const studBetween = R"({
  "anvil": 1, "space": "solid",
  "materials": {"steel": {"elastic": {"E": 200000, "nu": 0.3}}},
  "parts": {
    "low": {"material": "steel", "element": "hex8", "shape": {"rectangle": {"at": [-5, -5], "size": [10, 10]}}, "mesh": {
      "count": [2, 2]}, "extrude": {"from": -4, "depth": 4, "count": 1}},
    "high": {"material": "steel", "element": "hex8", "shape": {"rectangle": {"at": [-5, -5], "size": [10, 10]}}, "mesh": {
      "count": [2, 2]}, "extrude": {"from": 30, "depth": 4, "count": 1}}
  },
  "bolts": {"stud": {"beam": {"head": ["low.back"], "nut": ["high.front"], "diameter": 6, "material": "steel"}, "force": {
    "tighten": 5000}}},
  "steps": {"tighten": {}, "later": {}},
  "supports": {"low": {"on": ["low.front", "low.back"], "fix": ["x", "y", "z"]}, "high": {"on": ["high.front", "high.back"],
    "fix": ["x", "y", "z"]}}
})";

const std::string held = R"("force": {"tighten": 5000})";
const std::string moved =
    R"("supports": {"low": {"on": ["low.front", "low.back"], "fix": ["x", "y", "z"]}, "high": {"on": ["high.front", "high.back"],
      "fix": )";

}  // namespace

TEST(BeamBolt, TangentMatchesDifferencesAtAnyTurn) {
  std::string loose = with(studBetween, R"("high": {"on": ["high.front", "high.back"], "fix": ["x", "y", "z"]})",
                           R"("high": {"on": "high.back", "fix": "x"})");
  for (const double turn : {0., 1e-3, 0.8, 2.}) {
    EXPECT_LT(tangentError(loose, turn, 0.5), 3e-6) << turn;
    EXPECT_LT(tangentError(with(loose, held, R"("shortening": {"tighten": 0.3})"), turn, 0.5), 3e-6) << turn;
  }
  EXPECT_LT(tangentError(with(loose, "\"space\"", "\"geometry\": \"small\", \"space\""), 0.1, 0.5), 3e-6);
}

TEST(BeamBolt, ForceIsGivenExactlyAndTheShorteningIsItsOwnStretch) {
  const auto s = solved(studBetween);
  const double stiffness = E * pi * d * d / 4 / L;
  EXPECT_NEAR(s.last("bolts/stud/force"), 5000, 1e-7);
  EXPECT_NEAR(s.last("bolts/stud/shortening"), 5000 / stiffness, 1e-9);
  EXPECT_NEAR(s.last("energy/springs"), 5000 * 5000 / stiffness / 2, 1e-6);
  EXPECT_NEAR(s.last("energy/external work"), s.last("energy/springs"), 1e-6) << "tightening is the only work";
  const auto drawn = solved(with(studBetween, held, R"("shortening": {"tighten": 0.02})"));
  EXPECT_NEAR(drawn.last("bolts/stud/force"), 0.02 * stiffness, 1e-6);
}

TEST(BeamBolt, BendsAndShearsAsAShortBeam) {
  std::string text = with(studBetween, moved + R"(["x", "y", "z"]})", moved + R"(["y", "z"]})");
  text =
      with(text, "\"supports\"",
           R"("motions": {"aside": {"on": ["high.front", "high.back"], "along": "x", "course": {"later": 0.01}}}, "supports")");
  text = with(text, "5000", "0");
  const double I = pi * std::pow(d, 4) / 64, G = E / (2 + 2 * nu), k = 6 * (1 + nu) / (7 + 6 * nu), A = pi * d * d / 4,
               phi = 12 * E * I / (G * A * k * L * L);
  const auto s = solved(text);
  const double shear = 12 * E * I / std::pow(L, 3) / (1 + phi) * 0.01;
  EXPECT_NEAR(s.last("bolts/stud/shear force"), shear, 1e-4 * shear);
  EXPECT_NEAR(s.last("bolts/stud/bending moment"), shear * L / 2, 1e-4 * shear * L / 2);
  EXPECT_LT(s.last("balance/force"), 1e-6);
  EXPECT_LT(s.last("balance/moment"), 1e-6);
}

TEST(BeamBolt, CarriesTwist) {
  std::string text = with(studBetween, moved + R"(["x", "y", "z"]})", moved + R"("z"})");
  text = with(text, "\"supports\"",
              R"("motions": {"twist": {"on": ["high.front", "high.back"], "along": "turn z", "about": [0, 0, 0], "course": {
        "later": 2}}}, "supports")");
  const auto s = solved(text);
  const double G = E / (2 + 2 * nu), J = pi * std::pow(d, 4) / 32, psi = 2 * pi / 180;
  EXPECT_NEAR(s.last("motions/twist/moment z"), G * J / L * psi, 1e-3 * G * J / L * psi);
  EXPECT_NEAR(s.last("bolts/stud/bending moment"), 0, 1e-4);
}

TEST(BeamBolt, TurnsWithItsPartsAndKeepsItsForce) {
  std::string text =
      with(studBetween, moved + R"(["x", "y", "z"]}})",
           R"("supports": {"all": {"on": ["low.front", "low.back", "high.front", "high.back"], "fix": ["x", "y", "z"],
        "during": "tighten"}, "guide": {"on": ["low.front", "low.back", "high.front", "high.back"], "fix": "x"}},
                             "motions": {"turn": {"on": ["low.front", "low.back", "high.front", "high.back"], "along": "turn x",
        "about": [0, 0, 0], "course": {"later": 90}}})");
  const auto s = solved(text);
  EXPECT_NEAR(s.last("bolts/stud/force"), 5000, 0.01);
  EXPECT_NEAR(s.last("bolts/stud/shear force"), 0, 0.01);
  EXPECT_LT(s.last("balance/moment"), 1e-6);
}

TEST(BeamBolt, BadOnesGetASentence) {
  const auto said = [&](const std::string& from, const std::string& to) {
    return sentence([&] { lowered(with(studBetween, from, to)); });
  };
  EXPECT_SAYS(said("\"diameter\": 6", "\"diameter\": -6"), "-6 mm");
  EXPECT_SAYS(said("\"diameter\": 6", "\"diameter\": 0"), "bolts/stud/beam/diameter");
  EXPECT_SAYS(said("\"nut\": [\"high.front\"]", "\"nut\": [\"high.frnt\"]"), "Did you mean");
  EXPECT_SAYS(said("\"nut\": [\"high.front\"]", "\"nut\": [\"low.back\"]"), "same place");
  EXPECT_SAYS(said("\"nut\": [\"high.front\"], ", ""), "under the nut");
  EXPECT_SAYS(said("\"material\": \"steel\"}, \"force\"", "\"material\": \"steal\"}, \"force\""), "Did you mean 'steel'");
  EXPECT_SAYS(said("\"bolts\": {\"stud\": {", "\"bolts\": {\"stud\": {\"on\": [\"low.left\"], "), "a shank and is a beam");
}

// ---- forces of the whole ---------------------------------------------------------------------------------------------

namespace {

// a bar in half: z = 0 is its symmetry plane
const char* const half = R"({
  "anvil": 1, "space": "solid",
  "materials": {"steel": {"elastic": {"E": 200000, "nu": 0.3}}},
  "parts": {"bar": {"material": "steel", "shape": {"rectangle": {"at": [0, 0], "size": [40, 8]}}, "mesh": {"count": [4, 2]},
    "extrude": {"depth": 4, "count": 2}}},
  "steps": {"push": {}},
  "supports": {"wall": {"on": "bar.left", "fix": ["x", "y", "z"]}, "half": {"on": "bar.front", "fix": "normal"}},
  "loads": {"push": {"on": "bar.right", "kind": "force", "along": "-y", "of": "whole", "course": 600}},
  "watch": {"end": {"part": "bar", "at": [40, 4, 0]}}
})";

}  // namespace

TEST(OfTheWhole, AForceIsSharedOutByTheSymmetryPlanes) {
  const std::string text = with(half, "\"along\": \"-y\"", "\"along\": [0, -1, 0]");
  const auto part = solved(with(with(text, "\"of\": \"whole\", ", ""), "600", "300")), shared = solved(text);
  EXPECT_NEAR(shared.last("watch/end/uy"), part.last("watch/end/uy"), 1e-12);
  const std::string whole =
      with(with(with(text, "\"depth\": 4, \"count\": 2", "\"from\": -4, \"depth\": 8, \"count\": 4"), "\"of\": \"whole\", ", ""),
           ", \"half\": {\"on\": \"bar.front\", \"fix\": \"normal\"}", "");
  EXPECT_NEAR(shared.last("watch/end/uy"), solved(whole).last("watch/end/uy"), 1e-7);
  EXPECT_NEAR(shared.last("supports/wall/force y"), 300, 1e-6) << "what is modelled is half";
  EXPECT_SAYS(sentence([&] { lowered(with(text, ", \"half\": {\"on\": \"bar.front\", \"fix\": \"normal\"}", "")); }),
              "the part is the whole");
  EXPECT_SAYS(sentence([&] { lowered(with(text, "\"kind\": \"force\", \"along\": [0, -1, 0]", "\"kind\": \"pressure\"")); }),
              "loads/push/of");
}

TEST(OfTheWhole, ABoltInHalfIsTightenedAndReportedAsTheWholeOne) {
  const std::string text = R"({
    "anvil": 1, "space": "solid", "geometry": "small",
    "materials": {"steel": {"elastic": {"E": 200000, "nu": 0}}},
    "parts": {"rod": {"material": "steel", "element": "hex8", "shape": {"rectangle": {"at": [0, 0], "size": [2, 4]}}, "mesh": {
      "count": [1, 2]}, "extrude": {"depth": 20, "count": 4}}},
    "bolts": {"rod": {"on": ["rod.left", "rod.right", "rod.bottom", "rod.top"], "of": "whole", "force": {"tighten": 1600}}},
    "steps": {"tighten": {}, "bend": {}},
    "supports": {"half": {"on": "rod.left", "fix": "normal"}, "wall": {"on": "rod.front", "fix": ["x", "y", "z"]}, "end": {
      "on": "rod.back", "fix": ["x", "z"]}},
    "motions": {"aside": {"on": "rod.back", "along": "y", "course": {"bend": 0.1}}}
  })";
  const auto s = solved(text);
  EXPECT_NEAR(s.last("bolts/rod/force"), 1600, 1e-3);
  EXPECT_NEAR(s.last("supports/wall/force z"), -800, 1) << "half of it is there";
  const std::string whole = with(with(with(text, R"("at": [0, 0], "size": [2, 4])", R"("at": [-2, 0], "size": [4, 4])"),
                                      "\"count\": [1, 2]", "\"count\": [2, 2]"),
                                 "\"of\": \"whole\", ", "");
  const auto w = solved(with(whole, R"("half": {"on": "rod.left", "fix": "normal"}, )", ""));
  EXPECT_NEAR(s.last("bolts/rod/shear force"), w.last("bolts/rod/shear force"), 1e-6 * w.last("bolts/rod/shear force"));
  EXPECT_NEAR(s.last("bolts/rod/bending moment"), w.last("bolts/rod/bending moment"), 1e-4 * w.last("bolts/rod/shear force"));
  EXPECT_NEAR(s.last("bolts/rod/shortening"), w.last("bolts/rod/shortening"), 1e-9);
}
