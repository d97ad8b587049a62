#include "core/model/features.hpp"

#include <cmath>

namespace anvil::model {

double boltFor(double hole) {
  double best = 0;
  for (const double d : {1., 1.2, 1.6, 2., 2.5, 3., 4., 5., 6., 8., 10., 12., 16., 20., 24., 30., 36., 42., 48., 56., 64.})
    if (d <= 0.97 * hole) best = d;
  return best > 0 ? best : std::round(0.9 * hole * 1e4) / 1e4;
}

}  // namespace anvil::model
