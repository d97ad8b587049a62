// Which increments of a run are stored, as the document asks.
#pragma once
#include <string>
#include <vector>

#include "core/model/forward.hpp"

namespace anvil::model {

class Storing {
 public:
  /// `reached`: the time that a run goes on from. Throws Error on what cannot be followed, with its place.
  Storing(const Document& document, std::vector<double> stepEnds, double reached = -1);
  /// Whether the next increment, of a step, with its number in it, is stored. Asked once of each, in their order.
  bool of(int step, int index, double time);
  /// How many of `increments` of a step of this length, of equal size, are stored.
  double share(int step, double increments) const;

 private:
  std::string which_;
  int every_;
  std::vector<double> times_, stepEnds_;
  size_t next_ = 0;  ///< of the times
};

/// Fields that may be left out.
const std::vector<std::string>& optionalFields();

}  // namespace anvil::model
