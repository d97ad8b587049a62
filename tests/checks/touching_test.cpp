// What touches what: areas and gaps known from the shapes, contacts made of them, doubtful ones called out.
#include <gtest/gtest.h>

#include <chrono>
#include <numbers>

#include "core/checks/readiness.hpp"
#include "core/checks/touching.hpp"
#include "core/lower/lower.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/model/quantities.hpp"
#include "run/small_runs.hpp"

using namespace anvil;
using checks::Touching;

namespace {

// a pin in the hole of a ring that stands on a base; a lid 0.3 above
const char* const stackedPlates = R"({
  "anvil": 1, "space": "solid", "parameters": {"play": 0},
  "materials": {"steel": {"elastic": {"E": 200000, "nu": 0.3}}},
  "parts": {
    "base": {"material": "steel", "shape": {"rectangle": {"at": [-20, -20], "size": [40, 40]}}, "mesh": {"size": 4}, "extrude": {
      "from": -10, "depth": 10}},
    "ring": {"material": "steel", "shape": [{"ring": {"center": [0, 0], "inner": 6, "outer": 12, "from": 0, "to": 180}}, {
      "ring": {"center": [0, 0], "inner": 6, "outer": 12, "from": 180, "to": 360}}], "mesh": {"size": 1.5}, "extrude": {
      "depth": 8}},
    "pin": {"material": "steel", "shape": {"disc": {"center": [0, 0], "radius": "=6-play"}}, "mesh": {"size": 1.5}, "extrude": {
      "depth": 8}},
    "lid": {"material": "steel", "shape": {"rectangle": {"at": [-20, -20], "size": [40, 40]}}, "mesh": {"size": 4}, "extrude": {
      "from": 8.3, "depth": 5}}
  },
  "contacts": {},
  "steps": {"s": {}},
  "supports": {"floor": {"on": "base.front", "fix": ["x", "y", "z"]}}
})";

struct Case {
  model::Document d;
  mesh::Mesh m;
  explicit Case(const std::string& text) : d(model::parse(text)), m(analysis::buildMesh(d, model::Quantities(d))) {}
};

const Touching* placesOf(const std::vector<Touching>& list, const std::string& a, const std::string& b) {
  for (const auto& t : list)
    if ((t.first == a && t.second == b) || (t.first == b && t.second == a)) return &t;
  return nullptr;
}

using std::numbers::pi;

}  // namespace

TEST(Touching, PairsHaveTheirGapAreaAndKind) {
  const Case c(stackedPlates);
  const auto near = checks::findTouching(c.m, c.d, 0.1);
  EXPECT_EQ(near.size(), 3u) << "ring and pin on the base, pin in ring; the lid is further off";
  const auto* ring = placesOf(near, "base.back", "ring.front");
  ASSERT_TRUE(ring);
  EXPECT_EQ(ring->kind, Touching::Kind::flat);
  EXPECT_EQ(ring->gap, 0);
  EXPECT_NEAR(ring->area, pi * (144 - 36), 0.02 * pi * 108) << "by the smaller face";
  const auto* bore = placesOf(near, "ring.inner", "pin.rim");
  ASSERT_TRUE(bore);
  EXPECT_EQ(bore->kind, Touching::Kind::cylindrical);
  EXPECT_NEAR(bore->radius, 6, 1e-3);
  EXPECT_NEAR(bore->area, 2 * pi * 6 * 8, 3);
  EXPECT_EQ(bore->gap, 0);
  EXPECT_EQ(bore->overlap, 0);
  const auto far = checks::findTouching(c.m, c.d, 0.4);
  const auto* lid = placesOf(far, "ring.back", "lid.front");
  ASSERT_TRUE(lid);
  EXPECT_NEAR(lid->gap, 0.3, 1e-9);
}

TEST(Touching, ClearanceAndOverlapAreTold) {
  const Case loose(with(stackedPlates, "\"play\": 0", "\"play\": 0.2")),
      tight(with(stackedPlates, "\"play\": 0", "\"play\": -0.1"));
  EXPECT_FALSE(placesOf(checks::findTouching(loose.m, loose.d, 0.15), "ring.inner", "pin.rim")) << "too far";
  const auto some = checks::findTouching(loose.m, loose.d, 0.25);
  ASSERT_TRUE(placesOf(some, "ring.inner", "pin.rim"));
  EXPECT_NEAR(placesOf(some, "ring.inner", "pin.rim")->gap, 0.2, 1e-6);
  const auto over = checks::findTouching(tight.m, tight.d, 0.15);
  ASSERT_TRUE(placesOf(over, "ring.inner", "pin.rim"));
  EXPECT_NEAR(placesOf(over, "ring.inner", "pin.rim")->overlap, 0.1, 1e-6);
}

TEST(Touching, ContactsAreMadeOncePerTwoPartsAndRemembered) {
  Case c(stackedPlates);
  const auto near = checks::findTouching(c.m, c.d, 0.1);
  const auto made = checks::makeContacts(c.d, c.m, near, "touching", 0.2);
  EXPECT_EQ(made.size(), 3u);
  for (const auto& [name, contact] : c.d.contacts) EXPECT_EQ(contact.friction, model::Entry(0.2));
  for (const auto& t : checks::findTouching(c.m, c.d, 0.1)) EXPECT_FALSE(t.contact.empty()) << t.first;
  EXPECT_TRUE(checks::doubtfulContacts(c.d, c.m).empty());
  EXPECT_NO_THROW(analysis::lower(c.d));
  checks::makeContacts(c.d, c.m, near, "tied", {});
  EXPECT_EQ(checks::doubtfulContacts(c.d, c.m).size(), 3u) << "the same faces twice";
}

TEST(Touching, AShankHeldFastIsCalledOut) {
  Case c(with(stackedPlates, R"("contacts": {})",
              R"("bolts": {"b": {"on": "pin.rim", "force": 100}}, "contacts": {"fast": {"between": ["ring.inner", "pin.rim"],
        "kind": "tied"}})"));
  const auto doubts = checks::doubtfulContacts(c.d, c.m);
  ASSERT_EQ(doubts.size(), 1u);
  EXPECT_EQ(doubts.front().contact, "fast");
  EXPECT_NE(doubts.front().words.find("shank of bolt 'b'"), std::string::npos) << doubts.front().words;
  const auto r = checks::readiness(c.d);
  EXPECT_TRUE(
      std::any_of(r.findings.begin(), r.findings.end(), [](const auto& f) { return f.what.starts_with("Held too much"); }));
}

TEST(Touching, RigidPartsAreFoundExactly) {
  // a rigid shaft with play in the ring, and a rigid floor under the base
  const Case c(
      with(with(stackedPlates, R"("lid": {)",
                R"("shaft": {"rigid": true, "shape": {"rectangle": {"at": [0, 0], "size": [5.95, 30]}}, "revolve": {"angle": 360},
        "place": {"axis": "x", "angle": 90, "shift": [0, 0, -5]}},
    "floor": {"rigid": true, "shape": {"rectangle": {"at": [-30, -70], "size": [60, 59.98]}}, "extrude": {"from": -30,
      "depth": 60}, "place": {"axis": "x", "angle": 90}}, "lid": {)"),
           R"("pin": {"material": "steel", "shape": {"disc": {"center": [0, 0], "radius": "=6-play"}}, "mesh": {"size": 1.5},
        "extrude": {"depth": 8}},)",
           ""));
  const auto near = checks::findTouching(c.m, c.d, 0.1);
  const auto* bore = placesOf(near, "ring.inner", "shaft");
  ASSERT_TRUE(bore);
  EXPECT_EQ(bore->second, "shaft");
  EXPECT_EQ(bore->kind, Touching::Kind::cylindrical);
  EXPECT_NEAR(bore->gap, 0.05, 1e-9) << "by nodes, which lie on the true bore";
  EXPECT_NEAR(bore->area, 2 * pi * 6 * 8, 3);
  const auto* foot = placesOf(near, "base.front", "floor");
  ASSERT_TRUE(foot);
  EXPECT_EQ(foot->kind, Touching::Kind::flat);
  EXPECT_NEAR(foot->gap, 0.02, 1e-9);
  EXPECT_NEAR(foot->area, 1600, 1e-6);
  EXPECT_FALSE(placesOf(near, "base.back", "floor")) << "the far side looks away";
  auto d = c.d;
  const auto made = checks::makeContacts(d, c.m, {*bore, *foot}, "touching", 0.1);
  ASSERT_EQ(made.size(), 2u);
  EXPECT_NO_THROW(analysis::lower(d));
  for (const auto& t : checks::findTouching(c.m, d, 0.1))
    EXPECT_EQ(t.contact.empty(), t.second != "shaft" && t.second != "floor") << t.first << " and " << t.second;
}

TEST(Touching, ElementsAreMadeFinerWhereFacesTouch) {
  const char* const pair =
      R"({"anvil": 1, "space": "solid", "parameters": {"h": 2.5}, "materials": {"steel": {"elastic": {"E": 200000, "nu": 0.3}}},
    "parts": {"low": {"material": "steel", "element": "tet10", "mesh": {"size": 5}, "solid": {"box": {"size": [20, 20, 10]},
      "name": "b"}},
              "high": {"material": "steel", "element": "tet10", "mesh": {"size": 5}, "solid": {"box": {"at": [0, 0, 10],
        "size": [20, 20, 10]}, "name": "b"}}},
    "steps": {"s": {}}})";
  Case c(pair);
  const auto near = checks::findTouching(c.m, c.d, 0.1);
  ASSERT_EQ(near.size(), 1u);
  const double half = checks::finerSize(c.d, c.m, near);
  EXPECT_GT(half, 1.5);
  EXPECT_LT(half, 3.5);
  const auto faces = checks::refineAt(c.d, c.m, near, model::Entry("=h"));
  EXPECT_EQ(faces, (std::vector<std::string>{"high.b.front", "low.b.back"}));
  const auto finer = analysis::buildMesh(c.d, model::Quantities(c.d));
  EXPECT_GT(finer.face("low.b.back")->facets.size(), 2.5 * double(c.m.face("low.b.back")->facets.size()));
  EXPECT_LT(finer.face("low.b.front")->facets.size(), 2.0 * double(c.m.face("low.b.front")->facets.size()));
  EXPECT_TRUE(checks::refineAt(c.d, finer, near, 4).empty()) << "they are finer already";
}

TEST(Touching, SheetsThatTouchAreRefinedToo) {
  const Case c(R"({"anvil": 1, "space": "solid", "materials": {"steel": {"elastic": {"E": 205000, "nu": 0.3}}}, "parts": {
    "swept": {"material": "steel", "shape": {"profile": {"start": [0, 0], "path": [{"line": [20, 0]}]}}, "thin": {"thickness": 1},
      "mesh": {"size": 4}, "extrude": {"depth": 20}},
    "cover": {"material": "steel", "solid": [{"name": "b", "box": {"at": [0, 1, 0], "size": [20, 20, 20]}}],
      "thin": {"faces": ["b.bottom", "b.left"], "thickness": 1}, "mesh": {"size": 4}}}})");
  auto d = c.d;
  std::vector<checks::Touching> pair(1);
  pair.front().first = "swept.upper", pair.front().second = "cover.b.bottom upper";
  EXPECT_EQ(checks::refineAt(d, c.m, pair, 2).size(), 2u);
  const auto finer = analysis::buildMesh(d, model::Quantities(d));
  EXPECT_GT(finer.face("swept.upper")->facets.size(), 3.5 * double(c.m.face("swept.upper")->facets.size()));
  EXPECT_GT(finer.face("cover.b.bottom upper")->facets.size(), 3.5 * double(c.m.face("cover.b.bottom upper")->facets.size()));
  EXPECT_LT(finer.face("cover.b.left upper")->facets.size(), 3.5 * double(c.m.face("cover.b.left upper")->facets.size()));
}

TEST(Touching, TheSuggestedToleranceIsSmallAgainstTheParts) {
  const Case c(stackedPlates);
  const double t = checks::usualTolerance(c.m);
  EXPECT_GT(t, 0.01);
  EXPECT_LT(t, 0.2);
}
