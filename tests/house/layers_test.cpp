// The house's order: a folder of the core includes only what lies below it; the core knows no Qt and no VTK; what computes does
// not read the document; lines are no longer than agreed; helpers of tests can be compiled in batches.
#include <gtest/gtest.h>

#include <algorithm>
#include <filesystem>
#include <fstream>
#include <functional>
#include <map>
#include <regex>
#include <set>

#include "core/base/files.hpp"

namespace fs = std::filesystem;

namespace {

const fs::path root = fs::path(ANVIL_SOURCE);

bool isCode(const fs::path& file) { return file.extension() == ".cpp" || file.extension() == ".hpp"; }

/// The name between the quotes of an include of our own; empty for other lines.
std::string included(const std::string& line) {
  const std::string before = "#include \"";
  if (!line.starts_with(before)) return {};
  return line.substr(before.size(), line.rfind('"') - before.size());
}

void eachLine(const fs::path& file, const std::function<void(const std::string&)>& look) {
  std::ifstream in(file);
  ASSERT_TRUE(in) << file;
  for (std::string line; std::getline(in, line);) look(line);
}

/// All headers of our own that a file includes, and those that they include.
void gather(const fs::path& file, std::set<std::string>& seen) {
  eachLine(file, [&](const std::string& line) {
    const auto name = included(line);
    if (name.starts_with("core/") && seen.insert(name).second) gather(root / "src" / name, seen);
  });
}

}  // namespace

TEST(House, CoreFoldersIncludeOnlyWhatLiesBelow) {
  const std::vector<std::string> order{"base",   "model",   "geometry", "mesh", "material", "element", "contact", "unknowns",
                                       "linear", "problem", "lower",    "run",  "results",  "checks",  "job"};
  std::map<std::string, int> level;
  for (size_t i = 0; i < order.size(); ++i) level[order[i]] = int(i);
  int seen = 0;
  for (const auto& entry : fs::recursive_directory_iterator(root / "src/core")) {
    if (!isCode(entry.path())) continue;
    const std::string folder = entry.path().parent_path().filename();
    ASSERT_TRUE(level.count(folder)) << entry.path();
    eachLine(entry.path(), [&](const std::string& line) {
      EXPECT_FALSE(line.starts_with("#include <Q") || line.starts_with("#include <vtk")) << entry.path() << ": " << line;
      const auto name = included(line);
      if (name.empty()) return;
      ++seen;
      ASSERT_TRUE(name.starts_with("core/")) << entry.path() << ": " << line;
      const auto other = name.substr(5, name.find('/', 5) - 5);
      ASSERT_TRUE(level.count(other)) << entry.path() << ": " << line;
      const bool fits =
          folder == "results" ? other == "base" || other == "mesh" || other == "results" : level[other] <= level[folder];
      EXPECT_TRUE(fits) << entry.path() << ": " << line;
    });
  }
  EXPECT_GT(seen, 50);
}

TEST(House, WhatComputesDoesNotReachTheDocument) {
  int looked = 0;
  for (const char* folder : {"base", "material", "element", "contact", "unknowns", "linear", "problem", "run", "results"})
    for (const auto& entry : fs::directory_iterator(root / "src/core" / folder)) {
      if (entry.path().extension() != ".cpp") continue;
      std::set<std::string> seen;
      gather(entry.path(), seen);
      EXPECT_FALSE(seen.contains("core/model/document.hpp")) << entry.path() << " would be compiled anew for every new key";
      ++looked;
    }
  EXPECT_GT(looked, 40);
}

TEST(House, HeadersPassTheDocumentOnByName) {
  int looked = 0;
  for (const auto& entry : fs::recursive_directory_iterator(root / "src")) {
    const auto name = entry.path().filename().string();
    if (entry.path().extension() != ".hpp" || name == "field_lister.hpp" || name == "lowering.hpp")
      continue;  // inside their folders
    ++looked;
    eachLine(entry.path(), [&](const std::string& line) {
      EXPECT_NE(included(line), "core/model/document.hpp") << entry.path() << ": include core/model/forward.hpp instead";
    });
  }
  EXPECT_GT(looked, 60);
}

/// A desktop knows the files of models by their name, and opens them with the window.
TEST(House, TheDesktopsFileTypeIsDefined) {
  const std::string packaging = std::string(ANVIL_SOURCE) + "/packaging/unyielding-anvil";
  const auto desktop = anvil::readWhole(packaging + ".desktop"), types = anvil::readWhole(packaging + "-mime.xml");
  const auto from = desktop.find("MimeType=") + 9;
  const auto type = desktop.substr(from, desktop.find(';', from) - from);
  EXPECT_NE(types.find("<mime-type type=\"" + type + "\">"), std::string::npos) << type;
  EXPECT_NE(types.find("<glob pattern=\"*.anvil\"/>"), std::string::npos);
}

TEST(House, LinesAreNoLongerThanAgreed) {
  for (const char* folder : {"src", "tests", "bench"})
    for (const auto& entry : fs::recursive_directory_iterator(root / folder)) {
      if (!isCode(entry.path())) continue;
      int number = 0;
      eachLine(entry.path(), [&](const std::string& line) {
        ++number;
        const auto width = std::count_if(line.begin(), line.end(), [](char c) { return (c & 0xC0) != 0x80; });  // of characters
        EXPECT_LE(width, 130) << entry.path() << ":" << number;
      });
    }
}

/// Files are compiled in batches: what two of them call alike would meet in one.
TEST(House, HelpersOfTestsHaveNamesOfTheirOwn) {
  static const std::regex definition(
      R"(^(?:inline |static |constexpr |const )*)"
      R"((?:(?:struct|class|enum class|enum) (\w+)|[\w:<>,&* ]+?[ *&](\w+)(?:\(|(?:\[\])? = )).*)");
  std::map<std::string, std::string> where;
  for (const auto& entry : fs::recursive_directory_iterator(root / "tests")) {
    const auto& file = entry.path();
    if (file.extension() != ".cpp" || file.parent_path().filename() == "app" || file.parent_path().filename() == "fuzz") continue;
    std::set<std::string> own;
    eachLine(file, [&](const std::string& line) {
      std::smatch m;
      if (line.empty() || !std::isalpha(static_cast<unsigned char>(line[0])) || line.starts_with("using ") ||
          line.starts_with("namespace"))
        return;
      if (std::regex_match(line, m, definition)) own.insert(m[1].matched ? m[1] : m[2]);
    });
    for (const auto& name : own) {
      const auto [it, fresh] = where.emplace(name, file);
      EXPECT_TRUE(fresh) << name << " stands in " << file << " and in " << it->second;
    }
  }
  EXPECT_GT(where.size(), 150u);
}
