#include "core/mesh/meeting.hpp"

#include <algorithm>
#include <map>
#include <set>

#include "core/model/place_names.hpp"

namespace anvil::mesh {
namespace {

using Ends = std::pair<int, int>;

/// Sides of a face's facets, each once, by their ends.
std::map<Ends, std::vector<int>> sidesOf(const Mesh& mesh, const Face& face) {
  std::map<Ends, std::vector<int>> sides;
  for (const auto& f : face.facets) {
    const auto n = mesh.nodesOf(f);
    const auto corners = size_t(mesh.cornersOf(f));
    for (size_t i = 0; i < corners; ++i) {
      std::vector<int> line{n[i], n[(i + 1) % corners]};
      if (n.size() > corners) line.push_back(n[corners + i]);
      sides.try_emplace(std::minmax(line[0], line[1]), line);
    }
  }
  return sides;
}

std::string joined(const std::vector<std::string>& faces) {
  std::string name;
  for (const auto& f : faces) name += (name.empty() ? "" : model::meets) + f;
  return name;
}

/// Names of the faces at each node that has several, sorted.
std::map<int, std::vector<std::string>> facesAtNodes(const Mesh& mesh) {
  std::map<int, std::set<std::string>> at;
  for (const auto& face : mesh.faces)
    for (int n : mesh.nodesOf(face.facets)) at[n].insert(face.name);
  std::map<int, std::vector<std::string>> several;
  for (const auto& [node, names] : at)
    if (names.size() > 1) several[node] = {names.begin(), names.end()};
  return several;
}

}  // namespace

Meeting meetingOf(const Mesh& mesh, const std::vector<const Face*>& faces) {
  Meeting m;
  if (faces.empty()) return m;
  std::vector<std::string> names;
  for (const auto* f : faces) names.push_back(f->name);
  m.name = joined(names), m.part = faces.front()->part;
  m.nodes = mesh.nodesOf(faces.front()->facets);
  for (size_t k = 1; k < faces.size(); ++k) {
    std::vector<int> both;
    const auto own = mesh.nodesOf(faces[k]->facets);
    std::set_intersection(m.nodes.begin(), m.nodes.end(), own.begin(), own.end(), std::back_inserter(both));
    m.nodes = both;
  }
  if (mesh.dim != 3 || faces.size() != 2) return m;
  const auto one = sidesOf(mesh, *faces[0]), two = sidesOf(mesh, *faces[1]);
  for (const auto& [ends, line] : one)
    if (two.count(ends)) m.lines.push_back(line);
  return m;
}

std::vector<Meeting> edgesOfShapes(const Mesh& mesh) {
  if (mesh.dim != 3) return {};
  std::map<Ends, std::pair<std::set<std::string>, std::vector<int>>> at;
  std::map<std::string, int> part;
  for (const auto& face : mesh.faces) {
    part[face.name] = face.part;
    for (const auto& [ends, line] : sidesOf(mesh, face)) {
      auto& entry = at[ends];
      entry.first.insert(face.name), entry.second = line;
    }
  }
  std::map<std::string, Meeting> edges;
  for (const auto& [ends, entry] : at) {
    if (entry.first.size() != 2) continue;
    const std::string name = joined({entry.first.begin(), entry.first.end()});
    auto& e = edges[name];
    e.name = name, e.part = part[*entry.first.begin()];
    e.lines.push_back(entry.second), e.nodes.insert(e.nodes.end(), entry.second.begin(), entry.second.end());
  }
  std::vector<Meeting> list;
  for (auto& [name, e] : edges) {
    std::sort(e.nodes.begin(), e.nodes.end());
    e.nodes.erase(std::unique(e.nodes.begin(), e.nodes.end()), e.nodes.end());
    list.push_back(e);
  }
  return list;
}

std::vector<Meeting> cornersOfShapes(const Mesh& mesh) {
  std::map<std::string, int> part;
  for (const auto& face : mesh.faces) part[face.name] = face.part;
  std::vector<Meeting> list;
  for (const auto& [node, names] : facesAtNodes(mesh))
    if (names.size() >= size_t(mesh.dim)) list.push_back({joined(names), part[names.front()], {}, {node}});
  return list;
}

}  // namespace anvil::mesh
