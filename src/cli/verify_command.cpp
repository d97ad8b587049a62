// anvil verify: runs the cases, prints a table, writes the report.
#include <fmt/format.h>
#include <algorithm>
#include <cctype>
#include <filesystem>
#include <map>
#include <nlohmann/json.hpp>
#include <sstream>
#include <thread>

#include "cli/commands.hpp"
#include "cli/verify/side_by_side.hpp"
#include "cli/verify/study.hpp"
#include "core/base/error.hpp"
#include "core/base/files.hpp"

namespace anvil::cli {
namespace {

std::string lineOf(const VerifyRow& r) {
  return fmt::format("| {} | {} | {:.6g} | {:.6g} | {:.2g} | {:.2g} | {} | {} | {:.1f} | {} |\n", r.id, r.what, r.reference,
                     r.computed, r.error, r.limit, r.increments, r.iterations, r.seconds, r.passed() ? "holds" : "**over**");
}

/// A report in which the rows of some cases are new; those that it did not have stand where their cases do.
std::string reportWith(const std::vector<VerifyRow>& rows, const std::string& before) {
  std::vector<std::string> order;  // of ids
  for (const auto& v : verifyCases())
    if (std::find(order.begin(), order.end(), v.id) == order.end()) order.push_back(v.id);
  std::map<size_t, std::string> table;  // by place in the order
  const auto placeOf = [&](const std::string& id) { return size_t(std::find(order.begin(), order.end(), id) - order.begin()); };
  std::string head, tail;
  std::istringstream in(before);
  for (std::string line; std::getline(in, line);) {
    const bool row = line.starts_with("| ") && !line.starts_with("| case");
    if (row)
      table[placeOf(line.substr(2, line.find(" |") - 2))] += line + "\n";
    else
      (table.empty() ? head : tail) += line + "\n";
  }
  for (const auto& r : rows) table[placeOf(r.id)].clear();
  for (const auto& r : rows) table[placeOf(r.id)] += lineOf(r);
  std::string whole = head;
  for (const auto& [place, lines] : table) whole += lines;
  return whole + tail;
}

/// The table, and the plots as pictures in a folder of the report's name.
std::string report(const std::vector<VerifyRow>& rows, const std::vector<VerifyPlot>& plots, const std::filesystem::path& path) {
  std::string s =
      "# Verification\n\nWritten by `./anvil verify` from the model files in `verification/`. References are closed-form results "
      "or published\n"
      "values; see each model file and `docs/theory.md`. Errors are relative, or absolute where the reference is 0.\n\n"
      "| case | what | reference | computed | error | limit | increments | iterations | seconds | "
      "|\n|---|---|---|---|---|---|---|---|---|---|\n";
  for (const auto& r : rows) s += lineOf(r);
  const auto folder = path.parent_path() / path.stem();
  if (!plots.empty()) s += "\n## Curves\n\nReferences as lines, what was computed as dots.\n\n";
  for (size_t i = 0; i < plots.size(); ++i) {
    const std::string name = plots[i].id + "-" + std::to_string(i + 1) + ".svg";
    std::filesystem::create_directories(folder);
    writeWhole((folder / name).string(), svg(plots[i]));
    s += "![" + plots[i].id + ": " + plots[i].title + "](" + path.stem().string() + "/" + name + ")\n";
  }
  return s;
}

using Kept = nlohmann::json;

Kept written(const Study& study) {
  Kept rows = Kept::array(), plots = Kept::array();
  for (const auto& r : study.rows())
    rows.push_back({r.id, r.what, r.reference, r.computed, r.error, r.limit, r.increments, r.iterations, r.seconds});
  for (const auto& p : study.plots()) {
    Kept lines = Kept::array();
    for (const auto& line : p.lines) lines.push_back({line.label, line.points, line.dots});
    plots.push_back({p.id, p.title, p.x, p.y, lines});
  }
  return {{"rows", rows}, {"plots", plots}};
}

void runCase(const VerifyCase& v, Study& study) {
  try {
    v.run(study);
  } catch (const Error& e) {
    fmt::print("{} could not be run: {}\n", v.id, e.what());
    study.row(v.id, "could not be run", 1, 0, 0);
  } catch (const std::out_of_range&) {  // a run without the increment that is looked at
    fmt::print("{} ended before what is to be compared\n", v.id);
    study.row(v.id, "ended before what is to be compared", 1, 0, 0);
  }
}

void print(const std::vector<VerifyRow>& rows) {
  for (const auto& r : rows)
    fmt::print("{:<3} {:<6} error {:<9.2g} limit {:<7.2g} {} ({:.6g}, reference {:.6g})\n", r.id, r.passed() ? "holds" : "OVER",
               r.error, r.limit, r.what, r.computed, r.reference);
  std::fflush(stdout);
}

std::string keyOf(const VerifyCase& v) { return v.id + " " + v.title; }

/// Rows of the cases that are done, kept in the work folder: a run of an hour is not lost when it is interrupted.
class Done {
 public:
  /// Takes up what an earlier run of the same program and kind left, when it is to be continued.
  Done(const std::string& work, bool resume, bool usual) : path_(work + "/done.json") {
    std::error_code none;
    const auto self = std::filesystem::read_symlink("/proc/self/exe", none);
    stamp_ = std::to_string(std::filesystem::file_size(self, none)) + "/" +
             std::to_string(std::filesystem::last_write_time(self, none).time_since_epoch().count());
    if (usual) stamp_ += "/usual";
    if (resume && std::filesystem::exists(path_)) {
      auto j = Kept::parse(readWhole(path_), nullptr, false);
      if (j.is_object() && j.value("program", "") == stamp_) cases_ = j["cases"];
    }
  }
  bool has(const std::string& title) const { return cases_.contains(title); }
  void take(const std::string& title, Study& study) const {
    for (const auto& r : cases_.at(title).at("rows")) study.add({r[0], r[1], r[2], r[3], r[4], r[5], r[6], r[7], r[8]});
    for (const auto& p : cases_.at(title).at("plots")) {
      VerifyPlot plot{p[0], p[1], p[2], p[3], {}};
      for (const auto& line : p[4]) plot.lines.push_back({line[0], line[1], line[2]});
      study.plot(plot);
    }
  }
  void keep(const std::string& title, Kept rowsAndPlots) {
    cases_[title] = std::move(rowsAndPlots);
    std::filesystem::create_directories(std::filesystem::path(path_).parent_path());
    writeWhole(path_, Kept{{"program", stamp_}, {"cases", cases_}}.dump());
  }

 private:
  std::string path_, stamp_;
  Kept cases_ = Kept::object();
};

}  // namespace

void addVerify(CLI::App& app) {
  struct Arguments {
    std::string cases = "verification", work = "build/verification", out;
    std::vector<std::string> only;
    bool quick = false, resume = false, usual = false;
    int jobs = 0;
  };
  auto a = std::make_shared<Arguments>();
  auto* c = app.add_subcommand("verify", "Run the verification cases against theory.\n  anvil verify --only P2 --only C1");
  c->add_option("--cases", a->cases, "Folder of the model files");
  c->add_option("--work", a->work, "Folder for results");
  c->add_option("--report", a->out, "Write the table as Markdown; with --only and ids, put the rows of these cases into it");
  c->add_option("--only", a->only, "Only this case (its id, or how its title ends, such as solid); may be repeated");
  c->add_flag("--continue", a->resume, "Take over the cases that an interrupted run of the same program has done");
  c->add_flag("--quick", a->quick, "Leave the slow cases out");
  c->add_option("--jobs", a->jobs, "So many cases at a time, with one thread each; one for each core when left out")
      ->check(CLI::Range(0, 256));
  c->add_flag("--usual-increments", a->usual, "With the increments of a new model in place of those the case files ask for");
  c->callback([a] {
    const auto is = [](const auto& v, const std::string& word) {
      return v.id == word || v.title.ends_with(word) || v.id + " " + v.title == word;
    };
    for (const auto& word : a->only)
      if (const auto& all = verifyCases(); std::none_of(all.begin(), all.end(), [&](const auto& v) { return is(v, word); }))
        throw Error("there is no case '" + word + "'", "--only", "Name it by its id, such as C1, or by how its title ends.");
    Done done(a->work, a->resume, a->usual);
    std::vector<const VerifyCase*> wanted, due;
    for (const auto& v : verifyCases()) {
      const auto isOne = [&](const std::string& word) { return is(v, word); };
      if (!a->only.empty() && std::none_of(a->only.begin(), a->only.end(), isOne)) continue;
      if (a->quick && v.slow) continue;
      wanted.push_back(&v);
      if (!done.has(keyOf(v))) due.push_back(&v);
    }
    // slow ones first: none of them is left to run alone at the end
    std::stable_partition(due.begin(), due.end(), [](const auto* v) { return v->slow; });
    const int cores = std::max(int(std::thread::hardware_concurrency()), 1);
    const int jobs = std::min(a->jobs > 0 ? a->jobs : cores, std::max(int(due.size()), 1));
    const auto fileOf = [&](size_t k) {
      std::string name = keyOf(*due[k]);
      std::replace_if(
          name.begin(), name.end(), [](unsigned char c) { return !std::isalnum(c); }, '-');
      return a->work + "/" + name;
    };
    std::filesystem::create_directories(a->work);
    sideBySide(
        due.size(), jobs,
        [&](size_t k) {
          std::filesystem::remove(fileOf(k) + ".json");  // of an earlier run
          Study study(a->cases, fileOf(k), a->usual, jobs > 1 ? 1 : 0);
          runCase(*due[k], study);
          writeWhole(fileOf(k) + ".json", written(study).dump());
        },
        [&](size_t k, int signal) {
          Kept result;
          if (std::filesystem::exists(fileOf(k) + ".json")) result = Kept::parse(readWhole(fileOf(k) + ".json"), nullptr, false);
          if (!result.is_object()) {
            Study study(a->cases, a->work);
            study.row(due[k]->id, fmt::format("its process ended without a result (signal {})", signal), 1, 0, 0);
            result = written(study);
          }
          done.keep(keyOf(*due[k]), std::move(result));
          Study study(a->cases, a->work);
          done.take(keyOf(*due[k]), study);
          print(study.rows());
        });
    Study study(a->cases, a->work);
    for (const auto* v : wanted) done.take(keyOf(*v), study);
    const auto failed = std::count_if(study.rows().begin(), study.rows().end(), [](const VerifyRow& r) { return !r.passed(); });
    fmt::print("{} passed, {} failed\n", study.rows().size() - size_t(failed), failed);
    if (!a->out.empty() && !a->quick && !a->usual) {
      const auto isId = [](const std::string& word) {
        return std::any_of(verifyCases().begin(), verifyCases().end(), [&](const auto& v) { return v.id == word; });
      };
      if (a->only.empty())
        writeWhole(a->out, report(study.rows(), study.plots(), a->out));
      else if (std::filesystem::exists(a->out) && std::all_of(a->only.begin(), a->only.end(), isId))
        writeWhole(a->out, reportWith(study.rows(), readWhole(a->out)));
    }
    if (failed) exitCode() = 6;
  });
}

}  // namespace anvil::cli
