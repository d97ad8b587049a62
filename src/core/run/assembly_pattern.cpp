// Where the matrix has entries, and where cells and contacts put theirs.
#include <algorithm>
#include <bit>
#include <numeric>

#include "core/base/parallel.hpp"
#include "core/run/assembly.hpp"

namespace anvil::analysis {

/// Cells in groups that share no node, greedily; the order within and of the groups does not depend on threads. Cells that
/// meet 64 groups already (a hub of a fan) start a further round of 64.
static std::vector<std::vector<int>> coloured(const mesh::Block& b, int nodes) {
  constexpr int round = 64;
  std::vector<std::vector<int>> groups;
  const int n = mesh::info(b.type).nodes;
  std::vector<int> open(b.count()), later;
  std::iota(open.begin(), open.end(), 0);
  for (size_t first = 0; !open.empty(); first += round) {
    std::vector<std::uint64_t> used(size_t(nodes), 0);
    later.clear();
    for (int c : open) {
      const int* cell = b.cell(size_t(c));
      std::uint64_t taken = 0;
      for (int a = 0; a < n; ++a) taken |= used[size_t(cell[a])];
      const int k = std::countr_one(taken);
      if (k == round) {
        later.push_back(c);
        continue;
      }
      const size_t group = first + size_t(k);
      if (group >= groups.size()) groups.resize(group + 1);
      groups[group].push_back(c);
      for (int a = 0; a < n; ++a) used[size_t(cell[a])] |= std::uint64_t(1) << k;
    }
    open.swap(later);
  }
  return groups;
}

void Assembly::colourBlocks() {
  for (const auto& b : p_.blocks) maps_.push_back({coloured(b->cells(), p_.nodeCount()), {}});
}

void Assembly::buildPattern(std::vector<std::vector<int>> cliques) {
  const int n = constraints_->equations();
  std::vector<int> eq;
  for (const auto& b : p_.blocks)
    for (size_t c = 0; c < b->cells().count(); ++c) {
      cellEquations(*b, c, eq);
      std::erase(eq, -1);
      cliques.push_back(eq);
    }
  pattern_ = {};
  for (int i = 0; i <= n; ++i) pattern_.start.push_back(i);
  for (int i = 0; i < n; ++i) pattern_.column.push_back(i);
  values_.assign(size_t(n), 0);
  widenPattern(cliques);
}

/// Puts the couplings of cliques into the pattern; what it holds already keeps its values.
void Assembly::widenPattern(const std::vector<std::vector<int>>& cliques) {
  const auto n = size_t(pattern_.size());
  std::vector<int> first(n + 1, 0);
  for (const auto& clique : cliques)
    for (int i : clique) ++first[size_t(i) + 1];
  for (size_t i = 0; i < n; ++i) first[i + 1] += first[i];
  std::vector<int> fill(first.begin(), first.end() - 1), of;
  of.resize(size_t(first[n]));
  for (size_t k = 0; k < cliques.size(); ++k)
    for (int i : cliques[k]) of[size_t(fill[size_t(i)]++)] = int(k);
  linear::SparsePattern wide;
  std::vector<double> values;
  const size_t likely = pattern_.column.size() + pattern_.column.size() / 8;
  wide.start.reserve(n + 1), wide.column.reserve(likely), values.reserve(likely);  // vectors that grow leave holes behind
  wide.start.push_back(0);
  std::vector<int> seen(n, -1), more;
  for (size_t i = 0; i < n; ++i) {
    more.clear();
    for (int k = pattern_.start[i]; k < pattern_.start[i + 1]; ++k) seen[size_t(pattern_.column[size_t(k)])] = int(i);
    for (int c = first[i]; c < first[i + 1]; ++c)
      for (int j : cliques[size_t(of[size_t(c)])])
        if (seen[size_t(j)] != int(i)) seen[size_t(j)] = int(i), more.push_back(j);
    std::sort(more.begin(), more.end());
    auto next = more.begin();
    for (int k = pattern_.start[i]; k < pattern_.start[i + 1]; ++k) {
      for (; next != more.end() && *next < pattern_.column[size_t(k)]; ++next) wide.column.push_back(*next), values.push_back(0);
      wide.column.push_back(pattern_.column[size_t(k)]), values.push_back(values_[size_t(k)]);
    }
    for (; next != more.end(); ++next) wide.column.push_back(*next), values.push_back(0);
    wide.start.push_back(int(wide.column.size()));
  }
  pattern_ = std::move(wide), values_ = std::move(values);
  analysed_ = false;
  mapBlocks();
}

/// Equations of a cell's dofs, -1 where prescribed.
void Assembly::cellEquations(const element::Block& b, size_t c, std::vector<int>& eq) const {
  const int dim = p_.dim();
  eq.clear();
  for (int a = 0; a < b.dofs() / dim; ++a)
    for (int k = 0; k < dim; ++k) eq.push_back(constraints_->equation(dim * b.cells().cell(c)[a] + k));
}

void Assembly::mapBlocks() {
  for (size_t i = 0; i < p_.blocks.size(); ++i) {
    const auto& b = *p_.blocks[i];
    const auto d = size_t(b.dofs());
    auto& position = maps_[i].position;
    position.assign(b.cells().count() * d * d, -1);
    forEach(b.cells().count(), [&](size_t c) {
      std::vector<int> eq;
      cellEquations(b, c, eq);
      for (size_t r = 0; r < d; ++r) {
        if (eq[r] < 0) continue;
        for (size_t s = 0; s < d; ++s)
          if (eq[s] >= 0) position[(c * d + r) * d + s] = pattern_.find(eq[r], eq[s]);
      }
    });
  }
}

std::vector<std::vector<int>> Assembly::neighbourhood(const std::vector<contact::Contribution>& parts) const {
  std::vector<std::vector<int>> cliques;
  for (const auto& c : parts) {
    std::vector<int> eq;
    for (int dof : c.dofs)
      if (const int e = constraints_->equation(dof); e >= 0) eq.push_back(e);
    cliques.push_back(eq);
  }
  return cliques;
}

/// Sees that the pattern holds the couplings of cliques. It only grows, so that it soon stands still while things slide to and
/// fro; where it has grown too far beyond what is there now, it is made anew.
void Assembly::cover(const std::vector<std::vector<int>>& cliques) {
  std::vector<std::vector<int>> missing;
  for (const auto& clique : cliques) {
    if (covered_.count(clique)) continue;
    bool there = true;
    for (size_t i = 0; there && i < clique.size(); ++i)
      for (size_t j = 0; there && j < clique.size(); ++j) there = pattern_.find(clique[i], clique[j]) >= 0;
    if (there)
      covered_.insert(clique);
    else
      missing.push_back(clique);
  }
  if (missing.empty()) return;
  if (freshSize_ == 0 || double(pattern_.column.size()) < 1.4 * double(freshSize_)) {
    widenPattern(missing);
    if (freshSize_ == 0) freshSize_ = pattern_.column.size();
    return;
  }
  covered_.clear();
  const std::vector<double> old = values_;
  const linear::SparsePattern was = pattern_;
  buildPattern(cliques);
  freshSize_ = pattern_.column.size();
  for (int i = 0; i < was.size(); ++i)
    for (int k = was.start[size_t(i)]; k < was.start[size_t(i) + 1]; ++k)
      if (const int at = pattern_.find(i, was.column[size_t(k)]); at >= 0) values_[size_t(at)] = old[size_t(k)];
}

}  // namespace anvil::analysis
