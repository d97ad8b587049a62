#include "core/linear/direct_solver.hpp"

#include <dmumps_c.h>
#include <metis.h>
#include <sys/mman.h>
#include <algorithm>

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

struct DirectSolver::Data {
  DMUMPS_STRUC_C mumps{};
  bool live = false, symmetric = false;
  const SparsePattern* pattern = nullptr;
  int size = 0;                        ///< of the pattern as it was analysed
  std::unique_ptr<Cholesky> cholesky;  ///< for positive definite matrices
  bool definite = false;               ///< the last factors are Cholesky's
  int resting = 0;                     ///< factorisations for which Cholesky is not tried, after one that failed
  std::vector<int> row, column, position, order, permutation, nulls;
  std::vector<double> values;
  int negative = 0;

  int& control(int i) { return mumps.icntl[i - 1]; }
  void call(int job) {
    mumps.job = job;
    dmumps_c(&mumps);
  }
  void close() {
    if (live) call(-2);
    live = false;
  }
  ~Data() { close(); }
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

/// Says why the library could not go on. `megabytes` it asked for; 0 where that is not known.
[[noreturn]] static void refuse(const std::string& done, int code, int megabytes) {
  for (const int lacking : {-5, -7, -8, -9, -11, -13, -14, -17, -20})
    if (code == lacking)
      throw Error("the equations could not be " + done + ": there is not enough memory" +
                      (megabytes > 0 ? ", about " + shortNumber(megabytes, 3) + " MB are needed" : std::string()),
                  "linear solver", "Use a coarser mesh or a machine with more memory.");
  throw Error("the equations could not be " + done + ": they are not in order", "linear solver",
              "Check sizes, stiffnesses and units of the model.");
}

static void demandMemory(int equations, double need) {
  const double there = availableMemory();
  if (need > there)
    throw Error("the " + std::to_string(equations) + " equations need about " + shortNumber(need / 1024, 3) +
                    " GB for their factors, and " + shortNumber(there / 1024, 3) + " GB are free",
                "linear solver", "Use a coarser mesh, linear elements, a symmetry plane, or a machine with more memory.");
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
  d.close();
  d.pattern = &p, d.size = p.size(), d.symmetric = symmetric, d.definite = false, d.resting = 0;
  d.order.clear();
  if (p.size() > 50)
    d.order = nestedDissection(p);
  else
    for (int i = 0; i < p.size(); ++i) d.order.push_back(i);
  d.cholesky.reset();
  if (!symmetric) return analyseGeneral();
  d.cholesky = std::make_unique<Cholesky>();
  d.cholesky->analyse(p, d.order);
  demandMemory(p.size(), d.cholesky->memory());
}

/// The way for every matrix: LU, or LDLᵀ with pivots of either sign.
void DirectSolver::analyseGeneral() {
  auto& d = *data_;
  const auto& p = *d.pattern;
  d.mumps = {};
  d.mumps.par = 1, d.mumps.sym = d.symmetric ? 2 : 0, d.mumps.comm_fortran = -987654;
  d.call(-1);
  d.live = true;
  d.row.clear(), d.column.clear(), d.position.clear();
  for (int i = 0; i < p.size(); ++i)
    for (int k = p.start[size_t(i)]; k < p.start[size_t(i) + 1]; ++k) {
      const int j = p.column[size_t(k)];
      if (d.symmetric && j > i) continue;
      d.row.push_back(i + 1), d.column.push_back(j + 1), d.position.push_back(k);
    }
  d.values.resize(d.row.size());
  for (int i = 1; i <= 4; ++i) d.control(i) = i == 4 ? 0 : -1;  // quiet
  d.control(6) = 0;                                             // no column permutation: the diagonal is sound
  d.control(14) = 60;                                           // head room for delayed pivots, percent
  d.control(24) = 1;                                            // find vanishing pivots
  d.control(33) = d.symmetric ? 0 : 1;                          // and the determinant, for its sign
  d.mumps.cntl[2] = 1e-12;
  if (p.size() > 50) {
    d.permutation.resize(size_t(p.size()));
    for (size_t k = 0; k < d.order.size(); ++k) d.permutation[size_t(d.order[k])] = int(k) + 1;
    d.control(7) = 1;
    d.mumps.perm_in = d.permutation.data();
  }
  d.mumps.n = p.size(), d.mumps.nnz = std::int64_t(d.row.size());
  d.mumps.irn = d.row.data(), d.mumps.jcn = d.column.data(), d.mumps.a = d.values.data();
  d.call(1);
  if (d.mumps.infog[0] < 0) refuse("analysed", d.mumps.infog[0], 0);
  demandMemory(p.size(), d.mumps.infog[15]);
}

double DirectSolver::estimatedMemory() const { return data_->live ? data_->mumps.infog[15] : data_->cholesky->memory(); }

FactorCost DirectSolver::cost() const {
  const auto& d = *data_;
  if (d.definite || !d.live) return {d.cholesky->entries(), d.cholesky->operations()};
  const int entries = d.mumps.infog[19];  // in millions where it is negative
  return {entries < 0 ? -1e6 * entries : double(entries), d.mumps.rinfog[0]};
}

int DirectSolver::equations() const { return data_->size; }

void DirectSolver::factor(const std::vector<double>& values) {
  auto& d = *data_;
  d.definite = false;
  if (d.cholesky && d.resting-- <= 0) {
    d.definite = d.cholesky->factor(values);
    if (d.definite) return d.nulls.clear();
    d.resting = 8;  // what is indefinite often stays so for a while
  }
  if (!d.live) analyseGeneral();
  for (size_t i = 0; i < d.position.size(); ++i) d.values[i] = values[size_t(d.position[i])];
  for (int attempt = 0; attempt < 4; ++attempt) {
    d.call(2);
    const int code = d.mumps.infog[0];
    if (code != -8 && code != -9) break;
    d.control(14) *= 2;  // more work space
  }
  const int code = d.mumps.infog[0];
  if (code < 0 && code != -10) refuse("factorised", code, d.mumps.infog[15]);
  d.nulls.clear();
  for (int i = 0; i < d.mumps.infog[27]; ++i) d.nulls.push_back(d.mumps.pivnul_list[i] - 1);
  if (code == -10) d.nulls.push_back(0);
  d.negative = d.symmetric ? d.mumps.infog[11] : d.nulls.empty() && d.mumps.rinfog[11] < 0;
}

void DirectSolver::solve(Eigen::VectorXd& rhs) {
  auto& d = *data_;
  if (d.definite) return d.cholesky->solve(rhs);
  d.mumps.rhs = rhs.data(), d.mumps.nrhs = 1, d.mumps.lrhs = d.mumps.n;
  d.call(3);
  if (d.mumps.infog[0] < 0) refuse("solved", d.mumps.infog[0], d.mumps.infog[15]);
}

const std::vector<int>& DirectSolver::nullPivots() const { return data_->nulls; }
int DirectSolver::negativePivots() const { return data_->definite ? 0 : data_->negative; }
bool DirectSolver::symmetric() const { return data_->symmetric; }

}  // namespace anvil::linear
