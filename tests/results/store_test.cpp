// The results file under kill -9, and the shell program as scripts see it.
#include <gtest/gtest.h>

#include <sys/wait.h>
#include <unistd.h>
#include <csignal>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <memory>
#include <sstream>
#include <thread>

#include "core/base/error.hpp"
#include "core/results/export.hpp"
#include "core/results/fields.hpp"
#include "core/results/store.hpp"
#include "scratch.hpp"

using namespace anvil;
namespace fs = std::filesystem;

namespace {

const std::string cli = ANVIL_CLI, crimp = std::string(ANVIL_SOURCE) + "/examples/ferrule-crimp/ferrule-crimp.anvil";

class Files : public Scratch {
 protected:
  int shell(const std::string& arguments, std::string* said = nullptr) const {
    const auto log = (folder / "log").string();
    const int status = std::system((cli + " " + arguments + " >" + log + " 2>&1").c_str());
    std::ostringstream text;
    text << std::ifstream(log).rdbuf();
    if (said) *said = text.str();
    return WEXITSTATUS(status);
  }
};

TEST_F(Files, RecordedValuesKeepTheirUnits) {
  const std::string out = folder / "r.h5";
  ASSERT_EQ(shell("run " + crimp + " --set h=0.7 --quiet --out " + out), 0);
  const results::Reader r(out);
  const auto& h = r.header();
  ASSERT_EQ(h.historyUnits.size(), h.historyNames.size());
  int seen = 0;
  for (size_t i = 0; i < h.historyNames.size(); ++i) {
    const auto& n = h.historyNames[i];
    const char* unit = n == "contacts/grip/area"                  ? "mm²"
                       : n == "contacts/grip/pressure times area" ? "N"
                       : n == "energy/plastic"                    ? "N mm"
                       : n == "motions/pull/travel"               ? "mm"
                       : n == "balance/force"                     ? ""
                                                                  : nullptr;
    if (!unit) continue;
    EXPECT_EQ(h.historyUnits[i], unit) << n;
    ++seen;
  }
  EXPECT_EQ(seen, 5);
  std::string said;
  ASSERT_EQ(shell("table " + out + " --list", &said), 0) << said;
  EXPECT_NE(said.find("contacts/grip/area [mm²]"), std::string::npos) << said;
}

TEST_F(Files, KilledRunsLeaveEveryIncrementReadableAndGoOn) {
  const std::string out = folder / "r.h5";
  const auto stored = [&]() -> size_t {
    try {
      return results::Reader(out).rows().size();
    } catch (const Error&) {
      return 0;
    }
  };
  for (int round = 0; round < 3; ++round) {
    const size_t before = stored();
    const pid_t child = fork();
    if (child == 0) {
      const std::string verb = round == 0 ? "--quiet" : "--continue";
      execl(cli.c_str(), "anvil", "run", crimp.c_str(), "--set", "h=0.5", "--out", out.c_str(), "--quiet", verb.c_str(), nullptr);
      _exit(127);
    }
    for (int wait = 0; stored() <= before && wait < 3000; ++wait) std::this_thread::sleep_for(std::chrono::milliseconds(10));
    std::this_thread::sleep_for(std::chrono::milliseconds(50 + 173 * round));  // somewhere in the work on a later increment
    kill(child, SIGKILL);
    waitpid(child, nullptr, 0);
    const results::Reader r(out);
    ASSERT_GT(r.rows().size(), 0u);
    for (size_t i = 0; i < r.rows().size(); ++i) {
      EXPECT_EQ(r.field("displacement", i).size(), 2 * r.header().mesh.x.size());
      EXPECT_EQ(r.restart(i).at("displacement").size(), 2 * r.header().mesh.x.size() + 3 * r.header().rigid.size());
      for (const char* name : {"time", "step", "average force", "energies", "block 0", "contact squeeze", "contact grip"})
        EXPECT_TRUE(r.restart(i).contains(name)) << "what a run goes on from is found by its name: " << name;
      EXPECT_TRUE(i == 0 || r.rows()[i].time > r.rows()[i - 1].time);
    }
    EXPECT_EQ(r.history("motions/pull/force z").size(), r.rows().size());
  }
  EXPECT_EQ(shell("run " + crimp + " --set h=0.5 --continue --quiet --out " + out), 0);
  const results::Reader done(out);
  EXPECT_EQ(done.outcome(), "finished");
  ASSERT_EQ(shell("run " + crimp + " --set h=0.5 --quiet --out " + (folder / "whole.h5").string()), 0);
  const results::Reader whole(folder / "whole.h5");
  EXPECT_NEAR(done.history("motions/pull/force z").back(), whole.history("motions/pull/force z").back(),
              0.03 * std::abs(whole.history("motions/pull/force z").back()));
}

/// The window, or a script, may try to open the file at the very moment at which it comes to be.
TEST_F(Files, ARunDoesNotFailOfBeingLookedAt) {
  const std::string out = folder / "r.h5";
  ASSERT_EQ(shell("run " + crimp + " --set h=0.7 --quiet --out " + out), 0);
  const results::Header header = results::Reader(out).header();
  const pid_t child = fork();
  if (child == 0)
    for (;;) try {
        const results::Reader watch(out);
      } catch (const Error&) {
      }
  EXPECT_NO_THROW({
    for (int i = 0; i < 300; ++i) const results::Writer begun(out, header);
  });
  kill(child, SIGKILL);
  waitpid(child, nullptr, 0);
  EXPECT_FALSE(fs::exists(out + ".part"));
  std::string said;
  EXPECT_EQ(shell("export " + out + " --vtu " + (folder / "v").string(), &said), 1);
  EXPECT_NE(said.find("no increment is stored"), std::string::npos) << said;
  EXPECT_FALSE(fs::exists(folder / "v.pvd"));
}

TEST_F(Files, AReaderThatWatchesSeesEveryRowAsItIs) {
  const std::string out = folder / "r.h5";
  const pid_t child = fork();
  if (child == 0) {
    execl(cli.c_str(), "anvil", "run", crimp.c_str(), "--set", "h=0.5", "--out", out.c_str(), "--quiet", nullptr);
    _exit(127);
  }
  std::unique_ptr<results::Reader> watch;
  int status = 0;
  while (waitpid(child, &status, WNOHANG) == 0) {
    std::this_thread::sleep_for(std::chrono::milliseconds(20));
    try {
      if (!watch) watch = std::make_unique<results::Reader>(out);
      watch->refresh();
    } catch (const Error&) {
      continue;  // not there yet
    }
    for (size_t i = 1; i < watch->rows().size(); ++i) ASSERT_GT(watch->rows()[i].time, watch->rows()[i - 1].time);
  }
  EXPECT_EQ(WEXITSTATUS(status), 0);
  ASSERT_TRUE(watch);
  watch->refresh();
  const results::Reader fresh(out);
  ASSERT_EQ(watch->rows().size(), fresh.rows().size());
  EXPECT_GT(watch->rows().size(), 40u);
  EXPECT_EQ(watch->history("motions/pull/travel"), fresh.history("motions/pull/travel"));
}

TEST_F(Files, ShellVerbsAndExitCodes) {
  const std::string model = std::string(ANVIL_SOURCE) + "/verification/C1-patch.anvil", out = folder / "c.h5";
  std::string said;
  EXPECT_EQ(shell("run " + model + " --out " + out, &said), 0);
  EXPECT_NE(said.find("press"), std::string::npos);
  EXPECT_EQ(shell("table " + out + " 'contact pressure' --on high.bottom", &said), 0);
  EXPECT_NE(said.find("area-weighted mean 100"), std::string::npos) << said;
  EXPECT_EQ(shell("table " + out + " 'loads/press/value' --format json", &said), 0);
  EXPECT_NE(said.find("\"max\": 100"), std::string::npos) << said;
  EXPECT_EQ(shell("table " + out + " 'contact presure'", &said), 1);
  EXPECT_NE(said.find("Did you mean 'contact pressure'?"), std::string::npos) << said;
  EXPECT_EQ(shell("export " + out + " --vtu " + (folder / "v").string() + " --csv " + (folder / "h.csv").string()), 0);
  EXPECT_TRUE(fs::exists(folder / "v.pvd") && fs::exists(folder / "v_0001.vtu") && fs::exists(folder / "h.csv"));
  EXPECT_EQ(shell("check " + model, &said), 0);
  EXPECT_NE(said.find("Ready"), std::string::npos);
  EXPECT_EQ(shell("run " + model + " --set agle=1", &said), 1);
  EXPECT_NE(said.find("Did you mean 'angle'?"), std::string::npos) << said;
  EXPECT_EQ(shell("run", &said), 2);
  EXPECT_EQ(shell("run nowhere.anvil", &said), 1);
  EXPECT_NE(said.find("cannot be opened"), std::string::npos) << said;
  EXPECT_EQ(shell("--help", &said), 0);
  EXPECT_NE(said.find("Examples"), std::string::npos);
  EXPECT_EQ(shell("schema", &said), 0);
  EXPECT_EQ(said[0], '{');
}

TEST_F(Files, AFullDiskEndsInASentenceAndKeepsWhatWasStored) {
  if (geteuid() != 0 || std::system(("mount -t tmpfs -o size=3m none " + folder.string() + " 2>/dev/null").c_str()) != 0)
    GTEST_SKIP() << "needs the right to mount a small disk";
  const std::string out = folder / "r.h5";
  const std::string log = folder.string() + ".log";
  const int status = std::system((cli + " run " + crimp + " --quiet --out " + out + " >" + log + " 2>&1").c_str());
  std::ostringstream text;
  text << std::ifstream(log).rdbuf();
  const size_t kept = results::Reader(out).rows().size();
  if (std::system(("umount -l " + folder.string()).c_str()) != 0) ADD_FAILURE() << "the small disk stays mounted";
  EXPECT_NE(WEXITSTATUS(status), 0);
  EXPECT_NE(text.str().find("disk has room"), std::string::npos) << text.str();
  EXPECT_GT(kept, 0u);
}

TEST(Fields, ExtrapolationIsExactForBilinearFields) {
  const double g = 1 / std::sqrt(3.), S[4] = {-g, g, g, -g}, T[4] = {-g, -g, g, g}, cs[4] = {-1, 1, 1, -1},
               ct[4] = {-1, -1, 1, 1};
  const auto f = [](double s, double t) { return 3 - 2 * s + 0.5 * t + 1.7 * s * t; };
  double p[4], n[8];
  for (int i = 0; i < 4; ++i) p[i] = f(S[i], T[i]);
  results::extrapolate({mesh::Cell::quad8, 0, {}}, p, n);
  for (int i = 0; i < 4; ++i) EXPECT_NEAR(n[i], f(cs[i], ct[i]), 1e-12);
}

TEST(Fields, StatisticsWeighByArea) {
  const auto s = results::statistics({1, 2, 6}, {1, 1, 2});
  EXPECT_EQ(s.count, 3u);
  EXPECT_DOUBLE_EQ(s.mean, 3);
  EXPECT_DOUBLE_EQ(s.weightedMean, 15. / 4);
  EXPECT_DOUBLE_EQ(s.sum, 9);
}

}  // namespace
