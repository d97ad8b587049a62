#include "core/linear/cholesky.hpp"

#include <cholmod.h>

#include "core/base/error.hpp"
#include "core/linear/direct_solver.hpp"

namespace anvil::linear {

struct Cholesky::Data {
  cholmod_common common{};
  cholmod_factor* factor = nullptr;
  std::vector<SuiteSparse_long> start, row;
  std::vector<int> position;  ///< of the stored entries in the pattern
  std::vector<double> values, diagonal;

  Data() {
    cholmod_l_start(&common);
    common.print = 0, common.error_handler = nullptr;
    common.supernodal = CHOLMOD_SUPERNODAL;
    common.nmethods = 1, common.method[0].ordering = CHOLMOD_GIVEN, common.postorder = 1;
  }
  ~Data() {
    cholmod_l_free_factor(&factor, &common);
    cholmod_l_finish(&common);
  }
  /// The lower triangle by rows is the upper one by columns.
  cholmod_sparse matrix() {
    cholmod_sparse a{};
    a.nrow = a.ncol = start.size() - 1, a.nzmax = row.size();
    a.p = start.data(), a.i = row.data(), a.x = values.data();
    a.stype = 1, a.itype = CHOLMOD_LONG, a.xtype = CHOLMOD_REAL, a.dtype = CHOLMOD_DOUBLE, a.sorted = 1, a.packed = 1;
    return a;
  }
};

Cholesky::Cholesky() : data_(std::make_unique<Data>()) {}
Cholesky::~Cholesky() = default;

/// Says why the library could not go on.
[[noreturn]] static void refuse(const std::string& done, int status) {
  const bool memory = status == CHOLMOD_OUT_OF_MEMORY || status == CHOLMOD_TOO_LARGE;
  throw Error("the equations could not be " + done + ": " + (memory ? "there is not enough memory" : "they are not in order"),
              "linear solver",
              memory ? "Use a coarser mesh or a machine with more memory." : "Check sizes, stiffnesses and units of the model.");
}

void Cholesky::analyse(const SparsePattern& p, const std::vector<int>& order) {
  auto& d = *data_;
  cholmod_l_free_factor(&d.factor, &d.common);
  d.start.assign(1, 0), d.row.clear(), d.position.clear();
  for (int i = 0; i < p.size(); ++i) {
    for (int k = p.start[size_t(i)]; k < p.start[size_t(i) + 1] && p.column[size_t(k)] <= i; ++k)
      d.row.push_back(p.column[size_t(k)]), d.position.push_back(k);
    d.start.push_back(SuiteSparse_long(d.row.size()));
  }
  d.values.assign(d.row.size(), 0), d.diagonal.resize(size_t(p.size()));
  std::vector<SuiteSparse_long> given(order.begin(), order.end());
  auto a = d.matrix();
  d.factor = cholmod_l_analyze_p(&a, given.data(), nullptr, 0, &d.common);
  if (!d.factor) refuse("analysed", d.common.status);
}

bool Cholesky::factor(const std::vector<double>& values) {
  auto& d = *data_;
  for (size_t k = 0; k < d.position.size(); ++k) d.values[k] = values[size_t(d.position[k])];
  for (size_t i = 0; i < d.diagonal.size(); ++i) {
    d.diagonal[i] = d.row[size_t(d.start[i + 1]) - 1] == SuiteSparse_long(i) ? d.values[size_t(d.start[i + 1]) - 1] : 0;
    if (!(d.diagonal[i] > 0)) return false;  // spares the work on matrices with multipliers
  }
  auto a = d.matrix();
  d.common.quick_return_if_not_posdef = 1;
  cholmod_l_factorize(&a, d.factor, &d.common);
  if (d.common.status != CHOLMOD_OK || d.factor->minor < d.factor->n) return false;
  // the library calls a free body positive definite when rounding leaves its last pivots above zero
  const auto& f = *d.factor;
  const auto* super = static_cast<const SuiteSparse_long*>(f.super);
  const auto* rows = static_cast<const SuiteSparse_long*>(f.pi);
  const auto* entries = static_cast<const SuiteSparse_long*>(f.px);
  const auto* order = static_cast<const SuiteSparse_long*>(f.Perm);
  const auto* x = static_cast<const double*>(f.x);
  for (size_t s = 0; s < f.nsuper; ++s) {
    const auto height = rows[s + 1] - rows[s];
    for (auto k = super[s]; k < super[s + 1]; ++k) {
      const double pivot = x[entries[s] + (k - super[s]) * (height + 1)];
      if (!(pivot * pivot > 1e-12 * d.diagonal[size_t(order[k])])) return false;
    }
  }
  return true;
}

void Cholesky::solve(Eigen::VectorXd& rhs) {
  auto& d = *data_;
  cholmod_dense b{};
  b.nrow = b.d = b.nzmax = size_t(rhs.size()), b.ncol = 1, b.x = rhs.data(), b.xtype = CHOLMOD_REAL, b.dtype = CHOLMOD_DOUBLE;
  cholmod_dense* x = cholmod_l_solve(CHOLMOD_A, d.factor, &b, &d.common);
  if (!x) refuse("solved", d.common.status);
  rhs = Eigen::Map<Eigen::VectorXd>(static_cast<double*>(x->x), rhs.size());
  cholmod_l_free_dense(&x, &d.common);
}

double Cholesky::entries() const { return data_->common.lnz; }
double Cholesky::operations() const { return data_->common.fl; }
double Cholesky::memory() const { return data_->factor ? 8e-6 * double(data_->factor->xsize) : 0; }

}  // namespace anvil::linear
