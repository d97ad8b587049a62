// Symmetry planes of a model: flat faces that may not leave their plane, with all parts on one side.
#pragma once
#include <vector>

#include "core/mesh/mesh.hpp"
#include "core/model/forward.hpp"

namespace anvil::mesh {

/// A plane square to a coordinate axis (0 x, 1 y, 2 z).
struct MirrorPlane {
  int axis;
  double at;            ///< mm
  std::string support;  ///< that holds the faces in it
  bool operator==(const MirrorPlane&) const = default;
};

/// Planes about which a model may be mirrored: a support holds a flat face along its normal (and not otherwise) over all
/// steps, and no deformable part crosses the plane. The axis of revolution of axisymmetric models is no such plane.
/// @param mesh as built
std::vector<MirrorPlane> mirrorPlanes(const model::Document& document, const Mesh& mesh);

}  // namespace anvil::mesh
