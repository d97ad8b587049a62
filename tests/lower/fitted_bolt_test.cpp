// Bolts that name their holes: as long as these, as thick as they allow, and following their changes; in any unit and place.
#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/checks/fit_bolt.hpp"
#include "core/lower/lower.hpp"
#include "core/model/document.hpp"
#include "core/model/features.hpp"
#include "core/model/json.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"
#include "meshes.hpp"
#include "run/small_runs.hpp"
#include "words.hpp"

using namespace anvil;

namespace {

const char* const joint = R"({
  "anvil": 1, "space": "solid", "parameters": {"t": 10, "r": 4.5},
  "materials": {"m": {"elastic": {"E": 200000, "nu": 0.3}}},
  "parts": {
    "low": {"material": "m", "mesh": {"size": 8}, "solid": [{"box": {"at": [0, 0, -8], "size": [30, 30, 8]}, "name": "b"}, {
      "cylinder": {"from": [15, 15, -9], "to": [15, 15, 1], "radius": "=r"}, "how": "cut", "name": "hole"}]},
    "high": {"material": "m", "mesh": {"size": 8}, "solid": [{"box": {"size": [30, 30, "=t"]}, "name": "b"}, {"cylinder": {
      "from": [15, 15, -1], "to": [15, 15, "=t+1"], "radius": "=r"}, "how": "cut", "name": "hole"}]},
    "bolt": {"material": "m", "mesh": {"size": 4}, "solid": {"bolt": {"through": ["low.hole.side", "high.hole.side"]},
      "name": "bolt"}}
  },
  "steps": {"s": {}}
})";

std::pair<double, double> reach(const mesh::Mesh& m, const std::string& face, int axis = 2) {
  double low = 1e300, high = -1e300;
  if (!m.face(face)) return {0, 0};
  for (int n : m.nodesOf(m.face(face)->facets))
    low = std::min(low, m.x[size_t(n)][axis]), high = std::max(high, m.x[size_t(n)][axis]);
  return {low, high};
}

/// Of the shank, about the holes' axis.
double radius(const mesh::Mesh& m) {
  double most = 0;
  for (int n : m.nodesOf(m.face("bolt.bolt.shank")->facets))
    most = std::max(most, (m.x[size_t(n)].head<2>() - Eigen::Vector2d(15, 15)).norm());
  return most;
}

}  // namespace

TEST(FittedBolt, IsAsLongAsItsHolesAndAsThickAsTheyAllow) {
  const auto m = meshOf(joint);
  EXPECT_NEAR(reach(m, "bolt.bolt.shank").first, -8, 1e-9);
  EXPECT_NEAR(reach(m, "bolt.bolt.shank").second, 10, 1e-9);
  EXPECT_NEAR(reach(m, "bolt.bolt.head seat").first, 10, 1e-9) << "the head lies further along z";
  EXPECT_NEAR(reach(m, "bolt.bolt.nut seat").first, -8, 1e-9);
  EXPECT_NEAR(radius(m), 4, 1e-6) << "8 mm in a hole of 9";
}

TEST(FittedBolt, FollowsWhatItGoesThrough) {
  const auto m = meshOf(with(with(joint, "\"t\": 10", "\"t\": 14"), "\"r\": 4.5", "\"r\": 6.5"));
  EXPECT_NEAR(reach(m, "bolt.bolt.head seat").first, 14, 1e-9);
  EXPECT_NEAR(radius(m), 6, 1e-6);
  // what is given stays
  const auto given = meshOf(with(joint, "\"high.hole.side\"]", "\"high.hole.side\"], \"diameter\": 6, \"to\": [15, 15, -12]"));
  EXPECT_NEAR(reach(given, "bolt.bolt.nut seat").first, -12, 1e-9);
  EXPECT_NEAR(radius(given), 3, 1e-6);
}

TEST(FittedBolt, FollowsInOtherUnitsAndPlaces) {
  // the whole joint in inches, its plates turned to stand along x
  std::string text = with(joint, "\"space\"", "\"units\": {\"length\": \"in\"}, \"space\"");
  for (const char* part : {"\"low\": {", "\"high\": {", "\"bolt\": {\"material\""})
    text = with(text, part, with(part, "{", "{\"place\": {\"axis\": \"y\", \"angle\": \"90 deg\"}, "));
  const auto m = meshOf(text);
  EXPECT_NEAR(reach(m, "bolt.bolt.head seat", 0).first, 25.4 * 10, 1e-6);
  EXPECT_NEAR(reach(m, "bolt.bolt.nut seat", 0).first, -25.4 * 8, 1e-6);
}

TEST(FittedBolt, HolesAreTakenByNameWhenItIsFittedToOne) {
  auto d = model::parse(joint);
  std::erase_if(d.parts, [](const auto& p) { return p.first == "bolt"; });
  const auto m = analysis::buildMesh(d, model::Quantities(d));
  const auto fit = checks::fitToHole(m, "high.hole.side");
  EXPECT_EQ(fit.holes.size(), 2u);
  const auto name = checks::addBolt(d, fit);
  EXPECT_EQ(d.parts.find(name)->solid.front().bolt->through.size(), 2u);
  const auto again = analysis::buildMesh(d, model::Quantities(d));
  EXPECT_NEAR(reach(again, name + ".bolt.head seat").first, 10, 1e-9);
}

TEST(FittedBolt, FaultsAreSaid) {
  const auto refusal = [](const std::string& text) { return sentence([&] { meshOf(text); }); };
  EXPECT_SAYS(refusal(with(joint, "\"low.hole.side\", \"high", "\"low.hole.sid\", \"high")), "Did you mean 'low.hole.side'?");
  EXPECT_SAYS(refusal(with(joint, "\"low.hole.side\", \"high", "\"low.b.left\", \"high")), "no round face");
  EXPECT_SAYS(refusal(with(joint, "\"low.hole.side\", \"high", "\"lwo.hole.side\", \"high")), "no face of a solid");
  EXPECT_SAYS(refusal(with(joint, "\"from\": [15, 15, -1], \"to\": [15, 15, \"=t+1\"]",
                           "\"from\": [17, 15, -1], \"to\": [17, 15, \"=t+1\"]")),
              "one axis");
}

TEST(FittedBolt, DraftMeshesAreCutAcrossTheirAxis) {
  for (const double diameter : {6., 8., 12.})
    for (const double grip : {2., 3., 4.}) {
      const auto m = meshOf(
          fmt::format(R"({{"space": "solid", "fineness": "draft", "materials": {{"m": {{"elastic": {{"E": 205000, "nu": 0.3}}}}}},
        "parts": {{"b": {{"material": "m", "solid": {{"bolt": {{"from": [0, 0, {}], "to": [0, 0, 0], "diameter": {}}}}}}}}},
        "steps": {{"s": {{}}}}, "bolts": {{"one": {{"on": "b.bolt.shank", "force": 1000}}}}}})",
                      grip * diameter, diameter));
      ASSERT_EQ(m.cuts.size(), 1u) << diameter << " x " << grip;
      EXPECT_NEAR(std::abs(m.cuts.front().axis.z()), 1, 1e-6) << diameter << " x " << grip;
    }
}
