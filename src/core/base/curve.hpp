// A piecewise-linear curve y(x): hardening tables, courses in time, measured data.
#pragma once
#include <algorithm>
#include <cstddef>
#include <vector>

namespace anvil {

/// Points sorted by x; constant beyond both ends. Equal neighbouring x values make a jump; at x itself the earlier value
/// holds, so that a step that starts with a jump does not change the end of the step before.
struct Curve {
  std::vector<double> x, y;

  bool empty() const { return x.empty(); }
  void add(double xi, double yi) { x.push_back(xi), y.push_back(yi); }
  void scale(double factor) {
    for (double& v : y) v *= factor;
  }

  /// Index i of the piece (x_i, x_{i+1}] that holds `at`; -1 up to the first point, size-1 beyond the last.
  std::ptrdiff_t piece(double at) const { return std::lower_bound(x.begin(), x.end(), at) - x.begin() - 1; }

  double operator()(double at) const {
    const auto i = piece(at);
    if (i < 0) return y.empty() ? 0 : y.front();
    if (i + 1 >= std::ptrdiff_t(x.size())) return y.back();
    return y[i] + (y[i + 1] - y[i]) * (at - x[i]) / (x[i + 1] - x[i]);
  }

  bool operator==(const Curve&) const = default;
};

}  // namespace anvil
