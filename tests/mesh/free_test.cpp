// Free meshes of solids: volume, named faces, nodes on the true surface, sound elements, a worker that can be stopped.
#include <gtest/gtest.h>

#include <fmt/format.h>
#include <cstdlib>
#include <numbers>
#include <optional>
#include <random>

#include "core/base/worker.hpp"
#include "core/element/face.hpp"
#include "core/element/shapes.hpp"
#include "core/lower/lower.hpp"
#include "core/mesh/free.hpp"
#include "core/mesh/quality.hpp"
#include "core/mesh/refusal.hpp"
#include "core/mesh/worker_mesh.hpp"
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

class FreeMesh : public ScratchCache {};

geometry::Solid freeSolid(const std::string& features) {
  const auto d = model::parse(R"({"anvil": 1, "space": "solid", "parts": {"part": {"solid": )" + features + "}}}");
  return geometry::solid(d.parts.front().second, model::Quantities(d), "", "parts/part");
}
mesh::Mesh freeMeshOf(const geometry::Solid& s, double size, std::vector<double> onFaces = {}) {
  mesh::Mesh m;
  m.dim = 3, m.parts = {"part"};
  mesh::addFree(m, 0, s, {size, std::move(onFaces)}, "parts/part");
  return m;
}

/// Volume of all cells and the smallest Jacobian at their corners and middles over that of the straight cell, by the
/// quadratic map from the reference cell.
std::pair<double, double> volumeAndWorst(const mesh::Mesh& m) {
  double volume = 0, worst = 1e300;
  const auto& b = m.blocks.front();
  const double a = (5 + 3 * std::sqrt(5.)) / 20, c = (1 - a) / 3;
  for (size_t k = 0; k < b.count(); ++k) {
    const auto x = [&](int i) { return m.x[size_t(b.cell(k)[i])]; };
    const auto jacobian = [&](const std::array<double, 4>& L) {
      Eigen::Vector3d d[4];
      for (int i = 0; i < 4; ++i) d[i] = (4 * L[size_t(i)] - 1) * x(i);
      const auto& edges = mesh::info(mesh::Cell::tet10).edge;
      for (const auto& e : edges) d[e[0]] += 4 * L[size_t(e[1])] * x(e[2]), d[e[1]] += 4 * L[size_t(e[0])] * x(e[2]);
      return (d[1] - d[0]).cross(d[2] - d[0]).dot(d[3] - d[0]);
    };
    for (int i = 0; i < 4; ++i) {
      std::array<double, 4> point{c, c, c, c}, corner{};
      point[size_t(i)] = a, corner[size_t(i)] = 1;
      volume += jacobian(point) / 24;
      worst = std::min(worst, jacobian(corner));
    }
    worst = std::min(worst, jacobian({0.25, 0.25, 0.25, 0.25}));
  }
  return {volume, worst};
}

/// It fills the solid, and what is thin in it can be solved.
void expectSolvable(const mesh::Mesh& m, const geometry::Solid& s) {
  const auto [volume, worst] = volumeAndWorst(m);
  EXPECT_GT(worst, 0);
  EXPECT_NEAR(volume, s.volume(), 1e-3 * s.volume());
  EXPECT_GE(mesh::quality(m, m.blocks.front()).leastScaledJacobian, 0.02);
}

double freeArea(const mesh::Mesh& m, const std::string& face) {
  const auto* f = m.face(face);
  EXPECT_TRUE(f) << face;
  double area = 0;
  for (const auto& facet : f ? f->facets : std::vector<mesh::Facet>{}) {
    const auto n = m.nodesOf(facet);
    for (const auto& [local, weight] : element::faceRule(3)) {
      const auto shape = element::faceShape(3, true, local);
      Eigen::Vector3d t1 = Eigen::Vector3d::Zero(), t2 = t1;
      for (size_t i = 0; i < n.size(); ++i) t1 += shape.d1[i] * m.x[size_t(n[i])], t2 += shape.d2[i] * m.x[size_t(n[i])];
      area += weight * t1.cross(t2).norm();
    }
  }
  return area;
}

TEST_F(FreeMesh, FillsASolidAndNamesItsFaces) {
  const auto s = freeSolid(
      R"([{"box": {"size": [40, 20, 10]}, "name": "plate"}, {"cylinder": {"from": [20, 10, -1], "to": [20, 10, 11], "radius": 5},
        "name": "hole", "how": "cut"}])");
  const auto m = freeMeshOf(s, 4);
  const auto [volume, worst] = volumeAndWorst(m);
  EXPECT_NEAR(volume, s.volume(), 1e-4 * s.volume());
  EXPECT_GT(worst, 0);
  EXPECT_GT(mesh::quality(m, m.blocks.front()).leastScaledJacobian, 0.1);
  EXPECT_NEAR(freeArea(m, "part.plate.left"), 200, 1e-8);
  EXPECT_NEAR(freeArea(m, "part.plate.top"), 400, 1e-8);
  EXPECT_NEAR(freeArea(m, "part.hole.side"), 2 * pi * 5 * 10, 1e-4 * 314) << "quadratic arcs of a twelfth of the circle";
  size_t named = 0;
  for (const auto& f : m.faces) named += f.facets.size();
  EXPECT_EQ(named, m.boundary(0).size()) << "every outer side belongs to one named face";
  for (int n : m.nodesOf(m.face("part.hole.side")->facets))
    EXPECT_NEAR(std::hypot(m.x[size_t(n)].x() - 20, m.x[size_t(n)].y() - 10), 5, 1e-6) << "middles too lie on the true surface";
}

TEST_F(FreeMesh, IsFinerWhereItIsAskedTo) {
  const auto s = freeSolid(R"({"box": {"size": [20, 20, 20]}})");
  std::vector<double> sizes(6, 0);
  sizes[0] = 1.25;
  const auto coarse = freeMeshOf(s, 5), fine = freeMeshOf(s, 5, sizes);
  const auto facets = [&](const mesh::Mesh& m, size_t i) { return double(m.face("part." + s.faces()[i].name)->facets.size()); };
  EXPECT_GT(facets(fine, 0), 8 * facets(coarse, 0));
  EXPECT_LT(facets(fine, 1), 4 * facets(coarse, 1)) << "and only there";
  EXPECT_NEAR(volumeAndWorst(fine).first, 8000, 1e-6);
}

TEST_F(FreeMesh, IsTheSameAgainFromTheKeptOnes) {
  const auto s = freeSolid(R"({"ball": {"radius": 3}})");
  int stages = 0;
  mesh::Mesh first, again;
  for (auto* m : {&first, &again}) {
    m->dim = 3, m->parts = {"part"};
    stages = 0;
    mesh::addFree(*m, 0, s, {1.2, {}}, "parts/part", [&](const std::string& stage) { return stages += !stage.empty(), true; });
  }
  EXPECT_EQ(stages, 0) << "no second meshing";
  ASSERT_EQ(first.x.size(), again.x.size());
  for (size_t i = 0; i < first.x.size(); ++i) EXPECT_EQ(first.x[i], again.x[i]);
  for (int n : first.nodesOf(first.boundary(0))) EXPECT_NEAR(first.x[size_t(n)].norm(), 3, 1e-6);
}

TEST_F(FreeMesh, AKeptMeshThatWasDamagedIsMadeAnew) {
  const auto s = freeSolid(R"({"box": {"size": [2, 2, 2]}})");
  freeMeshOf(s, 1);
  int files = 0;
  for (const auto& f : std::filesystem::recursive_directory_iterator(folder))
    if (f.path().extension() == ".kept") std::filesystem::resize_file(f.path(), 100), ++files;
  EXPECT_EQ(files, 1);
  EXPECT_NEAR(volumeAndWorst(freeMeshOf(s, 1)).first, 8, 1e-9);
}

TEST_F(FreeMesh, CanBeStopped) {
  mesh::Mesh m;
  m.dim = 3, m.parts = {"part"};
  EXPECT_SAYS(sentence([&] {
                mesh::addFree(m, 0, freeSolid(R"({"box": {"size": [50, 50, 50]}})"), {1.5, {}}, "parts/part",
                              [](const std::string& stage) { return stage != "volume"; });
              }),
              "stopped");
  EXPECT_SAYS(sentence([&] {
                mesh::addFree(m, 0, freeSolid(R"({"box": {"size": [50, 50, 50]}})"), {0.01, {}}, "parts/part");
              }),
              "Take a larger one");
  EXPECT_TRUE(m.x.empty() && m.blocks.empty());
}

TEST_F(FreeMesh, RandomSolidsHaveNoBadElement) {
  std::mt19937 gen(7);
  const auto value = [&](double a, double b) { return std::uniform_real_distribution<double>(a, b)(gen); };
  int meshed = 0, sound = 0;
  for (int k = 0; k < 60; ++k) {
    const double X = value(10, 40), Y = value(10, 40), Z = value(3, 30), r = value(1, 0.4 * std::min(X, Y));
    std::ostringstream features;
    features << R"([{"box": {"size": [)" << X << "," << Y << "," << Z << R"(]}, "name": "block"}, {"cylinder": {"from": [)"
             << value(0, X) << "," << value(0, Y) << R"(, -1], "to": [)" << value(0, X) << "," << value(0, Y) << "," << Z + 1
             << R"(], "radius": )" << r << R"(}, "how": "cut", "name": "hole"})";
    if (k % 3 == 0)
      features << R"(, {"fillet": {"between": ["block.top", "block.right"], "radius": )" << value(0.5, 0.3 * std::min(Y, X))
               << "}}";
    if (k % 4 == 0)
      features << R"(, {"ball": {"center": [)" << value(0, X) << "," << value(0, Y) << "," << Z << R"(], "radius": )"
               << value(2, 8) << "}}";
    features << "]";
    std::optional<geometry::Solid> s;
    const auto fault = sentence([&] { s = freeSolid(features.str()); });
    if (!s) {  // in pieces, or with a rounding that cannot be made
      EXPECT_GT(fault.size(), 40u) << fault;
      continue;
    }
    ++sound;
    const auto words = sentence([&] {
      const auto m = freeMeshOf(*s, std::min({X, Y, Z}) / 2);
      const auto [volume, worst] = volumeAndWorst(m);
      EXPECT_GT(worst, 0) << features.str();
      EXPECT_GE(mesh::quality(m, m.blocks.front()).leastScaledJacobian, 0.02) << features.str();
      EXPECT_NEAR(volume, s->volume(), 0.02 * s->volume()) << features.str();
      ++meshed;
    });
    if (words != "no error") {
      EXPECT_GT(words.size(), 40u) << words;
    }
  }
  EXPECT_GT(sound, 48);
  EXPECT_GE(meshed, 0.95 * sound) << "of " << sound;
}

TEST_F(FreeMesh, ARefusalKnowsWhereItFails) {
  // a wedge of 0.6 degrees, its edge along z at x = 0
  const auto s = freeSolid(R"([{"box": {"size": [20, 10, 6]}, "name": "b"}, {"half": {"normal": [-0.01, 1, 0]}, "name": "h"}])");
  try {
    freeMeshOf(s, 3);
    FAIL() << "no element of a wedge this thin can be solved";
  } catch (const mesh::Refusal& e) {
    ASSERT_FALSE(e.places().empty()) << e.what();
    const auto& at = e.places().front().at;
    EXPECT_LT(at.x(), 6) << "near the edge";
    EXPECT_GE(at.y(), -1e-9);
    EXPECT_LE(at.y(), 0.01 * at.x() + 1e-9);
    EXPECT_SAYS(std::string(e.what()), "no sound mesh");
  }
}

TEST_F(FreeMesh, AStepTooSmallForAnyElementIsNoRefusal) {
  // a block on a block, 0.0004 mm narrower all round: four strips that no element of 2 mm fits
  const auto s = freeSolid(R"([{"box": {"size": [20, 20, 5]}, "name": "low"},
    {"box": {"at": [0.0004, 0.0004, 5], "size": [19.9992, 19.9992, 5]}, "name": "high"}])");
  const auto m = freeMeshOf(s, 4);
  expectSolvable(m, s);
  ASSERT_FALSE(m.notes.empty());
  EXPECT_TRUE(std::any_of(m.notes.begin(), m.notes.end(), [](const auto& n) { return n.doubt; })) << "what was given up is told";
  // whose faces are which is kept: by area, and by where they lie
  for (const auto& [name, z] : {std::pair{"part.low.front", 0.}, {"part.high.back", 10.}}) {
    const auto* face = m.face(name);
    ASSERT_TRUE(face) << name;
    double area = 0;
    for (const auto& facet : face->facets) {
      const auto n = m.nodesOf(facet);
      for (int node : n) EXPECT_NEAR(m.x[size_t(node)].z(), z, 1e-3);
      area += (m.x[size_t(n[1])] - m.x[size_t(n[0])]).cross(m.x[size_t(n[2])] - m.x[size_t(n[0])]).norm() / 2;
    }
    EXPECT_NEAR(area, 400, 0.5) << name;
  }
}

TEST_F(FreeMesh, LedgesOfAThousandthAreClosedOver) {
  // four holes through a block, each wider by 0.001 mm from half way on: a ring there that no triangle fits
  std::string features = R"([{"box": {"size": [20, 20, 10]}, "name": "block"})";
  for (const double x : {4., 12.})
    for (const double y : {4., 12.})
      features += fmt::format(R"(, {{"box": {{"at": [{0}, {1}, -1], "size": [3, 3, 12]}}, "how": "cut", "name": "h{0}{1}"}},
        {{"box": {{"at": [{2}, {3}, 5], "size": [3.002, 3.002, 6]}}, "how": "cut", "name": "w{0}{1}"}})",
                              x, y, x - 0.001, y - 0.001);
  const auto s = freeSolid(features + "]");
  const auto m = freeMeshOf(s, 4);
  expectSolvable(m, s);
  ASSERT_FALSE(m.notes.empty());
  EXPECT_SAYS(m.notes.front().words, "closed over");
  EXPECT_NEAR(freeArea(m, "part.h44.left"), 15, 0.01) << "the walls keep their names";
  EXPECT_NEAR(freeArea(m, "part.block.back"), 400 - 4 * 3.002 * 3.002, 0.05);
}

/// Elements nearly as long as a hole is wide, as in a draft: the inside is curved along, and the hole stays as round as it is
/// drawn.
TEST_F(FreeMesh, CoarseHolesStayRound) {
  const auto solid = freeSolid(R"([{"name": "b", "box": {"at": [-12, 0, 0], "size": [24, 12, 40]}},
    {"cylinder": {"from": [0, -1, 10], "to": [0, 13, 10], "radius": 4.5}, "how": "cut", "name": "one"},
    {"cylinder": {"from": [0, -1, 30], "to": [0, 13, 30], "radius": 4.5}, "how": "cut", "name": "two"}])");
  std::vector<double> sizes(solid.faces().size(), 0.);
  for (size_t f = 0; f < sizes.size(); ++f)
    if (solid.faces()[f].name.ends_with(".side")) sizes[f] = 4;
  for (const double size : {8., 6., 5.}) {
    const auto m = freeMeshOf(solid, size, sizes);
    EXPECT_GT(volumeAndWorst(m).second, 0.1);
    int middles = 0;
    for (const auto& face : m.faces) {
      if (!face.name.ends_with(".side")) continue;
      const double z = face.name.find("one") != std::string::npos ? 10 : 30;
      for (const auto& facet : face.facets) {
        const auto nodes = m.nodesOf(facet);
        for (size_t k = 3; k < 6; ++k, ++middles) {
          const auto& x = m.x[size_t(nodes[k])];
          EXPECT_NEAR(std::hypot(x.x(), x.z() - z), 4.5, 1e-6) << size << ", at y " << x.y();
        }
      }
    }
    EXPECT_GT(middles, 60);
  }
}

TEST_F(FreeMesh, ACircleSmallerThanAnyElementIsNoRefusal) {
  const auto s = freeSolid(R"([{"box": {"size": [60, 60, 8]}, "name": "plate"},
    {"cylinder": {"from": [20, 20, 8], "to": [20, 20, 9], "radius": 0.15}, "name": "stud"}])");
  const auto m = freeMeshOf(s, 5);
  const auto [volume, worst] = volumeAndWorst(m);
  EXPECT_GT(worst, 0);
  EXPECT_NEAR(volume, s.volume(), 1e-4 * s.volume());
  EXPECT_NEAR(freeArea(m, "part.stud.end"), pi * 0.15 * 0.15, 0.15 * pi * 0.15 * 0.15) << "it is there";
}

TEST_F(FreeMesh, ASmallCircleMakesNothingElseSmall) {
  // a plate with a rounding that is finer than any element, with and without a stud that is finer still
  const std::string plate = R"([{"box": {"size": [60, 60, 8]}, "name": "plate"},
    {"fillet": {"between": ["plate.right", "plate.back"], "radius": 0.3}})";
  const auto alone = freeMeshOf(freeSolid(plate + "]"), 5);
  const auto studded = freeMeshOf(
      freeSolid(plate + R"(, {"cylinder": {"from": [20, 20, 8], "to": [20, 20, 9], "radius": 0.1}, "name": "stud"}])"), 5);
  EXPECT_LT(double(studded.blocks.front().count()), 1.5 * double(alone.blocks.front().count()));
  EXPECT_NEAR(freeArea(studded, "part.stud.end"), pi * 0.01, 0.15 * pi * 0.01);
}

/// A hole that is flat on one side part of its way, in a draft: the narrow segment under the flat and the edges across it are
/// what a first mesh fails at. Smaller elements there are all it takes; its faces are not given up.
TEST_F(FreeMesh, FacesThatCannotBeMeshedGetSmallerElements) {
  int finer = 0;
  for (const double size : {1.8, 2.2, 3.})
    for (const double flat : {1.2, 1.4, 1.6}) {
      const auto d = model::parse(fmt::format(
          R"({{"anvil": 1, "space": "solid", "fineness": "draft", "materials": {{"m": {{"elastic": {{"E": 1000, "nu": 0.3}}}}}},
            "parts": {{"p": {{"material": "m", "element": "tet10", "mesh": {{"size": {}}}, "solid": [
              {{"box": {{"size": [12, 12, 16]}}, "name": "block"}},
              {{"cylinder": {{"from": [6, 6, 2.4], "to": [6, 6, 17], "radius": 2}}, "how": "cut", "name": "hole"}},
              {{"box": {{"at": [3, 3, 2], "size": [{}, 6, 2.7]}}, "name": "fill"}}]}}}}}})",
          size, flat));
      const model::Quantities q(d);
      const auto m = analysis::buildMesh(d, q);
      SCOPED_TRACE(fmt::format("{} {}", size, flat));
      expectSolvable(m, geometry::solid(d.parts.front().second, q, "", "parts/p"));
      for (const auto& note : m.notes) {
        EXPECT_EQ(note.words.find("triangulated"), std::string::npos) << note.words;
        finer += note.words.find("elements are smaller") != std::string::npos;
      }
    }
  EXPECT_GT(finer, 2) << "else it shows nothing";
}

TEST_F(FreeMesh, ADraftOfManyFacesGrowsFasterFromWhatIsSmall) {
  const auto counted = [&](const geometry::Solid& s, bool rough) {
    mesh::Mesh m;
    m.dim = 3, m.parts = {"part"};
    mesh::FreeSizes sizes{10, {}};
    sizes.rough = rough;
    mesh::addFree(m, 0, s, sizes, "parts/part");
    expectSolvable(m, s);
    return double(m.blocks.front().count());
  };
  // square blind holes, four walls and a floor each, in a block that is deep below them
  std::string features = R"([{"box": {"size": [72, 42, 60]}, "name": "b"})";
  const auto hole = [&](int i) {
    features += fmt::format(R"(, {{"box": {{"at": [{}, {}, 57], "size": [3, 3, 5]}}, "how": "cut", "name": "h{}"}})",
                            3 + 7 * (i % 10), 3 + 9 * (i / 10), i);
  };
  hole(0);
  const auto plain = freeSolid(features + "]");
  EXPECT_EQ(counted(plain, true), counted(plain, false)) << "an ordinary solid is none of it";
  for (int i = 1; i < 40; ++i) hole(i);
  const auto detailed = freeSolid(features + "]");
  ASSERT_GT(detailed.faces().size(), 200u);
  EXPECT_LT(counted(detailed, true), 0.9 * counted(detailed, false));
}

TEST_F(FreeMesh, ATriangulationOfTheWholeKeepsTheFaces) {
  // asked of the mesher by itself: a cylinder's hole through a block, its outside as a whole
  const auto s = freeSolid(R"([{"box": {"size": [20, 20, 10]}, "name": "block"},
    {"cylinder": {"from": [10, 10, -1], "to": [10, 10, 11], "radius": 5}, "how": "cut", "name": "hole"}])");
  const auto j = mesh::askedOfWorker(s, {{"size", 3.}, {"smallest", 0.5}, {"way", "triangles"}}, "parts/part");
  ASSERT_TRUE(j.contains("cells")) << j.value("error", "");
  EXPECT_GT(j["worst"].get<double>(), 0.02);
  const std::vector<double> x = j["x"];
  const std::vector<int> triangles = j["triangles"], face = j["face"];
  std::vector<double> area(s.faces().size(), 0);
  for (size_t t = 0; t < face.size(); ++t) {
    const auto at = [&](size_t k) { return Eigen::Vector3d(&x[3 * size_t(triangles[6 * t + k])]); };
    area[size_t(face[t])] += (at(1) - at(0)).cross(at(2) - at(0)).norm() / 2;
  }
  for (size_t f = 0; f < area.size(); ++f)
    EXPECT_NEAR(area[f], s.faces()[f].area, 0.04 * s.faces()[f].area) << s.faces()[f].name;  // chords of the hole
}

TEST_F(FreeMesh, CarriesAConstantStressExactly) {
  const auto s = solved(R"({"anvil": 1, "space": "solid", "geometry": "small",
    "materials": {"steel": {"elastic": {"E": 200000, "nu": 0.3}}},
    "parts": {"bar": {"material": "steel", "solid": {"box": {"size": [20, 10, 10]}, "name": "b"}, "mesh": {"size": 5}}},
    "steps": {"pull": {"increments": {"first": 1, "largest": 1}}},
    "supports": {"x": {"on": "bar.b.left", "fix": "x"}, "y": {"on": "bar.b.bottom", "fix": "y"}, "z": {"on": "bar.b.back",
      "fix": "z"}},
    "motions": {"pull": {"on": "bar.b.right", "along": "x", "course": 0.02}}})");
  EXPECT_NEAR(s.last("motions/pull/force x"), 200000 * 0.001 * 100, 1e-5);
  for (const auto& p : s.course.all.back().points) EXPECT_NEAR(p.stress[0], 200, 1e-6);
}

TEST_F(FreeMesh, FaultsOfSolidPartsAreNamed) {
  const std::string text = R"({"anvil": 1, "space": "solid", "materials": {"steel": {"elastic": {"E": 200000, "nu": 0.3}}},
    "parts": {"bar": {"material": "steel", "solid": {"box": {"size": [20, 10, 10]}, "name": "b"}, "mesh": {"size": 5}}},
      "steps": {"pull": {}}})";
  const auto said = [&](const std::string& from, const std::string& to) {
    return sentence([&] { lowered(with(text, from, to)); });
  };
  EXPECT_SAYS(said(R"("size": 5)", R"("count": 3)"), "by element sizes, not by counts");
  EXPECT_SAYS(said(R"("size": 5)", R"("size": 0)"), "0 mm");
  EXPECT_SAYS(said(R"("mesh")", R"("sizes": {"b.topp": 1}, "mesh")"), "Did you mean 'b.top'?");
  EXPECT_SAYS(said(R"("mesh")", R"("sizes": {"b": -1}, "mesh")"), "-1 mm");
  EXPECT_SAYS(said(R"("mesh")", R"("element": "quad8", "mesh")"), "tet10");
  EXPECT_SAYS(said(R"("mesh")", R"("shape": {"rectangle": {"size": [1, 1]}}, "mesh")"), "shapes and a solid");
  EXPECT_SAYS(said(R"("space": "solid")", R"("space": "plane strain")"), "the model is plane");
}

TEST(Worker, IsHeardAndItsEndIsKnown) {
  EXPECT_SAYS(sentence([] { runWorker("no-such-program", {}, [](const std::string&) { return true; }); }), "no-such-program");
  std::vector<std::string> lines;
  const auto end = runWorker("sh", {"-c", "echo one >&2; echo two >&2; exit 3"},
                             [&](const std::string& l) { return l.empty() || (lines.push_back(l), true); });
  EXPECT_EQ(end.code, 3);
  EXPECT_EQ(lines, (std::vector<std::string>{"one", "two"}));
  EXPECT_EQ(end.lastWord, "two");
  const auto killed = runWorker("sh", {"-c", "kill -9 $$"}, [](const std::string&) { return true; });
  EXPECT_EQ(killed.code, -1);
  const auto slow = runWorker("sh", {"-c", "exec sleep 30"}, [](const std::string&) { return false; });
  EXPECT_TRUE(slow.stopped);
}

}  // namespace
