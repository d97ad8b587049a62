#include "core/checks/readiness.hpp"
#include "core/lower/lower.hpp"

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>
#include <numeric>
#include <set>

#include "core/base/dense.hpp"
#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/checks/flat_sides.hpp"
#include "core/checks/mesh_findings.hpp"
#include "core/checks/touching.hpp"
#include "core/geometry/solid.hpp"
#include "core/mesh/quality.hpp"
#include "core/mesh/select.hpp"
#include "core/mesh/working.hpp"
#include "core/model/actions.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/features.hpp"
#include "core/model/history.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"
#include "core/model/shapes.hpp"
#include "core/problem/problem.hpp"
#include "core/run/constraints.hpp"

namespace anvil::checks {
namespace {

using analysis::Problem;

/// Bolts that are never tightened, and contacts that hold faces twice or a shank fast.
void bolts(const Problem& p, const model::Document& d, Report& r) {
  using What = analysis::BoltStage::What;
  std::set<std::string> told;
  for (const auto& b : p.bolts) {
    if (!told.insert(b.entry).second) continue;  // several of one entry
    const auto tightened = [](const auto& s) { return s.what != What::held; };
    if (std::none_of(b.stages.begin(), b.stages.end(), tightened))
      r.findings.push_back({false, "bolts/" + b.entry + "/force", "The bolt is never tightened: it only follows its parts.",
                            "Give a force in the step that tightens it."});
    for (size_t s = 0; s < b.stages.size(); ++s)
      if (b.stages[s].what == What::tightened && b.stages[s].value < 0)
        r.findings.push_back(
            {false, "bolts/" + b.entry + "/force",
             "The bolt is pushed apart by " + shortNumber(-b.stages[s].value) + " N in step '" + d.steps[s].first + "'.",
             "A bolt that pulls has a force above zero."});
    const auto last = std::find_if(b.stages.rbegin(), b.stages.rend(), tightened);
    if (b.stages.size() > 1 && last == b.stages.rbegin() && last->what == What::tightened && last->value != 0 &&
        (last + 1)->what == What::tightened && (last + 1)->value == last->value)
      r.findings.push_back({false, "bolts/" + b.entry + "/force",
                            "The bolt's force is given to the end, whatever the load: a real bolt keeps its length instead, and "
                            "its force changes.",
                            "Give the force in the step that tightens it only."});
  }
  for (const auto& doubt : doubtfulContacts(d, p.mesh)) {
    const bool shank = doubt.kind == Doubt::Kind::shankHeld;
    r.findings.push_back(
        {false, "contacts/" + doubt.contact, (shank ? "Held too much: " : "Counted twice: ") + doubt.words + ".",
         shank ? "Let it touch only the seats, or take the shank's face out." : "Take the faces out of one of them."});
  }
}

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
  const bool axial = p.setting.space == element::Space::axisymmetric;
  const int dim = p.dim(), modes = dim == 2 ? 3 : 6;
  Eigen::Vector3d centre(0, 0, 0);
  for (int n : nodes) centre += p.mesh.x[size_t(n)] / double(nodes.size());
  Eigen::MatrixXd gram = Eigen::MatrixXd::Zero(modes, modes);
  double size = 1e-9;
  for (int n : nodes) size = std::max(size, (p.mesh.x[size_t(n)] - centre).norm());
  for (int n : nodes) {
    const Eigen::Vector3d arm = (p.mesh.x[size_t(n)] - centre) / size;
    for (int k = 0; k < dim; ++k) {
      if (c.equation(dim * n + k) >= 0) continue;
      Eigen::Vector3d d = Eigen::Vector3d::Unit(k);
      for (int i = 0; c.framed(n) && i < dim; ++i) d[i] = c.frame(n)(i, k);
      const Eigen::Vector3d turn = arm.cross(d);
      Eigen::VectorXd row(modes);
      if (dim == 2)
        row << d.x(), d.y(), turn.z();
      else
        row << d, turn;
      gram += row * row.transpose();
    }
  }
  // a carrier that is itself held, sprung or driven holds its part
  for (const auto& carrier : p.carriers) {
    if (!std::binary_search(nodes.begin(), nodes.end(), carrier.nodes.front())) continue;
    const Eigen::Vector3d arm = (p.bodies[size_t(carrier.body)].pivot - centre) / size;
    for (int k = 0; k < p.rigidSize(); ++k) {
      if (c.equation(p.rigidDof(carrier.body, k)) >= 0 && !sprung(p, carrier.body, k)) continue;
      Eigen::VectorXd row = Eigen::VectorXd::Zero(modes);
      if (k < dim) {
        const Eigen::Vector3d turn = arm.cross(Eigen::Vector3d::Unit(k));
        row[k] = 1;
        if (dim == 2)
          row[2] = turn.z();
        else
          for (int i = 0; i < 3; ++i) row[3 + i] = turn[i];
      } else {
        row[k] = 1;
      }
      gram += row * row.transpose();
    }
  }
  for (const auto& pair : p.pairs) {  // of a sector that goes on in its own image only motions along and about the axis are free
    const auto& image = pair.setup().image;
    if (!image || !std::binary_search(nodes.begin(), nodes.end(), pair.setup().slave.corners.front())) continue;
    const Eigen::Vector3d arm = (image->about - centre) / size;
    for (int k = 0; k < dim; ++k) {
      const Eigen::Vector3d across = Eigen::Vector3d::Unit(k) - image->turn.row(k).transpose(), turn = arm.cross(across);
      Eigen::VectorXd row(modes);
      if (dim == 2)
        row << across.x(), across.y(), turn.z();
      else
        row << across, turn;
      gram += row * row.transpose();
      if (dim == 2) continue;
      row << Eigen::Vector3d::Zero(), across;
      gram += row * row.transpose();
    }
  }
  std::vector<std::string> words;
  if (axial) {
    if (gram(1, 1) < 1e-9) words.push_back("along z");
    return words;
  }
  const auto eigen = symmetricModes(gram);
  for (int i = 0; i < modes; ++i) {
    if (eigen.values[i] > 1e-9) continue;
    Eigen::Index greatest;
    eigen.vectors.col(i).cwiseAbs().maxCoeff(&greatest);
    const std::string word = greatest < dim ? std::string("along ") + p.axis(int(greatest))
                             : dim == 2     ? "turning"
                                            : std::string("turning about ") + p.axis(int(greatest) - 3);
    if (std::find(words.begin(), words.end(), word) == words.end()) words.push_back(word);
  }
  return words;
}

/// The outline walked the other way, so that the material lies on its other side.
contact::RigidBody turnedRound(contact::RigidBody body) {
  if (body.facets) body.facets = body.facets->turnedRound();
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
  const auto words = [](double play) {
    return (play < 0 ? "an overlap of " : "a play of ") + shortNumber(std::abs(play), 3) + " mm";
  };
  r.findings.push_back({false, "contacts/" + setup.name,
                        "The round faces '" + setup.slave.name + "' and '" + setup.master.name + "' are drawn with " +
                            words(drawn) + " but meshed with " + words(meshed) +
                            ": the flat sides of their elements stand off by up to " + shortNumber(standOff, 2) + " mm.",
                        "Take quadratic elements, which follow the faces, or smaller ones."});
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

void looseParts(Problem& p, Report& r) {
  const analysis::Constraints c(p, 0);
  const Eigen::VectorXd u = Eigen::VectorXd::Zero(p.dofs());
  std::set<int> touched, onRigid;
  std::vector<int> root(p.mesh.parts.size());  // of parts that closed contact joins
  std::iota(root.begin(), root.end(), 0);
  const auto groupOf = [&](int part) {
    while (root[size_t(part)] != part) part = root[size_t(part)];
    return part;
  };
  for (auto& pair : p.pairs) {
    const contact::Configuration configuration{p.dim(), &p.mesh.x, &u, &u, &p.rigid, p.measure()};
    const auto start = pair.measureInitial(configuration);
    const std::string path = "contacts/" + pair.setup().contact;
    smallNoses(p, pair, r);
    if (start.nodes == 0 && pair.setup().image)
      r.findings.push_back({true, path, "Turned about the axis, the one cut face does not meet the other.",
                            "Check the axis, and that the faces are the two ends of one sector."});
    if (start.nodes == 0) {
      r.facts.push_back("contact '" + pair.setup().name + "': nothing within its search distance of " +
                        shortNumber(pair.setup().reach, 3) + " mm at the start");
      turnedBacks(p, pair, configuration, r);
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
    const bool holds = start.leastGap - start.advance <= std::max(pair.setup().closeWithin, 1e-9) ||
                       pair.setup().behaviour != contact::Behaviour::touching;
    if (holds && !pair.setup().image) {
      for (const auto& side : pair.setup().slave.sides) {
        const int part = p.mesh.blocks[size_t(side.facet.block)].part;
        touched.insert(part);
        if (pair.setup().rigid >= 0)
          onRigid.insert(part);
        else
          root[size_t(groupOf(part))] = groupOf(p.mesh.blocks[size_t(pair.setup().master.sides.front().facet.block)].part);
      }
      if (pair.setup().rigid < 0)
        for (const auto& side : pair.setup().master.sides) touched.insert(p.mesh.blocks[size_t(side.facet.block)].part);
    }
    flatFits(p, pair, start, r);
    pointContact(p, pair, start, r);
    if (start.leastGap < -0.5 * pair.setup().reach)
      r.findings.push_back(
          {false, path,
           "The bodies overlap by " + shortNumber(-start.leastGap, 3) + " mm at the start, much for the element size.",
           "Move a part, or give \"start\": {\"resolve over\": …}.", "Resolve it over step '" + p.steps.front().name + "'",
           [name = pair.setup().contact, step = p.steps.front().name](model::Document& d) {
             if (auto* c = d.contacts.find(name)) c->start.resolveOver = step;
           }});
  }
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
    const bool inContact = touched.count(b.part) > 0;
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
  // parts that touch may hold each other and yet be free together
  std::map<int, std::set<int>> groups;
  for (int part : touched) groups[groupOf(part)].insert(part);
  for (const auto& [group, parts] : groups) {
    if (parts.size() < 2 || std::any_of(parts.begin(), parts.end(), [&](int part) { return onRigid.contains(part); })) continue;
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
}

void travelAgainstMesh(const Problem& p, const model::Document& d, Report& r) {
  for (const auto& m : p.motions) {
    if (m.body < 0 || m.bodyAxis >= p.dim()) continue;
    for (size_t s = 0; s < p.steps.size(); ++s) {
      const double travel = std::abs(m.course.curve(p.steps[s].end) - m.course.curve(p.steps[s].begin + 1e-9));
      for (const auto& pair : p.pairs)
        if (pair.setup().rigid == m.body && travel * p.steps[s].largest > 2 * pair.setup().reach)
          r.findings.push_back(
              {false, "steps/" + p.steps[s].name + "/increments",
               "In its largest increment '" + m.name + "' travels " + shortNumber(travel * p.steps[s].largest, 3) +
                   " mm, more than contact '" + pair.setup().name + "' looks ahead.",
               "Make \"largest\" smaller; the run will otherwise have to cut increments.", "Take smaller increments",
               [name = p.steps[s].name, largest = 2 * pair.setup().reach / travel](model::Document& d) {
                 auto& i = d.steps.find(name)->increments;
                 i.largest = std::pow(10, std::floor(std::log10(largest))) *
                             std::floor(largest / std::pow(10, std::floor(std::log10(largest))));
                 if (i.first.number && *i.first.number > *i.largest.number) i.first = i.largest;
               }});
    }
  }
  for (const auto& [name, m] : d.materials) {
    const model::Quantities q(d);
    if (!m.elastic.E.given() || m.rubber) continue;
    const double E = q(m.elastic.E, Kind::stress, "materials/" + name + "/elastic/E");
    if (E > 2e6)
      r.findings.push_back({false, "materials/" + name + "/elastic/E",
                            "Young's modulus is " + shortNumber(E) + " MPa, more than any metal's.", "Check the unit."});
    if (m.plastic) {
      const double y = analysis::plasticLaw(m, q, "materials/" + name).yieldAt(0);
      if (y > E / 20)
        r.findings.push_back({false, "materials/" + name + "/plastic",
                              "The yield stress is " + shortNumber(y) + " MPa, over a twentieth of Young's modulus.",
                              "Check the units."});
    }
  }
}

/// What became of imported solids.
void imported(const model::Document& d, Report& r) {
  const model::Quantities q(d);
  for (const auto& [name, part] : d.parts)
    for (const auto& note : geometry::stepNotes(part, q, d.home.folder, "parts/" + name)) {
      const std::string place = "parts/" + name + "/solid/" + std::to_string(note.feature + 1) + "/step";
      std::string words = note.words + ".";
      words[0] = char(std::toupper(static_cast<unsigned char>(words[0])));
      if (note.faces.empty()) {
        r.findings.push_back({false, place, words, "Look at the part; mend it where it was drawn if anything is missing."});
        continue;
      }
      r.findings.push_back(
          {false, place, words,
           "Look whether regions, contacts and loads still name the right faces; then keep the new ones as they are.",
           "Keep the new faces", [name = name, note](model::Document& d) {
             auto& rows = d.parts.find(name)->solid[size_t(note.feature)].step->faces;
             rows.clear();
             for (const auto& mark : note.faces) rows.emplace_back(mark.begin(), mark.end());
           }});
    }
}

/// What `look` finds; an Error is a fault among them.
template <class Look>
Report examined(const model::Document& document, const Look& look) {
  Report r;
  try {
    imported(document, r);
    look(r);
  } catch (const Error& e) {
    r.findings.push_back({true, e.where(), e.wrong() + ".", e.remedy()});
  }
  std::stable_partition(r.findings.begin(), r.findings.end(),
                        [](const Finding& f) { return f.fault; });  // what stops the run first
  return r;
}

void examine(Problem& p, const model::Document& document, Report& r) {
  meshFindings(p, document, r);
  bolts(p, document, r);
  looseParts(p, r);
  travelAgainstMesh(p, document, r);
  for (size_t s = 0; s < p.steps.size(); ++s) analysis::Constraints(p, int(s));
}

}  // namespace

Report readiness(const model::Document& document, Problem& problem) {
  return examined(document, [&](Report& r) { examine(problem, document, r); });
}

Report readiness(const model::Document& document, const Error& whyNot) {
  return examined(document, [&](Report&) { throw whyNot; });
}

Report readiness(const model::Document& document, const mesh::Working& working) {
  return examined(document, [&](Report& r) { examine(*analysis::lower(document, working), document, r); });
}

}  // namespace anvil::checks
