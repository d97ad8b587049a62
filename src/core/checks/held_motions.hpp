// Rigid motions of a body that what holds it leaves free.
#pragma once
#include <Eigen/Core>
#include <string>
#include <vector>

#include "core/problem/problem.hpp"

namespace anvil::checks {

/// Gathers what is held, direction by direction, and says what is left.
class HeldMotions {
 public:
  /// Of a body or several that hold together: all their nodes.
  HeldMotions(const analysis::Problem& problem, const std::vector<int>& nodes);
  /// A place of it cannot move along a direction (unit vector).
  void shift(const Eigen::Vector3d& place, const Eigen::Vector3d& direction);
  /// It cannot turn about an axis (unit vector).
  void turn(const Eigen::Vector3d& axis) { hold(Eigen::Vector3d::Zero(), axis); }
  /// Words for the motions left: "along x", "turning about z"; in axisymmetric models "along z" alone.
  std::vector<std::string> free() const;

 private:
  void hold(const Eigen::Vector3d& shift, const Eigen::Vector3d& turn);
  const analysis::Problem& p_;
  Eigen::MatrixXd gram_;  ///< of the rows that are held
  Eigen::Vector3d centre_{0, 0, 0};
  double size_ = 1e-9;
};

}  // namespace anvil::checks
