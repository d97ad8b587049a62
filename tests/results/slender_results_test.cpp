// Slender parts in results files: lines and turns read back, forces at the ends of cells, export; and carriers beside them.
#include <gtest/gtest.h>

#include <cmath>
#include <filesystem>

#include "core/base/files.hpp"
#include "core/job/run_model.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/results/export.hpp"
#include "core/results/slender_fields.hpp"
#include "words.hpp"

namespace anvil {
namespace {

/// A cantilever of two lines on a block, with a force at their joint and one at the tip.
const char* const armOnBlock = R"({
  "anvil": 1, "space": "solid", "geometry": "small",
  "materials": {"steel": {"elastic": {"E": 200000, "nu": 0.3}}},
  "parts": {
    "block": {"material": "steel", "shape": {"rectangle": {"at": [-10, -5], "size": [10, 10]}}, "extrude": {"from": -5,
      "depth": 10}, "mesh": {"size": 5}},
    "arm": {"material": "steel", "slender": {
      "points": {"root": [0, 0, 0], "joint": [100, 0, 0], "tip": [200, 0, 0]},
      "lines": {"inner": {"from": "root", "to": "joint", "count": 4}, "outer": {"from": "joint", "to": "tip", "count": 4}},
      "sections": {"bar": {"form": "tube", "diameter": 10, "wall": 1}}}}},
  "steps": {"push": {"increments": {"first": 1}}},
  "carriers": {"weld": {"on": "block.right", "end": "arm.root"}},
  "supports": {"wall": {"on": "block.left", "fix": ["x", "y", "z"]}},
  "loads": {"tip": {"on": "arm.tip", "kind": "force", "along": "y", "course": -3},
    "joint": {"on": "arm.joint", "kind": "force", "along": "y", "course": -5}}
})";

class SlenderResults : public ::testing::Test {
 protected:
  void SetUp() override {
    folder = std::filesystem::temp_directory_path() / ("anvil-slender-" + std::to_string(getpid()));
    std::filesystem::create_directories(folder);
    job::runModel(model::parse(armOnBlock), {folder / "r.h5", 1, false, {}});
    reader = std::make_unique<results::Reader>(folder / "r.h5");
  }
  void TearDown() override {
    reader.reset();
    std::filesystem::remove_all(folder);
  }
  std::vector<double> ends(const std::string& field) {
    const auto last = reader->rows().size() - 1;
    return results::slenderEnds(*reader, field, last, results::nodalField(*reader, field, last));
  }
  std::filesystem::path folder;
  std::unique_ptr<results::Reader> reader;
};

TEST_F(SlenderResults, LinesAndPointsAreReadBack) {
  const auto& mesh = reader->header().mesh;
  ASSERT_EQ(mesh.lines.size(), 2u);
  EXPECT_EQ(mesh.lines[1].name, "arm.outer");
  EXPECT_EQ(mesh.lines[0].nodes.back(), mesh.lines[1].nodes.front());
  EXPECT_EQ(mesh.lines[0].turns.back(), mesh.lines[1].turns.front());
  EXPECT_EQ(mesh.lines[0].outline.size(), 2u);  // of a tube
  EXPECT_LT((mesh.lines[0].up.front() - Eigen::Vector3d::UnitY()).norm(), 1e-15);
  ASSERT_TRUE(mesh.spot("arm.tip"));
  EXPECT_EQ(mesh.x[size_t(mesh.spot("arm.tip")->node)].x(), 200);
  EXPECT_EQ(reader->field("turn", 0).size(), 3 * mesh.turnNode.size());
  EXPECT_TRUE(reader->rigid(0).empty());  // the carrier's point is no rigid part
}

TEST_F(SlenderResults, ForcesAreThoseOfStatics) {
  const auto moment = ends("bending moment up"), shear = ends("shear force up");
  ASSERT_EQ(moment.size(), 16u);
  for (size_t i = 0; i < 16; ++i) {
    const double x = 25. * double(i / 2 + i % 2);
    EXPECT_NEAR(moment[i], -3 * (200 - x) - (i < 8 ? 5 * (100 - x) : 0), 1e-3);
    EXPECT_NEAR(std::abs(shear[i]), i < 8 ? 8 : 3, 1e-5);  // it jumps where the force acts
  }
  const auto& mesh = reader->header().mesh;
  const auto nodal = results::nodalField(*reader, "shear force up", reader->rows().size() - 1);
  EXPECT_NEAR(std::abs(nodal[size_t(mesh.spot("arm.joint")->node)]), 8, 1e-5);  // the greater of both sides
  const double I = 3.14159265358979 * (10000 - 4096) / 64;
  EXPECT_NEAR(ends("greatest direct stress").front(), 1100 * 5 / I, 1e-3 * 1100 * 5 / I);
  EXPECT_NEAR(ends("von Mises stress").front(), 1100 * 5 / I, 1e-3 * 1100 * 5 / I);
  EXPECT_EQ(ends("yielded share of the section").front(), 0);
}

TEST_F(SlenderResults, AreExportedAsLines) {
  results::exportVtu(*reader, folder / "v", {});
  const auto text = readWhole((folder / "v_0001.vtu").string());
  const auto& mesh = reader->header().mesh;
  size_t cells = 8;
  for (const auto& b : mesh.blocks) cells += b.count();
  EXPECT_SAYS(text, "NumberOfCells=\"" + std::to_string(cells) + "\"");
  const auto types = text.substr(text.find("Name=\"types\""));
  EXPECT_SAYS(types.substr(0, types.find("</DataArray>")), "3 3 3 3 3 3 3 3 ");
  EXPECT_SAYS(text, "Name=\"bending moment up\"");
}

}  // namespace
}  // namespace anvil
