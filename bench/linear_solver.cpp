// The linear solver against the libraries called alone, on the matrices of a block of hexes: symmetric definite (CHOLMOD) and
// unsymmetric (MUMPS with METIS' order of the equations). Ratios to the library's own time; above 1 we are slower.
// NU of the steel: environment, 0.3 usually. MATRIX: a folder where the definite matrices are left for multigrid-bench.
//   linear-bench [ELEMENTS PER EDGE …]
#include <cholmod.h>
#include <dmumps_c.h>
#include <fmt/format.h>
#include <metis.h>
#include <chrono>
#include <cstdlib>
#include <fstream>

#include "core/linear/direct_solver.hpp"
#include "core/lower/lower.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/run/assembly.hpp"

using namespace anvil;

namespace {

double seconds(const std::function<void()>& act) {
  const auto start = std::chrono::steady_clock::now();
  act();
  return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
}

struct Times {
  double analysis = 0, factor = 0, solve = 0;
};

Times ours(const linear::SparsePattern& p, const std::vector<double>& values, bool symmetric, Eigen::VectorXd& x) {
  linear::DirectSolver s;
  Times t;
  t.analysis = seconds([&] { s.analyse(p, symmetric); });
  s.factor(values);
  t.factor = seconds([&] { s.factor(values); });
  t.solve = seconds([&] { s.solve(x); });
  return t;
}

Times cholmodAlone(const linear::SparsePattern& p, const std::vector<double>& values, Eigen::VectorXd& x) {
  cholmod_common c{};
  cholmod_l_start(&c);
  c.supernodal = CHOLMOD_SUPERNODAL, c.nmethods = 1, c.method[0].ordering = CHOLMOD_METIS;
  cholmod_sparse* a = cholmod_l_allocate_sparse(size_t(p.size()), size_t(p.size()), p.column.size(), 1, 1, 1, CHOLMOD_REAL, &c);
  auto *start = static_cast<SuiteSparse_long*>(a->p), *row = static_cast<SuiteSparse_long*>(a->i);
  auto* v = static_cast<double*>(a->x);
  SuiteSparse_long n = 0;
  for (int i = 0; i < p.size(); ++i) {
    start[i] = n;
    for (int k = p.start[size_t(i)]; k < p.start[size_t(i) + 1] && p.column[size_t(k)] <= i; ++k)
      row[n] = p.column[size_t(k)], v[n++] = values[size_t(k)];
  }
  start[p.size()] = n;
  Times t;
  cholmod_factor* f = nullptr;
  t.analysis = seconds([&] { f = cholmod_l_analyze(a, &c); });
  cholmod_l_factorize(a, f, &c);
  t.factor = seconds([&] { cholmod_l_factorize(a, f, &c); });
  cholmod_dense b{};
  b.nrow = b.d = b.nzmax = size_t(x.size()), b.ncol = 1, b.x = x.data(), b.xtype = CHOLMOD_REAL, b.dtype = CHOLMOD_DOUBLE;
  cholmod_dense* r = nullptr;
  t.solve = seconds([&] { r = cholmod_l_solve(CHOLMOD_A, f, &b, &c); });
  x = Eigen::Map<Eigen::VectorXd>(static_cast<double*>(r->x), x.size());
  cholmod_l_free_dense(&r, &c), cholmod_l_free_factor(&f, &c), cholmod_l_free_sparse(&a, &c), cholmod_l_finish(&c);
  return t;
}

Times mumpsAlone(const linear::SparsePattern& p, const std::vector<double>& values, Eigen::VectorXd& x) {
  std::vector<int> row, column, position;
  std::vector<double> v = values;
  for (int i = 0; i < p.size(); ++i)
    for (int k = p.start[size_t(i)]; k < p.start[size_t(i) + 1]; ++k)
      row.push_back(i + 1), column.push_back(p.column[size_t(k)] + 1);
  DMUMPS_STRUC_C m{};
  m.par = 1, m.sym = 0, m.comm_fortran = -987654, m.job = -1;
  dmumps_c(&m);
  for (int i = 0; i < 4; ++i) m.icntl[i] = i == 3 ? 0 : -1;
  m.n = p.size(), m.nnz = std::int64_t(row.size()), m.irn = row.data(), m.jcn = column.data(), m.a = v.data();
  const auto call = [&](int job) { m.job = job, dmumps_c(&m); };
  Times t;
  t.analysis = seconds([&] {
    std::vector<idx_t> start{0}, neighbour;
    for (int i = 0; i < p.size(); ++i) {
      for (int k = p.start[size_t(i)]; k < p.start[size_t(i) + 1]; ++k)
        if (p.column[size_t(k)] != i) neighbour.push_back(p.column[size_t(k)]);
      start.push_back(idx_t(neighbour.size()));
    }
    idx_t n = p.size();
    std::vector<idx_t> perm(size_t(n), 0), inverse(size_t(n), 0);
    METIS_NodeND(&n, start.data(), neighbour.data(), nullptr, nullptr, perm.data(), inverse.data());
    for (idx_t i : inverse) position.push_back(int(i) + 1);
    m.icntl[6] = 1, m.perm_in = position.data();
    call(1);
  });
  call(2);
  t.factor = seconds([&] { call(2); });
  m.rhs = x.data(), m.nrhs = 1, m.lrhs = m.n;
  t.solve = seconds([&] { call(3); });
  call(-2);
  return t;
}

}  // namespace

int main(int argc, char** argv) {
  std::vector<int> sizes;
  for (int i = 1; i < argc; ++i) sizes.push_back(std::atoi(argv[i]));
  if (sizes.empty()) sizes = {14, 21, 31};
  fmt::print("{:>9} {:<14} {:>10} {:>10} {:>10} {:>10} {:>10} {:>10} {:>8}\n", "unknowns", "matrix", "analysis s", "ratio",
             "factor s", "ratio", "solve s", "ratio", "apart");
  for (int n : sizes) {
    auto problem = analysis::lower(model::parse(fmt::format(
        R"({{"parameters": {{"n": {}}}, "space": "solid", "materials": {{"steel": {{"elastic": {{"E": 205000, "nu": {}}}}}}},
      "parts": {{"block": {{"material": "steel", "element": "hex8", "shape": {{"rectangle": {{"at": [0, 0], "size": [10, 10]}}}},
        "extrude": {{"depth": 10, "count": "=n"}}, "mesh": {{"count": ["=n", "=n"]}}}}}},
      "steps": {{"s": {{}}}}, "supports": {{"base": {{"on": "block.bottom", "fix": ["x", "y", "z"]}}}}}})",
        n, std::getenv("NU") ? std::getenv("NU") : "0.3")));
    const analysis::Constraints constraints(*problem, 0);
    analysis::Assembly assembly(*problem);
    assembly.setConstraints(constraints);
    const analysis::VectorXd zero = analysis::VectorXd::Zero(problem->dofs());
    analysis::LoadLevel m;
    m.time = 1, m.before = &zero;
    assembly.evaluate(zero, m, true, true, false, nullptr);
    const auto& p = assembly.pattern();
    const auto& values = assembly.values();
    for (const bool symmetric : {true, false}) {
      Eigen::VectorXd x = Eigen::VectorXd::LinSpaced(p.size(), -1, 1), y = x;
      const Times a = ours(p, values, symmetric, x), b = symmetric ? cholmodAlone(p, values, y) : mumpsAlone(p, values, y);
      fmt::print("{:>9} {:<14} {:>10.3f} {:>10.2f} {:>10.3f} {:>10.2f} {:>10.3f} {:>10.2f} {:>8.1g}\n", p.size(),
                 symmetric ? "definite" : "unsymmetric", a.analysis, a.analysis / b.analysis, a.factor, a.factor / b.factor,
                 a.solve, a.solve / b.solve, (x - y).norm() / y.norm());
      std::fflush(stdout);
      if (const char* folder = std::getenv("MATRIX");
          folder && symmetric) {  // for multigrid-bench: sizes, pattern, values, our solution
        std::ofstream out(fmt::format("{}/{}.matrix", folder, p.size()), std::ios::binary);
        const auto put = [&](const auto* data, size_t count) {
          out.write(reinterpret_cast<const char*>(data), std::streamsize(count * sizeof *data));
        };
        const long long n = p.size(), entries = (long long)p.column.size();
        const double both = a.factor + a.solve;
        put(&n, 1), put(&entries, 1), put(&both, 1), put(p.start.data(), p.start.size()), put(p.column.data(), p.column.size()),
            put(values.data(), values.size()), put(y.data(), size_t(n));
      }
    }
  }
}
