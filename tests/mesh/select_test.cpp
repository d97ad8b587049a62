// Faces by rule: cylinders, tangent faces, planes, boxes; regions of a document that use them.
#include <gtest/gtest.h>

#include <algorithm>

#include "core/lower/lower.hpp"
#include "core/mesh/cut.hpp"
#include "core/mesh/select.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/model/quantities.hpp"
#include "meshes.hpp"
#include "run/small_runs.hpp"
#include "words.hpp"

using namespace anvil;
using Eigen::Vector3d;

namespace {

// a plate with a filleted edge and two holes of one diameter, one of them stepped
const char* const drilledPlate = R"({
  "anvil": 1, "space": "solid",
  "materials": {"steel": {"elastic": {"E": 200000, "nu": 0.3}}},
  "parts": {"plate": {"material": "steel", "mesh": {"size": 5}, "solid": [
    {"box": {"size": [40, 10, 20]}, "name": "b"},
    {"fillet": {"between": ["b.top", "b.right"], "radius": 4}, "name": "f"},
    {"cylinder": {"from": [12, -1, 10], "to": [12, 4, 10], "radius": 3}, "how": "cut", "name": "low"},
    {"cylinder": {"from": [12, 4, 10], "to": [12, 11, 10], "radius": 3}, "how": "cut", "name": "high"}]}},
  "regions": {},
  "supports": {"base": {"on": "plate.b.left", "fix": ["x", "y", "z"]}},
  "steps": {"s": {}}
})";

std::vector<std::string> sorted(std::vector<std::string> v) {
  std::sort(v.begin(), v.end());
  return v;
}
}  // namespace

TEST(Select, ACylinderIsFittedAndItsOtherFacesAreFound) {
  const auto m = meshOf(drilledPlate);
  const auto c = mesh::cylinderOf(m, m.face("plate.low.side")->facets);
  EXPECT_TRUE(c.fits());
  EXPECT_NEAR(c.radius, 3, 1e-6);
  EXPECT_NEAR((c.axis - Vector3d::UnitY()).norm(), 0, 1e-6);
  EXPECT_NEAR((c.centre - Vector3d(12, 2, 10)).norm(), 0, 1e-6);
  EXPECT_FALSE(mesh::cylinderOf(m, m.face("plate.b.front")->facets).fits());
  EXPECT_NEAR(mesh::cylinderOf(m, m.face("plate.f.round")->facets).radius, 4, 1e-6) << "a quarter is enough";
  EXPECT_EQ(sorted(mesh::facesOnCylinder(m, m.face("plate.low.side")->facets)),
            (std::vector<std::string>{"plate.high.side", "plate.low.side"}));
}

TEST(Select, TangentFacesGoOnOverRoundingsButNotOverEdges) {
  const auto m = meshOf(drilledPlate);
  EXPECT_EQ(sorted(mesh::facesTangentTo(m, m.face("plate.b.top")->facets)),
            (std::vector<std::string>{"plate.b.right", "plate.b.top", "plate.f.round"}));
  EXPECT_EQ(mesh::facesTangentTo(m, m.face("plate.b.left")->facets), (std::vector<std::string>{"plate.b.left"}));
}

TEST(Select, RegionsByRuleSurviveAnotherMesh) {
  const std::string rules = with(drilledPlate, R"("regions": {})", R"("regions": {
    "hole": {"cylinder of": "plate.low.side"}, "skin": {"tangent to": "plate.b.top"}, "floor": {"plane": {"at": [0, 0, 0],
      "normal": [0, 1, 0], "within": 0.01}},
    "end": {"box": {"from": [-1, -1, -1], "to": [0.1, 11, 21]}, "edges": "plate.b.front"}})");
  for (const std::string size : {"5", "3"}) {
    const auto d = model::parse(with(rules, "\"size\": 5", "\"size\": " + size));
    const auto m = analysis::buildMesh(d, model::Quantities(d));
    const auto area = [&](const std::string& region) { return areaOf(m, analysis::facetsOf({region}, d, m, "here")); };
    const auto faces = [&](std::vector<std::string> names) { return areaOf(m, analysis::facetsOf(names, d, m, "here")); };
    EXPECT_NEAR(area("hole"), faces({"plate.low.side", "plate.high.side"}), 1e-9);
    EXPECT_NEAR(area("skin"), faces({"plate.b.right", "plate.b.top", "plate.f.round"}), 1e-9);
    EXPECT_NEAR(area("floor"), faces({"plate.b.bottom"}), 1e-9);
    EXPECT_NEAR(area("end"), faces({"plate.b.left", "plate.b.front"}), 1e-9) << "named faces and found ones together";
  }
}

TEST(Select, RulesThatFindNothingSaySo) {
  const auto says = [](const std::string& region, const std::string& words, const std::string& where) {
    const auto d = model::parse(with(drilledPlate, R"("regions": {})", R"("regions": {"r": )" + region + "}"));
    const auto m = analysis::buildMesh(d, model::Quantities(d));
    const auto e = sentence([&] { analysis::facetsOf({"r"}, d, m, "here"); });
    EXPECT_NE(e.find(words), std::string::npos) << e;
    EXPECT_NE(e.find(where), std::string::npos) << e;
  };
  says(R"({"cylinder of": "plate.b.top"})", "is no cylinder", "regions/r/cylinder of");
  says(R"({"plane": {"at": [0, 5, 0], "normal": [0, 1, 0], "within": 0.01}})", "no face lies in the plane", "regions/r/plane");
  says(R"({"plane": {"at": [0, 5, 0], "normal": [0, 0, 0]}})", "not all zero", "regions/r/plane/normal");
  says(R"({"box": {"from": [100, 0, 0], "to": [110, 1, 1]}})", "no face lies in the box", "regions/r/box");
  says(R"({"box": {"from": [0, 0, 0], "to": [1, 1, 1]}, "of": "plat"})", "no deformable part 'plat'", "regions/r/of");
}
