#include "core/checks/readiness.hpp"
#include "core/checks/effects.hpp"
#include "core/checks/pressure_reading.hpp"
#include "core/lower/lower.hpp"

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/checks/contact_start.hpp"
#include "core/checks/loose_parts.hpp"
#include "core/checks/mesh_findings.hpp"
#include "core/checks/overlapping.hpp"
#include "core/checks/slender_limits.hpp"
#include "core/checks/slips.hpp"
#include "core/checks/thin_limits.hpp"
#include "core/checks/touching.hpp"
#include "core/checks/unlikely.hpp"
#include "core/checks/walls.hpp"
#include "core/geometry/solid.hpp"
#include "core/mesh/working.hpp"
#include "core/model/actions.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/features.hpp"
#include "core/model/history.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"
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

/// Parts that a motion moves by their faces.
std::set<int> movedBy(const Problem& p, const analysis::Motion& m) {
  const std::set<int> nodes(m.nodes.begin(), m.nodes.end());
  std::set<int> parts;
  for (const auto& b : p.mesh.blocks)
    if (std::any_of(b.nodes.begin(), b.nodes.end(), [&](int n) { return nodes.contains(n); })) parts.insert(b.part);
  return parts;
}

/// Where a part travels farther in an increment than its contacts look ahead, it may be through before it is seen.
void travelAgainstMesh(const Problem& p, Report& r) {
  for (const auto& m : p.motions) {
    if (m.support || m.turn || m.anyAxis || (m.body >= 0 && m.bodyAxis >= p.dim())) continue;
    const auto parts = m.body < 0 ? movedBy(p, m) : std::set<int>();
    const auto moves = [&](const contact::Pair& pair) {
      if (m.body >= 0) return pair.setup().rigid == m.body;
      const auto on = [&](const contact::Surface& s) {
        return !s.sides.empty() && parts.contains(p.mesh.blocks[size_t(s.sides.front().facet.block)].part);
      };
      // of two faces that move together neither comes upon the other
      return on(pair.setup().slave) != on(pair.setup().master) && pair.setup().behaviour == contact::Behaviour::touching;
    };
    for (size_t s = 0; s < p.steps.size(); ++s) {
      const double travel = std::abs(m.course.curve(p.steps[s].end) - m.course.curve(p.steps[s].begin + 1e-9));
      for (const auto& pair : p.pairs)
        if (moves(pair) && travel * p.steps[s].largest > 2 * pair.setup().reach)
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
  effects(p, document, r);
  looseParts(p, contactsAtStart(p, r), r);
  travelAgainstMesh(p, r), pressureReading(p, r);
  overlappingParts(p, r);
  unlikely(p, document, r), slips(p, document, r);
  thinLimits(p, r), slenderLimits(p, r), hingesHeld(p, r), thinWalls(p, document, r);
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
