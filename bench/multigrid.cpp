// Conjugate gradients with algebraic multigrid (BoomerAMG of hypre), to see from which size on they would pay. A program of its
// own: the direct solver's library brings stand-ins for MPI that hypre must not meet. Matrices are left by MATRIX=FOLDER
// linear-bench.
//   multigrid-bench FILE.matrix …
#include <Eigen/Core>
#include <cstdio>
#include <fstream>
#include <vector>

#include <HYPRE.h>
#include <HYPRE_IJ_mv.h>
#include <HYPRE_krylov.h>
#include <HYPRE_parcsr_ls.h>
#include <mpi.h>
#include <chrono>
#include <numeric>

namespace {

struct MultigridTimes {
  double setUp = 0, solve = 0;
  int iterations = 0;
};

/// Solves a symmetric definite system with three unknowns per node to 1e-8, in place.
MultigridTimes multigrid(const std::vector<int>& start, const std::vector<int>& column, const std::vector<double>& values,
                         Eigen::VectorXd& x) {
  const int n = int(start.size()) - 1;
  std::vector<HYPRE_BigInt> rows(static_cast<size_t>(n)), columns(column.begin(), column.end());
  std::vector<HYPRE_Int> counts;
  std::iota(rows.begin(), rows.end(), 0);
  for (int i = 0; i < n; ++i) counts.push_back(start[size_t(i) + 1] - start[size_t(i)]);
  HYPRE_IJMatrix A;
  HYPRE_IJMatrixCreate(MPI_COMM_WORLD, 0, n - 1, 0, n - 1, &A);
  HYPRE_IJMatrixSetObjectType(A, HYPRE_PARCSR), HYPRE_IJMatrixInitialize(A);
  HYPRE_IJMatrixSetValues(A, n, counts.data(), rows.data(), columns.data(), values.data()), HYPRE_IJMatrixAssemble(A);
  HYPRE_ParCSRMatrix a;
  HYPRE_IJMatrixGetObject(A, reinterpret_cast<void**>(&a));
  HYPRE_IJVector B, X;
  HYPRE_ParVector b, y;
  for (auto [vector, object, content] : {std::tuple{&B, &b, x.data()}, std::tuple{&X, &y, static_cast<double*>(nullptr)}}) {
    HYPRE_IJVectorCreate(MPI_COMM_WORLD, 0, n - 1, vector), HYPRE_IJVectorSetObjectType(*vector, HYPRE_PARCSR),
        HYPRE_IJVectorInitialize(*vector);
    const std::vector<double> zero(static_cast<size_t>(n), 0.);
    HYPRE_IJVectorSetValues(*vector, n, rows.data(), content ? content : zero.data()), HYPRE_IJVectorAssemble(*vector);
    HYPRE_IJVectorGetObject(*vector, reinterpret_cast<void**>(object));
  }
  HYPRE_Solver cg, amg;
  HYPRE_ParCSRPCGCreate(MPI_COMM_WORLD, &cg), HYPRE_PCGSetTol(cg, 1e-8), HYPRE_PCGSetMaxIter(cg, 1000);
  HYPRE_BoomerAMGCreate(&amg);
  HYPRE_BoomerAMGSetNumFunctions(amg, 3), HYPRE_BoomerAMGSetStrongThreshold(amg, 0.5), HYPRE_BoomerAMGSetNodal(amg, 4);
  HYPRE_BoomerAMGSetCoarsenType(amg, 10), HYPRE_BoomerAMGSetInterpType(amg, 6), HYPRE_BoomerAMGSetRelaxType(amg, 6);
  HYPRE_BoomerAMGSetMaxIter(amg, 1), HYPRE_BoomerAMGSetTol(amg, 0);
  HYPRE_PCGSetPrecond(cg, HYPRE_PtrToSolverFcn(HYPRE_BoomerAMGSolve), HYPRE_PtrToSolverFcn(HYPRE_BoomerAMGSetup), amg);
  MultigridTimes t;
  using Clock = std::chrono::steady_clock;
  auto began = Clock::now();
  HYPRE_ParCSRPCGSetup(cg, a, b, y);
  t.setUp = std::chrono::duration<double>(Clock::now() - began).count();
  began = Clock::now();
  HYPRE_ParCSRPCGSolve(cg, a, b, y);
  t.solve = std::chrono::duration<double>(Clock::now() - began).count();
  HYPRE_PCGGetNumIterations(cg, &t.iterations);
  HYPRE_IJVectorGetValues(X, n, rows.data(), x.data());
  HYPRE_BoomerAMGDestroy(amg), HYPRE_ParCSRPCGDestroy(cg), HYPRE_IJVectorDestroy(X), HYPRE_IJVectorDestroy(B),
      HYPRE_IJMatrixDestroy(A);
  return t;
}

}  // namespace

int main(int argc, char** argv) {
  MPI_Init(&argc, &argv), HYPRE_Init();
  for (int i = 1; i < argc; ++i) {
    std::ifstream in(argv[i], std::ios::binary);
    const auto get = [&](auto* data, size_t count) {
      in.read(reinterpret_cast<char*>(data), std::streamsize(count * sizeof *data));
    };
    long long n = 0, entries = 0;
    double direct = 0;
    get(&n, 1), get(&entries, 1), get(&direct, 1);
    std::vector<int> start(size_t(n) + 1), column(static_cast<size_t>(entries));
    std::vector<double> values(static_cast<size_t>(entries));
    Eigen::VectorXd wanted(n), x = Eigen::VectorXd::LinSpaced(n, -1, 1);
    get(start.data(), start.size()), get(column.data(), column.size()), get(values.data(), values.size()),
        get(wanted.data(), size_t(n));
    if (!in) return std::fprintf(stderr, "%s is no matrix\n", argv[i]), 1;
    const auto m = multigrid(start, column, values, x);
    std::printf(
        "%9lld unknowns: %d iterations, set-up %.2f s, solution %.2f s: %.2f of the direct factors and solution, apart %.1g\n", n,
        m.iterations, m.setUp, m.solve, (m.setUp + m.solve) / direct, (x - wanted).norm() / wanted.norm());
    std::fflush(stdout);
  }
  HYPRE_Finalize(), MPI_Finalize();
}
