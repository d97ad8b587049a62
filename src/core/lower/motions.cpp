// From the document to the problem: directions, supports, motions, loads.
#include <Eigen/Geometry>
#include <cmath>

#include "core/lower/lowering.hpp"
#include "core/mesh/symmetry.hpp"
#include "core/model/actions.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/regions.hpp"
#include "core/model/timed_course.hpp"

namespace anvil::analysis {

bool Lowering::isAxis(const std::string& word, int& axis) const {
  for (axis = 0; axis < p->dim(); ++axis)
    if (word == p->axis(axis)) return true;
  // x and y are understood in axisymmetric models too
  if (word == "x" || word == "y")
    axis = word == "y";
  else
    return false;
  return true;
}

bool Lowering::isTurn(const std::string& word, int& axis, const std::string& path) const {
  if (!word.starts_with("turn")) return false;
  axis = word == "turn x" ? 0 : word == "turn y" ? 1 : 2;
  if (p->setting.space == element::Space::axisymmetric || (p->dim() == 2 && axis != 2))
    throw Error("nothing can turn that way in this kind of model", path, "Use another direction.");
  if (p->dim() == 3 && word == "turn")
    throw Error("the axis of the turn is not said", path, "Write \"turn x\", \"turn y\" or \"turn z\".");
  return true;
}

Vector3d Lowering::vectorOf(const model::Direction& along, const std::string& path) const {
  int axis;
  if (isAxis(along.axis, axis)) return Vector3d::Unit(axis);
  if (along.axis.starts_with('-') && isAxis(along.axis.substr(1), axis)) return -Vector3d::Unit(axis);
  if (int(along.vector.size()) == p->dim()) {
    const auto v = q.list(along.vector, Kind::number, path);
    Vector3d d = Vector3d::Zero();
    for (size_t i = 0; i < v.size(); ++i) d[Eigen::Index(i)] = v[i];
    if (d.norm() > 0) return d.normalized();
  }
  throw Error("the direction is not understood", path,
              p->dim() == 3 ? "Give x, -x, y, -y, z, -z or a vector [a, b, c]."
                            : "Give x, -x, y, -y (r, z in axisymmetric models) or a vector [a, b].");
}

std::map<int, Vector3d> Lowering::normalsOf(const std::vector<mesh::Facet>& facets) const {
  std::map<int, Vector3d> normal;
  for (const auto& f : facets) {
    const auto nodes = p->mesh.nodesOf(f);
    const auto x = [&](size_t i) { return p->mesh.x[size_t(nodes[i])]; };
    const int corners = p->mesh.cornersOf(f);
    const Vector3d n = corners == 2   ? Vector3d((x(1) - x(0)).cross(Vector3d::UnitZ()))
                       : corners == 3 ? Vector3d((x(1) - x(0)).cross(x(2) - x(0)))
                                      : Vector3d((x(2) - x(0)).cross(x(3) - x(1)));
    for (int node : nodes) normal.try_emplace(node, Vector3d::Zero()).first->second += n;
  }
  return normal;
}

bool Lowering::isSlender(const std::string& name) const { return p->mesh.spot(name) || !linesNamed(name).empty(); }

void Lowering::addMotion(const std::string& name, bool support, const std::vector<std::string>& names,
                         const model::Direction& along, const model::TimedCourse& course, const std::string& path,
                         const Vector3d& about, const Vector3d& axisOfTurn, bool hinged) {
  const std::string place = path + (support ? "/fix" : "/along");  // of the direction
  if (names.empty()) throw Error("it acts on nothing", path + "/on", "Name regions, edges or a rigid part.");
  std::vector<std::string> soft;
  for (const auto& target : names) {
    std::set<int> bodies = slenderBodiesNamed(target);
    int axis;
    const bool turns = !axisOfTurn.isZero(0) || isTurn(along.axis, axis, place), slender = isSlender(target);
    if (slender && turns && bodies.empty())
      throw Error("nothing turns at '" + target + "': its lines are hinged there or carry no moment", path + "/on",
                  "Hold or move it along x, y or z alone.");
    if (slender && !turns) bodies.clear();
    if (const int body = bodyNamed(target); body >= 0 && !slender) bodies.insert(body);
    if (bodies.empty()) soft.push_back(target);
    for (int body : bodies) {
      Motion m;
      m.name = name, m.support = support, m.body = body, m.course = course;
      if (!axisOfTurn.isZero(0))
        m.anyAxis = true, m.axis = axisOfTurn, m.bodyAxis = 3;
      else
        m.bodyAxis = bodyAxis(along.axis, place);
      p->motions.push_back(m);
    }
  }
  if (soft.empty()) return;
  if (along.axis == "normal") {  // each face by its own normal: where two meet, both are held
    std::vector<std::string> faces;
    for (const auto& name : soft)
      if (const auto* region = d.regions.find(name))
        faces.insert(faces.end(), region->edges.begin(), region->edges.end());
      else
        faces.push_back(name);
    if (faces.size() > 1) {
      for (const auto& face : faces) addMotion(name, support, {face}, along, course, path, about, axisOfTurn, hinged);
      return;
    }
  }
  auto on = standsOn(soft, path + "/on");
  std::map<int, int> lowerOf;
  if (hinged) {
    lowerOf = edgePairs(on.facets, "only edges of thin parts are hinged", "Name the edge of a thin part, or let it be held.",
                        path + "/on");
    if (lowerOf.empty()) throw Error("only edges of thin parts are hinged", path + "/on", "Name faces: edges of thin parts.");
    on.nodes.clear();
    for (const auto& [upper, lower] : lowerOf) on.nodes.push_back(upper);
  }
  const auto placeOf = [&](int n) -> Vector3d {
    return hinged ? Vector3d((p->mesh.x[size_t(n)] + p->mesh.x[size_t(lowerOf.at(n))]) / 2) : p->mesh.x[size_t(n)];
  };
  Motion m;
  m.name = name, m.support = support, m.nodes = on.nodes, m.course = course;
  if (!axisOfTurn.isZero(0)) {
    m.turn = true, m.axis = axisOfTurn, m.about = about;
  } else if (int axis; isTurn(along.axis, axis, place)) {
    m.turn = true, m.axis = Vector3d::Unit(axis), m.about = about;
  } else if (along.axis.starts_with("radial") || along.axis.starts_with("around")) {
    const bool around = along.axis.starts_with("around");
    int axis = 2;
    if (p->dim() == 3 && !isAxis(along.axis.substr(std::min<size_t>(7, along.axis.size())), axis))
      throw Error("the axis is not said", place, "Write for example \"" + along.axis.substr(0, 6) + " y\".");
    std::vector<int> nodes;
    const auto add = [&](int n, const Vector3d& direction) { nodes.push_back(n), m.direction.push_back(cleaned(direction)); };
    for (int n : m.nodes) {
      Vector3d arm = placeOf(n) - about;
      arm[axis] = 0;
      if (arm.norm() >= 1e-9) {
        add(n, around ? Vector3d(Vector3d::Unit(axis).cross(arm).normalized()) : Vector3d(arm.normalized()));
      } else if (!support) {
        throw Error("a node lies on the axis of '" + along.axis + "'", place,
                    "Name faces off the axis, or give the axis by \"about\".");
      } else if (!around) {  // what may not leave the axis is held across it; turning does not move it
        add(n, Vector3d::Unit((axis + 1) % 3)), add(n, Vector3d::Unit((axis + 2) % 3));
      }
    }
    m.nodes = nodes;
  } else if (along.axis == "normal") {
    if (on.facets.empty()) throw Error("an edge or a corner has no normal of its own", place, "Give x, y, z or a vector.");
    auto normal = normalsOf(on.facets);
    for (int n : m.nodes) m.direction.push_back(cleaned((hinged ? normal[n] + normal[lowerOf.at(n)] : normal[n]).normalized()));
  } else {
    m.direction.assign(m.nodes.size(), vectorOf(along, place));
  }
  if (hinged) hinge(m, lowerOf);
  p->motions.push_back(m);
}

void Lowering::hinge(Motion& m, const std::map<int, int>& lowerOf) {
  p->hingeScale = p->youngScale * p->sizeScale();
  for (int n : m.nodes) m.opposite.push_back(lowerOf.at(n));
  for (const auto& [upper, lower] : lowerOf) {
    const auto same = [&, above = upper, below = lower](const HingePair& h) { return h.upper == above && h.lower == below; };
    if (std::any_of(p->hinges.begin(), p->hinges.end(), same)) continue;
    p->hinges.push_back({upper, lower, p->bodyEnd() + p->multipliers});
    p->multipliers += 3;
  }
}

Vector3d Lowering::cleaned(Vector3d d) {
  for (auto& c : d)
    if (std::abs(c) < 1e-10) c = 0;
  return d.normalized();
}

void Lowering::motions() {
  for (const auto& [name, s] : d.supports) {
    const std::string path = "supports/" + name;
    if (s.fix.empty())
      throw Error("no direction is held", path + "/fix", "List directions, for example [\"x\", \"y\"] or \"normal\".");
    model::TimedCourse course;
    course.curve.add(0, 0);
    course.active = model::activeDuring(s.during, d, path + "/during");
    const auto about = s.about.empty() ? Vector3d::Zero() : pointOf(s.about, path + "/about");
    const bool hinged = s.edge == "hinged";
    const auto hold = [&, own = name](const std::vector<std::string>& on, const std::string& axis) {
      addMotion(own, true, on, model::Direction{axis, {}}, course, path, about, Vector3d::Zero(), hinged);
    };
    for (const auto& axis : s.fix) {
      if (axis != "all") {
        hold(s.on, axis);
        continue;
      }
      for (int k = 0; k < p->dim(); ++k) hold(s.on, p->axis(k));
      for (const auto& target : s.on)  // what turns of itself is kept from it
        if (p->setting.space != element::Space::axisymmetric && (bodyNamed(target) >= 0 || !slenderBodiesNamed(target).empty()))
          for (const char* turn : p->dim() == 3 ? std::vector<const char*>{"turn x", "turn y", "turn z"} : std::vector{"turn"})
            hold({target}, turn);
    }
  }
  for (const auto& [name, m] : d.motions) {
    const std::string path = "motions/" + name;
    if (!m.course.given()) throw Error("the motion has no course", path + "/course", "Give a value, or values per step.");
    const auto kind = m.along.axis.starts_with("turn") ? Kind::angle : Kind::length;
    Vector3d axis = Vector3d::Zero();
    if (m.axis.given()) {
      if (p->dim() == 2 || m.along.axis != "turn")
        throw Error("an axis belongs to a turn in space", path + "/axis",
                    "Set \"along\": \"turn\" in a solid model, or leave the axis out.");
      const auto v = q.inSpace(m.axis, path + "/axis", "[1, 0, 1].");
      axis = {v[0], v[1], v[2]};
    }
    addMotion(name, false, m.on, m.along, model::timed(m.course, kind, d, q, path + "/course"), path,
              m.about.empty() ? Vector3d::Zero() : pointOf(m.about, path + "/about"), axis, m.edge == "hinged");
  }
}

double Lowering::wholeShare(const std::string& path) const {
  const auto planes = mesh::mirrorPlanes(d, p->mesh);
  if (planes.empty())
    throw Error("the model has no symmetry plane, so the part is the whole", path,
                "Hold a flat face along its normal over all steps, or take \"of\" out.");
  return std::pow(0.5, double(planes.size()));
}

std::map<int, int> Lowering::edgePairs(const std::vector<mesh::Facet>& facets, const std::string& what, const std::string& remedy,
                                       const std::string& path) const {
  std::map<int, int> lowerOf;
  for (const auto& f : facets) {
    const auto& block = p->mesh.blocks[size_t(f.block)];
    if (!block.thin() || f.side < 2) throw Error(what, path, remedy);
    const int half = mesh::info(block.type).nodes / 2, *cell = block.cell(size_t(f.cell));
    for (int local : mesh::info(block.type).side[size_t(f.side)])
      if (local >= half) lowerOf[cell[local]] = cell[local - half];
  }
  return lowerOf;
}

bool Lowering::edgeMoment(const std::vector<std::string>& on, Load& load, const std::string& path) const {
  if (on.empty() || p->dim() == 2) return false;
  for (const auto& name : on)
    if (p->mesh.facesNamed(name).empty() && !d.regions.find(name)) return false;
  const auto facets = facetsOf(on, d, p->mesh, path);
  const auto nodes = p->mesh.nodesOf(facets);
  const auto shares = nodalShares(facets, nodes);
  std::map<int, double> share;
  for (size_t i = 0; i < nodes.size(); ++i) share[nodes[i]] = shares[i];
  const auto lowerOf = edgePairs(facets, "a moment acts on faces by a carrier, or along edges of thin parts",
                                 "Name a carrier that holds the faces, or the edge of a thin part.", path);
  for (const auto& [upper, lower] : lowerOf)
    load.nodes.push_back(upper), load.opposite.push_back(lower), load.share.push_back(share[upper] + share[lower]);
  return true;
}

void Lowering::lineForce(const std::vector<std::string>& on, Load& load, const std::string& path) const {
  const auto footing = standsOn(on, path);
  if (!footing.facets.empty()) {
    const auto lowerOf = edgePairs(footing.facets, "a force per length does not act on faces",
                                   "Name an edge of a thin part, a slender line, or an edge where faces meet (\"part.face & "
                                   "part.face\"); on faces a pressure or a force acts.",
                                   path);
    std::map<int, double> share;  // half of the middle line's length to either end, half of that to either side
    for (const auto& f : footing.facets) {
      std::vector<std::pair<int, int>> ends;
      for (int n : p->mesh.nodesOf(f))
        if (const auto it = lowerOf.find(n); it != lowerOf.end()) ends.push_back(*it);
      const auto middle = [&](size_t i) {
        return Vector3d((p->mesh.x[size_t(ends[i].first)] + p->mesh.x[size_t(ends[i].second)]) / 2);
      };
      const double quarter = (middle(1) - middle(0)).norm() / 4;
      for (const auto& [upper, lower] : ends) share[upper] += quarter, share[lower] += quarter;
    }
    for (const auto& [node, s] : share) load.nodes.push_back(node), load.share.push_back(s);
    return;
  }
  load.nodes = footing.nodes, load.share = footing.share;
  if (!(footing.length > 0))
    throw Error("a force per length acts on a point", path, "Name an edge or a line, or take kind \"force\".");
  for (double& s : load.share) s *= footing.length;
}

void Lowering::loads() {
  for (const auto& [name, l] : d.loads) {
    const std::string path = "loads/" + name;
    Load load;
    load.name = name, load.pressure = l.kind == "pressure", load.moment = l.kind == "moment";
    if (!l.course.given()) throw Error("the load has no course", path + "/course", "Give a value, or values per step.");
    load.course = model::timed(l.course, model::loadKind(l), d, q, path + "/course");
    if (l.of == "whole") {
      if (load.pressure || l.kind == "force per length")
        throw Error("a " + l.kind + " is the same on the part and on the whole", path + "/of", "Take \"of\" out.");
      load.course.curve.scale(wholeShare(path + "/of"));
    }
    if (load.moment && p->dim() == 2)
      load.direction = Vector3d::UnitZ();
    else if (!load.pressure)
      load.direction = vectorOf(l.along, path + "/along");
    load.perLength = l.kind == "force per length";
    if (load.perLength) lineForce(l.on, load, path + "/on");
    if (load.perLength || (load.moment && edgeMoment(l.on, load, path + "/on"))) {
      p->loads.push_back(load);
      continue;
    }
    if (l.on.size() == 1 && !load.pressure)
      load.body = load.moment ? bodyWanted(l.on[0], path + "/on") : bodyNamed(l.on[0]);
    else if (load.moment)
      throw Error("a moment acts on one carrier, rigid part or point of a slender part, or along edges of thin parts",
                  path + "/on", "Name one of them.");
    if (load.body < 0 && load.pressure) load.facets = facetsOf(l.on, d, p->mesh, path + "/on");
    if (load.body < 0 && !load.pressure) {
      const auto on = standsOn(l.on, path + "/on");
      load.facets = on.facets;
      if (on.facets.empty()) load.nodes = on.nodes, load.share = on.share;
    }
    p->loads.push_back(load);
  }
}

}  // namespace anvil::analysis
