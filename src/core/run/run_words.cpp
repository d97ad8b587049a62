// Failures in words.
#include <algorithm>
#include <set>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/run/run_state.hpp"

namespace anvil::analysis {

std::string Run::wherePart(const Evaluation& e) const {
  if (e.failedLine >= 0) return "'" + p_.mesh.lines[size_t(e.failedLine)].name + "'";
  const auto& cells = p_.blocks[size_t(e.invertedBlock)]->cells();
  return p_.whereIs(cells.cell(size_t(e.invertedCell))[0]);
}

std::string Run::sentenceOf(const Attempt& a) const {
  switch (a.trouble) {
    case Trouble::inverted:
      return "An element turned inside out: " + a.where + ".";
    case Trouble::section:
      return "An element of " + a.where + " bent too far in one go.";
    case Trouble::iterations:
      return "No balance after " + std::to_string(a.iterations) + " iterations; the worst is at " + a.where + ".";
    case Trouble::diverged:
      return "The residual grew; the worst is at " + a.where + ".";
    case Trouble::plasticStrain:
      return "A plastic strain increment of " + a.where + " is over the limit.";
    case Trouble::overshoot:
      return "A body went too deep into another at " + a.where + ".";
    case Trouble::singular:
      return a.where.empty() ? "The stiffness vanished: something came loose or a limit load was reached."
                             : "Nothing holds " + a.where + ": it came loose, or a limit load was reached.";
    case Trouble::unstable:
      return "The balance found is not stable; a shorter increment looks for a stable one on the way.";
    case Trouble::notFinite:
      return "The correction was not a finite number.";
    case Trouble::none:
      break;
  }
  return "";
}

/// Parts that nothing holds but contact at few places: what rocks or slips there may have no balance near.
std::string Run::standingOnLittle() const {
  constexpr int few = 20;  // corners of the mesh
  std::string words;
  for (int part = 0; part < int(p_.mesh.parts.size()); ++part) {
    std::set<int> nodes;
    for (const auto& b : p_.mesh.blocks)
      if (b.part == part) nodes.insert(b.nodes.begin(), b.nodes.end());
    const auto isIn = [&](int n) { return nodes.count(n) > 0; };
    const auto isPrescribed = [&](int n) {
      for (int k = 0; k < p_.dim(); ++k)
        if (constraints_->equation(p_.dim() * n + k) < 0) return true;
      return false;
    };
    bool held = nodes.empty() || std::any_of(nodes.begin(), nodes.end(), isPrescribed);
    for (const auto& h : constraints_->hinges()) held |= isIn(h.upper);
    for (const auto& c : p_.carriers) held |= std::any_of(c.nodes.begin(), c.nodes.end(), isIn);
    int corners = 0;
    std::vector<std::string> where;
    for (const auto& pair : p_.pairs) {
      const auto& s = pair.setup();
      const auto isOfIt = [&](const contact::Side& side) { return isIn(side.node[0]); };
      bool meets = false;
      for (const auto* surface : {&s.slave, &s.master}) {
        const bool any = std::any_of(surface->sides.begin(), surface->sides.end(), isOfIt);
        meets |= any;
        held |= any && !std::all_of(surface->sides.begin(), surface->sides.end(), isOfIt);  // who touches there is not known
      }
      if (!meets || !pair.active()) continue;
      held |= s.behaviour == contact::Behaviour::tied;
      int here = 0;
      for (const auto& state : pair.states()) here += state.status != contact::Status::open;
      if (here > 0) corners += here, where.push_back(std::to_string(here) + " at '" + s.name + "'");
    }
    if (held || corners > few) continue;
    words += " Part '" + p_.mesh.parts[size_t(part)] + "' is held by contact alone, " +
             (corners == 0 ? "and touches nothing any more"
                           : "on " + std::to_string(corners) + " corner" + (corners == 1 ? "" : "s") + " of its mesh (" +
                                 inProse(where) + "): if it rocks or slips there, no balance is near");
    words += ". Hold it in the directions in which nothing is to move it.";
  }
  return words;
}

Error Run::diagnosis(int s, int index, double size) const {
  const auto& a = lastTrouble_;
  std::string remedy;
  switch (a.trouble) {
    case Trouble::inverted:
      remedy =
          "Try a finer or better graded mesh there, quad4 elements, then smaller increments; check that loads are not too large.";
      break;
    case Trouble::section:
      remedy = "Try smaller increments and more elements along the line; check that loads are not too large.";
      break;
    case Trouble::overshoot:
      remedy =
          "Try smaller increments where contact starts, a larger contact search distance, and finer elements where the tool is "
          "narrower than they are; then check the motion's size.";
      break;
    case Trouble::singular: {
      const bool steadied =
          std::any_of(p_.stabilisations.begin(), p_.stabilisations.end(), [&](const auto& st) { return st.active[size_t(s)]; });
      remedy =
          "Check what holds it once contact opens: a body that a force pushes must reach what it presses on, so move it there "
          "first; a load of 0 keeps it under force control, \"off\" gives it back to what held it before. ";
      remedy += steadied ? "The stabilisation of this step fades to nothing by its end: what is loose must touch by then."
                         : "A stabilisation steadies it on the way to first touch.";
      remedy += " If the load exceeds what yielding sections carry, drive it by a motion instead of a force.";
      break;
    }
    case Trouble::plasticStrain:
      remedy =
          "Allow a larger \"plastic strain limit\" or smaller increments; a perfectly plastic part may have reached its limit "
          "load.";
      break;
    case Trouble::unstable:
      remedy =
          "The structure buckles or snaps there: follow it with \"control\": \"arc length\", or drive it by a motion instead of "
          "a force.";
      break;
    case Trouble::none:
    case Trouble::iterations:
    case Trouble::diverged:
    case Trouble::notFinite:
      remedy = p_.pairs.empty() ? "The load may exceed what the part can carry: drive it by a motion instead of a force. Then "
                                  "try smaller increments and a finer mesh."
                                : "Try smaller increments, a finer mesh on the contact surfaces, and stabilisation for parts "
                                  "held only by contact; the load may also exceed what the parts can carry.";
  }
  if (a.trouble == Trouble::iterations || a.trouble == Trouble::overshoot || a.trouble == Trouble::singular)
    remedy += standingOnLittle();
  return Error("increment " + std::to_string(index) + " at time " + shortNumber(time_) +
                   " s could not be solved, down to a size of " + shortNumber(size, 3) + " s. " + sentenceOf(a) +
                   " Everything up to this time is kept",
               "step '" + p_.steps[size_t(s)].name + "'", remedy);
}

}  // namespace anvil::analysis
