// Equilibria that are not stable: noticed, left where a stable one can be found, and told where not.
#include <algorithm>
#include <cmath>

#include "core/base/text.hpp"
#include "core/linear/softest_mode.hpp"
#include "core/run/run_state.hpp"

namespace anvil::analysis {

int Run::unstableModes() const {
  const int negative = assembly_.negativePivots();
  return negative < 0 ? -1 : std::max(0, negative - (p_.multipliers - p_.lengthsBehind));  // each multiplier makes one
}

void Run::preferStable(const Stride& stride, Attempt& a) {
  if (unstable_ || unstableModes() <= 0) return;
  assembly_.evaluate(trial_, moment(stride), true, false, false,
                     nullptr);  // the factors at hand are those before the last correction
  assembly_.factor();
  if (unstableModes() <= 0) return;
  const auto mode = findSoftMode();
  ofTheMesh_ = mode.way.size() > 0 && !isOfTheStructure(mode.way);
  if (mode.way.size() == 0 || ofTheMesh_) return;  // watchStability tells of it
  constexpr int shorter = 4;
  const auto& plan = p_.steps[size_t(stride.step)];
  if (shorterForStability_ < shorter && stride.size * p_.control.cut > plan.smallest * (plan.end - plan.begin)) {
    ++shorterForStability_;
    a.converged = false;
    failed(a, Trouble::unstable, "");
    return;
  }
  if (auto left = leaveUnstable(stride, mode))
    a = *left;
  else
    a = solve(stride);  // as it was
}

Run::SoftWay Run::findSoftMode() {
  const auto mode =
      linear::softestMode(constraints_->equations(), [&](VectorXd x) { return assembly_.solveAgain(std::move(x)); });
  if (mode.direction.size() == 0) return {};
  SoftWay found{VectorXd::Zero(p_.dofs()),
                2 * std::abs(mode.curvature) / mode.direction.cwiseAbs2().dot(assembly_.diagonal().cwiseAbs())};
  for (int dof = 0; dof < p_.dofs(); ++dof)
    if (const int eq = constraints_->equation(dof); eq >= 0) found.way[dof] = mode.direction[eq];
  constraints_->toGlobal(found.way);
  return found;
}

bool Run::isOfTheStructure(const VectorXd& way) const {
  double turns = 0, moves = 0;  // squared differences along cells' edges, and squared amplitudes there
  for (const auto& block : p_.mesh.blocks)
    for (size_t c = 0; c < block.count(); ++c)
      for (const auto& e : mesh::info(block.type).edge) {
        const Vector3d one = p_.at(way, block.cell(c)[e[0]]), other = p_.at(way, block.cell(c)[e[1]]);
        turns += (one - other).squaredNorm(), moves += one.squaredNorm() + other.squaredNorm();
      }
  return turns < 0.25 * moves;
}

std::optional<Attempt> Run::leaveUnstable(const Stride& stride, const SoftWay& mode) {
  const VectorXd found = trial_;
  VectorXd way = mode.way;
  const VectorXd moves = travels(way);
  Eigen::Index most;
  const double size = moves.cwiseAbs().maxCoeff(&most);
  if (!(size > 0)) return {};
  // on with what moved so far; where that says nothing, to the positive side
  const double on = moves.dot(travels(lastChange_)),
               sign = std::abs(on) > 1e-6 * moves.norm() * travels(lastChange_).norm() ? on : moves[most];
  way *= (sign < 0 ? -1 : 1) * 0.1 * p_.sizeScale() / size;
  VectorXd start = found + way * assembly_.soundShare(found, way);
  if (!descend(stride, start, mode.shift)) return {};
  Stride from = stride;
  from.start = &start;
  Attempt a = solve(from);
  if (!a.converged || unstableModes() > 0) return {};
  const VectorXd jump = travels(trial_ - found);
  const double far = jump.cwiseAbs().maxCoeff(&most);
  observer_.warned("At time " + shortNumber(stride.at.time) +
                   " s the balance on the way was no longer stable: a load limit or a branching point was passed. The run left "
                   "it along its softest mode and goes on at a stable "
                   "shape under the same load, up to " +
                   shortNumber(far, 3) + " mm away (" + p_.whereIs(int(most) / p_.dim()) +
                   "). \"control\": \"arc length\" follows the way between.");
  return a;
}

bool Run::descend(const Stride& stride, VectorXd& at, double shift) {
  const auto m = moment(stride);
  const double reach = 0.05 * reach_;  // of one correction
  const double weakest = 1e-4 * shift;
  impose(stride.at, at);
  for (int it = 0; it < 150; ++it) {
    if (observer_.stop() || assembly_.evaluate(at, m, true, true, false, nullptr).inverted) return false;
    const VectorXd diagonal = assembly_.diagonal().cwiseAbs();
    if (shift > 0) assembly_.addToDiagonal(shift * diagonal);
    VectorXd x;
    for (int tries = 0;; ++tries) {
      x = assembly_.solve();
      if (unstableModes() == 0 && assembly_.nullEquations().empty()) break;
      if (tries == 12) return false;
      const double more = shift > 0 ? 3 * shift : weakest;
      assembly_.addToDiagonal(more * diagonal), shift += more;
    }
    VectorXd du = VectorXd::Zero(p_.dofs());
    for (int dof = 0; dof < p_.dofs(); ++dof)
      if (const int eq = constraints_->equation(dof); eq >= 0) du[dof] = x[eq];
    constraints_->toGlobal(du);
    for (auto& pair : p_.pairs) pair.solveMultipliers(du);
    const double step = travels(du).cwiseAbs().maxCoeff(),
                 share = std::min(step > reach ? reach / step : 1, assembly_.soundShare(at, du));
    at += share * du;
    for (auto& pair : p_.pairs) pair.step(share);
    if (share < 1) continue;
    if (shift == 0) return true;  // the matrix is positive by itself, and its whole correction is small
    shift = shift > weakest ? 0.25 * shift : 0;
  }
  return false;
}

void Run::watchStability(double time) {
  const int modes = unstableModes();
  if (modes < 0) return;  // not told by the unsymmetric factors
  const bool now = modes > 0;
  if (now && !unstable_) {
    unstableSince_ = time;
    observer_.warned(
        "At time " + shortNumber(time) +
        " s the equilibrium is no longer stable: a load limit or a branching point was passed (" + std::to_string(modes) +
        " negative pivot" + (modes > 1 ? "s" : "") + "). " +
        (ofTheMesh_ ? "The way out goes to and fro from node to node: a matter of the mesh; finer or other elements put it off."
                    : "Under the same load the structure may jump or buckle to another shape."));
  }
  unstable_ = now;
}

void Run::warnOfUnstableEnd() {
  if (!unstable_ || ofTheMesh_) return;
  observer_.warned(
      "The last states of this run, from time " + shortNumber(unstableSince_) +
      " s on, are not stable: a real structure does not stay there. Take shorter increments from that time on, give the shape or "
      "the load a slight imperfection, drive it by a motion, or follow it with \"control\": \"arc length\".");
}

}  // namespace anvil::analysis
