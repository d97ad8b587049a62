#include "core/mesh/part_mesh.hpp"

#include <algorithm>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/mesh/mapped.hpp"
#include "core/mesh/simplex.hpp"
#include "core/mesh/sweep.hpp"

namespace anvil::mesh {

void addPart(Mesh& mesh, int part, const std::string& element, const std::vector<geometry::Block>& blocks,
             const geometry::Sweep& sweep, const geometry::Placement& placement, const std::string& path) {
  const bool solid = mesh.dim == 3;
  const std::vector<std::string> plane{"quad8", "quad4", "tri6"}, inSpace{"hex20", "hex8", "tet10"};
  const auto& fitting = solid ? inSpace : plane;
  if (element != "auto" && std::find(fitting.begin(), fitting.end(), element) == fitting.end())
    throw Error("'" + element + "' is no element of a " + (solid ? "solid" : "plane") + " model", path + "/element",
                "Take " + inProse(fitting) + ".");
  const bool swept = sweep.kind != geometry::Sweep::Kind::none;
  if (solid && !swept)
    throw Error("the part of a solid model has only a plane shape", path, "Add \"extrude\", \"revolve\", \"coil\" or \"along\".");
  if (!solid && swept) throw Error("only parts of solid models are swept", path, "Set \"space\": \"solid\".");
  const bool linear = element == "quad4" || element == "hex8";
  const size_t first = mesh.x.size();
  if (solid) {
    Mesh flat;
    flat.parts = mesh.parts;
    addMapped(flat, part, linear ? Cell::quad4 : Cell::quad8, blocks, path);
    addSwept(mesh, part, flat, sweep, path);
  } else {
    addMapped(mesh, part, linear ? Cell::quad4 : Cell::quad8, blocks, path);
  }
  if (element == "tri6" || element == "tet10") splitIntoSimplices(mesh, part);
  for (size_t i = first; i < mesh.x.size(); ++i) mesh.x[i] = placement(mesh.x[i]);
}

}  // namespace anvil::mesh
