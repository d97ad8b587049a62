// Cells of one dimension with one law; each pair is compiled in a source of its own.
#pragma once
#include "core/base/error.hpp"
#include "core/element/block.hpp"

namespace anvil::element {

template <class Law>
std::unique_ptr<Block> makePlane(const mesh::Block& cells, const std::vector<Eigen::Vector3d>& x, const Setting& setting, const Law& law);
template <class Law>
std::unique_ptr<Block> makeSpace(const mesh::Block& cells, const std::vector<Eigen::Vector3d>& x, const Setting& setting, const Law& law);

}  // namespace anvil::element
