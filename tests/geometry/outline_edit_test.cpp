// Plane shapes changed by hand: grips, sizes typed, outlines drawn, and where their corners are put.
#include "core/geometry/outline_edit.hpp"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>
#include <random>

#include "core/geometry/four_sides.hpp"
#include "core/geometry/recipes.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"
#include "words.hpp"

using namespace anvil;
using namespace anvil::geometry;

namespace {

struct Drawn {
  model::Document d;
  explicit Drawn(const std::string& shape, const std::string& more = "")
      : d(model::parse(R"({"anvil": 1, )" + more + R"("parameters": {"wall": 5}, "parts": {"p": {"shape": )" + shape + "}}}")) {}
  model::Shape& shape() { return d.parts("p").shape.front(); }
  model::Quantities q() const { return model::Quantities(d); }
  Grip grip(Grip::What what, size_t which) {
    for (const auto& g : gripsOf(shape(), q()))
      if (g.what == what && g.which == which) return g;
    ADD_FAILURE() << "no such grip";
    return {};
  }
  SizeMark size(SizeMark::What what, size_t which = 0) {
    for (const auto& m : sizesOf(shape(), q()))
      if (m.what == what && m.which == which) return m;
    ADD_FAILURE() << "no such size";
    return {};
  }
};

const char* const ell = R"({"profile": {"start": [0, 0], "path": [{"line": [60, 0]}, {"line": [60, 10]},
  {"line": [10, 10], "fillet": 4}, {"line": [10, 50]}, {"line": [0, 50]}]}})";

TEST(OutlineEdit, EveryGripGoesWhereItIsPut) {
  for (const char* shape :
       {R"({"rectangle": {"at": [1, 2], "size": [20, 10]}})", R"({"disc": {"center": [3, 4], "radius": 6}})",
        R"({"ring": {"center": [1, 1], "inner": 5, "outer": 9, "from": 10, "to": 80}})", ell,
        R"({"profile": {"start": [0, 0], "path": [{"arc": [10, 10], "center": [0, 10]}, {"line": [0, 20]}]}})"}) {
    const auto grips = gripsOf(Drawn(shape).shape(), Drawn(shape).q());
    ASSERT_GE(grips.size(), 2u);
    for (const auto& g : grips) {
      Drawn own(shape);
      Point2 to = g.at + Point2(0.3, 0.2);
      moveGrip(own.shape(), own.q(), g, to);
      const auto now = own.grip(g.what, g.which);
      // a point goes all the way; a radius, an edge and an angle go along their own direction
      if (g.what == Grip::What::point || g.what == Grip::What::centre) {
        EXPECT_LT((now.at - to).norm(), 1e-6) << shape;
      } else {
        EXPECT_LT((now.at - to).norm(), (g.at - to).norm() + 1e-9) << shape << " " << int(g.what) << " " << g.which;
        EXPECT_TRUE(g.what == Grip::What::fillet || (now.at - g.at).norm() > 1e-3) << shape;  // 0 cannot be less
      }
      moveGrip(own.shape(), own.q(), now, g.at);
      EXPECT_LT((own.grip(g.what, g.which).at - g.at).norm(), 1e-6) << shape << " " << int(g.what) << " " << g.which;
    }
  }
}

TEST(OutlineEdit, EverySizeTakesAValue) {
  for (const char* shape :
       {R"({"rectangle": {"at": [1, 2], "size": [20, 10]}})", R"({"disc": {"radius": 6}})",
        R"({"ring": {"inner": 5, "outer": 9, "from": 10, "to": 80}})", ell,
        R"({"profile": {"start": [0, 0], "path": [{"arc": [10, 10], "center": [0, 10]}, {"line": [0, 20]}]}})"})
    for (const auto& m : sizesOf(Drawn(shape).shape(), Drawn(shape).q())) {
      Drawn own(shape);
      const double wanted = 1.1 * m.value;
      const double entered = m.kind == Kind::angle ? wanted * 180 / std::numbers::pi : wanted;
      setSize(own.shape(), own.q(), m, entered);
      EXPECT_NEAR(own.size(m.what, m.which).value, wanted, 1e-6) << shape << " " << int(m.what) << " " << m.which;
      EXPECT_FALSE(own.shape() == Drawn(shape).shape());
    }
}

TEST(OutlineEdit, ALengthShiftsWhatGoesOnSquareToIt) {
  Drawn own(ell);
  setSize(own.shape(), own.q(), own.size(SizeMark::What::length, 0), 80);
  const auto& path = own.shape().profile->path;
  EXPECT_EQ(*path[0].line[0].number, 80);
  EXPECT_EQ(*path[1].line[0].number, 80);  // the upright stays upright
  EXPECT_EQ(*path[1].line[1].number, 10);
  EXPECT_EQ(*path[2].line[0].number, 10);
}

TEST(OutlineEdit, CornersThatAreNoRightAnglesShowTheirAngleAndTakeAnother) {
  Drawn own(R"({"profile": {"start": [0, 0], "path": [{"line": [40, 0]}, {"line": [50, 10]}, {"line": [0, 10]}]}})");
  const auto obtuse = own.size(SizeMark::What::corner, 0), sharp = own.size(SizeMark::What::corner, 1);
  EXPECT_NEAR(obtuse.value, 0.75 * std::numbers::pi, 1e-12);
  EXPECT_NEAR(sharp.value, std::numbers::pi / 4, 1e-12);
  for (const auto& m : sizesOf(own.shape(), own.q()))
    EXPECT_FALSE(m.what == SizeMark::What::corner && m.which == 2);  // 90 degrees
  setSize(own.shape(), own.q(), obtuse, 120);
  EXPECT_NEAR(own.size(SizeMark::What::corner, 0).value, 2 * std::numbers::pi / 3, 1e-9);
  const auto& end = own.shape().profile->path[1].line;
  EXPECT_NEAR(std::hypot(*end[0].number - 40, *end[1].number), std::sqrt(200), 1e-6);  // the piece keeps its length
  EXPECT_GT(*end[1].number, 0);                                                        // and its side
  EXPECT_SAYS(sentence([&] { setSize(own.shape(), own.q(), own.size(SizeMark::What::corner, 0), 0.1); }),
              "of this angle is none");
}

TEST(OutlineEdit, EveryEdgeAndCornerRoundAnOutlineHasItsSize) {
  // drawn back to its start by hand, or closed by itself: the same marks; left open, as rigid parts are, neither
  const std::string three =
      R"({"profile": {"start": [0, 0], "path": [{"line": [40, 0]}, {"line": [50, 30]}, {"line": [-10, 20]})";
  const std::string open = three + "]", back = three + R"(, {"line": [0, 0]}])";
  const std::vector<Point2> at{{0, 0}, {40, 0}, {50, 30}, {-10, 20}};
  for (const auto& start : {open, back}) {
    Drawn own(start + "}}");
    double sum = 0;
    for (size_t i = 0; i < 4; ++i) {
      const Point2 here = at[(i + 1) % 4], one = at[i] - here, other = at[(i + 2) % 4] - here;
      EXPECT_NEAR(own.size(SizeMark::What::length, i).value, one.norm(), 1e-9);
      const double angle = own.size(SizeMark::What::corner, i).value;
      EXPECT_NEAR(std::cos(angle), one.dot(other) / one.norm() / other.norm(), 1e-9);
      sum += angle;
    }
    EXPECT_NEAR(sum, 2 * std::numbers::pi, 1e-9);
    for (size_t i = 0; i < 4; ++i) {  // each of them takes another value, and the legs of a corner keep their lengths
      Drawn changed(start + "}}");
      setSize(changed.shape(), changed.q(), changed.size(SizeMark::What::corner, i), 100);
      EXPECT_NEAR(changed.size(SizeMark::What::corner, i).value, 100 * std::numbers::pi / 180, 1e-8) << i;
      for (size_t leg : {i, (i + 1) % 4})
        EXPECT_NEAR(changed.size(SizeMark::What::length, leg).value, own.size(SizeMark::What::length, leg).value, 1e-6);
      setSize(changed.shape(), changed.q(), changed.size(SizeMark::What::length, i), 33);
      EXPECT_NEAR(changed.size(SizeMark::What::length, i).value, 33, 1e-6) << i;
    }
  }
  Drawn rigid(open + "}}");
  EXPECT_EQ(sizesOf(rigid.shape(), rigid.q(), false).size(), 5u);  // three lengths, two corners
  size_t roundings = 0;
  for (const auto& g : gripsOf(rigid.shape(), rigid.q(), false)) roundings += g.what == Grip::What::fillet;
  EXPECT_EQ(roundings, 2u);  // a path that stays open has nothing to round at its ends
}

TEST(OutlineEdit, TheClosingLengthShiftsWhatRunsSquareIntoIt) {
  Drawn own(ell);
  setSize(own.shape(), own.q(), own.size(SizeMark::What::length, 5), 70);  // the left side, from (0, 50) down to the start
  const auto& path = own.shape().profile->path;
  EXPECT_EQ(*path[4].line[1].number, 70);
  EXPECT_EQ(*path[3].line[1].number, 70);  // the top stays level
  EXPECT_EQ(*path[3].line[0].number, 10);
}

TEST(OutlineEdit, FormulasStayAndAreWritten) {
  Drawn own(R"({"rectangle": {"at": [0, 0], "size": ["=4*wall", 10]}})");
  moveGrip(own.shape(), own.q(), own.grip(Grip::What::point, 2), {33, 14});
  EXPECT_EQ(own.shape().rectangle->size[0].text, "=4*wall");
  EXPECT_EQ(*own.shape().rectangle->size[1].number, 14);
  setSize(own.shape(), own.q(), own.size(SizeMark::What::height), model::Entry("=3*wall"));
  EXPECT_EQ(own.shape().rectangle->size[1].text, "=3*wall");
  Drawn path(ell);
  setSize(path.shape(), path.q(), path.size(SizeMark::What::length, 0), model::Entry("=20*wall"));
  EXPECT_EQ(path.shape().profile->path[0].line[0].text, "=0+(20*wall)");
  EXPECT_EQ(path.shape().profile->path[1].line[0].text, "=0+(20*wall)");
  EXPECT_NEAR(path.size(SizeMark::What::length, 0).value, 100, 1e-9);
  EXPECT_TRUE(path.grip(Grip::What::point, 1).fixed);
  setSize(path.shape(), path.q(), path.size(SizeMark::What::fillet, 2), model::Entry("=wall"));
  EXPECT_EQ(path.shape().profile->path[2].fillet.text, "=wall");
}

TEST(OutlineEdit, NumbersAreWrittenInTheFilesUnits) {
  Drawn own(R"({"rectangle": {"at": [0, 0], "size": [2, 1]}})", R"("units": {"length": "in"}, )");
  moveGrip(own.shape(), own.q(), own.grip(Grip::What::point, 2), {76.2, 50.8});
  EXPECT_EQ(*own.shape().rectangle->size[0].number, 3);
  EXPECT_EQ(*own.shape().rectangle->size[1].number, 2);
}

TEST(OutlineEdit, RoundingsAreDraggedInAndOut) {
  Drawn own(ell);
  const auto corner = own.grip(Grip::What::fillet, 0);  // between the foot and the right end: none yet
  EXPECT_LT((corner.at - Point2(60, 0)).norm(), 1e-9);
  moveGrip(own.shape(), own.q(), corner, Point2(60, 0) + 3 * (std::sqrt(2) - 1) * Point2(-1, 1) / std::sqrt(2));
  EXPECT_NEAR(own.q()(own.shape().profile->path[0].fillet, Kind::length, ""), 3, 1e-6);
  moveGrip(own.shape(), own.q(), own.grip(Grip::What::fillet, 0), {62, -2});
  EXPECT_FALSE(own.shape().profile->path[0].fillet.given());
}

TEST(OutlineEdit, LinesBecomeArcsAndBack) {
  Drawn own(ell);
  const auto before = own.shape();
  bend(own.shape(), own.q(), 0);
  EXPECT_FALSE(own.shape().profile->path[0].arc.empty());
  const auto grip = own.grip(Grip::What::radius, 0);
  EXPECT_NEAR(grip.at.y(), -12, 1e-6);  // a fifth of 60, to the right of the way
  moveGrip(own.shape(), own.q(), grip, {30, 20});
  EXPECT_NEAR(own.grip(Grip::What::radius, 0).at.y(), 20, 1e-6);
  EXPECT_EQ(own.shape().profile->path[0].turn, "right");
  bend(own.shape(), own.q(), 0);
  EXPECT_TRUE(own.shape() == before);
}

TEST(OutlineEdit, PointsComeAndGo) {
  Drawn own(ell);
  addPoint(own.shape(), own.q(), 0, {30, -2});
  EXPECT_EQ(own.shape().profile->path.size(), 6u);
  EXPECT_NEAR(own.grip(Grip::What::point, 1).at.y(), -2, 1e-9);
  removePoint(own.shape(), 1);
  EXPECT_TRUE(own.shape() == Drawn(ell).shape());
  nameEdge(own.shape(), 3, "inner");
  EXPECT_EQ(own.grip(Grip::What::edge, 3).name, "inner");
  auto few = outlineThrough({{0, 0}, {10, 0}, {12, 4}, {5, 8}}, {}, own.q());
  EXPECT_EQ(few.profile->path[1].name, "edge 2");
  removePoint(few, 0);
  EXPECT_EQ(few.profile->path.size(), 2u);
  EXPECT_SAYS(sentence([&] { removePoint(few, 0); }), "cannot lose one");
  EXPECT_SAYS(sentence([&] { setSize(own.shape(), own.q(), own.size(SizeMark::What::length, 0), -3); }), "is none");
}

/// All sides end to end, each curve once.
void expectWhole(const FourSides& four, const std::vector<Curve2>& path) {
  size_t curves = 0;
  Point2 at = four.sides[0].front().a;
  for (const auto& side : four.sides) {
    EXPECT_FALSE(side.empty());
    for (const auto& c : side) {
      EXPECT_LT((c.a - at).norm(), 1e-9);
      at = c.b, ++curves;
    }
  }
  EXPECT_LT((at - four.sides[0].front().a).norm(), 1e-9);
  EXPECT_EQ(curves, path.size());
}

std::vector<Curve2> polygonThrough(const std::vector<Point2>& corners) {
  std::vector<Curve2> path;
  for (size_t i = 0; i < corners.size(); ++i) path.push_back(Curve2::line(corners[i], corners[(i + 1) % corners.size()]));
  return path;
}

TEST(FourSides, AreTheEndsOfAStripHoweverItIsBent) {
  // an angle: its two ends are the short sides
  const auto path = polygonThrough({{0, 0}, {60, 0}, {60, 10}, {10, 10}, {10, 50}, {0, 50}});
  const auto four = fourSides(path);
  ASSERT_TRUE(four);
  expectWhole(*four, path);
  EXPECT_GT(four->quality, 0.5);
  std::vector<size_t> curves;
  for (const auto& s : four->sides) curves.push_back(s.size());
  std::sort(curves.begin(), curves.end());
  EXPECT_EQ(curves, (std::vector<size_t>{1, 1, 2, 2}));
  // a channel
  const auto channel = fourSides(polygonThrough({{0, 0}, {40, 0}, {40, 30}, {35, 30}, {35, 5}, {5, 5}, {5, 30}, {0, 30}}));
  ASSERT_TRUE(channel);
  EXPECT_GT(channel->quality, 0.2);
}

TEST(FourSides, OfAQuadrangleAreItsOwnAndNothingIsMadeOfATriangle) {
  const auto path = polygonThrough({{0, 0}, {30, 2}, {28, 20}, {1, 18}});
  const auto four = fourSides(path);
  ASSERT_TRUE(four);
  for (size_t k = 0; k < 4; ++k) EXPECT_EQ(four->sides[k].size(), 1u);
  EXPECT_FALSE(fourSides(polygonThrough({{0, 0}, {10, 0}, {0, 10}})));
}

TEST(FourSides, ADrawnOutlineIsMeshedWithoutNames) {
  Drawn own(ell);
  own.d.parts("p").mesh.size = 3;
  const auto blocks = geometry::blocks(own.d.parts("p"), own.q(), "parts/p");
  ASSERT_EQ(blocks.size(), 1u);
  double length = 0;
  for (const auto& side : blocks.front().sides)
    for (const auto& c : side) length += c.length();
  // the outline, with a rounding of 4 in place of its corner
  EXPECT_NEAR(length, 60 + 10 + 50 + 40 + 10 + 50 - 8 + 2 * std::numbers::pi, 1e-9);
}

}  // namespace
