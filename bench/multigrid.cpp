#include "multigrid.hpp"

#include <HYPRE.h>
#include <HYPRE_IJ_mv.h>
#include <HYPRE_krylov.h>
#include <HYPRE_parcsr_ls.h>
#include <chrono>
#include <mpi.h>
#include <numeric>

MultigridTimes multigrid(const std::vector<int>& start, const std::vector<int>& column, const std::vector<double>& values, Eigen::VectorXd& x) {
  int live = 0;
  MPI_Initialized(&live);
  if (!live) MPI_Init(nullptr, nullptr), HYPRE_Init();
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
    HYPRE_IJVectorCreate(MPI_COMM_WORLD, 0, n - 1, vector), HYPRE_IJVectorSetObjectType(*vector, HYPRE_PARCSR), HYPRE_IJVectorInitialize(*vector);
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
  HYPRE_BoomerAMGDestroy(amg), HYPRE_ParCSRPCGDestroy(cg), HYPRE_IJVectorDestroy(X), HYPRE_IJVectorDestroy(B), HYPRE_IJMatrixDestroy(A);
  return t;
}
