// Sectors that stand for a whole: their axis, and how often they go round.
#pragma once
#include <Eigen/Core>
#include <string>
#include <vector>

#include "core/mesh/mesh.hpp"
#include "core/model/forward.hpp"

namespace anvil::analysis {

struct Sector {
  Eigen::Vector3d axis{0, 0, 1}, about{0, 0, 0};
  Eigen::Matrix3d turn = Eigen::Matrix3d::Identity();  ///< lays the first cut face on the second
  int count = 1;                                       ///< of them make the whole
};

/// The sector between the two cut faces of a cyclic contact. Throws Error with the place in the document where they do not lie
/// alike about the axis, or at an angle that does not go into a full turn.
Sector sectorOf(const model::Contact& contact, const model::Document& document, const mesh::Mesh& mesh, const std::string& path);

/// Those of a document, each axis once; none where something about them is wrong.
std::vector<Sector> sectorsOf(const model::Document& document, const mesh::Mesh& mesh);

}  // namespace anvil::analysis
