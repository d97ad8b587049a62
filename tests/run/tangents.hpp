// The tangent of a whole model against central differences of its residual.
#pragma once
#include <Eigen/Core>
#include <functional>
#include <string>

namespace anvil {

namespace analysis {
struct Problem;
}

/// Worst difference between tangent and central differences at a random state, over the largest entry of a column. `behind`: size
/// of the unknowns behind the bodies' against the others'; `change`: puts the state elsewhere.
double tangentError(const std::string& text, double turn, double behind = 0.02,
                    const std::function<void(const analysis::Problem&, Eigen::VectorXd&)>& change = {});

}  // namespace anvil
