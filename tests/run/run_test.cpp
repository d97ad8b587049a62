// The run: balances, restart, failure in words, bad models. Small models through the whole solver.
#include <gtest/gtest.h>

#include <filesystem>
#include <fstream>
#include <numbers>

#include "core/base/error.hpp"
#include "core/checks/readiness.hpp"
#include "core/job/run_model.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/results/fields.hpp"
#include "run/small_runs.hpp"
#include "scratch.hpp"
#include "words.hpp"

using namespace anvil;

namespace {

/// A block pressed by a round rigid tool and released.
const char* const pressedFlat = R"({
  "anvil": 1,
  "materials": {"steel": {"elastic": {"E": 205000, "nu": 0.3}, "plastic": {"yield": 260, "tangent": 2000}}},
  "parts": {
    "block": {"material": "steel", "element": "quad4", "shape": {"rectangle": {"at": [0, 0], "size": [10, 5]}}, "mesh": {
      "size": 1}},
    "tool": {"rigid": true, "shape": {"profile": {"start": [0, 10.1], "path": [{"arc": [10, 10.1], "center": [5, 10.1]}]}}}
  },
  "contacts": {"press": {"between": ["block.top", "tool"], "friction": 0.1}},
  "steps": {"press": {"increments": {"largest": 0.2}}, "release": {"increments": {"largest": 0.5}}},
  "supports": {"base": {"on": "block.bottom", "fix": ["x", "y"]}},
  "motions": {"push": {"on": "tool", "along": "y", "course": {"press": -0.3, "release": 0}}}
})";

class RunTest : public Scratch {
 protected:
  std::string file(const char* name = "r.h5") const { return folder / name; }
  results::Reader solve(const std::string& text, const char* name = "r.h5", analysis::Observer* watch = nullptr) {
    job::runModel(model::parse(text), {file(name), 1, false, {}}, watch);
    return results::Reader(file(name));
  }
  std::string trouble(const std::string& text) {
    return sentence([&] { solve(text); });
  }
};

TEST_F(RunTest, ToolForceContactForceAndSupportForceBalance) {
  const auto r = solve(pressedFlat);
  EXPECT_EQ(r.outcome(), "finished");
  const auto tool = r.history("motions/push/force y"), contact = r.history("contacts/press/force y"),
             base = r.history("supports/base/force y");
  double most = 0;
  for (double f : tool) most = std::max(most, std::abs(f));
  EXPECT_GT(most, 100);
  for (size_t i = 0; i < tool.size(); ++i) {
    EXPECT_NEAR(tool[i], contact[i], 1e-5 * most);
    EXPECT_NEAR(tool[i], -base[i], 1e-4 * most);
  }
  EXPECT_NEAR(contact.back(), 0, 1e-9) << "released";
  EXPECT_GT(r.history("plasticity/greatest plastic strain").back(), 0.01);
  const auto u = r.field("displacement", r.rows().size() - 1);
  float dent = 0;
  for (size_t i = 1; i < u.size(); i += 2) dent = std::min(dent, u[i]);
  EXPECT_LT(dent, -0.05F) << "a dent stays";
}

TEST_F(RunTest, PenetrationStaysFarBelowTheElementSize) {
  const auto r = solve(pressedFlat);
  for (double p : r.history("contacts/press/greatest penetration")) EXPECT_LT(p, 1e-3);
}

TEST_F(RunTest, ContinuingFromAnyIncrementGivesTheSameEnd) {
  const auto whole = solve(pressedFlat, "whole.h5");
  const auto last = whole.field("displacement", whole.rows().size() - 1);
  std::filesystem::copy_file(file("whole.h5"), file("part.h5"));
  const size_t from = whole.rows().size() / 3;
  job::runModel(model::parse(pressedFlat), {file("part.h5"), 1, false, from});
  const results::Reader again(file("part.h5"));
  EXPECT_EQ(again.outcome(), "finished");
  const auto end = again.field("displacement", again.rows().size() - 1);
  for (size_t i = 0; i < end.size(); ++i) EXPECT_NEAR(end[i], last[i], 2e-3 * 0.3) << i;  // increments differ: path of friction
  EXPECT_EQ(again.rows()[from - 1].time, whole.rows()[from - 1].time);
  EXPECT_GT(again.rows()[from].time, again.rows()[from - 1].time);
}

class StopAfter : public analysis::Observer {
 public:
  explicit StopAfter(int n) : n_(n) {}
  void converged(const analysis::Increment&) override { --n_; }
  bool stop() override { return n_ <= 0; }

 private:
  int n_;
};

TEST_F(RunTest, StoppingKeepsWhatIsSolvedAndGoesOn) {
  StopAfter stop(4);
  {
    const auto r = solve(pressedFlat, "r.h5", &stop);
    EXPECT_EQ(r.outcome(), "stopped");
    EXPECT_EQ(r.rows().size(), 4u);
  }
  job::runModel(model::parse(pressedFlat), {file(), 1, true, {}});
  EXPECT_EQ(results::Reader(file()).outcome(), "finished");
}

TEST_F(RunTest, ALoosePartIsNamed) {
  const auto text =
      trouble(with(pressedFlat, "\"supports\": {\"base\": {\"on\": \"block.bottom\", \"fix\": [\"x\", \"y\"]}},", ""));
  EXPECT_NE(text.find("part 'block' can move"), std::string::npos) << text;
  const auto report = checks::readiness(model::parse(with(pressedFlat, "\"fix\": [\"x\", \"y\"]", "\"fix\": [\"y\"]")));
  ASSERT_FALSE(report.findings.empty());
  EXPECT_TRUE(report.findings[0].fault);
  EXPECT_NE(report.findings[0].what.find("free to move (along x)"), std::string::npos) << report.findings[0].what;
}

TEST_F(RunTest, ALoosePartIsNamedWhereFactorsAreOfSinglePrecision) {
  const auto text = trouble(R"({"anvil": 1, "space": "solid", "materials": {"m": {"elastic": {"E": 200000, "nu": 0.3}}},
    "parts": {"low": {"material": "m", "element": "hex8", "shape": {"rectangle": {"at": [0, 0], "size": [10, 10]}},
        "extrude": {"depth": 10, "count": 13}, "mesh": {"count": [13, 13]}},
      "free": {"material": "m", "element": "hex8", "shape": {"rectangle": {"at": [0, 12], "size": [10, 10]}},
        "extrude": {"depth": 10, "count": 6}, "mesh": {"count": [6, 6]}}},
    "contacts": {"c": {"between": ["low.top", "free.bottom"], "friction": 0.1}}, "steps": {"s": {}},
    "supports": {"b": {"on": "low.bottom", "fix": ["x", "y", "z"]}},
    "motions": {"side": {"on": "low.top", "along": "x", "course": 0.01}}})");
  EXPECT_NE(text.find("part 'free' can move or turn freely (along x, along y and along z)"), std::string::npos) << text;
}

TEST_F(RunTest, AStepThatCannotConvergeSaysWhereAndWhyAndKeepsTheRest) {
  const char* overloaded = R"({
    "materials": {"m": {"elastic": {"E": 200000, "nu": 0.3}, "plastic": {"yield": 200}}},
    "parts": {"bar": {"material": "m", "element": "quad4", "shape": {"rectangle": {"at": [0, 0], "size": [10, 2]}}, "mesh": {
      "count": [4, 2]}}},
    "steps": {"load": {"increments": {"smallest": 1e-4}}},
    "supports": {"end": {"on": "bar.left", "fix": "x"}, "low": {"on": "bar.bottom", "fix": "y"}},
    "loads": {"pull": {"on": "bar.right", "kind": "force", "along": "x", "course": 1000}}})";
  const auto text = trouble(overloaded);
  EXPECT_NE(text.find("step 'load': increment"), std::string::npos) << text;
  EXPECT_NE(text.find("is kept"), std::string::npos) << text;
  const results::Reader r(file());
  EXPECT_EQ(r.outcome(), "failed");
  const double carried = r.history("loads/pull/value").back(), limit = 2 / std::sqrt(3.) * 200 * 2;  // plane strain
  EXPECT_NEAR(carried / limit, 1, 0.01) << "the limit load is what it got to";
}

TEST_F(RunTest, BadInputIsAnsweredWithASentence) {
  const auto says = [&](const std::string& from, const std::string& to, const std::string& words) {
    const auto text = trouble(with(pressedFlat, from, to));
    EXPECT_NE(text.find(words), std::string::npos) << text;
  };
  says("\"yield\": 260, \"tangent\": 2000", "\"tangent\": 2000", "no yield stress");
  says("\"yield\": 260, \"tangent\": 2000", "\"rows\": [[0, 250], [0.1, 300], [0.05, 350]]", "the curve turns back");
  says("\"yield\": 260, \"tangent\": 2000", "\"rows\": [[0, 250], [0.1, 240]]", "softens");
  says("\"yield\": 260, \"tangent\": 2000", "\"rows\": [[0.2, 250], [0.3, 260]]", "does not begin at yield");
  says("\"material\": \"steel\"", "\"material\": \"stel\"", "Did you mean 'steel'?");
  says("block.top", "block.topp", "Did you mean 'block.top'?");
  says("\"E\": 205000", "\"E\": \"205 kg\"", "does not measure a stress");
  says("\"nu\": 0.3", "\"nu\": 0.5", "below 0.5");
  says("\"press\": -0.3", "\"pres\": -0.3", "Did you mean 'press'?");
  says("\"friction\": 0.1", "\"friction\": -1", "friction coefficient");
}

TEST_F(RunTest, UnwritableFoldersAndStrangeFilesAreNamed) {
  try {
    job::runModel(model::parse(pressedFlat), {"/proc/nowhere/r.h5", 1, false, {}});
    FAIL();
  } catch (const Error& e) {
    EXPECT_NE(std::string(e.what()).find("cannot be created"), std::string::npos) << e.what();
  }
  std::ofstream(file("junk.h5")) << "not a results file";
  EXPECT_THROW(results::Reader{file("junk.h5")}, Error);
  EXPECT_THROW(results::Reader{file("missing.h5")}, Error);
}

TEST_F(RunTest, OverlapAtTheStartIsSaidAndResolved) {
  class Notes : public analysis::Observer {
   public:
    void warned(const std::string& t) override { text += t; }
    std::string text;
  } notes;
  const auto r = solve(with(with(pressedFlat, "\"start\": [0, 10.1], \"path\": [{\"arc\": [10, 10.1], \"center\": [5, 10.1]}]",
                                 "\"start\": [0, 9.95], \"path\": [{\"arc\": [10, 9.95], \"center\": [5, 9.95]}]"),
                            "\"press\": -0.3", "\"press\": -0.1"),
                       "r.h5", &notes);
  EXPECT_NE(notes.text.find("starts with an overlap"), std::string::npos);
  EXPECT_EQ(r.outcome(), "finished");
}

TEST_F(RunTest, SymmetryHalfEqualsTheWhole) {
  const char* half = R"({"space": "plane strain",
    "materials": {"m": {"elastic": {"E": 1000, "nu": 0.3}}},
    "parts": {"b": {"material": "m", "shape": {"rectangle": {"at": [0, 0], "size": [4, 4]}}, "mesh": {"size": 1}}},
    "steps": {"s": {"increments": {"first": 0.5, "largest": 0.5}}},
    "supports": {"mid": {"on": "b.left", "fix": "normal"}, "low": {"on": "b.bottom", "fix": ["x", "y"]}},
    "loads": {"p": {"on": "b.top", "course": 100}}})";
  const auto a = solve(half, "half.h5");
  const auto whole = with(with(half, "\"at\": [0, 0], \"size\": [4, 4]", "\"at\": [-4, 0], \"size\": [8, 4]"),
                          "\"mid\": {\"on\": \"b.left\", \"fix\": \"normal\"}, ", "");
  const auto b = solve(whole, "whole.h5");
  EXPECT_NEAR(2 * a.history("supports/low/force y").back(), b.history("supports/low/force y").back(), 1e-4);
  EXPECT_NEAR(b.history("supports/low/force y").back(), 800, 120) << "a follower pressure on a spread top";
  EXPECT_NEAR(results::statistics(results::nodalField(a, "displacement y", 1), {}).least,
              results::statistics(results::nodalField(b, "displacement y", 1), {}).least, 1e-6);
}

TEST_F(RunTest, SupportsAlongTheNormalOfASlantedEdge) {
  // a bar turned by 30 degrees: pulled along its axis it must be in uniaxial stress
  const char* turned = R"J({"space": "plane stress",
    "parameters": {"c": "=cos(pi/6)", "s": "=sin(pi/6)"},
    "materials": {"m": {"elastic": {"E": 1000, "nu": 0.3}}},
    "parts": {"b": {"material": "m", "mesh": {"count": [4, 2]}, "shape": {"profile": {"start": [0, 0], "path": [
      {"line": ["=8*c", "=8*s"], "name": "low"}, {"line": ["=8*c-2*s", "=8*s+2*c"], "name": "end"}, {"line": ["=-2*s",
        "=2*c"], "name": "high"}, {"line": [0, 0], "name": "foot"}]}}}},
    "steps": {"s": {}}, "supports": {"foot": {"on": "b.foot", "fix": "normal"}, "side": {"on": "b.low", "fix": "normal"}},
    "motions": {"pull": {"on": "b.end", "along": "normal", "course": 0.8}}})J";
  const auto r = solve(turned);
  const auto mises = results::pointField(r, "von Mises stress", r.rows().size() - 1);
  const double stretch = 1.1,
               expected = 1000 * std::log(stretch) / std::pow(stretch, 1 - 2 * 0.3);  // true stress of Hencky elasticity
  for (double v : mises) EXPECT_NEAR(v, expected, 1e-3 * expected);
}

TEST_F(RunTest, ReleasedSupportFadesOverTheStep) {
  const char* text = R"({"space": "plane stress",
    "materials": {"m": {"elastic": {"E": 1000, "nu": 0}}},
    "parts": {"b": {"material": "m", "shape": {"rectangle": {"at": [0, 0], "size": [10, 1]}}, "mesh": {"count": [5, 1]}}},
    "steps": {"pull": {}, "free": {}}, "supports": {"foot": {"on": "b.left", "fix": ["x", "y"]}},
    "motions": {"pull": {"on": "b.right", "along": "x", "course": {"pull": 1, "free": "off"}}}})";
  const auto r = solve(text);
  EXPECT_NEAR(r.history("supports/foot/force x").back(), 0, 1e-4);
  const auto u = r.field("displacement", r.rows().size() - 1);
  for (float v : u) EXPECT_NEAR(v, 0, 1e-5) << "elastic: nothing stays";
}

/// Two blocks on top of each other with meshes that do not match; {kind}, {load} and {extra} are filled in.
std::string stacked(const std::string& contact, const std::string& rest) {
  return R"({"space": "plane strain", "materials": {"m": {"elastic": {"E": 1000, "nu": 0}}},
    "parts": {
      "low": {"material": "m", "element": "quad4", "shape": {"rectangle": {"at": [0, 0], "size": [6, 3]}}, "mesh": {"count": [4,
        2]}},
      "high": {"material": "m", "element": "quad4", "shape": {"rectangle": {"at": [0, 3], "size": [6, 3]}}, "mesh": {"count": [5,
        2]}}},
    "contacts": {"seam": {"between": ["high.bottom", "low.top"], )" +
         contact + R"(}},
    )" +
         (rest.find("\"supports\"") == std::string::npos
              ? "\"supports\": {\"base\": {\"on\": \"low.bottom\", \"fix\": [\"x\", \"y\"]}}, "
              : "") +
         rest + "}";
}

TEST_F(RunTest, TiedSurfacesCarryTensionUniformly) {
  const auto r =
      solve(stacked("\"kind\": \"tied\"", R"("steps": {"s": {}}, "loads": {"pull": {"on": "high.top", "course": -10}})"));
  for (double v : results::pointField(r, "stress y", r.rows().size() - 1)) EXPECT_NEAR(v, 10, 0.15);
  EXPECT_NEAR(r.history("contacts/seam/force y").back(), -r.history("supports/base/force y").back() * -1, 60 * 2e-2);
  EXPECT_LT(r.history("contacts/seam/pressure times area").back(), -55) << "tension";
}

TEST_F(RunTest, TiedSurfacesCarryShear) {
  const auto r = solve(stacked(
      "\"kind\": \"tied\"",
      R"("steps": {"s": {}}, "supports": {"base": {"on": "low.bottom", "fix": ["x", "y"]}, "lid": {"on": "high.top", "fix": "y"}},
    "motions": {"shift": {"on": "high.top", "along": "x", "course": 0.3}})"));
  EXPECT_NEAR(r.history("contacts/seam/friction force x").back(), -r.history("motions/shift/force x").back(),
              1e-3 * std::abs(r.history("motions/shift/force x").back()));
  EXPECT_GT(std::abs(r.history("motions/shift/force x").back()), 50);
}

TEST_F(RunTest, RoughNeverSlidesSlidingNeverOpens) {
  const std::string rest = R"("steps": {"press": {}, "go": {}}, "supports": {"base": {"on": "low.bottom", "fix": ["x", "y"]}},
    "motions": {"down": {"on": "high.top", "along": "y", "course": {"press": -0.06, "go": "hold"}}, "shift": {"on": "high.top",
      "along": "x", "course": {"press": 0, "go": 0.3}}})";
  const auto rough = solve(stacked("\"kind\": \"rough\"", rest), "rough.h5");
  const auto smooth = solve(stacked("\"kind\": \"touching\"", rest), "smooth.h5");
  EXPECT_GT(std::abs(rough.history("motions/shift/force x").back()), 20);
  EXPECT_LT(std::abs(smooth.history("motions/shift/force x").back()), 0.01 * 60)
      << "only what the tilted rim of the overhang gives";
  const auto hung = solve(
      stacked("\"kind\": \"sliding\"",
              R"("steps": {"s": {}}, "supports": {"base": {"on": "low.bottom", "fix": ["x", "y"]}, "wall": {"on": "high.left",
        "fix": "x"}},
    "motions": {"up": {"on": "high.top", "along": "y", "course": 0.06}})"),
      "hung.h5");
  EXPECT_NEAR(hung.history("motions/up/force y").back(), 60, 2) << "hangs on: 1000 x 0.06/6 x 6";
}

TEST_F(RunTest, InterferenceGivenAsANumberPressesTheBlocks) {
  const auto r = solve(stacked(
      "\"interference\": 0.06",
      R"("steps": {"s": {}}, "supports": {"base": {"on": "low.bottom", "fix": ["x", "y"]}, "lid": {"on": "high.top", "fix": ["x",
        "y"]}})"));
  EXPECT_NEAR(r.history("contacts/seam/mean pressure").back(), 10, 0.3);
}

TEST_F(RunTest, AGapIsClosedWithoutStrainWhenAsked) {
  auto text = with(
      stacked("\"start\": {\"close within\": 0.05}",
              R"("steps": {"s": {}}, "supports": {"base": {"on": "low.bottom", "fix": ["x", "y"]}, "wall": {"on": "high.left",
        "fix": "x"}},
    "loads": {"press": {"on": "high.top", "course": 10}})"),
      "\"at\": [0, 3]", "\"at\": [0, 3.04]");
  const auto r = solve(text);
  for (double v : results::pointField(r, "stress y", r.rows().size() - 1)) EXPECT_NEAR(v, -10, 0.2);
  const auto u = r.field("displacement", r.rows().size() - 1);
  for (size_t i = 1; i < u.size(); i += 2) EXPECT_GT(u[i], -0.07F) << "no way lost in the gap";
}

TEST_F(RunTest, StabilisationBringsALoosePartToRestAndSaysWhatItTook) {
  class Notes : public analysis::Observer {
   public:
    void warned(const std::string& t) override { text += t; }
    std::string text;
  } notes;
  auto text = with(stacked("\"friction\": 0.3", R"("steps": {"s": {}}, "stabilisations": {"hold": {"on": "high"}},
    "loads": {"weight": {"on": "high.top", "kind": "force", "along": [0, -1], "course": 30}})"),
                   "\"at\": [0, 3]", "\"at\": [0, 3.2]");
  const auto r = solve(text, "r.h5", &notes);
  EXPECT_NEAR(r.history("contacts/seam/force y").back(), 30, 1e-3) << "viscous force has faded";
  EXPECT_NE(notes.text.find("stabilisation has taken up"), std::string::npos) << notes.text;
}

TEST_F(RunTest, ThreadsDoNotChangeTheAnswer) {
  const auto one = solve(pressedFlat, "one.h5");
  job::runModel(model::parse(pressedFlat), {file("two.h5"), 2, false, {}});
  const results::Reader two(file("two.h5"));
  ASSERT_EQ(one.rows().size(), two.rows().size());
  const auto u = one.restart(one.rows().size() - 1).at("displacement"), v = two.restart(two.rows().size() - 1).at("displacement");
  for (size_t i = 0; i < u.size(); ++i) EXPECT_NEAR(u[i], v[i], 1e-9 * 0.3);
}

TEST_F(RunTest, RigidToolTurnsByAFiniteAngleAndItsTorqueBalancesFriction) {
  // a rigid drum of radius 10 pressed a little into a block's hollow and turned: torque = friction traction times radius
  const char* drum = R"J({"space": "plane strain", "materials": {"m": {"elastic": {"E": 1000, "nu": 0.3}}},
    "parts": {
      "seat": {"material": "m", "element": "quad4", "shape": {"ring": {"inner": 10, "outer": 14, "from": 240, "to": 300}},
        "mesh": {"count": [4, 24]}},
      "drum": {"rigid": true, "pivot": [0, 0], "shape": {"profile": {"start": [-10, 0], "path": [{"arc": [10, 0],
        "center": [0, 0]}]}}}},
    "contacts": {"rub": {"between": ["seat.inner", "drum"], "friction": 0.2}},
    "steps": {"press": {}, "turn": {}}, "supports": {"base": {"on": "seat.outer", "fix": ["x", "y"]}},
    "motions": {"down": {"on": "drum", "along": "y", "course": {"press": -0.02, "turn": "hold"}}, "turn": {"on": "drum",
      "along": "turn", "course": {"press": 0, "turn": "30 deg"}}}})J";
  const auto r = solve(drum);
  const double torque = r.history("motions/turn/moment").back(),
               friction = std::abs(r.history("contacts/rub/friction times area").back());
  EXPECT_NEAR(std::abs(torque), friction * 10, 2e-2 * friction * 10);
  EXPECT_NEAR(friction, 0.2 * r.history("contacts/rub/pressure times area").back(), 1e-3 * friction) << "slides everywhere";
}

}  // namespace

TEST(Colours, AHubOfMoreThanSixtyFourCellsIsSolved) {
  // a disc turned of wedges: every node of its axis belongs to 70 of them
  const auto s = solved(R"({"anvil": 1, "space": "solid", "materials": {"m": {"elastic": {"E": 1000, "nu": 0}}},
    "parts": {"disc": {"material": "m", "element": "hex8", "shape": {"rectangle": {"at": [0, 0], "size": [5, 2]}}, "revolve": {
      "angle": 360, "count": 70}, "mesh": {"count": [2, 1]}}},
    "steps": {"press": {"increments": {"first": 1, "largest": 1}}}, "supports": {"below": {"on": "disc.bottom", "fix": ["x", "y",
      "z"]}},
    "motions": {"press": {"on": "disc.top", "along": "y", "course": -0.02}}})");
  const double area = 70 * 0.5 * 25 * std::sin(2 * std::numbers::pi / 70);
  EXPECT_NEAR(s.last("motions/press/force y") / (1000 * std::log(0.99) / 0.99 * area), 1, 1e-6);
}
