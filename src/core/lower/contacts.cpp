// From the document to the problem: contacts and their surfaces.
#include <Eigen/Geometry>
#include <algorithm>
#include <array>
#include <cmath>
#include <set>

#include "core/contact/side_integral.hpp"
#include "core/geometry/rigid_solid.hpp"
#include "core/geometry/solid.hpp"
#include "core/lower/lowering.hpp"
#include "core/lower/sectors.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/features.hpp"
#include "core/model/part.hpp"
#include "core/model/timed_course.hpp"

namespace anvil::analysis {

int Lowering::rigidNamed(const std::string& name) const {
  for (size_t i = 0; i < p->rigid.size(); ++i)
    if (name == p->rigid[i].name || name.starts_with(p->rigid[i].name + '.')) return int(i);
  return -1;
}

std::shared_ptr<const contact::RigidBody> Lowering::rigidFace(int index, const std::string& name, const std::string& path) const {
  const auto& whole = p->rigid[size_t(index)];
  if (name == whole.name) return nullptr;
  const auto face = name.substr(whole.name.size() + 1);
  const auto& part = d.parts[size_t(p->rigidPart[size_t(index)])].second;
  auto body = contact::onlyFace(whole, face);
  std::vector<std::string> known;
  for (const auto& c : whole.curves) known.push_back(c.name);
  if (whole.ends[0]) known.insert(known.end(), {"front", "back"});
  if (!part.solid.empty()) {
    const std::string own = "parts/" + whole.name;
    const auto solid = geometry::solid(part, q, d.home.folder, own);
    for (const auto& f : solid.faces()) known.push_back(f.name);
    if (whole.facets && std::find(known.begin(), known.end(), face) != known.end())
      body.facets = geometry::rigidSolid(part, q, d.home.folder, own, face).facets;
  }
  std::erase(known, "");
  std::sort(known.begin(), known.end());
  known.erase(std::unique(known.begin(), known.end()), known.end());
  if (std::find(known.begin(), known.end(), face) != known.end()) return std::make_shared<contact::RigidBody>(std::move(body));
  const auto near = nearest(face, known);
  throw Error("the rigid part '" + whole.name + "' has no face '" + face + "'", path,
              known.empty()  ? "Name the part."
              : near.empty() ? "It has " + inProse(known) + "; or name the part."
                             : "Did you mean '" + whole.name + "." + near + "'?");
}

contact::Surface Lowering::surfaceOf(const std::string& name, const std::string& path) {
  std::vector<mesh::Facet> facets;
  double young = 1e300;
  if (name == "everything") {
    for (size_t part = 0; part < d.parts.size(); ++part) {
      if (d.parts[part].second.rigid) continue;
      for (const auto& f : p->mesh.boundary(int(part))) {
        bool onAxis = p->setting.space == element::Space::axisymmetric;
        for (int n : p->mesh.nodesOf(f)) onAxis = onAxis && std::abs(p->mesh.x[size_t(n)].x()) < 1e-9;
        if (!onAxis) facets.push_back(f);
      }
    }
  } else {
    facets = facetsOf({name}, d, p->mesh, path);
  }
  for (const auto& f : facets) young = std::min(young, p->partYoung[size_t(p->mesh.blocks[size_t(f.block)].part)]);
  return contact::makeSurface(name, p->mesh, facets, young);
}

double Lowering::halfThickness(const contact::Surface& s) const {
  Vector3d low = Vector3d::Constant(1e300), high = -low;
  for (const auto& body : p->mesh.bodies(p->mesh.blocks[size_t(s.sides.front().facet.block)].part)) {
    if (!std::binary_search(body.begin(), body.end(), s.sides.front().node[0])) continue;
    for (int n : body) low = low.cwiseMin(p->mesh.x[size_t(n)]), high = high.cwiseMax(p->mesh.x[size_t(n)]);
  }
  double least = 1e300;
  for (int k = 0; k < p->dim(); ++k) least = std::min(least, (high[k] - low[k]) / 2);
  return least;
}

void Lowering::contacts() {
  for (const auto& [name, c] : d.contacts) {
    const std::string path = "contacts/" + name;
    if (c.between.empty() || c.between.size() > 2)
      throw Error("a contact is between two surfaces, or of one with itself", path + "/between",
                  "Name two: regions, \"part.edge\", or a rigid part; one for self contact; or \"everything\".");
    const bool all = c.between.size() == 1 && c.between[0] == "everything";
    if (all)
      for (size_t r = 0; r < p->rigid.size(); ++r)
        addContact(name + " with " + p->rigid[r].name, name, c, {"everything", p->rigid[r].name}, path);
    addContact(name, name, c, c.between, path);
  }
}

void Lowering::addContact(const std::string& name, const std::string& contact, const model::Contact& c,
                          const std::vector<std::string>& between, const std::string& path) {
  contact::PairSetup s;
  s.name = name, s.contact = contact, s.self = between.size() == 1;
  const int r0 = rigidNamed(between.front()), r1 = rigidNamed(between.back());
  if (r0 >= 0 && r1 >= 0)
    throw Error(s.self ? "a rigid body cannot touch itself" : "both bodies are rigid", path + "/between",
                "At least one must be deformable.");
  if (s.self) {
    s.slave = s.master = surfaceOf(between[0], path + "/between");
  } else if (r0 >= 0 || r1 >= 0) {
    s.rigid = std::max(r0, r1), s.swapped = r0 >= 0;
    s.rigidFace = rigidFace(s.rigid, between[r0 >= 0 ? 0 : 1], path + "/between");
    s.slave = surfaceOf(between[r0 >= 0 ? 1 : 0], path + "/between");
  } else {
    auto first = surfaceOf(between[0], path + "/between/1"), second = surfaceOf(between[1], path + "/between/2");
    const bool softer = second.young<0.5 * first.young, harder = second.young> 2 * first.young;
    const bool finer = second.meanLength < 0.999 * first.meanLength;
    s.swapped = c.pressureOn == "second" || (c.pressureOn == "auto" && (softer || (!harder && finer)));
    std::set<std::array<int, 3>> own;
    for (const auto& side : first.sides) own.insert({side.facet.block, side.facet.cell, side.facet.side});
    for (const auto& side : second.sides)
      if (own.contains({side.facet.block, side.facet.cell, side.facet.side}))
        throw Error(
            "the two surfaces share faces of part '" + p->mesh.parts[size_t(p->mesh.blocks[size_t(side.facet.block)].part)] + "'",
            path + "/between", "Name surfaces apart from each other, or one alone for self contact.");
    if (c.kind == "cyclic") {
      const auto sector = sectorOf(c, d, p->mesh, path);
      s.image = contact::Image{s.swapped ? sector.turn : Eigen::Matrix3d(sector.turn.transpose()), sector.about};
    }
    s.slave = s.swapped ? second : first, s.master = s.swapped ? first : second;
  }
  if (c.kind != "cyclic" && (c.axis.given() || !c.about.empty()))
    throw Error("an axis is given, but the kind is " + c.kind, path + "/kind", "Set it to cyclic, or take the axis out.");
  if (c.kind == "cyclic" && !s.image)
    throw Error("a sector repeats from one cut face to another", path + "/between", "Name its two cut faces.");
  if (s.image && p->setting.space == element::Space::axisymmetric)
    throw Error("an axisymmetric model is all round already", path + "/kind", "Model the sector in space.");
  s.behaviour = c.kind == "tied" || s.image ? contact::Behaviour::tied
                : c.kind == "rough"         ? contact::Behaviour::rough
                : c.kind == "sliding"       ? contact::Behaviour::sliding
                                            : contact::Behaviour::touching;
  s.friction = q(c.friction, Kind::number, path + "/friction");
  if (s.friction < 0 || s.friction > 5)
    throw Error("the friction coefficient is " + shortNumber(s.friction), path + "/friction", "Give a value from 0 to about 1.");
  if (c.shearLimit.given()) s.shearLimit = q(c.shearLimit, Kind::stress, path + "/shear limit");
  s.closeWithin = q.orElse(c.start.closeWithin, Kind::length, 0, path + "/start/close within");
  double reach = 2 * std::max(s.slave.meanLength, s.master.meanLength);
  if (s.self) {
    auto walls = contact::wallsOf(s.slave, p->mesh, 3 * reach);
    reach = std::min(reach, 0.9 * walls.thickness);
    s.never = std::move(walls.behind);
  } else {
    reach = std::min(reach, halfThickness(s.slave));
    if (s.rigid < 0) reach = std::min(reach, halfThickness(s.master));
  }
  s.reach = q.orElse(c.search, Kind::length, std::max(reach, 1.5 * s.closeWithin), path + "/search");
  if (s.reach <= 0)
    throw Error("the search distance is " + shortNumber(s.reach) + " mm", path + "/search", "Give a value above zero.");
  ContactPlan plan;
  plan.active = model::activeDuring(c.during, d, path + "/during");
  if (c.interference.given())
    plan.interference = model::timed(c.interference, Kind::length, d, q, path + "/interference"), plan.hasInterference = true;
  if (!c.start.resolveOver.empty()) {
    const auto active = model::activeDuring({c.start.resolveOver}, d, path + "/start/resolve over");
    plan.resolveStep = int(std::find(active.begin(), active.end(), true) - active.begin());
  }
  p->contactPlans.push_back(plan);
  p->pairs.emplace_back(std::move(s));
  p->pairs.back().setResolves(plan.resolveStep >= 0);
}

}  // namespace anvil::analysis
