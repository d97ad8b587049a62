#include "core/element/solid.hpp"
#include "core/element/solid_families.hpp"

namespace anvil::element {

template <class Law>
std::unique_ptr<Block> makeSpace(const mesh::Block& cells, const std::vector<Eigen::Vector3d>& x, const Setting& setting, const Law& law) {
  switch (cells.type) {
    case mesh::Cell::hex8: return std::make_unique<Solid<Hex8, Law>>(cells, x, setting, law);
    case mesh::Cell::hex20: return std::make_unique<Solid<Hex20, Law>>(cells, x, setting, law);
    case mesh::Cell::wedge6: return std::make_unique<Solid<Wedge6, Law>>(cells, x, setting, law);
    case mesh::Cell::wedge15: return std::make_unique<Solid<Wedge15, Law>>(cells, x, setting, law);
    default: return std::make_unique<Solid<Tet10, Law>>(cells, x, setting, law);
  }
}

using Places = std::vector<Eigen::Vector3d>;
template std::unique_ptr<Block> makeSpace(const mesh::Block&, const Places&, const Setting&, const material::ElasticLaw&);
template std::unique_ptr<Block> makeSpace(const mesh::Block&, const Places&, const Setting&, const material::J2Law&);

}  // namespace anvil::element
