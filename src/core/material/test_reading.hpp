// Which columns of a table from a test are strain and stress, and in which units.
#pragma once
#include <string>
#include <vector>

#include "core/base/pasted_table.hpp"
#include "core/material/test_curve.hpp"

namespace anvil::material {

struct TestReading {
  size_t strain = 0, stress = 1;  ///< columns
  std::string strainUnit = "1";   ///< "1", "%", "mm/mm" …, or "stretch"
  std::string stressUnit = "MPa";
  bool engineering = true;  ///< else log strain and true stress
  bool operator==(const TestReading&) const = default;
};

/// By the header's words and units, else by the numbers: stresses are the larger ones, strains above 1.5 are percent. Throws
/// Error when there are no two columns.
TestReading guessReading(const PastedTable& table);

/// Strain units that are offered.
const std::vector<std::string>& strainUnits();

/// The curve in MPa and plain strains, sorted by strain where the test began at its other end. Throws Error on a unit that is
/// none.
TestCurve curveOf(const PastedTable& table, const TestReading& reading);

}  // namespace anvil::material
