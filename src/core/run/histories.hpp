// Scalar quantities recorded at every increment: reactions, contact resultants, energies, watched points.
#pragma once
#include <string>
#include <vector>

#include "core/problem/problem.hpp"
#include "core/run/constraints.hpp"

namespace anvil::analysis {

/// Work and energy since the start, N mm. `thermal`: work of the stresses on thermal strains (negative where heating presses).
struct Energies {
  double external = 0, strain = 0, plastic = 0, friction = 0, stabilisation = 0, springs = 0, dashpots = 0, thermal = 0;
  double balance() const { return external - strain - plastic - friction - stabilisation - springs - dashpots - thermal; }
};

/// One row of histories; entries follow histories(problem) up to balance and plastic strain, which the caller adds. A
/// support or motion reports what it holds along its own directions, so that those of one model add up to the whole reaction;
/// its moment is about `about` where it turns, else about the middle of what it holds, as drawn. A contact's forces and moment
/// act on the first surface that it names.
std::vector<double> historyRow(Problem& problem, const Constraints& constraints, const VectorXd& u, const VectorXd& reaction,
                               const contact::Configuration& configuration, const Energies& energies, int step,
                               const Instant& time);

}  // namespace anvil::analysis
