// Hexahedra.
#include "core/element/solid.hpp"

namespace anvil::element {

std::unique_ptr<Block> hexBlock(const mesh::Block& cells, const std::vector<Eigen::Vector3d>& x, const Setting& setting,
                                const material::AnyLaw& law) {
  if (cells.type == mesh::Cell::hex8) return std::make_unique<Solid<Hex8>>(cells, x, setting, law);
  if (cells.type == mesh::Cell::hex20) return std::make_unique<Solid<Hex20>>(cells, x, setting, law);
  return nullptr;
}

}  // namespace anvil::element
