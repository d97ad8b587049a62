// GMRES without restarts (Y. Saad, M. Schultz, SIAM J. Sci. Stat. Comp. 7, 1986), which gives up as soon as it is seen to be
// slow: what the library at hand has goes on to its limit.
#pragma once
#include <Eigen/Core>
#include <functional>

namespace anvil::linear {

struct GmresResult {
  bool converged = false;
  int iterations = 0;
  double error = 1;  ///< norm of what is left over that of the right-hand side or of x, whichever is less
};

/// Solves A x = b for x, by `apply`, which gives A v. Ends when the residual is `accuracy` of b and of x, after `most`
/// iterations, or when from the third on it falls too slowly to get there in time.
GmresResult gmres(const std::function<Eigen::VectorXd(const Eigen::VectorXd&)>& apply, const Eigen::VectorXd& b, double accuracy,
                  int most, Eigen::VectorXd& x);

}  // namespace anvil::linear
