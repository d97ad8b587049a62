// From integration points to corners. For use inside this folder.
#pragma once
#include <cmath>

namespace anvil::results {

/// Corner values from points: the linear interpolation through the points, taken out to the corners.
inline void cornersOfSquare(const double* p, double* n) {
  static const double a = 1 + std::sqrt(3.) / 2, b = -0.5, c = 1 - std::sqrt(3.) / 2;
  for (int i = 0; i < 4; ++i) n[i] = a * p[i] + b * (p[(i + 1) % 4] + p[(i + 3) % 4]) + c * p[(i + 2) % 4];
}
inline void cornersOfSimplex(int count, double near, double far, const double* p, double* n) {
  double sum = 0;
  for (int i = 0; i < count; ++i) sum += p[i];
  for (int i = 0; i < count; ++i) n[i] = (p[i] - far * sum) / (near - far);
}

}  // namespace anvil::results
