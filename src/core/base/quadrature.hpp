// Numerical integration.
#pragma once
#include <array>
#include <cmath>
#include <numbers>
#include <vector>

namespace anvil {

/// Gauss–Legendre points and weights on [-1, 1], rising (M. Abramowitz, I. Stegun, 1964, 25.4.29); n >= 1. Zeros of the Legendre
/// polynomial by Newton's method.
inline std::vector<std::array<double, 2>> gaussLine(int n) {
  std::vector<std::array<double, 2>> rule;
  for (int i = 0; i < n; ++i) {
    double x = n % 2 && i == n / 2 ? 0 : -std::cos(std::numbers::pi * (i + 0.75) / (n + 0.5)), slope = 0;
    for (int it = 0; it < 20; ++it) {
      double p = 1, before = 0;
      for (int k = 1; k <= n; ++k) {
        const double next = ((2 * k - 1) * x * p - (k - 1) * before) / k;
        before = p, p = next;
      }
      slope = n * (x * p - before) / (x * x - 1);
      x -= p / slope;
    }
    rule.push_back({x, 2 / ((1 - x * x) * slope * slope)});
  }
  return rule;
}

}  // namespace anvil
