// Lines of slender parts along edges of solids, and lines drawn from point to point.
#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "core/geometry/draw_lines.hpp"
#include "core/geometry/solid.hpp"
#include "core/geometry/solid_edge.hpp"
#include "core/model/actions.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"
#include "core/model/things.hpp"
#include "meshes.hpp"
#include "words.hpp"

using namespace anvil;
using Eigen::Vector3d;

namespace {

/// A block with a fillet along one edge and a rounded post on it, and a slender part with the lines of `lines`.
std::string framed(const std::string& lines, const std::string& points = "{}") {
  return R"({"anvil": 1, "space": "solid", "materials": {"steel": {"elastic": {"E": 200000, "nu": 0.3}}}, "parts": {
    "block": {"material": "steel", "solid": [{"name": "box", "box": {"at": [0, 0, 0], "size": [60, 40, 20]}},
      {"name": "post", "cylinder": {"from": [30, 40, 10], "to": [30, 70, 10], "radius": 6}},
      {"name": "soft", "fillet": {"between": ["box.left", "box.top"], "radius": 5}}], "mesh": {"size": 12}},
    "rib": {"material": "steel", "slender": {"points": )" +
         points + R"(, "lines": {)" + lines + R"(}, "sections": {"bar": {"form": "round", "diameter": 2}}}}}})";
}

std::vector<Vector3d> nodesOfLine(const mesh::Mesh& m, const std::string& name) {
  for (const auto& l : m.lines)
    if (l.name == name) {
      std::vector<Vector3d> x;
      for (int n : l.nodes) x.push_back(m.x[size_t(n)]);
      return x;
    }
  return {};
}

}  // namespace

TEST(DrawnLines, ALineRunsAlongAnEdge) {
  const auto m = meshOf(framed(R"("a": {"edge": "block.box.right & block.box.back", "count": 5})"));
  const auto x = nodesOfLine(m, "rib.a");
  ASSERT_EQ(x.size(), 6u);
  for (const auto& at : x) EXPECT_NEAR(std::abs(at.x() - 60) + std::abs(at.z() - 20), 0, 1e-9);
  for (size_t i = 0; i + 1 < x.size(); ++i) EXPECT_NEAR((x[i + 1] - x[i]).norm(), 8, 1e-9);
  ASSERT_TRUE(m.spot("rib.a from") && m.spot("rib.a to"));
  EXPECT_NEAR((m.x[size_t(m.spot("rib.a from")->node)] - m.x[size_t(m.spot("rib.a to")->node)]).norm(), 40, 1e-9);
}

TEST(DrawnLines, LinesAlongEdgesThatMeetAreJoined) {
  const auto m = meshOf(framed(R"("a": {"edge": "block.box.right & block.box.back"},
    "b": {"edge": "block.box.bottom & block.box.back"})"));
  EXPECT_EQ(m.spots.size(), 3u);
  EXPECT_EQ(m.turnNode.size(), 3u + 2 * 15);
}

TEST(DrawnLines, LinesGoOnFromThePointsThatEdgesMake) {
  const auto m = meshOf(framed(R"("stay": {"from": "a from", "to": "top"}, "a": {"edge": "block.box.right & block.box.back"})",
                               R"({"top": [80, 90, 20]})"));
  ASSERT_EQ(m.lines.size(), 2u);
  EXPECT_EQ(m.lines[0].name, "rib.stay");
  EXPECT_EQ(m.lines[0].nodes.front(), m.spot("rib.a from")->node);
  EXPECT_EQ(m.spots.size(), 3u);
}

TEST(DrawnLines, ARoundEdgeIsAClosedRing) {
  const auto m = meshOf(framed(R"("ring": {"edge": "block.post.end & block.post.side", "up": [0, 0, 1]})"));
  const auto x = nodesOfLine(m, "rib.ring");
  const double pieces = double(x.size()) - 1;
  EXPECT_NEAR(pieces, 48, 1.01);  // as many as a full circle wants, or one more where the turning is measured a little large
  EXPECT_EQ(m.spots.size(), 1u);
  EXPECT_LT((x.front() - x.back()).norm(), 1e-12);
  for (const auto& at : x) EXPECT_NEAR((at - Vector3d(30, 70, 10)).norm(), 6, 1e-9);
  for (size_t i = 0; i + 1 < x.size(); ++i) EXPECT_NEAR((x[i + 1] - x[i]).norm(), 12 * std::sin(std::numbers::pi / pieces), 1e-9);
}

TEST(DrawnLines, AnEdgeIsRunFromTheNamedEnd) {
  for (const double z : {0., 20.}) {
    const auto m = meshOf(framed(R"("a": {"edge": "block.box.right & block.box.bottom", "from": "here", "count": 4})",
                                 "{\"here\": [60, 0, " + std::to_string(int(z)) + "]}"));
    EXPECT_LT((nodesOfLine(m, "rib.a").front() - Vector3d(60, 0, z)).norm(), 1e-12);
    EXPECT_LT((nodesOfLine(m, "rib.a").back() - Vector3d(60, 0, 20 - z)).norm(), 1e-12);
  }
}

TEST(DrawnLines, AnEdgeThroughAFilletTurnsWithIt) {
  const auto d = model::parse(framed(R"("a": {"edge": "block.box.right & block.box.back"})"));
  const model::Quantities q(d);
  std::map<std::string, geometry::Solid> known;
  const auto edge = geometry::edgeNamed(d, q, known, "block.soft.round & block.box.front", "x");
  EXPECT_NEAR(edge->length(), std::numbers::pi / 2 * 5, 1e-6);
  EXPECT_NEAR(edge->turned(), std::numbers::pi / 2, 1e-3);
  EXPECT_NEAR((edge->at(0.5) - Vector3d(5, 35, 0)).norm(), 5, 1e-6);
}

TEST(DrawnLines, WhatIsWrongWithAnEdgeIsSaid) {
  const auto said = [](const std::string& edge, const std::string& more = "") {
    return sentence([&] { meshOf(framed(R"("a": {"edge": ")" + edge + "\"" + more + "}")); });
  };
  EXPECT_NE(said("block.box.right").find("is no edge"), std::string::npos);
  EXPECT_NE(said("block.box.right & rib.x").find("is no edge"), std::string::npos);
  EXPECT_NE(said("blok.box.right & blok.box.top").find("Did you mean 'block'"), std::string::npos);
  EXPECT_NE(said("block.box.rihgt & block.box.top").find("Did you mean 'box.right'"), std::string::npos);
  EXPECT_NE(said("block.box.right & block.box.left").find("no edge in common"), std::string::npos);
  EXPECT_NE(said("rib.x & rib.y").find("not made of features"), std::string::npos);
  EXPECT_NE(said("block.box.right & block.box.back", R"(, "by": [1, 2, 3])").find("Keep one"), std::string::npos);
  EXPECT_NE(said("block.soft.round & block.box.front", R"(, "carries": "pull")").find("straight"), std::string::npos);
  EXPECT_NE(sentence([] {
              meshOf(framed(R"("a": {"edge": "block.box.right & block.box.back", "to": "aside"})", R"({"aside": [1, 2, 3]})"));
            }).find("does not lie at an end of the edge"),
            std::string::npos);
}

TEST(DrawnLines, EdgesOfOneSheetAreKnownByNumber) {
  const auto text = framed(R"("a": {"edge": "block.box.right & block.box.back"})");
  const auto d = model::parse(text);
  const model::Quantities q(d);
  const auto solid = geometry::solid(d.parts.front().second, q, "", "parts/block");
  // a closed solid has no free edge
  EXPECT_NE(sentence([&] { geometry::edgeBetween(solid, "box.right", "edge 1", "x"); }), "no error");
}

TEST(DrawnLines, DrawingMakesAPartAndGoesOn) {
  auto d = model::parse(R"({"anvil": 1, "space": "solid", "units": {"length": "m"}, "materials": {"steel": {}}})");
  const auto first = geometry::drawLine(d, "", {{0, 0, 0}, ""}, {{1000, 0, 0}, ""});
  EXPECT_EQ(first.part, "beam");
  EXPECT_EQ(d.parts.find("beam")->material, "steel");
  const auto& s = *d.parts.find("beam")->slender;
  EXPECT_EQ(*s.points.find("p2")->front().number, 1);  // in the document's unit
  const auto second = geometry::drawLine(d, "beam", {{1000, 0, 0}, first.to}, {{1000, 500, 0}, ""});
  EXPECT_EQ(second.from, first.to);
  const auto third = geometry::drawLine(d, "beam", {{1000, 500, 0}, ""}, {{0, 0, 0}, ""});  // met by its place
  EXPECT_EQ(third.from, second.to);
  EXPECT_EQ(third.to, first.from);
  EXPECT_EQ(s.points.size(), 3u);
  EXPECT_EQ(s.lines.size(), 3u);
  EXPECT_NE(sentence([&] {
              geometry::drawLine(d, "beam", {{0, 0, 0}, ""}, {{1000, 0, 0}, ""});
            }).find("already"),
            std::string::npos);
  EXPECT_NE(sentence([&] {
              geometry::drawLine(d, "beam", {{0, 0, 0}, ""}, {{0, 0, 0}, ""});
            }).find("no length"),
            std::string::npos);
}

TEST(DrawnLines, PartsAreJoinedWhicheverWasDrawnFirst) {
  const std::string head = R"({"anvil": 1, "space": "solid", "materials": {"steel": {"elastic": {"E": 2e5, "nu": 0.3}}}})";
  for (const bool laterFirst : {false, true}) {
    auto d = model::parse(head);
    geometry::drawLine(d, "", {{0, 0, 0}, ""}, {{100, 0, 0}, ""});
    geometry::drawLine(d, "", {{0, 50, 0}, ""}, {{100, 50, 0}, ""});
    const std::string one = laterFirst ? "beam" : "beam 2", other = laterFirst ? "beam 2" : "beam";
    geometry::drawLine(d, one, {{0, laterFirst ? 0. : 50., 0}, ""}, {{100, laterFirst ? 50. : 0., 0}, other + ".p2"});
    const auto m = meshOf(model::print(d));
    EXPECT_EQ(m.turnNode.size(), 3 * 17u - 2u) << "the parts share one joint, and one more within the part";
  }
  auto d = model::parse(head);
  geometry::drawLine(d, "", {{0, 0, 0}, ""}, {{100, 0, 0}, ""});
  d.parts.find("beam")->place.emplace();
  EXPECT_NE(sentence([&] {
              geometry::drawLine(d, "beam", {{0, 0, 0}, ""}, {{0, 100, 0}, ""});
            }).find("placed"),
            std::string::npos);
}

TEST(DrawnLines, ALineToAJoinedPointGoesToTheOneItIs) {
  auto d = model::parse(R"({"anvil": 1, "space": "solid", "materials": {"steel": {"elastic": {"E": 2e5, "nu": 0.3}}}})");
  geometry::drawLine(d, "", {{0, 0, 0}, ""}, {{100, 0, 0}, ""});              // beam
  geometry::drawLine(d, "", {{100, 0, 0}, "beam.p2"}, {{100, 50, 0}, ""});    // beam 2 is joined to it
  geometry::drawLine(d, "", {{100, 0, 0}, "beam 2.p1"}, {{100, 0, 90}, ""});  // and a third, at the joint
  EXPECT_EQ(d.parts.find("beam 3")->slender->points.front().second.front().text, "beam.p2");
  EXPECT_EQ(meshOf(model::print(d)).turnNode.size(), 3 * 17u - 2u);
  // a point that an edge makes is not written down: nothing can name it
  auto edged = model::parse(framed(R"("a": {"edge": "block.box.right & block.box.back"})"));
  const auto said = sentence([&] { geometry::drawLine(edged, "", {{60, 40, 20}, "rib.a from"}, {{90, 90, 90}, ""}); });
  EXPECT_NE(said.find("made by an edge"), std::string::npos) << said;
  EXPECT_EQ(geometry::drawLine(edged, "rib", {{60, 40, 20}, "rib.a from"}, {{90, 90, 90}, ""}).from, "rib.a from");
}

TEST(DrawnLines, WhatRefersToAPointFollowsItsName) {
  auto d = model::parse(R"({"anvil": 1, "space": "solid", "parts": {
    "a": {"slender": {"points": {"end": [9, 0, 0], "root": [0, 0, 0]},
      "lines": {"l": {"from": "root", "to": "end", "section": "bar"}}, "sections": {"bar": {"form": "round", "diameter": 2}}}},
    "b": {"slender": {"points": {"hook": ["a.end"], "end": [9, 9, 9]}, "lines": {"l": {"from": "hook", "to": "end"}},
      "sections": {"bar": {"form": "round", "diameter": 2}}}}},
    "supports": {"s": {"on": ["a.end", "a.endless", "b.end"], "fix": ["all"]}},
    "loads": {"w": {"on": ["a.l"], "kind": "force"}}})");
  model::followSlender(d, "a", "points", "end", "tip");
  EXPECT_EQ(d.parts.find("a")->slender->lines.find("l")->to, "tip");
  EXPECT_EQ(d.parts.find("b")->slender->lines.find("l")->to, "end");
  EXPECT_EQ(d.parts.find("b")->slender->points.find("hook")->front().text, "a.tip");
  EXPECT_EQ(d.supports.find("s")->on, (std::vector<std::string>{"a.tip", "a.endless", "b.end"}));
  model::followSlender(d, "a", "lines", "l", "arm");
  EXPECT_EQ(d.loads.find("w")->on, std::vector<std::string>{"a.arm"});
  model::followSlender(d, "a", "sections", "bar", "rod");
  EXPECT_EQ(d.parts.find("a")->slender->lines.find("l")->section, "rod");
}
