#include "core/mesh/face_sheet.hpp"

#include <Eigen/Geometry>
#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/cache.hpp"
#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/mesh/thin.hpp"
#include "core/mesh/ways_across.hpp"
#include "core/mesh/worker_mesh.hpp"

namespace anvil::mesh {
namespace {

using Eigen::Vector3d;
using Json = nlohmann::json;

constexpr double soundSheet = 0.2;  // least scaled Jacobian that is not tried to be made better
constexpr double solvableSheet = 0.05;

Json quadsByWorker(const geometry::Solid& solid, const std::vector<int>& faces, Json wishes, const std::string& path,
                   const Working& working) {
  wishes["element"] = "sheet", wishes["sheet"] = faces, wishes["seconds"] = 120;
  const std::string key = digestOf("4 " + wishes.dump() + solid.brep());
  if (const auto before = kept("meshes", key))
    if (Json j = Json::from_cbor(*before, true, false); j.is_object() && j.contains("cells")) return j;
  Json best, failure;
  for (const double factor : {1., 0.7, 0.5}) {
    Json now = wishes;
    now["size"] = wishes["size"].get<double>() * factor;
    for (auto& h : now["face sizes"]) h = h.get<double>() * factor;
    Json j = askedOfWorker(solid, now, path, working);
    if (j.contains("error"))
      failure = j;
    else if (best.is_null() || j.value("worst", 0.) > best.value("worst", 0.))
      best = std::move(j);
    if (!best.is_null() && best.value("worst", 0.) > soundSheet) break;
  }
  if (best.is_null()) {
    std::string where;
    for (int f : failure.value("faces", std::vector<int>{}))
      if (f >= 0 && size_t(f) < solid.faces().size())
        where += (where.empty() ? ": '" : ", '") + solid.faces()[size_t(f)].name + "'";
    throw Error(failure["error"].get<std::string>() + where, path,
                "Make a part of each face and tie them, or give a smaller element size.");
  }
  if (best.value("worst", 0.) < solvableSheet) {
    const std::vector<double> x = best["worst place"];
    throw Error("no sound quads were found: the worst is near " + shortNumber(x[0], 4) + ", " + shortNumber(x[1], 4) + ", " +
                    shortNumber(x[2], 4) + " mm",
                path, "Give a smaller element size there, or take small edges out of the shape.");
  }
  const auto packed = Json::to_cbor(best);
  keep("meshes", key, {packed.begin(), packed.end()}, 60);
  return best;
}

}  // namespace

void addFaceSheet(Mesh& mesh, int part, const geometry::Solid& solid, const std::vector<int>& faces, const FreeSizes& sizes,
                  const geometry::SheetSides& sides, int through, const std::string& path, const Working& working) {
  double area = 0;
  for (int f : faces) area += solid.faces()[size_t(f)].area;
  const double size = sizes.factor * (sizes.size > 0 ? sizes.size : std::sqrt(area) / 20);
  Json wishes = sizeWishes(sizes, size);
  const double least = wishes["smallest"];
  // beside a sharp fold the inner side of an element is shorter by the thickness
  wishes["smallest"] = std::max(least / 6, std::min(least / 2, sides.thickness()));
  wishes["grading"] = 0.3, wishes["per circle"] = 1.5 * sizes.perCircle;
  if (!(area / (least * least) < 2e6))
    throw Error("an element size of " + shortNumber(least, 3) + " mm would make millions of elements", path + "/mesh/size",
                "Take a larger one; check its unit.");
  const Json j = quadsByWorker(solid, faces, wishes, path, working);
  const std::vector<double> x = j.at("x"), normals = j.at("normals");
  const std::vector<int> on = j.at("face"), rims = j.at("rims");
  DrawnQuads drawn;
  const auto vectors = [](const std::vector<double>& v) {
    std::vector<Vector3d> list;
    for (size_t i = 0; i + 2 < v.size(); i += 3) list.emplace_back(v[i], v[i + 1], v[i + 2]);
    return list;
  };
  drawn.x = vectors(x), drawn.normals = vectors(normals), drawn.cells = j.at("cells").get<std::vector<int>>(), drawn.face = on;
  const auto& cells = drawn.cells;
  const auto across = waysAcross(drawn, std::max(-sides.lower, sides.upper), path + "/thin");
  const size_t count = drawn.x.size(), first = mesh.x.size();
  for (const double distance : {sides.lower, sides.upper})
    for (size_t n = 0; n < count; ++n) mesh.x.emplace_back(drawn.x[n] + distance * across[n]);
  const std::string name = mesh.parts[size_t(part)];
  const int block = int(mesh.blocks.size());
  std::map<std::string, size_t> known;
  const auto put = [&](const std::string& face, const Facet& facet) {
    const auto [it, fresh] = known.try_emplace(face, mesh.faces.size());
    if (fresh) mesh.faces.push_back({name + "." + face, part, {}});
    mesh.faces[it->second].facets.push_back(facet);
  };
  Block b{Cell::hex8, part, {}};
  for (size_t c = 0; c < cells.size() / 4; ++c) {
    for (const size_t level : {first, first + count})
      for (size_t i = 0; i < 4; ++i) b.nodes.push_back(int(level) + cells[4 * c + i]);
    const std::string& face = solid.faces()[size_t(on[c])].name;
    put("lower", {block, int(c), 0}), put("upper", {block, int(c), 1});
    put(face + " lower", {block, int(c), 0}), put(face + " upper", {block, int(c), 1});
  }
  for (size_t k = 0; k < rims.size(); k += 3)
    put(rims[k + 2] >= 0 ? solid.faces().at(size_t(rims[k + 2])).name : "edge " + std::to_string(-rims[k + 2]),
        {block, rims[k], rims[k + 1] + 2});
  mesh.blocks.push_back(std::move(b));
  makeThin(mesh, part, through, sides.thickness(), path);
}

}  // namespace anvil::mesh
