// Mortar integration in space: over the overlap of a slave face with a master face, and over a slave face against a
// rigid body; weighted gaps and slips, contact forces, and their exact derivatives.
//
// Facing (M. Puso, T. Laursen, CMAME 193, 2004): both faces are projected on the plane through the slave face's middle,
// the polygons are clipped, the overlap is cut into triangles and integrated there. Each point is taken back to the slave
// face along the plane's normal and to the master along the slave's own normal, so that the two tractions of a point pair
// lie on one line and angular momentum is conserved. All of it, the corners of the overlap included, is differentiated.
#pragma once
#include <Eigen/Core>
#include <array>
#include <vector>

#include "core/contact/surface.hpp"

namespace anvil::contact {

/// A face with the places of its nodes now and at the start of the increment.
struct SpaceFace {
  int corners = 4, nodes = 4;
  std::array<Point3, 8> now, before;
  std::array<double, 3> sag{0, 0, 0};  ///< see Side
};

/// Tractions at the slave's corner nodes: pressure, and friction as a vector (of which the part along the face counts).
struct CornerTraction {
  double pressure = 0;
  Point3 friction{0, 0, 0};
};

/// Integrals for the slave's corner nodes A, weighted by their linear shape functions N_A. Local dofs: the slave's nodes,
/// then the master's or the rigid body's six, three components each. Friction rows are there only when asked for.
struct FaceIntegral {
  bool touched = false;
  int dofs = 0, corners = 0;
  std::array<double, 4> kappa{}, gap{};
  std::array<Point3, 4> slip;
  Eigen::Matrix4d mass = Eigen::Matrix4d::Zero();      ///< ∫ N_A N_B dΓ
  Eigen::Vector4d area = Eigen::Vector4d::Zero();      ///< facing: ∫ M_B dΓ of the master's corners B
  Eigen::Matrix4d onMaster = Eigen::Matrix4d::Zero();  ///< ∫ M_B N_A dΓ, row B
  Eigen::MatrixXd dKappa, dGap, normal;                ///< dofs x corners
  Eigen::MatrixXd dSlip, tangential;                   ///< dofs x (3 corners)
  Eigen::VectorXd force;                               ///< at the given tractions
  Eigen::MatrixXd stiffness;                           ///< its derivative at fixed tractions
  double leastGap = 1e300;
  double closest = 1e300;                          ///< facing: as leastGap, between the true surfaces over the faces
  std::array<double, 4> lookedOver{}, distance{};  ///< ∫ N_A dΓ and ∫ N_A g dΓ over all that is within reach
};

/// Deformable against deformable. Gaps above `reach` are not looked at. False when the faces do not overlap. What is not
/// asked for is left empty: `forces` alone are a fraction of the work, `rows` are `normal` and `tangential`, too.
enum class Depend { forces, rows, slopes };
bool integrateFaces(const SpaceFace& slave, const SpaceFace& master, const std::array<CornerTraction, 4>& traction, double reach,
                    bool friction, FaceIntegral& out, Depend depend = Depend::slopes);

/// A point that two faces have in common while they hold each other (tied, sticking), on the one and on the other; and its
/// weight, as a share of the size |x,ξ × x,η| of the slave there.
struct HeldPoint {
  Eigen::Vector2d xi, eta;
  double share;
};

/// The points of what two faces had in common at the start of the increment. Empty when they did not overlap.
std::vector<HeldPoint> pointsHeld(const SpaceFace& slave, const SpaceFace& master, double reach);

/// Integrals over points that stay with the material on both sides, which is what they do as long as nothing slides; the gap is
/// taken along the slave's normal. Its derivatives are exact, too.
bool integrateHeld(const SpaceFace& slave, const SpaceFace& master, const std::vector<HeldPoint>& points,
                   const std::array<CornerTraction, 4>& traction, bool friction, FaceIntegral& out,
                   Depend depend = Depend::slopes);

/// As `integrateFaces` where nothing touches: the values alone, of tractions that are zero, without slips or forces (no dofs).
bool lookAtFaces(const SpaceFace& slave, const SpaceFace& master, double reach, FaceIntegral& out);

/// Place of a rigid body in space: translation, then rotation vector, now and at the start of the increment.
struct SpacePlace {
  Eigen::Matrix<double, 6, 1> now = Eigen::Matrix<double, 6, 1>::Zero(), before = now;
};

/// Deformable against a rigid body.
bool integrateFaceRigid(const SpaceFace& slave, const RigidBody& body, const SpacePlace& place,
                        const std::array<CornerTraction, 4>& traction, double reach, bool friction, FaceIntegral& out,
                        Depend depend = Depend::slopes);

}  // namespace anvil::contact
