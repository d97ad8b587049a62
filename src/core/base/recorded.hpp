// A scalar that a run records at every increment: of what, which quantity, in which unit.
#pragma once
#include <string>

namespace anvil {

struct Recorded {
  std::string place;     ///< "contacts/seat", "energy"
  std::string quantity;  ///< "force x"
  std::string unit;      ///< of the core; empty for plain numbers
  std::string name() const { return place + "/" + quantity; }
  bool operator==(const Recorded&) const = default;
};

}  // namespace anvil
