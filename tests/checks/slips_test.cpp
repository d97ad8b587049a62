// What people overlook is doubted, and what they meant is not; places in words.
#include <gtest/gtest.h>

#include <fmt/format.h>
#include <algorithm>

#include "core/base/error.hpp"
#include "core/checks/readiness.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/model/materials.hpp"
#include "core/model/place_words.hpp"

using namespace anvil;

namespace {

struct Slip {
  std::string materials = R"("steel": {"elastic": {"E": 205000, "nu": 0.3}, "plastic": {"rows": [[0, 260], [0.1, 400]]}})";
  std::string loads = R"("l": {"on": "block.right", "kind": "pressure", "course": 10})";
  std::string supports = R"("s": {"on": "block.left", "fix": ["x", "y"]})", parts = "", contacts = "";
  model::Document document() const {
    return model::parse(fmt::format(R"({{"anvil": 1, "materials": {{{}}}, "parts": {{"block": {{"material": "steel",
      "shape": {{"rectangle": {{"at": [0, 0], "size": [20, 10]}}}}, "mesh": {{"size": 5}}}}{}}}, "contacts": {{{}}},
      "steps": {{"load": {{}}}},
      "supports": {{{}}}, "loads": {{{}}}}})",
                                    materials, parts, contacts, supports, loads));
  }
  /// The doubt in whose words these stand.
  std::optional<checks::Finding> doubt(const std::string& words) const {
    for (const auto& f : checks::readiness(document()).findings)
      if (f.what.find(words) != std::string::npos) return f;
    return {};
  }
};

}  // namespace

TEST(Slips, ASoundModelIsNotDoubted) { EXPECT_TRUE(checks::readiness(Slip().document()).findings.empty()); }

TEST(Slips, AMaterialThatNothingHasIsNamedAndTakenOut) {
  Slip slip;
  slip.materials += R"(, "bronze": {"elastic": {"E": 110000, "nu": 0.34}})";
  const auto found = slip.doubt("Nothing is made of the material 'bronze'");
  ASSERT_TRUE(found);
  EXPECT_FALSE(found->fault);
  auto d = slip.document();
  found->mend(d);
  EXPECT_EQ(d.materials.names(), std::vector<std::string>{"steel"});
}

TEST(Slips, APressureFarAboveYieldIsDoubted) {
  Slip slip;
  slip.loads = R"("l": {"on": "block.right", "kind": "pressure", "course": 700})";
  EXPECT_FALSE(slip.doubt("times the yield stress"));  // a punch may press that hard
  slip.loads = R"("l": {"on": "block.right", "kind": "pressure", "course": -1000})";
  ASSERT_TRUE(slip.doubt("times the yield stress"));
  EXPECT_EQ(slip.doubt("times the yield stress")->where, "loads/l/course");
  slip.materials = R"("steel": {"elastic": {"E": 205000, "nu": 0.3}})";  // it does not yield
  EXPECT_FALSE(slip.doubt("times the yield stress"));
}

TEST(Slips, AModulusInAnotherUnitIsDoubted) {
  Slip slip;
  slip.materials = R"("steel": {"elastic": {"E": 205, "nu": 0.3}, "plastic": {"rows": [[0, 260], [0.1, 400]]}})";
  EXPECT_TRUE(slip.doubt("is the modulus in GPa"));
  slip.materials = R"("steel": {"elastic": {"E": 205, "nu": 0.3}, "plastic": {"rows": [[0, 5], [0.1, 8]]}})";  // a soft polymer
  EXPECT_FALSE(slip.doubt("is the modulus in GPa"));
}

TEST(Slips, ATrueCurveThatComesToRestMayBeAnEngineeringOne) {
  Slip slip;
  const auto table = [&](const std::string& rows, const std::string& more = "") {
    slip.materials = R"("steel": {"elastic": {"E": 205000, "nu": 0.3}, "plastic": {"rows": )" + rows + more + "}}";
  };
  table("[[0, 260], [0.05, 360], [0.12, 395], [0.18, 400]]");
  const auto found = slip.doubt("comes to rest at a strain of 0.18");
  ASSERT_TRUE(found);
  auto d = slip.document();
  found->mend(d);
  EXPECT_EQ(d.materials.find("steel")->plastic->stress, "engineering");
  table("[[0, 260], [0.05, 378], [0.12, 442], [0.18, 472]]");  // the same, true
  EXPECT_FALSE(slip.doubt("comes to rest"));
  table("[[0, 260], [0.05, 360], [0.12, 395], [1, 440]]");  // drawn on beyond the neck
  EXPECT_FALSE(slip.doubt("comes to rest"));
  table("[[0, 260], [0.05, 360], [0.12, 395], [0.18, 400]]", R"(, "stress": "engineering")");
  EXPECT_FALSE(slip.doubt("comes to rest"));
  table("[[0, 260], [0.15, 400], [0.3, 350]]");
  EXPECT_TRUE(slip.doubt("the curve softens"));
}

TEST(Slips, AFullForceOnAPlaneOfSymmetryIsDoubted) {
  Slip slip;
  slip.supports = R"("cut": {"on": "block.left", "fix": ["x"]}, "base": {"on": "block.right", "fix": ["y"]})";
  slip.loads = R"("l": {"on": "block.left", "kind": "force", "along": "y", "course": 1000})";
  ASSERT_TRUE(slip.doubt("plane of symmetry x = 0"));
  slip.loads = R"("l": {"on": "block.left", "kind": "force", "along": "y", "course": "=1000/2"})";
  EXPECT_FALSE(slip.doubt("plane of symmetry"));
  slip.loads = R"("l": {"on": "block.top", "kind": "force", "along": "y", "course": 1000})";
  EXPECT_FALSE(slip.doubt("plane of symmetry"));
}

TEST(Slips, TiedFacesThatStandApartAreDoubted) {
  Slip slip;
  const auto lid = [&](double at) {
    slip.parts = fmt::format(R"(, "lid": {{"material": "steel", "shape": {{"rectangle": {{"at": [0, {}], "size": [20, 5]}}}},
      "mesh": {{"size": 5}}}})",
                             at);
  };
  slip.contacts = R"("t": {"between": ["block.top", "lid.bottom"], "kind": "tied"})";
  lid(10);
  EXPECT_FALSE(slip.doubt("tied faces stand"));
  lid(10.6);
  ASSERT_TRUE(slip.doubt("tied faces stand 0.6 mm apart"));
}

TEST(Slips, PlacesAreToldInWords) {
  EXPECT_EQ(model::placeInWords("parts/plate/solid/2/radius (line 7)"), "part 'plate', solid 2, radius");
  EXPECT_EQ(model::placeInWords("watch/tip"), "watched point 'tip'");
  EXPECT_EQ(model::placeInWords("steps"), "steps");
  EXPECT_EQ(model::placeInWords("solver/tolerance"), "solver, tolerance");
  EXPECT_EQ(model::inWords(Error("the thickness is 0 mm", "parts/lid/thin/thickness", "Give a value above zero.")),
            "Part 'lid', thin, thickness: the thickness is 0 mm. Give a value above zero.");
  EXPECT_EQ(model::inWords(Error("nothing is picked")), "Nothing is picked.");
}
