// What hardly is meant is doubted, and told so.
#include <gtest/gtest.h>

#include "core/checks/readiness.hpp"
#include "core/lower/lower.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/problem/problem.hpp"
#include "words.hpp"

using namespace anvil;

namespace {

const char* const plain = R"({
  "anvil": 1,
  "materials": {"steel": {"elastic": {"E": 205000, "nu": 0.3}}},
  "parts": {"low": {"material": "steel", "element": "quad4", "shape": {"rectangle": {"at": [0, 0], "size": [10, 5]}},
      "mesh": {"size": 2.5}},
    "high": {"material": "steel", "element": "quad4", "shape": {"rectangle": {"at": [0, 5], "size": [10, 5]}},
      "mesh": {"size": 2.5}}},
  "contacts": {"seam": {"between": ["low.top", "high.bottom"], "interference": 0.01}},
  "regions": {"foot": {"edges": ["low.bottom"]}},
  "steps": {"press": {}},
  "supports": {"base": {"on": "foot", "fix": ["x", "y"]}, "side": {"on": "high.left", "fix": "x"}},
  "motions": {"down": {"on": "high.top", "along": "y", "course": -0.01}},
  "watch": {"end": {"part": "high", "at": [10, 10]}}
})";

/// Sentences of all findings, of the plain model with one change.
std::string doubts(const std::string& from = "", const std::string& to = "") {
  std::string text = plain;
  if (!from.empty()) {
    const auto at = text.find(from);
    EXPECT_NE(at, std::string::npos) << from;
    text.replace(at, from.size(), to);
  }
  std::string all;
  for (const auto& f : checks::readiness(model::parse(text)).findings) all += f.where + ": " + f.what + " " + f.remedy + "\n";
  return all;
}

TEST(Unlikely, APlainModelIsNotDoubted) { EXPECT_EQ(doubts(), ""); }

TEST(Unlikely, WhatHardlyIsMeantIsTold) {
  EXPECT_SAYS(doubts("\"at\": [10, 10]", "\"at\": [1000000, 10]"), "watch/end/at: The nearest node is 1000000 mm away");
  EXPECT_SAYS(doubts("\"foot\": {", "\"low\": {\"edges\": [\"low.top\"]}, \"foot\": {"), "regions/low: A part has the same name");
  EXPECT_SAYS(doubts("\"interference\": 0.01", "\"interference\": 100"), "contacts/seam/interference: It is 100 mm");
  EXPECT_SAYS(doubts("\"on\": \"high.top\", \"along\": \"y\"", "\"on\": \"high.left\", \"along\": \"x\""),
              "motions/down: All that it moves is held in the same direction by the support 'side'");
}

TEST(Unlikely, RegionsInACircleAreTold) {
  EXPECT_SAYS(doubts("\"foot\": {\"edges\": [\"low.bottom\"]}", "\"foot\": {\"edges\": [\"b\"]}, \"b\": {\"edges\": [\"foot\"]}"),
              "foot and b are made of each other");
  EXPECT_SAYS(doubts("\"foot\": {\"edges\": [\"low.bottom\"]}", "\"foot\": {\"edges\": [\"foot\"]}"), "made of each other");
}

TEST(Unlikely, SolverSettingsThatCannotWorkAreRefused) {
  EXPECT_SAYS(doubts("\"watch\"", "\"solver\": {\"most iterations\": 0}, \"watch\""), "solver/most iterations");
  EXPECT_SAYS(doubts("\"nu\": 0.3", "\"nu\": -1"), "above -1 and below 0.5");
}

TEST(Unlikely, PartsThatLieInEachOtherAreTold) {
  // side by side with nothing between them, and one reaching into the other
  const std::string apart = "\"contacts\": {\"seam\": {\"between\": [\"low.top\", \"high.bottom\"], \"interference\": 0.01}},";
  std::string text = plain;
  text.erase(text.find(apart), apart.size());
  const auto said = [](const std::string& model) {
    std::string all;
    for (const auto& f : checks::readiness(model::parse(model)).findings) all += f.where + ": " + f.what + " " + f.remedy + "\n";
    return all;
  };
  EXPECT_EQ(said(text).find("It lies in"), std::string::npos) << said(text);
  const auto at = text.find("[0, 5]");
  text.replace(at, 6, "[3, 4]");
  EXPECT_SAYS(said(text), "parts/high: It lies in 'low', 1 mm deep near x");
  EXPECT_SAYS(said(text), "add a contact between the faces that meet");
  // with a contact that looks 2.5 mm ahead it is an overlap to be resolved, until it is deeper
  EXPECT_EQ(doubts("[0, 5]", "[3, 4]").find("It lies in"), std::string::npos) << doubts("[0, 5]", "[3, 4]");
  EXPECT_SAYS(doubts("\"at\": [0, 5], \"size\": [10, 5]", "\"at\": [-20, 1.5], \"size\": [60, 60]"), "deeper than the contact");
}

TEST(Unlikely, SizesThatCannotBeMadeAreToldAsSuch) {
  const auto said = [](const std::string& feature, const std::string& size) {
    return sentence([&] {
      (void)analysis::lower(model::parse(R"({"anvil": 1, "space": "solid", "materials": {"m": {"elastic": {"E": 1, "nu": 0.3}}},
        "steps": {"s": {}}, "parts": {"p": {"material": "m", "mesh": {"size": )" +
                                         size + R"(}, "solid": [)" + feature + "]}}}"));
    });
  };
  EXPECT_SAYS(said(R"({"box": {"size": [1e-9, 1, 1]}})", "1"), "a side of the box is 1e-09 mm, too small to be made");
  EXPECT_SAYS(said(R"({"ball": {"center": [0, 0, 0], "radius": 1e-20}})", "1"), "the radius is 1e-20 mm, too small to be made");
  EXPECT_SAYS(said(R"({"box": {"size": [1, 1, 1]}})", "1e-200"), "more elements there than any machine holds");
}

}  // namespace
