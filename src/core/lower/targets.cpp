// What names in the document stand for: faces, regions, edges and corners where faces meet, whole parts.
#include <algorithm>
#include <map>
#include <set>
#include <tuple>

#include "core/lower/lowering.hpp"
#include "core/mesh/meeting.hpp"
#include "core/mesh/select.hpp"
#include "core/model/carriers.hpp"
#include "core/model/document.hpp"
#include "core/model/part.hpp"
#include "core/model/place_names.hpp"
#include "core/model/quantities.hpp"
#include "core/model/regions.hpp"

namespace anvil::analysis {

/// What a region's rules find.
static std::vector<mesh::Facet> facetsByRule(const model::Region& region, const Document& d, const mesh::Mesh& mesh,
                                             const std::string& path) {
  std::vector<mesh::Facet> result;
  const bool any = !region.cylinderOf.empty() || !region.tangentTo.empty() || region.plane || region.box;
  if (!any) return result;
  if (mesh.dim != 3) throw Error("regions are found by rule in solid models only", path, "Name the edges.");
  const Quantities q(d);
  const auto add = [&](const std::vector<mesh::Facet>& more) { result.insert(result.end(), more.begin(), more.end()); };
  const auto addFaces = [&](const std::vector<std::string>& faces) {
    for (const auto& name : faces) add(mesh.face(name)->facets);
  };
  for (const auto& name : region.cylinderOf) {
    const auto faces = mesh::facesOnCylinder(mesh, facetsOf({name}, d, mesh, path + "/cylinder of"));
    if (faces.empty()) throw Error("'" + name + "' is no cylinder", path + "/cylinder of", "Name a round face.");
    addFaces(faces);
  }
  for (const auto& name : region.tangentTo) addFaces(mesh::facesTangentTo(mesh, facetsOf({name}, d, mesh, path + "/tangent to")));
  std::vector<int> parts;
  for (const auto& name : region.of) {
    const int part = partIndex(d, name);
    if (part < 0 || d.parts[size_t(part)].second.rigid)
      throw Error("there is no deformable part '" + name + "'", path + "/of", "Parts: " + inProse(d.parts.names()) + ".");
    parts.push_back(part);
  }
  if (parts.empty())
    for (size_t i = 0; i < mesh.parts.size(); ++i) parts.push_back(int(i));
  const auto vector = [&](const std::vector<model::Entry>& v, Kind kind, const std::string& place) {
    const auto x = q.list(v, kind, place);
    if (x.size() != 3) throw Error("three values are needed", place, "Write [x, y, z].");
    return Vector3d(x[0], x[1], x[2]);
  };
  if (region.plane) {
    const std::string place = path + "/plane";
    Vector3d low = Vector3d::Constant(1e300), high = -low;
    for (const auto& x : mesh.x) low = low.cwiseMin(x), high = high.cwiseMax(x);
    const auto n = q.inSpace(region.plane->normal, place + "/normal", "[0, 0, 1] is a plane across z.");
    const Vector3d normal(n[0], n[1], n[2]);
    const double within = q.orElse(region.plane->within, Kind::length, (high - low).norm() / 100, place + "/within");
    const auto found = mesh::facetsInPlane(mesh, parts, vector(region.plane->at, Kind::length, place + "/at"), normal, within);
    if (found.empty())
      throw Error("no face lies in the plane", place, "Check the point and normal, or allow more distance by \"within\".");
    add(found);
  }
  if (region.box) {
    const auto found = mesh::facetsInBox(mesh, parts, vector(region.box->from, Kind::length, path + "/box/from"),
                                         vector(region.box->to, Kind::length, path + "/box/to"));
    if (found.empty())
      throw Error("no face lies in the box", path + "/box",
                  "Check its corners: the faces must lie inside with all their elements.");
    add(found);
  }
  // each once
  std::sort(result.begin(), result.end(), [](const mesh::Facet& a, const mesh::Facet& b) {
    return std::tie(a.block, a.cell, a.side) < std::tie(b.block, b.cell, b.side);
  });
  result.erase(std::unique(result.begin(), result.end(),
                           [](const mesh::Facet& a, const mesh::Facet& b) {
                             return a.block == b.block && a.cell == b.cell && a.side == b.side;
                           }),
               result.end());
  return result;
}

/// Regions that are being looked up, each for the one before it.
thread_local std::vector<std::string> within;

/// Enters a region for as long as it lives. Throws Error where that leads in a circle.
struct Inside {
  Inside(const std::string& region) {
    if (std::find(within.begin(), within.end(), region) != within.end()) {
      const std::string first = within.front();
      throw Error("the regions " + inProse(within) + " are made of each other", "regions/" + first, "Name faces in one of them.");
    }
    within.push_back(region);
  }
  ~Inside() { within.pop_back(); }
};

std::vector<mesh::Facet> facetsOf(const std::vector<std::string>& names, const Document& d, const mesh::Mesh& mesh,
                                  const std::string& path) {
  std::vector<mesh::Facet> result;
  for (const auto& name : names) {
    const int part = partIndex(d, name);
    if (const auto* region = d.regions.find(name)) {
      const Inside one(name);
      auto more = facetsByRule(*region, d, mesh, "regions/" + name);
      if (!region->edges.empty() || more.empty()) {
        const auto named = facetsOf(region->edges, d, mesh, "regions/" + name + "/edges");
        const auto known = [&](const mesh::Facet& f) {
          return std::any_of(more.begin(), more.end(),
                             [&](const mesh::Facet& g) { return f.block == g.block && f.cell == g.cell && f.side == g.side; });
        };
        if (more.empty())
          more = named;
        else
          std::copy_if(named.begin(), named.end(), std::back_inserter(more), [&](const mesh::Facet& f) { return !known(f); });
      }
      result.insert(result.end(), more.begin(), more.end());
    } else if (name.find(model::meets) != std::string::npos) {
      throw Error("'" + name + "' is an edge or a corner, which has no area", path,
                  "Name faces; edges and corners take supports, motions, forces and carriers.");
    } else if (const auto faces = mesh.facesNamed(name); !faces.empty()) {
      for (const auto* face : faces) result.insert(result.end(), face->facets.begin(), face->facets.end());
    } else if (part >= 0 && !d.parts[size_t(part)].second.rigid && !d.parts[size_t(part)].second.slender) {
      const auto all = mesh.boundary(part);
      result.insert(result.end(), all.begin(), all.end());
    } else {
      std::vector<std::string> known = d.regions.names();
      for (const auto& f : mesh.faces) known.push_back(f.name);
      for (const auto& l : mesh.lines) known.push_back(l.name);
      for (const auto& s : mesh.spots) known.push_back(s.name);
      const bool isSlender = part >= 0 && d.parts[size_t(part)].second.slender;
      if (isSlender || mesh.line(name) || mesh.spot(name))
        throw Error("'" + name + "' is " + (mesh.spot(name) ? "a point" : "a line") + " of a slender part, which has no faces",
                    path, "Name faces; slender parts take supports, motions, forces and moments, and carriers as their \"end\".");
      for (const auto& list : {d.parts.names(), d.carriers.names()}) known.insert(known.end(), list.begin(), list.end());
      if (const auto* part = d.parts.find(name); part && part->rigid)
        throw Error("the part '" + name + "' is rigid, and has no mesh", path, "Name a part that is meshed, or faces of one.");
      if (d.carriers.find(name))
        throw Error("'" + name + "' is a carrier, which has no faces", path, "Name the faces that it holds.");
      const auto near = nearest(name, known);
      throw Error("there is no region, edge or part '" + brief(name) + "'", path,
                  near.empty() ? "Known: " + inProse(known) + "." : "Did you mean '" + near + "'?");
    }
  }
  if (result.empty()) throw Error("nothing is named here", path, "Name regions or edges as \"part.edge\".");
  return result;
}

mesh::Meeting meetingNamed(const std::string& name, const Document& d, const mesh::Mesh& mesh, const std::string& path) {
  std::vector<std::vector<const mesh::Face*>> copies;
  for (const auto& own : model::facesInName(name)) {
    const auto faces = mesh.facesNamed(own);
    if (faces.empty()) (void)facetsOf({own}, d, mesh, path);  // says what is meant
    if (faces.empty() || (!copies.empty() && faces.size() != copies.size()))
      throw Error("'" + own + "' is no single face", path,
                  "An edge is named by the faces that meet there, \"part.face & part.face\".");
    copies.resize(faces.size());
    for (size_t k = 0; k < faces.size(); ++k) copies[k].push_back(faces[k]);
  }
  mesh::Meeting m;
  for (const auto& faces : copies) {
    const auto one = mesh::meetingOf(mesh, faces);
    m.nodes.insert(m.nodes.end(), one.nodes.begin(), one.nodes.end());
    m.lines.insert(m.lines.end(), one.lines.begin(), one.lines.end());
  }
  if (m.nodes.empty())
    throw Error("'" + name + "': these faces do not meet", path, "Name faces of one part with an edge or a corner in common.");
  return m;
}

/// Regions taken apart into what they list, so that edges in them are found; regions by rule stay as they are.
static void takeApart(const std::vector<std::string>& names, const Document& d, std::vector<std::string>& result) {
  for (const auto& name : names) {
    const auto* region = d.regions.find(name);
    const bool listed = region && !region->edges.empty() && region->cylinderOf.empty() && region->tangentTo.empty() &&
                        !region->plane && !region->box;
    if (listed && !d.regions.find(region->edges.front()))
      takeApart(region->edges, d, result);
    else
      result.push_back(name);
  }
}

std::vector<const mesh::Line*> Lowering::linesNamed(const std::string& name) const {
  std::vector<const mesh::Line*> lines;
  if (const auto* line = p->mesh.line(name)) lines.push_back(line);
  const int part = partIndex(d, name);
  for (const auto& l : p->mesh.lines)
    if (l.part == part) lines.push_back(&l);
  return lines;
}

std::set<int> Lowering::slenderBodiesNamed(const std::string& name) const {
  std::set<int> bodies;
  if (const auto* spot = p->mesh.spot(name); spot && spot->turn >= 0) bodies.insert(p->bodyOfTurn(spot->turn));
  for (const auto* l : linesNamed(name))
    for (int t : l->turns) bodies.insert(p->bodyOfTurn(t));
  return bodies;
}

Footing Lowering::standsOn(const std::vector<std::string>& on, const std::string& path) const {
  std::vector<std::string> names, faces;
  takeApart(on, d, names);
  Footing f;
  std::map<int, double> share;
  bool points = false;
  const auto x = [&](int n) -> const Vector3d& { return p->mesh.x[size_t(n)]; };
  const auto addLine = [&](const mesh::Line& l) {
    for (size_t c = 0; c < l.count(); ++c) {
      const double length = (x(l.nodes[c + 1]) - x(l.nodes[c])).norm();
      for (const size_t end : {c, c + 1}) share[l.nodes[end]] += length / 2;
      f.length += length;
    }
  };
  for (const auto& name : names) {
    if (const auto lines = linesNamed(name); !lines.empty()) {
      for (const auto* l : lines) addLine(*l);
      continue;
    }
    if (const auto* spot = p->mesh.spot(name)) {
      share[spot->node] += 1, points = true;
      continue;
    }
    if (name.find(model::meets) == std::string::npos) {
      faces.push_back(name);
      continue;
    }
    const auto m = meetingNamed(name, d, p->mesh, path);
    for (const auto& line : m.lines) {  // the trapezium rule, of quadratic sides Simpson's
      const double length = (x(line[1]) - x(line[0])).norm();
      f.length += length;
      for (size_t i = 0; i < line.size(); ++i) share[line[i]] += length * (line.size() == 2 ? 1. / 2 : i < 2 ? 1. / 6 : 2. / 3);
    }
    if (m.lines.empty())
      for (int n : m.nodes) share[n] += 1, points = true;  // points: of length none
  }
  if (!faces.empty() && faces.size() < names.size())
    throw Error("faces are named together with edges, corners or slender parts", path,
                "Make two of it: one for the faces, one for the others.");
  if (share.empty()) {
    f.facets = facetsOf(faces, d, p->mesh, path), f.nodes = p->mesh.nodesOf(f.facets), f.share = nodalShares(f.facets, f.nodes);
    return f;
  }
  if (points) f.length = 0;
  double sum = 0;
  for (const auto& [node, s] : share) sum += s;
  for (const auto& [node, s] : share) f.nodes.push_back(node), f.share.push_back(s / sum);
  return f;
}

}  // namespace anvil::analysis
