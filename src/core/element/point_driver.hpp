// A material point taken along a path of strain and stress: what a test machine does to a small piece without friction,
// and what no structure blurs. For tests, the shell and the window.
#pragma once
#include <array>
#include <optional>
#include <string>
#include <vector>

#include "core/element/points.hpp"

namespace anvil::element {

/// Components in the order xx, yy, zz, xy, yz, xz. Shear strains are those of the tensor (half the engineering ones).
inline constexpr const char* componentNames[6] = {"xx", "yy", "zz", "xy", "yz", "xz"};
using Six = std::array<double, 6>;

/// One leg of a path: each component goes straight to its strain or its stress. One that names neither keeps its stress
/// at what the leg before brought it to (zero at first).
struct Leg {
  std::array<std::optional<double>, 6> strain;  ///< logarithmic (small geometry: linear)
  std::array<std::optional<double>, 6> stress;  ///< Cauchy, MPa
  int increments = 50;
};

struct DrivenState {
  int leg = 0;
  Six strain{}, stress{};  ///< logarithmic; Cauchy, MPa
  double vonMises = 0, equivalentPlastic = 0;
  double strainEnergy = 0;  ///< elastic, per reference volume, MPa
  double plasticWork = 0;   ///< per reference volume, MPa
};

/// Drives a point without rotation: F = exp(strain). Stresses are met by Newton's method with halved steps.
/// @returns the state at the start and after each increment.
/// Throws Error naming the leg when a component is given both, the increments are not positive, or no strain brings the
/// stress (a perfectly plastic material driven by stress beyond yield).
std::vector<DrivenState> drive(const material::AnyLaw& law, const std::vector<Leg>& path, bool large = true);

/// Reads a leg from words: "xx=0.05", "xx=stress 200, yy=-0.01". Throws Error with what is not understood.
Leg legFrom(const std::string& words, int increments = 50);

}  // namespace anvil::element
