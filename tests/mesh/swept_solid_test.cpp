// Solids that can be swept: recognised, divided into sound hexes, every face named, nodes on the true surface.
#include <fmt/format.h>
#include <gtest/gtest.h>

#include <sys/wait.h>
#include <unistd.h>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <numbers>
#include <random>
#include <sstream>

#include "core/element/face.hpp"
#include "core/mesh/free.hpp"
#include "core/mesh/quality.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"
#include "run/small_runs.hpp"
#include "scratch.hpp"
#include "words.hpp"

using namespace anvil;

namespace {

using std::numbers::pi;

class SweptSolid : public ScratchCache {};

geometry::Solid sweptSolid(const std::string& features, const std::string& place = "") {
  const auto d = model::parse(R"({"anvil": 1, "space": "solid", "parts": {"part": {"solid": )" + features + place + "}}}");
  return geometry::solid(d.parts.front().second, model::Quantities(d), "", "parts/part");
}
mesh::Mesh sweptMeshOf(const geometry::Solid& s, double size, const std::string& element = "hex20",
                       std::vector<double> onFaces = {}) {
  mesh::Mesh m;
  m.dim = 3, m.parts = {"part"};
  mesh::FreeSizes sizes{size, std::move(onFaces)};
  sizes.element = element;
  mesh::addFree(m, 0, s, sizes, "parts/part");
  return m;
}

}  // namespace

TEST_F(SweptSolid, FoldersThatKilledMeshingLeftAreSweptAwayAndOthersAreNot) {
  setenv("TMPDIR", folder.c_str(), 1);
  const pid_t dead = fork();
  if (dead == 0) _exit(0);
  waitpid(dead, nullptr, 0);
  const auto left = folder / ("anvil-job-" + std::to_string(dead) + "-abcdef"),
             living = folder / ("anvil-job-" + std::to_string(getppid()) + "-abcdef");
  for (const auto& f : {left, living}) std::filesystem::create_directories(f), std::ofstream(f / "job") << "x";
  sweptMeshOf(sweptSolid(R"([{"box": {"size": [4, 4, 4]}}])"), 2);
  unsetenv("TMPDIR");
  EXPECT_FALSE(std::filesystem::exists(left));
  EXPECT_TRUE(std::filesystem::exists(living / "job"));
  int own = 0;
  for (const auto& f : std::filesystem::directory_iterator(folder))
    own += f.path().filename().string().starts_with("anvil-job-" + std::to_string(getpid()));
  EXPECT_EQ(own, 0) << "our own goes with us";
}

namespace {

/// Area of facets, and the volume they enclose by Gauss' theorem.
std::pair<double, double> areaAndVolume(const mesh::Mesh& m, const std::vector<mesh::Facet>& facets) {
  double area = 0, volume = 0;
  for (const auto& facet : facets) {
    const auto n = m.nodesOf(facet);
    const int corners = m.cornersOf(facet);
    for (const auto& [local, weight] : element::faceRule(corners)) {
      const auto shape = element::faceShape(corners, int(n.size()) > corners, local);
      Eigen::Vector3d x = Eigen::Vector3d::Zero(), t1 = x, t2 = x;
      for (size_t i = 0; i < n.size(); ++i)
        x += shape.N[i] * m.x[size_t(n[i])], t1 += shape.d1[i] * m.x[size_t(n[i])], t2 += shape.d2[i] * m.x[size_t(n[i])];
      area += weight * t1.cross(t2).norm(), volume += weight * t1.cross(t2).dot(x) / 3;
    }
  }
  return {area, volume};
}

/// What every mesh of a solid must have: its volume, named faces that make up the outside with the solid's areas, sound cells.
void expectSound(const mesh::Mesh& m, const geometry::Solid& s, double tolerance, double least, const std::string& which) {
  ASSERT_FALSE(m.blocks.empty());
  EXPECT_NEAR(areaAndVolume(m, m.boundary(0)).second, s.volume(), tolerance * s.volume()) << which;
  size_t named = 0;
  for (const auto& f : m.faces) {
    named += f.facets.size();
    double wanted = 0;
    for (const auto& face : s.faces())
      if ("part." + face.name == f.name) wanted += face.area;
    EXPECT_NEAR(areaAndVolume(m, f.facets).first, wanted, tolerance * wanted) << f.name << " of " << which;
  }
  EXPECT_EQ(named, m.boundary(0).size()) << which;
  for (const auto& b : m.blocks) EXPECT_GT(mesh::quality(m, b).leastScaledJacobian, least) << which;
}

}  // namespace

TEST_F(SweptSolid, ABoxIsARegularGrid) {
  const auto s = sweptSolid(R"({"box": {"at": [1, 2, 3], "size": [40, 20, 10]}, "name": "b"})");
  const auto m = sweptMeshOf(s, 5);
  ASSERT_EQ(m.blocks.size(), 1u);
  EXPECT_EQ(m.blocks[0].type, mesh::Cell::hex20);
  EXPECT_EQ(m.blocks[0].count(), 8u * 4 * 2);
  expectSound(m, s, 1e-12, 0.999999, "box");
  for (int n : m.nodesOf(m.face("part.b.top")->facets)) EXPECT_NEAR(m.x[size_t(n)].y(), 22, 1e-12);
  for (int n : m.nodesOf(m.face("part.b.back")->facets)) EXPECT_NEAR(m.x[size_t(n)].z(), 13, 1e-12);
  const auto linear = sweptMeshOf(s, 5, "hex8");
  EXPECT_EQ(linear.blocks[0].type, mesh::Cell::hex8);
  expectSound(linear, s, 1e-12, 0.999999, "box of hex8");
}

TEST_F(SweptSolid, TubesAndCylindersAreRegularAndRound) {
  const auto tube = sweptSolid(R"({"tube": {"from": [0, 0, 0], "to": [0, 30, 0], "inner": 10, "outer": 14}, "name": "t"})",
                               R"(, "place": {"axis": "x", "angle": 30, "shift": [5, 6, 7]})");
  auto m = sweptMeshOf(tube, 3);
  expectSound(m, tube, 2e-4, 0.9, "tube");
  EXPECT_EQ(m.blocks[0].type, mesh::Cell::hex20);
  const auto rod = sweptSolid(R"({"cylinder": {"from": [0, 0, 0], "to": [0, 0, 20], "radius": 6}, "name": "c"})");
  m = sweptMeshOf(rod, 3);
  expectSound(m, rod, 2e-4, 0.4, "rod");
  for (int n : m.nodesOf(m.face("part.c.side")->facets)) EXPECT_NEAR(m.x[size_t(n)].head<2>().norm(), 6, 1e-7) << "middles too";
}

TEST_F(SweptSolid, PlatesWithHolesAndProfilesAreSweptThroughTheirThickness) {
  const auto plate = sweptSolid(
      R"({"plate": {"size": [60, 40, 6], "holes": {"at": [[12, 12]], "radius": 4, "pitch": [36, 16], "count": [2, 2]}},
        "name": "p"})");
  auto m = sweptMeshOf(plate, 4);
  expectSound(m, plate, 5e-4, 0.2, "plate");
  EXPECT_EQ(m.blocks[0].type, mesh::Cell::hex20);
  for (int n : m.nodesOf(m.face("part.p.hole 1")->facets))
    EXPECT_NEAR(std::hypot(m.x[size_t(n)].x() - 12, m.x[size_t(n)].y() - 12), 4, 1e-6);
  const auto angle = sweptSolid(
      R"({"profile": {"start": [0, 0], "path": [{"line": [30, 0]}, {"line": [30, 5]}, {"line": [5, 5], "fillet": 4}, {"line": [5,
        25]}, {"line": [0, 25]}]}, "extrude": {"depth": 50}, "name": "angle"})");
  m = sweptMeshOf(angle, 3);
  expectSound(m, angle, 5e-4, 0.2, "angle");
}

TEST_F(SweptSolid, FacesAskedFinerAreFiner) {
  const auto s = sweptSolid(R"({"plate": {"size": [60, 40, 6], "holes": {"at": [[30, 20]], "radius": 8}}, "name": "p"})");
  std::vector<double> sizes(s.faces().size(), 0.);
  for (size_t i = 0; i < sizes.size(); ++i)
    if (s.faces()[i].name == "p.hole 1") sizes[i] = 1.2;
  const auto coarse = sweptMeshOf(s, 6), fine = sweptMeshOf(s, 6, "hex20", sizes);
  const auto facets = [](const mesh::Mesh& m, const char* face) { return m.face(face)->facets.size(); };
  EXPECT_GT(facets(fine, "part.p.hole 1"), 2 * facets(coarse, "part.p.hole 1"));
  EXPECT_LT(facets(fine, "part.p.left"), 3 * facets(coarse, "part.p.left"));
}

TEST_F(SweptSolid, PlacesAskedFinerAreFiner) {
  const auto s = sweptSolid(R"({"box": {"size": [40, 40, 10]}, "name": "b"})");
  for (const std::string element : {"hex20", "tet10"}) {
    mesh::Mesh m;
    m.dim = 3, m.parts = {"part"};
    mesh::FreeSizes sizes{8, {}, 1, 12, {}, element};
    sizes.near = {{{10, 10, 5}, 4, 1.5}};
    mesh::addFree(m, 0, s, sizes, "parts/part");
    expectSound(m, s, 1e-9, 0.1, element);
    int close = 0, far = 0;
    for (const auto& x : m.x)
      close += (x.head<2>() - Eigen::Vector2d(10, 10)).norm() < 4, far += (x.head<2>() - Eigen::Vector2d(30, 30)).norm() < 4;
    EXPECT_GT(close, 6 * far) << element;
  }
}

TEST_F(SweptSolid, OthersAreRefusedAsHexesAndFilledWithTetrahedraByThemselves) {
  for (const char* features :
       {R"({"ball": {"radius": 5}})",
        R"([{"box": {"size": [20, 20, 10]}, "name": "b"}, {"cylinder": {"from": [10, 10, 5], "to": [10, 10, 15], "radius": 3},
        "how": "cut", "name": "blind"}])",
        R"([{"box": {"size": [20, 20, 10]}, "name": "b"}, {"fillet": {"between": ["b.top", "b.right"], "radius": 2}}, {"fillet": {
        "between": ["b.top", "b.front"], "radius": 2}}])"}) {
    const auto s = sweptSolid(features);
    EXPECT_SAYS(sentence([&] { sweptMeshOf(s, 4); }), "cannot be swept");
    EXPECT_SAYS(sentence([&] { sweptMeshOf(s, 4); }), "Take tet10");
    EXPECT_EQ(sweptMeshOf(s, 4, "auto").blocks[0].type, mesh::Cell::tet10);
  }
  EXPECT_EQ(sweptMeshOf(sweptSolid(R"({"box": {"size": [2, 2, 2]}})"), 1, "auto").blocks[0].type, mesh::Cell::hex20);
}

TEST_F(SweptSolid, RandomPrismsHaveNoBadElement) {
  std::mt19937 gen(11);
  const auto value = [&](double a, double b) { return std::uniform_real_distribution<double>(a, b)(gen); };
  int swept = 0;
  for (int k = 0; k < 100; ++k) {
    const double X = value(10, 60), Y = value(10, 60), Z = value(1, 30), side = std::min(X, Y);
    std::ostringstream f;
    if (k % 4 == 3) {  // a polygon about the origin
      const int corners = 3 + k / 4 % 6;
      const double start = value(0, 1);
      const auto at = [&](int i) {
        std::ostringstream p;
        const double angle = 2 * pi * (i + start) / corners;
        p << "[" << X * std::cos(angle) << ", " << X * std::sin(angle) << "]";
        return p.str();
      };
      f << R"([{"name": "block", "profile": {"start": )" << at(0) << R"(, "path": [)";
      for (int i = 1; i <= corners; ++i) f << (i > 1 ? ", " : "") << R"({"line": )" << at(i % corners) << "}";
      f << R"(]}, "extrude": {"depth": )" << Z << "}}";
    } else {
      f << R"([{"box": {"size": [)" << X << "," << Y << "," << Z << R"(]}, "name": "block"})";
    }
    const double cx = k % 4 == 3 ? 0 : X / 2, cy = k % 4 == 3 ? 0 : Y / 2;
    for (int h = 0; h < k % 3; ++h)
      f << R"(, {"cylinder": {"from": [)" << cx + value(-0.3, 0.3) * side << "," << cy + value(-0.3, 0.3) * side
        << R"(, -1], "to": [0, 0, 0], "radius": )" << value(0.05, 0.2) * side << R"(}, "how": "cut"})";
    std::string text = f.str();
    for (auto at = text.find("\"to\": [0, 0, 0]"); at != std::string::npos;
         at = text.find("\"to\": [0, 0, 0]", at + 1)) {  // straight up
      const auto from = text.rfind("\"from\": [", at) + 9, end = text.find(", -1]", from);
      text.replace(at, 15, "\"to\": [" + text.substr(from, end - from) + ", 100]");
    }
    if (k % 5 == 0 && k % 4 != 3)
      text += R"(, {"fillet": {"between": ["block.left", "block.top"], "radius": )" + fmt::format("{}", 0.1 * side) + "}}";
    text += "]";
    const std::string place =
        R"(, "place": {"axis": ")" + std::string(1, "xyz"[k % 3]) + R"(", "angle": )" + fmt::format("{}", value(0, 360)) + "}";
    const auto words = sentence([&] {
      const auto s = sweptSolid(text, place);
      const auto m = sweptMeshOf(s, side / 6);
      expectSound(m, s, 2e-3, 0.1, text);
      ++swept;
    });
    if (words != "no error") {
      EXPECT_GT(words.size(), 40u) << words;
    }
  }
  EXPECT_GE(swept, 95);
}

TEST_F(SweptSolid, AnIrregularSweepCarriesAConstantStressExactly) {
  for (const char* element : {"hex20", "hex8"}) {
    const auto s = solved(with(R"({"anvil": 1, "space": "solid", "geometry": "small",
      "materials": {"steel": {"elastic": {"E": 200000, "nu": 0.3}}},
      "parts": {"bar": {"material": "steel", "element": "hex20", "solid": {"plate": {"size": [20, 10, 8], "holes": {"at": [[7,
        4]], "radius": 2}}, "name": "b"}, "mesh": {"size": 3}}},
      "steps": {"pull": {"increments": {"first": 1, "largest": 1}}},
      "supports": {"x": {"on": "bar.b.left", "fix": "x"}, "y": {"on": "bar.b.bottom", "fix": "y"}, "z": {"on": "bar.b.front",
        "fix": "z"}},
      "motions": {"pull": {"on": "bar.b.back", "along": "z", "course": 0.008}}})",
                               "\"hex20\"", std::string("\"") + element + "\""));
    for (const auto& p : s.course.all.back().points) {
      EXPECT_NEAR(p.stress[2], 200, 1e-6);
      EXPECT_NEAR(p.stress[0], 0, 1e-6);
    }
  }
}
