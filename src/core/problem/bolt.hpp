// Bolts: a shank that is cut across, or a beam, and what each step asks of it.
#pragma once
#include <Eigen/Core>
#include <cmath>
#include <optional>
#include <string>
#include <vector>

namespace anvil::analysis {

using Eigen::Vector3d;

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
  std::string name, entry;  ///< its own, and that of the bolt in the document that it comes from (one may make several)
  int cut = -1;             ///< in the mesh; a beam has none
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

}  // namespace anvil::analysis
