// The house's order: a folder of the core includes only what lies below it; the core knows no Qt and no VTK.
#include <gtest/gtest.h>

#include <filesystem>
#include <fstream>
#include <functional>
#include <map>
#include <regex>
#include <set>

namespace fs = std::filesystem;

TEST(House, CoreFoldersIncludeOnlyWhatLiesBelow) {
  const std::vector<std::string> order{"base",    "model",   "geometry", "mesh",    "material",
                                       "element", "contact", "analysis", "results", "checks"};
  std::map<std::string, int> level;
  for (size_t i = 0; i < order.size(); ++i) level[order[i]] = int(i);
  const std::regex include("#include \"core/([a-z]+)/");
  int seen = 0;
  for (const auto& entry : fs::recursive_directory_iterator(fs::path(ANVIL_SOURCE) / "src/core")) {
    if (entry.path().extension() != ".cpp" && entry.path().extension() != ".hpp") continue;
    const std::string folder = entry.path().parent_path().filename();
    ASSERT_TRUE(level.count(folder)) << entry.path();
    std::ifstream in(entry.path());
    for (std::string line; std::getline(in, line);) {
      EXPECT_EQ(line.find("#include <Q"), std::string::npos) << entry.path();
      EXPECT_EQ(line.find("#include <vtk"), std::string::npos) << entry.path();
      EXPECT_EQ(line.find("#include \"app/"), std::string::npos) << entry.path();
      EXPECT_EQ(line.find("#include \"cli/"), std::string::npos) << entry.path();
      std::smatch m;
      if (!std::regex_search(line, m, include)) continue;
      ++seen;
      const std::string other = m[1];
      ASSERT_TRUE(level.count(other)) << entry.path() << ": " << line;
      const bool fits =
          folder == "results" ? other == "base" || other == "mesh" || other == "results" : level[other] <= level[folder];
      EXPECT_TRUE(fits) << entry.path() << ": " << line;
    }
  }
  EXPECT_GT(seen, 50);
}

TEST(House, WhatComputesDoesNotReachTheDocument) {
  const fs::path root = fs::path(ANVIL_SOURCE) / "src";
  const std::regex include("#include \"(core/[a-z_/]+\\.hpp)\"");
  const std::function<void(const fs::path&, std::set<std::string>&)> gather = [&](const fs::path& file,
                                                                                  std::set<std::string>& seen) {
    std::ifstream in(file);
    ASSERT_TRUE(in) << file;
    std::smatch m;
    for (std::string line; std::getline(in, line);)
      if (std::regex_search(line, m, include) && seen.insert(m[1]).second) gather(root / m[1].str(), seen);
  };
  int looked = 0;
  for (const char* folder : {"base", "material", "element", "contact", "results", "analysis"})
    for (const auto& entry : fs::directory_iterator(root / "core" / folder)) {
      const auto name = entry.path().filename().string();
      const bool reads =
          name.starts_with("lower") || name.starts_with("fitted_bolts") || name == "targets.cpp";  // the way from the document
      if (entry.path().extension() != ".cpp" || reads) continue;
      std::set<std::string> seen;
      gather(entry.path(), seen);
      EXPECT_FALSE(seen.contains("core/model/document.hpp")) << entry.path() << " would be compiled anew for every new key";
      ++looked;
    }
  EXPECT_GT(looked, 40);
}
