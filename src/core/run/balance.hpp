// Do the forces and moments from outside cancel? A check on every increment that asks nothing of elements or contact.
#pragma once
#include "core/problem/problem.hpp"

namespace anvil::analysis {

/// What does not cancel, over the sum of the magnitudes; 0 where nothing acts.
struct Balance {
  double force = 0, moment = 0;
  double forces = 0, moments = 0;  ///< the sums of magnitudes, N and N mm
};

/// Balance of applied forces, reactions, stabilisation, and springs over the whole model, about the middle of its nodes in
/// the deformed shape. In axisymmetric models along the axis only.
/// @param least sums of magnitudes that are taken at least, where forces are small against what they were or could be
/// @param given applied forces plus reactions less stabilisation, per dof, global components
/// @param before displacements at the increment's start; `size` its time (dashpots)
Balance balanceOf(const Problem& problem, const VectorXd& u, const VectorXd& before, double size, const VectorXd& given,
                  const Balance& least = {});

}  // namespace anvil::analysis
