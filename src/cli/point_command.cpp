// anvil point: a material taken through a path of strain and stress.
#include <fmt/format.h>
#include <iostream>
#include <nlohmann/json.hpp>

#include "cli/commands.hpp"
#include "core/analysis/problem.hpp"
#include "core/base/error.hpp"
#include "core/base/files.hpp"
#include "core/base/text.hpp"
#include "core/element/point_driver.hpp"
#include "core/model/json.hpp"
#include "core/model/quantities.hpp"

namespace anvil::cli {
namespace {

struct PointArguments {
  std::string model, material, format = "text", out;
  std::vector<std::string> legs, set;
  int increments = 20;
};

std::string table(const std::vector<element::DrivenState>& states, const std::string& format) {
  std::vector<std::string> columns{"leg"};
  for (const char* c : element::componentNames) columns.push_back(std::string("strain ") + c);
  for (const char* c : element::componentNames) columns.push_back(std::string("stress ") + c);
  for (const char* c : {"von Mises stress", "equivalent plastic strain", "strain energy density", "plastic work density"}) columns.emplace_back(c);
  std::vector<std::vector<double>> rows;
  for (const auto& s : states) {
    std::vector<double> row{double(s.leg)};
    row.insert(row.end(), s.strain.begin(), s.strain.end()), row.insert(row.end(), s.stress.begin(), s.stress.end());
    row.insert(row.end(), {s.vonMises, s.equivalentPlastic, s.strainEnergy, s.plasticWork});
    rows.push_back(row);
  }
  if (format == "json") return nlohmann::ordered_json{{"columns", columns}, {"rows", rows}}.dump(1) + "\n";
  std::string text;
  if (format == "csv") {
    for (size_t i = 0; i < columns.size(); ++i) text += (i ? ",\"" : "\"") + columns[i] + "\"";
    for (const auto& row : rows) {
      text += "\n";
      for (size_t i = 0; i < row.size(); ++i) text += fmt::format("{}{:.12g}", i ? "," : "", row[i]);
    }
    return text + "\n";
  }
  // to read: only components that are ever anything
  std::vector<size_t> shown;
  for (size_t i = 0; i < columns.size(); ++i) {
    double most = 0;
    for (const auto& row : rows) most = std::max(most, std::abs(row[i]));
    if (most > (i > 6 && i < 13 ? 1e-6 : 1e-12)) shown.push_back(i);
  }
  for (size_t i : shown) text += fmt::format("{:>{}} ", columns[i], std::max<size_t>(12, columns[i].size()));
  for (const auto& row : rows) {
    text += "\n";
    for (size_t i : shown) text += fmt::format("{:>{}.6g} ", row[i], std::max<size_t>(12, columns[i].size()));
  }
  return text + "\n";
}

void pointCommand(const PointArguments& a) {
  auto document = model::load(a.model);
  for (const auto& s : a.set) model::setParameter(document, s);
  const auto* material = document.materials.find(a.material);
  if (!material) {
    const auto near = nearest(a.material, document.materials.names());
    throw Error("there is no material '" + a.material + "'", a.model, near.empty() ? "Known: " + inProse(document.materials.names()) + "." : "Did you mean '" + near + "'?");
  }
  std::vector<element::Leg> path;
  for (const auto& leg : a.legs) path.push_back(element::legFrom(leg, a.increments));
  const model::Quantities q(document);
  const auto law = analysis::materialLaw(*material, q, "materials/" + a.material);
  const auto text = table(element::drive(law, path, document.geometry == "large"), a.format);
  if (a.out.empty()) std::cout << text;
  else writeWhole(a.out, text);
}

}  // namespace

void addPoint(CLI::App& app) {
  auto a = std::make_shared<PointArguments>();
  auto* c = app.add_subcommand("point", "Takes a material of a model through a path of strain and stress; what is not named stays free of stress.\n"
                                        "  anvil point crimp.anvil bronze --to xx=0.1                     pulled to a logarithmic strain of 0.1\n"
                                        "  anvil point crimp.anvil bronze --to xx=2% --to xx=-2% --to xx=2%   a cycle\n"
                                        "  anvil point crimp.anvil bronze --to \"xx=stress 300 MPa, yy=0\" --to \"xx=stress 0\" --format csv");
  c->add_option("model", a->model, "Model file (*.anvil)")->required();
  c->add_option("material", a->material, "Material of the model")->required();
  c->add_option("--to", a->legs, "A leg of the path: components xx, yy, zz, xy, yz, xz with strains (\"xx=0.05\") or stresses (\"xx=stress 200 MPa\")")->required();
  c->add_option("--increments", a->increments, "Increments in each leg");
  c->add_option("--set", a->set, "Give a parameter another value: name=value");
  c->add_option("--format", a->format, "text, csv or json")->check(CLI::IsMember({"text", "csv", "json"}));
  c->add_option("--out", a->out, "Write to a file");
  c->callback([a] { pointCommand(*a); });
}

}  // namespace anvil::cli
