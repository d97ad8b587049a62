// Runs that are killed at any moment and continued, and input that cannot be: everything ends in the right answer or a
// sentence, and nothing stored is lost.
#include <gtest/gtest.h>

#include <sys/wait.h>
#include <unistd.h>
#include <csignal>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <random>
#include <sstream>
#include <thread>

#include "core/job/run_model.hpp"
#include "core/lower/lower.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/problem/problem.hpp"
#include "core/results/store.hpp"
#include "results/pushed_block.hpp"
#include "scratch.hpp"

using namespace anvil;
namespace fs = std::filesystem;

namespace {

class Faults : public Scratch {
 protected:
  void SetUp() override {
    Scratch::SetUp();
    write(pushedBlock);
  }
  void write(const std::string& text) const { std::ofstream(folder / "m.anvil") << text; }
  pid_t start(const std::string& out, bool resume) const {
    const pid_t child = fork();
    if (child == 0) {
      const std::string file = folder / "m.anvil";
      execl(ANVIL_CLI, "anvil", "run", file.c_str(), "--out", out.c_str(), "--quiet", "--threads", "1",
            resume ? "--continue" : nullptr, nullptr);
      _exit(127);
    }
    return child;
  }
  /// What the shell says of a changed model, and its exit code.
  std::string said(const std::string& from, const std::string& to, int& code) const {
    std::string text = pushedBlock;
    const auto at = text.find(from);
    EXPECT_NE(at, std::string::npos) << from;
    write(text.replace(at, from.size(), to));
    const std::string log = folder / "log";
    std::ostringstream command;
    command << "timeout 60 " << ANVIL_CLI << " run " << (folder / "m.anvil").string() << " --quiet --out "
            << (folder / "f.h5").string() << " >" << log << " 2>&1";
    code = WEXITSTATUS(std::system(command.str().c_str()));
    std::ostringstream words;
    words << std::ifstream(log).rdbuf();
    return words.str();
  }
};

TEST_F(Faults, FiftyKillsAtRandomMomentsChangeNothingInTheEnd) {
  const std::string whole = folder / "whole.h5", out = folder / "r.h5";
  int status = 0;
  waitpid(start(whole, false), &status, 0);
  ASSERT_EQ(WEXITSTATUS(status), 0);
  const results::Reader reference(whole);
  const auto u = reference.restart(reference.rows().size() - 1).at("displacement");
  std::mt19937 random(20261123);
  std::uniform_int_distribution<int> wait(15, 160);
  int kills = 0;
  size_t stored = 0;
  while (kills < 50) {
    const pid_t child = start(out, fs::exists(out));
    std::this_thread::sleep_for(std::chrono::milliseconds(wait(random)));
    if (waitpid(child, &status, WNOHANG) == 0) {
      kill(child, SIGKILL);
      waitpid(child, &status, 0);
      ++kills;
      if (!fs::exists(out)) continue;
      size_t rows = 0;
      try {
        rows = results::Reader(out).rows().size();
      } catch (const std::exception&) {  // killed while the file was begun: the next run begins anew
        ASSERT_EQ(stored, 0u);
        fs::remove(out);
        continue;
      }
      ASSERT_GE(rows, stored);  // nothing that was stored is lost
      stored = rows;
      continue;
    }
    ASSERT_EQ(WEXITSTATUS(status), 0);
    const results::Reader done(out);
    ASSERT_EQ(done.outcome(), "finished");
    ASSERT_EQ(done.rows().size(), reference.rows().size());
    const auto v = done.restart(done.rows().size() - 1).at("displacement");
    ASSERT_EQ(v.size(), u.size());
    for (size_t i = 0; i < u.size(); ++i) ASSERT_NEAR(u[i], v[i], 1e-12);
    fs::remove(out), stored = 0;
  }
  waitpid(start(out, fs::exists(out)), &status, 0);  // and what is left runs to the end
  ASSERT_EQ(WEXITSTATUS(status), 0);
  const results::Reader done(out);
  ASSERT_EQ(done.rows().size(), reference.rows().size());
  const auto v = done.restart(done.rows().size() - 1).at("displacement");
  for (size_t i = 0; i < u.size(); ++i) ASSERT_NEAR(u[i], v[i], 1e-12);
}

TEST_F(Faults, ARunKilledBeforeItsFirstIncrementBeginsAnew) {
  const std::string out = folder / "empty.h5";
  {
    auto document = model::load((folder / "m.anvil").string());
    auto problem = analysis::lower(document);
    results::Writer(out, job::headerOf(*problem, document));  // begun, nothing stored
  }
  ASSERT_TRUE(results::Reader(out).rows().empty());
  int status = 0;
  waitpid(start(out, true), &status, 0);
  EXPECT_EQ(WEXITSTATUS(status), 0);
  EXPECT_EQ(results::Reader(out).outcome(), "finished");
}

TEST_F(Faults, WhatCannotBeEndsInASentence) {
  const struct {
    const char *from, *to, *words;
  } cases[] = {
      {"\"nu\": 0.3", "\"nu\": 1e999", "number"},  // not finite
      {"\"E\": 205000", "\"E\": \"nan\"", "materials/steel/elastic/E"},
      {"\"E\": 205000", "\"E\": \"=0/0\"", "materials/steel/elastic/E"},
      {"\"nu\": 0.3", "\"nu\": 0.5", "0.5"},
      {"\"size\": [10, 5]", "\"size\": [10, 0]", "parts/block"},   // no area
      {"\"size\": [10, 5]", "\"size\": [-10, 5]", "parts/block"},  // inside out
      {"\"size\": 0.5", "\"size\": -1", "parts/block"},
      {"\"size\": 0.5", "\"size\": 0.0001", "parts/block"},  // two billion elements
      {"\"tangent\": 2000", "\"tangent\": -2000", "materials/steel/plastic"},
      {"\"friction\": 0.2", "\"friction\": -1", "friction"},
      {"\"press\": -0.4", "\"press\": -40", "step 'press'"},  // presses it flat and beyond
      {"\"between\": [\"block.top\", \"tool\"]", "\"between\": [\"block.top\", \"block.top\"]", "press"},
      {"\"fix\": [\"x\", \"y\"]", "\"fix\": [\"x\"]", "free"},
  };
  for (const auto& c : cases) {
    int code = 0;
    const auto words = said(c.from, c.to, code);
    EXPECT_TRUE(code == 1 || code == 3) << c.to << ": code " << code << ", " << words;
    EXPECT_NE(words.find(c.words), std::string::npos) << c.to << ": " << words;
    EXPECT_NE(words.find("anvil: "), std::string::npos) << c.to << ": " << words;
  }
}

TEST_F(Faults, WhatWasSolvedBeforeAFailureIsKept) {
  int code = 0;
  const auto words = said("\"press\": -0.4", "\"press\": -5", code);
  EXPECT_EQ(code, 3);
  EXPECT_NE(words.find("is kept"), std::string::npos) << words;
  const results::Reader r(folder / "f.h5");
  ASSERT_GE(r.rows().size(), 1u);
  EXPECT_NE(r.outcome(), "finished");
}

}  // namespace
