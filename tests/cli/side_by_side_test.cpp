// Tasks in processes of their own.
#include "cli/verify/side_by_side.hpp"

#include <gtest/gtest.h>
#include <unistd.h>
#include <csignal>
#include <filesystem>
#include <map>
#include <stdexcept>

#include "core/base/files.hpp"
#include "scratch.hpp"

using namespace anvil;

namespace {

class SideBySide : public Scratch {
 protected:
  std::string at(const std::string& name, size_t k) const { return (folder / (name + std::to_string(k))).string(); }
};

TEST_F(SideBySide, AllAreDoneEachByAnotherProcess) {
  std::map<size_t, int> ended;
  const auto task = [&](size_t k) { writeWhole(at("by", k), std::to_string(::getpid())); };
  cli::sideBySide(7, 3, task, [&](size_t k, int signal) { ended[k] = signal; });
  ASSERT_EQ(ended.size(), 7u);
  std::map<std::string, int> processes;
  for (const auto& [k, signal] : ended) {
    EXPECT_EQ(signal, 0);
    ++processes[readWhole(at("by", k))];
  }
  EXPECT_EQ(processes.size(), 7u);
  EXPECT_FALSE(processes.contains(std::to_string(::getpid())));
}

TEST_F(SideBySide, NoMoreThanAskedForRunAtATime) {
  cli::sideBySide(
      6, 2,
      [&](size_t k) {
        writeWhole(at("begun", k), "");
        int others = 0;  // that have begun and not ended
        for (size_t o = 0; o < 6; ++o)
          others += o != k && std::filesystem::exists(at("begun", o)) && !std::filesystem::exists(at("told", o));
        writeWhole(at("seen", k), std::to_string(others));
      },
      [&](size_t k, int) { writeWhole(at("told", k), ""); });
  for (size_t k = 0; k < 6; ++k) EXPECT_LE(std::stoi(readWhole(at("seen", k))), 1) << k;
}

TEST_F(SideBySide, OneThatDiesIsToldAndTakesNoOtherWithIt) {
  std::map<size_t, int> ended;
  cli::sideBySide(
      3, 2,
      [&](size_t k) {
        if (k == 1) ::raise(SIGKILL);
        if (k == 2) throw std::runtime_error("this task throws, as it should");
        writeWhole(at("left", k), "whole");
      },
      [&](size_t k, int signal) { ended[k] = signal; });
  EXPECT_EQ(ended, (std::map<size_t, int>{{0, 0}, {1, SIGKILL}, {2, 0}}));
  EXPECT_TRUE(std::filesystem::exists(at("left", 0)));
}

}  // namespace
