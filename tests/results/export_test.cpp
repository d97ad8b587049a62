// Exports read back: VTU pieces, the series, CSV; fields against each other.
#include <gtest/gtest.h>

#include <cmath>
#include <filesystem>
#include <sstream>

#include "core/base/error.hpp"
#include "core/base/files.hpp"
#include "core/job/run_model.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/results/export.hpp"
#include "core/results/fields.hpp"
#include "words.hpp"

using namespace anvil;

namespace {

const char* const stretched = R"({
  "anvil": 1, "space": "SPACE",
  "materials": {"m": {"elastic": {"E": 1000, "nu": 0.25}, "plastic": {"yield": 20, "tangent": 50}}},
  "parts": {"a": {"material": "m", "element": "quad8", "shape": {"rectangle": {"at": [1, 0], "size": [2, 3]}}, "mesh": {
    "count": [2, 3]}},
            "b": {"material": "m", "element": "quad4", "shape": {"rectangle": {"at": [1, 4], "size": [2, 1]}}, "mesh": {
        "count": [3, 1]}}},
  "steps": {"pull": {"increments": {"first": 0.5, "largest": 0.5}}},
  "supports": {"s": {"on": ["a.bottom", "b.bottom"], "fix": "y"}, "t": {"on": ["a.left", "b.left"], "fix": "x"}},
  "motions": {"m": {"on": ["a.top", "b.top"], "along": "y", "course": 0.06}}
})";

class Exported : public ::testing::TestWithParam<std::string> {
 protected:
  void SetUp() override {
    folder = std::filesystem::temp_directory_path() / ("anvil-export-" + std::to_string(getpid()));
    std::filesystem::create_directories(folder);
    std::string text = stretched;
    text.replace(text.find("SPACE"), 5, GetParam());
    job::runModel(model::parse(text), {file("r.h5"), 1, false, {}});
    reader = std::make_unique<results::Reader>(file("r.h5"));
  }
  void TearDown() override { std::filesystem::remove_all(folder); }
  std::string file(const char* name) const { return folder / name; }
  std::filesystem::path folder;
  std::unique_ptr<results::Reader> reader;
};

/// Numbers of a named data array.
std::vector<double> array(const std::string& xml, const std::string& attribute) {
  auto at = xml.find(attribute);
  EXPECT_NE(at, std::string::npos) << attribute;
  at = xml.find('>', at) + 1;
  std::istringstream in(xml.substr(at, xml.find('<', at) - at));
  std::vector<double> v;
  for (double x; in >> x;) v.push_back(x);
  return v;
}

TEST_P(Exported, VtuHoldsMeshAndFields) {
  const auto paths = results::exportVtu(*reader, file("out"));
  ASSERT_EQ(paths.size(), reader->rows().size() + 1);
  const auto xml = readWhole(paths[paths.size() - 2]);
  const auto& mesh = reader->header().mesh;
  EXPECT_EQ(array(xml, "type=\"Float64\" NumberOfComponents=\"3\"").size(), 3 * mesh.x.size());
  size_t cells = 0, nodes = 0;
  for (const auto& b : mesh.blocks) cells += b.count(), nodes += b.nodes.size();
  const auto offsets = array(xml, "Name=\"offsets\""), types = array(xml, "Name=\"types\"");
  ASSERT_EQ(offsets.size(), cells);
  EXPECT_EQ(offsets.back(), double(nodes));
  EXPECT_EQ(array(xml, "Name=\"connectivity\"").size(), nodes);
  EXPECT_EQ(types.front(), 23) << "quadratic quadrilateral";
  EXPECT_EQ(types.back(), 9) << "quadrilateral";
  EXPECT_EQ(array(xml, "Name=\"part\"").back(), 1);
  for (const auto& f : results::fieldList(reader->header())) {
    const auto v = array(xml, "Name=\"" + f.name + "\"");
    if (f.name == "displacement") {
      EXPECT_EQ(v.size(), 3 * mesh.x.size());
      continue;
    }
    const auto expected = results::nodalField(*reader, f.name, reader->rows().size() - 1);
    ASSERT_EQ(v.size(), expected.size()) << f.name;
    for (size_t i = 0; i < v.size(); ++i) EXPECT_NEAR(v[i], expected[i], 1e-5 * (1 + std::abs(expected[i]))) << f.name;
  }
  const auto series = readWhole(paths.back());
  EXPECT_NE(series.find("out_0001.vtu"), std::string::npos);
  EXPECT_NE(series.find("timestep=\"0.5\""), std::string::npos);
}

TEST_P(Exported, CsvHasARowPerIncrementAndQuotedNames) {
  std::istringstream csv(results::historiesCsv(*reader));
  std::string line;
  ASSERT_TRUE(std::getline(csv, line));
  EXPECT_EQ(std::count(line.begin(), line.end(), ','), std::ptrdiff_t(reader->header().historyNames.size()));
  EXPECT_NE(line.find("\"motions/m/force"), std::string::npos);
  size_t rows = 0;
  for (; std::getline(csv, line); ++rows) EXPECT_NEAR(numberAt(line), reader->rows()[rows].time, 1e-12);
  EXPECT_EQ(rows, reader->rows().size());
}

TEST_P(Exported, FieldsAgreeWithEachOther) {
  const size_t row = reader->rows().size() - 1;
  const bool axial = GetParam() == "axisymmetric";
  const std::string a = axial ? "r" : "x", b = axial ? "z" : "y", c = axial ? "hoop" : "z";
  const auto get = [&](const std::string& name) { return results::pointField(*reader, name, row); };
  const auto sa = get("stress " + a), sb = get("stress " + b), sc = get("stress " + c), sab = get("shear stress " + a + b),
             mean = get("mean stress");
  const auto high = get("greatest principal stress"), low = get("least principal stress"), mises = get("von Mises stress");
  for (size_t i = 0; i < sa.size(); ++i) {
    EXPECT_NEAR(mean[i], (sa[i] + sb[i] + sc[i]) / 3, 1e-4);
    const double middle = sa[i] + sb[i] + sc[i] - high[i] - low[i];
    EXPECT_LE(low[i], middle + 1e-4);
    EXPECT_LE(middle, high[i] + 1e-4);
    // second invariant from principal values
    EXPECT_NEAR(mises[i] * mises[i],
                ((high[i] - middle) * (high[i] - middle) + (middle - low[i]) * (middle - low[i]) +
                 (low[i] - high[i]) * (low[i] - high[i])) /
                    2,
                1e-2 * (1 + mises[i]));
    EXPECT_NEAR(high[i] * low[i] + middle * (high[i] + low[i]), sa[i] * sb[i] + sb[i] * sc[i] + sc[i] * sa[i] - sab[i] * sab[i],
                1e-2 * (1 + mises[i]));
    if (GetParam() == "plane stress") {
      EXPECT_NEAR(sc[i], 0, 1e-9);
    }
  }
  const auto ux = results::nodalField(*reader, "displacement " + a, row),
             uy = results::nodalField(*reader, "Displacement " + b, row),
             size = results::nodalField(*reader, "displacement", row);
  for (size_t i = 0; i < ux.size(); ++i) EXPECT_NEAR(size[i], std::hypot(ux[i], uy[i]), 1e-7);
  EXPECT_THROW(results::fieldNamed(reader->header(), "von mises stres"), Error);
}

TEST_P(Exported, FaceAreasAndReactionsAddUp) {
  const auto& h = reader->header();
  const auto* face = h.mesh.face("a.bottom");
  ASSERT_TRUE(face);
  const auto nodes = h.mesh.nodesOf(face->facets);
  double area = 0, force = 0;
  for (double v : results::nodalAreas(h, face->facets, nodes)) area += v;
  EXPECT_NEAR(area, GetParam() == "axisymmetric" ? std::acos(-1.) * (9 - 1) : 2, 1e-9);
  const size_t row = reader->rows().size() - 1;
  const auto f = reader->field("reaction", row);
  for (size_t i = 1; i < f.size(); i += 2) force += double(f[i]);
  EXPECT_NEAR(force, 0,
              1e-3 * std::abs(reader->history(GetParam() == "axisymmetric" ? "motions/m/force z" : "motions/m/force y").back()));
}

INSTANTIATE_TEST_SUITE_P(Spaces, Exported, ::testing::Values("plane strain", "plane stress", "axisymmetric"));

}  // namespace
