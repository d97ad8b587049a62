// Meshes of solids of any shape, by a worker process: swept hexes where the solid is a figure pulled straight, 10-node tetrahedra
// in all others.
#pragma once
#include <string>
#include <vector>

#include "core/geometry/solid.hpp"
#include "core/mesh/mesh.hpp"
#include "core/mesh/working.hpp"

namespace anvil::mesh {

/// What is asked of a free mesh; lengths in mm.
struct FreeSizes {
  double size = 0;              ///< edge length of tetrahedra; 0: chosen from the solid's volume
  std::vector<double> onFaces;  ///< per face of the solid; 0: as the rest
  double factor = 1;            ///< on all of them, the chosen size too
  int perCircle = 12;           ///< edges round a full circle of a curved face, at least
  struct Near {
    Eigen::Vector3d at;
    double within, size;
  };
  std::vector<Near> near = {};    ///< smaller elements round places
  std::string element = "tet10";  ///< "tet10", "hex20", "hex8"; "auto": hex20 where the solid can be swept, else tet10
  bool rough = false;  ///< a mesh to try things with: of solids of more than 200 faces sizes change fast, and it is improved once
};

/// Adds a part. Its faces are named "part.feature.face". The same solid and sizes give the same mesh at once: meshes are kept
/// in the user's cache folder. Throws Error naming `path` when the mesher refuses, is missing, dies or is told to end.
void addFree(Mesh& mesh, int part, const geometry::Solid& solid, const FreeSizes& sizes, const std::string& path,
             const Working& working = {});

/// The size taken where none is given: about a dozen tetrahedra along the edge of a cube of the same volume, but at least
/// two across a solid as thin as its volume and surface say.
double usualSize(const geometry::Solid& solid);

}  // namespace anvil::mesh
