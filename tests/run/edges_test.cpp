// What acts on edges and corners, against statics and symmetry; faults in words.
#include <gtest/gtest.h>

#include "core/base/error.hpp"
#include "core/lower/lower.hpp"
#include "run/small_runs.hpp"
#include "words.hpp"

using namespace anvil;

namespace {

// a block on its foot, its upper right edge loaded
const char* const heldBlock = R"({
  "anvil": 1, "space": "solid", "geometry": "small",
  "materials": {"m": {"elastic": {"E": 1000, "nu": 0.3}}},
  "parts": {"p": {"material": "m", "element": "hex20", "mesh": {"size": 2}, "solid": {"box": {"size": [4, 4, 6]}, "name": "b"}}},
  "steps": {"s": {}},
  "carriers": {"ground": {"on": "p.b.bottom", "at": [0, 0, 0]}},
  "supports": {"foot": {"on": "ground", "fix": ["x", "y", "z", "turn x", "turn y", "turn z"]}},
  "loads": {"pull": {"on": "p.b.top & p.b.right", "kind": "force", "along": "y", "course": 30}},
  "watch": {"a": {"part": "p", "at": [4, 4, 0]}, "b": {"part": "p", "at": [4, 4, 6]}}
})";

std::string whyNot(const std::string& text) {
  return sentence([&] { (void)lowered(text); });
}

}  // namespace

TEST(OnEdges, AForceIsSharedByLengthAndBalanced) {
  for (const std::string element : {"hex20", "hex8", "tet10"}) {
    const auto s = solved(with(heldBlock, "\"hex20\"", '"' + element + '"'));
    EXPECT_NEAR(s.last("supports/foot/force y"), -30, 1e-6) << element;
    EXPECT_NEAR(s.last("supports/foot/moment z"), -30 * 4, 1e-5) << element;
    EXPECT_NEAR(s.last("supports/foot/moment x"), 30 * 3, 1e-5) << element;
    // both ends of the edge move alike in a mesh that has the block's symmetry; the resultant stands in the middle
    if (element == "tet10") continue;
    EXPECT_NEAR(s.last("watch/a/uy"), s.last("watch/b/uy"), 1e-9 * std::abs(s.last("watch/b/uy"))) << element;
  }
}

TEST(OnEdges, ARegionOfEdgesSharesByTheirLengths) {
  const auto s = solved(with(
      with(heldBlock, "\"steps\"", R"("regions": {"frame": {"edges": ["p.b.top & p.b.right", "p.b.top & p.b.front"]}}, "steps")"),
      "\"p.b.top & p.b.right\", \"kind\"", "\"frame\", \"kind\""));
  EXPECT_NEAR(s.last("supports/foot/force y"), -30, 1e-6);
  // 6 long at x = 4, z = 3 in the mean; 4 long at x = 2, z = 0
  EXPECT_NEAR(s.last("supports/foot/moment z"), -30 * (0.6 * 4 + 0.4 * 2), 1e-5);
  EXPECT_NEAR(s.last("supports/foot/moment x"), 30 * 0.6 * 3, 1e-5);
}

TEST(OnEdges, ACornerTakesAForce) {
  const auto s = solved(with(heldBlock, "\"p.b.top & p.b.right\"", "\"p.b.top & p.b.right & p.b.back\""));
  EXPECT_NEAR(s.last("supports/foot/force y"), -30, 1e-6);
  EXPECT_NEAR(s.last("supports/foot/moment x"), 30 * 6, 1e-5);
  EXPECT_GT(s.last("watch/b/uy"), s.last("watch/a/uy"));
}

TEST(OnEdges, SupportsOnEdgesHoldWithoutStress) {
  // three edges and a corner hold a block as statics wants it: heated, it grows freely
  const auto s = solved(R"({
    "anvil": 1, "space": "solid", "geometry": "small",
    "materials": {"m": {"elastic": {"E": 1000, "nu": 0.3}, "expansion": 1e-3}},
    "parts": {"p": {"material": "m", "element": "hex20", "mesh": {"size": 2}, "solid": {"box": {"size": [4, 4, 6]},
      "name": "b"}}},
    "steps": {"s": {}},
    "supports": {"x": {"on": "p.b.left & p.b.front", "fix": "x"}, "y": {"on": "p.b.bottom & p.b.front", "fix": "y"}, "z": {
      "on": "p.b.front & p.b.left & p.b.bottom", "fix": "z"},
                 "w": {"on": ["p.b.front & p.b.left & p.b.top", "p.b.front & p.b.right & p.b.bottom"], "fix": "z"}},
    "temperatures": {"warm": {"on": "p", "rise": 10}},
    "watch": {"far": {"part": "p", "at": [4, 4, 6]}}
  })");
  EXPECT_NEAR(s.last("watch/far/ux"), 0.04, 1e-8);
  EXPECT_NEAR(s.last("watch/far/uy"), 0.04, 1e-8);
  EXPECT_NEAR(s.last("watch/far/uz"), 0.06, 1e-8);
  for (const char* reaction : {"x/force x", "y/force y", "z/force z", "w/force z"})
    EXPECT_NEAR(s.last(std::string("supports/") + reaction), 0, 1e-6);
}

TEST(OnEdges, ACarrierOnARimTurnsWithIt) {
  // a tube twisted through the rim of its bore: the carrier's moment is what the foot takes
  const auto s = solved(R"({
    "anvil": 1, "space": "solid", "geometry": "small",
    "materials": {"m": {"elastic": {"E": 1000, "nu": 0.3}}},
    "parts": {"p": {"material": "m", "mesh": {"size": 2}, "solid": {"tube": {"to": [0, 0, 10], "inner": 3, "outer": 5},
      "name": "t"}}},
    "steps": {"s": {}},
    "supports": {"foot": {"on": "ground", "fix": ["x", "y", "z", "turn x", "turn y", "turn z"]}},
    "carriers": {"ground": {"on": "p.t.start", "at": [0, 0, 0]}, "rim": {"on": "p.t.end & p.t.inner", "hold": "rigid"}},
    "loads": {"twist": {"on": "rim", "kind": "moment", "along": "z", "course": 50}}
  })");
  EXPECT_NEAR(s.last("supports/foot/moment z"), -50, 1e-4);
}

TEST(OnEdges, APlaneModelsCornerIsWhereTwoEdgesMeet) {
  const auto s = solved(R"({
    "anvil": 1, "space": "plane stress", "geometry": "small",
    "materials": {"m": {"elastic": {"E": 1000, "nu": 0.3}}},
    "parts": {"p": {"material": "m", "shape": {"rectangle": {"at": [0, 0], "size": [8, 4]}}, "mesh": {"size": 2}}},
    "steps": {"s": {}},
    "carriers": {"ground": {"on": "p.left", "at": [0, 0]}},
    "supports": {"foot": {"on": "ground", "fix": ["x", "y", "turn"]}},
    "loads": {"pull": {"on": "p.top & p.right", "kind": "force", "along": "y", "course": 3}}
  })");
  EXPECT_NEAR(s.last("supports/foot/force y"), -3, 1e-8);
  EXPECT_NEAR(s.last("supports/foot/moment"), -24, 1e-6);
}

TEST(OnEdges, FaultsAreSaid) {
  EXPECT_SAYS(whyNot(with(heldBlock, "p.b.top & p.b.right", "p.b.top & p.b.bottom")), "do not meet");
  EXPECT_SAYS(whyNot(with(heldBlock, "p.b.top & p.b.right", "p.b.top & p.b.rihgt")), "p.b.right");
  EXPECT_SAYS(whyNot(with(heldBlock, "p.b.top & p.b.right", "p.b.top & p")), "no single face");
  EXPECT_SAYS(whyNot(with(heldBlock, "\"force\", \"along\": \"y\"", "\"pressure\"")), "has no area");
  EXPECT_SAYS(whyNot(with(heldBlock, "\"p.b.top & p.b.right\"", "[\"p.b.top & p.b.right\", \"p.b.left\"]")),
              "together with edges");
  EXPECT_SAYS(whyNot(with(heldBlock, "\"ground\", \"fix\": [\"x\", \"y\", \"z\", \"turn x\", \"turn y\", \"turn z\"]",
                          "\"p.b.bottom & p.b.left\", \"fix\": \"normal\"")),
              "no normal");
}
