// Equilibria that are not stable: noticed, left where a stable one can be found, and told where not.
#include <algorithm>
#include <cmath>

#include "core/base/text.hpp"
#include "core/linear/softest_mode.hpp"
#include "core/run/run_state.hpp"

namespace anvil::analysis {

int Run::unstableModes() const {
  const int negative = assembly_.negativePivots(),
            ofMultipliers = constraints_->equationsBehind() - p_.lengthsBehind;  // each makes one
  return assembly_.symmetric() ? std::max(0, negative - ofMultipliers) : (negative + ofMultipliers) % 2;
}

bool Run::isUnstable() {
  if (!seemsUnstable()) return false;
  if (!assembly_.coarse()) return true;
  assembly_.factor();  // single precision may take a soft way for an unstable one
  return seemsUnstable();
}

bool Run::seemsUnstable() {
  if (unstableModes() > 0) return true;
  if (assembly_.symmetric() || constraints_->equations() == 0) return false;
  // two modes at once leave the sign of a determinant as it was: the compliance along the way that gives most turns, too
  const int n = constraints_->equations();
  const bool fresh = softest_.size() != n;
  if (fresh) softest_ = VectorXd::LinSpaced(n, 0, n).unaryExpr([](double k) { return std::sin(k * k) + 0.1; }).normalized();
  bool turned = false;
  for (int round = 0; round < (fresh ? 8 : 2); ++round) {
    VectorXd gives = assembly_.throughFactors(softest_);
    const double size = gives.norm();
    if (!(size > 0) || !std::isfinite(size)) return softest_ = {}, false;
    turned = softest_.dot(gives) < 0, softest_ = gives / size;
  }
  return turned;
}

void Run::preferStable(const Stride& stride, Attempt& a) {
  if (unstable_ || !isUnstable()) return;
  assembly_.evaluate(trial_, level(stride), true, false, false,
                     nullptr);  // the factors at hand are those of an earlier iteration
  assembly_.factor();
  if (!isUnstable()) return;
  const auto mode = findSoftMode();
  ofTheMesh_ = mode.way.size() > 0 && !isOfTheStructure(mode.way);
  // lines buckle in waves as short as their cells where one increment goes past many loads at which they do so in longer ones
  const bool pastMany = !p_.mesh.lines.empty() && unstableModes() > 1;
  if (mode.way.size() == 0 || (ofTheMesh_ && !pastMany)) return;  // watchStability tells of it
  constexpr int shorter = 4;
  const auto& plan = p_.steps[size_t(stride.step)];
  if (shorterForStability_ < shorter && stride.size * p_.control.cutback > plan.smallest * (plan.end - plan.begin)) {
    if (shorterForStability_++ == 0) soughtFrom_ = stride.size;
    a.converged = false;
    failed(a, Trouble::unstable, "");
    return;
  }
  if (ofTheMesh_) return;
  if (auto left = leaveUnstable(stride, mode))
    a = *left;
  else
    a = solve(stride);  // as it was
  a.soughtStable = true;
}

Run::SoftWay Run::findSoftMode() {
  const auto mode =
      linear::softestMode(constraints_->equations(), [&](VectorXd x) { return assembly_.throughFactors(std::move(x)); });
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
  const auto along = [&](int a, int b) {
    const Vector3d one = p_.at(way, a), other = p_.at(way, b);
    turns += (one - other).squaredNorm(), moves += one.squaredNorm() + other.squaredNorm();
  };
  for (const auto& block : p_.mesh.blocks)
    for (size_t c = 0; c < block.count(); ++c)
      for (const auto& e : mesh::info(block.type).edge) along(block.cell(c)[e[0]], block.cell(c)[e[1]]);
  for (const auto& l : p_.mesh.lines)
    for (size_t c = 0; c < l.count(); ++c) along(l.nodes[c], l.nodes[c + 1]);
  return turns < 0.25 * moves;
}

Attempt Run::solveFrom(const Stride& stride, const VectorXd& found, const VectorXd& way, double shift) {
  VectorXd start = found + way * assembly_.soundShare(found, way);
  if (!descend(stride, start, shift)) return {};
  Stride from = stride;
  from.start = &start;
  Attempt a = solve(from);
  a.converged = a.converged && !isUnstable();
  return a;
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
  Attempt a = solveFrom(stride, found, way, mode.shift);
  if (!a.converged && !a.stopped) a = solveFrom(stride, found, -way, mode.shift);  // friction may hold it on one side
  if (!a.converged) return {};
  const VectorXd jump = travels(trial_ - found);
  const double far = jump.cwiseAbs().maxCoeff(&most);
  observer_.warned("At time " + shortNumber(stride.at.time) +
                   " s the balance on the way was no longer stable: a load limit or a branching point was passed. The run left "
                   "it along its softest mode and goes on at a stable "
                   "shape under the same load, up to " +
                   shortNumber(far, 3) + " mm away (" + p_.whereIs(int(most) / p_.dim()) +
                   "). \"control\": \"arc length\" follows the way between.");
  a.jumped = true;
  return a;
}

bool Run::nearsLimit(const Stride& stride) const {
  const auto& plan = p_.steps[size_t(stride.step)];
  if (lastSize_ <= 0 || stride.size > 1e-3 * (plan.end - plan.begin)) return false;
  return greatestShift(lastChange_) / lastSize_ > 3 * greatestShift(u_ - stepStart_) / (time_ - plan.begin);
}

Attempt Run::leapLimit(const Stride& stride) {
  const VectorXd found = u_;
  setContacts(stride);
  for (auto& b : p_.blocks) b->reject();
  for (auto& s : p_.slender) s.cells->reject();
  VectorXd start = found;
  impose(stride.at, start);
  if (assembly_.evaluate(start, level(stride), true, false, false, nullptr).inverted) return {};
  // along the last increment's way; the matrix is made so much stiffer that what is not in balance goes a fiftieth of the model
  const double most = greatestShift(lastChange_);
  VectorXd local = lastChange_ / most, way = VectorXd::Zero(constraints_->equations());
  constraints_->toLocal(local);
  for (int dof = 0; dof < p_.dofs(); ++dof)
    if (const int eq = constraints_->equation(dof); eq >= 0) way[eq] = local[dof];
  const double shift =
      std::abs(assembly_.rightHandSide().dot(way)) / (0.02 * reach_ * way.cwiseAbs2().dot(assembly_.diagonal().cwiseAbs()));
  Attempt a = solveFrom(stride, found, lastChange_ * (0.1 * p_.sizeScale() / most), shift);
  if (!a.converged) return a;
  Eigen::Index node;
  const double far = travels(trial_ - found).cwiseAbs().maxCoeff(&node);
  a.jumped = true, a.converged = far < 0.5 * reach_;
  if (a.converged)
    observer_.warned(
        "At time " + shortNumber(time_) +
        " s a load limit was reached: under more load no balance is near. The run went on at a stable shape beyond, "
        "up to " +
        shortNumber(far, 3) + " mm away (" + p_.whereIs(int(node) / p_.dim()) +
        "); a real structure snaps there and swings. \"control\": \"arc length\", or a motion in place of the force, "
        "follows the way between.");
  return a;
}

bool Run::descend(const Stride& stride, VectorXd& at, double shift) {
  const auto m = level(stride);
  const double reach = 0.05 * reach_;  // of one correction
  const double weakest = 1e-4 * shift;
  impose(stride.at, at);
  for (int it = 0; it < 150; ++it) {
    if (observer_.stop() || assembly_.evaluate(at, m, true, true, false, nullptr).inverted) return false;
    const VectorXd diagonal = assembly_.diagonal().cwiseAbs();
    if (shift > 0) assembly_.addToDiagonal(shift * diagonal);
    VectorXd x;
    for (int tries = 0;; ++tries) {
      assembly_.factor();
      x = assembly_.throughFactors(assembly_.rightHandSide());
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
  // of unsymmetric factors the mode itself is asked for: contact that slides may turn the sign of a determinant
  const bool now = isUnstable() && (unstable_ || assembly_.symmetric() || findSoftMode().way.size() > 0);
  if (now && !unstable_) {
    unstableSince_ = time;
    observer_.warned(
        "At time " + shortNumber(time) + " s the equilibrium is no longer stable: a load limit or a branching point was passed" +
        (assembly_.symmetric() ? " (" + std::to_string(modes) + " negative pivot" + (modes > 1 ? "s" : "") + "). " : ". ") +
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
