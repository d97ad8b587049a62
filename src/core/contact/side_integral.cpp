#include "core/contact/side_integral.hpp"

#include <algorithm>
#include <optional>

namespace anvil::contact {
namespace {

using OfMaster = std::optional<Image>;  // as its nodes are seen

Point3 place(const Configuration& c, int node, bool old, const OfMaster& image) {
  const Point3 x = c.place(node, old);
  return image ? (*image)(x) : x;
}

LocalNode local(const Configuration& c, int node, const OfMaster& image = {}) {
  return {place(c, node, false, image).head<2>(), place(c, node, true, image).head<2>()};
}

/// Derivatives and forces that were found at the image of the master's nodes, from dof `first` on, for the nodes themselves:
/// y = a + Q (x - a) has the slope Q.
void turnBack(SideIntegral& out, int first, int dim, const Eigen::Matrix3d& turn) {
  const Eigen::MatrixXd Q = turn.topLeftCorner(dim, dim);
  for (auto i = Eigen::Index(first); i < Eigen::Index(out.dofs.size()); i += dim) {
    for (auto* m : {&out.dKappa, &out.dGap, &out.normal, &out.dSlip, &out.tangential})
      if (m->rows() > i) m->middleRows(i, dim) = (Q.transpose() * m->middleRows(i, dim)).eval();
    out.force.segment(i, dim) = (Q.transpose() * out.force.segment(i, dim)).eval();
    if (out.stiffness.size() == 0) continue;
    out.stiffness.middleRows(i, dim) = (Q.transpose() * out.stiffness.middleRows(i, dim)).eval();
    out.stiffness.middleCols(i, dim) = (out.stiffness.middleCols(i, dim) * Q).eval();
  }
}

SlavePatch slavePatch(const Configuration& c, const Side& s) {
  SlavePatch p;
  p.quadratic = s.quadratic();
  p.hasBefore = s.before >= 0, p.hasAfter = s.after >= 0;
  p.node[1] = local(c, s.node[0]), p.node[2] = local(c, s.node[1]);
  p.node[3] = p.quadratic ? local(c, s.node[2]) : p.node[1];
  p.node[0] = p.hasBefore ? local(c, s.before) : p.node[1];
  p.node[4] = p.hasAfter ? local(c, s.after) : p.node[2];
  return p;
}

SpaceFace spaceFace(const Configuration& c, const Side& s, const OfMaster& image = {}) {
  SpaceFace f;
  f.corners = s.corners, f.nodes = s.nodes, f.sag = s.sag;
  for (size_t i = 0; i < size_t(s.nodes); ++i)
    f.now[i] = place(c, s.node[i], false, image), f.before[i] = place(c, s.node[i], true, image);
  return f;
}

void integratePlane(const SideContext& context, size_t side, int facing, SideIntegral& out) {
  const auto& setup = context.setup;
  const auto& c = context.place;
  const auto& g = setup.slave.sides[side];
  const auto patch = slavePatch(c, g);
  std::array<double, 2> ln, lt;
  for (size_t a = 0; a < 2; ++a) {
    const auto& state = context.state(g.corner[a]);
    ln[a] = state.pressure, lt[a] = state.friction.x();
  }
  std::vector<int> dofs(maxDofs, -1);
  const auto put = [&](int node, size_t at) {
    if (node >= 0) dofs[at] = 2 * node, dofs[at + 1] = 2 * node + 1;
  };
  SegmentIntegral q;
  const int mid = g.quadratic() ? g.node[2] : -1;
  put(g.before, 0), put(g.node[0], 2), put(g.node[1], 4), put(mid, 6), put(g.after, 8);
  if (facing < 0) {
    q.clear(13);
    const RigidPlace place{c.rigidPlace(setup.rigid, false), c.rigidPlace(setup.rigid, true)};
    integrateRigid(patch, rigidOf(setup, *c.rigid), place, ln, lt, setup.reach, c.depth, q);
    for (int i = 0; i < 3; ++i) dofs[size_t(10 + i)] = c.rigidDof(setup.rigid) + i;
  } else {
    const auto& o = setup.master.sides[size_t(facing)];
    MasterPatch master;
    master.quadratic = o.quadratic();
    master.node[0] = local(c, o.node[0], setup.image), master.node[1] = local(c, o.node[1], setup.image);
    master.node[2] = master.quadratic ? local(c, o.node[2], setup.image) : master.node[0];
    q.clear(maxDofs);
    integrateFacing(patch, master, ln, lt, setup.reach, c.depth, q);
    put(o.node[0], 10), put(o.node[1], 12), put(master.quadratic ? o.node[2] : -1, 14);
  }
  out.leastGap = q.leastGap;
  for (size_t a = 0; a < 2; ++a)
    out.lookedOver[a] = facing < 0 ? q.lookedOver[a] : q.kappa[a], out.distance[a] = facing < 0 ? q.distance[a] : q.gap[a];
  if (!q.touched) return;
  out.touched = true;
  std::vector<int> used;
  for (int i = 0; i < q.dofs; ++i)
    if (dofs[size_t(i)] >= 0) used.push_back(i), out.dofs.push_back(dofs[size_t(i)]);
  const auto n = Eigen::Index(used.size());
  for (auto* m : {&out.dKappa, &out.dGap, &out.normal, &out.dSlip, &out.tangential}) m->resize(n, 2);
  out.force.resize(n), out.stiffness.resize(n, n);
  for (size_t a = 0; a < 2; ++a) {
    for (size_t b = 0; b < 2; ++b) out.mass(int(a), int(b)) = q.mass[a][b], out.onMaster(int(a), int(b)) = q.onMaster[a][b];
    out.area[int(a)] = q.area[a];
    out.kappa[a] = q.kappa[a], out.gap[a] = q.gap[a], out.slip[a] = {q.slip[a], 0, 0};
    for (Eigen::Index i = 0; i < n; ++i) {
      const int k = used[size_t(i)];
      const auto A = Eigen::Index(a);
      out.dKappa(i, A) = q.dKappa[a][k], out.dGap(i, A) = q.dGap[a][k], out.dSlip(i, A) = q.dSlip[a][k];
      out.normal(i, A) = q.normal[a][k], out.tangential(i, A) = q.tangential[a][k];
    }
  }
  for (Eigen::Index i = 0; i < n; ++i) {
    out.force[i] = q.force[used[size_t(i)]];
    for (Eigen::Index j = 0; j < n; ++j) out.stiffness(i, j) = q.stiffness(used[size_t(i)], used[size_t(j)]);
  }
  if (setup.image && facing >= 0) {
    const auto master = std::find_if(used.begin(), used.end(), [](int k) { return k >= 10; }) - used.begin();
    turnBack(out, int(master), 2, setup.image->turn);
  }
}

/// Against the rigid body, or what the side meets.
void integrateSpace(const SideContext& context, size_t side, const Meeting* meeting, Follow follow, Wanted wanted,
                    SideIntegral& out) {
  const auto& setup = context.setup;
  const auto& c = context.place;
  const auto& g = setup.slave.sides[side];
  const auto slave = spaceFace(c, g);
  std::array<CornerTraction, 4> traction;
  for (size_t a = 0; a < size_t(g.corners); ++a) {
    const auto& state = context.state(g.corner[a]);
    traction[a] = {state.pressure, state.friction};
  }
  FaceIntegral q;
  const auto put = [&](const Side& s) {
    for (size_t i = 0; i < size_t(s.nodes); ++i)
      for (int k = 0; k < 3; ++k) out.dofs.push_back(3 * s.node[i] + k);
  };
  constexpr std::array depends{Depend::distance, Depend::forces, Depend::rows, Depend::slopes};
  const auto depend = depends[size_t(wanted)];
  bool near;
  if (!meeting) {
    SpacePlace place;
    place.now = c.rigidPlace(setup.rigid, false), place.before = c.rigidPlace(setup.rigid, true);
    near = integrateFaceRigid(slave, rigidOf(setup, *c.rigid), place, traction, setup.reach, context.friction, q,
                              std::max(depend, Depend::forces));
  } else {
    const auto master = spaceFace(c, setup.master.sides[size_t(meeting->facing)], setup.image);
    near = integratePoints(slave, master, meeting->points, follow, traction, context.friction, q, depend);
  }
  if (!near) return;
  out.leastGap = q.leastGap, out.closest = q.closest;
  out.corners = q.corners, out.lookedOver = q.lookedOver, out.distance = q.distance;
  if (!q.touched) return;
  out.mass = q.mass, out.onMaster = q.onMaster, out.area = q.area;
  out.touched = true, out.kappa = q.kappa, out.gap = q.gap, out.slip = q.slip;
  if (q.dofs == 0 || wanted == Wanted::distance) return;
  put(g);
  if (!meeting)
    for (int i = 0; i < 6; ++i) out.dofs.push_back(c.rigidDof(setup.rigid) + i);
  else
    put(setup.master.sides[size_t(meeting->facing)]);
  out.dKappa = std::move(q.dKappa), out.dGap = std::move(q.dGap), out.normal = std::move(q.normal);
  out.dSlip = std::move(q.dSlip), out.tangential = std::move(q.tangential);
  out.force = std::move(q.force), out.stiffness = std::move(q.stiffness);
  if (setup.image && meeting) turnBack(out, 3 * g.nodes, 3, setup.image->turn);
}

}  // namespace

SideIntegral integrateSide(const SideContext& context, size_t side, int facing, Wanted wanted) {
  SideIntegral out;
  if (context.place.dim == 2)
    integratePlane(context, side, facing, out);
  else
    integrateSpace(context, side, nullptr, Follow::anew, wanted, out);
  return out;
}

SideIntegral integrateMeeting(const SideContext& context, size_t side, const Meeting& meeting, Follow follow, Wanted wanted) {
  SideIntegral out;
  integrateSpace(context, side, &meeting, follow, wanted, out);
  return out;
}

FacePoints pointsShared(const SideContext& context, size_t side, int facing, bool atStart) {
  const auto& setup = context.setup;
  auto slave = spaceFace(context.place, setup.slave.sides[side]);
  auto master = spaceFace(context.place, setup.master.sides[size_t(facing)], setup.image);
  if (atStart) slave.now = slave.before, master.now = master.before;
  return pointsShared(slave, master, setup.reach);
}

}  // namespace anvil::contact
