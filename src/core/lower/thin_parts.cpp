#include "core/lower/thin_parts.hpp"

#include "core/base/error.hpp"
#include "core/geometry/sheet.hpp"
#include "core/lower/lower.hpp"
#include "core/lower/near_sizes.hpp"
#include "core/mesh/mapped.hpp"
#include "core/mesh/near_sheet.hpp"
#include "core/mesh/sweep.hpp"
#include "core/mesh/thin.hpp"
#include "core/model/document.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"

namespace anvil::analysis {

void addThin(mesh::Mesh& mesh, int index, const model::Document& d, const model::Quantities& q, const std::string& path) {
  const auto& [name, part] = d.parts[size_t(index)];
  const auto& thin = *part.thin;
  if (mesh.dim != 3)
    throw Error("the part is thin, the model is plane", path + "/thin",
                "Set \"space\": \"solid\"; in plane models draw the sheet's section.");
  if (part.element != "auto")
    throw Error("a thin part has cells of its own", path + "/element", "Take \"element\" out; \"cells\" may be triangles.");
  const auto sides = geometry::sheetSides(thin, q, path + "/thin");
  const int through = q.whole(thin.points, mesh::fewestThrough, mesh::mostThrough, path + "/thin/points", true);
  const auto [factor, perCircle] = fineness(d);
  const size_t first = mesh.x.size();
  auto sweep = geometry::sweep(part, q, path);
  mesh::Mesh plane;
  plane.parts = mesh.parts;
  if (sweep.kind == geometry::Sweep::Kind::none) {
    auto blocks = geometry::blocks(part, q, path);
    scale(blocks, sweep, factor);
    mesh::addMapped(plane, index, mesh::Cell::quad4, blocks, path);
    mesh::addFlatSheet(mesh, index, plane, sides, through, path);
  } else {
    std::vector<geometry::Block> none;
    scale(none, sweep, factor);
    auto line = geometry::sheetLine(part, q, {factor, 2 * perCircle}, path);
    const bool axis = sweep.kind == geometry::Sweep::Kind::revolve;
    auto strip = mesh::strip(line, sides, name, axis, path);
    if (auto near = nearSizes(part, q, path); !near.empty()) {
      for (auto& n : near) n.size *= factor;
      mesh::refineNear(line, sweep, mesh::layersOf(strip, sweep), near, path);
      strip = mesh::strip(line, sides, name, axis, path);
    }
    mesh::addSweptSheet(mesh, index, strip, sweep, sides, through, path);
  }
  if (thin.cells == "triangles") mesh::splitIntoTriangles(mesh, index);
  const auto placed = geometry::placement(part, q, true, path);
  for (size_t i = first; i < mesh.x.size(); ++i) mesh.x[i] = placed(mesh.x[i]);
}

}  // namespace anvil::analysis
