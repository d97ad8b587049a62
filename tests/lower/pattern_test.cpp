// Parts and bolts repeated round an axis.
#include <gtest/gtest.h>

#include <fmt/format.h>

#include "core/checks/readiness.hpp"
#include "core/geometry/facets.hpp"
#include "core/job/run_model.hpp"
#include "core/lower/lower.hpp"
#include "core/mesh/quality.hpp"
#include "core/mesh/select.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/model/quantities.hpp"
#include "meshes.hpp"
#include "run/small_runs.hpp"
#include "words.hpp"

using namespace anvil;

namespace {

/// Rods on a circle of radius 40 about (5, 0), standing along z; pressed and pulled by what is put in.
std::string rods(const std::string& more, const std::string& part = R"("solid": [{"cylinder": {"from": [45, 0, 0],
    "to": [45, 0, 30], "radius": 4}, "name": "c"}])") {
  return R"({"space": "solid", "parameters": {"n": 3}, "materials": {"m": {"elastic": {"E": 200000, "nu": 0}}},
    "parts": {"rod": {"material": "m", "mesh": {"size": 6}, )" +
         part + R"(, "around": {"axis": "z", "at": [5, 0, 0], "count": "=n"}}},
    "steps": {"s": {"increments": {"first": 1, "largest": 1}}}, )" +
         more + "}";
}
const std::string ends = R"("supports": {"low": {"on": "rod.c.start", "fix": ["x", "y", "z"]},
  "high": {"on": "rod.c.end", "fix": ["x", "y"]}}, "motions": {"pull": {"on": "rod.c.end", "along": "z", "course": 0.01}})";

TEST(Pattern, EveryCopyHasFacesOfItsOwn) {
  const auto m = meshOf(rods(ends));
  ASSERT_EQ(m.bodies(0).size(), 3u);
  EXPECT_EQ(m.face("rod.c.side"), nullptr) << "the bare name means all of them";
  EXPECT_EQ(m.facesNamed("rod.c.side").size(), 3u);
  for (int k = 0; k < 3; ++k) {
    const auto* face = m.face("rod.c.side " + std::to_string(k + 1));
    ASSERT_TRUE(face);
    const auto round = mesh::cylinderOf(m, face->facets);
    EXPECT_NEAR(round.radius, 4, 1e-6);
    EXPECT_NEAR(round.centre.x(), 5 + 40 * std::cos(k * 2 * M_PI / 3), 1e-6);
    EXPECT_NEAR(round.centre.y(), 40 * std::sin(k * 2 * M_PI / 3), 1e-6);
  }
  EXPECT_EQ(m.boundary(0).size() % 3, 0u);
  const auto four = meshOf(with(rods(ends), R"("n": 3)", R"("n": 4)"));
  EXPECT_EQ(four.bodies(0).size(), 4u) << "the number is a parameter";
  EXPECT_EQ(four.x.size() * 3, m.x.size() * 4);
}

TEST(Pattern, CopiesShareAForceAndCanBeHeldOneByOne) {
  const auto three = solved(rods(ends)), one = solved(with(rods(ends), R"("n": 3)", R"("n": 1)"));
  EXPECT_NEAR(three.last("motions/pull/force z") / one.last("motions/pull/force z"), 3, 1e-9);
  const auto second = with(rods(ends), R"("pull": {"on": "rod.c.end")", R"("pull": {"on": "rod.c.end 2")");
  EXPECT_NEAR(solved(second).last("motions/pull/force z") / one.last("motions/pull/force z"), 1, 1e-9);
  const auto report = checks::readiness(model::parse(rods(R"("supports": {"low": {"on": ["rod.c.start 1", "rod.c.start 3"],
    "fix": ["x", "y", "z"]}, "rest": {"on": "rod.c.start 2", "fix": ["x", "z"]}})")));
  std::string said;
  for (const auto& f : report.findings) said += f.what;
  EXPECT_SAYS(said, "Piece 2 of the part is free to move (along y)");
}

TEST(Pattern, OfShapesInThePlaneToo) {
  const auto m = meshOf(R"({"materials": {"m": {"elastic": {"E": 1, "nu": 0}}}, "parts": {"tooth": {"material": "m",
    "mesh": {"count": [2, 3]}, "shape": {"rectangle": {"at": [10, -1], "size": [4, 2]}},
    "around": {"count": 5}}}, "steps": {"s": {}}})");
  EXPECT_EQ(m.bodies(0).size(), 5u);
  double least = 1e300, most = 0;
  for (int n : m.nodesOf(m.face("tooth.right 4")->facets)) {
    const auto& x = m.x[size_t(n)];
    least = std::min(least, x.norm()), most = std::max(most, x.norm());
    EXPECT_NEAR(x.x() * std::cos(3 * 2 * M_PI / 5) + x.y() * std::sin(3 * 2 * M_PI / 5), 14, 1e-9);
  }
  EXPECT_NEAR(least, 14, 1e-9);
}

TEST(Pattern, EdgesMeanThoseOfAllCopies) {
  const auto s = solved(rods(R"("supports": {"low": {"on": "rod.c.start", "fix": ["x", "y", "z"]}},
    "loads": {"rim": {"on": "rod.c.side & rod.c.end", "kind": "force", "along": "z", "course": 90}})"));
  EXPECT_NEAR(s.last("supports/low/force z"), -90, 1e-6);
  const auto one = solved(rods(R"("supports": {"low": {"on": "rod.c.start 3", "fix": ["x", "y", "z"]},
    "rest": {"on": ["rod.c.start 1", "rod.c.start 2"], "fix": ["x", "y", "z"]}},
    "loads": {"rim": {"on": "rod.c.side 3 & rod.c.end 3", "kind": "force", "along": "z", "course": 90}})"));
  EXPECT_NEAR(one.last("supports/low/force z"), -90, 1e-6);
  EXPECT_NEAR(one.last("supports/rest/force z"), 0, 1e-6);
}

TEST(Pattern, EachRodIsABolt) {
  const auto s = solved(rods(R"("supports": {"low": {"on": "rod.c.start", "fix": ["x", "y", "z"]},
    "high": {"on": "rod.c.end", "fix": ["x", "y", "z"]}}, "bolts": {"ring": {"on": "rod.c.side", "force": 700}})"));
  ASSERT_EQ(s.p->bolts.size(), 3u);
  for (int k = 1; k <= 3; ++k) EXPECT_NEAR(s.last("bolts/ring " + std::to_string(k) + "/force"), 700, 1e-6) << k;
  EXPECT_NEAR(s.last("supports/high/force z"), 2100, 1e-3);
  const auto report =
      checks::readiness(model::parse(rods(ends.substr(0, ends.size() - 1) + R"(}, "bolts": {"ring": {"on": "rod.c.side"}})")));
  int told = 0;
  for (const auto& f : report.findings) told += f.where == "bolts/ring/force";
  EXPECT_EQ(told, 1) << "what is true of all is said once, at the entry";
}

TEST(Pattern, IsShownWithoutAMeshToo) {
  const auto header = job::outsidesOf(model::parse(rods(ends)));
  EXPECT_EQ(header.rigid.size(), 3u);
}

TEST(RigidOutline, IsDrawnClosed) {
  // the volume inside what is drawn (Gauss' theorem)
  const std::string text = R"({"anvil": 1, "space": "solid", "materials": {"m": {"elastic": {"E": 1000, "nu": 0}}},
    "parts": {"tool": {"rigid": true, "shape": {"profile": {"start": [0, 0], "path": [{"line": [6, 0]}, {"line": [6, 2]},
      {"line": [2, 2]}, {"line": [2, 7]}, {"line": [0, 7]}, {"line": [0, 0]}]}}, "extrude": {"from": 1, "depth": 5}},
      "block": {"material": "m", "mesh": {"size": 3}, "solid": [{"box": {"size": [3, 3, 3]}}]}},
    "steps": {"s": {}}})";
  const auto d = model::parse(text);
  const auto body = job::headerOf(*analysis::lower(d), d).rigid.at(0);
  double volume = 0;
  const auto at = [&](int i) {
    return Eigen::Vector3d(body.points[3 * size_t(i)], body.points[3 * size_t(i) + 1], body.points[3 * size_t(i) + 2]);
  };
  for (size_t k = 0; k + 3 < body.quads.size(); k += 4)
    for (const auto& [b, c] : {std::pair{1, 2}, {2, 3}})
      volume += at(body.quads[k]).dot(at(body.quads[k + size_t(b)]).cross(at(body.quads[k + size_t(c)]))) / 6;
  EXPECT_NEAR(std::abs(volume), 5 * (12 + 10), 1e-9);
}

TEST(Pattern, WhatCannotBeRepeatedIsRefusedInWords) {
  const auto said = [](const std::string& text) { return sentence([&] { (void)meshOf(text); }); };
  EXPECT_SAYS(said(with(rods(ends), R"("n": 3)", R"("n": 2.5)")), "2.5");
  EXPECT_SAYS(said(with(rods(ends), R"("axis": "z", )", "")), "parts/rod/around/axis");
  EXPECT_SAYS(sentence([] {
                (void)lowered(with(rods(ends), R"("parts": {)", R"("parts": {"tool": {"rigid": true, "solid": [{"ball": {
                  "radius": 3}}], "around": {"axis": "z", "count": 2}}, )"));
              }),
              "a rigid part is one body and is not repeated");
}

/// E A ln(1/λ)/λ at a stretch λ of 0.99 and ν = 0, on 100 mm².
const double pressing = 1000 * 100 * std::log(1 / 0.99) / 0.99;

/// A block under a rigid step whose lower face alone, or its side alone, may touch.
std::string rigidPress(const std::string& face, const std::string& tool) {
  return R"({"space": "solid", "materials": {"m": {"elastic": {"E": 1000, "nu": 0}}},
    "parts": {"block": {"material": "m", "mesh": {"size": 3}, "solid": [{"box": {"size": [10, 10, 6]}, "name": "b"}]},
              "tool": {"rigid": true, "solid": )" +
         tool + R"(}},
    "contacts": {"press": {"between": ["block.b.back", ")" +
         face + R"("]}}, "steps": {"s": {}},
    "supports": {"base": {"on": "block.b.front", "fix": ["x", "y", "z"]}},
    "motions": {"down": {"on": "tool", "along": "z", "course": -0.06}}})";
}

TEST(RigidFace, OfASolidTouchesAlone) {
  const std::string step = R"([{"box": {"at": [-5, -5, 6], "size": [20, 20, 5]}, "name": "plate"}])";
  const auto all = solved(rigidPress("tool", step)), lower = solved(rigidPress("tool.plate.front", step));
  EXPECT_NEAR(all.last("contacts/press/force z") / pressing, -1, 1e-3);
  EXPECT_NEAR(lower.last("contacts/press/force z") / all.last("contacts/press/force z"), 1, 1e-9);
  EXPECT_EQ(solved(rigidPress("tool.plate.back", step)).last("contacts/press/force z"), 0) << "the face away from the block";
  const std::string disc = R"([{"cylinder": {"from": [5, 5, 6], "to": [5, 5, 9], "radius": 20}, "name": "c"}])";
  EXPECT_NEAR(solved(rigidPress("tool.c.start", disc)).last("contacts/press/force z") / pressing, -1, 1e-3);
  EXPECT_EQ(solved(rigidPress("tool.c.end", disc)).last("contacts/press/force z"), 0);
  EXPECT_SAYS(sentence([&] { (void)lowered(rigidPress("tool.c.sid", disc)); }), "Did you mean 'tool.c.side'?");
}

TEST(RigidFace, OfAnOutlinePulledStraightMayBeItsEnd) {
  const auto tool = [](const std::string& face) {
    auto text = rigidPress(face, "[]");
    return with(text, R"("solid": [])",
                R"("shape": {"rectangle": {"at": [-5, -5], "size": [20, 20]}}, "extrude": {"from": 6, "depth": 5})");
  };
  const auto all = solved(tool("tool"));
  EXPECT_NEAR(all.last("contacts/press/force z") / pressing, -1, 1e-3);
  EXPECT_NEAR(solved(tool("tool.front")).last("contacts/press/force z") / all.last("contacts/press/force z"), 1, 1e-9);
  EXPECT_EQ(solved(tool("tool.back")).last("contacts/press/force z"), 0) << "the end away from the block";
  EXPECT_EQ(solved(tool("tool.left")).last("contacts/press/force z"), 0);
  // a pulled rod's end pushes in like the feature's
  const auto rod = [](const std::string& how) { return solved(with(rigidPress("tool", "[]"), R"("solid": [])", how)); };
  const auto pulled = rod(R"("shape": {"disc": {"center": [5, 5], "radius": 3}}, "extrude": {"from": 6, "depth": 5})");
  const auto made = rod(R"("solid": [{"cylinder": {"from": [5, 5, 6], "to": [5, 5, 11], "radius": 3}}])");
  EXPECT_NEAR(pulled.last("contacts/press/force z") / made.last("contacts/press/force z"), 1, 1e-6);
  EXPECT_LT(made.last("contacts/press/force z"), -0.3 * pressing * 0.28);
}

TEST(RigidFace, OfAnOutlineInThePlane) {
  const std::string model = R"({"materials": {"m": {"elastic": {"E": 1000, "nu": 0}}},
    "parts": {"block": {"material": "m", "mesh": {"count": [4, 3]}, "shape": {"rectangle": {"at": [0, 0], "size": [10, 6]}}},
              "tool": {"rigid": true, "shape": {"rectangle": {"at": [-5, 6], "size": [20, 4]}}}},
    "contacts": {"press": {"between": ["block.top", "tool.bottom"]}}, "steps": {"s": {}},
    "supports": {"base": {"on": "block.bottom", "fix": ["x", "y"]}},
    "motions": {"down": {"on": "tool", "along": "y", "course": -0.06}}})";
  EXPECT_NEAR(solved(model).last("contacts/press/force y") / (pressing / 10), -1, 1e-3);
  EXPECT_EQ(solved(with(model, "tool.bottom", "tool.top")).last("contacts/press/force y"), 0);
  EXPECT_SAYS(sentence([&] { (void)lowered(with(model, "tool.bottom", "tool.nose")); }), "has no face 'nose'");
}

}  // namespace
