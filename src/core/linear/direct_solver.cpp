#include "core/linear/direct_solver.hpp"

#include <metis.h>
#include <sys/mman.h>
#include <algorithm>
#include <cmath>

#include "core/base/disk_room.hpp"
#include "core/base/error.hpp"
#include "core/base/memory.hpp"
#include "core/base/text.hpp"
#include "core/linear/cholesky.hpp"

/// Of the dense library, where it is the one with threads of its own.
extern "C" void openblas_set_num_threads(int) __attribute__((weak));

namespace anvil::linear {

int SparsePattern::find(int i, int j) const {
  const auto begin = column.begin() + start[size_t(i)], end = column.begin() + start[size_t(i) + 1];
  const auto it = std::lower_bound(begin, end, j);
  return it != end && *it == j ? int(it - column.begin()) : -1;
}

std::vector<double> rowScales(const SparsePattern& p, const std::vector<double>& values) {
  std::vector<double> scale(size_t(p.size()), 1);
  for (int i = 0; i < p.size(); ++i) {
    double most = 0;
    for (int k = p.start[size_t(i)]; k < p.start[size_t(i) + 1]; ++k) most = std::max(most, std::abs(values[size_t(k)]));
    if (most > 0 && std::isfinite(most)) scale[size_t(i)] = std::ldexp(1., -std::ilogb(most) / 2);
  }
  return scale;
}

struct DirectSolver::Data {
  std::unique_ptr<DiskFolder> folder;  ///< where factors lie that do not fit into memory; gone after them
  Mumps<double> fine;
  Mumps<float> rough;
  bool symmetric = false;
  const SparsePattern* pattern = nullptr;
  int size = 0;                        ///< of the pattern as it was analysed
  std::unique_ptr<Cholesky> cholesky;  ///< for positive definite matrices
  enum class Kind { fine, rough, definite } kind = Kind::fine;
  int resting = 0;  ///< factorisations for which Cholesky is not tried, after one that failed
  std::vector<int> order, none;

  template <class Number>
  void prepare(Mumps<Number>& m, bool symmetricFactors);
};

/// The dense kernels' own threads wait by spinning, take cores from others, and round in another order: one does.
static void holdDenseThreads() {
  if (openblas_set_num_threads) openblas_set_num_threads(1);
}

DirectSolver::DirectSolver() : data_(std::make_unique<Data>()) { holdDenseThreads(); }
DirectSolver::~DirectSolver() = default;
DirectSolver::DirectSolver(DirectSolver&&) noexcept = default;
DirectSolver& DirectSolver::operator=(DirectSolver&&) noexcept = default;

/// Order of elimination by nested dissection (METIS) of the graph of nodes: equations with the same neighbours go together.
static std::vector<int> nestedDissection(const SparsePattern& p) {
  std::vector<int> group(size_t(p.size())), first;
  const auto row = [&](int i) {
    return std::pair{p.column.begin() + p.start[size_t(i)], p.column.begin() + p.start[size_t(i) + 1]};
  };
  for (int i = 0; i < p.size(); ++i) {
    const bool same = i > 0 && std::equal(row(i).first, row(i).second, row(i - 1).first, row(i - 1).second);
    if (!same) first.push_back(i);
    group[size_t(i)] = int(first.size()) - 1;
  }
  idx_t n = idx_t(first.size());
  first.push_back(p.size());
  std::vector<idx_t> start{0}, neighbour, weight;
  for (int g = 0; g < n; ++g) {
    const auto [begin, end] = row(first[size_t(g)]);
    int last = -1;  // columns are sorted, and so are the groups along them
    for (auto it = begin; it != end; ++it)
      if (const int other = group[size_t(*it)]; other != last && other != g) neighbour.push_back(last = other);
    start.push_back(idx_t(neighbour.size())), weight.push_back(first[size_t(g) + 1] - first[size_t(g)]);
  }
  std::vector<idx_t> perm(static_cast<size_t>(n)), inverse(static_cast<size_t>(n));
  METIS_NodeND(&n, start.data(), neighbour.data(), weight.data(), nullptr, perm.data(), inverse.data());
  std::vector<int> order;
  for (idx_t g : perm)
    for (int i = first[size_t(g)]; i < first[size_t(g) + 1]; ++i) order.push_back(i);
  return order;
}

FactorCost factorCost(const SparsePattern& p) {
  std::vector<int> order;
  if (p.size() > 50)
    order = nestedDissection(p);
  else
    for (int i = 0; i < p.size(); ++i) order.push_back(i);
  Cholesky c;
  c.analyse(p, order);
  return {c.entries(), c.operations()};
}

/// The dense library asks for its work space again and again where there is none: it is asked for here first, once.
static void demandWorkSpace() {
  constexpr size_t bytes = size_t(144) << 20;  // of which it takes 128
  static bool there = false;
  if (there) return;
  void* space = ::mmap(nullptr, bytes, PROT_READ | PROT_WRITE, MAP_PRIVATE | MAP_ANONYMOUS, -1, 0);
  if (space == MAP_FAILED)
    throw Error("there is not enough memory for the work space of the equations, " + std::to_string(bytes >> 20) + " MB",
                "linear solver", "Close other programs, raise the limit of memory, or take a larger machine.");
  ::munmap(space, bytes);
  there = true;
}

void DirectSolver::analyse(const SparsePattern& p, bool symmetric) {
  demandWorkSpace();
  auto& d = *data_;
  d.fine.close(), d.rough.close(), d.cholesky.reset(), d.folder.reset();
  giveBackMemory();
  d.pattern = &p, d.size = p.size(), d.symmetric = symmetric, d.kind = Data::Kind::fine, d.resting = 0;
  d.order.clear();
  if (p.size() > 50)
    d.order = nestedDissection(p);
  else
    for (int i = 0; i < p.size(); ++i) d.order.push_back(i);
  d.cholesky.reset();
  if (!symmetric) return;
  d.cholesky = std::make_unique<Cholesky>();
  d.cholesky->analyse(p, d.order);
  if (d.cholesky->memory() > availableMemory()) d.cholesky.reset();  // LDLᵀ can lie on disk
}

/// Analyses where that is still to be done, and finds room for the factors.
template <class Number>
void DirectSolver::Data::prepare(Mumps<Number>& m, bool symmetricFactors) {
  if (m.live()) return;
  m.analyse(*pattern, order, symmetricFactors);
  folder.reset();
  const double there = availableMemory();
  if (m.memory() <= there) return;
  if (m.memoryBesideDisk() > there)
    throw Error("the " + std::to_string(size) + " equations need about " + sizeInWords(m.memory()) + " for their factors (" +
                    sizeInWords(m.memoryBesideDisk()) + " where factors lie on disk), and " + sizeInWords(there) + " are free",
                "linear solver",
                "Use a coarser mesh, linear elements, a symmetry plane, or a machine with more memory; or let the run take more "
                "(--memory).");
  folder = std::make_unique<DiskFolder>(m.disk());
  m.layOnDisk(folder->path().string());
}

FactorCost DirectSolver::cost() const {
  const auto& d = *data_;
  if (d.kind == Data::Kind::definite || (!d.fine.live() && !d.rough.live()))
    return {d.cholesky->entries(), d.cholesky->operations()};
  return d.kind == Data::Kind::rough ? d.rough.cost() : d.fine.cost();
}

int DirectSolver::equations() const { return data_->size; }

void DirectSolver::factor(const std::vector<double>& values) {
  auto& d = *data_;
  if (d.cholesky && d.resting-- <= 0) {
    if (d.cholesky->factor(values)) {
      d.kind = Data::Kind::definite;
      return;
    }
    d.resting = 8;  // what is indefinite often stays so for a while
  }
  d.kind = Data::Kind::fine;
  d.rough.close();  // not the memory of both
  d.prepare(d.fine, d.symmetric);
  d.fine.factor(values);
}

void DirectSolver::factorCoarsely(const std::vector<double>& values) {
  auto& d = *data_;
  d.kind = Data::Kind::rough;
  d.fine.close();
  d.prepare(d.rough, false);
  d.rough.factor(values);
}

bool DirectSolver::coarse() const { return data_->kind == Data::Kind::rough; }

std::string DirectSolver::onDisk() const { return data_->folder ? data_->folder->path().string() : std::string(); }

void DirectSolver::solve(Eigen::VectorXd& rhs) {
  auto& d = *data_;
  switch (d.kind) {
    case Data::Kind::definite:
      return d.cholesky->solve(rhs);
    case Data::Kind::rough:
      return d.rough.solve(rhs);
    case Data::Kind::fine:
      return d.fine.solve(rhs);
  }
}

const std::vector<int>& DirectSolver::nullPivots() const {
  const auto& d = *data_;
  return d.kind == Data::Kind::definite ? d.none : d.kind == Data::Kind::rough ? d.rough.nullPivots() : d.fine.nullPivots();
}
int DirectSolver::negativePivots() const {
  const auto& d = *data_;
  return d.kind == Data::Kind::definite ? 0 : d.kind == Data::Kind::rough ? d.rough.negativePivots() : d.fine.negativePivots();
}
bool DirectSolver::symmetric() const { return data_->symmetric; }

}  // namespace anvil::linear
