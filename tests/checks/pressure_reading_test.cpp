// Elements too long for the pressure of a contact between round faces.
#include "core/checks/pressure_reading.hpp"

#include <gtest/gtest.h>

#include <fmt/format.h>
#include <cmath>

#include "core/model/document.hpp"
#include "core/model/json.hpp"

using namespace anvil;

namespace {

/// A half disc that a rigid plane presses.
std::string said(double size, const std::string& acting, const std::string& space = "plane strain", double radius = 10) {
  const auto d = model::parse(fmt::format(R"({{"anvil": 1, "space": "{}",
    "materials": {{"steel": {{"elastic": {{"E": 200000, "nu": 0.3}}}}}},
    "parts": {{"roller": {{"material": "steel", "mesh": {{"size": {}}},
      "shape": {{"disc": {{"center": [0, {}], "radius": {}, "sector": "half"}}}}}},
      "floor": {{"rigid": true, "shape": {{"profile": {{"start": [20, 0], "path": [{{"line": [-20, 0]}}]}}}}}}}},
    "contacts": {{"c": {{"between": ["roller.rim", "floor"]}}}}, "steps": {{"s": {{}}}},
    "supports": {{"mid": {{"on": "roller.left", "fix": ["x"]}}}}, "stabilisations": {{"calm": {{"on": ["roller"]}}}}, {}}})",
                                          space, size, radius, radius, acting));
  std::string words;
  for (const auto& f : checks::readiness(d).findings)
    if (f.what.find("Hertz") != std::string::npos) words += f.where + ": " + f.what + " " + f.remedy;
  return words;
}

TEST(PressureReading, HalfWidthsAreHertzs) {
  // two steel cylinders of 10 mm radius under 100 N/mm: textbook 0.0842 mm; two balls under 1000 N: 0.3236 mm
  const double modulus = 1 / (2 * 0.91 / 200000);
  EXPECT_NEAR(checks::lineHalfWidth(100, 5, modulus), std::sqrt(4 * 100 * 5 * (2 * 0.91 / 200000) / M_PI), 1e-12);
  EXPECT_NEAR(checks::lineHalfWidth(100, 5, modulus), 0.07612, 1e-4);
  EXPECT_NEAR(checks::pointHalfWidth(1000, 5, modulus), 0.3243, 1e-3);
}

TEST(PressureReading, CoarseElementsUnderAForceAreDoubtedAndFineOnesAreNot) {
  const std::string force = R"("loads": {"f": {"on": "roller.left", "kind": "force", "along": [0, -1], "course": 1000}})";
  // a = sqrt(4 · 1000 · 10 / (π 219780)) = 0.24 mm
  const auto coarse = said(1, force);
  EXPECT_NE(coarse.find("contacts/c"), std::string::npos) << coarse;
  EXPECT_NE(coarse.find("over 0.48 mm at most"), std::string::npos) << coarse;
  EXPECT_EQ(said(0.1, force), "");
  EXPECT_EQ(said(1, R"("loads": {"f": {"on": "roller.left", "kind": "force", "along": [0, -1], "course": 200000}})"), "");
}

TEST(PressureReading, AMotionThatPressesDeepIsNotDoubted) {
  const auto moved = [](double down) {
    return fmt::format(R"("motions": {{"m": {{"on": "roller.left", "along": "y", "course": {}}}}})", -down);
  };
  EXPECT_NE(said(1, moved(0.01)), "");  // the root of 10 · 0.01 is 0.3
  EXPECT_EQ(said(1, moved(1)), "");     // 3.2 mm
}

TEST(PressureReading, OfABallTheContactIsAPoint) {
  const std::string force = R"("loads": {"f": {"on": "roller.left", "kind": "force", "along": [0, -1], "course": 1000}})";
  EXPECT_NE(said(1, force, "axisymmetric").find("over 0.65 mm"), std::string::npos) << said(1, force, "axisymmetric");
}

}  // namespace
