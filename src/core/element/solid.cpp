#include "core/element/solid.hpp"

namespace anvil::element {

void Block::setState(const std::vector<double>& state) {
  if (state.size() != old_.size()) throw Error("the stored material state does not fit this mesh", {}, "Run from the start.");
  old_ = now_ = state;
}

namespace {
template <class Law>
std::unique_ptr<Block> make(const mesh::Block& cells, const std::vector<Eigen::Vector3d>& x, const Setting& setting, const Law& law) {
  if (cells.type == mesh::Cell::quad4) return std::make_unique<Solid<Quad4, Law>>(cells, x, setting, law);
  return std::make_unique<Solid<Quad8, Law>>(cells, x, setting, law);
}
template <class Law>
std::unique_ptr<Block> makeAny(const mesh::Block& cells, const std::vector<Eigen::Vector3d>& x, const Setting& setting, const Law& law) {
  if (setting.space == Space::planeStress) return make(cells, x, setting, material::PlaneStress<Law>{law});
  return make(cells, x, setting, law);
}
}  // namespace

std::unique_ptr<Block> makeBlock(const mesh::Block& cells, const std::vector<Eigen::Vector3d>& x, const Setting& setting,
                                 const material::ElasticLaw& law) {
  return makeAny(cells, x, setting, law);
}
std::unique_ptr<Block> makeBlock(const mesh::Block& cells, const std::vector<Eigen::Vector3d>& x, const Setting& setting,
                                 const material::J2Law& law) {
  return makeAny(cells, x, setting, law);
}

}  // namespace anvil::element
