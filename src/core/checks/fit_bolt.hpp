// A bolt for a hole: as long as the parts it goes through, as thick as the hole allows.
#pragma once
#include <string>

#include "core/mesh/mesh.hpp"
#include "core/model/forward.hpp"

namespace anvil::checks {

/// What a bolt in a hole is like; lengths in mm.
struct HoleFit {
  Eigen::Vector3d from{0, 0, 0}, to{0, 0, 0};  ///< the outer ends of the holes along the axis, the upper one first
  double hole = 0, diameter = 0;               ///< of the hole; of the bolt
  std::vector<std::string> holes;              ///< round faces it goes through, of all parts
};

/// The fit to a round inner face and all others on its axis. The diameter is the largest usual one (3, 4, 5, 6, 8, 10, 12, 16,
/// 20, 24, 30 …) below the hole's. Throws Error when the face is no hole.
HoleFit fitToHole(const mesh::Mesh& mesh, const std::string& face);

/// Adds a bolt as a part of its own with a solid shank, head and nut, and its tightening in the first step. Returns its name.
std::string addBolt(model::Document& document, const HoleFit& fit);

}  // namespace anvil::checks
