#include "core/base/error.hpp"
#include "core/element/block.hpp"
#include "core/element/solid_families.hpp"
#include "core/element/solid_shell.hpp"

namespace anvil::element {

bool keepsVolume(const material::AnyLaw& law) {
  if (const auto* e = std::get_if<material::ElasticLaw>(&law)) return e->lambda / (2 * (e->lambda + e->mu)) > 0.4;
  if (const auto* c = std::get_if<material::CurveElasticLaw>(&law))
    return c->bulk > 5 * c->curve.y.at(1) / (3 * c->curve.x.at(1));
  return true;
}

bool isStiffInVolume(const material::AnyLaw& law) {
  if (const auto* r = std::get_if<material::RubberLaw>(&law)) return r->bulk > 10 * r->shearModulus();
  if (const auto* e = std::get_if<material::ElasticLaw>(&law)) return e->lambda + 2 * e->mu / 3 > 10 * e->mu;
  return false;
}

std::unique_ptr<Block> makeBlock(const mesh::Block& cells, const std::vector<Eigen::Vector3d>& x, const Setting& setting,
                                 const material::AnyLaw& law) {
  for (const auto& family : {thinBlock, planeBlock, hexBlock, wedgeBlock, tetBlock})
    if (auto block = family(cells, x, setting, law)) return block;
  throw Error(std::string("there is no solid element for cells of ") + mesh::info(cells.type).name, {}, "Take another element.");
}

}  // namespace anvil::element
