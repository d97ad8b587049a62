// Failures in words.
#include "core/analysis/run_state.hpp"
#include "core/base/error.hpp"
#include "core/base/text.hpp"

namespace anvil::analysis {

std::string Run::wherePart(const Evaluation& e) const {
  const auto& cells = p_.blocks[size_t(e.invertedBlock)]->cells();
  return p_.whereIs(cells.cell(size_t(e.invertedCell))[0]);
}

std::string Run::sentenceOf(const Attempt& a) const {
  switch (a.trouble) {
    case Trouble::inverted: return "An element turned inside out: " + a.where + ".";
    case Trouble::iterations: return "No balance after " + std::to_string(a.iterations) + " iterations; the worst is at " + a.where + ".";
    case Trouble::diverged: return "The residual grew; the worst is at " + a.where + ".";
    case Trouble::plasticStrain: return "A plastic strain increment of " + a.where + " is over the limit.";
    case Trouble::overshoot: return "A body went too deep into another at " + a.where + ".";
    case Trouble::singular: return "The stiffness vanished at " + (a.where.empty() ? "some place" : a.where) + ": a body came loose or a limit load was reached.";
    case Trouble::notFinite: return "The correction was not a finite number.";
    default: return "";
  }
}

Error Run::diagnosis(int s, int index, double size) const {
  const auto& a = lastTrouble_;
  std::string remedy;
  switch (a.trouble) {
    case Trouble::inverted: remedy = "Try a finer or better graded mesh there, quad4 elements, then smaller increments; check that loads are not too large."; break;
    case Trouble::overshoot: remedy = "Try smaller increments where contact starts, a larger contact search distance, then check the motion's size."; break;
    case Trouble::singular: remedy = "Check what holds the part once contact opens; add a stabilisation; if the load exceeds what yielding sections carry, drive it by a motion instead of a force."; break;
    case Trouble::plasticStrain: remedy = "Allow a larger \"plastic strain limit\" or smaller increments; a perfectly plastic part may have reached its limit load."; break;
    default:
      remedy = p_.pairs.empty() ? "The load may exceed what the part can carry: drive it by a motion instead of a force. Then try smaller increments and a finer mesh."
                                : "Try smaller increments, a finer mesh on the contact surfaces, and stabilisation for parts held only by contact; the load may also exceed what the parts can carry.";
  }
  return Error("increment " + std::to_string(index) + " at time " + shortNumber(time_) + " s could not be solved, down to a size of " + shortNumber(size, 3) + " s. " +
                   sentenceOf(a) + " Everything up to this time is kept",
               "step '" + p_.steps[size_t(s)].name + "'", remedy);
}

}  // namespace anvil::analysis
