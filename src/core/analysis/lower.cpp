// From the document to the problem: names become numbers.
#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/analysis/problem.hpp"
#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/geometry/recipes.hpp"
#include "core/mesh/mapped.hpp"

namespace anvil::analysis {
namespace {

using model::Document;
using model::Quantities;

template <class T>
const T& found(const model::Named<T>& list, const std::string& name, const std::string& kind, const std::string& path) {
  if (const T* t = list.find(name)) return *t;
  const auto near = nearest(name, list.names());
  throw Error("there is no " + kind + " '" + name + "'", path,
              !near.empty() ? "Did you mean '" + near + "'?" : list.empty() ? "Define it first." : "Known: " + inProse(list.names()) + ".");
}

int partIndex(const Document& d, const std::string& name) {
  for (size_t i = 0; i < d.parts.size(); ++i)
    if (d.parts[i].first == name) return int(i);
  return -1;
}

element::Setting settingOf(const Document& d, const Quantities& q) {
  element::Setting s;
  s.space = d.space == "plane stress"   ? element::Space::planeStress
            : d.space == "axisymmetric" ? element::Space::axisymmetric
                                        : element::Space::planeStrain;
  s.large = d.geometry == "large";
  s.thickness = s.space == element::Space::axisymmetric ? 1 : q(d.thickness, Kind::length, "thickness");
  if (s.thickness <= 0) throw Error("the thickness is " + shortNumber(s.thickness) + " mm", "thickness", "Give a value above zero.");
  return s;
}

class Lowering {
public:
  explicit Lowering(const Document& document) : d(document), q(document), p(std::make_unique<Problem>()) {}

  std::unique_ptr<Problem> run() {
    p->setting = settingOf(d, q);
    p->mesh = buildMesh(d, q);
    if (d.steps.empty()) throw Error("the model has no step", "steps", "Add one, for example \"steps\": {\"press\": {}}.");
    blocks();
    steps();
    rigidBodies();
    contacts();
    motions();
    loads();
    stabilisations();
    watchPoints();
    control();
    return std::move(p);
  }

private:
  void blocks() {
    p->partYoung.assign(d.parts.size(), 0);
    double sum = 0;
    for (const auto& cells : p->mesh.blocks) {
      const auto& [name, part] = d.parts[size_t(cells.part)];
      const std::string path = "parts/" + name;
      if (part.material.empty()) throw Error("the part has no material", path + "/material", "Name one of the materials.");
      const auto& m = found(d.materials, part.material, "material", path + "/material");
      const std::string place = "materials/" + part.material;
      try {
        if (m.plastic)
          p->blocks.push_back(element::makeBlock(cells, p->mesh.x, p->setting, plasticLaw(m, q, place)));
        else
          p->blocks.push_back(element::makeBlock(cells, p->mesh.x, p->setting, elasticLaw(m, q, place)));
      } catch (const Error& e) {
        throw e.where().empty() ? Error(e.wrong(), path, e.remedy()) : e;
      }
      p->partYoung[size_t(cells.part)] = q(m.elastic.E, Kind::stress, place + "/elastic/E");
      sum += p->partYoung[size_t(cells.part)];
    }
    if (p->blocks.empty()) throw Error("the model has no deformable part", "parts", "Add a part with a shape and a material.");
    p->youngScale = sum / double(p->blocks.size());
  }

  void steps() {
    const auto times = model::stepTimes(d, q);
    for (size_t i = 0; i < d.steps.size(); ++i) {
      const auto& [name, s] = d.steps[i];
      const std::string path = "steps/" + name + "/increments";
      StepPlan plan{name, times[i], times[i + 1], q(s.increments.first, Kind::number, path + "/first"),
                    q(s.increments.smallest, Kind::number, path + "/smallest"), q(s.increments.largest, Kind::number, path + "/largest"), s.increments.most};
      if (!(plan.smallest > 0) || plan.first < plan.smallest || plan.largest < plan.smallest || plan.largest > 1 || plan.first > 1)
        throw Error("the increment sizes do not fit together", path, "Keep 0 < smallest <= first <= 1 and smallest <= largest <= 1; they are parts of the step.");
      plan.first = std::min(plan.first, plan.largest);
      p->steps.push_back(plan);
    }
  }

  void rigidBodies() {
    for (size_t i = 0; i < d.parts.size(); ++i) {
      const auto& [name, part] = d.parts[i];
      if (!part.rigid) continue;
      const std::string path = "parts/" + name;
      auto shape = geometry::outline(part, q, path);
      contact::RigidOutline body;
      body.name = name, body.curves = shape.curves, body.closed = shape.closed;
      if (!part.pivot.empty()) {
        const auto r = q.list(part.pivot, Kind::length, path + "/pivot");
        if (r.size() != 2) throw Error("the pivot needs two coordinates", path + "/pivot", "Write [x, y].");
        body.reference = {r[0], r[1]};
      }
      p->rigid.push_back(body);
      p->rigidPart.push_back(int(i));
    }
  }

  int rigidNamed(const std::string& name) const {
    for (size_t i = 0; i < p->rigid.size(); ++i)
      if (p->rigid[i].name == name) return int(i);
    return -1;
  }

  contact::Surface surfaceOf(const std::string& name, const std::string& path) {
    const auto facets = facetsOf({name}, d, p->mesh, path);
    const int part = p->mesh.blocks[size_t(facets.front().block)].part;
    return contact::makeSurface(name, p->mesh, facets, p->partYoung[size_t(part)]);
  }

  /// Half the smaller extent of the part behind a surface.
  double halfThickness(const contact::Surface& s) const {
    const int part = p->mesh.blocks[size_t(s.segments.front().facet.block)].part;
    Point2 low(1e300, 1e300), high(-1e300, -1e300);
    for (const auto& b : p->mesh.blocks)
      if (b.part == part)
        for (int n : b.nodes) low = low.cwiseMin(p->mesh.x[size_t(n)].head<2>()), high = high.cwiseMax(p->mesh.x[size_t(n)].head<2>());
    return (high - low).minCoeff() / 2;
  }

  void contacts() {
    for (const auto& [name, c] : d.contacts) {
      const std::string path = "contacts/" + name;
      if (c.between.size() != 2) throw Error("a contact is between two surfaces", path + "/between", "Name two: regions, \"part.edge\", or a rigid part.");
      contact::PairSetup s;
      s.name = name;
      const int r0 = rigidNamed(c.between[0]), r1 = rigidNamed(c.between[1]);
      if (r0 >= 0 && r1 >= 0) throw Error("both bodies are rigid", path + "/between", "At least one must be deformable.");
      if (r0 >= 0 || r1 >= 0) {
        s.rigid = std::max(r0, r1), s.swapped = r0 >= 0;
        s.slave = surfaceOf(c.between[r0 >= 0 ? 1 : 0], path + "/between");
      } else {
        auto first = surfaceOf(c.between[0], path + "/between/1"), second = surfaceOf(c.between[1], path + "/between/2");
        const bool softer = second.young < 0.5 * first.young, harder = second.young > 2 * first.young;
        const bool finer = second.meanLength < 0.999 * first.meanLength;
        s.swapped = c.pressureOn == "second" || (c.pressureOn == "auto" && (softer || (!harder && finer)));
        s.slave = s.swapped ? second : first, s.master = s.swapped ? first : second;
      }
      s.behaviour = c.kind == "tied"      ? contact::Behaviour::tied
                    : c.kind == "rough"   ? contact::Behaviour::rough
                    : c.kind == "sliding" ? contact::Behaviour::sliding
                                          : contact::Behaviour::touching;
      s.friction = q(c.friction, Kind::number, path + "/friction");
      if (s.friction < 0 || s.friction > 5) throw Error("the friction coefficient is " + shortNumber(s.friction), path + "/friction", "Give a value from 0 to about 1.");
      if (c.shearLimit.given()) s.shearLimit = q(c.shearLimit, Kind::stress, path + "/shear limit");
      s.closeWithin = q.orElse(c.start.closeWithin, Kind::length, 0, path + "/start/close within");
      double reach = 2 * std::max(s.slave.meanLength, s.master.meanLength);
      reach = std::min(reach, halfThickness(s.slave));
      if (s.rigid < 0) reach = std::min(reach, halfThickness(s.master));
      s.reach = q.orElse(c.search, Kind::length, std::max(reach, 1.5 * s.closeWithin), path + "/search");
      if (s.reach <= 0) throw Error("the search distance is " + shortNumber(s.reach) + " mm", path + "/search", "Give a value above zero.");
      ContactPlan plan;
      plan.active = model::activeDuring(c.during, d, path + "/during");
      if (c.interference.given()) plan.interference = model::timed(c.interference, Kind::length, d, q, path + "/interference"), plan.hasInterference = true;
      if (!c.start.resolveOver.empty()) {
        const auto active = model::activeDuring({c.start.resolveOver}, d, path + "/start/resolve over");
        plan.resolveStep = int(std::find(active.begin(), active.end(), true) - active.begin());
      }
      p->contactPlans.push_back(plan);
      p->pairs.emplace_back(std::move(s));
      p->pairs.back().setResolves(plan.resolveStep >= 0);
    }
  }

  static bool isAxis(const std::string& word, int& axis) {
    if (word == "x" || word == "r") axis = 0;
    else if (word == "y" || word == "z") axis = 1;
    else return false;
    return true;
  }

  Point2 vectorOf(const model::Direction& along, const std::string& path) const {
    int axis;
    if (isAxis(along.axis, axis)) return Point2::Unit(axis);
    if (along.vector.size() == 2) {
      const auto v = q.list(along.vector, Kind::number, path);
      if (std::hypot(v[0], v[1]) > 0) return Point2(v[0], v[1]).normalized();
    }
    throw Error("the direction is not understood", path, "Give x, y (r, z in axisymmetric models) or a vector [a, b].");
  }

  void addMotion(const std::string& name, bool support, const std::vector<std::string>& on, const model::Direction& along,
                 const model::TimedCourse& course, const std::string& path) {
    if (on.empty()) throw Error("it acts on nothing", path + "/on", "Name regions, edges or a rigid part.");
    std::vector<std::string> soft;
    for (const auto& target : on) {
      const int body = rigidNamed(target);
      if (body < 0) {
        soft.push_back(target);
        continue;
      }
      Motion m{name, support, {}, {}, body, 0, course};
      if (along.axis == "turn") m.rigidAxis = 2;
      else if (!isAxis(along.axis, m.rigidAxis)) throw Error("a rigid part moves along an axis or turns", path, "Use an axis name or \"turn\".");
      p->motions.push_back(m);
    }
    if (soft.empty()) return;
    const auto facets = facetsOf(soft, d, p->mesh, path + "/on");
    Motion m{name, support, p->mesh.nodesOf(facets), {}, -1, 0, course};
    if (along.axis == "normal") {
      std::map<int, Point2> normal;
      for (const auto& f : facets) {
        const auto nodes = p->mesh.nodesOf(f);
        const Eigen::Vector3d t = p->mesh.x[size_t(nodes[1])] - p->mesh.x[size_t(nodes[0])];
        for (int n : nodes) normal.try_emplace(n, Point2::Zero()).first->second += Point2(t.y(), -t.x());
      }
      for (int n : m.nodes) m.direction.push_back(normal[n].normalized());
    } else {
      m.direction.assign(m.nodes.size(), vectorOf(along, path));
    }
    p->motions.push_back(m);
  }

  void motions() {
    for (const auto& [name, s] : d.supports) {
      const std::string path = "supports/" + name;
      if (s.fix.empty()) throw Error("no direction is held", path + "/fix", "List directions, for example [\"x\", \"y\"] or \"normal\".");
      model::TimedCourse course;
      course.curve.add(0, 0);
      course.active = model::activeDuring(s.during, d, path + "/during");
      for (const auto& axis : s.fix) addMotion(name, true, s.on, model::Direction{axis, {}}, course, path + "/fix");
    }
    for (const auto& [name, m] : d.motions) {
      const std::string path = "motions/" + name;
      if (!m.course.given()) throw Error("the motion has no course", path + "/course", "Give a value, or values per step.");
      const auto kind = m.along.axis == "turn" ? Kind::angle : Kind::length;
      addMotion(name, false, m.on, m.along, model::timed(m.course, kind, d, q, path + "/course"), path + "/along");
    }
  }

  void loads() {
    for (const auto& [name, l] : d.loads) {
      const std::string path = "loads/" + name;
      Load load;
      load.name = name, load.pressure = l.kind == "pressure";
      load.facets = facetsOf(l.on, d, p->mesh, path + "/on");
      if (!l.course.given()) throw Error("the load has no course", path + "/course", "Give a value, or values per step.");
      load.course = model::timed(l.course, load.pressure ? Kind::stress : Kind::force, d, q, path + "/course");
      if (!load.pressure) load.direction = vectorOf(l.along, path + "/along");
      p->loads.push_back(load);
    }
  }

  void stabilisations() {
    for (const auto& [name, s] : d.stabilisations) {
      const std::string path = "stabilisations/" + name;
      Stabilisation stab;
      stab.name = name;
      stab.active = model::activeDuring(s.during, d, path + "/during");
      stab.viscosity = VectorXd::Zero(p->dofs());
      const double strength = q(s.strength, Kind::number, path + "/strength");
      for (const auto& partName : s.on) {
        found(d.parts, partName, "part", path + "/on");
        const int part = partIndex(d, partName);
        double volume = 0;
        VectorXd lumped = VectorXd::Zero(p->dofs());
        for (const auto& b : p->blocks) {
          if (b->cells().part != part) continue;
          const int n = mesh::info(b->cells().type).nodes;
          std::vector<double> share(static_cast<size_t>(n));
          for (size_t c = 0; c < b->cells().count(); ++c) {
            b->lumpedVolume(c, share.data());
            for (int a = 0; a < n; ++a) {
              const int node = b->cells().cell(c)[a];
              lumped[2 * node] += share[size_t(a)], lumped[2 * node + 1] += share[size_t(a)];
              volume += share[size_t(a)];
            }
          }
        }
        // moving the whole body by its own size in unit time takes 1e-5 E over a section of it
        if (volume > 0) stab.viscosity += lumped * (strength * 1e-5 * p->partYoung[size_t(part)] / std::pow(volume, 2. / 3));
      }
      p->stabilisations.push_back(stab);
    }
  }

  void watchPoints() {
    for (const auto& [name, w] : d.watch) {
      const std::string path = "watch/" + name;
      found(d.parts, w.part, "part", path + "/part");
      const int part = partIndex(d, w.part);
      const auto at = q.list(w.at, Kind::length, path + "/at");
      if (at.size() != 2) throw Error("a point needs two coordinates", path + "/at", "Write [x, y].");
      int best = -1;
      double least = 1e300;
      for (const auto& b : p->mesh.blocks)
        if (b.part == part)
          for (int n : b.nodes)
            if (const double r = (p->mesh.x[size_t(n)].head<2>() - Point2(at[0], at[1])).norm(); r < least) least = r, best = n;
      if (best < 0) throw Error("the part has no nodes to watch", path + "/part", "Name a deformable part.");
      p->watch.push_back({name, best});
    }
  }

  void control() {
    const auto& s = d.solver;
    auto& c = p->control;
    c = {q(s.forceTolerance, Kind::number, "solver/force tolerance"), q(s.correctionTolerance, Kind::number, "solver/correction tolerance"),
         q(s.growth, Kind::number, "solver/growth"), q(s.cut, Kind::number, "solver/cut"), q(s.plasticStrainLimit, Kind::number, "solver/plastic strain limit"),
         s.mostIterations, s.fewestIterations, s.easyIterations, s.lineSearch, s.predictor};
    if (!(c.forceTolerance > 0 && c.correctionTolerance > 0)) throw Error("a tolerance is not above zero", "solver", "Give small positive numbers.");
    if (!(c.cut > 0 && c.cut < 1) || c.growth < 1) throw Error("cut must lie between 0 and 1 and growth be at least 1", "solver", "Take 0.4 and 1.5.");
  }

  const Document& d;
  Quantities q;
  std::unique_ptr<Problem> p;
};

}  // namespace

std::string Problem::whereIs(int node) const {
  if (node < 0) return "the model";
  const auto& at = mesh.x[size_t(node)];
  std::string part;
  for (const auto& b : mesh.blocks)
    if (std::find(b.nodes.begin(), b.nodes.end(), node) != b.nodes.end()) part = mesh.parts[size_t(b.part)];
  return "part '" + part + "' near " + axis(0) + " " + shortNumber(at.x(), 4) + ", " + axis(1) + " " + shortNumber(at.y(), 4) + " mm (node " +
         std::to_string(node + 1) + ")";
}

mesh::Mesh buildMesh(const Document& d, const Quantities& q) {
  mesh::Mesh mesh;
  mesh.parts = d.parts.names();
  for (size_t i = 0; i < d.parts.size(); ++i) {
    const auto& [name, part] = d.parts[i];
    if (part.rigid) continue;
    const std::string path = "parts/" + name;
    const auto type = part.element == "quad4" ? mesh::Cell::quad4 : mesh::Cell::quad8;
    mesh::addMapped(mesh, int(i), type, geometry::blocks(part, q, path), path);
  }
  if (d.space == "axisymmetric")
    for (const auto& x : mesh.x)
      if (x.x() < -1e-9) throw Error("a part reaches to negative radius", "parts", "In axisymmetric models the first coordinate is the radius.");
  return mesh;
}

std::vector<mesh::Facet> facetsOf(const std::vector<std::string>& names, const Document& d, const mesh::Mesh& mesh, const std::string& path) {
  std::vector<mesh::Facet> result;
  for (const auto& name : names) {
    if (const auto* region = d.regions.find(name)) {
      const auto more = facetsOf(region->edges, d, mesh, "regions/" + name + "/edges");
      result.insert(result.end(), more.begin(), more.end());
    } else if (const auto* face = mesh.face(name)) {
      result.insert(result.end(), face->facets.begin(), face->facets.end());
    } else if (const int part = partIndex(d, name); part >= 0 && !d.parts[size_t(part)].second.rigid) {
      const auto all = mesh.boundary(part);
      result.insert(result.end(), all.begin(), all.end());
    } else {
      std::vector<std::string> known = d.regions.names();
      for (const auto& f : mesh.faces) known.push_back(f.name);
      for (const auto& n : d.parts.names()) known.push_back(n);
      const auto near = nearest(name, known);
      throw Error("there is no region, edge or part '" + name + "'", path,
                  near.empty() ? "Known: " + inProse(known) + "." : "Did you mean '" + near + "'?");
    }
  }
  if (result.empty()) throw Error("nothing is named here", path, "Name regions or edges as \"part.edge\".");
  return result;
}

std::unique_ptr<Problem> lower(const Document& document) { return Lowering(document).run(); }

}  // namespace anvil::analysis
