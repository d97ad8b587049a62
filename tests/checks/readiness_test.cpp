// Readiness: each kind of finding on a model that has it, and none on one that has not.
#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/base/error.hpp"
#include "core/checks/readiness.hpp"
#include "core/model/actions.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/json.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"
#include "core/model/shapes.hpp"
#include "run/small_runs.hpp"

using namespace anvil;

namespace {

const char* const sound = R"({
  "anvil": 1,
  "materials": {"steel": {"elastic": {"E": 205000, "nu": 0.3}, "plastic": {"yield": 260, "tangent": 2000}}},
  "parts": {
    "low": {"material": "steel", "shape": {"rectangle": {"at": [0, 0], "size": [10, 5]}}, "mesh": {"size": 1}},
    "high": {"material": "steel", "shape": {"rectangle": {"at": [2, 5.2], "size": [6, 4]}}, "mesh": {"size": 1}}},
  "contacts": {"touch": {"between": ["low.top", "high.bottom"]}},
  "steps": {"press": {}},
  "supports": {"base": {"on": "low.bottom", "fix": ["x", "y"]}, "guide": {"on": "high.top", "fix": "x"}},
  "motions": {"down": {"on": "high.top", "along": "y", "course": -0.3}}
})";

checks::Report examined(const std::function<void(model::Document&)>& change = {}) {
  auto d = model::parse(sound);
  if (change) change(d);
  return checks::readiness(d);
}

const checks::Finding* about(const checks::Report& r, const std::string& words) {
  for (const auto& f : r.findings)
    if (f.what.find(words) != std::string::npos) return &f;
  return nullptr;
}

std::string all(const checks::Report& r) {
  std::string text;
  for (const auto& f : r.findings) text += (f.fault ? "fault " : "doubt ") + f.where + ": " + f.what + "\n";
  return text;
}

TEST(Readiness, NothingIsFoundWhereNothingIsWrong) {
  const auto r = examined();
  EXPECT_TRUE(r.findings.empty()) << all(r);
  ASSERT_GE(r.facts.size(), 4u);
  EXPECT_NE(r.facts.front().find("unknowns"), std::string::npos);
  EXPECT_NE(r.facts.back().find("gaps from 0.2"), std::string::npos) << r.facts.back();
}

TEST(Readiness, AFreePartIsNamedWithItsDirections) {
  const auto r = examined([](model::Document& d) { d.supports.erase(d.supports.begin()); });
  const auto* f = about(r, "free to move");
  ASSERT_TRUE(f) << all(r);
  EXPECT_TRUE(f->fault);
  EXPECT_EQ(f->where, "parts/low");
  for (const char* word : {"along x", "along y", "turning"}) EXPECT_NE(f->what.find(word), std::string::npos) << f->what;
}

TEST(Readiness, AToolPushedByAForceThatReachesNothingIsDoubted) {
  // a roller over the lower block, led by a force: 0.1 mm over it, and 4 mm
  for (const double gap : {0.1, 4.}) {
    auto d = model::parse(R"({"anvil": 1, "materials": {"steel": {"elastic": {"E": 205000, "nu": 0.3}}},
      "parts": {"low": {"material": "steel", "shape": {"rectangle": {"at": [0, 0], "size": [10, 5]}}, "mesh": {"size": 1}},
        "roller": {"rigid": true, "loose": ["y"], "shape": {"disc": {"center": [5, )" +
                          fmt::format("{}", 8 + gap) + R"(], "radius": 3}}}},
      "contacts": {"touch": {"between": ["low.top", "roller"]}}, "steps": {"press": {}},
      "supports": {"base": {"on": "low.bottom", "fix": ["x", "y"]}},
      "loads": {"push": {"on": "roller", "kind": "force", "along": "y", "course": -100}}})");
    const auto r = checks::readiness(d);
    const auto* f = about(r, "nothing stops it");
    EXPECT_EQ(f != nullptr, gap > 1) << gap << "\n" << all(r);
    if (f) {
      EXPECT_EQ(f->where, "loads/push");
    }
  }
}

TEST(Readiness, WhatASupportHindersIsNotNamed) {
  const auto free = [](const char* fix) {
    const auto r = examined([&](model::Document& d) { d.supports.front().second.fix = {fix}; });
    const auto* f = about(r, "free to move");
    return f ? f->what : "nothing: " + all(r);
  };
  EXPECT_NE(free("y").find("along x"), std::string::npos) << free("y");
  EXPECT_EQ(free("y").find("turning"), std::string::npos) << free("y");
  // held along x on a line of constant y, a body can still turn about any point of that line
  EXPECT_NE(free("x").find("along y and turning"), std::string::npos) << free("x");
}

TEST(Readiness, StabilisationAndContactAtTheStartCount) {
  const auto loose = [](model::Document& d) {
    d.supports.pop_back(), d.motions.clear(), d.loads("push") = {{"high.top"}, "pressure", "part", {}, {}},
                                              d.loads.front().second.course.value = 1;
  };
  EXPECT_TRUE(about(examined(loose), "free to move")->fault);
  const auto calm = examined([&](model::Document& d) { loose(d), d.stabilisations("calm") = {{"high"}, 1, {}}; });
  EXPECT_FALSE(about(calm, "free to move")) << all(calm);
  const auto closed = examined([&](model::Document& d) { loose(d), d.contacts.front().second.start.closeWithin = 0.3; });
  ASSERT_TRUE(about(closed, "only contact"));
  EXPECT_FALSE(about(closed, "only contact")->fault) << "a doubt: friction or shape may hold it";
}

TEST(Readiness, DeepOverlapIsDoubted) {
  const auto r = examined([](model::Document& d) { d.parts.back().second.shape.front().rectangle->at[1] = 3.2; });
  const auto* f = about(r, "overlap by 1.8");
  ASSERT_TRUE(f) << all(r);
  EXPECT_EQ(f->where, "contacts/touch");
}

TEST(Readiness, MeshesAreJudged) {
  const auto thin = examined([](model::Document& d) { d.parts.front().second.mesh = {{}, {2, 40}, {}}; });
  EXPECT_TRUE(about(thin, "times as long as wide")) << all(thin);
  const auto bent = examined([](model::Document& d) {
    model::Shape s;
    s.profile = model::Profile{{0, 0},
                               {{{10, 0}, {}, {}, "left", {}, "bottom", {}},
                                {{10, 5}, {}, {}, "left", {}, "right", {}},
                                {{9.6, 4.2}, {}, {}, "left", {}, "top", {}},
                                {{0, 0}, {}, {}, "left", {}, "left", {}}},
                               {}};
    d.parts.front().second.shape = {s};
    d.contacts.clear(), d.supports.front().second.on = {"low.bottom"};
  });
  EXPECT_TRUE(about(bent, "skewed") || about(bent, "folded")) << all(bent);
}

TEST(Readiness, UnitsOfMaterialsAreDoubted) {
  const auto pascal = examined([](model::Document& d) { d.materials.front().second.elastic.E = 205e9; });
  ASSERT_TRUE(about(pascal, "more than any metal's")) << all(pascal);
  const auto soft = examined(
      [](model::Document& d) { d.materials.front().second.elastic.E = 205, d.materials.front().second.plastic->tangent = 5; });
  EXPECT_TRUE(about(soft, "over a twentieth")) << all(soft);
}

TEST(Readiness, AToolThatTravelsFarInOneIncrementIsDoubted) {
  const auto r = examined([](model::Document& d) {
    model::Part tool;
    tool.rigid = true;
    model::Shape s;
    s.profile = model::Profile{{0, 12}, {{{8, 12}, {}, {}, "left", {}, "face", {}}}, {}};
    tool.shape = {s};
    d.parts("tool") = tool;
    d.contacts("under") = {};
    d.contacts.back().second.between = {"high.top", "tool"};
    d.motions.clear();
    auto& far = d.motions("far");
    far.on = {"tool"}, far.along.axis = "y";
    d.motions.front().second.course.value = -50;
    d.steps.front().second.increments.largest = 1;
  });
  ASSERT_TRUE(about(r, "looks ahead")) << all(r);
}

TEST(Readiness, AToolDrawnTheWrongWayRoundIsDoubted) {
  const auto withTool = [](double from, double to) {
    return examined([&](model::Document& d) {
      model::Part tool;
      tool.rigid = true;
      model::Shape s;
      s.profile = model::Profile{{from, 9.2}, {{{to, 9.2}, {}, {}, "left", {}, "face", {}}}, {}};
      tool.shape = {s};
      d.parts("tool") = tool;
      d.contacts("under") = {};
      d.contacts.back().second.between = {"high.top", "tool"};
    });
  };
  EXPECT_FALSE(about(withTool(0, 10), "turns its back")) << all(withTool(0, 10));
  const auto wrong = withTool(10, 0);
  ASSERT_TRUE(about(wrong, "turns its back")) << all(wrong);
  EXPECT_EQ(about(wrong, "turns its back")->where, "contacts/under");
}

TEST(Readiness, FaultsOfTheModelAreFindingsWithTheirPlace) {
  const auto r = examined([](model::Document& d) { d.parts.front().second.material = "stele"; });
  ASSERT_EQ(r.findings.size(), 1u);
  EXPECT_TRUE(r.findings.front().fault);
  EXPECT_EQ(r.findings.front().where, "parts/low/material");
  EXPECT_NE(r.findings.front().remedy.find("'steel'"), std::string::npos);
  const auto clash = examined([](model::Document& d) {
    auto up = d.motions.front().second;
    up.course.value = 0.1;
    d.motions("up") = up;
  });
  ASSERT_TRUE(about(clash, "both prescribe")) << all(clash);
}

/// What a finding offers is done to the model, which is then looked at again.
checks::Report mended(model::Document d, const std::string& words) {
  const auto first = checks::readiness(d);
  const auto* f = about(first, words);
  EXPECT_TRUE(f) << words << "\n" << all(first);
  if (!f) return {};
  EXPECT_FALSE(f->fix.empty());
  EXPECT_TRUE(bool(f->mend));
  if (f->mend) f->mend(d);
  return checks::readiness(model::parse(model::print(d)));
}

TEST(Readiness, ASingleColumnOfReducedElementsIsDoubted) {
  const auto beam = [](int across, const char* element) {
    return checks::readiness(
        model::parse(fmt::format(R"({{"space": "solid", "materials": {{"m": {{"elastic": {{"E": 200000, "nu": 0.3}}}}}},
      "parts": {{"p": {{"material": "m", "element": "{}", "mesh": {{"count": [6, {}]}}, "shape": {{"rectangle": {{"at": [0, 0],
        "size": [6, 1]}}}}, "extrude": {{"depth": 1, "count": 1}}}}}},
      "steps": {{"s": {{}}}}, "supports": {{"wall": {{"on": "p.left", "fix": ["x", "y", "z"]}}}}}})",
                                 element, across)));
  };
  EXPECT_TRUE(about(beam(1, "hex20"), "single column"));
  EXPECT_FALSE(about(beam(2, "hex20"), "single column"));
  EXPECT_FALSE(about(beam(1, "hex8"), "single column"));
}

TEST(Mending, AStabilisationSteadiesAFreePart) {
  auto d = model::parse(sound);
  d.supports.erase(d.supports.begin());
  const auto after = mended(d, "free to move");
  EXPECT_FALSE(about(after, "free to move")) << all(after);
}

TEST(Mending, AnOverlapIsResolvedOverTheFirstStep) {
  auto d = model::parse(sound);
  d.parts.find("high")->shape.front().rectangle->at[1] = 3.2;
  const auto first = checks::readiness(d);
  ASSERT_TRUE(about(first, "overlap by")) << all(first);
  auto changed = d;
  about(first, "overlap by")->mend(changed);
  EXPECT_EQ(changed.contacts.front().second.start.resolveOver, "press");
}

/// A deformable punch that is moved by its face comes upon the other as a rigid one would.
TEST(Readiness, AMovedPartThatTravelsFarInAnIncrementIsDoubted) {
  const auto model = [](double travel, double largest) {
    return model::parse(fmt::format(R"({{"anvil": 1, "materials": {{"steel": {{"elastic": {{"E": 205000, "nu": 0.3}}}}}},
      "parts": {{
        "low": {{"material": "steel", "shape": {{"rectangle": {{"at": [0, 0], "size": [10, 5]}}}}, "mesh": {{"size": 1}}}},
        "punch": {{"material": "steel", "shape": {{"rectangle": {{"at": [3, 25], "size": [4, 5]}}}}, "mesh": {{"size": 1}}}}}},
      "contacts": {{"touch": {{"between": ["low.top", "punch.bottom"]}}}},
      "steps": {{"press": {{"increments": {{"first": 0.01, "largest": {}}}}}}},
      "supports": {{"base": {{"on": "low.bottom", "fix": ["x", "y"]}}, "guide": {{"on": "punch.top", "fix": ["x"]}}}},
      "motions": {{"down": {{"on": "punch.top", "along": "y", "course": {}}}}}}})",
                                    largest, travel));
  };
  const auto far = checks::readiness(model(-21, 1));
  ASSERT_TRUE(about(far, "looks ahead")) << all(far);
  EXPECT_EQ(about(far, "looks ahead")->where, "steps/press/increments");
  auto mended = model(-21, 1);
  about(far, "looks ahead")->mend(mended);
  EXPECT_FALSE(about(checks::readiness(mended), "looks ahead"));
  EXPECT_FALSE(about(checks::readiness(model(-21, 0.01)), "looks ahead"));
}

const char* const pressedBlocks = R"({
  "anvil": 1,
  "materials": {"steel": {"elastic": {"E": 205000, "nu": 0.3}}},
  "parts": {
    "low": {"material": "steel", "shape": {"rectangle": {"at": [0, 0], "size": [10, 5]}}, "mesh": {"size": 0.5}},
    "tool": {"rigid": true, "shape": {"profile": {"start": [2, 9], "path": [{"line": [2, 5.1], "fillet": 1, "name": "flank"}, {
      "line": [6, 5.1], "name": "foot"}, {"arc": [8, 7.1], "center": [6, 7.1]}]}}}},
  "contacts": {"touch": {"between": ["low.top", "tool"]}},
  "steps": {"press": {}},
  "supports": {"base": {"on": "low.bottom", "fix": ["x", "y"]}},
  "motions": {"down": {"on": "tool", "along": "y", "course": -0.3}}
})";

TEST(Mending, AToolDrawnTheWrongWayIsTurnedRound) {
  auto sides = model::parse(pressedBlocks);
  EXPECT_TRUE(checks::readiness(sides).findings.empty()) << all(checks::readiness(sides));
  // the same tool drawn from its other end
  auto wrong = sides;
  auto& path = *wrong.parts.find("tool")->shape.front().profile;
  path =
      *model::parse(
           with(pressedBlocks,
                R"("start": [2, 9], "path": [{"line": [2, 5.1], "fillet": 1, "name": "flank"}, {"line": [6, 5.1], "name": "foot"},
        {"arc": [8, 7.1], "center": [6, 7.1]}])",
                R"("start": [8, 7.1], "path": [{"arc": [6, 5.1], "center": [6, 7.1], "turn": "right"}, {"line": [2, 5.1],
        "fillet": 1, "name": "foot"}, {"line": [2, 9], "name": "flank"}])"))
           .parts.find("tool")
           ->shape.front()
           .profile;
  const auto first = checks::readiness(wrong);
  const auto* f = about(first, "turns its back");
  ASSERT_TRUE(f) << all(first);
  f->mend(wrong);
  EXPECT_TRUE(wrong == sides) << "piece by piece the first drawing:\n" << model::print(wrong);
}

TEST(Mending, IncrementsAreMadeAsSmallAsContactLooksAhead) {
  auto d = model::parse(pressedBlocks);
  d.motions.front().second.course.value = -60;
  d.steps.front().second.increments.first = 0.1;
  const auto after = mended(d, "more than contact");
  EXPECT_FALSE(about(after, "more than contact")) << all(after);
  EXPECT_TRUE(after.findings.empty()) << all(after);
}

TEST(Readiness, PartsThatHoldEachOtherMayBeFreeTogether) {
  const auto tied = [](bool held) {
    return examined([&](model::Document& d) {
      d.parts.find("high")->shape.front().rectangle->at[1] = 5;
      d.contacts.front().second.kind = "tied";
      d.motions.clear();
      d.supports.pop_back();
      if (!held) d.supports.clear(), d.supports("only").on = {"low.bottom"}, d.supports.back().second.fix = {"y"};
    });
  };
  EXPECT_FALSE(about(tied(true), "free to move together")) << all(tied(true));
  const auto r = tied(false);
  const auto* f = about(r, "free to move together");
  ASSERT_TRUE(f) << all(r);
  EXPECT_TRUE(f->fault);
  EXPECT_NE(f->what.find("'low' and 'high'"), std::string::npos) << f->what;
  EXPECT_NE(f->what.find("along x"), std::string::npos);
  EXPECT_EQ(f->what.find("along y"), std::string::npos);
}

}  // namespace
