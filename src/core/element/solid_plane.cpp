#include "core/element/solid.hpp"
#include "core/element/solid_families.hpp"

namespace anvil::element {

template <class Law>
std::unique_ptr<Block> makePlane(const mesh::Block& cells, const std::vector<Eigen::Vector3d>& x, const Setting& setting, const Law& law) {
  switch (cells.type) {
    case mesh::Cell::quad4: return std::make_unique<Solid<Quad4, Law>>(cells, x, setting, law);
    case mesh::Cell::quad8: return std::make_unique<Solid<Quad8, Law>>(cells, x, setting, law);
    default: return std::make_unique<Solid<Tri6, Law>>(cells, x, setting, law);
  }
}

using Places = std::vector<Eigen::Vector3d>;
template std::unique_ptr<Block> makePlane(const mesh::Block&, const Places&, const Setting&, const material::ElasticLaw&);
template std::unique_ptr<Block> makePlane(const mesh::Block&, const Places&, const Setting&, const material::J2Law&);
template std::unique_ptr<Block> makePlane(const mesh::Block&, const Places&, const Setting&, const material::PlaneStress<material::ElasticLaw>&);
template std::unique_ptr<Block> makePlane(const mesh::Block&, const Places&, const Setting&, const material::PlaneStress<material::J2Law>&);

}  // namespace anvil::element
