// Which increments and fields of a run are stored: what is left out is not there, and the rest of the run is as it would be.
#include <gtest/gtest.h>

#include <filesystem>

#include "core/base/files.hpp"
#include "core/checks/estimate.hpp"
#include "core/checks/readiness.hpp"
#include "core/job/run_model.hpp"
#include "core/lower/lower.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"
#include "core/model/storing.hpp"
#include "core/results/export.hpp"
#include "core/results/fields.hpp"
#include "scratch.hpp"
#include "words.hpp"

using namespace anvil;

namespace {

/// A bar that is pulled and let go, ten increments each way.
model::Document barOutAndBack(const std::string& results) {
  return model::parse(R"({
    "anvil": 1, )" + results +
                      R"(
    "materials": {"steel": {"elastic": {"E": 205000, "nu": 0.3}, "plastic": {"yield": 260, "tangent": 2000}}},
    "parts": {"bar": {"material": "steel", "element": "quad4", "shape": {"rectangle": {"at": [0, 0], "size": [10, 4]}},
      "mesh": {"size": 2}}},
    "steps": {"out": {"increments": {"first": 0.1, "largest": 0.1}}, "back": {"increments": {"first": 0.1, "largest": 0.1}}},
    "supports": {"wall": {"on": "bar.left", "fix": ["x", "y"]}},
    "motions": {"pull": {"on": "bar.right", "along": "x", "course": {"out": 0.2, "back": 0}}}})");
}

class StoredIncrements : public Scratch {
 protected:
  struct StopAfter : analysis::Observer {
    int left = 1 << 30;
    void converged(const analysis::Increment&) override { --left; }
    bool stop() override { return left <= 0; }
  };
  std::string run(const std::string& name, const std::string& results, int increments = 1 << 30, bool resume = false) {
    const std::string file = (folder / (name + ".h5")).string();
    StopAfter watch;
    watch.left = increments;
    job::RunOptions options;
    options.out = file, options.resume = resume, options.threads = 1, options.remember = false;
    job::runModel(barOutAndBack(results), options, &watch);
    return file;
  }
  static std::vector<size_t> stored(const results::Reader& r) {
    std::vector<size_t> rows;
    for (size_t i = 0; i < r.rows().size(); ++i)
      if (r.rows()[i].stored) rows.push_back(i);
    return rows;
  }
};

TEST_F(StoredIncrements, EachChoiceStoresWhatItSays) {
  const results::Reader all(run("all", ""));
  ASSERT_EQ(all.rows().size(), 20u);
  const struct {
    const char* results;
    std::vector<size_t> rows;  // besides step ends
  } cases[] = {{R"("results": {"increments": "each n-th", "every": 4},)", {3, 7, 9, 13, 17, 19}},
               {R"("results": {"increments": "step ends"},)", {9, 19}},
               {R"("results": {"increments": "at times", "times": [0.25, 0.7, 1.5]},)", {2, 6, 9, 14, 19}}};
  int number = 0;
  for (const auto& c : cases) {
    const results::Reader r(run("some" + std::to_string(++number), c.results));
    EXPECT_EQ(stored(r), c.rows) << c.results;
    EXPECT_EQ(r.outcome(), "finished");
    EXPECT_EQ(r.histories(), all.histories()) << c.results;  // of every increment, to the last bit
    EXPECT_EQ(r.times(), all.times());
    for (size_t row : c.rows) {
      EXPECT_EQ(r.field("stress", row), all.field("stress", row));
      EXPECT_EQ(r.field("displacement", row), all.field("displacement", row));
      EXPECT_EQ(r.restart(row), all.restart(row));
      EXPECT_EQ(r.residuals(row), all.residuals(row));
    }
    EXPECT_SAYS(sentence([&] { (void)r.field("stress", 0); }), "increment 1 was not stored, its histories alone");
    EXPECT_EQ(r.storedNear(size_t(0)), c.rows.front());
    EXPECT_EQ(r.storedNear(2.), 19u);
    EXPECT_LT(std::filesystem::file_size(folder / ("some" + std::to_string(number) + ".h5")),
              std::filesystem::file_size(folder / "all.h5"));
  }
}

TEST_F(StoredIncrements, AStoppedRunGoesOnFromItsLastIncrementThoughItWasNotToBeStored) {
  const std::string few = R"("results": {"increments": "step ends"},)";
  const results::Reader all(run("all", few));
  for (int stopAt : {1, 2, 3, 7, 14}) {
    const auto file = run("stopped" + std::to_string(stopAt), few, stopAt);
    {
      const results::Reader r(file);
      ASSERT_EQ(r.rows().size(), size_t(stopAt));
      EXPECT_TRUE(r.rows().back().stored);
      EXPECT_EQ(r.field("displacement", size_t(stopAt) - 1).size(), r.header().mesh.x.size() * 2);
      if (stopAt == 3) {
        EXPECT_SAYS(sentence([&] { (void)r.restart(1); }), "was not stored");
      }
    }
    run("stopped" + std::to_string(stopAt), few, 1 << 30, true);
    const results::Reader r(file);
    ASSERT_EQ(r.rows().size(), 20u) << stopAt;
    EXPECT_EQ(r.histories(), all.histories()) << stopAt;
    EXPECT_EQ(r.field("stress", 19), all.field("stress", 19)) << stopAt;
    EXPECT_TRUE(r.rows()[9].stored);
    // what was gone on from is kept; others that were not to be stored are not
    EXPECT_EQ(r.rows()[size_t(stopAt) - 1].stored, true) << stopAt;
    if (stopAt > 1 && stopAt < 9) {
      EXPECT_FALSE(r.rows()[0].stored);
    }
  }
}

TEST_F(StoredIncrements, GoingOnFromWhatIsNotThereIsRefusedWithWhatIs) {
  const auto file = run("thin", R"("results": {"increments": "each n-th", "every": 4},)");
  job::RunOptions options;
  options.out = file, options.resumeFrom = 6, options.threads = 1, options.remember = false;
  const auto document = barOutAndBack(R"("results": {"increments": "each n-th", "every": 4},)");
  EXPECT_SAYS(sentence([&] { job::runModel(document, options, nullptr); }), "increment 6 was not stored");
  options.resumeFrom = 8;
  job::runModel(document, options, nullptr);
  EXPECT_EQ(results::Reader(file).rows().size(), 20u);
}

TEST_F(StoredIncrements, FieldsThatAreLeftOutAreNotOfferedAndSaidToBeMissing) {
  const std::string without = R"("results": {"leave out": ["strain", "strain energy", "reaction"]},)";
  const auto file = run("bare", without, 12);
  {
    const results::Reader r(file);
    for (const auto& f : results::fieldList(r.header())) {
      EXPECT_FALSE(f.name.starts_with("strain") || f.name.starts_with("shear strain") || f.name.starts_with("reaction"))
          << f.name;
      (void)results::nodalField(r, f.name, 5);
    }
    EXPECT_EQ(results::fieldNamed(r.header(), "von Mises stress").kind, Kind::stress);
    EXPECT_SAYS(sentence([&] { (void)r.field("strain", 3); }), "'strain' is not stored");
    EXPECT_TRUE(r.has("stress") && !r.has("reaction"));
  }
  run("bare", without, 1 << 30, true);  // to go on needs none of them
  const results::Reader r(file), all(run("whole", ""));
  ASSERT_EQ(r.rows().size(), 20u);
  EXPECT_EQ(r.histories(), all.histories());
  EXPECT_EQ(r.field("stress", 19), all.field("stress", 19));
  EXPECT_EQ(results::exportVtu(r, (folder / "out").string(), {19}).size(), 2u);
  EXPECT_LT(std::filesystem::file_size(file), std::filesystem::file_size(folder / "whole.h5"));
}

TEST_F(StoredIncrements, ExportsOfAllIncrementsAreOfThoseThatAreThere) {
  const results::Reader r(run("ends", R"("results": {"increments": "step ends"},)"));
  EXPECT_EQ(results::exportVtu(r, (folder / "out").string(), {}).size(), 3u);  // two increments and their list
}

TEST_F(StoredIncrements, WhatCannotBeIsRefusedByReadiness) {
  const auto fault = [](const std::string& results) {
    for (const auto& f : checks::readiness(barOutAndBack(results)).findings)
      if (f.fault) return f.where + ": " + f.what;
    return std::string("none");
  };
  EXPECT_SAYS(fault(R"("results": {"increments": "each n-th", "every": 0},)"), "results/every: n is below one");
  EXPECT_SAYS(fault(R"("results": {"increments": "at times"},)"), "results/times: no time is given");
  EXPECT_SAYS(fault(R"("results": {"leave out": ["colour"]},)"), "'colour' cannot be left out");
  EXPECT_EQ(fault(R"("results": {"increments": "step ends"},)"), "none");
}

TEST_F(StoredIncrements, TheEstimatedSizeIsThatOfTheFileWithinAFactorOfTwo) {
  for (const std::string results : {"", R"("results": {"increments": "each n-th", "every": 4},)",
                                    R"("results": {"increments": "step ends", "leave out": ["strain", "stress"]},)"}) {
    // finer, so that what stands before the first increment is not most of it
    auto d = barOutAndBack(results);
    d.parts("bar").mesh.size = 0.1;
    const std::string file = (folder / "fine.h5").string();
    job::RunOptions options;
    options.out = file, options.threads = 1, options.remember = false;
    job::runModel(d, options, nullptr);
    const auto problem = analysis::lower(d);
    const double said = checks::estimate(d, problem->mesh).stored, is = 1e-6 * double(std::filesystem::file_size(file));
    EXPECT_LT(said / is, 2) << results << " said " << said << " MB, is " << is;
    EXPECT_GT(said / is, 0.5) << results << " said " << said << " MB, is " << is;
  }
}

}  // namespace
