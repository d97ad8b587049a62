// Mortar integration over one slave segment and what lies opposite it: weighted gaps, weighted slips and contact
// forces with their exact derivatives (forward automatic differentiation).
//
// The pressure p = Σ N_A λ_A is linear over each segment and carried by its two corner nodes A; gap and slip are
// weighted by the same N_A (M. Puso, T. Laursen, CMAME 193, 2004). Normals are those of the slave side, interpolated
// between nodes, so that the two tractions of a point pair lie on one line and angular momentum is conserved.
#pragma once
#include <Eigen/Core>
#include <array>
#include <cmath>
#include <vector>

#include "core/contact/surface.hpp"

namespace anvil::contact {

inline constexpr int maxDofs = 16;
using LocalVector = Eigen::Matrix<double, maxDofs, 1>;
using LocalMatrix = Eigen::Matrix<double, maxDofs, maxDofs>;

/// Scale of the integral: thickness, or 2πr.
struct Depth {
  bool axisymmetric = false;
  double thickness = 1;
};

/// A local node: place now and at the start of the increment.
struct LocalNode {
  Point2 now{0, 0}, before{0, 0};
};

/// Result for the two corner nodes of a slave segment.
struct SegmentIntegral {
  bool touched = false;  ///< anything within reach
  int dofs = 0;
  std::array<double, 2> kappa{0, 0};                ///< ∫ N_A dΓ
  std::array<double, 2> gap{0, 0}, slip{0, 0};      ///< weighted by N_A
  std::array<std::array<double, 2>, 2> mass{};      ///< ∫ N_A N_B dΓ
  std::array<double, 2> area{0, 0};                 ///< facing: ∫ M_B dΓ of the master's corners B
  std::array<std::array<double, 2>, 2> onMaster{};  ///< ∫ M_B N_A dΓ, row B: what the slave's λ_A brings to the master's corner B
  std::array<LocalVector, 2> dKappa, dGap, dSlip;  ///< derivatives with respect to the local dofs
  std::array<LocalVector, 2> normal, tangential;   ///< residual forces per unit λ_n, λ_t at A
  LocalVector force;                               ///< Σ λ_n normal + λ_t tangential
  LocalMatrix stiffness;                           ///< its derivative at fixed λ
  double leastGap = 1e300;
  std::array<double, 2> lookedOver{0, 0}, distance{0, 0};  ///< ∫ N_A dΓ and ∫ N_A g dΓ over all that is within reach
  void clear(int n);
};

/// Slave nodes: before, a, b, mid, after (absent ones repeat a neighbour and are flagged).
struct SlavePatch {
  bool quadratic = false, hasBefore = false, hasAfter = false;
  std::array<LocalNode, 5> node;  ///< [before, a, b, mid, after]
};

struct MasterPatch {
  bool quadratic = false;
  std::array<LocalNode, 3> node;
};

/// Deformable against deformable. Local dofs: [before, a, b, mid, after, m_a, m_b, m_mid] x (x, y).
/// `reach`: gaps above it are not looked at. Adds to `out` (cleared by the caller).
void integrateFacing(const SlavePatch& slave, const MasterPatch& master, const std::array<double, 2>& lambdaN,
                     const std::array<double, 2>& lambdaT, double reach, const Depth& depth, SegmentIntegral& out);

/// Place of a rigid body: translation and turn now and at the start of the increment.
struct RigidPlace {
  Eigen::Vector3d now{0, 0, 0}, before{0, 0, 0};
};

/// Where gaps count: fully up to a twenty-fifth of the side's length, fading to nothing at an eighth of it. What lies further off
/// does not hold off what touches: a rigid radius smaller than the side comes to rest at the same depth wherever on it it stands.
struct Nearness {
  double full = 0, none = 0;
  static Nearness of(double length) { return {0.04 * length, 0.125 * length}; }
  template <class T>
  T weight(const T& gap) const {  // smooth: its slope ends in 0 on both sides
    const T t = (none - gap) * (1 / (none - full));
    return t * t * (3. - t * 2.);
  }
};

/// How far pressure acts along the normal of a side of this length, not along that of the rigid body: 1 under what is round and
/// small against the side (its curvature is meant), 0 under what is flat. Pressures on a side are spread over more of it than
/// what touches in truth, and lie to one side of the middle of that, between one node and the next; round a small radius that
/// would turn the force.
inline double leadOfSide(double length, double curvature) {
  const double t = std::pow(4 * length * curvature, 4);
  return t / (1 + t);
}

/// Deformable against a rigid outline: over the parts of the side that are near it. Local dofs: [before, a, b, mid, after] x
/// (x, y), then the body's (ux, uy, turn) at 10..12. Pressure acts along the body's normal, under radii that are small against
/// the side along the side's, smoothed from one to the next.
void integrateRigid(const SlavePatch& slave, const RigidBody& body, const RigidPlace& place, const std::array<double, 2>& lambdaN,
                    const std::array<double, 2>& lambdaT, double reach, const Depth& depth, SegmentIntegral& out);

}  // namespace anvil::contact
