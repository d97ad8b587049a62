// Contact law at a slave corner node: its status, and the elimination of its multipliers.
#include <Eigen/Geometry>
#include <algorithm>
#include <cmath>

#include "core/contact/pair.hpp"

namespace anvil::contact {

double Pair::frictionBound(double pressure) const {
  return std::min(setup_.friction * std::max(pressure, 0.), setup_.shearLimit);
}

double Pair::stick(size_t a) const {
  const double own = flips_[a] <= 6 ? 1 : std::max(0.01, std::pow(0.3, (flips_[a] - 6) / 2));  // it went to and fro: softer
  return own * softness_ * setup_.stickStiffness * young_ / setup_.slave.cornerLength[a];
}

Point3 Pair::frictionTrial(size_t a) const { return oldFriction_[a] + stick(a) / corners_[a].kappa * corners_[a].slip; }

bool Pair::decideNode(size_t a, double largest) {
  auto& state = now_[a];
  const auto& k = corners_[a];
  const Status previous = state.status;
  if (!active_ || k.kappa <= 0) {
    state.status = Status::open;
    return previous != state.status;
  }
  const double violation = gap_[a] + offset(a) + compliance(a).value;
  const bool wasActive = previous != Status::open;
  const double h = setup_.slave.meanLength;
  // An active node's gap condition holds but for second-order terms, so its pressure alone decides; an open node's gap
  // does. Changes that mean nothing at this accuracy are not made: no chatter at the rim of the contact, and bodies that
  // touch without a force (pressures of rounding, of either sign) go on touching.
  bool active = wasActive ? state.pressure >= -1e-7 * largest - 1e-11 * young_ : violation < -1e-7 * h;
  if (soft_) active = gap_[a] + offset(a) <= 1e-6 * h;
  if (keeps()) active = true;
  if (!active) {
    state.status = Status::open;
    if (wasActive) reopened_[a] = true;
    return previous != state.status;
  }
  // a rough node that touches for the first time has come from somewhere: it sticks from the next increment on
  const bool rough = setup_.behaviour == Behaviour::tied || (setup_.behaviour == Behaviour::rough && !firstTouch(a));
  if (rough) {
    state.status = Status::sticking;
  } else if (!coulomb()) {
    state.status = Status::sliding;
  } else if (firstTouch(a)) {
    state.status = Status::sliding;  // touches for the first time: smoothed sliding, see condense
  } else {
    // From sticking to sliding by the traction, back when the traction falls below its bound; a node that would slide
    // the other way sticks first, else stiff sticking makes it jump to and fro.
    const double bound = frictionBound(state.pressure);
    const Point3 trial = frictionTrial(a);
    const bool unmoved = k.slip.norm() <= 1e-9 * k.kappa * h && trial.norm() > (1 - 1e-6) * bound;
    if (previous == Status::sliding && unmoved && !turns_) return false;
    const bool reversed = previous == Status::sliding && trial.dot(direction_[a]) < 0;
    direction_[a] = trial;
    state.status = reversed || trial.norm() <= bound * (1 + 1e-9) ? Status::sticking : Status::sliding;
    if (previous != Status::open && previous != state.status) ++flips_[a];
  }
  return previous != state.status;
}

void Pair::condense(size_t a, std::vector<Contribution>& out) {
  auto& k = corners_[a];
  const auto& state = now_[a];
  const auto n = Eigen::Index(k.dofs.size());
  const int T = tangents_;
  const bool friction = k.row.cols() > 3;
  k.b = Eigen::VectorXd::Zero(n), k.bT = Eigen::MatrixXd::Zero(n, T);
  k.addT = -state.friction;
  if (state.status == Status::open || k.kappa <= 0) {
    k.add = -state.pressure;
  } else {
    const auto yields = compliance(a);
    const double compress = offset(a) + yields.value, factor = 1 / (yields.slope * k.kappa);
    k.add = -factor * (k.gap + k.kappa * compress);
    // the slope of the mean gap g/κ: where a body is pressed far in one go, κ changes with it, and g + κ(…) is no straight line
    k.b = -factor * (k.row.col(1) - (k.gap / k.kappa) * k.row.col(0));
    const Point3 slip = k.slip / k.kappa;
    Eigen::MatrixXd dSlip;  // of the mean slip
    if (friction) dSlip = (k.row.middleCols(3, T) - k.row.col(0) * slip.head(T).transpose()) / k.kappa;
    const bool limited = setup_.friction * state.pressure > setup_.shearLimit;
    const double bound = frictionBound(state.pressure), rise = limited || state.pressure < 0 ? 0 : setup_.friction;
    if (state.status == Status::sticking && !coulomb()) {
      const Point3 stretch = (state.friction - oldFriction_[a]) / epsilon_;
      k.addT = epsilon_ / k.kappa * (k.slip - k.kappa * stretch);
      k.bT = epsilon_ * dSlip + oldFrictionSlope(a);
    } else if (coulomb() && firstTouch(a)) {
      // The slip of the increment includes the way before touching: no place to stick to. Friction against the slip,
      // smoothed over a small part of the element length.
      const double reference = 0.02 * setup_.slave.meanLength, size = std::hypot(slip.norm(), reference);
      const Point3 share = slip / size;
      const Eigen::MatrixXd slope = (Eigen::MatrixXd::Identity(T, T) - share.head(T) * share.head(T).transpose()) / size;
      k.addT += (bound + rise * k.add) * share;
      k.bT = rise * k.b * share.head(T).transpose() + bound * dSlip * slope;
    } else if (coulomb() && state.status == Status::sticking) {
      k.addT += frictionTrial(a);
      k.bT = stick(a) * dSlip + oldFrictionSlope(a);
    } else if (coulomb()) {
      const double size = direction_[a].norm();
      const Point3 d = size > 0 ? Point3(direction_[a] / size) : Point3::UnitX();
      k.addT += (bound + rise * k.add) * d;
      k.bT = rise * k.b * d.head(T).transpose();
      if (T > 1 && size > 0) {  // the direction turns with the trial
        const Eigen::Matrix3d across = (Eigen::Matrix3d::Identity() - d * d.transpose()) * (bound / size);
        k.bT += (stick(a) * dSlip + oldFrictionSlope(a)) * across;
      }
    }
  }
  if (n == 0) return;
  Contribution part;
  part.dofs = k.dofs;
  part.force = Eigen::VectorXd::Zero(n);
  part.condensed = k.row.col(2) * k.add;
  part.left.resize(n, friction ? 1 + T : 1), part.right.resize(n, part.left.cols());
  part.left.col(0) = k.row.col(2), part.right.col(0) = k.b;
  if (friction) {
    part.condensed += k.row.middleCols(3 + T, T) * k.addT.head(T);
    part.left.rightCols(T) = k.row.middleCols(3 + T, T), part.right.rightCols(T) = k.bT;
  }
  out.push_back(std::move(part));
}

}  // namespace anvil::contact
