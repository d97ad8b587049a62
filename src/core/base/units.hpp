// Units live at the edges: the core works in mm, N, MPa, tonne, s, K, rad. This converts what people write.
#pragma once
#include <string>
#include <vector>

namespace anvil {

/// What a quantity measures. Decides its unit in the core, and which units are accepted for it.
/// The latter ones are not entered, only recorded and shown.
enum class Kind {
  number,
  length,
  force,
  stress,
  time,
  temperature,
  angle,
  density,
  lineForce,  ///< of springs the stiffness, too
  expansion,
  moment,
  turnStiffness,
  damping,
  turnDamping,
  work,
  area,
  volume,
  mass,
  lineMoment,
  curvature,
  twist,
  energyDensity,
  percent
};

/// Core unit of a kind as text ("mm", "MPa", …; empty for plain numbers).
const char* coreUnit(Kind kind);

/// The kind that a core unit is of, as results files name it; plain numbers where it is none. Work is taken for a moment.
Kind kindOfCoreUnit(const std::string& unit);

/// The everyday name of a kind, for messages ("a stress", "a length").
const char* kindName(Kind kind);

/// Factor and offset that take a value in `unit` to the core unit of `kind`: core = factor * value + offset.
/// Throws Error when the unit is unknown or measures something else (the message names units that would do).
struct UnitConversion {
  double factor = 1, offset = 0;
  double toCore(double v) const { return factor * v + offset; }
  double fromCore(double v) const { return (v - offset) / factor; }
};
UnitConversion conversion(const std::string& unit, Kind kind);

/// Splits "12.5 mm" into number and unit, in no language. False when it does not start with a number that is finite.
bool splitQuantity(const std::string& text, double& number, std::string& unit);

/// True when `unit` is known and measures `kind`.
bool fits(const std::string& unit, Kind kind);

/// Units offered in the interface for a kind, the core's own first.
std::vector<std::string> commonUnits(Kind kind);

}  // namespace anvil
