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
#include <Eigen/Core>
#include <string>
#include <vector>

#include "core/contact/pair.hpp"

namespace anvil::analysis {

using Eigen::Vector3d;
using Eigen::VectorXd;

struct Problem;
struct Moment;

/// What a bolt does in a step.
struct BoltStage {
  enum class What { held, tightened, shortened } what = What::held;
  bool atOnce = false;
  double value = 0;                  ///< force at the step's end, N; or shortening within the step, mm
};

struct Bolt {
  std::string name;
  int cut = -1;                      ///< in the mesh
  int first = -1;                    ///< dof of the first unknown
  double scale = 1;                  ///< N/mm
  std::vector<BoltStage> stages;     ///< per step
  int pairs = 0;

  int lambda(int pair) const { return first + 3 * pair; }
  int shift() const { return first + 3 * pairs; }
  int kappa() const { return shift() + 3; }
  int shortening() const { return shift() + 6; }
  int force() const { return shift() + 7; }
  int unknowns() const { return 3 * pairs + 8; }
  /// Unknowns that are no multipliers: the shift and the shortening.
  static constexpr int lengths = 4;
};

/// Residual and tangent of a bolt at displacements `u` (all dofs), appended to `out`.
void boltParts(const Problem& problem, const Bolt& bolt, const VectorXd& u, const Moment& moment, bool tangent, std::vector<contact::Contribution>& out);

/// What the shank carries at its cut.
struct BoltResultant {
  double force = 0;                  ///< along the shank, N; tension positive
  double shear = 0;                  ///< across it, N
  double bending = 0;                ///< moment about the middle of the cut, across the shank, N mm
  double shortening = 0;             ///< mm
};
BoltResultant boltResultant(const Problem& problem, const Bolt& bolt, const VectorXd& u);

}  // namespace anvil::analysis
