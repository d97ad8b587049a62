#include "core/run/constraints.hpp"

#include <Eigen/Geometry>
#include <Eigen/LU>

#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/dense.hpp"
#include "core/base/error.hpp"
#include "core/contact/rotation.hpp"

namespace anvil::analysis {
namespace {

/// The global axis that a direction runs along, or -1.
int axisOf(const Vector3d& d) {
  for (int k = 0; k < 3; ++k)
    if (std::abs(d[k]) > 1 - 1e-9) return k;
  return -1;
}

/// Adds a direction to an orthonormal set (Gram–Schmidt); false when it lies in its span.
bool extend(std::vector<Vector3d>& basis, const Vector3d& d) {
  Vector3d rest = d;
  for (const auto& q : basis) rest -= q.dot(d) * q;
  if (rest.norm() < 1e-4) return false;
  basis.push_back(rest.normalized());
  return true;
}

}  // namespace

/// Notes that a motion prescribes a direction at a node; a motion goes before a support.
void Constraints::give(int node, int m, const Vector3d& direction, int step) {
  auto& list = given_[size_t(node)];
  const auto& motion = problem_.motions[size_t(m)];
  for (auto& g : list) {
    if (std::abs(g.direction.dot(direction)) < 1 - 1e-8) continue;
    const auto& other = problem_.motions[size_t(g.motion)];
    if (!other.support && !motion.support)
      throw Error("the motions '" + other.name + "' and '" + motion.name + "' both prescribe the same direction at " +
                      problem_.whereIs(node),
                  "step '" + problem_.steps[size_t(step)].name + "'", "Let them act on different edges or in different steps.");
    if (other.support && !motion.support) g = {m, direction};
    return;
  }
  // oblique ones that add nothing to those there are left out, motions before supports
  std::vector<Vector3d> basis;
  for (const auto& g : list) extend(basis, g.direction);
  if (extend(basis, direction)) {
    list.push_back({m, direction});
    return;
  }
  if (motion.support) return;
  for (size_t i = list.size(); i-- > 0;)
    if (problem_.motions[size_t(list[i].motion)].support) {
      list.erase(list.begin() + std::ptrdiff_t(i));
      return give(node, m, direction, step);
    }
}

/// The same for a body's dof.
void Constraints::giveBody(int body, int axis, int m, int step) {
  auto& slot = rigidMotion_[size_t(problem_.rigidSize() * body + axis)];
  const auto& motion = problem_.motions[size_t(m)];
  if (slot >= 0 && !problem_.motions[size_t(slot)].support && !motion.support)
    throw Error("'" + motion.name + "' and '" + problem_.motions[size_t(slot)].name + "' both move '" +
                    problem_.bodies[size_t(body)].name + "' the same way",
                "step '" + problem_.steps[size_t(step)].name + "'", "Take one of them out or let it act in other steps.");
  if (slot < 0 || problem_.motions[size_t(slot)].support) slot = m;
}

Constraints::Constraints(const Problem& p, int step) : problem_(p), begin_(p.steps[size_t(step)].begin) {
  const int n = p.nodeCount(), dim = p.dim();
  given_.resize(size_t(n));
  rigidMotion_.assign(size_t(p.rigidSize()) * p.bodies.size(), -1);
  for (size_t m = 0; m < p.motions.size(); ++m) {
    const auto& motion = p.motions[m];
    if (!motion.course.active[size_t(step)]) continue;
    if (motion.body >= 0) {
      for (int k = 0; k < p.rigidSize(); ++k)
        if (motion.anyAxis ? k >= p.dim() : k == motion.bodyAxis) giveBody(motion.body, k, int(m), step);
      continue;
    }
    for (size_t i = 0; i < motion.nodes.size() && motion.opposite.empty(); ++i) {
      if (!motion.turn) {
        give(motion.nodes[i], int(m), motion.direction[i], step);
        continue;
      }
      const int axis = axisOf(motion.axis);
      const Vector3d first = axis >= 0 ? Vector3d::Unit((axis + 1) % 3) : motion.axis.unitOrthogonal();
      give(motion.nodes[i], int(m), first, step),
          give(motion.nodes[i], int(m), axis >= 0 ? Vector3d::Unit((axis + 2) % 3) : Vector3d(motion.axis.cross(first)), step);
    }
  }
  if (p.setting.space == element::Space::axisymmetric)  // the axis stays the axis
    for (int i = 0; i < n; ++i)
      if (std::abs(p.mesh.x[size_t(i)].x()) < 1e-9) {
        auto& list = given_[size_t(i)];
        std::erase_if(list, [](const Given& g) { return std::abs(g.direction.x()) > 1e-9; });
        list.insert(list.begin(), {-1, Vector3d::UnitX()});
      }
  equation_.assign(size_t(p.dofs()), -1);
  frame_.assign(size_t(n), -1);
  for (int i = 0; i < n; ++i) {
    auto& list = given_[size_t(i)];
    bool isFree[3] = {true, true, true}, oblique = false;
    for (const auto& g : list) oblique |= axisOf(g.direction) < 0;
    if (!oblique) {
      for (const auto& g : list) isFree[axisOf(g.direction)] = false;
    } else if (int(list.size()) < dim) {  // fully given nodes need no frame
      std::vector<Vector3d> basis;
      for (const auto& g : list) extend(basis, g.direction);
      for (size_t k = 0; k < basis.size(); ++k) isFree[k] = false;
      for (int k = 0; k < dim && int(basis.size()) < dim; ++k) extend(basis, Vector3d::Unit(k));
      Eigen::Matrix3d Q = Eigen::Matrix3d::Identity();
      for (int k = 0; k < dim; ++k) Q.col(k) = basis[size_t(k)];
      frame_[size_t(i)] = int(frames_.size());
      frames_.push_back(Q);
    } else {
      isFree[0] = isFree[1] = isFree[2] = false;
    }
    for (int k = 0; k < dim; ++k)
      if (isFree[k]) equation_[size_t(dim * i + k)] = count_++;
  }
  // bodies: free where nothing moves them and they are loose or loaded
  for (int b = 0; b < int(p.bodies.size()); ++b)
    for (int k = 0; k < p.rigidSize(); ++k) {
      const size_t slot = size_t(p.rigidSize() * b + k);
      if (p.isNodeBody(b) && k < dim) continue;  // its node's
      if (rigidMotion_[slot] < 0 && (p.bodies[size_t(b)].loose[size_t(k)] || loaded(b, k, step)))
        equation_[size_t(p.rigidDof(b, k))] = count_++;
    }
  for (const auto& c : p.carriers)
    if (c.rigid)
      for (int n : c.nodes)
        if (!given_[size_t(n)].empty())
          throw Error("carrier '" + c.name + "' holds " + p.whereIs(n) + ", which a support or motion prescribes as well",
                      "step '" + p.steps[size_t(step)].name + "'", "Hold or move the carrier itself, or let it hold \"mean\".");
  hinge(step);
  std::vector<bool> idle(size_t(p.dofs()), false);  // multipliers of hinges that hold nothing in this step
  for (const auto& pair : p.hinges) std::fill_n(idle.begin() + pair.first, dim, true);
  for (const auto& h : hinges_) idle[size_t(h.multiplier)] = false;
  for (int m = p.bodyEnd(); m < p.dofs(); ++m)
    if (!idle[size_t(m)]) equation_[size_t(m)] = count_++, ++behind_;
}

/// A direction lies in what is prescribed at a node.
bool Constraints::spans(int node, const Vector3d& direction) const {
  std::vector<Vector3d> basis;
  for (const auto& g : given_[size_t(node)]) extend(basis, g.direction);
  return !extend(basis, direction);
}

/// Gathers what hinges hold: at each pair of nodes directions that no other hinge holds there, and that are not prescribed at
/// both nodes.
void Constraints::hinge(int step) {
  const auto& p = problem_;
  std::map<std::pair<int, int>, int> pairOf;
  for (size_t i = 0; i < p.hinges.size(); ++i) pairOf[{p.hinges[i].upper, p.hinges[i].lower}] = int(i);
  std::vector<std::vector<Vector3d>> held(p.hinges.size());
  std::vector<size_t> order;  // motions go before supports
  for (const bool supports : {false, true})
    for (size_t m = 0; m < p.motions.size(); ++m)
      if (const auto& motion = p.motions[m];
          motion.support == supports && !motion.opposite.empty() && motion.course.active[size_t(step)])
        order.push_back(m);
  for (const size_t m : order) {
    const auto& motion = p.motions[m];
    bool any = false;
    const auto take = [&](size_t i, const Vector3d& direction) {
      const int upper = motion.nodes[i], lower = motion.opposite[i], pair = pairOf.at({upper, lower});
      for (const int n : {upper, lower})
        for (const auto& c : p.carriers)
          if (c.rigid && std::find(c.nodes.begin(), c.nodes.end(), n) != c.nodes.end())
            throw Error("carrier '" + c.name + "' holds " + p.whereIs(n) + ", which '" + motion.name + "' hinges as well",
                        "step '" + p.steps[size_t(step)].name + "'", "Hold or move the carrier itself, or let it hold \"mean\".");
      if (spans(upper, direction) && spans(lower, direction)) return;
      any = true;
      auto& basis = held[size_t(pair)];
      if (extend(basis, direction))
        hinges_.push_back({int(m), upper, lower, direction, p.hinges[size_t(pair)].first + int(basis.size()) - 1});
      else if (!motion.support)
        throw Error(
            "two motions of hinged edges, '" + motion.name + "' and another, prescribe the same direction at " + p.whereIs(upper),
            "step '" + p.steps[size_t(step)].name + "'", "Let them act on different edges or in different steps.");
    };
    for (size_t i = 0; i < motion.nodes.size(); ++i) {
      if (!motion.turn) {
        take(i, motion.direction[i]);
        continue;
      }
      const Vector3d first = motion.axis.unitOrthogonal();
      take(i, first), take(i, motion.axis.cross(first));
    }
    if (!any) idle_.push_back(int(m));
  }
}

double Constraints::value(const Hinged& h, const Instant& time, const VectorXd& start) const {
  const auto& m = problem_.motions[size_t(h.motion)];
  const Vector3d was = (problem_.at(start, h.upper) + problem_.at(start, h.lower)) / 2;
  if (m.support) return h.direction.dot(was);
  const double change = time.change(m.course, begin_);
  if (!m.turn) return h.direction.dot(was) + change;
  const Vector3d X = (problem_.mesh.x[size_t(h.upper)] + problem_.mesh.x[size_t(h.lower)]) / 2, arm = X + was - m.about;
  return h.direction.dot(m.about + Eigen::AngleAxisd(change, m.axis) * arm - X);
}

/// A force or moment acts on this axis of a body in the step.
bool Constraints::loaded(int body, int axis, int step) const {
  for (const auto& l : problem_.loads) {
    if (l.body != body || !l.course.active[size_t(step)]) continue;
    const int dim = problem_.dim();
    if (!l.moment && axis < dim && l.direction[axis] != 0) return true;
    if (l.moment && axis >= dim && (dim == 2 || l.direction[axis - 3] != 0)) return true;
  }
  return false;
}

std::vector<Constraints::Held> Constraints::held(int node, const Vector3d& reaction) const {
  const auto& list = given_[size_t(node)];
  std::vector<Held> parts;
  if (list.empty()) return parts;
  Eigen::MatrixXd directions(3, Eigen::Index(list.size()));
  for (size_t k = 0; k < list.size(); ++k) directions.col(Eigen::Index(k)) = list[k].direction;
  const VectorXd along = leastSquares(directions, reaction);
  for (size_t k = 0; k < list.size(); ++k)
    if (list[k].motion >= 0) parts.push_back({list[k].motion, along[Eigen::Index(k)] * list[k].direction});
  return parts;
}

void Constraints::toLocal(VectorXd& v) const {
  const int dim = problem_.dim();
  for (int i = 0; i < int(frame_.size()); ++i)
    if (framed(i)) v.segment(dim * i, dim) = (frame(i).transpose() * v.segment(dim * i, dim)).eval();
}

void Constraints::toGlobal(VectorXd& v) const {
  const int dim = problem_.dim();
  for (int i = 0; i < int(frame_.size()); ++i)
    if (framed(i)) v.segment(dim * i, dim) = (frame(i) * v.segment(dim * i, dim)).eval();
}

/// Displacement along a prescribed direction. A support holds what it finds; a motion that begins in this step starts
/// from where the body is.
double Constraints::value(int motion, int node, const Vector3d& direction, const Instant& time, const VectorXd& start) const {
  const double was = direction.dot(problem_.at(start, node));
  if (motion < 0) return was;
  const auto& m = problem_.motions[size_t(motion)];
  if (m.support) return was;
  const double change = time.change(m.course, begin_);
  if (!m.turn) return was + change;
  const Vector3d X = problem_.mesh.x[size_t(node)], arm = X + problem_.at(start, node) - m.about;
  return direction.dot(m.about + Eigen::AngleAxisd(change, m.axis) * arm - X);
}

void Constraints::prescribe(const Instant& time, const VectorXd& start, VectorXd& u) const {
  const int dim = problem_.dim();
  for (int i = 0; i < problem_.nodeCount(); ++i) {
    const auto& list = given_[size_t(i)];
    if (list.empty()) continue;
    const auto k = Eigen::Index(list.size());
    if (!framed(i) && k < dim) {
      for (const auto& g : list) {
        const int axis = axisOf(g.direction);
        u[dim * i + axis] = value(g.motion, i, g.direction, time, start) * g.direction[axis];
      }
      continue;
    }
    // components along the node's first k axes from those along the given directions
    Eigen::MatrixXd A(k, k);
    VectorXd b(k);
    for (Eigen::Index r = 0; r < k; ++r) {
      const auto& g = list[size_t(r)];
      b[r] = value(g.motion, i, g.direction, time, start);
      for (Eigen::Index c = 0; c < k; ++c) {
        A(r, c) = framed(i) ? 0 : g.direction[c];
        for (int j = 0; framed(i) && j < dim; ++j) A(r, c) += g.direction[j] * frame(i)(j, c);
      }
    }
    u.segment(dim * i, k) = solveSquare(A, b);
  }
  for (size_t r = 0; r < rigidMotion_.size(); ++r) {
    const int body = int(r) / problem_.rigidSize(), axis = int(r) % problem_.rigidSize(), dof = problem_.rigidDof(body, axis);
    if (problem_.isNodeBody(body) && axis < dim) continue;
    if (equation_[size_t(dof)] >= 0) continue;
    const bool turned = rigidMotion_[r] >= 0 && problem_.motions[size_t(rigidMotion_[r])].anyAxis;
    if (!turned) u[dof] = start[dof];
    if (rigidMotion_[r] < 0) continue;
    const auto& m = problem_.motions[size_t(rigidMotion_[r])];
    if (m.support) continue;
    const double change = time.change(m.course, begin_);
    if (!m.anyAxis) {
      u[dof] += change;
      continue;
    }
    const int first = problem_.rigidDof(m.body, 3);
    if (dof == first)
      u.segment<3>(first) = contact::rotationVector(
          contact::rotationOf(change * m.axis) * contact::rotationOf(start.segment<3>(first)), u.segment<3>(first));
  }
}

}  // namespace anvil::analysis
