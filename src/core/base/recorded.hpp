// A scalar that a run records at every increment: of what, which quantity, of which kind.
#pragma once
#include <string>

#include "core/base/units.hpp"

namespace anvil {

struct Recorded {
  std::string place;     ///< "contacts/seat", "energy"
  std::string quantity;  ///< "force x"
  Kind kind;             ///< says its unit
  std::string name() const { return place + "/" + quantity; }
  bool operator==(const Recorded&) const = default;
};

}  // namespace anvil
