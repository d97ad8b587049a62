// anvil verify: runs the cases, prints a table, writes the report.
#include <algorithm>
#include <filesystem>
#include <fmt/format.h>

#include "cli/commands.hpp"
#include "cli/verify/study.hpp"
#include "core/base/error.hpp"
#include "core/base/files.hpp"

namespace anvil::cli {
namespace {

/// The table, and the plots as pictures in a folder of the report's name.
std::string report(const std::vector<VerifyRow>& rows, const std::vector<VerifyPlot>& plots, const std::filesystem::path& path) {
  std::string s = "# Verification\n\nWritten by `./anvil verify` from the model files in `verification/`. References are closed-form results or published\n"
                  "values; see each model file and `docs/theory.md`. Errors are relative, or absolute where the reference is 0.\n\n"
                  "| case | what | reference | computed | error | limit | increments | iterations | seconds | |\n|---|---|---|---|---|---|---|---|---|---|\n";
  for (const auto& r : rows)
    s += fmt::format("| {} | {} | {:.6g} | {:.6g} | {:.2g} | {:.2g} | {} | {} | {:.1f} | {} |\n", r.id, r.what, r.reference, r.computed, r.error, r.limit, r.increments,
                     r.iterations, r.seconds, r.passed() ? "holds" : "**over**");
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

}  // namespace

void addVerify(CLI::App& app) {
  struct Arguments {
    std::string cases = "verification", work = "build/verification", out;
    std::vector<std::string> only;
    bool quick = false;
  };
  auto a = std::make_shared<Arguments>();
  auto* c = app.add_subcommand("verify", "Run the verification cases against theory.\n  anvil verify --only P2 --only C1");
  c->add_option("--cases", a->cases, "Folder of the model files");
  c->add_option("--work", a->work, "Folder for results");
  c->add_option("--report", a->out, "Write the table as Markdown (full runs only)");
  c->add_option("--only", a->only, "Only this case (its id, or how its title ends, such as solid); may be repeated");
  c->add_flag("--quick", a->quick, "Leave the slow cases out");
  c->callback([a] {
    Study study(a->cases, a->work);
    for (const auto& v : verifyCases()) {
      const auto wanted = [&](const std::string& word) { return v.id == word || v.title.ends_with(word); };
      if (!a->only.empty() && std::none_of(a->only.begin(), a->only.end(), wanted)) continue;
      if (a->quick && v.slow) continue;
      const size_t before = study.rows().size();
      try {
        v.run(study);
      } catch (const Error& e) {
        fmt::print("{} could not be run: {}\n", v.id, e.what());
        study.row(v.id, "could not be run", 1, 0, 0);
      } catch (const std::out_of_range&) {   // a run without the increment that is looked at
        fmt::print("{} ended before what is to be compared\n", v.id);
        study.row(v.id, "ended before what is to be compared", 1, 0, 0);
      }
      for (size_t i = before; i < study.rows().size(); ++i) {
        const auto& r = study.rows()[i];
        fmt::print("{:<3} {:<6} error {:<9.2g} limit {:<7.2g} {} ({:.6g}, reference {:.6g})\n", r.id, r.passed() ? "holds" : "OVER", r.error, r.limit, r.what, r.computed, r.reference);
      }
      std::fflush(stdout);
    }
    const auto failed = std::count_if(study.rows().begin(), study.rows().end(), [](const VerifyRow& r) { return !r.passed(); });
    fmt::print("{} passed, {} failed\n", study.rows().size() - size_t(failed), failed);
    if (!a->out.empty() && a->only.empty() && !a->quick) writeWhole(a->out, report(study.rows(), study.plots(), a->out));
    if (failed) exitCode() = 6;
  });
}

}  // namespace anvil::cli
