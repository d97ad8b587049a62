#include "core/analysis/direct_solver.hpp"

#include <algorithm>
#include <dmumps_c.h>
#include <metis.h>

#include "core/base/error.hpp"
#include "core/base/memory.hpp"
#include "core/base/text.hpp"

namespace anvil::analysis {

int SparsePattern::find(int i, int j) const {
  const auto begin = column.begin() + start[size_t(i)], end = column.begin() + start[size_t(i) + 1];
  const auto it = std::lower_bound(begin, end, j);
  return it != end && *it == j ? int(it - column.begin()) : -1;
}

struct DirectSolver::Data {
  DMUMPS_STRUC_C mumps{};
  bool live = false, symmetric = false;
  std::vector<int> row, column, position, permutation, nulls;
  std::vector<double> values;
  int negative = -1;

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

DirectSolver::DirectSolver() : data_(std::make_unique<Data>()) {}
DirectSolver::~DirectSolver() = default;
DirectSolver::DirectSolver(DirectSolver&&) noexcept = default;
DirectSolver& DirectSolver::operator=(DirectSolver&&) noexcept = default;

static std::vector<int> nestedDissection(const SparsePattern& p) {
  std::vector<idx_t> start{0}, neighbour;
  for (int i = 0; i < p.size(); ++i) {
    for (int k = p.start[size_t(i)]; k < p.start[size_t(i) + 1]; ++k)
      if (p.column[size_t(k)] != i) neighbour.push_back(p.column[size_t(k)]);
    start.push_back(idx_t(neighbour.size()));
  }
  idx_t n = p.size();
  std::vector<idx_t> perm(static_cast<size_t>(n)), inverse(static_cast<size_t>(n));
  METIS_NodeND(&n, start.data(), neighbour.data(), nullptr, nullptr, perm.data(), inverse.data());
  std::vector<int> position;
  for (idx_t i : inverse) position.push_back(int(i) + 1);
  return position;
}

void DirectSolver::analyse(const SparsePattern& p, bool symmetric) {
  auto& d = *data_;
  d.close();
  d.mumps = {};
  d.mumps.par = 1, d.mumps.sym = symmetric ? 2 : 0, d.mumps.comm_fortran = -987654;
  d.call(-1);
  d.live = true, d.symmetric = symmetric;
  d.row.clear(), d.column.clear(), d.position.clear();
  for (int i = 0; i < p.size(); ++i)
    for (int k = p.start[size_t(i)]; k < p.start[size_t(i) + 1]; ++k) {
      const int j = p.column[size_t(k)];
      if (symmetric && j > i) continue;
      d.row.push_back(i + 1), d.column.push_back(j + 1), d.position.push_back(k);
    }
  d.values.resize(d.row.size());
  for (int i = 1; i <= 4; ++i) d.control(i) = i == 4 ? 0 : -1;  // quiet
  d.control(6) = 0;    // no column permutation: the diagonal is sound
  d.control(14) = 60;  // head room for delayed pivots, percent
  d.control(24) = 1;   // find vanishing pivots
  d.mumps.cntl[2] = 1e-12;
  if (p.size() > 50) {
    d.permutation = nestedDissection(p);
    d.control(7) = 1;
    d.mumps.perm_in = d.permutation.data();
  }
  d.mumps.n = p.size(), d.mumps.nnz = std::int64_t(d.row.size());
  d.mumps.irn = d.row.data(), d.mumps.jcn = d.column.data(), d.mumps.a = d.values.data();
  d.call(1);
  if (d.mumps.infog[0] < 0) throw Error("the equations could not be analysed (code " + std::to_string(d.mumps.infog[0]) + ")", "linear solver", "");
  const double need = estimatedMemory(), there = availableMemory();
  if (need > there)
    throw Error("the " + std::to_string(p.size()) + " equations need about " + shortNumber(need / 1024, 3) + " GB for their factors, and " + shortNumber(there / 1024, 3) + " GB are free", "linear solver",
                "Use a coarser mesh, linear elements, a symmetry plane, or a machine with more memory.");
}

double DirectSolver::estimatedMemory() const { return data_->mumps.infog[15]; }

void DirectSolver::factor(const std::vector<double>& values) {
  auto& d = *data_;
  for (size_t i = 0; i < d.position.size(); ++i) d.values[i] = values[size_t(d.position[i])];
  for (int attempt = 0; attempt < 4; ++attempt) {
    d.call(2);
    const int code = d.mumps.infog[0];
    if (code != -8 && code != -9) break;
    d.control(14) *= 2;  // more work space
  }
  const int code = d.mumps.infog[0];
  if (code == -13)
    throw Error("there is not enough memory for the equations: about " + shortNumber(d.mumps.infog[15], 3) + " MB are needed", "linear solver",
                "Use a coarser mesh or a machine with more memory.");
  if (code < 0 && code != -10) throw Error("the equations could not be factorised (code " + std::to_string(code) + ")", "linear solver", "");
  d.nulls.clear();
  for (int i = 0; i < d.mumps.infog[27]; ++i) d.nulls.push_back(d.mumps.pivnul_list[i] - 1);
  if (code == -10) d.nulls.push_back(0);
  d.negative = d.symmetric ? d.mumps.infog[11] : -1;
}

void DirectSolver::solve(Eigen::VectorXd& rhs) {
  auto& d = *data_;
  d.mumps.rhs = rhs.data(), d.mumps.nrhs = 1, d.mumps.lrhs = d.mumps.n;
  d.call(3);
  if (d.mumps.infog[0] < 0) throw Error("the equations could not be solved (code " + std::to_string(d.mumps.infog[0]) + ")", "linear solver", "");
}

const std::vector<int>& DirectSolver::nullPivots() const { return data_->nulls; }
int DirectSolver::negativePivots() const { return data_->negative; }
bool DirectSolver::symmetric() const { return data_->symmetric; }

}  // namespace anvil::analysis
