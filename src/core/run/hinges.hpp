// Edges of thin parts that are hinged about their middle line: the mean of two nodes on either side stays, or moves as it is
// told, and the sides turn about it.
//
// A multiplier per pair and direction d adds λ d·((u_upper + u_lower) / 2 - wanted) to the potential, scaled so that λ is a
// length.
#pragma once
#include <vector>

#include "core/contact/pair.hpp"
#include "core/problem/problem.hpp"
#include "core/run/constraints.hpp"

namespace anvil::analysis {

struct LoadLevel;

/// Residual and tangent of the hinges that act in a step, at displacements `u` (all dofs), appended to `out`.
void hingeParts(const Problem& problem, const Constraints& constraints, const VectorXd& u, const LoadLevel& level, bool tangent,
                std::vector<contact::Contribution>& out);

/// What a hinge does to each of its two nodes, N: the same force on both.
Vector3d hingeForce(const Problem& problem, int multiplier, const Vector3d& direction, const VectorXd& u);

/// Forces of hinges on the nodes, per dof, N.
VectorXd hingeForces(const Problem& problem, const std::vector<Constraints::Hinged>& hinges, const VectorXd& u);

}  // namespace anvil::analysis
