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
#include <cmath>
#include <optional>
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
  double value = 0;  ///< force at the step's end, N; or shortening within the step, mm
};

/// A shank that is not meshed: an elastic beam with shear (S. Timoshenko, 1921) between two carriers' points, whose ends turn
/// little against its chord (corotational: M. Crisfield, CMAME 81, 1990). Its energy with the stretch s = l - L + δ, the ends'
/// turns φ against the chord in two planes and the twist ψ is ½ a s² + Σ b/(1+Φ) [(4+Φ)(φ1² + φ2²)/2 + (2-Φ) φ1 φ2] + ½ t ψ².
struct BeamShank {
  int head = -1, nut = -1;                                  ///< bodies
  Vector3d axis{0, 0, 1}, second{1, 0, 0}, third{0, 1, 0};  ///< undeformed frame, from head to nut
  double length = 1;                                        ///< mm
  double axial = 0, bending = 0, twist = 0;                 ///< a = EA/L N/mm; b = EI/L and t = GJ/L, N mm
  double shear = 0;                                         ///< Φ = 12 EI / (G A k L²)
};

struct Bolt {
  std::string name;
  int cut = -1;  ///< in the mesh; a beam has none
  std::optional<BeamShank> beam;
  std::vector<Vector3d> mirrors;  ///< normals of the symmetry planes that cut it, where its forces are those of the whole bolt
  /// What of the whole bolt is modelled.
  double share() const { return std::pow(0.5, double(mirrors.size())); }
  int first = -1;                 ///< dof of the first unknown
  double scale = 1;               ///< N/mm
  std::vector<BoltStage> stages;  ///< per step
  int pairs = 0;

  int lambda(int pair) const { return first + 3 * pair; }
  int shift() const { return first + 3 * pairs; }
  int kappa() const { return shift() + 3; }
  int shortening() const { return beam ? first : shift() + 6; }
  int force() const { return shortening() + 1; }
  int unknowns() const { return beam ? 2 : 3 * pairs + 8; }
  /// Unknowns that are no multipliers: the shift and the shortening.
  int lengths() const { return beam ? 1 : 4; }
};

/// What a bolt is driven to: in steps that tighten a force (N), else a shortening (mm).
struct BoltAim {
  bool force;
  double value;
};
BoltAim boltAim(const Bolt& bolt, const Moment& moment);

/// Residual and tangent of a beam, as below.
void beamParts(const Problem& problem, const Bolt& bolt, const VectorXd& u, const Moment& moment, bool tangent,
               std::vector<contact::Contribution>& out);

/// Residual and tangent of a bolt at displacements `u` (all dofs), appended to `out`.
void boltParts(const Problem& problem, const Bolt& bolt, const VectorXd& u, const Moment& moment, bool tangent,
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
