// Sets of units in which people read and write quantities. The core and files know nothing of them.
#pragma once
#include <string>
#include <vector>

#include "core/base/units.hpp"

namespace anvil {

struct UnitSet {
  std::string name;  ///< "mm N MPa"
  std::string length = "mm", force = "N", stress = "MPa", time = "s", temperature = "K", angle = "deg", density = "kg/m3",
              mass = "kg";
  bool operator==(const UnitSet&) const = default;

  /// Unit of a kind; of areas, moments and the like made of those of lengths and forces. Empty for plain numbers.
  std::string unitOf(Kind kind) const;
  /// Core unit's value in the set's unit. Throws Error when a unit of the set does not measure its kind.
  UnitConversion conversionOf(Kind kind) const { return plain(kind) ? UnitConversion{} : conversion(unitOf(kind), kind); }

 private:
  static bool plain(Kind kind) { return kind == Kind::number || kind == Kind::percent; }
};

/// The usual sets, those of the core first.
const std::vector<UnitSet>& unitSets();

}  // namespace anvil
