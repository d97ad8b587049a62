// A line of slender cells in the problem.
#pragma once
#include <array>
#include <memory>
#include <vector>

#include "core/element/beam.hpp"

namespace anvil::analysis {

struct Slender {
  int part = -1;
  std::unique_ptr<element::Beams> cells;
  /// Of each cell: the dofs at its first end, then at its second; shifts, then turns.
  std::vector<std::vector<int>> dofs;
};

}  // namespace anvil::analysis
