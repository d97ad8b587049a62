#include "core/mesh/face_sheet.hpp"

#include <Eigen/Geometry>
#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/cache.hpp"
#include "core/base/dense.hpp"
#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/mesh/thin.hpp"
#include "core/mesh/worker_mesh.hpp"

namespace anvil::mesh {
namespace {

using Eigen::Vector3d;
using Json = nlohmann::json;

constexpr double soundSheet = 0.2;  // least scaled Jacobian that is not tried to be made better
constexpr double solvableSheet = 0.05;

/// The way across at a node where faces of these normals meet: both sides stay at their distance from each of them.
Vector3d mitred(const std::vector<Vector3d>& normals, const Vector3d& at, const std::string& path) {
  std::vector<Vector3d> faces;  // those that go on smoothly are one
  for (const auto& n : normals) {
    const auto same = std::find_if(faces.begin(), faces.end(), [&](const Vector3d& f) { return f.normalized().dot(n) > 0.96; });
    same == faces.end() ? faces.push_back(n) : void(*same += n);
  }
  for (auto& f : faces) f.normalize();
  for (const auto& a : faces)
    for (const auto& b : faces)
      if (a.dot(b) < -0.87)
        throw Error("the sheet is folded back on itself near " + shortNumber(at.x(), 4) + ", " + shortNumber(at.y(), 4) + ", " +
                        shortNumber(at.z(), 4) + " mm",
                    path, "A sheet can be folded by up to 150 degrees; round the fold.");
  Eigen::MatrixXd A = Eigen::MatrixXd::Zero(3, 3);  // of the shortest way m with m·n = 1 for all: in the normals' own span
  Vector3d b = Vector3d::Zero();
  for (const auto& f : faces) A += f * f.transpose(), b += f;
  const auto modes = symmetricModes(A);
  Vector3d m = Vector3d::Zero();
  for (int k = 0; k < 3; ++k)
    if (modes.values[k] > 0.02) m += modes.vectors.col(k) * modes.vectors.col(k).dot(b) / modes.values[k];
  return m;
}

Json quadsByWorker(const geometry::Solid& solid, const std::vector<int>& faces, Json wishes, const std::string& path,
                   const Working& working) {
  wishes["element"] = "sheet", wishes["sheet"] = faces, wishes["seconds"] = 120;
  const std::string key = digestOf("1 " + wishes.dump() + solid.brep());
  if (const auto before = kept("meshes", key))
    if (Json j = Json::from_cbor(*before, true, false); j.is_object() && j.contains("cells")) return j;
  Json best, failure;
  for (const double factor : {1., 0.7, 0.5}) {
    Json now = wishes;
    for (const char* k : {"size", "smallest"}) now[k] = wishes[k].get<double>() * factor;
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
  double least = size;
  std::vector<double> onFaces = sizes.onFaces;
  for (double& h : onFaces)
    if (h > 0) least = std::min(least, h *= sizes.factor);
  Json wishes{
      {"size", size}, {"smallest", least / 6}, {"face sizes", onFaces}, {"grading", 0.3}, {"per circle", 2 * sizes.perCircle}};
  for (const auto& n : sizes.near) wishes["near"].push_back({n.at.x(), n.at.y(), n.at.z(), n.within, n.size * sizes.factor});
  if (!(area / (least * least) < 2e6))
    throw Error("an element size of " + shortNumber(least, 3) + " mm would make millions of elements", path + "/mesh/size",
                "Take a larger one; check its unit.");
  const Json j = quadsByWorker(solid, faces, wishes, path, working);
  const std::vector<double> x = j.at("x"), normals = j.at("normals");
  const std::vector<int> cells = j.at("cells"), on = j.at("face"), rims = j.at("rims");
  const size_t count = x.size() / 3, first = mesh.x.size();
  std::vector<std::vector<Vector3d>> around(count);
  for (size_t k = 0; k < cells.size(); ++k)
    around[size_t(cells[k])].emplace_back(normals[3 * k], normals[3 * k + 1], normals[3 * k + 2]);
  std::vector<Vector3d> across;
  for (size_t n = 0; n < count; ++n) across.push_back(mitred(around[n], {x[3 * n], x[3 * n + 1], x[3 * n + 2]}, path + "/thin"));
  for (const double distance : {sides.lower, sides.upper})
    for (size_t n = 0; n < count; ++n) mesh.x.emplace_back(Vector3d(x[3 * n], x[3 * n + 1], x[3 * n + 2]) + distance * across[n]);
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
