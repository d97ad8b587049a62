// What people overlook: doubts about what was meant rather than about what can be solved. For use inside this folder.
#pragma once
#include "core/checks/readiness.hpp"

namespace anvil::checks {

/// Materials that nothing has; pressures far above yield; hardening tables that come to rest as engineering curves do; full
/// forces on a plane of symmetry; tied faces that stand apart; moduli as in another set of units.
void slips(const analysis::Problem& problem, const model::Document& document, Report& report);

}  // namespace anvil::checks
