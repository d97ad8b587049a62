// Kills the program at random moments while it runs a model, goes on with one, meshes or exports, and looks at what is left: no
// stored increment is lost, files are whole or not there, and what is gone on with comes to the same answer.
//   kill-run ANVIL MODEL [COUNT [SEED]]
#include <algorithm>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <random>

#include "fuzz/program.hpp"

using namespace anvil::fuzz;
namespace fs = std::filesystem;

int main(int argc, char** argv) {
  if (argc < 3) return std::fprintf(stderr, "usage: kill-run ANVIL MODEL [COUNT [SEED]]\n"), 2;
  const std::string program = argv[1], model = argv[2];
  const int count = argc > 3 ? std::atoi(argv[3]) : 200;
  std::mt19937 gen(argc > 4 ? unsigned(std::atoi(argv[4])) : 1u);
  char name[] = "/tmp/anvil-kills-XXXXXX";
  const fs::path folder = mkdtemp(name);
  setenv("XDG_CACHE_HOME", (folder / "cache").c_str(), 1);
  setenv("TMPDIR", folder.c_str(), 1);
  const std::string log = (folder / "log").string(), out = (folder / "r.h5").string(), whole = (folder / "whole.h5").string(),
                    csv = (folder / "h.csv").string();
  const auto rowsOf = [&](const std::string& file) {
    const auto end = run({program, "table", file, "step/share of the loading", "--format", "csv"}, log, 60);
    return end.code == 0 ? int(std::count(end.said.begin(), end.said.end(), '\n')) - 1 : -1;
  };
  const auto valuesOf = [&](const std::string& file) {
    return run({program, "table", file, "displacement", "--format", "csv"}, log, 60).said;
  };
  const std::vector<std::string> begin{program, "run", model, "--quiet", "--threads", "1", "--out"};
  auto first = begin;
  first.push_back(whole);
  const auto sound = run(first, log, 3600);
  if (sound.code != 0) return std::printf("the model does not run: %s\n", sound.said.c_str()), 2;
  const int all = rowsOf(whole);
  const auto right = valuesOf(whole);
  run({program, "export", whole, "--csv", csv}, log, 60);
  const auto histories = bytesOf(csv);
  int wrong = 0, stored = 0, runs = 0, exports = 0;
  const auto fault = [&](const std::string& words) { ++wrong, std::printf("FAULT %s\n", words.c_str()); };
  for (int i = 0; i < count; ++i) {
    const bool exporting = i % 10 == 9;
    auto words = begin;
    words.push_back(out);
    if (fs::exists(out)) words.push_back("--continue");
    if (exporting) words = {program, "export", whole, "--csv", csv};
    const double share = std::uniform_real_distribution<double>(0, exporting ? 0.3 : 0.6)(gen);
    const pid_t child = start(words, log);
    std::this_thread::sleep_for(std::chrono::duration<double>(exporting ? 0.2 * share : share * sound.seconds));
    kill(child, SIGKILL);
    const auto end = finish(child, log, 60);
    if (exporting) {
      ++exports;
      if (bytesOf(csv) != histories) fault("an export that was killed left half a file");
      continue;
    }
    ++runs;
    if (!fs::exists(out)) continue;
    const int now = rowsOf(out);
    if (now >= 0 && now < stored) fault("of " + std::to_string(stored) + " increments " + std::to_string(now) + " are left");
    if (now < 0 && stored > 0) fault("results cannot be read any more: " + bytesOf(log));
    stored = std::max(now, 0);
    if (end.code == 0 || stored == all) {
      if (end.code == 0 && (stored != all || valuesOf(out) != right)) fault("a run that was gone on with has another answer");
      fs::remove(out), stored = 0;
    }
  }
  if (fs::exists(out)) {
    auto words = begin;
    words.insert(words.end(), {out, "--continue"});
    if (run(words, log, 3600).code != 0) fault("the last run cannot be gone on with: " + bytesOf(log));
    if (rowsOf(out) != all || valuesOf(out) != right) fault("the last run has another answer");
  }
  std::this_thread::sleep_for(std::chrono::seconds(2));  // workers see that nobody waits for them
  int left = 0;
  for (const auto& f : fs::directory_iterator(folder)) left += f.path().filename().string().starts_with("anvil-job-");
  if (left) fault(std::to_string(left) + " folders of jobs are left");
  std::printf("%d runs and %d exports killed, %d faults\n", runs, exports, wrong);
  if (!wrong) fs::remove_all(folder);
  return wrong ? 1 : 0;
}
