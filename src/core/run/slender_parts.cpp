// Slender cells in the residual and the matrix.
#include "core/base/parallel.hpp"
#include "core/run/assembly.hpp"

namespace anvil::analysis {

void Assembly::slender(const VectorXd& u, bool tangent, bool elasticTrial, const VectorXd* du, VectorXd& magnitude,
                       Evaluation& e) {
  const int dim = p_.dim();
  std::vector<contact::Contribution> parts;
  for (size_t i = 0; i < p_.slender.size(); ++i) {
    auto& line = p_.slender[i];
    auto& cells = *line.cells;
    const int n = cells.dofs(), half = n / 2;
    const size_t first = parts.size();
    double reach = 0;  // moments are measured by the forces they are over the whole line
    for (size_t c = 0; c < cells.count(); ++c) reach += cells.length(c);
    parts.resize(first + cells.count());
    std::vector<element::BeamReport> reports(cells.count());
    forEach(cells.count(), [&](size_t c) {
      auto& part = parts[first + c];
      part.dofs = line.dofs[c];
      part.force = part.condensed = VectorXd::Zero(n);
      if (tangent) part.stiffness = Eigen::MatrixXd::Zero(n, n);
      VectorXd q(n);
      for (int k = 0; k < n; ++k) q[k] = u[part.dofs[size_t(k)]];
      reports[c] = cells.integrate(c, q.data(), part.force.data(), tangent ? part.stiffness.data() : nullptr, elasticTrial);
    });
    for (size_t c = 0; c < cells.count(); ++c) {
      if (reports[c].failed) {
        e.inverted = true, e.failedLine = int(i);
        return;
      }
      e.plasticIncrement = std::max(e.plasticIncrement, reports[c].plasticIncrement);
      for (int end = 0; end < 2; ++end) {
        const auto& f = parts[first + c].force;
        magnitude[p_.mesh.lines[i].nodes[c + size_t(end)]] +=
            f.segment(end * half, dim).norm() + f.segment(end * half + dim, half - dim).norm() / reach;
      }
    }
  }
  if (!parts.empty()) addParts(parts, tangent, du);
}

}  // namespace anvil::analysis
