// Solid elements of plane models.
#include "core/element/solid.hpp"

namespace anvil::element {

std::unique_ptr<Block> planeBlock(const mesh::Block& cells, const std::vector<Eigen::Vector3d>& x, const Setting& setting,
                                  const material::AnyLaw& law) {
  if (cells.type == mesh::Cell::quad4) return std::make_unique<Solid<Quad4>>(cells, x, setting, law);
  if (cells.type == mesh::Cell::quad8) return std::make_unique<Solid<Quad8>>(cells, x, setting, law);
  if (cells.type == mesh::Cell::tri6) return std::make_unique<Solid<Tri6>>(cells, x, setting, law);
  return nullptr;
}

}  // namespace anvil::element
