#include "core/element/solid_families.hpp"

namespace anvil::element {

void Block::setState(const std::vector<double>& state) {
  if (state.size() != old_.size()) throw Error("the stored material state does not fit this mesh", {}, "Run from the start.");
  old_ = now_ = state;
}

namespace {
template <class Law>
std::unique_ptr<Block> make(const mesh::Block& cells, const std::vector<Eigen::Vector3d>& x, const Setting& setting, const Law& law) {
  if (setting.space == Space::planeStress) return makePlane(cells, x, setting, material::PlaneStress<Law>{law});
  return setting.space == Space::solid ? makeSpace(cells, x, setting, law) : makePlane(cells, x, setting, law);
}
}  // namespace

std::unique_ptr<Block> makeBlock(const mesh::Block& cells, const std::vector<Eigen::Vector3d>& x, const Setting& setting, const material::ElasticLaw& law) {
  return make(cells, x, setting, law);
}
std::unique_ptr<Block> makeBlock(const mesh::Block& cells, const std::vector<Eigen::Vector3d>& x, const Setting& setting, const material::J2Law& law) {
  return make(cells, x, setting, law);
}

}  // namespace anvil::element
