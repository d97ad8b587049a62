// Wedges.
#include "core/element/solid.hpp"

namespace anvil::element {

std::unique_ptr<Block> wedgeBlock(const mesh::Block& cells, const std::vector<Eigen::Vector3d>& x, const Setting& setting,
                                  const material::AnyLaw& law) {
  if (cells.type == mesh::Cell::wedge6) return std::make_unique<Solid<Wedge6>>(cells, x, setting, law);
  if (cells.type == mesh::Cell::wedge15) return std::make_unique<Solid<Wedge15>>(cells, x, setting, law);
  return nullptr;
}

}  // namespace anvil::element
