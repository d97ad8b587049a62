#include "core/element/solid.hpp"

namespace anvil::element {

bool keepsVolume(const material::AnyLaw& law) {
  if (const auto* e = std::get_if<material::ElasticLaw>(&law)) return e->lambda / (2 * (e->lambda + e->mu)) > 0.4;
  if (const auto* c = std::get_if<material::CurveElasticLaw>(&law)) return c->bulk > 5 * c->curve.y.at(1) / (3 * c->curve.x.at(1));
  return true;
}

std::unique_ptr<Block> makeBlock(const mesh::Block& cells, const std::vector<Eigen::Vector3d>& x, const Setting& setting, const material::AnyLaw& law) {
  switch (cells.type) {
    case mesh::Cell::quad4: return std::make_unique<Solid<Quad4>>(cells, x, setting, law);
    case mesh::Cell::quad8: return std::make_unique<Solid<Quad8>>(cells, x, setting, law);
    case mesh::Cell::tri6: return std::make_unique<Solid<Tri6>>(cells, x, setting, law);
    case mesh::Cell::hex8: return std::make_unique<Solid<Hex8>>(cells, x, setting, law);
    case mesh::Cell::hex20: return std::make_unique<Solid<Hex20>>(cells, x, setting, law);
    case mesh::Cell::wedge6: return std::make_unique<Solid<Wedge6>>(cells, x, setting, law);
    case mesh::Cell::wedge15: return std::make_unique<Solid<Wedge15>>(cells, x, setting, law);
    default: return std::make_unique<Solid<Tet10>>(cells, x, setting, law);
  }
}

}  // namespace anvil::element
