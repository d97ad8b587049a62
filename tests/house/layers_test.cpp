// The house's order: a folder of the core includes only what lies below it; the core knows no Qt and no VTK.
#include <gtest/gtest.h>

#include <filesystem>
#include <fstream>
#include <map>
#include <regex>

namespace fs = std::filesystem;

TEST(House, CoreFoldersIncludeOnlyWhatLiesBelow) {
  const std::vector<std::string> order{"base", "model", "geometry", "mesh", "material", "element", "contact", "analysis", "results", "checks"};
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
      const bool fits = folder == "results" ? other == "base" || other == "mesh" || other == "results" : level[other] <= level[folder];
      EXPECT_TRUE(fits) << entry.path() << ": " << line;
    }
  }
  EXPECT_GT(seen, 50);
}
