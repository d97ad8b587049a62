// Constants of rubber laws from tests, and whether they can be trusted beyond them.
#pragma once
#include <string>
#include <vector>

#include "core/material/laws.hpp"
#include "core/material/test_curve.hpp"

namespace anvil::material {

/// How a sheet of rubber is pulled: one way (free sides), two ways alike, one way with its width held (pure shear), or sheared.
enum class RubberTest { oneWay, twoWays, widthHeld, shear };

/// Nominal strains (stretch less one; tangent of the angle in shear) and nominal stresses, MPa.
struct RubberData {
  RubberTest test = RubberTest::oneWay;
  TestCurve points;
};

/// Nominal stress of an incompressible rubber at a nominal strain.
double nominalStress(const RubberLaw& law, RubberTest test, double strain);

enum class RubberForm { neoHooke, mooney, yeoh, ogden1, ogden2, ogden3 };

struct RubberFit {
  RubberLaw law;                  ///< without a bulk modulus
  std::vector<double> constants;  ///< G; C10, C01; C1, C2, C3; μ, α of each term
  double error = 0;               ///< root of the mean square over the greatest stress of each test
  std::string unstable;           ///< where it is not stable, in words; empty where it is
};

/// Fits by least squares, each test counting alike whatever its number of points. Throws Error where there are too few points.
RubberFit fitRubber(RubberForm form, const std::vector<RubberData>& tests);

/// Where, in stretches from `least` to `greatest`, a small further strain would lower the stress (D. Drucker's stability, of log
/// strains): "pulled two ways, from a stretch of 1.4". Empty where nowhere.
std::string instability(const RubberLaw& law, double least, double greatest);

}  // namespace anvil::material
