#include <filesystem>
#include <iostream>
#include <memory>

#include "cli/commands.hpp"
#include "core/base/error.hpp"
#include "core/base/files.hpp"
#include "core/geometry/step_parts.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/json.hpp"
#include "core/model/part.hpp"

namespace anvil::cli {
namespace {

struct Import {
  std::string file, model;
  bool whole = false;
};

void import(const Import& a) {
  namespace fs = std::filesystem;
  keepApart(a.model, a.file, "the model");
  const bool fresh = !fs::exists(a.model);
  model::Document d;
  if (!fresh) d = model::load(a.model);
  if (!fresh && d.space != "solid" && !d.parts.empty())
    throw Error("the model is plane (" + d.space + ")", a.model, "Bring solids into a model in space.");
  if (fresh) d.title = fs::path(a.file).stem(), d.steps("load");
  const auto solids = geometry::stepContents(a.file, a.file);
  // the file is named as seen from the model
  const auto from = fs::absolute(a.model).parent_path();
  const auto seen = fs::absolute(a.file).lexically_normal().lexically_relative(from.lexically_normal());
  const auto names = geometry::addStepParts(d, seen.empty() ? fs::absolute(a.file).string() : seen.string(), solids, a.whole);
  model::save(d, a.model);
  std::cout << (fresh ? "Made " : "Added to ") << a.model << ":\n";
  for (const auto& n : names)
    std::cout << "  part '" << n << "'" << (d.parts.find(n)->thin ? ", a sheet: give its thickness" : "") << "\n";
  for (const auto& s : solids)
    if (!s.healing.empty()) std::cout << "Note: " << s.healing << ".\n";
  std::cout << "Next: give it supports and loads, then: anvil check " << a.model << "\n";
}

}  // namespace

void addImport(CLI::App& app) {
  auto* verb = app.add_subcommand("import",
                                  "Bring the solids and sheets of a STEP file into a model, a part each.\n"
                                  "  anvil import bracket.step bracket.anvil");
  auto a = std::make_shared<Import>();
  verb->add_option("step", a->file, "STEP file")->required();
  verb->add_option("model", a->model, "Model file; made when it is not there")->required();
  verb->add_flag("--whole", a->whole, "All solids as one part, tied where they touch");
  verb->callback([a] { import(*a); });
}

}  // namespace anvil::cli
