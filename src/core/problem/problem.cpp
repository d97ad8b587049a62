#include "core/problem/problem.hpp"

#include <algorithm>

#include "core/base/text.hpp"
#include "core/mesh/quality.hpp"

namespace anvil::analysis {

Problem::Problem() = default;
Problem::~Problem() = default;

std::string Problem::whereIs(int node) const {
  if (node < 0) return "the model";
  const auto& at = mesh.x[size_t(node)];
  std::string part;
  for (const auto& b : mesh.blocks)
    if (std::find(b.nodes.begin(), b.nodes.end(), node) != b.nodes.end()) part = mesh.parts[size_t(b.part)];
  for (const auto& l : mesh.lines)
    if (std::find(l.nodes.begin(), l.nodes.end(), node) != l.nodes.end()) part = mesh.parts[size_t(l.part)];
  std::string place;
  for (int k = 0; k < dim(); ++k) place += std::string(k ? ", " : "") + axis(k) + " " + shortNumber(at[k], 4);
  return "part '" + part + "' near " + place + " mm (node " + std::to_string(node + 1) + ")";
}

double Problem::sizeScale() const {
  double sum = 0;
  for (const auto& b : mesh.blocks) sum += mesh::quality(mesh, b).longestEdge;
  if (!mesh.blocks.empty()) return sum / double(mesh.blocks.size());
  size_t count = 0;
  for (const auto& s : slender)
    for (size_t c = 0; c < s.cells->count(); ++c) sum += s.cells->length(c), ++count;
  return count ? sum / double(count) : 1;
}

}  // namespace anvil::analysis
