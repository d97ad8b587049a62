// Tetrahedra.
#include "core/element/solid.hpp"

namespace anvil::element {

std::unique_ptr<Block> tetBlock(const mesh::Block& cells, const std::vector<Eigen::Vector3d>& x, const Setting& setting,
                                const material::AnyLaw& law) {
  if (cells.type == mesh::Cell::tet10) return std::make_unique<Solid<Tet10>>(cells, x, setting, law);
  return nullptr;
}

}  // namespace anvil::element
