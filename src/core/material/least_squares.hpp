// Least squares of laws that are not linear in their constants. For use inside this folder.
#pragma once
#include <Eigen/Core>
#include <unsupported/Eigen/NonLinearOptimization>
#include <unsupported/Eigen/NumericalDiff>

namespace anvil::material {

/// The distances in the form Eigen's search asks for.
template <class Distances>
struct DistancesFunctor {
  using Scalar = double;
  using InputType = Eigen::VectorXd;
  using ValueType = Eigen::VectorXd;
  using JacobianType = Eigen::MatrixXd;
  enum { InputsAtCompileTime = Eigen::Dynamic, ValuesAtCompileTime = Eigen::Dynamic };
  const Distances& of;
  int constants, count;
  int inputs() const { return constants; }
  int values() const { return count; }
  int operator()(const Eigen::VectorXd& c, Eigen::VectorXd& d) const {
    of(c, d);
    return 0;
  }
};

/// Moves constants to where the distances (constants, distances) are least, by Levenberg's and Marquardt's method with central
/// differences; to the nearest such place from where they are.
template <class Distances>
void leastSquares(Eigen::VectorXd& constants, int count, const Distances& distances) {
  using Smooth = Eigen::NumericalDiff<DistancesFunctor<Distances>, Eigen::Central>;
  Smooth smooth(DistancesFunctor<Distances>{distances, int(constants.size()), count});
  Eigen::LevenbergMarquardt<Smooth> search(smooth);
  search.parameters.maxfev = 6000, search.parameters.xtol = search.parameters.ftol = 1e-12;
  search.minimize(constants);
}

}  // namespace anvil::material
