// Yield stress against equivalent plastic strain: a table, or a law of the textbooks.
#pragma once
#include <algorithm>
#include <cmath>

#include "core/base/curve.hpp"

namespace anvil::material {

/// Table: straight between rows, `finalSlope` beyond the last. Power (H. Swift, 1952): σ0 (1 + α/ε0)ⁿ.
/// Voce (E. Voce, 1948) with a linear part: σ0 + Q (1 - e^(-bα)) + H α.
struct Hardening {
  enum class Form { table, power, voce } form = Form::table;
  Curve table;
  double finalSlope = 0;
  double yield = 0;                      ///< σ0 of the laws
  double strain = 1, exponent = 0;       ///< power: ε0, n
  double gain = 0, rate = 0, slope = 0;  ///< Voce: Q, b, H

  void add(double alpha, double stress) { table.add(alpha, stress); }

  double operator()(double alpha) const {
    if (form == Form::power) return yield * std::pow(1 + alpha / strain, exponent);
    if (form == Form::voce) return yield + gain * (1 - std::exp(-rate * alpha)) + slope * alpha;
    const double end = table.x.back();
    return table(alpha) + (alpha > end ? finalSlope * (alpha - end) : 0);
  }
  /// Slope to the right of alpha.
  double slopeAt(double alpha) const {
    if (form == Form::power) return yield * exponent / strain * std::pow(1 + alpha / strain, exponent - 1);
    if (form == Form::voce) return gain * rate * std::exp(-rate * alpha) + slope;
    const auto& x = table.x;
    const auto i = std::upper_bound(x.begin(), x.end(), alpha) - x.begin() - 1;
    if (i + 1 >= std::ptrdiff_t(x.size())) return finalSlope;
    if (i < 0) return 0;
    return (table.y[size_t(i) + 1] - table.y[size_t(i)]) / (x[size_t(i) + 1] - x[size_t(i)]);
  }
  /// End of the piece that begins at alpha; infinite for the laws and beyond a table's end.
  double nextCorner(double alpha) const {
    if (form != Form::table) return 1e300;
    const auto next = std::upper_bound(table.x.begin(), table.x.end(), alpha);
    return next == table.x.end() ? 1e300 : *next;
  }
  /// Strain up to which pictures show it.
  double span() const {
    return form == Form::table ? table.x.back() : form == Form::power ? std::max(0.3, 5 * strain) : 4 / std::max(rate, 1e-3);
  }
};

}  // namespace anvil::material
