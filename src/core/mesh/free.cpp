#include "core/mesh/free.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/mesh/sweep.hpp"
#include "core/mesh/worker_mesh.hpp"

namespace anvil::mesh {
namespace {

using Json = nlohmann::json;

/// Adds facets to the face of the mesh that a face of the solid becomes.
class FaceNames {
 public:
  FaceNames(Mesh& mesh, int part, const geometry::Solid& solid, const std::string& path)
      : mesh_(mesh), part_(part), solid_(solid), path_(path) {}
  void add(int face, const Facet& facet) {
    if (face < 0 || size_t(face) >= solid_.faces().size())
      throw Error("the mesher's faces do not fit the solid", path_, "Try another element size.");
    const std::string name = mesh_.parts[size_t(part_)] + "." + solid_.faces()[size_t(face)].name;
    const auto [it, fresh] = index_.try_emplace(name, mesh_.faces.size());
    if (fresh) mesh_.faces.push_back({name, part_, {}});
    mesh_.faces[it->second].facets.push_back(facet);
  }

 private:
  Mesh& mesh_;
  int part_;
  const geometry::Solid& solid_;
  const std::string& path_;
  std::map<std::string, size_t> index_;
};

void addTetrahedra(Mesh& mesh, int part, const geometry::Solid& solid, const Json& j, const std::string& path) {
  const std::vector<double> x = j.at("x");
  const std::vector<int> cell = j.at("cells"), triangle = j.at("triangles"), face = j.at("face");
  const int first = int(mesh.x.size()), block = int(mesh.blocks.size());
  for (size_t i = 0; i + 2 < x.size(); i += 3) mesh.x.emplace_back(x[i], x[i + 1], x[i + 2]);
  Block b{Cell::tet10, part, {}};
  for (int n : cell) b.nodes.push_back(first + n);
  // sides by their three corners
  std::map<std::array<int, 3>, std::pair<int, int>> sideOf;
  const auto& sides = info(Cell::tet10).side;
  for (size_t c = 0; c < b.count(); ++c)
    for (size_t s = 0; s < sides.size(); ++s) {
      std::array<int, 3> corner{};
      for (size_t k = 0; k < 3; ++k) corner[k] = b.cell(c)[sides[s][k]];
      std::sort(corner.begin(), corner.end());
      sideOf[corner] = {int(c), int(s)};
    }
  FaceNames names(mesh, part, solid, path);
  for (size_t t = 0; t < face.size(); ++t) {
    std::array<int, 3> corner{first + triangle[6 * t], first + triangle[6 * t + 1], first + triangle[6 * t + 2]};
    std::sort(corner.begin(), corner.end());
    const auto at = sideOf.find(corner);
    if (at == sideOf.end()) throw Error("the mesher's triangles do not fit its tetrahedra", path, "Try another element size.");
    names.add(face[t], {block, at->second.first, at->second.second});
  }
  mesh.blocks.push_back(std::move(b));
}

/// The end of a prism in quads, pulled to hexes; or that of a wire, with the sections its layers lie at.
void addPrism(Mesh& mesh, int part, const geometry::Solid& solid, const Json& j, bool linear, const std::string& path) {
  const auto vectorOf = [&](const char* name) {
    const std::vector<double> v = j.at(name);
    return Eigen::Vector3d(v.at(0), v.at(1), v.at(2));
  };
  const Eigen::Vector3d origin = vectorOf("origin"), u = vectorOf("u"), v = vectorOf("v"), w = u.cross(v);
  const std::vector<double> x = j.at("x");
  const std::vector<int> cells = j.at("cells"), low = j.at("low"), high = j.at("high"), sides = j.at("sides");
  Mesh flat;
  flat.parts = mesh.parts;
  std::vector<int> number(x.size() / 2, -1);  // without the middles where they are not wanted
  Block quads{linear ? Cell::quad4 : Cell::quad8, part, {}};
  for (size_t c = 0; c < cells.size(); c += 8)
    for (size_t i = 0; i < (linear ? 4u : 8u); ++i) {
      int& n = number[size_t(cells[c + i])];
      if (n < 0) n = int(flat.x.size()), flat.x.emplace_back(x[2 * size_t(cells[c + i])], x[2 * size_t(cells[c + i]) + 1], 0.);
      quads.nodes.push_back(n);
    }
  flat.blocks.push_back(std::move(quads));
  const size_t before = mesh.x.size();
  geometry::Sweep pull;
  pull.kind = geometry::Sweep::Kind::extrude, pull.length = j.at("height"),
  pull.borders = j.at("layers").get<std::vector<double>>(), pull.count = int(pull.borders.size()) - 1;
  addSwept(mesh, part, flat, pull, path);
  const std::vector<double> sections = j.value("sections", std::vector<double>{});
  const std::vector<int> round = j.value("round", std::vector<int>{});
  std::vector<double> level;  // of the sections: layers' borders, and halfway between
  for (size_t k = 0; k + 1 < pull.borders.size(); ++k)
    level.insert(level.end(), {pull.borders[k] * pull.length, (pull.borders[k] + pull.borders[k + 1]) / 2 * pull.length});
  level.push_back(pull.length);
  for (size_t i = before; i < mesh.x.size(); ++i) {
    const Eigen::Vector3d p = mesh.x[i];
    if (sections.empty()) {
      mesh.x[i] = origin + p.x() * u + p.y() * v + p.z() * w;
      continue;
    }
    auto k = size_t(std::lower_bound(level.begin(), level.end(), p.z()) - level.begin());
    if (k == level.size() || (k > 0 && p.z() - level[k - 1] < level[k] - p.z())) --k;
    const Eigen::Map<const Eigen::Matrix3d> s(&sections[9 * k]);  // middle, and the section's frame
    mesh.x[i] = s.col(0) + p.x() * s.col(1) + p.y() * s.col(2);
  }
  // the sweep's ends by the solid's own faces: their facets come in the order of the quads
  const auto take = [&](const std::string& name) {
    const auto at = std::find_if(mesh.faces.begin(), mesh.faces.end(), [&](const Face& f) {
      return f.part == part && f.name == mesh.parts[size_t(part)] + "." + name;
    });
    auto facets = std::move(at->facets);
    mesh.faces.erase(at);
    return facets;
  };
  const auto front = take("front"), back = take("back");
  FaceNames names(mesh, part, solid, path);
  for (size_t c = 0; c < front.size(); ++c) names.add(low[c], front[c]), names.add(high[c], back[c]);
  const int perLayer = int(front.size()), block = front.front().block, rims = int(round.size()) / pull.count;
  for (size_t s = 0; s < sides.size(); s += 3)
    for (int layer = 0; layer < pull.count; ++layer)
      names.add(round.empty() ? sides[s + 2] : round[size_t(layer * rims + sides[s + 2])],
                {block, layer * perLayer + sides[s], sides[s + 1] + 2});
}

}  // namespace

double usualSize(const geometry::Solid& solid) {
  double surface = 0;
  for (const auto& f : solid.faces()) surface += f.area;
  return std::min(std::cbrt(solid.volume()) / 8, 2 * solid.volume() / std::max(surface, 1e-300));
}

void addFree(Mesh& mesh, int part, const geometry::Solid& solid, const FreeSizes& sizes, const std::string& path,
             const Working& working) {
  const double size = sizes.factor * (sizes.size > 0 ? sizes.size : usualSize(solid));
  Json wishes = sizeWishes(sizes, size);
  const std::vector<double> onFaces = wishes["face sizes"];
  wishes["smallest"] = wishes["smallest"].get<double>() / 6;
  if (sizes.perCircle != 12) wishes["per circle"] = sizes.perCircle;
  // a draft of what is all detail would take minutes; of ordinary solids it would gain little and have worse elements
  const bool hasty = sizes.rough && solid.faces().size() > 200;
  wishes["grading"] = hasty ? 0.5 : 0.3;
  if (hasty) wishes["optimise"] = 1;
  const bool linear = sizes.element == "hex8";
  if (sizes.element != "tet10")
    wishes["element"] = sizes.element == "auto" ? "auto" : "hex", wishes["fewest layers"] = linear ? 4 : 2;
  // about as many as there will be, by the sizes asked for
  constexpr double most = 5e6;
  const auto many = [&](double cells, double h, const std::string& place) {
    if (!(cells <= most))
      throw Error("an element size of " + shortNumber(h, 3) + " mm would make " +
                      (cells < 1e15 ? "about " + shortNumber(cells, 2) + " elements there"
                                    : "more elements there than any machine holds"),
                  path + place, "Take a larger one; check its unit.");
  };
  many(8 * solid.volume() / (size * size * size), size, "/mesh/size");
  for (size_t f = 0; f < onFaces.size(); ++f)
    if (const double h = onFaces[f]; h > 0) many(12 * solid.faces()[f].area / (h * h), h, "/sizes");
  for (size_t k = 0; k < sizes.near.size(); ++k) {
    const double h = sizes.near[k].size * sizes.factor, reach = std::min(sizes.near[k].within, solid.bounds().diagonal().norm());
    many(8 * std::min(solid.volume(), 4 * reach * reach * reach) / (h * h * h), h, "/near/" + std::to_string(k + 1) + "/size");
  }
  const Json j = meshedByWorker(solid, wishes, path, working);
  for (const auto& note : j.value("told", Json::array())) mesh.notes.push_back({part, note.at(0), note.at(1)});
  if (j.contains("layers"))
    addPrism(mesh, part, solid, j, linear, path);
  else
    addTetrahedra(mesh, part, solid, j, path);
}

}  // namespace anvil::mesh
