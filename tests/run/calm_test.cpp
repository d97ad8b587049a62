// Stabilisations: what they take is small against what bends, and a body that contact alone holds is named when it gives way.
#include <gtest/gtest.h>

#include "core/base/error.hpp"
#include "run/small_runs.hpp"

using namespace anvil;

namespace {

/// A strip a sixtieth as thick as long, between a punch and two posts, which nothing else holds.
const char* const strip = R"({"space": "plane stress", "materials": {"m": {"elastic": {"E": 1000, "nu": 0.3}}},
  "parts": {"strip": {"material": "m", "element": "quad8", "mesh": {"count": [60, 1]}, "shape": {"rectangle": {"at": [-30, 0],
              "size": [60, 1]}}},
            "left": {"rigid": true, "shape": {"profile": {"start": [-24, -1.1], "path": [{"arc": [-26, -1.1], "center": [-25,
              -1.1]}, {"line": [-26, -4]}]}}},
            "right": {"rigid": true, "shape": {"profile": {"start": [26, -1.1], "path": [{"arc": [24, -1.1], "center": [25,
              -1.1]}, {"line": [24, -4]}]}}},
            "punch": {"rigid": true, "shape": {"profile": {"start": [-1, 2.1], "path": [{"arc": [1, 2.1], "center": [0, 2.1]},
              {"line": [1, 5]}]}}}},
  "contacts": {"on left": {"between": ["strip.bottom", "left"], "friction": 0.1},
               "on right": {"between": ["strip.bottom", "right"], "friction": 0.1},
               "under punch": {"between": ["strip.top", "punch"], "friction": 0.1}},
  "stabilisations": {"calm": {"on": ["strip"]}}, "steps": {"press": {"increments": {"first": 0.05, "largest": 0.05}}},
  "motions": {"down": {"on": "punch", "along": "y", "course": -3}}})";

TEST(Calm, ASlenderPartIsNotBentByItsStabilisation) {
  const auto s = solved(strip);
  size_t half = 0;
  while (s.course.all[half].time < 0.5) ++half;
  const double pushed = std::abs(s.at(half, "motions/down/force y")),
               carried = std::abs(s.at(half, "contacts/on left/force y") + s.at(half, "contacts/on right/force y"));
  EXPECT_GT(pushed, 0.01);
  EXPECT_GT(carried, 0.93 * pushed) << "the rest is the stabilisation's";
  EXPECT_LT(s.last("energy/stabilisation"), 0.1 * s.last("energy/strain"));
  // a beam on two posts under a force in the middle
  const double bent = 3 - 0.2, stiffness = 48 * 1000 * (1. / 12) / (50. * 50 * 50);
  EXPECT_NEAR(std::abs(s.last("motions/down/force y")), stiffness * bent, 0.05 * stiffness * bent);
}

TEST(Calm, WhatWasLearntOfItIsStored) {
  const auto s = solved(strip);
  const size_t middle = s.course.all.size() / 2;
  auto p = lowered(strip);
  RunLog rest;
  analysis::run(*p, rest, &s.course.all[middle].restart);
  ASSERT_EQ(rest.all.size(), s.course.all.size() - middle - 1);
  EXPECT_LT(s.course.all[middle].restart.habits.calm, 1);
  const double whole = s.last("energy/stabilisation");
  EXPECT_NEAR(historyOf(*p, rest.all.back(), "energy/stabilisation"), whole, 1e-9 * whole);
}

TEST(Calm, APartThatTurnsOffItsStandIsNamed) {
  const std::string words = [] {
    try {
      // pressed beside what it stands on
      solved(R"({"space": "plane stress", "materials": {"m": {"elastic": {"E": 1000, "nu": 0.3}}},
        "parts": {"block": {"material": "m", "element": "quad4", "mesh": {"count": [8, 4]}, "shape": {"rectangle": {"at": [0, 0],
                    "size": [8, 4]}}},
                  "stand": {"rigid": true, "shape": {"rectangle": {"at": [-1, -3], "size": [2.5, 3]}}},
                  "punch": {"rigid": true, "shape": {"rectangle": {"at": [6, 4.1], "size": [2, 2]}}}},
        "contacts": {"standing": {"between": ["block.bottom", "stand"]}, "pressing": {"between": ["block.top", "punch"]}},
        "stabilisations": {"calm": {"on": ["block"]}}, "steps": {"press": {}},
        "motions": {"down": {"on": "punch", "along": "y", "course": -6}}})");
    } catch (const Error& e) {
      return std::string(e.what());
    }
    return std::string("it went through");
  }();
  EXPECT_NE(words.find("Part 'block' is held by contact alone"), std::string::npos) << words;
}

}  // namespace
