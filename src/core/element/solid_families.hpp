// The families of solid elements, each compiled by itself. For use inside this folder.
#pragma once
#include "core/element/block.hpp"

namespace anvil::element {

/// True for laws whose flow or stiffness keeps the volume: plasticity, rubber, Poisson's ratios above 0.4.
bool keepsVolume(const material::AnyLaw& law);

/// True for laws whose volume is more than ten times as stiff as their shape, from the start: rubber, Poisson's ratios above
/// 0.45. Metals that flow are not among them: where contact slides, larger steps of an iteration do them more harm than good
/// (case C9).
bool isStiffInVolume(const material::AnyLaw& law);

/// Null where the cells are of another family.
std::unique_ptr<Block> planeBlock(const mesh::Block& cells, const std::vector<Eigen::Vector3d>& x, const Setting& setting,
                                  const material::AnyLaw& law);
std::unique_ptr<Block> hexBlock(const mesh::Block& cells, const std::vector<Eigen::Vector3d>& x, const Setting& setting,
                                const material::AnyLaw& law);
std::unique_ptr<Block> wedgeBlock(const mesh::Block& cells, const std::vector<Eigen::Vector3d>& x, const Setting& setting,
                                  const material::AnyLaw& law);
std::unique_ptr<Block> tetBlock(const mesh::Block& cells, const std::vector<Eigen::Vector3d>& x, const Setting& setting,
                                const material::AnyLaw& law);

}  // namespace anvil::element
