// What one slave side and what lies opposite it bring to a contact, in the plane and in space alike.
#pragma once
#include <Eigen/Core>
#include <array>
#include <vector>

#include "core/contact/pair.hpp"

namespace anvil::contact {

/// Integrals of one slave side against one facing side or a rigid body, for the side's corner nodes, on global dofs.
struct SideIntegral {
  std::vector<int> dofs;
  bool touched = false;
  double leastGap = 1e300, closest = 1e300;  // see FaceIntegral
  int corners = 2;
  std::array<double, 4> kappa{}, gap{};
  std::array<Point3, 4> slip;
  Eigen::Matrix4d mass = Eigen::Matrix4d::Zero(), onMaster = Eigen::Matrix4d::Zero();  // see FaceIntegral
  Eigen::Vector4d area = Eigen::Vector4d::Zero();
  std::array<double, 4> lookedOver{}, distance{};           // weights and gaps of all that is within reach, near or not
  Eigen::MatrixXd dKappa, dGap, normal, dSlip, tangential;  // per dof; friction columns T per corner
  Eigen::VectorXd force;
  Eigen::MatrixXd stiffness;
};

/// What is known of the pair where a side is integrated.
struct SideContext {
  const PairSetup& setup;
  const Configuration& place;
  bool friction = false;
  /// Pressure and friction at a corner of the slave surface.
  std::function<const NodeState&(int corner)> state;
};

/// What of a side is wanted (see Depend); the plane brings all in any case.
enum class Wanted { distance, forces, rows, slopes };

/// Integrates a slave side against the rigid body, or in the plane against a facing side (index into the master's sides; -1: the
/// rigid body).
SideIntegral integrateSide(const SideContext& context, size_t side, int facing, Wanted wanted);

/// In space between bodies: the points of two sides as they are now, or were at the start of the increment.
FacePoints pointsShared(const SideContext& context, size_t side, int facing, bool atStart);

/// In space between bodies: integrates a slave side against one that it meets.
SideIntegral integrateMeeting(const SideContext& context, size_t side, const Meeting& meeting, Follow follow, Wanted wanted);

/// A surface against itself: sides of one body that lie back to back through its wall within a distance, and the thinnest
/// such wall (1e300 when there is none).
struct Walls {
  std::vector<std::vector<int>> behind;  ///< per side, later sides, sorted
  double thickness = 1e300;
};
Walls wallsOf(const Surface& surface, const mesh::Mesh& mesh, double within);

/// Indices of the master's sides near each slave side over the way of the increment, by a tree of boxes that are larger by
/// `margin`; {-1} stands for the rigid body.
std::vector<std::vector<int>> facingSides(const PairSetup& setup, const Configuration& c, double margin = 0);

/// Sides of the slave that points of the rigid body go through in the increment, to deeper than `depth` mean edges.
std::vector<int> sidesGoneThrough(const PairSetup& setup, const Configuration& c, double depth);

}  // namespace anvil::contact
