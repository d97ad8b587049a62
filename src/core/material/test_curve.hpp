// Tensile tests: what a test machine writes becomes a hardening law.
#pragma once
#include <string>
#include <vector>

#include "core/material/hardening.hpp"

namespace anvil::material {

/// Strain and stress, MPa, of a bar that is pulled: total strains.
struct TestPoint {
  double strain = 0, stress = 0;
};
using TestCurve = std::vector<TestPoint>;

/// Logarithmic strain and true stress of an engineering curve, volume kept: ln(1+e), s(1+e); and back.
TestCurve trueOf(const TestCurve& engineering);
TestCurve engineeringOf(const TestCurve& trueCurve);

/// What the rows of a hardening table are: plastic or total strains, true or engineering stresses with their strains.
struct RowMeaning {
  bool total = false, engineering = false;
};
/// A row as plastic log strain and true stress, and back.
TestPoint plasticTrue(const TestPoint& row, const RowMeaning& meaning, double young);
TestPoint asRow(const TestPoint& plasticTrue, const RowMeaning& meaning, double young);

/// Up to the greatest load, where a bar begins to neck: behind it neither stress nor strain is that of the whole bar.
TestCurve upToGreatestLoad(const TestCurve& engineering);

/// Young's modulus from the points between a twentieth and a third of the greatest stress, by least squares; from the first
/// point beyond the origin where there are fewer than two.
double slopeAtStart(const TestCurve& curve);

/// Where the curve meets the elastic line that is shifted by an offset (0.002: ISO 6892-1, the 0.2 % proof stress). Throws Error
/// when it does not.
TestPoint offsetYield(const TestCurve& curve, double young, double offset = 0.002);

/// Plastic strain and stress from yield on: the first row is (0, yield). Rows are the curve's points above yield, with the strain
/// less stress over modulus; with `consistent` less what that is at yield too, so that the law begins on the elastic line. True
/// curves in, true rows out. Throws Error when no point lies above yield.
std::vector<TestPoint> plasticRows(const TestCurve& trueCurve, double young, double yield, bool consistent);

/// Fewer points of a long curve: none of those left out is further from the lines between the others than `within` of the
/// curve's height (U. Ramer, 1972).
TestCurve thinned(const TestCurve& curve, double within = 0.002);

/// A law fitted to plastic rows by least squares, and its error: the root of the mean square over the greatest stress.
struct HardeningFit {
  Hardening law;
  double error = 0;
};
HardeningFit fitPower(const std::vector<TestPoint>& rows);
HardeningFit fitVoce(const std::vector<TestPoint>& rows);

}  // namespace anvil::material
