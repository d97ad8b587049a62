// What a run records carries its unit, whatever things are called.
#include <gtest/gtest.h>

#include <map>

#include "small_runs.hpp"

using namespace anvil;

TEST(Histories, EachHasItsUnitWhateverThingsAreCalled) {
  const auto p = lowered(R"({"space": "plane strain", "materials": {"m": {"elastic": {"E": 1000, "nu": 0.3}}},
    "parts": {"low": {"material": "m", "shape": {"rectangle": {"at": [0, 0], "size": [4, 1]}}, "mesh": {"count": [4, 1]}},
      "energy": {"material": "m", "shape": {"rectangle": {"at": [0, 1], "size": [4, 1]}}, "mesh": {"count": [4, 1]}}},
    "contacts": {"pressure seat": {"between": ["low.top", "energy.bottom"]}},
    "carriers": {"travel": {"on": "energy.right"}},
    "steps": {"go": {}},
    "supports": {"work": {"on": "low.bottom", "fix": ["x", "y"]}},
    "motions": {"area": {"on": "energy.left", "along": "x", "course": 0},
      "force": {"on": "travel", "along": "turn", "course": 0.1}},
    "loads": {"moment": {"on": "energy.top", "course": 2},
      "pressure": {"on": "energy.top", "kind": "force", "along": "y", "course": -1}},
    "springs": {"share": {"between": "travel", "along": "turn", "stiffness": 5}},
    "watch": {"force": {"at": [4, 2], "part": "energy"}}})");
  std::map<std::string, std::string> unit;
  for (const auto& h : analysis::histories(*p)) {
    EXPECT_TRUE(unit.emplace(h.name(), coreUnit(h.kind)).second) << h.name();
  }
  EXPECT_EQ(unit.size(), analysis::historyNames(*p).size());
  const std::map<std::string, std::string> expected{{"contacts/pressure seat/area", "mm²"},
                                                    {"contacts/pressure seat/mean pressure", "MPa"},
                                                    {"contacts/pressure seat/pressure times area", "N"},
                                                    {"contacts/pressure seat/friction work", "N mm"},
                                                    {"contacts/pressure seat/greatest penetration", "mm"},
                                                    {"contacts/pressure seat/moment", "N mm"},
                                                    {"supports/work/force x", "N"},
                                                    {"motions/area/travel", "mm"},
                                                    {"motions/force/travel", "rad"},
                                                    {"motions/force/moment", "N mm"},
                                                    {"loads/moment/value", "MPa"},
                                                    {"loads/pressure/value", "N"},
                                                    {"carriers/travel/ux", "mm"},
                                                    {"carriers/travel/turn", "rad"},
                                                    {"springs/share/force", "N mm"},
                                                    {"springs/share/extension", "rad"},
                                                    {"watch/force/uy", "mm"},
                                                    {"energy/strain", "N mm"},
                                                    {"step/share of the loading", ""},
                                                    {"balance/force", ""},
                                                    {"balance/moment", ""},
                                                    {"plasticity/greatest plastic strain", ""}};
  for (const auto& [name, u] : expected) {
    ASSERT_TRUE(unit.contains(name)) << name;
    EXPECT_EQ(unit[name], u) << name;
  }
}
