// From the document to the problem: names become numbers.
#include <Eigen/Geometry>
#include <Eigen/LU>
#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/analysis/problem.hpp"
#include "core/contact/side_integral.hpp"
#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/element/face.hpp"
#include "core/geometry/recipes.hpp"
#include "core/mesh/part_mesh.hpp"

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
            : d.space == "solid"        ? element::Space::solid
                                        : element::Space::planeStrain;
  s.large = d.geometry == "large";
  s.thickness = s.space == element::Space::axisymmetric || s.space == element::Space::solid ? 1 : q(d.thickness, Kind::length, "thickness");
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
    carriers();
    springs();
    contacts();
    motions();
    loads();
    temperatures();
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
        p->blocks.push_back(element::makeBlock(cells, p->mesh.x, p->setting, materialLaw(m, q, place)));
      } catch (const Error& e) {
        throw e.where().empty() ? Error(e.wrong(), path, e.remedy()) : e;
      }
      p->partYoung[size_t(cells.part)] = youngOf(m, q, place);
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
      contact::RigidBody body;
      body.name = name, body.curves = shape.curves, body.closed = shape.closed;
      body.place = geometry::placement(part, q, p->dim() == 3, path);
      if (p->dim() == 2) place(body);
      body.sweep = geometry::sweep(part, q, path);
      if (p->dim() == 3 && body.sweep.kind == geometry::Sweep::Kind::none) throw Error("the rigid part of a solid model has only a plane shape", path, "Add \"extrude\" or \"revolve\".");
      if (p->dim() == 2 && body.sweep.kind != geometry::Sweep::Kind::none) throw Error("only parts of solid models are extruded or revolved", path, "Set \"space\": \"solid\".");
      if (!part.pivot.empty()) body.pivot = pointOf(part.pivot, path + "/pivot");
      p->rigid.push_back(body);
      p->rigidPart.push_back(int(i));
      Body b;
      b.name = name, b.pivot = body.pivot;
      for (const auto& c : body.curves) b.lever = std::max({b.lever, (body.place(Vector3d(c.a.x(), c.a.y(), 0)) - body.pivot).norm(), (body.place(Vector3d(c.b.x(), c.b.y(), 0)) - body.pivot).norm()});
      for (const auto& word : part.loose) b.loose[size_t(bodyAxis(word, path + "/loose"))] = true;
      p->bodies.push_back(b);
    }
  }

  /// Number of a body's dof by word: an axis, or a turn.
  int bodyAxis(const std::string& word, const std::string& path) const {
    int axis;
    if (isTurn(word, axis, path)) return p->dim() == 2 ? 2 : 3 + axis;
    if (isAxis(word, axis)) return axis;
    throw Error("the direction '" + word + "' is not understood", path, p->dim() == 3 ? "Give x, y, z, turn x, turn y or turn z." : "Give x, y (r, z in axisymmetric models) or turn.");
  }

  void carriers() {
    const int dim = p->dim();
    for (const auto& [name, c] : d.carriers) {
      const std::string path = "carriers/" + name;
      if (p->setting.space == element::Space::axisymmetric) throw Error("axisymmetric models have no carriers", path, "Move the faces themselves, or model the solid.");
      if (bodyNamed(name) >= 0 || d.parts.find(name)) throw Error("a part has the same name", path, "Give the carrier another name.");
      const auto facets = facetsOf(c.on, d, p->mesh, path + "/on");
      Carrier carrier;
      carrier.name = name, carrier.rigid = c.hold == "rigid", carrier.nodes = p->mesh.nodesOf(facets), carrier.body = int(p->bodies.size());
      carrier.weight = nodalShares(facets, carrier.nodes);
      for (size_t i = 0; i < carrier.nodes.size(); ++i) carrier.centre += carrier.weight[i] * p->mesh.x[size_t(carrier.nodes[i])];
      Body b;
      b.name = name, b.pivot = c.at.empty() ? carrier.centre : pointOf(c.at, path + "/at");
      b.loose.fill(true);
      Eigen::Matrix3d spread = Eigen::Matrix3d::Zero();
      double lever = 0;
      for (int n : carrier.nodes) {
        const Vector3d r = p->mesh.x[size_t(n)] - carrier.centre;
        lever = std::max(lever, r.norm()), spread += r * r.transpose();
      }
      const double flat = (spread.trace() * Eigen::Matrix3d::Identity() - spread).determinant();
      if (lever == 0 || (dim == 3 && flat < 1e-9 * std::pow(spread.trace(), 3)))
        throw Error("the nodes of the carrier lie on a line or at a point, so nothing makes it turn with them", path + "/on", "Name faces of some extent.");
      b.lever = lever;
      carrier.firstMultiplier = p->multipliers, carrier.scale = p->youngScale * (dim == 3 ? p->sizeScale() : p->setting.thickness);
      p->multipliers += carrier.multipliers(dim);
      p->bodies.push_back(b), p->carriers.push_back(carrier);
    }
    for (auto& c : p->carriers) c.firstMultiplier += p->bodyEnd();
    std::map<int, std::string> held;
    for (const auto& c : p->carriers)
      for (int n : c.nodes)
        if (c.rigid)
          if (const auto [it, fresh] = held.try_emplace(n, c.name); !fresh)
            throw Error("carriers '" + it->second + "' and '" + c.name + "' both hold " + p->whereIs(n), "carriers/" + c.name + "/on", "Let one of them hold \"mean\", or hold faces that do not meet.");
  }

  /// Share of the facets' undeformed area that belongs to each node.
  std::vector<double> nodalShares(const std::vector<mesh::Facet>& facets, const std::vector<int>& nodes) const {
    std::map<int, double> share;
    double sum = 0;
    for (const auto& f : facets) {
      const auto n = p->mesh.nodesOf(f);
      const int corners = p->mesh.cornersOf(f);
      for (const auto& [local, weight] : element::faceRule(corners)) {
        const auto shape = element::faceShape(corners, int(n.size()) > corners, local);
        Vector3d t1 = Vector3d::Zero(), t2 = Vector3d::Zero();
        for (size_t a = 0; a < n.size(); ++a) t1 += shape.d1[a] * p->mesh.x[size_t(n[a])], t2 += shape.d2[a] * p->mesh.x[size_t(n[a])];
        if (corners == 2) t2 = Vector3d::UnitZ();
        const double area = weight * t1.cross(t2).norm();
        for (size_t a = 0; a < n.size(); ++a) share[n[a]] += shape.N[a] * area;
        sum += area;
      }
    }
    std::vector<double> list;
    for (int n : nodes) list.push_back(share[n] / sum);
    return list;
  }

  void springs() {
    for (const auto& [name, s] : d.springs) {
      const std::string path = "springs/" + name;
      if (s.between.empty() || s.between.size() > 2) throw Error("a spring has one or two ends", path + "/between", "Name one or two carriers or rigid parts.");
      Spring spring;
      spring.name = name, spring.first = bodyWanted(s.between[0], path + "/between");
      if (s.between.size() == 2) spring.second = bodyWanted(s.between[1], path + "/between");
      const auto& a = p->bodies[size_t(spring.first)].pivot;
      Vector3d b = spring.second >= 0 ? p->bodies[size_t(spring.second)].pivot : a;
      if (spring.second < 0 && !s.at.empty()) b = spring.ground = pointOf(s.at, path + "/at");
      if (!s.along.empty()) {
        const int axis = bodyAxis(s.along, path + "/along");
        spring.turning = axis >= p->dim(), spring.axis = Vector3d::Unit(!spring.turning ? axis : p->dim() == 2 ? 2 : axis - 3);
      } else if ((b - a).norm() < 1e-9) {
        throw Error("the ends of the spring lie at the same point, so it has no line", path, "Give the other end by \"at\", or a direction by \"along\".");
      }
      if (s.stiffness.given() == !s.rows.empty() && !(s.damping.given() && !s.stiffness.given())) throw Error("the spring needs a stiffness or rows, not both", path, "Give one of them.");
      if (s.rows.empty()) {
        const double k = q.orElse(s.stiffness, Kind::number, 0, path + "/stiffness");
        spring.force.add(-1, -k), spring.force.add(1, k);
      }
      for (size_t i = 0; i < s.rows.size(); ++i) {
        const std::string place = path + "/rows/" + std::to_string(i + 1);
        if (s.rows[i].size() != 2) throw Error("a row needs an extension and a force", place, "Write [extension, force].");
        const double e = q(s.rows[i][0], Kind::number, place), f = q(s.rows[i][1], Kind::number, place);
        if (!spring.force.empty() && e <= spring.force.x.back()) throw Error("the extension " + shortNumber(e) + " does not rise above the row before", place, "List rows in rising order.");
        spring.force.add(e, f);
      }
      if (s.rows.size() == 1) throw Error("one row is no curve", path + "/rows", "Give at least two.");
      spring.damping = q(s.damping, Kind::number, path + "/damping");
      if (spring.damping < 0) throw Error("the damping is below zero", path + "/damping", "Give zero or more.");
      p->springs.push_back(spring);
    }
  }

  int bodyNamed(const std::string& name) const {
    for (size_t i = 0; i < p->bodies.size(); ++i)
      if (p->bodies[i].name == name) return int(i);
    return -1;
  }
  int bodyWanted(const std::string& name, const std::string& path) const {
    if (const int b = bodyNamed(name); b >= 0) return b;
    std::vector<std::string> known;
    for (const auto& b : p->bodies) known.push_back(b.name);
    const auto near = nearest(name, known);
    throw Error("there is no carrier or rigid part '" + name + "'", path, !near.empty() ? "Did you mean '" + near + "'?" : known.empty() ? "Define a carrier first." : "Known: " + inProse(known) + ".");
  }

  /// Puts a plane outline into its place.
  static void place(contact::RigidBody& body) {
    const auto moved = [&](const Eigen::Vector2d& x) { return Eigen::Vector2d(body.place(Vector3d(x.x(), x.y(), 0)).head<2>()); };
    for (auto& c : body.curves) c.a = moved(c.a), c.b = moved(c.b), c.center = moved(c.center), c.from += std::atan2(body.place.turn(1, 0), body.place.turn(0, 0));
    body.place = {};
  }

  Vector3d pointOf(const model::Point& point, const std::string& path) const {
    const auto v = q.list(point, Kind::length, path);
    if (int(v.size()) != p->dim()) throw Error(std::string("a point needs ") + (p->dim() == 3 ? "three" : "two") + " coordinates", path, p->dim() == 3 ? "Write [x, y, z]." : "Write [x, y].");
    Vector3d x = Vector3d::Zero();
    for (size_t i = 0; i < v.size(); ++i) x[Eigen::Index(i)] = v[i];
    return x;
  }

  int rigidNamed(const std::string& name) const {
    for (size_t i = 0; i < p->rigid.size(); ++i)
      if (p->rigid[i].name == name) return int(i);
    return -1;
  }

  /// A named surface, or with "everything" the outside of all deformable parts.
  contact::Surface surfaceOf(const std::string& name, const std::string& path) {
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

  /// Half the smaller extent of the part behind a surface.
  double halfThickness(const contact::Surface& s) const {
    const int part = p->mesh.blocks[size_t(s.sides.front().facet.block)].part;
    Vector3d low = Vector3d::Constant(1e300), high = -low;
    for (const auto& b : p->mesh.blocks)
      if (b.part == part)
        for (int n : b.nodes) low = low.cwiseMin(p->mesh.x[size_t(n)]), high = high.cwiseMax(p->mesh.x[size_t(n)]);
    double least = 1e300;
    for (int k = 0; k < p->dim(); ++k) least = std::min(least, (high[k] - low[k]) / 2);
    return least;
  }

  void contacts() {
    for (const auto& [name, c] : d.contacts) {
      const std::string path = "contacts/" + name;
      if (c.between.empty() || c.between.size() > 2)
        throw Error("a contact is between two surfaces, or of one with itself", path + "/between", "Name two: regions, \"part.edge\", or a rigid part; one for self contact; or \"everything\".");
      const bool all = c.between.size() == 1 && c.between[0] == "everything";
      if (all)
        for (size_t r = 0; r < p->rigid.size(); ++r) addContact(name + " with " + p->rigid[r].name, c, {"everything", p->rigid[r].name}, path);
      addContact(name, c, c.between, path);
    }
  }

  void addContact(const std::string& name, const model::Contact& c, const std::vector<std::string>& between, const std::string& path) {
    contact::PairSetup s;
    s.name = name, s.self = between.size() == 1;
    const int r0 = rigidNamed(between.front()), r1 = rigidNamed(between.back());
    if (r0 >= 0 && r1 >= 0) throw Error(s.self ? "a rigid body cannot touch itself" : "both bodies are rigid", path + "/between", "At least one must be deformable.");
    if (s.self) {
      s.slave = s.master = surfaceOf(between[0], path + "/between");
    } else if (r0 >= 0 || r1 >= 0) {
      s.rigid = std::max(r0, r1), s.swapped = r0 >= 0;
      s.slave = surfaceOf(between[r0 >= 0 ? 1 : 0], path + "/between");
    } else {
      auto first = surfaceOf(between[0], path + "/between/1"), second = surfaceOf(between[1], path + "/between/2");
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
    if (s.self) {
      auto walls = contact::wallsOf(s.slave, p->mesh, 3 * reach);
      reach = std::min(reach, 0.9 * walls.thickness);
      s.never = std::move(walls.behind);
    } else {
      reach = std::min(reach, halfThickness(s.slave));
      if (s.rigid < 0) reach = std::min(reach, halfThickness(s.master));
    }
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

  bool isAxis(const std::string& word, int& axis) const {
    for (axis = 0; axis < p->dim(); ++axis)
      if (word == p->axis(axis)) return true;
    // x and y are understood in axisymmetric models too
    if (word == "x" || word == "y") axis = word == "y";
    else return false;
    return true;
  }

  /// "turn", or in space "turn x", "turn y", "turn z": the number of the axis. False for other words.
  bool isTurn(const std::string& word, int& axis, const std::string& path) const {
    if (!word.starts_with("turn")) return false;
    axis = word == "turn x" ? 0 : word == "turn y" ? 1 : 2;
    if (p->setting.space == element::Space::axisymmetric || (p->dim() == 2 && axis != 2)) throw Error("nothing can turn that way in this kind of model", path, "Use another direction.");
    if (p->dim() == 3 && word == "turn") throw Error("the axis of the turn is not said", path, "Write \"turn x\", \"turn y\" or \"turn z\".");
    return true;
  }

  Vector3d vectorOf(const model::Direction& along, const std::string& path) const {
    int axis;
    if (isAxis(along.axis, axis)) return Vector3d::Unit(axis);
    if (int(along.vector.size()) == p->dim()) {
      const auto v = q.list(along.vector, Kind::number, path);
      Vector3d d = Vector3d::Zero();
      for (size_t i = 0; i < v.size(); ++i) d[Eigen::Index(i)] = v[i];
      if (d.norm() > 0) return d.normalized();
    }
    throw Error("the direction is not understood", path, p->dim() == 3 ? "Give x, y, z or a vector [a, b, c]." : "Give x, y (r, z in axisymmetric models) or a vector [a, b].");
  }

  /// Outward normals of facets at their nodes, averaged by area.
  std::map<int, Vector3d> normalsOf(const std::vector<mesh::Facet>& facets) const {
    std::map<int, Vector3d> normal;
    for (const auto& f : facets) {
      const auto nodes = p->mesh.nodesOf(f);
      const auto x = [&](size_t i) { return p->mesh.x[size_t(nodes[i])]; };
      const int corners = p->mesh.cornersOf(f);
      const Vector3d n = corners == 2 ? Vector3d((x(1) - x(0)).cross(Vector3d::UnitZ())) : corners == 3 ? Vector3d((x(1) - x(0)).cross(x(2) - x(0))) : Vector3d((x(2) - x(0)).cross(x(3) - x(1)));
      for (int node : nodes) normal.try_emplace(node, Vector3d::Zero()).first->second += n;
    }
    return normal;
  }

  void addMotion(const std::string& name, bool support, const std::vector<std::string>& on, const model::Direction& along,
                 const model::TimedCourse& course, const std::string& path, const Vector3d& about = Vector3d::Zero(), const Vector3d& axisOfTurn = Vector3d::Zero()) {
    if (on.empty()) throw Error("it acts on nothing", path + "/on", "Name regions, edges or a rigid part.");
    std::vector<std::string> soft;
    for (const auto& target : on) {
      const int body = bodyNamed(target);
      if (body < 0) {
        soft.push_back(target);
        continue;
      }
      Motion m;
      m.name = name, m.support = support, m.body = body, m.course = course;
      if (!axisOfTurn.isZero(0)) m.anyAxis = true, m.axis = axisOfTurn, m.bodyAxis = 3;
      else m.bodyAxis = bodyAxis(along.axis, path);
      p->motions.push_back(m);
    }
    if (soft.empty()) return;
    if (along.axis == "normal") {  // each face by its own normal: where two meet, both are held
      std::vector<std::string> faces;
      for (const auto& name : soft)
        if (const auto* region = d.regions.find(name)) faces.insert(faces.end(), region->edges.begin(), region->edges.end());
        else faces.push_back(name);
      if (faces.size() > 1) {
        for (const auto& face : faces) addMotion(name, support, {face}, along, course, path, about);
        return;
      }
    }
    const auto facets = facetsOf(soft, d, p->mesh, path + "/on");
    Motion m;
    m.name = name, m.support = support, m.nodes = p->mesh.nodesOf(facets), m.course = course;
    if (!axisOfTurn.isZero(0)) {
      m.turn = true, m.axis = axisOfTurn, m.about = about;
    } else if (int axis; isTurn(along.axis, axis, path)) {
      m.turn = true, m.axis = Vector3d::Unit(axis), m.about = about;
    } else if (along.axis.starts_with("radial") || along.axis.starts_with("around")) {
      const bool around = along.axis.starts_with("around");
      int axis = 2;
      if (p->dim() == 3 && !isAxis(along.axis.substr(std::min<size_t>(7, along.axis.size())), axis))
        throw Error("the axis is not said", path, "Write for example \"" + along.axis.substr(0, 6) + " y\".");
      for (int n : m.nodes) {
        Vector3d arm = p->mesh.x[size_t(n)] - about;
        arm[axis] = 0;
        if (arm.norm() < 1e-9) throw Error("a node lies on the axis of '" + along.axis + "'", path, "Name faces off the axis, or give the axis by \"about\".");
        m.direction.push_back(cleaned(around ? Vector3d(Vector3d::Unit(axis).cross(arm).normalized()) : Vector3d(arm.normalized())));
      }
    } else if (along.axis == "normal") {
      auto normal = normalsOf(facets);
      for (int n : m.nodes) m.direction.push_back(cleaned(normal[n].normalized()));
    } else {
      m.direction.assign(m.nodes.size(), vectorOf(along, path));
    }
    p->motions.push_back(m);
  }

  /// Takes rounding out of directions that run along an axis.
  static Vector3d cleaned(Vector3d d) {
    for (auto& c : d)
      if (std::abs(c) < 1e-10) c = 0;
    return d.normalized();
  }

  void motions() {
    for (const auto& [name, s] : d.supports) {
      const std::string path = "supports/" + name;
      if (s.fix.empty()) throw Error("no direction is held", path + "/fix", "List directions, for example [\"x\", \"y\"] or \"normal\".");
      model::TimedCourse course;
      course.curve.add(0, 0);
      course.active = model::activeDuring(s.during, d, path + "/during");
      for (const auto& axis : s.fix) addMotion(name, true, s.on, model::Direction{axis, {}}, course, path + "/fix", s.about.empty() ? Vector3d::Zero() : pointOf(s.about, path + "/about"));
    }
    for (const auto& [name, m] : d.motions) {
      const std::string path = "motions/" + name;
      if (!m.course.given()) throw Error("the motion has no course", path + "/course", "Give a value, or values per step.");
      const auto kind = m.along.axis.starts_with("turn") ? Kind::angle : Kind::length;
      Vector3d axis = Vector3d::Zero();
      if (!m.axis.empty()) {
        if (p->dim() == 2 || m.along.axis != "turn") throw Error("an axis belongs to a turn in space", path + "/axis", "Set \"along\": \"turn\" in a solid model, or leave the axis out.");
        axis = vectorOf(model::Direction{"", m.axis}, path + "/axis");
      }
      addMotion(name, false, m.on, m.along, model::timed(m.course, kind, d, q, path + "/course"), path + "/along",
                m.about.empty() ? Vector3d::Zero() : pointOf(m.about, path + "/about"), axis);
    }
  }

  void loads() {
    for (const auto& [name, l] : d.loads) {
      const std::string path = "loads/" + name;
      Load load;
      load.name = name, load.pressure = l.kind == "pressure", load.moment = l.kind == "moment";
      if (!l.course.given()) throw Error("the load has no course", path + "/course", "Give a value, or values per step.");
      load.course = model::timed(l.course, load.pressure ? Kind::stress : load.moment ? Kind::moment : Kind::force, d, q, path + "/course");
      if (load.moment && p->dim() == 2) load.direction = Vector3d::UnitZ();
      else if (!load.pressure) load.direction = vectorOf(l.along, path + "/along");
      if (l.on.size() == 1 && !load.pressure) load.body = load.moment ? bodyWanted(l.on[0], path + "/on") : bodyNamed(l.on[0]);
      else if (load.moment) throw Error("a moment acts on one carrier or rigid part", path + "/on", "Name one.");
      if (load.body < 0) load.facets = facetsOf(l.on, d, p->mesh, path + "/on");
      p->loads.push_back(load);
    }
  }

  void temperatures() {
    for (const auto& [name, t] : d.temperatures) {
      const std::string path = "temperatures/" + name;
      if (t.on.empty()) throw Error("it acts on no part", path + "/on", "Name parts.");
      Temperature plan;
      plan.name = name, plan.expansion.assign(p->blocks.size(), 0);
      if (!t.rise.given()) throw Error("the temperature has no course", path + "/rise", "Give a value in kelvin, or values per step.");
      plan.rise = model::timed(t.rise, Kind::number, d, q, path + "/rise");
      for (const auto& partName : t.on) {
        const auto& part = found(d.parts, partName, "part", path + "/on");
        if (part.rigid) throw Error("the part '" + partName + "' is rigid", path + "/on", "Name a deformable part.");
        const auto& m = found(d.materials, part.material, "material", "parts/" + partName + "/material");
        if (!m.expansion.given()) throw Error("the material '" + part.material + "' has no thermal expansion", "materials/" + part.material + "/expansion", "Give it, for steel 12e-6.");
        for (size_t i = 0; i < p->blocks.size(); ++i)
          if (p->mesh.blocks[i].part == partIndex(d, partName)) plan.expansion[i] = q(m.expansion, Kind::expansion, "materials/" + part.material + "/expansion");
      }
      p->temperatures.push_back(plan);
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
              lumped.segment(p->dim() * node, p->dim()).array() += share[size_t(a)];
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
      const Vector3d at = pointOf(w.at, path + "/at");
      int best = -1;
      double least = 1e300;
      for (const auto& b : p->mesh.blocks)
        if (b.part == part)
          for (int n : b.nodes)
            if (const double r = (p->mesh.x[size_t(n)] - at).norm(); r < least) least = r, best = n;
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
  std::string place;
  for (int k = 0; k < dim(); ++k) place += std::string(k ? ", " : "") + axis(k) + " " + shortNumber(at[k], 4);
  return "part '" + part + "' near " + place + " mm (node " + std::to_string(node + 1) + ")";
}

double Problem::sizeScale() const {
  double sum = 0;
  for (const auto& b : mesh.blocks) sum += mesh::quality(mesh, b).longestEdge;
  return mesh.blocks.empty() ? 1 : sum / double(mesh.blocks.size());
}

mesh::Mesh buildMesh(const Document& d, const Quantities& q) {
  mesh::Mesh mesh;
  mesh.parts = d.parts.names();
  mesh.dim = d.space == "solid" ? 3 : 2;
  for (size_t i = 0; i < d.parts.size(); ++i) {
    const auto& [name, part] = d.parts[i];
    if (part.rigid) continue;
    const std::string path = "parts/" + name;
    mesh::addPart(mesh, int(i), part.element, geometry::blocks(part, q, path), geometry::sweep(part, q, path), geometry::placement(part, q, mesh.dim == 3, path), path);
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
      for (const auto& list : {d.parts.names(), d.carriers.names()}) known.insert(known.end(), list.begin(), list.end());
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
