// anvil table and anvil export.
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <filesystem>
#include <iostream>
#include <nlohmann/json.hpp>
#include <numeric>

#include "cli/commands.hpp"
#include "cli/table.hpp"
#include "core/base/error.hpp"
#include "core/base/files.hpp"
#include "core/base/text.hpp"
#include "core/lower/lower.hpp"
#include "core/mesh/quality.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/problem/problem.hpp"
#include "core/results/export.hpp"
#include "core/results/fields.hpp"

namespace anvil::cli {
namespace {

using Json = nlohmann::ordered_json;

struct TableArguments {
  std::string results, quantity, on, out, format = "text", sort;
  double time = NAN;
  bool all = false, list = false;
};

/// Behind a name: " [MPa]", nothing for plain numbers.
std::string withUnit(Kind kind) { return *coreUnit(kind) ? fmt::format(" [{}]", coreUnit(kind)) : ""; }

size_t rowAt(const results::Reader& r, double time) {
  if (r.rows().empty()) throw Error("no increment is stored yet", {}, "Wait for the run, or run the model again.");
  return std::isnan(time) ? r.rows().size() - 1 : r.storedNear(time);  // the last one is always there
}

Table historyTable(const results::Reader& r, const std::string& name) {
  Table t;
  t.columns = {"time", name};
  const auto values = r.history(name);
  const auto times = r.times();
  for (size_t i = 0; i < values.size(); ++i) t.rows.push_back({times[i], values[i]});
  t.statistics = results::statistics(values, {});
  return t;
}

/// Nodes of a slender part, a line or a point of one; none for other names.
std::vector<int> slenderNodes(const mesh::Mesh& mesh, const std::string& name) {
  if (const auto* spot = mesh.spot(name)) return {spot->node};
  std::vector<int> nodes;
  for (const auto& l : mesh.lines)
    if (l.name == name || mesh.parts[size_t(l.part)] == name) nodes.insert(nodes.end(), l.nodes.begin(), l.nodes.end());
  return nodes;
}

/// Both sides of a thin part, by whose area its means are taken; none of other parts.
std::vector<mesh::Facet> sidesOfSheet(const mesh::Mesh& mesh, const std::string& part) {
  std::vector<mesh::Facet> sides;
  for (size_t b = 0; b < mesh.blocks.size(); ++b)
    for (size_t c = 0; mesh.blocks[b].thin() && mesh.parts[size_t(mesh.blocks[b].part)] == part && c < mesh.blocks[b].count();
         ++c)
      for (int side : {0, 1}) sides.push_back({int(b), int(c), side});
  return sides;
}

Table fieldTable(const results::Reader& r, const TableArguments& a) {
  const auto& h = r.header();
  const auto field = results::fieldNamed(h, a.quantity);
  std::vector<mesh::Facet> facets;
  std::vector<int> nodes;
  if (!a.on.empty()) {
    nodes = slenderNodes(h.mesh, a.on);
    const auto document = model::parse(h.model);
    if (nodes.empty()) facets = analysis::facetsOf({a.on}, document, h.mesh, "--on");
    const bool wholePart = std::find(h.mesh.parts.begin(), h.mesh.parts.end(), a.on) != h.mesh.parts.end();
    if (wholePart) facets = sidesOfSheet(h.mesh, a.on);
    for (const auto& b : h.mesh.blocks)
      if (wholePart && h.mesh.parts[size_t(b.part)] == a.on) nodes.insert(nodes.end(), b.nodes.begin(), b.nodes.end());
    if (!wholePart && !facets.empty()) nodes = h.mesh.nodesOf(facets);
  } else {
    for (const auto& b : h.mesh.blocks) nodes.insert(nodes.end(), b.nodes.begin(), b.nodes.end());
    for (const auto& l : h.mesh.lines) nodes.insert(nodes.end(), l.nodes.begin(), l.nodes.end());
  }
  std::sort(nodes.begin(), nodes.end());
  nodes.erase(std::unique(nodes.begin(), nodes.end()), nodes.end());
  const bool touching =
      field.name == "contact pressure" || field.name == "friction traction";  // means over what touches, not over the whole face
  const auto areasAt = [&](size_t row) {
    return touching && !facets.empty() ? results::contactAreas(r, row, nodes) : results::nodalAreas(h, facets, nodes);
  };
  Table t;
  t.weighted = !facets.empty();
  if (!field.nodal) {  // recovered from the elements' own points
    const auto thin = mesh::nodesOfSlivers(h.mesh);
    const auto rough = std::count_if(nodes.begin(), nodes.end(), [&](int n) { return thin[size_t(n)]; });
    if (rough > 0)
      t.note = "note: " + std::to_string(rough) + " of these " + std::to_string(nodes.size()) +
               " nodes belong to elements thinner than a scaled Jacobian of " + shortNumber(mesh::sliver) +
               ", where values are rough" + (a.all ? "." : " (marked *).");
    for (int n : nodes) t.marked.push_back(thin[size_t(n)]);
  }
  if (a.all) {
    t.columns = {"time", "min", "max", "mean", "area-weighted mean", "sum"};
    std::vector<double> every;
    for (size_t row = 0; row < r.rows().size(); ++row) {
      if (!r.rows()[row].stored) continue;
      const auto v = results::nodalField(r, field.name, row);
      std::vector<double> picked;
      for (int n : nodes) picked.push_back(v[size_t(n)]);
      const auto s = results::statistics(picked, areasAt(row));
      t.rows.push_back({r.rows()[row].time, s.least, s.greatest, s.mean, s.weightedMean, s.sum});
      every.insert(every.end(), picked.begin(), picked.end());
    }
    t.statistics = results::statistics(every, {});
    t.weighted = false, t.marked.clear();
    return t;
  }
  const size_t row = rowAt(r, a.time);
  const auto v = results::nodalField(r, field.name, row);
  const auto u = r.field("displacement", row);
  const auto D = size_t(h.mesh.dim);
  const std::vector<std::string> axes =
      h.space == "axisymmetric" ? std::vector<std::string>{"r", "z"} : std::vector<std::string>{"x", "y", "z"};
  t.columns = {"node"};
  t.columns.insert(t.columns.end(), axes.begin(), axes.begin() + std::ptrdiff_t(D));
  for (size_t k = 0; k < D; ++k) t.columns.push_back(axes[k] + " deformed");
  t.columns.push_back(field.name + withUnit(field.kind));
  std::vector<double> picked;
  for (int n : nodes) {
    const auto& p = h.mesh.x[size_t(n)];
    std::vector<double> line{double(n + 1)};
    for (size_t k = 0; k < D; ++k) line.push_back(p[Eigen::Index(k)]);
    for (size_t k = 0; k < D; ++k) line.push_back(p[Eigen::Index(k)] + u[D * size_t(n) + k]);
    line.push_back(v[size_t(n)]);
    t.rows.push_back(line);
    picked.push_back(v[size_t(n)]);
  }
  t.statistics = results::statistics(picked, areasAt(row));
  if (!a.sort.empty()) {
    std::vector<size_t> order(t.rows.size());
    std::iota(order.begin(), order.end(), size_t(0));
    std::stable_sort(order.begin(), order.end(),
                     [&](size_t i, size_t k) { return a.sort == "rising" ? picked[i] < picked[k] : picked[i] > picked[k]; });
    const Table before = t;
    for (size_t i = 0; i < order.size(); ++i) {
      t.rows[i] = before.rows[order[i]];
      if (!t.marked.empty()) t.marked[i] = before.marked[order[i]];
    }
  }
  return t;
}

void tableCommand(const TableArguments& a) {
  const results::Reader reader(a.results);
  if (a.list || a.quantity.empty()) {
    fmt::print("Fields:\n");
    for (const auto& f : results::fieldList(reader.header())) fmt::print("  {}{}\n", f.name, withUnit(f.kind));
    fmt::print("Histories:\n");
    const auto& h = reader.header();
    for (size_t i = 0; i < h.historyNames.size(); ++i)
      fmt::print("  {}{}\n", h.historyNames[i], h.historyUnits[i].empty() ? "" : " [" + h.historyUnits[i] + "]");
    fmt::print("Faces:\n");
    for (const auto& f : reader.header().mesh.faces) fmt::print("  {}\n", f.name);
    fmt::print("{} increments{}.\n", reader.rows().size(),
               reader.rows().empty() ? "" : " up to time " + shortNumber(reader.rows().back().time));
    return;
  }
  if (!std::isnan(a.time) && !a.all && !reader.rows().empty())
    if (const double stored = reader.rows()[rowAt(reader, a.time)].time;
        std::abs(stored - a.time) > 1e-6 * (1 + std::abs(a.time)))
      fmt::print(stderr, "anvil: no increment is stored at time {}; the nearest, at {}, is taken\n", shortNumber(a.time),
                 shortNumber(stored));
  const auto& names = reader.header().historyNames;
  const bool history =
      std::find(names.begin(), names.end(), a.quantity) != names.end() || a.quantity.find('/') != std::string::npos;
  deliver(asText(history ? historyTable(reader, a.quantity) : fieldTable(reader, a), a.format), a.out, a.results);
}

struct ExportArguments {
  std::string results, vtu, csv, model;
  double time = NAN;
};

void exportCommand(const ExportArguments& a) {
  const results::Reader reader(a.results);
  if (a.vtu.empty() && a.csv.empty() && a.model.empty())
    throw Error("nothing to export was named", {}, "Give --vtu BASE, --csv FILE or --model FILE.");
  keepApart(a.csv, a.results, "the histories"), keepApart(a.model, a.results, "the model");
  if (!a.csv.empty() && !a.model.empty() && sameFile(a.csv, a.model))
    throw Error("histories and model would be written to one file", a.csv, "Give another name for one of them.");
  for (const auto* path : {&a.vtu, &a.csv, &a.model})
    if (const auto folder = std::filesystem::path(*path).parent_path(); !folder.empty())
      std::filesystem::create_directories(folder);
  if (!a.vtu.empty()) {
    const auto paths = results::exportVtu(
        reader, a.vtu, std::isnan(a.time) ? std::vector<size_t>{} : std::vector<size_t>{rowAt(reader, a.time)});
    fmt::print("{} increments, series {}\n", paths.size() - 1, paths.back());
  }
  if (!a.csv.empty()) writeWhole(a.csv, results::historiesCsv(reader));
  if (!a.model.empty()) writeWhole(a.model, reader.header().model);
}

}  // namespace

void addTable(CLI::App& app) {
  auto a = std::make_shared<TableArguments>();
  auto* c = app.add_subcommand("table",
                               "Values of a field or history, with min, max, mean, area-weighted mean and sum.\n"
                               "  anvil table crimp.results.h5                                   what there is\n"
                               "  anvil table crimp.results.h5 \"contact pressure\" --on sleeve.bore --time 2\n"
                               "  anvil table crimp.results.h5 \"contact pressure\" --on sleeve.bore --all --format csv\n"
                               "  anvil table dent.results.h5 thickness --on lid --sort rising                   thinnest first");
  c->add_option("results", a->results, "Results file")->required();
  c->add_option("quantity", a->quantity, "Field or history; lists all when left out");
  c->add_option("--on", a->on, "Named face, region or part; everything when left out");
  c->add_option("--time", a->time, "The stored increment nearest to this time; the last when left out");
  c->add_flag("--all", a->all, "One row per increment");
  c->add_option("--sort", a->sort, "Rows of a field by its value: rising or falling")
      ->check(CLI::IsMember({"rising", "falling"}));
  c->add_flag("--list", a->list, "List fields, histories and faces");
  addOutput(*c, a->format, a->out);
  c->callback([a] { tableCommand(*a); });
}

void addExport(CLI::App& app) {
  auto a = std::make_shared<ExportArguments>();
  auto* c = app.add_subcommand(
      "export", "Results in open formats.\n  anvil export crimp.results.h5 --vtu out/crimp --csv out/histories.csv");
  c->add_option("results", a->results, "Results file")->required();
  c->add_option("--vtu", a->vtu, "VTU files BASE_0001.vtu … and the series BASE.pvd");
  c->add_option("--csv", a->csv, "All histories in one table");
  c->add_option("--model", a->model, "The model that was run");
  c->add_option("--time", a->time, "Only the increment nearest to this time (VTU)");
  c->callback([a] { exportCommand(*a); });
}

}  // namespace anvil::cli
