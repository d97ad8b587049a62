#include "core/mesh/part_mesh.hpp"

#include <algorithm>
#include <map>

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

void repeatPart(Mesh& mesh, int part, size_t firstNode, const std::vector<geometry::Placement>& places) {
  const std::vector<Eigen::Vector3d> own(mesh.x.begin() + std::ptrdiff_t(firstNode), mesh.x.end());
  for (size_t k = 1; k < places.size(); ++k)
    for (const auto& x : own) mesh.x.push_back(places[k](x));
  std::map<int, int> cells;  // of one copy, by block
  for (size_t i = 0; i < mesh.blocks.size(); ++i) {
    auto& block = mesh.blocks[i];
    if (block.part != part) continue;
    cells[int(i)] = int(block.count());
    const auto nodes = block.nodes;
    for (size_t k = 1; k < places.size(); ++k)
      for (int n : nodes) block.nodes.push_back(n + int(k * own.size()));
  }
  std::vector<Face> faces;
  for (const auto& face : mesh.faces)
    for (size_t k = 0; k < (face.part == part ? places.size() : 1); ++k) {
      auto copy = face;
      if (face.part == part) copy.name += " " + std::to_string(k + 1);
      if (face.part == part)
        for (auto& f : copy.facets) f.cell += int(k) * cells.at(f.block);
      faces.push_back(std::move(copy));
    }
  mesh.faces = std::move(faces);
}

}  // namespace anvil::mesh
