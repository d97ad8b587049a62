#include "core/checks/loose_parts.hpp"

#include <algorithm>
#include <map>

#include "core/base/text.hpp"
#include "core/checks/held_motions.hpp"
#include "core/model/actions.hpp"
#include "core/model/document.hpp"
#include "core/run/constraints.hpp"

namespace anvil::checks {
namespace {

using analysis::Problem;

/// A spring acts on this axis of a body.
bool sprung(const Problem& p, int body, int axis) {
  for (const auto& s : p.springs)
    if (s.first == body || s.second == body) {
      if (s.turning ? axis >= p.dim() && (p.dim() == 2 || s.axis[axis - 3] != 0)
                    : axis < p.dim() && (s.axis.isZero(0) || s.axis[axis] != 0))
        return true;
    }
  return false;
}

/// Rigid motions of a body, or of parts that hold each other (shifts and turns; along the axis only in axisymmetric models) that
/// no support hinders. `nodes`: all of theirs, sorted.
std::vector<std::string> freeMotions(const Problem& p, const analysis::Constraints& c, const std::vector<int>& nodes) {
  const int dim = p.dim();
  HeldMotions held(p, nodes);
  const auto holdShift = [&](const Eigen::Vector3d& place, const Eigen::Vector3d& direction) { held.shift(place, direction); };
  const auto holdTurn = [&](const Eigen::Vector3d& axis) { held.turn(axis); };
  for (int n : nodes)
    for (int k = 0; k < dim; ++k) {
      if (c.equation(dim * n + k) >= 0) continue;
      Eigen::Vector3d d = Eigen::Vector3d::Unit(k);
      for (int i = 0; c.framed(n) && i < dim; ++i) d[i] = c.frame(n)(i, k);
      holdShift(p.mesh.x[size_t(n)], d);
    }
  for (const auto& h : c.hinges())
    if (std::binary_search(nodes.begin(), nodes.end(), h.upper))
      holdShift((p.mesh.x[size_t(h.upper)] + p.mesh.x[size_t(h.lower)]) / 2, h.direction);
  for (size_t t = 0; t < p.mesh.turnNode.size(); ++t) {
    if (!std::binary_search(nodes.begin(), nodes.end(), p.mesh.turnNode[t])) continue;
    for (int k = dim; k < p.rigidSize(); ++k)
      if (c.equation(p.rigidDof(p.bodyOfTurn(int(t)), k)) < 0) holdTurn(Eigen::Vector3d::Unit(dim == 2 ? 2 : k - 3));
  }
  // a carrier that is itself held, sprung or driven holds its part
  for (const auto& carrier : p.carriers) {
    if (!std::binary_search(nodes.begin(), nodes.end(), carrier.nodes.front())) continue;
    for (int k = 0; k < p.rigidSize(); ++k) {
      if (c.equation(p.rigidDof(carrier.body, k)) >= 0 && !sprung(p, carrier.body, k) && !p.isNodeBody(carrier.body))
        continue;  // what slender parts hold is seen when they are solved
      if (k < dim)
        holdShift(p.bodies[size_t(carrier.body)].pivot, Eigen::Vector3d::Unit(k));
      else
        holdTurn(Eigen::Vector3d::Unit(dim == 2 ? 2 : k - 3));
    }
  }
  for (const auto& pair : p.pairs) {  // of a sector that goes on in its own image only motions along and about the axis are free
    const auto& image = pair.setup().image;
    if (!image || !std::binary_search(nodes.begin(), nodes.end(), pair.setup().slave.corners.front())) continue;
    for (int k = 0; k < dim; ++k) {
      const Eigen::Vector3d across = Eigen::Vector3d::Unit(k) - image->turn.row(k).transpose();
      holdShift(image->about, across);
      if (dim == 3) holdTurn(across);
    }
  }
  return held.free();
}

/// Slender parts; those joined at a point move together, and what is joined to faces may be held by them.
void looseSlender(const Problem& p, const analysis::Constraints& c, Report& r) {
  std::vector<std::pair<std::set<int>, std::set<int>>> groups;  // parts, nodes
  for (const auto& l : p.mesh.lines) {
    std::pair<std::set<int>, std::set<int>> joined{{l.part}, {l.nodes.begin(), l.nodes.end()}};
    std::erase_if(groups, [&](const auto& g) {
      const bool meets = g.first.contains(l.part) ||
                         std::any_of(g.second.begin(), g.second.end(), [&](int n) { return joined.second.contains(n); });
      if (meets) joined.first.insert(g.first.begin(), g.first.end()), joined.second.insert(g.second.begin(), g.second.end());
      return meets;
    });
    groups.push_back(std::move(joined));
  }
  for (const auto& [parts, nodes] : groups) {
    const bool onFaces = std::any_of(p.carriers.begin(), p.carriers.end(), [&, &own = nodes](const analysis::Carrier& k) {
      return p.isNodeBody(k.body) && own.contains(p.mesh.turnNode[size_t(k.body) - p.rigid.size()]);
    });
    if (onFaces) continue;
    const auto motions = freeMotions(p, c, {nodes.begin(), nodes.end()});
    if (motions.empty()) continue;
    std::vector<std::string> names;
    for (int part : parts) names.push_back("'" + p.mesh.parts[size_t(part)] + "'");
    r.findings.push_back({true, "parts/" + p.mesh.parts[size_t(*parts.begin())],
                          (names.size() == 1 ? std::string("The part is") : "The parts " + inProse(names) + " are") +
                              " free to move (" + inProse(motions) + ") at the start of the run.",
                          "Hold points of it by a support."});
  }
}

}  // namespace

void looseParts(const Problem& p, const Joined& joined, Report& r) {
  const analysis::Constraints c(p, 0);
  std::set<int> done;
  for (const auto& b : p.mesh.blocks) {
    if (!done.insert(b.part).second) continue;
    const auto bodies = p.mesh.bodies(b.part);
    size_t body = 0;
    std::vector<std::string> motions;
    for (; body < bodies.size() && motions.empty(); ++body) motions = freeMotions(p, c, bodies[body]);
    if (motions.empty()) continue;
    const std::string name = p.mesh.parts[size_t(b.part)];
    bool stabilised = false;
    for (const auto& s : p.stabilisations) stabilised |= s.active[0] && s.viscosity[p.dim() * b.nodes.front()] > 0;
    if (stabilised) continue;
    const bool inContact = joined.touched.count(b.part) > 0;
    r.findings.push_back({!inContact, "parts/" + name,
                          (bodies.size() > 1 ? "Piece " + std::to_string(body) + " of the part" : "The part") +
                              " is free to move (" + inProse(motions) + ")" +
                              (inContact ? "; only contact that is closed at the start holds it." : " at the start of the run."),
                          "Add a support, a symmetry plane or a stabilisation.", "Add a stabilisation",
                          [name](model::Document& d) {
                            std::string fresh = "steady " + name;
                            while (d.stabilisations.find(fresh)) fresh += "'";
                            d.stabilisations(fresh).on = {name};
                          }});
  }
  looseSlender(p, c, r);
  // parts that touch may hold each other and yet be free together
  std::map<int, std::set<int>> groups;
  for (int part : joined.touched) groups[joined.groupOf(part)].insert(part);
  for (const auto& [group, parts] : groups) {
    if (parts.size() < 2 || std::any_of(parts.begin(), parts.end(), [&](int part) { return joined.onRigid.contains(part); }))
      continue;
    std::vector<int> nodes;
    for (const auto& b : p.mesh.blocks)
      if (parts.contains(b.part)) nodes.insert(nodes.end(), b.nodes.begin(), b.nodes.end());
    std::sort(nodes.begin(), nodes.end()), nodes.erase(std::unique(nodes.begin(), nodes.end()), nodes.end());
    const auto motions = freeMotions(p, c, nodes);
    bool stabilised = false;
    for (const auto& b : p.mesh.blocks)
      for (const auto& s : p.stabilisations)
        stabilised |= parts.contains(b.part) && s.active[0] && s.viscosity[p.dim() * b.nodes.front()] > 0;
    if (motions.empty() || stabilised) continue;
    std::vector<std::string> names;
    for (int part : parts) names.push_back("'" + p.mesh.parts[size_t(part)] + "'");
    r.findings.push_back(
        {true, "parts/" + p.mesh.parts[size_t(*parts.begin())],
         "The parts " + inProse(names) + " hold each other but are free to move together (" + inProse(motions) + ").",
         "Add a support or a symmetry plane to one of them."});
  }
  // rigid parts that a force leads from the start, with nothing to push on
  for (const auto& load : p.loads) {
    if (load.moment || load.body < 0 || size_t(load.body) >= p.rigid.size() || !load.course.active[0] ||
        joined.inReach.contains(load.body))
      continue;
    bool held = false;
    for (int k = 0; k < p.dim(); ++k) held |= load.direction[k] != 0 && sprung(p, load.body, k);
    if (held) continue;
    const auto& name = p.rigid[size_t(load.body)].name;
    r.findings.push_back({false, "loads/" + load.name,
                          "The force leads '" + name +
                              "', which lies within no contact's search distance of anything: nothing "
                              "stops it.",
                          "Move it to touch first by a motion, draw it closer, or let a contact look farther (\"search\")."});
  }
}

}  // namespace anvil::checks
