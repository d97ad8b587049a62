// Scalar quantities recorded at every increment: reactions, contact resultants, energies, watched points.
#pragma once
#include <string>
#include <vector>

#include "core/analysis/problem.hpp"

namespace anvil::analysis {

/// Work and energy since the start, N mm. `thermal`: work of the stresses on thermal strains (negative where heating presses).
struct Energies {
  double external = 0, strain = 0, plastic = 0, friction = 0, stabilisation = 0, springs = 0, dashpots = 0, thermal = 0;
  double balance() const { return external - strain - plastic - friction - stabilisation - springs - dashpots - thermal; }
};

/// One row of histories; entries follow historyNames(problem) up to balance and plastic strain, which the caller adds.
std::vector<double> historyRow(Problem& problem, const VectorXd& u, const VectorXd& reaction, const contact::Configuration& configuration,
                               const Energies& energies, int step, const Instant& time);

}  // namespace anvil::analysis
