// A folder of its own for every test that writes files; gone afterwards. Tests run side by side, each in a
// process of its own: the process is part of the folder's name.
#pragma once
#include <gtest/gtest.h>
#include <unistd.h>

#include <cstdlib>
#include <filesystem>
#include <string>

namespace anvil {

class Scratch : public ::testing::Test {
 protected:
  void SetUp() override {
    const auto* info = ::testing::UnitTest::GetInstance()->current_test_info();
    folder = std::filesystem::temp_directory_path();
    folder /= std::string("anvil-").append(info->test_suite_name()).append("-").append(info->name());
    folder += "-" + std::to_string(getpid());
    std::filesystem::remove_all(folder);
    std::filesystem::create_directories(folder);
  }
  void TearDown() override { std::filesystem::remove_all(folder); }
  std::filesystem::path folder;
};

/// Whose cache is there, too: no mesh and no run of before is known.
class ScratchCache : public Scratch {
 protected:
  void SetUp() override {
    Scratch::SetUp();
    if (const char* was = std::getenv("XDG_CACHE_HOME")) before_ = was;
    setenv("XDG_CACHE_HOME", folder.c_str(), 1);
  }
  void TearDown() override {
    before_.empty() ? unsetenv("XDG_CACHE_HOME") : setenv("XDG_CACHE_HOME", before_.c_str(), 1);
    Scratch::TearDown();
  }

 private:
  std::string before_;
};

}  // namespace anvil
