#include "core/analysis/constraints.hpp"

#include <Eigen/LU>

#include <cmath>

#include "core/base/error.hpp"

namespace anvil::analysis {

Constraints::Constraints(const Problem& p, int step) : problem_(p), begin_(p.steps[size_t(step)].begin) {
  const int n = p.nodeCount();
  given_.resize(size_t(n));
  rigidMotion_.assign(3 * p.rigid.size(), -1);
  for (size_t m = 0; m < p.motions.size(); ++m) {
    const auto& motion = p.motions[m];
    if (!motion.course.active[size_t(step)]) continue;
    if (motion.rigid >= 0) {
      auto& slot = rigidMotion_[size_t(3 * motion.rigid + motion.rigidAxis)];
      if (slot >= 0 && !(p.motions[size_t(slot)].support && motion.support))
        throw Error("'" + motion.name + "' and '" + p.motions[size_t(slot)].name + "' both move rigid part '" + p.rigid[size_t(motion.rigid)].name + "' the same way",
                    "step '" + p.steps[size_t(step)].name + "'", "Take one of them out or let it act in other steps.");
      slot = int(m);
      continue;
    }
    for (size_t i = 0; i < motion.nodes.size(); ++i) {
      auto& list = given_[size_t(motion.nodes[i])];
      bool repeated = false;
      for (auto& g : list) {
        const double cosine = g.direction.dot(motion.direction[i]);
        if (std::abs(cosine) < 1 - 1e-8) continue;
        repeated = true;
        const auto& other = p.motions[size_t(g.motion)];
        if (!other.support && !motion.support)
          throw Error("the motions '" + other.name + "' and '" + motion.name + "' both prescribe the same direction at " + p.whereIs(motion.nodes[i]),
                      "step '" + p.steps[size_t(step)].name + "'", "Let them act on different edges or in different steps.");
        if (other.support && !motion.support) g = {int(m), motion.direction[i]};  // a motion overrides a support
      }
      if (!repeated) list.push_back({int(m), motion.direction[i]});
      if (list.size() > 2) list.resize(2);  // a plane node has two directions; further oblique ones add nothing
    }
  }
  if (p.setting.space == element::Space::axisymmetric)  // the axis stays the axis
    for (int i = 0; i < n; ++i)
      if (std::abs(p.mesh.x[size_t(i)].x()) < 1e-9) {
        bool held = false;
        for (const auto& g : given_[size_t(i)]) held |= std::abs(g.direction.x()) > 1 - 1e-8;
        if (!held) given_[size_t(i)].insert(given_[size_t(i)].begin(), {-1, Point2::UnitX()});
      }
  equation_.assign(size_t(p.dofs()), -1);
  frame_.assign(size_t(n), -1);
  for (int i = 0; i < n; ++i) {
    const auto& list = given_[size_t(i)];
    bool isFree[2] = {list.empty(), list.size() < 2};
    if (list.size() == 1) {
      const Point2 d = list[0].direction;
      if (std::abs(d.x()) > 1 - 1e-9) isFree[0] = false, isFree[1] = true;
      else if (std::abs(d.y()) > 1 - 1e-9) isFree[0] = true, isFree[1] = false;
      else {
        frame_[size_t(i)] = int(frames_.size());
        frames_.push_back((Eigen::Matrix2d() << d.x(), -d.y(), d.y(), d.x()).finished());
        isFree[0] = false, isFree[1] = true;
      }
    }
    for (int k = 0; k < 2; ++k)
      if (isFree[k]) equation_[size_t(2 * i + k)] = count_++;
  }
}

void Constraints::toLocal(VectorXd& v) const {
  for (size_t i = 0; i < frame_.size(); ++i)
    if (frame_[i] >= 0) v.segment<2>(2 * Eigen::Index(i)) = (frames_[size_t(frame_[i])].transpose() * v.segment<2>(2 * Eigen::Index(i))).eval();
}

void Constraints::toGlobal(VectorXd& v) const {
  for (size_t i = 0; i < frame_.size(); ++i)
    if (frame_[i] >= 0) v.segment<2>(2 * Eigen::Index(i)) = (frames_[size_t(frame_[i])] * v.segment<2>(2 * Eigen::Index(i))).eval();
}

void Constraints::prescribe(double time, const VectorXd& startOfStep, VectorXd& u) const {
  const auto value = [&](int motion, double start) {
    if (motion < 0) return start;
    const auto& m = problem_.motions[size_t(motion)];
    // a support holds what it finds; a motion that begins in this step starts from where the body is
    return m.support ? start : start + m.course.curve(time) - m.course.curve(begin_ + 1e-12 * (time - begin_));
  };
  VectorXd start = startOfStep;  // global components
  for (int i = 0; i < problem_.nodeCount(); ++i) {
    const auto& list = given_[size_t(i)];
    if (list.empty()) continue;
    const Point2 was = start.segment<2>(2 * i);
    if (list.size() == 1) {
      const Point2 d = list[0].direction;
      const double target = value(list[0].motion, was.dot(d));
      if (frame_[size_t(i)] >= 0) u[2 * i] = target;
      else if (std::abs(d.x()) > 0.5) u[2 * i] = target * d.x();
      else u[2 * i + 1] = target * d.y();
      continue;
    }
    Eigen::Matrix2d A;
    A.row(0) = list[0].direction.transpose(), A.row(1) = list[1].direction.transpose();
    const Point2 b(value(list[0].motion, was.dot(list[0].direction)), value(list[1].motion, was.dot(list[1].direction)));
    u.segment<2>(2 * i) = A.inverse() * b;
  }
  for (size_t r = 0; r < rigidMotion_.size(); ++r) {
    const int dof = 2 * problem_.nodeCount() + int(r);
    u[dof] = value(rigidMotion_[r], start[dof]);
  }
}

}  // namespace anvil::analysis
