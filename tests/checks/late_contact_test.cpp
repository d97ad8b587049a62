// Crossing rods and a roll on a plate: where elements are long for how the faces curve, that is told.
#include <gtest/gtest.h>

#include "core/checks/readiness.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/model/part.hpp"
#include "core/model/shapes.hpp"
#include "words.hpp"

using namespace anvil;

namespace {

checks::Report lateRods(const std::string& mesh) {
  const auto rod = [&](const std::string& from, const std::string& to) {
    return R"({"material": "m", "solid": [{"cylinder": {"from": [)" + from + R"(], "to": [)" + to +
           R"(], "radius": 4}}], "mesh": {"size": 3})" + mesh + "}";
  };
  return checks::readiness(model::parse(R"({"space": "solid", "materials": {"m": {"elastic": {"E": 210000, "nu": 0.3}}},
    "parts": {"low": )" + rod("0, -15, 0", "0, 15, 0") +
                                        R"(, "high": )" + rod("-15, 0, 10", "15, 0, 10") + R"(},
    "contacts": {"touch": {"between": ["high.cylinder.side", "low.cylinder.side"]}}, "steps": {"press": {}},
    "supports": {"foot": {"on": ["low.cylinder.start", "low.cylinder.end"], "fix": ["x", "y", "z"]},
      "hand": {"on": ["high.cylinder.start", "high.cylinder.end"], "fix": ["x", "y"]}},
    "motions": {"press": {"on": ["high.cylinder.start", "high.cylinder.end"], "along": "z", "course": -2.3}}})"));
}

std::string doubt(const checks::Report& r) {
  for (const auto& f : r.findings)
    if (f.what.find("long for how the faces curve") != std::string::npos) return f.what;
  return {};
}

}  // namespace

TEST(LateContact, ACoarseMeshOfCrossingRodsIsDoubtedAndAFineOneIsNot) {
  const auto gap = [](const checks::Report& r) {
    for (const auto& fact : r.facts)
      if (const auto at = fact.find("gaps from "); at != std::string::npos) return numberAt(fact.substr(at + 10));
    return -1.;
  };
  const auto coarse = lateRods(""), fine = lateRods(R"(, "near": [{"at": [0, 0, 5], "within": 1.5, "size": 0.5}])");
  EXPECT_NE(doubt(coarse).find("at a point, 2"), std::string::npos) << doubt(coarse);  // the gap as it is drawn
  EXPECT_NEAR(gap(coarse), 2, 0.02) << "contact begins where the rods are, however coarse they are meshed";
  EXPECT_EQ(doubt(fine), "");
  EXPECT_NEAR(gap(fine), 2, 0.005);
}

TEST(LateContact, FlatFacesAndGentleCurvesAreNotDoubted) {
  const std::string model = R"({"space": "plane strain", "materials": {"m": {"elastic": {"E": 210000, "nu": 0.3}}},
    "parts": {"low": {"material": "m", "shape": {"rectangle": {"at": [-9, -6], "size": [18, 6]}}, "mesh": {"size": SIZE}},
      "roll": {"material": "m", "shape": {"disc": {"center": [0, 8.3], "radius": 8}}, "mesh": {"size": SIZE}}},
    "contacts": {"touch": {"between": ["low.top", "roll.rim"]}}, "steps": {"press": {}},
    "supports": {"foot": {"on": "low.bottom", "fix": ["x", "y"]}}, "stabilisations": {"roll": {"on": "roll"}}})";
  const auto of = [&](const std::string& size) {
    auto text = model;
    for (size_t at; (at = text.find("SIZE")) != std::string::npos;) text.replace(at, 4, size);
    return doubt(checks::readiness(model::parse(text)));
  };
  EXPECT_EQ(of("0.5"), "");
  EXPECT_NE(of("4"), "");
}
