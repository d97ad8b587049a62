#include "core/checks/estimate.hpp"

#include <Eigen/Dense>
#include <algorithm>
#include <chrono>
#include <cmath>
#include <set>
#include <thread>

#include "core/analysis/direct_solver.hpp"
#include "core/base/memory.hpp"
#include "core/base/text.hpp"

namespace anvil::checks {
namespace {

/// Nodes that share a cell.
analysis::SparsePattern graphOf(const mesh::Mesh& mesh) {
  std::vector<std::vector<int>> rows(mesh.x.size());
  for (const auto& b : mesh.blocks) {
    const int n = mesh::info(b.type).nodes;
    for (size_t c = 0; c < b.count(); ++c)
      for (int i = 0; i < n; ++i) rows[size_t(b.cell(c)[i])].insert(rows[size_t(b.cell(c)[i])].end(), b.cell(c), b.cell(c) + n);
  }
  analysis::SparsePattern p;
  p.start.push_back(0);
  for (size_t i = 0; i < rows.size(); ++i) {
    auto& r = rows[i];
    r.push_back(int(i));
    std::sort(r.begin(), r.end());
    r.erase(std::unique(r.begin(), r.end()), r.end());
    p.column.insert(p.column.end(), r.begin(), r.end());
    p.start.push_back(int(p.column.size()));
    r = {};
  }
  return p;
}

/// Operations a second that one thread does on dense blocks.
double denseSpeed() {
  constexpr int n = 256;
  const Eigen::MatrixXd a = Eigen::MatrixXd::Constant(n, n, 0.5);
  Eigen::MatrixXd c = a;
  double best = 1e300;
  for (int k = 0; k < 3; ++k) {
    const auto begin = std::chrono::steady_clock::now();
    c.noalias() += a * a;
    best = std::min(best, std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count());
  }
  return c(0, 0) > 0 ? 2. * n * n * n / best : 1e9;
}

bool symmetricRun(const model::Document& d) {
  for (const auto& [name, c] : d.contacts)
    if (c.kind != "tied" && c.kind != "sliding" && (c.friction.text.size() || c.friction.number.value_or(0) != 0)) return false;
  return std::none_of(d.loads.begin(), d.loads.end(), [&](const auto& l) { return l.second.kind == "pressure" && d.geometry == "large"; });
}

std::string duration(double s) {
  if (s < 90) return shortNumber(std::max(s, 0.01), s < 9.5 ? 1 : 2) + " s";
  return s < 5400 ? shortNumber(s / 60, 2) + " min" : shortNumber(s / 3600, 2) + " h";
}

}  // namespace

Estimate estimate(const model::Document& d, const mesh::Mesh& mesh) {
  Estimate e;
  e.nodes = mesh.x.size(), e.unknowns = e.nodes * size_t(mesh.dim), e.steps = int(d.steps.size()), e.symmetric = symmetricRun(d);
  double points = 0;
  for (const auto& b : mesh.blocks) e.cells += b.count(), points += double(b.count()) * mesh::info(b.type).points * std::pow(mesh::info(b.type).nodes / 8., 1.3);
  if (mesh.x.empty()) return e;
  const auto cost = analysis::factorCost(graphOf(mesh));
  const double dim = mesh.dim, twice = e.symmetric ? 1 : 2;
  const double speed = denseSpeed(), threads = std::max(1u, std::thread::hardware_concurrency());
  // entries and operations of blocks of dim by dim; the factors' work space and the elements' state beside them
  e.memory = 60 + twice * cost.entries * dim * dim * 8 / 1e6 * 1.35 + 0.004 * double(e.unknowns) + 0.003 * points;
  e.iteration = twice * cost.operations * dim * dim * dim / (0.45 * speed) + twice * 12 * cost.entries * dim * dim / (0.2 * speed) + points * 25e-6 * 4e9 / speed / threads;
  return e;
}

std::string inWords(const Estimate& e) {
  const double there = availableMemory();
  const int low = 8 * 4, high = 25 * 7;   // increments to a step, iterations to an increment
  std::string words = "about " + (e.memory < 1000 ? shortNumber(e.memory, 2) + " MB" : shortNumber(e.memory / 1024, 2) + " GB") + " of memory and " + duration(e.iteration) + " an iteration; " +
                      std::to_string(e.steps) + (e.steps == 1 ? " step" : " steps") + " with 8 to 25 increments of 4 to 7 iterations: " + duration(e.iteration * e.steps * low) + " to " + duration(e.iteration * e.steps * high);
  if (e.memory > there) words += "; only " + shortNumber(there / 1024, 2) + " GB are free";
  return words;
}

}  // namespace anvil::checks
