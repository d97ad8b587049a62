#include "core/checks/contact_start.hpp"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/base/text.hpp"
#include "core/checks/flat_sides.hpp"
#include "core/mesh/select.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/part.hpp"

namespace anvil::checks {
namespace {

using analysis::Problem;

/// The outline walked the other way, so that the material lies on its other side.
contact::RigidBody turnedRound(contact::RigidBody body) {
  if (body.facets) body.facets = body.facets->turnedRound();
  body.ends = {false, false};
  std::reverse(body.curves.begin(), body.curves.end());
  for (auto& c : body.curves) std::swap(c.a, c.b), c.from += c.sweep, c.sweep = -c.sweep;
  return body;
}

/// The same shape drawn the other way: pieces in reverse, each with its name, turn and rounding.
void turnRound(model::Part& part) {
  for (auto& shape : part.shape) {
    if (shape.facets)
      for (auto& t : shape.facets->triangles)
        if (t.size() == 3) std::swap(t[1], t[2]);
    if (!shape.profile) continue;
    auto& profile = *shape.profile;
    const auto endOf = [](const model::PathPiece& piece) { return piece.arc.empty() ? piece.line : piece.arc; };
    std::vector<model::PathPiece> reversed;
    for (size_t i = profile.path.size(); i-- > 0;) {
      auto piece = profile.path[i];
      const auto end = i > 0 ? endOf(profile.path[i - 1]) : profile.start;
      (piece.arc.empty() ? piece.line : piece.arc) = end;
      if (!piece.arc.empty()) piece.turn = piece.turn == "left" ? "right" : "left";
      piece.fillet = i > 0 ? profile.path[i - 1].fillet : model::Entry();
      reversed.push_back(piece);
    }
    if (!profile.path.empty()) profile.start = endOf(profile.path.back());
    profile.path = reversed;
  }
}

/// A rigid part that would touch if its outline were drawn the other way turns its back to the contact.
void turnedBacks(Problem& p, contact::Pair& pair, const contact::Configuration& configuration, Report& r) {
  const int k = pair.setup().rigid;
  if (k < 0 || pair.setup().rigidFace) return;
  auto& body = p.rigid[size_t(k)];
  const auto kept = body;
  body = turnedRound(kept);
  const auto other = pair.measureInitial(configuration);
  body = kept;
  pair.measureInitial(configuration);
  if (other.nodes == 0) return;
  r.findings.push_back(
      {false, "contacts/" + pair.setup().name,
       "The rigid part '" + body.name + "' turns its back to this contact: it would pass through without touching.",
       body.facets ? "Facets run anticlockwise seen from outside: turn those of '" + body.name + "' round."
                   : "The material of a rigid part lies on the left of its path: draw the path of '" + body.name +
                         "' the other way round.",
       "Turn it round", [name = body.name](model::Document& d) { turnRound(*d.parts.find(name)); }});
}

/// Of radii drawn: what lies between them.
std::string playInWords(double play) {
  return (play < 0 ? "an overlap of " : "a play of ") + shortNumber(std::abs(play), 3) + " mm";
}

/// A shaft in its hole, with flat sides of linear elements: where they stand off as far as the play or overlap, the mesh decides
/// how firmly they touch.
void flatFits(const Problem& p, const contact::Pair& pair, const contact::Pair::Initial& start, Report& r) {
  const auto& setup = pair.setup();
  if (setup.rigid >= 0 || setup.self || p.dim() != 3 || setup.behaviour == contact::Behaviour::tied || setup.closeWithin > 0)
    return;
  const auto one = flatSides(setup.slave, p.mesh), other = flatSides(setup.master, p.mesh);
  if (one.curvature * other.curvature >= 0) return;
  const auto radius = [&](const contact::Surface& surface) {
    std::vector<mesh::Facet> facets;
    for (const auto& side : surface.sides) facets.push_back(side.facet);
    const auto c = mesh::cylinderOf(p.mesh, facets);
    return c.fits() ? c.radius : std::numeric_limits<double>::quiet_NaN();
  };
  const double drawn = (radius(setup.master) - radius(setup.slave)) * (one.curvature > 0 ? 1 : -1),
               meshed = (start.leastGap + start.greatestGap) / 2;
  const double standOff = std::max(one.standOff, other.standOff);
  if (!(std::abs(meshed - drawn) > 0.25 * std::abs(drawn)) || 0.25 * std::abs(drawn) > standOff ||
      std::abs(meshed - drawn) < 1e-3 * standOff)
    return;  // not round, or well enough
  r.findings.push_back({false, "contacts/" + setup.contact,
                        "The round faces '" + setup.slave.name + "' and '" + setup.master.name + "' are drawn with " +
                            playInWords(drawn) + " but meshed with " + playInWords(meshed) +
                            ": the flat sides of their elements stand off by up to " + shortNumber(standOff, 2) + " mm.",
                        "Take quadratic elements, which follow the faces, or smaller ones."});
}

/// A shaft in its hole with quadratic sides that do not follow: where elements are too long for the curvature their edges are
/// left off the face, and the mesh may overlap where a play is drawn. True when it is told.
bool offRoundFits(const Problem& p, const contact::Pair& pair, Report& r) {
  const auto& setup = pair.setup();
  if (setup.rigid >= 0 || setup.self || p.dim() != 3 || setup.behaviour == contact::Behaviour::tied) return false;
  const auto one = roundFace(setup.slave, p.mesh), other = roundFace(setup.master, p.mesh);
  if (!one || !other || one->bulge == other->bulge) return false;
  const double drawn = (other->radius - one->radius) * one->bulge, off = std::max(one->standOff, other->standOff);
  if (off < std::max(0.25 * std::abs(drawn), 0.01 * setup.slave.meanLength)) return false;
  r.findings.push_back({false, "contacts/" + setup.contact,
                        "The round faces '" + setup.slave.name + "' and '" + setup.master.name + "' are drawn with " +
                            playInWords(drawn) + ", but their elements stand off them by up to " + shortNumber(off, 2) +
                            " mm: they are too long for the curvature.",
                        "Take smaller elements there (\"sizes\" of a solid)."});
  return true;
}

/// Rigid parts that are narrower than an element of the face that meets them.
bool narrowTools(const Problem& p, const contact::Pair& pair, Report& r) {
  const auto& setup = pair.setup();
  if (setup.rigid < 0) return false;
  const auto& body = contact::rigidOf(setup, p.rigid);
  const bool revolved = p.dim() == 3 && body.sweep.kind == geometry::Sweep::Kind::revolve && !body.facets;
  if (!body.closed && !(body.facets && body.facets->closed()) && !revolved) return false;
  Eigen::AlignedBox3d box;  // of facets, or of the outline in its own plane
  if (body.facets)
    for (const auto& x : body.facets->points()) box.extend(x);
  for (const auto& c : body.curves)
    for (double part = 0; part <= 1; part += 0.25) box.extend(contact::Point3(c.at(part).x(), c.at(part).y(), 0));
  if (box.isEmpty()) return false;
  const double edge = setup.slave.meanLength, width = revolved      ? 2 * box.max().x()
                                                      : body.facets ? box.sizes().minCoeff()
                                                                    : box.sizes().head(2).minCoeff();
  if (width >= edge) return false;
  r.findings.push_back({false, "contacts/" + setup.contact,
                        "'" + body.name + "' is " + shortNumber(width, 3) + " mm wide, less than an element edge of '" +
                            setup.slave.name + "' (" + shortNumber(edge, 2) + " mm), which meets it: it may go in between nodes.",
                        "Take elements of at most " + shortNumber(width / 2, 2) + " mm on that face."});
  return true;
}

/// Round noses of a rigid part that are smaller than two elements of the face that meets them.
void smallNoses(const Problem& p, const contact::Pair& pair, Report& r) {
  const auto& setup = pair.setup();
  if (setup.rigid < 0) return;
  const auto& body = contact::rigidOf(setup, p.rigid);
  double radius = 1e300;
  for (const auto& c : body.curves)
    if (c.arc && c.sweep > 0 && std::abs(c.sweep) > 0.3) radius = std::min(radius, c.radius);
  if (radius >= 2 * setup.slave.meanLength) return;
  r.findings.push_back(
      {false, "contacts/" + setup.contact,
       "A radius of '" + body.name + "' is " + shortNumber(radius, 3) + " mm, less than two element edges of '" +
           setup.slave.name + "' (" + shortNumber(setup.slave.meanLength, 2) +
           " mm each), which meets it: where it slides, forces ripple from element to element.",
       "Take elements of at most " + shortNumber(radius / 2, 2) + " mm on that face, or watch the mean of the force only."});
}

/// Faces that curve away from each other within an element. Between deformable bodies in space contact begins where they meet,
/// but a mesh this coarse says little of its force at first; elsewhere it keeps the mean gap round a node and begins late.
void pointContact(const Problem& p, const contact::Pair& pair, const contact::Pair::Initial& start, Report& r) {
  double travel = 0;  // of the run: against it a little matters little
  for (const auto& m : p.motions)
    if (!m.turn && !m.anyAxis && m.bodyAxis < p.dim())
      for (double y : m.course.curve.y) travel = std::max(travel, std::abs(y));
  const auto& setup = pair.setup();
  const double late = start.leastGap - start.advance - start.closest, edge = setup.slave.meanLength;
  if (setup.behaviour != contact::Behaviour::touching || start.leastGap <= setup.closeWithin || start.closest > 1e299) return;
  const double little = std::max({0.02 * edge, 0.05 * start.leastGap, 0.03 * travel});
  const std::string advice = "Take smaller elements where they meet (\"near\" or \"sizes\" of a solid, counts of a shape)";
  if (late >= little)
    r.findings.push_back({false, "contacts/" + setup.contact,
                          "The faces come within " + shortNumber(start.closest, 3) +
                              " mm of each other, but with this mesh contact begins " + shortNumber(late, 2) +
                              " mm later: elements of " + shortNumber(edge, 2) +
                              " mm are long for how the faces curve away from each other there.",
                          advice + ": half as long, a quarter as late."});
  else if (start.advance >= little)
    r.findings.push_back({false, "contacts/" + setup.contact,
                          "The faces meet at a point, " + shortNumber(start.closest, 3) + " mm off. Elements of " +
                              shortNumber(edge, 2) +
                              " mm are long for how the faces curve away from each other there: until contact has spread over "
                              "several of them, its force and pressure are rough.",
                          advice + "."});
}

/// A sheet that was drawn as if it had no thickness reaches into what it touches by half of it, or by all. True when it is told.
bool sheetInTool(const Problem& p, const contact::Pair& pair, double leastGap, Report& r) {
  const auto& plan = p.contactPlans[size_t(&pair - p.pairs.data())];
  if (plan.hasInterference || plan.resolveStep >= 0 || -leastGap <= pair.setup().closeWithin) return false;
  for (const auto* surface : {&pair.setup().slave, &pair.setup().master}) {
    if (surface->sides.empty()) continue;
    const auto& block = p.mesh.blocks[size_t(surface->sides.front().facet.block)];
    if (!block.thin() || leastGap > -0.2 * block.thickness) continue;
    r.findings.push_back({false, "contacts/" + pair.setup().contact,
                          "The sheet '" + p.mesh.parts[size_t(block.part)] + "' reaches into what it touches by " +
                              shortNumber(-leastGap, 3) + " mm at the start, of its thickness of " +
                              shortNumber(block.thickness, 3) + " mm: contact counts the thickness.",
                          "Move one of them by that much, or say by \"given\" that the drawn surface is the side that touches."});
    return true;
  }
  return false;
}

/// The same where the overlap is more than the contact looks for: it sees nothing then.
bool sheetThroughTool(const Problem& p, const contact::Pair& pair, const contact::Configuration& configuration, Report& r) {
  double thickness = 0;
  for (const auto* surface : {&pair.setup().slave, &pair.setup().master})
    if (!surface->sides.empty())
      thickness = std::max(thickness, p.mesh.blocks[size_t(surface->sides.front().facet.block)].thickness);
  if (thickness == 0 || pair.setup().self || pair.setup().image) return false;
  auto setup = pair.setup();
  setup.reach = std::max(setup.reach, 1.6 * thickness);
  const auto start = contact::Pair(std::move(setup)).measureInitial(configuration);
  return start.nodes > 0 && sheetInTool(p, pair, start.leastGap, r);
}

}  // namespace

Joined contactsAtStart(Problem& p, Report& r) {
  const Eigen::VectorXd u = Eigen::VectorXd::Zero(p.dofs());
  Joined joined;
  joined.root.resize(p.mesh.parts.size());
  std::iota(joined.root.begin(), joined.root.end(), 0);
  for (auto& pair : p.pairs) {
    const contact::Configuration configuration{p.dim(), &p.mesh.x, &u, &u, &p.rigid, p.depth()};
    const auto start = pair.measureInitial(configuration);
    const std::string path = "contacts/" + pair.setup().contact;
    if (!narrowTools(p, pair, r)) smallNoses(p, pair, r);
    if (start.nodes > 0 && pair.setup().rigid >= 0) joined.inReach.insert(pair.setup().rigid);
    if (start.nodes == 0 && pair.setup().image)
      r.findings.push_back({true, path, "Turned about the axis, the one cut face does not meet the other.",
                            "Check the axis, and that the faces are the two ends of one sector."});
    if (start.nodes == 0) {
      r.facts.push_back("contact '" + pair.setup().name + "': nothing within its search distance of " +
                        shortNumber(pair.setup().reach, 3) + " mm at the start");
      if (!sheetThroughTool(p, pair, configuration, r)) turnedBacks(p, pair, configuration, r);
      continue;
    }
    const auto gap = [&](double v) {
      return shortNumber(std::abs(v) < 1e-9 * pair.setup().slave.meanLength ? 0 : v, 4);
    };  // no rounding on show
    r.facts.push_back("contact '" + pair.setup().name + "': gaps from " + gap(start.leastGap - start.advance) + " to " +
                      gap(start.greatestGap) + " mm at the start");
    if (pair.setup().image && std::max(-start.leastGap, start.greatestGap) > 0.05 * pair.setup().slave.meanLength)
      r.findings.push_back({false, path,
                            "The cut faces do not fit each other: " + gap(std::max(-start.leastGap, start.greatestGap)) +
                                " mm lie between them where one is turned onto the other.",
                            "Cut the sector by the same face at both ends."});
    const auto clean = [&](double v) { return std::abs(v) < 1e-9 * pair.setup().slave.meanLength ? 0 : v; };  // no rounding
    const double least = clean(start.leastGap - start.advance), most = clean(start.greatestGap);
    if (most < 0)
      r.effects[path].push_back({"overlap at the start", {-most, -least}, Kind::length});
    else
      r.effects[path].push_back(
          {least < 0 ? "gap at the start (below 0: overlap)" : "gap at the start", {least, most}, Kind::length});
    const bool holds = start.leastGap - start.advance <= std::max(pair.setup().closeWithin, 1e-9) ||
                       pair.setup().behaviour != contact::Behaviour::touching;
    if (holds && !pair.setup().image) {
      for (const auto& side : pair.setup().slave.sides) {
        const int part = p.mesh.blocks[size_t(side.facet.block)].part;
        joined.touched.insert(part);
        if (pair.setup().rigid >= 0)
          joined.onRigid.insert(part);
        else
          joined.join(part, p.mesh.blocks[size_t(pair.setup().master.sides.front().facet.block)].part);
      }
      if (pair.setup().rigid < 0)
        for (const auto& side : pair.setup().master.sides) joined.touched.insert(p.mesh.blocks[size_t(side.facet.block)].part);
    }
    if (const double edge = pair.setup().slave.meanLength;
        pair.setup().behaviour == contact::Behaviour::tied && !pair.setup().image && start.leastGap > 0.05 * edge)
      r.findings.push_back({false, path,
                            "The tied faces stand " + gap(start.leastGap) +
                                " mm apart or more: they are joined over the gap, "
                                "as if by something stiff between them.",
                            "Move one of them, or name faces that lie on each other."});
    flatFits(p, pair, start, r);
    if (!offRoundFits(p, pair, r)) pointContact(p, pair, start, r);
    if (sheetInTool(p, pair, start.leastGap, r)) continue;
    if (start.leastGap < -0.5 * pair.setup().reach)
      r.findings.push_back(
          {false, path,
           "The bodies overlap by " + shortNumber(-start.leastGap, 3) + " mm at the start, much for the element size.",
           "Move a part, or give \"start\": {\"resolve over\": …}.", "Resolve it over step '" + p.steps.front().name + "'",
           [name = pair.setup().contact, step = p.steps.front().name](model::Document& d) {
             if (auto* c = d.contacts.find(name)) c->start.resolveOver = step;
           }});
  }
  return joined;
}

}  // namespace anvil::checks
