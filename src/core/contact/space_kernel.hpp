// Mortar integration in space: over the overlap of a slave face with a master face, and over a slave face against a
// rigid body; weighted gaps and slips, contact forces, and their exact derivatives.
//
// Facing (M. Puso, T. Laursen, CMAME 193, 2004): both faces are projected on the plane through the slave face's middle,
// the polygons are clipped, the overlap is cut into triangles and integrated there. Each point is taken back to the slave
// face along the plane's normal and to the master along the slave's own normal, so that the two tractions of a point pair
// lie on one line and angular momentum is conserved. All of it, the corners of the overlap included, can be differentiated.
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

/// What of the integrals is asked for, the rest is left empty. `slopes`: all. `rows`: no derivatives. `forces`: nor `normal` and
/// `tangential`. `distance`: of tractions that are zero, without slips, forces and dofs.
enum class Depend { distance, forces, rows, slopes };

/// A point that two faces share, on the one and on the other; and its weight, as a share of the size |x,ξ × x,η| of the slave
/// there.
struct FacePoint {
  Eigen::Vector2d xi, eta;
  double share;
};

/// The points that two faces share where they are.
struct FacePoints {
  std::vector<FacePoint> points;
  double reach = 0;                          ///< gaps above are not looked at
  double covered = 0;                        ///< how much of the slave, seen along its normal; 0 where a point was left out
  double leastGap = 1e300, closest = 1e300;  ///< see FaceIntegral; of all that was looked at, also what does not count
  bool empty() const { return points.empty() && leastGap == 1e300; }
};
FacePoints pointsShared(const SpaceFace& slave, const SpaceFace& master, double reach);

/// What the points follow when nodes move. `held`: the material of both faces, as long as these hold each other (tied, sticking);
/// the points may be those of an earlier place. `sliding`: the slave's material, and the place on the master that its normal
/// meets. Over all the masters that cover a slave face the slopes are those of the integral but for the rule's own error: what
/// moves through the border of two masters is lost to one and won by the other. `anew`: the overlap of the two as it changes,
/// which is exact for each pair, and dear.
enum class Follow { held, sliding, anew };

/// Deformable against deformable, over the points that they share. False when there are none.
bool integratePoints(const SpaceFace& slave, const SpaceFace& master, const FacePoints& shared, Follow follow,
                     const std::array<CornerTraction, 4>& traction, bool friction, FaceIntegral& out,
                     Depend depend = Depend::slopes);

/// The same, over the points they share now, and anew.
bool integrateFaces(const SpaceFace& slave, const SpaceFace& master, const std::array<CornerTraction, 4>& traction, double reach,
                    bool friction, FaceIntegral& out, Depend depend = Depend::slopes);

/// Place of a rigid body in space: translation, then rotation vector, now and at the start of the increment.
struct SpacePlace {
  Eigen::Matrix<double, 6, 1> now = Eigen::Matrix<double, 6, 1>::Zero(), before = now;
};

/// Deformable against a rigid body.
bool integrateFaceRigid(const SpaceFace& slave, const RigidBody& body, const SpacePlace& place,
                        const std::array<CornerTraction, 4>& traction, double reach, bool friction, FaceIntegral& out,
                        Depend depend = Depend::slopes);

}  // namespace anvil::contact
