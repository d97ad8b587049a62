// anvil point: a material taken through a path of strain and stress.
#include <algorithm>
#include <cmath>

#include "cli/commands.hpp"
#include "cli/table.hpp"
#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/element/point_driver.hpp"
#include "core/lower/lower.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/model/materials.hpp"
#include "core/model/quantities.hpp"
#include "core/problem/problem.hpp"

namespace anvil::cli {
namespace {

struct PointArguments {
  std::string model, material, format = "text", out;
  std::vector<std::string> legs, set;
  int increments = 20;
};

/// A row per increment. To be read, only the components that are ever anything; else all of them.
Table tableOf(const std::vector<element::DrivenState>& states, bool all) {
  Table full;
  full.columns = {"leg"};
  for (const char* what : {"strain ", "stress "})
    for (const char* c : element::componentNames) full.columns.push_back(std::string(what) + c);
  for (const char* c : {"von Mises stress", "equivalent plastic strain", "strain energy density", "plastic work density"})
    full.columns.emplace_back(c);
  for (const auto& s : states) {
    std::vector<double> row{double(s.leg)};
    row.insert(row.end(), s.strain.begin(), s.strain.end()), row.insert(row.end(), s.stress.begin(), s.stress.end());
    row.insert(row.end(), {s.vonMises, s.equivalentPlastic, s.strainEnergy, s.plasticWork});
    full.rows.push_back(row);
  }
  if (all) return full;
  Table shown;
  shown.rows.resize(full.rows.size());
  for (size_t i = 0; i < full.columns.size(); ++i) {
    const double nothing = full.columns[i].starts_with("stress") ? 1e-6 : 1e-12;
    if (std::all_of(full.rows.begin(), full.rows.end(), [&](const auto& row) { return std::abs(row[i]) <= nothing; })) continue;
    shown.columns.push_back(full.columns[i]);
    for (size_t k = 0; k < full.rows.size(); ++k) shown.rows[k].push_back(full.rows[k][i]);
  }
  return shown;
}

void pointCommand(const PointArguments& a) {
  auto document = model::load(a.model);
  for (const auto& s : a.set) model::setParameter(document, s);
  const auto* material = document.materials.find(a.material);
  if (!material) {
    const auto near = nearest(a.material, document.materials.names());
    throw Error("there is no material '" + a.material + "'", a.model,
                near.empty() ? "Known: " + inProse(document.materials.names()) + "." : "Did you mean '" + near + "'?");
  }
  std::vector<element::Leg> path;
  for (const auto& leg : a.legs) path.push_back(element::legFrom(leg, a.increments));
  const model::Quantities q(document);
  const auto law = analysis::materialLaw(*material, q, "materials/" + a.material);
  deliver(asText(tableOf(element::drive(law, path, document.geometry == "large"), a.format != "text"), a.format), a.out, a.model);
}

}  // namespace

void addPoint(CLI::App& app) {
  auto a = std::make_shared<PointArguments>();
  auto* c = app.add_subcommand(
      "point",
      "Takes a material of a model through a path of strain and stress; what is not named stays free of stress.\n"
      "  anvil point crimp.anvil bronze --to xx=0.1                     pulled to a logarithmic strain of 0.1\n"
      "  anvil point crimp.anvil bronze --to xx=2% --to xx=-2% --to xx=2%   a cycle\n"
      "  anvil point crimp.anvil bronze --to \"xx=stress 300 MPa, yy=0\" --to \"xx=stress 0\" --format csv");
  c->add_option("model", a->model, "Model file (*.anvil)")->required();
  c->add_option("material", a->material, "Material of the model")->required();
  c->add_option(
       "--to", a->legs,
       "A leg of the path: components xx, yy, zz, xy, yz, xz with strains (\"xx=0.05\") or stresses (\"xx=stress 200 MPa\")")
      ->required();
  c->add_option("--increments", a->increments, "Increments in each leg");
  c->add_option("--set", a->set, "Give a parameter another value: name=value");
  addOutput(*c, a->format, a->out);
  c->callback([a] { pointCommand(*a); });
}

}  // namespace anvil::cli
