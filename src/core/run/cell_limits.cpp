// What cells set limits by: the rounding of their forces, and how far they may be deformed in one correction.
#include <algorithm>

#include "core/base/parallel.hpp"
#include "core/run/assembly.hpp"

namespace anvil::analysis {

VectorXd Assembly::noise(const VectorXd& u) const {
  constexpr double roundoff = 1.1e-16;
  const int dim = p_.dim();
  VectorXd floor = VectorXd::Zero(p_.dofs());
  for (size_t i = 0; i < p_.blocks.size(); ++i) {
    const auto& cells = p_.blocks[i]->cells();
    const int n = mesh::info(cells.type).nodes;
    for (size_t c = 0; c < cells.count(); ++c) {
      const int* cell = cells.cell(c);
      double most = 0;
      for (int a = 0; a < n; ++a) most = std::max(most, u.segment(dim * cell[a], dim).cwiseAbs().maxCoeff());
      const auto& r = rounding_[i][c];
      const double force = 8 * roundoff * (r.perStrain + r.perShift * most);
      for (int a = 0; a < n; ++a) floor.segment(dim * cell[a], dim).array() += force;
    }
  }
  for (size_t i = 0; i < p_.slender.size(); ++i) {
    const auto& cells = *p_.slender[i].cells;
    for (size_t c = 0; c < cells.count(); ++c) {
      const auto& dofs = p_.slender[i].dofs[c];
      double most = 0;
      for (int dof : dofs)
        if (dof < p_.nodeDofs()) most = std::max(most, std::abs(u[dof]));
      const double force = 8 * roundoff * cells.law().young * cells.section().area * (1 + most / cells.length(c));
      for (int dof : dofs)
        if (dof < p_.nodeDofs()) floor[dof] += force;
    }
  }
  return floor;
}

double Assembly::soundShare(const VectorXd& u, const VectorXd& du) const {
  constexpr double left = 0.2;  // of its volume, that a cell keeps in one correction at least
  double share = 1;
  for (const auto& block : p_.blocks) {
    const auto& b = *block;
    const int dim = p_.dim(), nodes = b.dofs() / dim;
    std::vector<double> shares(b.cells().count(), 1);
    forEach(
        b.cells().count(),
        [&](size_t c) {
          const int* cell = b.cells().cell(c);
          Eigen::Matrix<double, element::mostDofs, 1> now, change, there;
          for (int a = 0; a < nodes; ++a)
            now.segment(dim * a, dim) = u.segment(dim * cell[a], dim),
                                 change.segment(dim * a, dim) = du.segment(dim * cell[a], dim);
          const double start = b.leastVolume(c, now.data());
          for (double& s = shares[c]; s > 1e-3; s *= 0.5) {
            there = now + s * change;
            if (b.leastVolume(c, there.data()) > left * start) break;
          }
        },
        64);
    for (double s : shares) share = std::min(share, s);
  }
  return share;
}

}  // namespace anvil::analysis
