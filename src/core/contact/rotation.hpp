// Finite rotations by rotation vectors (J. Argyris, CMAME 32, 1982).
#pragma once
#include <Eigen/Core>

namespace anvil::contact {

/// Rotation matrix exp([θ]×).
Eigen::Matrix3d rotationOf(const Eigen::Vector3d& theta);

/// Rotation vector of a rotation; of those that differ by whole turns the one nearest to `near`.
Eigen::Vector3d rotationVector(const Eigen::Matrix3d& R, const Eigen::Vector3d& near);

/// The matrix T with spin = T dθ: the left Jacobian of the exponential map.
Eigen::Matrix3d spinOf(const Eigen::Vector3d& theta);

/// Moment in space from the force that works on the rotation vector (r = Tᵀ m).
Eigen::Vector3d spatialMoment(const Eigen::Vector3d& theta, const Eigen::Vector3d& conjugate);

}  // namespace anvil::contact
