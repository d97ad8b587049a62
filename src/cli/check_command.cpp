// anvil check and anvil schema.
#include <fmt/format.h>
#include <iostream>

#include "cli/commands.hpp"
#include "core/base/files.hpp"
#include "core/checks/estimate.hpp"
#include "core/checks/readiness.hpp"
#include "core/lower/lower.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/model/quantities.hpp"
#include "core/problem/problem.hpp"

namespace anvil::cli {

void addCheck(CLI::App& app) {
  auto path = std::make_shared<std::string>();
  auto set = std::make_shared<std::vector<std::string>>();
  auto* c = app.add_subcommand(
      "check",
      "What is missing, doubtful or wrong in a model, and what starts touching; runs nothing.\n  anvil check crimp.anvil");
  c->add_option("model", *path, "Model file (*.anvil)")->required();
  c->add_option("--set", *set, "Give a parameter another value: name=value");
  c->callback([path, set] {
    auto document = model::load(*path);
    for (const auto& s : *set) model::setParameter(document, s);
    const auto report = checks::readiness(document);
    const auto text = readWhole(*path);
    for (const auto& line : report.facts) fmt::print("  {}\n", line);
    if (!report.facts.empty())
      fmt::print("  a run takes {}\n",
                 checks::inWords(checks::estimate(document, analysis::buildMesh(document, model::Quantities(document)))));
    for (const auto& f : report.findings) {
      const int line = model::lineOf(text, f.where);
      fmt::print("{}: {}{}: {} {}\n", f.fault ? "FAULT" : "doubt", f.where, line ? fmt::format(" (line {})", line) : "", f.what,
                 f.remedy);
      if (f.fault) exitCode() = 5;
    }
    fmt::print("{}\n", exitCode() ? "Not ready." : report.findings.empty() ? "Ready." : "Ready, with doubts.");
  });
  app.add_subcommand("schema", "JSON Schema of the model format")->callback([] { std::cout << model::schema(); });
}

}  // namespace anvil::cli
