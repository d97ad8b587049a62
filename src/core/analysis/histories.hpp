// Scalar quantities recorded at every increment: reactions, contact resultants, energies, watched points.
#pragma once
#include <string>
#include <vector>

#include "core/analysis/problem.hpp"

namespace anvil::analysis {

/// Work and energy since the start, N mm.
struct Energies {
  double external = 0, strain = 0, plastic = 0, friction = 0, stabilisation = 0, springs = 0, dashpots = 0;
  double balance() const { return external - strain - plastic - friction - stabilisation - springs - dashpots; }
};

/// One row of histories; entries follow historyNames(problem) up to balance and plastic strain, which the caller adds.
std::vector<double> historyRow(Problem& problem, const VectorXd& u, const VectorXd& reaction, const contact::Configuration& configuration,
                               const Energies& energies, int step, const Instant& time);

}  // namespace anvil::analysis
