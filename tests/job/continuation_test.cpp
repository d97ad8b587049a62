// A stored run is gone on with only where nothing differs that it has been through; refused ones lose nothing.
#include "core/job/continuation.hpp"

#include <gtest/gtest.h>

#include "core/base/files.hpp"
#include "core/job/run_model.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "scratch.hpp"
#include "words.hpp"

using namespace anvil;

namespace {

const char* const stretchedBar = R"({
  "anvil": 1,
  "parameters": {"E": 205000, "h": "2 mm", "pull": 0.1},
  "materials": {"steel": {"elastic": {"E": "=E", "nu": 0.3}, "plastic": {"yield": 260, "tangent": 2000}}},
  "parts": {"bar": {"material": "steel", "element": "quad4", "shape": {"rectangle": {"at": [0, 0], "size": [10, "=2*h"]}},
    "mesh": {"size": 2}}},
  "regions": {"tip": {"edges": ["bar.right"]}},
  "steps": {"stretch": {"increments": {"first": 0.25, "largest": 0.25}}, "back": {"increments": {"first": 0.5, "largest": 0.5}}},
  "supports": {"wall": {"on": "bar.left", "fix": ["x", "y"]}},
  "motions": {"pull": {"on": "tip", "along": "x", "course": {"stretch": "=pull", "back": 0}}},
  "loads": {"late": {"on": "bar.top", "course": {"back": 3}}},
  "watch": {"end": {"part": "bar", "at": [10, 0]}}
})";

std::string changed(const std::string& from, const std::string& to) {
  std::string text = stretchedBar;
  const auto at = text.find(from);
  EXPECT_NE(at, std::string::npos) << from;
  return at == std::string::npos ? text : text.replace(at, from.size(), to);
}

std::vector<std::string> differences(int step, const std::string& from, const std::string& to) {
  return job::differencesUpTo(step, model::parse(changed(from, to)), model::parse(stretchedBar));
}

TEST(Continuation, WhatChangesNothingThatWasIsNoDifference) {
  const struct {
    const char *from, *to;
  } same[] = {
      {"\"anvil\": 1", "\"anvil\": 1, \"title\": \"other\", \"note\": \"words\""},
      {"\"first\": 0.25, \"largest\": 0.25", "\"first\": 0.05"},
      {"\"E\": 205000", "\"E\": \"205 GPa\""},  // the same in another unit
      {"\"E\": \"=E\"", "\"E\": 205000"},       // the same without its parameter
      {"\"watch\"", "\"solver\": {\"most iterations\": 30}, \"watch\""},
      {"\"back\": 0}", "\"back\": 0.05}"},  // what comes after
      {"\"back\": 3", "\"back\": 5"},
      {"\"late\": {\"on\": \"bar.top\", \"course\": {\"back\": 3}}",
       "\"late\": {\"on\": \"bar.bottom\", \"course\": {\"back\": 1}}"},
      {"\"loads\": {", "\"loads\": {\"more\": {\"on\": \"tip\", \"course\": {\"back\": 1}}, "},
      {"\"regions\": {", "\"regions\": {\"unused\": {\"edges\": [\"bar.top\"]}, "},
      {"\"at\": [10, 0]", "\"at\": [10, 4]"},
      {"\"back\": {\"increments\"", "\"back\": {\"time\": 7, \"increments\""},
  };
  for (const auto& s : same) {
    const auto found = differences(0, s.from, s.to);
    EXPECT_TRUE(found.empty()) << s.to << ": " << found.front();
  }
}

TEST(Continuation, WhatItWentThroughMustBeTheSame) {
  const struct {
    const char *from, *to, *told;
  } others[] = {
      {"\"E\": 205000", "\"E\": 100000", "materials/steel/elastic/E is 100000, was 205000"},
      {"\"h\": \"2 mm\"", "\"h\": \"2 cm\"", "size/2 is 40, was 4"},
      {"\"pull\": 0.1", "\"pull\": 0.2", "motions/pull acts otherwise"},
      {"\"mesh\": {\"size\": 2}", "\"mesh\": {\"size\": 1}", "mesh/size"},
      {"\"fix\": [\"x\", \"y\"]", "\"fix\": [\"x\"]", "supports/wall/fix"},
      {"\"stretch\": {\"increments\"", "\"stretch\": {\"time\": 2, \"increments\"", "steps/stretch ends at 2 s, did at 1 s"},
      {"\"steps\": {", "\"steps\": {\"before\": {}, ", "step 1 is 'before'"},
      {"\"back\": 3", "\"stretch\": 3", "loads/late"},
      {"\"tip\": {\"edges\": [\"bar.right\"]}", "\"tip\": {\"edges\": [\"bar.top\"]}", "regions/tip"},
      {"\"along\": \"x\"", "\"along\": \"y\"", "motions/pull/along"},
  };
  for (const auto& o : others) {
    const auto found = differences(0, o.from, o.to);
    ASSERT_FALSE(found.empty()) << o.to;
    bool told = false;
    for (const auto& f : found) told = told || f.find(o.told) != std::string::npos;
    EXPECT_TRUE(told) << found.front();
  }
  EXPECT_FALSE(differences(1, "\"back\": 0}", "\"back\": 0.05}").empty()) << "in the second step that counts";
  // in another order, what differs is still found
  const std::string two =
      changed("\"motions\": {", "\"motions\": {\"hold\": {\"on\": \"bar.top\", \"along\": \"y\", \"course\": 0}, ");
  std::string turned = changed("\"course\": {\"stretch\": \"=pull\", \"back\": 0}}",
                               "\"course\": {\"stretch\": \"=pull\", \"back\": 0}}, "
                               "\"hold\": {\"on\": \"bar.top\", \"along\": \"y\", \"course\": 0}");
  EXPECT_TRUE(job::differencesUpTo(0, model::parse(turned), model::parse(two)).empty());
  turned.replace(turned.find("\"pull\": 0.1"), 11, "\"pull\": 0.2");
  EXPECT_FALSE(job::differencesUpTo(0, model::parse(turned), model::parse(two)).empty());
}

class Continued : public Scratch {
 protected:
  std::string out() const { return (folder / "r.h5").string(); }
  analysis::Outcome run(const std::string& text, std::optional<size_t> from = {}) const {
    job::RunOptions options;
    options.out = out(), options.threads = 1, options.resumeFrom = from;
    return job::runModel(model::parse(text), options);
  }
};

TEST_F(Continued, ARefusedContinuationLeavesTheFileAsItWas) {
  ASSERT_EQ(run(stretchedBar), analysis::Outcome::finished);
  const std::string before = readWhole(out());
  EXPECT_SAYS(sentence([&] { run(changed("\"E\": 205000", "\"E\": 100000"), 2); }), "elastic/E is 100000, was 205000");
  EXPECT_SAYS(sentence([&] { run(changed("\"mesh\": {\"size\": 2}", "\"mesh\": {\"size\": 1}"), 2); }), "mesh/size");
  EXPECT_SAYS(sentence([&] { run(stretchedBar, 99); }), "no increment 99");
  EXPECT_SAYS(sentence([&] { run(stretchedBar, 0); }), "no increment 0");
  EXPECT_SAYS(sentence([&] { run(changed("\"back\": 0}", "\"back\": 0.04}"), 5); }), "Go on from increment 4, before it acts");
  EXPECT_EQ(readWhole(out()), before);
}

TEST_F(Continued, ALaterStepMayBecomeAnother) {
  const std::string other = changed("\"back\": 0}", "\"back\": 0.04}");
  ASSERT_EQ(run(other), analysis::Outcome::finished);
  const auto whole = results::Reader(out()).history("motions/pull/force x");
  ASSERT_EQ(run(stretchedBar), analysis::Outcome::finished);
  ASSERT_EQ(run(other, 4), analysis::Outcome::finished);  // from the end of the first step
  const results::Reader r(out());
  const auto joined = r.history("motions/pull/force x");
  ASSERT_EQ(joined.size(), whole.size());
  for (size_t i = 0; i < whole.size(); ++i) EXPECT_NEAR(joined[i], whole[i], 1e-6 * std::abs(whole[i]) + 1e-9);
  EXPECT_EQ(r.header().model, model::print(model::parse(other))) << "the model that is stored is that which was gone on with";
}

TEST_F(Continued, HistoriesStayWithTheirNames) {
  ASSERT_EQ(run(stretchedBar), analysis::Outcome::finished);
  const auto force = results::Reader(out()).history("motions/pull/force x");
  const std::string more = changed("\"loads\": {", "\"loads\": {\"early\": {\"on\": \"tip\", \"course\": {\"back\": 1}}, ");
  ASSERT_EQ(run(more, 4), analysis::Outcome::finished);
  const results::Reader r(out());
  for (size_t i = 0; i < 4; ++i) {
    EXPECT_EQ(r.history("motions/pull/force x")[i], force[i]);
    EXPECT_EQ(r.history("loads/early/value")[i], 0);
  }
  EXPECT_NEAR(r.history("loads/early/value").back(), 1, 1e-12);
}

}  // namespace
