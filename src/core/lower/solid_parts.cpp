#include "core/lower/solid_parts.hpp"

#include <algorithm>
#include <set>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/geometry/sheet.hpp"
#include "core/geometry/wall.hpp"
#include "core/lower/lower.hpp"
#include "core/lower/near_sizes.hpp"
#include "core/mesh/face_sheet.hpp"
#include "core/mesh/free.hpp"
#include "core/mesh/thin.hpp"
#include "core/model/document.hpp"
#include "core/model/features.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"

namespace anvil::analysis {

using Eigen::Vector3d;
using model::Document;
using model::Quantities;

namespace {

/// Element sizes on faces, by the face's name or its feature's.
std::vector<double> sizesOnFaces(const model::Part& part, const geometry::Solid& solid, const Quantities& q,
                                 const std::string& path) {
  std::vector<double> sizes(solid.faces().size(), 0);
  for (const auto& [name, entry] : part.faceSizes) {
    const double h = q(entry, Kind::length, path + "/" + name);
    if (!(h > 0)) throw Error("the element size is " + shortNumber(h) + " mm", path + "/" + name, "Give a value above zero.");
    bool any = false;
    std::vector<std::string> known;
    for (size_t i = 0; i < sizes.size(); ++i) {
      const auto& face = solid.faces()[i].name;
      known.push_back(face);
      if (face == name || face.starts_with(name + ".")) sizes[i] = h, any = true;
    }
    if (any) continue;
    const auto near = nearest(name, known);
    throw Error("there is no face '" + name + "' of this part", path + "/" + name,
                near.empty() ? "Faces: " + inProse(known) + "." : "Did you mean '" + near + "'?");
  }
  return sizes;
}

mesh::FreeSizes sizesOf(const model::Part& part, const geometry::Solid& solid, const Document& d, const Quantities& q,
                        const std::string& path) {
  const double size = q.orElse(part.mesh.size, Kind::length, 0, path + "/mesh/size");
  if (part.mesh.size.given() && !(size > 0))
    throw Error("the element size is " + shortNumber(size) + " mm", path + "/mesh/size", "Give a value above zero.");
  const auto [factor, perCircle] = fineness(d);
  mesh::FreeSizes sizes{
      size, sizesOnFaces(part, solid, q, path + "/sizes"), factor, perCircle, {}, part.element, d.fineness == "draft"};
  const auto placed = geometry::placement(part, q, true, path);
  for (auto& n : nearSizes(part, q, path)) sizes.near.push_back({placed(n.at), n.within, n.size});
  return sizes;
}

/// Numbers of the faces that make a thin part, by name of a face or of a feature.
std::vector<int> facesNamed(const std::vector<std::string>& names, const geometry::Solid& solid, const std::string& path) {
  std::set<int> faces;
  std::vector<std::string> known;
  for (const auto& f : solid.faces()) known.push_back(f.name);
  for (size_t k = 0; k < names.size(); ++k) {
    bool any = false;
    for (size_t f = 0; f < known.size(); ++f)
      if (known[f] == names[k] || known[f].starts_with(names[k] + ".")) faces.insert(int(f)), any = true;
    if (any) continue;
    const auto near = nearest(names[k], known);
    throw Error("there is no face '" + names[k] + "' of this part", path + "/" + std::to_string(k + 1),
                near.empty() ? "Faces: " + inProse(known) + "." : "Did you mean '" + near + "'?");
  }
  return {faces.begin(), faces.end()};
}

/// A thin part on faces of its solid.
void addThinSolid(mesh::Mesh& mesh, int index, const model::Part& part, const geometry::Solid& solid,
                  const mesh::FreeSizes& sizes, const Quantities& q, const std::string& path, const mesh::Working& working) {
  model::Thin thin = *part.thin;
  if (part.element != "auto")
    throw Error("a thin part has cells of its own", path + "/element", "Take \"element\" out; \"cells\" may be triangles.");
  auto faces = facesNamed(thin.faces, solid, path + "/thin/faces");
  if (faces.empty() && solid.sheet()) {
    for (size_t f = 0; f < solid.faces().size(); ++f) faces.push_back(int(f));
  } else if (faces.empty()) {
    const auto wall = geometry::wallOf(solid);
    if (!wall)
      throw Error("the solid is no wall of one thickness, so its sides are not known", path + "/thin/faces",
                  "Name the faces that make the sheet.");
    faces = wall->faces, thin.given = "upper";
    if (!thin.thickness.given()) thin.thickness = wall->thickness;
  }
  const auto sides = geometry::sheetSides(thin, q, path + "/thin");
  const int through = q.whole(thin.points, mesh::fewestThrough, mesh::mostThrough, path + "/thin/points", true);
  for (int f : faces)
    if (const auto& face = solid.faces()[size_t(f)]; face.radius > 0 && face.radius < 2 * sides.thickness() * (1 - 1e-9))
      throw Error("the sheet is " + shortNumber(sides.thickness()) + " mm thick, more than half of the radius " +
                      shortNumber(face.radius) + " mm of the face '" + face.name + "'",
                  path + "/thin/thickness", "Make it thinner or the radius larger, or model the part as a solid.");
  mesh::addFaceSheet(mesh, index, solid, faces, sizes, sides, through, path, working);
  if (thin.cells == "triangles") mesh::splitIntoTriangles(mesh, index);
}

}  // namespace

void addSolid(mesh::Mesh& mesh, int index, const Document& d, const Quantities& q, const std::string& path,
              const mesh::Working& working, const SolidNamed& solidNamed) {
  const auto& name = d.parts[size_t(index)].first;
  const auto part = withFittedBolts(d.parts[size_t(index)].second, q, solidNamed, path);
  if (mesh.dim != 3)
    throw Error("the part is a solid, the model is plane", path + "/solid", "Set \"space\": \"solid\", or draw a shape.");
  if (!part.shape.empty() || part.extrude || part.revolve || part.coil || part.along)
    throw Error("the part has shapes and a solid", path + "/solid", "Keep one of them.");
  if (const std::vector<std::string> fitting{"auto", "tet10", "hex20", "hex8"};
      std::find(fitting.begin(), fitting.end(), part.element) == fitting.end())
    throw Error("'" + part.element + "' does not fill a solid", path + "/element",
                "Take tet10; hex20 or hex8 where it can be swept; or auto.");
  if (!part.mesh.count.empty() || !part.mesh.grading.empty())
    throw Error("a solid is divided by element sizes, not by counts", path + "/mesh", "Give \"size\".");
  const auto solid = geometry::solid(part, q, d.home.folder, path);
  const auto sizes = sizesOf(part, solid, d, q, path);
  const mesh::Working told = [&, part = name](const std::string& stage) {
    return !working || working(stage.empty() ? stage : part + ": " + stage);
  };
  if (part.thin)
    addThinSolid(mesh, index, part, solid, sizes, q, path, told);
  else
    mesh::addFree(mesh, index, solid, sizes, path, told);
}

}  // namespace anvil::analysis
