// Bolts: a shank that is cut across; its two sides are held together shifted by the bolt's shortening.
//
// With places x of the doubled nodes, the shortening δ and the shank's direction n now, x_above - x_below + δ n(x) = 0 for
// each pair. n is the direction of Σ w x over nodes below the cut (their mean deformation gradient applied to the axis), so
// a bolt that turns with its parts keeps pulling along itself. The potential
//   Π + Σ λ·(x_above - x_below + c) - κ·(c - δ n) - F (δ - δ_held)
// makes c the shift, κ = Σ λ the force across the cut and F = κ·n the force of the bolt; in steps that tighten, F is given and
// δ free. The unknowns λ, c, κ, δ, F stand behind all others, scaled so that they are lengths. The ties give by 1e-8 of an
// element's own flexibility, so that they need not be sound where a symmetry plane holds both sides.
#pragma once
#include <vector>

#include "core/contact/pair.hpp"
#include "core/problem/bolt.hpp"

namespace anvil::analysis {

using Eigen::VectorXd;

struct Problem;
struct LoadLevel;

/// What a bolt is driven to: in steps that tighten a force (N), else a shortening (mm).
struct BoltAim {
  bool force;
  double value;
};
BoltAim boltAim(const Bolt& bolt, const LoadLevel& level);

/// Residual and tangent of a beam, as below.
void beamParts(const Problem& problem, const Bolt& bolt, const VectorXd& u, const LoadLevel& level, bool tangent,
               std::vector<contact::Contribution>& out);

/// Residual and tangent of a bolt at displacements `u` (all dofs), appended to `out`.
void boltParts(const Problem& problem, const Bolt& bolt, const VectorXd& u, const LoadLevel& level, bool tangent,
               std::vector<contact::Contribution>& out);

/// Strain energy of a bolt that is a beam, N mm.
double beamEnergy(const Problem& problem, const Bolt& bolt, const VectorXd& u);

/// What the shank carries: at its cut, or as a beam. Forces and moments of the whole bolt where they are given so.
struct BoltResultant {
  double force = 0;       ///< along the shank, N; tension positive
  double shear = 0;       ///< across it, N
  double bending = 0;     ///< moment about the middle of the cut, across the shank, N mm; of a beam at the end where it is larger
  double shortening = 0;  ///< mm
};
BoltResultant boltResultant(const Problem& problem, const Bolt& bolt, const VectorXd& u);
BoltResultant beamResultant(const Problem& problem, const Bolt& bolt, const VectorXd& u);

}  // namespace anvil::analysis
