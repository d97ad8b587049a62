// From the document to the problem: rigid parts, carriers, springs.
#include <Eigen/Geometry>
#include <Eigen/LU>
#include <algorithm>
#include <cmath>
#include <optional>

#include "core/element/face.hpp"
#include "core/geometry/recipes.hpp"
#include "core/geometry/rigid_solid.hpp"
#include "core/lower/lowering.hpp"
#include "core/model/bolts.hpp"
#include "core/model/carriers.hpp"
#include "core/model/document.hpp"
#include "core/model/features.hpp"

namespace anvil::analysis {

void Lowering::rigidBodies() {
  for (size_t i = 0; i < d.parts.size(); ++i) {
    const auto& [name, part] = d.parts[i];
    if (!part.rigid) continue;
    const std::string path = "parts/" + name;
    if (part.thin)
      throw Error("the part is rigid and thin", path + "/thin",
                  "Take \"thin\" out: what is drawn of a rigid part is the surface that touches.");
    if (part.around)
      throw Error("a rigid part is one body and is not repeated", path + "/around",
                  "Repeat its features, or make a rigid part of each.");
    contact::RigidBody body;
    body.name = name;
    const bool facets = part.shape.size() == 1 && part.shape.front().facets;
    if (facets && p->dim() == 2)
      throw Error("facets make rigid parts of solid models only", path + "/shape/1/facets", "Draw a profile.");
    if (facets && (part.extrude || part.revolve))
      throw Error("facets are neither extruded nor revolved", path, "Take \"extrude\" and \"revolve\" out.");
    const bool solid = !part.solid.empty();
    if (solid && !part.shape.empty()) throw Error("the part has shapes and a solid", path + "/solid", "Keep one of them.");
    if (solid && p->dim() == 2)
      throw Error("the part is a solid, the model is plane", path + "/solid", "Set \"space\": \"solid\", or draw a shape.");
    geometry::RigidSolid round;
    if (solid) {
      round = geometry::rigidSolid(part, q, d.home.folder, path);
      body.facets = round.facets, body.curves = round.curves, body.closed = !round.facets && part.solid.front().tube;
      if (round.facets) body.closed = round.facets->closed();
    } else if (facets) {
      body.facets = geometry::facets(*part.shape.front().facets, q, path + "/shape/1/facets"),
      body.closed = body.facets->closed();
    } else {
      const auto shape = geometry::outline(part, q, path);
      body.curves = shape.curves, body.closed = shape.closed;
    }
    body.place = solid ? round.place : geometry::placement(part, q, p->dim() == 3, path);
    if (p->dim() == 2) place(body);
    body.sweep = solid ? round.sweep : geometry::sweep(part, q, path);
    body.ends.fill(!facets && !solid && body.closed && body.sweep.kind == geometry::Sweep::Kind::extrude);
    if (p->dim() == 3 && !facets && !solid && body.sweep.kind == geometry::Sweep::Kind::none)
      throw Error("the rigid part of a solid model has only a plane shape", path, "Add \"extrude\" or \"revolve\".");
    if (p->dim() == 2 && body.sweep.kind != geometry::Sweep::Kind::none)
      throw Error("only parts of solid models are swept", path, "Set \"space\": \"solid\".");
    if (body.sweep.twist != 0)
      throw Error("a rigid part cannot be twisted", path + "/extrude/twist", "Give it a material, or build it of features.");
    if (body.sweep.kind == geometry::Sweep::Kind::trail)
      throw Error("a rigid part cannot be a coil, nor follow a path", path, "Give it a material, or build it of features.");
    if (!part.pivot.empty()) body.pivot = pointOf(part.pivot, path + "/pivot");
    p->rigid.push_back(body);
    p->rigidPart.push_back(int(i));
    Body b;
    b.name = name, b.pivot = body.pivot;
    for (const auto& c : body.curves)
      b.lever = std::max({b.lever, (body.place(Vector3d(c.a.x(), c.a.y(), 0)) - body.pivot).norm(),
                          (body.place(Vector3d(c.b.x(), c.b.y(), 0)) - body.pivot).norm()});
    if (body.facets)
      for (const auto& x : body.facets->points()) b.lever = std::max(b.lever, (body.place(x) - body.pivot).norm());
    for (const auto& word : part.loose) b.loose[size_t(bodyAxis(word, path + "/loose"))] = true;
    p->bodies.push_back(b);
  }
}

std::vector<std::pair<int, contact::RigidBody>> Lowering::rigidAlone() {
  p->mesh.dim = d.space == "solid" ? 3 : 2;
  rigidBodies();
  std::vector<std::pair<int, contact::RigidBody>> list;
  for (size_t i = 0; i < p->rigid.size(); ++i) list.emplace_back(p->rigidPart[i], p->rigid[i]);
  return list;
}

std::vector<std::pair<int, contact::RigidBody>> rigidBodies(const Document& document) {
  return Lowering(document, {}).rigidAlone();
}

int Lowering::bodyAxis(const std::string& word, const std::string& path) const {
  int axis;
  if (isTurn(word, axis, path)) return p->dim() == 2 ? 2 : 3 + axis;
  if (isAxis(word, axis)) return axis;
  throw Error("the direction '" + word + "' is not understood", path,
              p->dim() == 3 ? "Give x, y, z, turn x, turn y or turn z." : "Give x, y (r, z in axisymmetric models) or turn.");
}

void Lowering::addCarrier(const std::string& name, bool rigid, const Footing& on, const std::optional<Vector3d>& at,
                          const std::string& path, int body) {
  const int dim = p->dim();
  Carrier carrier;
  carrier.name = name, carrier.rigid = rigid, carrier.nodes = on.nodes, carrier.weight = on.share,
  carrier.body = body < 0 ? int(p->bodies.size()) : body;
  for (size_t i = 0; i < carrier.nodes.size(); ++i) carrier.centre += carrier.weight[i] * p->mesh.x[size_t(carrier.nodes[i])];
  Body b;
  b.name = name, b.pivot = at.value_or(carrier.centre);
  b.loose.fill(true);
  Eigen::Matrix3d spread = Eigen::Matrix3d::Zero();
  double lever = 0;
  for (int n : carrier.nodes) {
    const Vector3d r = p->mesh.x[size_t(n)] - carrier.centre;
    lever = std::max(lever, r.norm()), spread += r * r.transpose();
  }
  const double flat = (spread.trace() * Eigen::Matrix3d::Identity() - spread).determinant();
  if (lever == 0 || (dim == 3 && flat < 1e-9 * std::pow(spread.trace(), 3)))
    throw Error("the nodes of the carrier lie on a line or at a point, so nothing makes it turn with them", path,
                "Name faces of some extent.");
  b.lever = lever;
  carrier.firstMultiplier = p->multipliers, carrier.scale = p->youngScale * (dim == 3 ? p->sizeScale() : p->setting.thickness);
  p->multipliers += carrier.multipliers(dim);
  if (body < 0) p->bodies.push_back(b);
  p->carriers.push_back(carrier);
}

void Lowering::addEndOnRigid(const std::string& name, const mesh::Spot& spot, int tool) {
  Carrier carrier;
  carrier.name = name, carrier.body = tool, carrier.nodes = {spot.node}, carrier.weight = {1};
  carrier.centre = p->mesh.x[size_t(spot.node)], carrier.follower = p->bodyOfTurn(spot.turn);
  carrier.firstMultiplier = p->multipliers;
  carrier.scale = p->youngScale * (p->dim() == 3 ? p->sizeScale() : p->setting.thickness);
  p->multipliers += carrier.multipliers(p->dim());
  p->carriers.push_back(carrier);
}

void Lowering::carriers() {
  for (const auto& [name, c] : d.carriers) {
    const std::string path = "carriers/" + name;
    if (p->setting.space == element::Space::axisymmetric)
      throw Error("axisymmetric models have no carriers", path, "Move the faces themselves, or model the solid.");
    if (bodyNamed(name) >= 0 || d.parts.find(name))
      throw Error("a part has the same name", path, "Give the carrier another name.");
    int body = -1;
    if (!c.end.empty()) {
      if (!c.at.empty()) throw Error("the carrier's point is an end of a slender part", path + "/at", "Take \"at\" out.");
      const auto* spot = p->mesh.spot(c.end);
      std::vector<std::string> known;
      for (const auto& s : p->mesh.spots) known.push_back(s.name);
      const auto near = nearest(c.end, known);
      if (!spot)
        throw Error("there is no point '" + c.end + "' of a slender part", path + "/end",
                    !near.empty()   ? "Did you mean '" + near + "'?"
                    : known.empty() ? "Draw a slender part first."
                                    : "Known: " + inProse(known) + ".");
      if (spot->turn < 0)
        throw Error("nothing turns at the point '" + c.end + "'", path + "/end",
                    "Name a point where a line ends that carries all and is not hinged there.");
      body = p->bodyOfTurn(spot->turn);
      if (const int tool = c.on.size() == 1 ? bodyNamed(c.on.front()) : -1; tool >= 0 && size_t(tool) < p->rigid.size()) {
        addEndOnRigid(name, *spot, tool);
        continue;
      }
    }
    addCarrier(name, c.hold == "rigid", standsOn(c.on, path + "/on"),
               c.at.empty() ? std::nullopt : std::optional(pointOf(c.at, path + "/at")), path + "/on", body);
  }
  for (const auto& [name, b] : d.bolts)
    if (b.beam)
      for (const auto& [end, faces] : {std::pair{"head", &b.beam->head}, {"nut", &b.beam->nut}}) {
        const std::string path = "bolts/" + name + "/beam/" + end;
        if (p->dim() == 2) throw Error("bolts stand in solid models only", path, "Set \"space\": \"solid\".");
        if (faces->empty())
          throw Error(std::string("the faces under the ") + end + " are not said", path, "Name the faces it presses.");
        addCarrier(name + " " + end, false, standsOn(*faces, path), std::nullopt, path);
        p->carriers.back().ofBolt = true;
      }
  for (auto& c : p->carriers) c.firstMultiplier += p->bodyEnd();
  std::map<int, std::string> held;
  for (const auto& c : p->carriers)
    for (int n : c.nodes)
      if (c.rigid)
        if (const auto [it, fresh] = held.try_emplace(n, c.name); !fresh)
          throw Error("carriers '" + it->second + "' and '" + c.name + "' both hold " + p->whereIs(n),
                      "carriers/" + c.name + "/on", "Let one of them hold \"mean\", or hold faces that do not meet.");
}

std::vector<double> Lowering::nodalShares(const std::vector<mesh::Facet>& facets, const std::vector<int>& nodes) const {
  std::map<int, double> share;
  double sum = 0;
  for (const auto& f : facets) {
    const auto n = p->mesh.nodesOf(f);
    const int corners = p->mesh.cornersOf(f);
    for (const auto& [local, weight] : element::faceRule(corners)) {
      const auto shape = element::faceShape(corners, int(n.size()) > corners, local);
      Vector3d t1 = Vector3d::Zero(), t2 = Vector3d::Zero();
      for (size_t a = 0; a < n.size(); ++a)
        t1 += shape.d1[a] * p->mesh.x[size_t(n[a])], t2 += shape.d2[a] * p->mesh.x[size_t(n[a])];
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

void Lowering::springs() {
  for (const auto& [name, s] : d.springs) {
    const std::string path = "springs/" + name;
    if (s.between.empty() || s.between.size() > 2)
      throw Error("a spring has one or two ends", path + "/between", "Name one or two carriers or rigid parts.");
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
      throw Error("the ends of the spring lie at the same point, so it has no line", path,
                  "Give the other end by \"at\", or a direction by \"along\".");
    }
    spring.damping = q(s.damping, spring.turning ? Kind::turnDamping : Kind::damping, path + "/damping");
    if (spring.damping < 0) throw Error("the damping is below zero", path + "/damping", "Give zero or more.");
    if (s.stiffness.given() && !s.rows.empty()) throw Error("the spring has a stiffness and rows", path, "Keep one of them.");
    if (!s.stiffness.given() && s.rows.empty() && spring.damping == 0)
      throw Error("the spring has neither stiffness nor rows nor damping", path, "Give one of them.");
    if (s.rows.empty()) {
      const double k = q.orElse(s.stiffness, spring.turning ? Kind::turnStiffness : Kind::lineForce, 0, path + "/stiffness");
      if (k < 0) throw Error("the stiffness is below zero", path + "/stiffness", "Give zero or more.");
      spring.force.add(-1, -k), spring.force.add(1, k);
    }
    for (size_t i = 0; i < s.rows.size(); ++i) {
      const std::string place = path + "/rows/" + std::to_string(i + 1);
      if (s.rows[i].size() != 2) throw Error("a row needs an extension and a force", place, "Write [extension, force].");
      const double e = q.inCoreUnits(s.rows[i][0], spring.turning ? Kind::angle : Kind::length, place),
                   f = q.inCoreUnits(s.rows[i][1], spring.turning ? Kind::moment : Kind::force, place);
      if (!spring.force.empty() && e <= spring.force.x.back())
        throw Error("the extension " + shortNumber(e) + " does not rise above the row before", place,
                    "List rows in rising order.");
      spring.force.add(e, f);
    }
    if (s.rows.size() == 1) throw Error("one row is no curve", path + "/rows", "Give at least two.");
    p->springs.push_back(spring);
  }
}

int Lowering::bodyNamed(const std::string& name) const {
  if (const auto* spot = p->mesh.spot(name); spot && spot->turn >= 0) return p->bodyOfTurn(spot->turn);
  for (size_t i = 0; i < p->bodies.size(); ++i)
    if (p->bodies[i].name == name) return int(i);
  return -1;
}

int Lowering::bodyWanted(const std::string& name, const std::string& path) const {
  if (const int b = bodyNamed(name); b >= 0) return b;
  std::vector<std::string> known;
  for (const auto& b : p->bodies)
    if (!b.name.starts_with("a joint")) known.push_back(b.name);
  const auto near = nearest(name, known);
  throw Error(std::string("there is no carrier") +
                  (p->mesh.spots.empty() ? " or rigid part '" : ", rigid part or end of a slender part '") + name + "'",
              path,
              !near.empty()   ? "Did you mean '" + near + "'?"
              : known.empty() ? "Define a carrier first."
                              : "Known: " + inProse(known) + ".");
}

void Lowering::place(contact::RigidBody& body) {
  const auto moved = [&](const Eigen::Vector2d& x) { return Eigen::Vector2d(body.place(Vector3d(x.x(), x.y(), 0)).head<2>()); };
  for (auto& c : body.curves)
    c.a = moved(c.a), c.b = moved(c.b), c.center = moved(c.center),
    c.from += std::atan2(body.place.turn(1, 0), body.place.turn(0, 0));
  body.place = {};
}

}  // namespace anvil::analysis
