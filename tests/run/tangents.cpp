#include "run/tangents.hpp"

#include <algorithm>
#include <random>

#include "core/problem/problem.hpp"
#include "core/run/assembly.hpp"
#include "run/small_runs.hpp"

namespace anvil {

double tangentError(const std::string& text, double turn, double behind,
                    const std::function<void(const analysis::Problem&, Eigen::VectorXd&)>& change) {
  auto p = lowered(text);
  const analysis::Constraints constraints(*p, 0);
  analysis::Assembly assembly(*p);
  assembly.setConstraints(constraints);
  std::mt19937 gen(3);
  std::uniform_real_distribution<double> noise(-0.05, 0.05);
  Eigen::VectorXd u(p->dofs()), before = Eigen::VectorXd::Zero(p->dofs());
  for (auto& v : u) v = noise(gen);
  for (int d = 0; d < p->dofs(); ++d)
    if (p->isTurn(d)) u[d] = turn * (0.4 + 8 * noise(gen));
  for (int d = p->bodyEnd(); d < p->dofs(); ++d) u[d] *= behind;
  if (change) change(*p, u);
  analysis::LoadLevel m;
  m.before = m.stepStart = &before, m.time = 0.5, m.size = 0.5, m.stepShare = 0.5;
  assembly.evaluate(u, m, true, true, false, nullptr);
  const auto pattern = assembly.pattern();
  const auto values = assembly.values();
  const double h = 1e-6;
  double worst = 0;
  for (int d = 0; d < p->dofs(); ++d) {
    const int e = constraints.equation(d);
    if (e < 0) continue;
    Eigen::VectorXd plus = u, minus = u;
    plus[d] += h, minus[d] -= h;
    assembly.evaluate(plus, m, false, false, false, nullptr);
    const Eigen::VectorXd high = assembly.residual();
    assembly.evaluate(minus, m, false, false, false, nullptr);
    const Eigen::VectorXd slope = (high - assembly.residual()) / (2 * h);
    double scale = 0, off = 0;
    for (int r = 0; r < p->dofs(); ++r)
      if (const int er = constraints.equation(r); er >= 0) {
        const int at = pattern.find(er, e);
        scale = std::max(scale, std::abs(slope[r]));
        off = std::max(off, std::abs(slope[r] - (at < 0 ? 0 : values[size_t(at)])));
      }
    worst = std::max(worst, off / scale);
  }
  return worst;
}

}  // namespace anvil
