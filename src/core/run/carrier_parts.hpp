// Carriers: a point that a face follows, rigidly or in the mean; and springs between such points.
//
// Rigidly: every node keeps its place in the point's own frame, x_i = P + U + R (X_i - P).
// In the mean: the point moves with the face's mean displacement and turns with the rotation that fits the face best,
// Σ w_i (R r_i) × x_i = 0, r_i = X_i - ΣwX (the condition of S. Umeyama, IEEE PAMI 13, 1991, weights w_i by area); the
// face may deform.
// Both are held exactly by multipliers, which are unknowns behind all others, scaled so that they are lengths.
#pragma once
#include <vector>

#include "core/contact/pair.hpp"
#include "core/problem/carrier.hpp"

namespace anvil::analysis {

using Eigen::VectorXd;

struct Problem;

/// Residual and tangent of a carrier at displacements `u` (all dofs), appended to `out`.
void carrierParts(const Problem& problem, const Carrier& carrier, const VectorXd& u, bool tangent,
                  std::vector<contact::Contribution>& out);

/// Force and moment (about the carrier's point where it is now) that a carrier puts on its face.
struct CarrierResultant {
  Vector3d force{0, 0, 0}, moment{0, 0, 0};
};
CarrierResultant carrierResultant(const Problem& problem, const Carrier& carrier, const VectorXd& u);

/// Extension (angle) of a spring.
double springExtension(const Problem& problem, const Spring& spring, const VectorXd& u);
/// Elastic force of a spring, its slope and its energy.
struct SpringLaw {
  double force = 0, slope = 0, energy = 0;
};
SpringLaw springLaw(const Curve& force, double extension);

/// Residual and tangent of a spring; `before` and `size` (s) give the dashpot its speed.
void springParts(const Problem& problem, const Spring& spring, const VectorXd& u, const VectorXd& before, double size,
                 bool tangent, std::vector<contact::Contribution>& out);

}  // namespace anvil::analysis
