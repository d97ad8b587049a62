// The shell as people and scripts use it: a bar pulled past yield, run, read, exported, continued; exit codes and sentences.
#include <gtest/gtest.h>

#include <sys/wait.h>
#include <cmath>
#include <cstdlib>
#include <fstream>
#include <map>
#include <nlohmann/json.hpp>
#include <sstream>

#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "scratch.hpp"
#include "words.hpp"

using namespace anvil;
using Json = nlohmann::json;

namespace {

// A bar of 10 × 2 in plane stress, pulled by 0.02 and let go: E 200 000, yield 300, tangent 2000.
const char* const bar = R"({
  "anvil": 1, "title": "Bar",
  "parameters": {"pull": "0.02 mm", "n": 4},
  "space": "plane stress", "thickness": 3,
  "materials": {"steel": {"elastic": {"E": 200000, "nu": 0.3}, "plastic": {"yield": 300, "tangent": 2000}}},
  "parts": {"bar": {"material": "steel", "element": "quad8", "shape": {"rectangle": {"at": [0, 0], "size": [10, 2]}}, "mesh": {
    "count": ["=n", 2]}}},
  "regions": {"grip": {"edges": ["bar.right"]}},
  "steps": {"pull": {"increments": {"largest": 0.25}}, "back": {"increments": {"largest": 0.5}}},
  "supports": {"left": {"on": "bar.left", "fix": "x"}, "low": {"on": "bar.bottom", "fix": "y"}},
  "motions": {"pull": {"on": "grip", "along": "x", "course": {"pull": "=pull", "back": 0}}},
  "geometry": "small"
})";

class Shell : public Scratch {
 protected:
  void SetUp() override {
    Scratch::SetUp();
    std::ofstream(at("bar.anvil")) << bar;
  }
  std::string at(const std::string& name) const { return (folder / name).string(); }

  /// What `anvil …` says; its exit code in `code`.
  std::string said(const std::string& arguments) {
    std::ostringstream command;
    command << "cd " << folder << " && timeout 60 " << ANVIL_CLI << " " << arguments << " > said 2>&1";
    code = WEXITSTATUS(std::system(command.str().c_str()));
    std::ostringstream words;
    words << std::ifstream(at("said")).rdbuf();
    return words.str();
  }
  void run(const std::string& more = "") {
    const auto words = said(std::string("run bar.anvil --quiet ").append(more));
    ASSERT_EQ(code, 0) << words;
  }
  Json json(const std::string& arguments) {
    const auto words = said(std::string(arguments).append(" --format json"));
    EXPECT_EQ(code, 0) << words;
    return Json::parse(words, nullptr, false);
  }
  bool says(const std::string& words, const std::string& what) const { return words.find(what) != std::string::npos; }
  int code = 0;
};

TEST_F(Shell, RunPrintsATableAndPutsTheResultsBesideTheModel) {
  const auto words = said("run bar.anvil");
  EXPECT_EQ(code, 0) << words;
  for (const char* what : {"step", "iter", "pull", "back", "Done; results: bar.results.h5"})
    EXPECT_TRUE(says(words, what)) << what << " in\n" << words;
  EXPECT_TRUE(std::filesystem::exists(at("bar.results.h5")));
  EXPECT_EQ(said("run bar.anvil --quiet"), "") << "quiet is quiet";
  const auto timing = said("run bar.anvil --quiet --timing --memory '2 GB'");
  for (const char* what : {"factorisation", "storing", "MB of memory at most"}) EXPECT_TRUE(says(timing, what)) << timing;
}

TEST_F(Shell, TheForceIsThatOfTheBilinearLaw) {
  run();
  // strain 0.002 > 300/E: stress = 300 + 2000 (0.002 - 0.0015); area 6
  const auto table = json("table bar.results.h5 'motions/pull/force x'");
  ASSERT_TRUE(table.is_object()) << table;
  double atOne = 0, last = 0;
  for (const auto& row : table.at("rows")) {
    if (std::abs(row[0].get<double>() - 1) < 1e-9) atOne = row[1];
    last = row[1];
  }
  EXPECT_NEAR(atOne, 6 * (300 + 2000 * 0.0005), 1e-3);
  EXPECT_NEAR(last, 6 * (301 - 200000 * 0.002), 1e-3) << "back where it began: unloaded elastically";
}

TEST_F(Shell, AFieldHasItsStatisticsOverAFace) {
  run();
  const auto table = json("table bar.results.h5 'stress x' --on bar.left --time 1");
  const auto& s = table.at("statistics");
  EXPECT_EQ(s.at("count").get<int>(), 5) << "two quad8 have five nodes along the edge";
  for (const char* what : {"min", "max", "mean", "area-weighted mean"}) EXPECT_NEAR(s.at(what).get<double>(), 301, 1e-3) << what;
  EXPECT_NEAR(s.at("sum").get<double>(), 5 * 301, 5e-3);
}

TEST_F(Shell, ValuesAtThinElementsAreMarked) {
  // the third corner lies nearly on the line between its neighbours: the element there is thin
  std::ofstream(at("kite.anvil")) << R"({"anvil": 1, "space": "plane stress", "thickness": 1,
    "materials": {"m": {"elastic": {"E": 1000, "nu": 0.3}}},
    "parts": {"p": {"material": "m", "element": "quad4", "mesh": {"count": [3, 3]}, "shape": {"profile": {"start": [0, 0],
      "path": [{"line": [10, 0], "name": "a"}, {"line": [10, 10], "name": "b"}, {"line": [4.8, 5.2], "name": "c"},
        {"line": [0, 0], "name": "d"}], "sides": [["a"], ["b"], ["c"], ["d"]]}}}},
    "steps": {"pull": {}}, "supports": {"foot": {"on": "p.a", "fix": ["x", "y"]}},
    "motions": {"pull": {"on": "p.b", "along": "x", "course": 0.1}}})";
  ASSERT_TRUE(says(said("run kite.anvil --quiet"), ""));
  ASSERT_EQ(code, 0);
  const auto stress = json("table kite.results.h5 'von Mises stress'");
  int marked = 0;
  for (const auto& row : stress.at("rows")) {
    const bool corner = stress.at("marked")[size_t(row[0].get<double>()) - 1].get<bool>();
    marked += corner;
    const double x = row[1].get<double>(), y = row[2].get<double>();
    EXPECT_TRUE(corner || std::hypot(x - 4.8, y - 5.2) > 1e-6);
    EXPECT_FALSE(corner && std::hypot(x - 10, y) < 1e-6);
  }
  EXPECT_GE(marked, 4);
  EXPECT_LT(marked, 16);
  EXPECT_TRUE(says(said("table kite.results.h5 'von Mises stress'"), "thinner than a scaled Jacobian of 0.1"));
  EXPECT_FALSE(json("table kite.results.h5 'displacement x'").contains("marked")) << "displacements are not recovered";
}

TEST_F(Shell, ATableOverAllMomentsHasARowForEach) {
  run();
  const auto all = json("table bar.results.h5 'displacement x' --on grip --all"),
             force = json("table bar.results.h5 'motions/pull/travel'");
  ASSERT_EQ(all.at("rows").size(), force.at("rows").size());
  for (size_t i = 0; i < all.at("rows").size(); ++i) {
    EXPECT_NEAR(all.at("rows")[i][3].get<double>(), force.at("rows")[i][1].get<double>(), 1e-7);
  }
}

TEST_F(Shell, CsvIsOneLinePerRowWithAHeading) {
  run();
  const auto words = said("table bar.results.h5 'reaction x' --on bar.left --format csv");
  std::istringstream lines(words);
  std::string line;
  std::getline(lines, line);
  EXPECT_TRUE(says(line, "\"node\"")) << line;
  EXPECT_TRUE(says(line, "reaction x")) << line;
  const auto commas = std::count(line.begin(), line.end(), ',');
  int rows = 0;
  double sum = 0;
  while (std::getline(lines, line)) {
    if (line.empty() || !std::isdigit(static_cast<unsigned char>(line[0]))) continue;
    EXPECT_EQ(std::count(line.begin(), line.end(), ','), commas);
    sum += numberAt(line.substr(line.rfind(',') + 1)), ++rows;
  }
  EXPECT_EQ(rows, 5);
  EXPECT_NEAR(sum, -6 * (301 - 400), 1e-2) << "the wall's reaction balances the pull";
}

TEST_F(Shell, TheListNamesFieldsHistoriesAndFaces) {
  run();
  const auto words = said("table bar.results.h5");
  for (const char* what : {"Fields:", "von Mises stress [MPa]", "Histories:", "motions/pull/force x", "energy/imbalance",
                           "Faces:", "bar.right", "increments up to time 2"})
    EXPECT_TRUE(says(words, what)) << what;
}

TEST_F(Shell, ParametersAreSetWithUnits) {
  run("--set pull='20 um' --out a.h5");
  run("--set pull=0.02 --out b.h5");
  EXPECT_EQ(said("table a.h5 'motions/pull/force x' --format csv"), said("table b.h5 'motions/pull/force x' --format csv"));
  const auto words = said("run bar.anvil --set pul=1");
  EXPECT_EQ(code, 1);
  EXPECT_TRUE(says(words, "'pul' is not a parameter") && says(words, "pull")) << words;
  EXPECT_TRUE(says(said("run bar.anvil --set pull='3 MPa'"), "MPa")) << "a stress is no length";
  EXPECT_EQ(code, 1);
}

TEST_F(Shell, ProgressIsOneEventPerLine) {
  const auto words = said("run bar.anvil --progress json < /dev/null");
  EXPECT_EQ(code, 0) << words;
  std::istringstream lines(words);
  std::map<std::string, int> events;
  for (std::string line; std::getline(lines, line);) {
    const auto event = Json::parse(line, nullptr, false);
    ASSERT_FALSE(event.is_discarded()) << line;
    ++events[event.at("event").get<std::string>()];
  }
  EXPECT_EQ(events["start"], 1);
  EXPECT_EQ(events["finished"], 1);
  EXPECT_GE(events["increment"], 6);
  EXPECT_GE(events["iteration"], events["increment"]);
}

TEST_F(Shell, AStopFromStandardInputKeepsWhatIsThere) {
  const auto words = said("run bar.anvil --set n=60 --progress json < stop.txt");  // no such file: the shell itself refuses
  EXPECT_NE(code, 0);
  std::ofstream(at("stop.txt")) << "stop\n";
  const auto stopped = said("run bar.anvil --set n=60 --progress json < stop.txt");
  EXPECT_EQ(code, 4) << stopped;
  EXPECT_TRUE(says(stopped, "\"stopped\"")) << stopped;
}

TEST_F(Shell, ARunGoesOnFromAnyIncrement) {
  run("--out whole.h5");
  std::filesystem::copy_file(at("whole.h5"), at("part.h5"));
  run("--continue-from 2 --out part.h5");
  EXPECT_EQ(said("table whole.h5 'motions/pull/force x' --format csv"),
            said("table part.h5 'motions/pull/force x' --format csv"));
  const auto words = said("run bar.anvil --continue-from 99 --out part.h5");
  EXPECT_EQ(code, 1);
  EXPECT_TRUE(says(words, "there is no increment 99")) << words;
}

TEST_F(Shell, AFinishedRunIsNotGoneOnWithAnotherModel) {
  run("--out r.h5");
  run("--continue --out r.h5");  // as it is: nothing is left to do, and nothing is wrong
  const auto before = json("table r.h5 'motions/pull/travel'").at("rows");
  const auto words = said("run bar.anvil --set pull=0.03 --continue --out r.h5");
  EXPECT_EQ(code, 1);
  EXPECT_TRUE(says(words, "motions/pull acts otherwise")) << words;
  EXPECT_EQ(json("table r.h5 'motions/pull/travel'").at("rows"), before) << "what is stored stays";
}

TEST_F(Shell, ATimeThatIsNotStoredIsSaid) {
  run();
  EXPECT_TRUE(says(said("table bar.results.h5 'displacement' --time 0.7 2>&1"), "the nearest, at"));
  EXPECT_FALSE(says(said("table bar.results.h5 'displacement' --time 1 2>&1"), "the nearest, at"));
}

TEST_F(Shell, PausingIsAnEvent) {
  std::ofstream(at("pause.txt")) << "pause\nresume\n";
  const auto words = said("run bar.anvil --progress json < pause.txt");
  EXPECT_EQ(code, 0) << words;
  EXPECT_TRUE(says(words, "{\"event\":\"paused\"}")) << words;
  EXPECT_TRUE(says(words, "{\"event\":\"resumed\"}")) << words;
  EXPECT_TRUE(says(words, "\"finished\"")) << words;
}

TEST_F(Shell, FurtherStepsAreAddedToAFinishedRun) {
  run("--out r.h5");
  std::string text = bar;
  const std::string from = R"("back": {"increments": {"largest": 0.5}})";
  text.replace(text.find(from), from.size(), from + R"(, "again": {})");
  const std::string course = R"("back": 0})";
  text.replace(text.find(course), course.size(), R"("back": 0, "again": "=pull"})");
  std::ofstream(at("bar.anvil")) << text;
  run("--continue --out r.h5");
  const auto table = json("table r.h5 'motions/pull/travel'");
  EXPECT_NEAR(table.at("rows").back()[0].get<double>(), 3, 1e-12);
  EXPECT_NEAR(table.at("rows").back()[1].get<double>(), 0.02, 1e-12);
}

TEST_F(Shell, ExportsOpenFormats) {
  run();
  const auto words = said("export bar.results.h5 --vtu out/bar --csv out/all.csv --model out/again.anvil");
  EXPECT_EQ(code, 0) << words;
  EXPECT_TRUE(says(words, "bar.pvd")) << words;
  std::ostringstream pvd, csv;
  pvd << std::ifstream(at("out/bar.pvd")).rdbuf(), csv << std::ifstream(at("out/all.csv")).rdbuf();
  EXPECT_TRUE(says(pvd.str(), "bar_0001.vtu"));
  EXPECT_TRUE(std::filesystem::exists(at("out/bar_0001.vtu")));
  EXPECT_TRUE(says(csv.str(), "motions/pull/force x"));
  EXPECT_TRUE(model::load(at("out/again.anvil")) == model::load(at("bar.anvil"))) << "the model that was run comes back";
  EXPECT_TRUE(says(said("export bar.results.h5"), "nothing to export was named"));
  EXPECT_EQ(code, 1);
}

TEST_F(Shell, CheckSaysReadyOrWhatIsWrong) {
  EXPECT_TRUE(says(said("check bar.anvil"), "Ready."));
  EXPECT_EQ(code, 0);
  std::string text = bar;
  const std::string low = R"(, "low": {"on": "bar.bottom", "fix": "y"})";
  std::ofstream(at("loose.anvil")) << text.erase(text.find(low), low.size());
  const auto words = said("check loose.anvil");
  EXPECT_EQ(code, 5);
  EXPECT_TRUE(says(words, "FAULT: parts/bar") && says(words, "along y") && says(words, "Not ready.")) << words;
}

TEST_F(Shell, WhatIsNoStepFileIsNotBroughtIn) {
  EXPECT_NE(said("import bar.anvil new.anvil").find("is no STEP file"), std::string::npos);
  EXPECT_EQ(code, 1);
  EXPECT_FALSE(std::filesystem::exists(at("new.anvil")));
  EXPECT_NE(said("import nowhere.step bar.anvil").find("is plane"), std::string::npos);
  EXPECT_EQ(code, 1);
}

TEST_F(Shell, APointIsTakenThroughAPath) {
  const auto table = json("point bar.anvil steel --to xx=0.001 --to 'xx=stress 0'");
  ASSERT_TRUE(table.is_object());
  const auto& columns = table.at("columns");
  const auto column = [&](const std::string& name) {
    return size_t(std::find(columns.begin(), columns.end(), name) - columns.begin());
  };
  double most = 0;
  for (const auto& row : table.at("rows")) most = std::max(most, row[column("stress xx")].get<double>());
  EXPECT_NEAR(most, 200, 1e-6) << "one way: E times strain";
  EXPECT_NEAR(table.at("rows").back()[column("strain xx")].get<double>(), 0, 1e-12) << "elastic";
  const auto words = said("point bar.anvil stel --to xx=0.1");
  EXPECT_EQ(code, 1);
  EXPECT_TRUE(says(words, "Did you mean 'steel'?")) << words;
}

TEST_F(Shell, WhatIsWrongIsSaidWithItsPlaceAndExitCode) {
  struct Wrong {
    const char *arguments, *what;
    int code;
  };
  std::string wrong = bar;
  const std::string set = R"("pull": )";
  wrong.replace(wrong.find(set), wrong.find(',', wrong.find(set)) - wrong.find(set), R"("pull": "3 MPa")");
  std::ofstream(at("unit.anvil")) << wrong;
  for (const auto& w : {Wrong{"check unit.anvil", "'pull' is a stress (3 MPa)", 5},
                        {"run unit.anvil", "motions/pull", 1},
                        {"run nowhere.anvil", "nowhere.anvil", 1},
                        {"table bar.anvil 'stress x'", "bar.anvil", 1},
                        {"run bar.anvil --threads many", "--threads", 2},
                        {"run bar.anvil --memory lots", "--memory", 2},
                        {"walk bar.anvil", "", 2},
                        {"verify --only C77 --only C1", "there is no case 'C77'", 1},
                        {"run bar.anvil --set n=0", "count", 1}}) {
    const auto words = said(w.arguments);
    EXPECT_EQ(code, w.code) << w.arguments << ": " << words;
    EXPECT_TRUE(says(words, w.what)) << words;
    EXPECT_FALSE(words.empty());
  }
  run();
  const auto words = said("table bar.results.h5 'von Mizes stress'");
  EXPECT_EQ(code, 1);
  EXPECT_TRUE(says(words, "von Mises stress")) << "the nearest right one: " << words;
  EXPECT_TRUE(says(said("table bar.results.h5 'stress x' --on bar.rigth"), "bar.right"));
}

TEST_F(Shell, AStepThatCannotBeDoneKeepsWhatWasSolved) {
  std::string text = bar;
  const std::string motion = R"("motions": {"pull": {"on": "grip", "along": "x", "course": {"pull": "=pull", "back": 0}}})";
  text.replace(text.find(motion), motion.size(),
               R"("loads": {"pull": {"on": "grip", "kind": "force", "along": "x", "course": 9000}})");
  const std::string hardens = R"(, "tangent": 2000)";
  text.erase(text.find(hardens), hardens.size());
  std::ofstream(at("much.anvil")) << text;
  const auto words = said("run much.anvil --out much.h5");  // 9000 N on 6 mm² that yield at 300
  EXPECT_EQ(code, 3) << words;
  EXPECT_TRUE(says(words, "step 'pull'") && says(words, "kept")) << words;
  const auto table = json("table much.h5 loads/pull/value");
  ASSERT_FALSE(table.at("rows").empty());
  EXPECT_LE(table.at("rows").back()[1].get<double>(), 1800 * 1.001) << "not beyond the limit load";
  EXPECT_GE(table.at("rows").back()[1].get<double>(), 1800 * 0.95);
}

TEST_F(Shell, HelpTeachesByExample) {
  for (const char* verb : {"", "run", "table", "export", "check", "point", "verify"}) {
    const auto words = said(std::string(verb).append(" --help"));
    EXPECT_EQ(code, 0);
    EXPECT_TRUE(says(words, "anvil")) << verb;
  }
  EXPECT_TRUE(says(said("run --help"), "anvil run crimp.anvil --set friction=0.2"));
  const auto schema = Json::parse(said("schema"), nullptr, false);
  ASSERT_TRUE(schema.is_object());
  for (const char* key : {"materials", "parts", "contacts", "steps", "solver"})
    EXPECT_TRUE(schema.at("properties").contains(key)) << key;
}

/// A strip of sheet, held and bent down, with triangles of no account.
const char* const bentSheet = R"({
  "anvil": 1, "space": "solid", "geometry": "small",
  "materials": {"steel": {"elastic": {"E": 200000, "nu": 0}}},
  "parts": {"strip": {"material": "steel", "mesh": {"count": [8, 1]}, "shape": {"rectangle": {"at": [0, 0], "size": [40, 5]}},
    "thin": {"thickness": 1}}},
  "steps": {"bend": {"increments": {"first": 1, "largest": 1}}},
  "supports": {"root": {"on": "strip.left", "fix": ["x", "y", "z"]}},
  "loads": {"tip": {"on": "strip.right", "kind": "moment", "along": "y", "course": -50}}
})";

TEST_F(Shell, FieldsOfSheetsAreListedBySideAndSorted) {
  std::ofstream(at("strip.anvil")) << bentSheet;
  ASSERT_TRUE(says(said("run strip.anvil --quiet"), "")) << said("run strip.anvil");
  const auto words = said("table strip.results.h5 --list");
  for (const char* name :
       {"stress x [MPa]", "stress x on the upper side", "stress x in the middle", "stress x on the lower side"})
    EXPECT_TRUE(says(words, name)) << words;
  // pure bending: 6 M / (b t²) on the sides, nothing between
  const double most = 6 * 50 / 5.;
  const auto mean = [&](const std::string& field) {
    return json("table strip.results.h5 'stress x" + field + "' --on strip")
        .at("statistics")
        .at("area-weighted mean")
        .get<double>();
  };
  EXPECT_NEAR(std::abs(mean(" on the upper side")), most, 1e-3 * most);
  EXPECT_NEAR(mean(" on the upper side") + mean(" on the lower side"), 0, 1e-3 * most);
  EXPECT_NEAR(mean(" in the middle"), 0, 1e-3 * most);
  double before = -1e300;
  const auto rising = json("table strip.results.h5 'displacement z' --on strip --sort rising");
  for (const auto& row : rising.at("rows")) {
    EXPECT_GE(row.back().get<double>(), before);
    before = row.back().get<double>();
  }
  said("table strip.results.h5 'displacement z' --sort sideways");
  EXPECT_NE(code, 0);
}

TEST_F(Shell, RowsOfACaseGoIntoTheReport) {
  std::ofstream(at("report.md"))
      << "# Verification\n\n| case | what |\n|---|---|\n| E1 | first |\n| N3 | old |\n| crimp | last |\n\n## Curves\n";
  const auto words = said("verify --cases " ANVIL_SOURCE "/verification --work work --only N3 --report report.md");
  EXPECT_EQ(code, 0) << words;
  std::ostringstream text;
  text << std::ifstream(at("report.md")).rdbuf();
  const auto s = text.str();
  EXPECT_FALSE(says(s, "| N3 | old"));
  const auto first = s.find("| E1 | first"), own = s.find("| N3 | "), last = s.find("| crimp | last"),
             curves = s.find("## Curves");
  EXPECT_TRUE(first < own && own < last && last < curves && curves != std::string::npos) << s;
}

}  // namespace
