// What things come to, against sums by hand.
#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "core/checks/readiness.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"

using namespace anvil;

namespace {

/// The effects of a model that is given by all but its material.
class Effects : public testing::Test {
 protected:
  void read(const std::string& rest) {
    const auto d = model::parse(R"({"anvil": 1, "materials": {"steel": {"elastic": {"E": 200000, "nu": 0.3},
      "density": "7850 kg/m3", "expansion": 12e-6}}, )" +
                                rest + "}");
    const auto report = checks::readiness(d);
    all_ = report.effects;
    for (const auto& f : report.findings)
      if (f.fault) faults_ += f.what + "\n";
  }
  const checks::Effect& effect(const std::string& thing, const std::string& label) const {
    static const checks::Effect none{"none", {}};
    const auto it = all_.find(thing);
    if (it != all_.end())
      for (const auto& e : it->second)
        if (e.label == label) return e;
    ADD_FAILURE() << thing << " has no " << label << "; faults: " << faults_;
    return none;
  }
  void near(const std::string& thing, const std::string& label, const std::vector<double>& wanted, Kind kind,
            double within = 1e-6) const {
    const auto& e = effect(thing, label);
    ASSERT_EQ(e.numbers.size(), wanted.size()) << thing << " " << label;
    for (size_t i = 0; i < wanted.size(); ++i)
      EXPECT_NEAR(e.numbers[i], wanted[i], within * std::max(1., std::abs(wanted[i]))) << thing << " " << label;
    EXPECT_EQ(e.kind, kind);
  }
  std::map<std::string, std::vector<checks::Effect>> all_;
  std::string faults_;
};

const char* const plainBlock = R"("block": {"material": "steel", "shape": {"rectangle": {"at": [0, 0], "size": [20, 10]}},
  "mesh": {"size": 5}})";

TEST_F(Effects, OfAPlanePart) {
  read(std::string(R"("thickness": 4, "parts": {)") + plainBlock + R"(}, "steps": {"load": {}},
    "regions": {"side": {"edges": ["block.right"]}},
    "supports": {"s": {"on": "block.left", "fix": ["x", "y"]}, "low": {"on": "block.bottom", "fix": ["y"]},
                 "point": {"on": "block.left & block.bottom", "fix": ["x"]}},
    "loads": {"p": {"on": "block.right", "course": 10}, "f": {"on": "side", "kind": "force", "along": [3, 4], "course": -50}},
    "temperatures": {"hot": {"on": ["block"], "rise": 100}},
    "watch": {"w": {"part": "block", "at": [19, 9]}})");
  near("parts/block", "elements", {8}, Kind::number);
  near("parts/block", "size", {20, 10}, Kind::length);
  near("parts/block", "volume", {800}, Kind::volume);
  near("parts/block", "mass", {7.85e-9 * 800}, Kind::mass, 1e-12);
  near("regions/side", "area", {40}, Kind::area);
  EXPECT_EQ(effect("supports/s", "leaves free").words, "nothing");
  EXPECT_EQ(effect("supports/low", "leaves free").words, "along x");
  EXPECT_EQ(effect("supports/point", "leaves free").words, "along y and turning");
  near("loads/p", "area", {40}, Kind::area);
  near("loads/p", "resultant", {-400, 0}, Kind::force);
  near("loads/f", "resultant", {-30, -40}, Kind::force);
  near("loads/f", "traction", {-50. / 40}, Kind::stress);
  near("temperatures/hot", "free strain at the farthest", {0.12}, Kind::percent);
  near("watch/w", "node followed, at", {20, 10}, Kind::length);
}

TEST_F(Effects, OfABodyOfRevolution) {
  read(R"("space": "axisymmetric", "parts": {"tube": {"material": "steel", "shape": {"rectangle": {"at": [10, 0],
    "size": [5, 20]}}, "mesh": {"size": 5}}}, "steps": {"load": {}},
    "supports": {"s": {"on": "tube.left", "fix": ["r"]}, "b": {"on": "tube.bottom", "fix": ["z"]}},
    "loads": {"in": {"on": "tube.left", "course": 3}, "top": {"on": "tube.top", "course": 2}})");
  const double pi = std::numbers::pi;
  near("parts/tube", "volume", {pi * (225 - 100) * 20}, Kind::volume);
  near("loads/in", "area", {2 * pi * 10 * 20}, Kind::area);
  near("loads/in", "resultant", {0, 0}, Kind::force, 1e-9);  // all round it cancels
  near("loads/top", "resultant", {0, -2 * pi * (225 - 100)}, Kind::force);
  EXPECT_EQ(effect("supports/s", "leaves free").words, "along z");
  EXPECT_EQ(effect("supports/b", "leaves free").words, "nothing");
}

TEST_F(Effects, OfContactsAndMotions) {
  read(std::string(R"("parts": {)") + plainBlock + R"(,
      "top": {"material": "steel", "shape": {"rectangle": {"at": [0, 10.25], "size": [20, 5]}}, "mesh": {"size": 5}},
      "tool": {"rigid": true, "shape": {"profile": {"start": [-10, 16], "path": [{"line": [30, 16]}]}}}},
    "contacts": {"c": {"between": ["block.top", "top.bottom"]}, "t": {"between": ["top.top", "tool"]}},
    "steps": {"down": {}, "up": {}}, "supports": {"s": {"on": "block.bottom", "fix": ["x", "y"]}},
    "motions": {"push": {"on": "tool", "along": "y", "course": {"down": -2, "up": 1}}},
    "stabilisations": {"calm": {"on": ["top"]}})");
  near("contacts/c", "area of block.top", {20}, Kind::area);
  near("contacts/c", "area of top.bottom", {20}, Kind::area);
  near("contacts/c", "gap at the start", {0.25, 0.25}, Kind::length);
  near("contacts/t", "gap at the start", {0.75, 0.75}, Kind::length);
  EXPECT_EQ(effect("contacts/t", "against").words, "rigid 'tool'");
  near("motions/push", "farthest travel", {-2}, Kind::length);
}

TEST_F(Effects, OfSolidsAndBolts) {
  read(R"("space": "solid", "parts": {
      "shaft": {"material": "steel", "solid": [{"cylinder": {"from": [0, 0, 0], "to": [0, 0, 40], "radius": 5}}],
        "mesh": {"size": 1.2}}},
    "steps": {"snug": {}, "tight": {}}, "supports": {"s": {"on": "shaft.cylinder.start", "fix": ["x", "y", "z"]},
      "far": {"on": "shaft.cylinder.end", "fix": ["normal"]}},
    "bolts": {"b": {"on": ["shaft.cylinder.side"], "force": {"snug": 1000, "tight": 6000}}})");
  const double pi = std::numbers::pi;
  near("parts/shaft", "volume", {pi * 25 * 40}, Kind::volume, 0.02);
  near("bolts/b", "shank across", {pi * 25}, Kind::area, 0.02);
  near("bolts/b", "its length", {40}, Kind::length);
  near("bolts/b", "stress at the greatest force", {6000 / (pi * 25)}, Kind::stress, 0.02);
  near("bolts/b", "stretch there", {6000 * 40 / (200000 * pi * 25)}, Kind::length, 0.02);
  EXPECT_EQ(effect("supports/far", "leaves free").words, "along x, along y and turning about z");
}

}  // namespace
