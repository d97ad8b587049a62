#include "core/contact/space_shared.hpp"

#include <Eigen/Geometry>

namespace anvil::contact {

const std::vector<std::array<double, 4>>& triangleRule(bool fine) {
  const auto make = [](std::initializer_list<std::array<double, 4>> orbits) {
    std::vector<std::array<double, 4>> r;
    for (const auto& o : orbits) {
      std::array<double, 3> b{o[0], o[1], o[2]};
      std::sort(b.begin(), b.end());
      do r.push_back({b[0], b[1], b[2], o[3]});
      while (std::next_permutation(b.begin(), b.end()));
    }
    return r;
  };
  static const auto six = make({{0.108103018168070, 0.445948490915965, 0.445948490915965, 0.223381589678011},
                                {0.816847572980459, 0.091576213509771, 0.091576213509771, 0.109951743655322}});
  static const auto twelve = make({{0.501426509658179, 0.249286745170910, 0.249286745170910, 0.116786275726379},
                                   {0.873821971016996, 0.063089014491502, 0.063089014491502, 0.050844906370207},
                                   {0.053145049844817, 0.310352451033784, 0.636502499121399, 0.082851075618374}});
  return fine ? twelve : six;
}

namespace {

bool isParallelogram(const SpaceFace& f) {
  if (f.nodes > f.corners) return false;
  return f.corners == 3 || (f.now[0] - f.now[1] + f.now[2] - f.now[3]).norm() < 1e-7 * (f.now[2] - f.now[0]).norm();
}

auto nodesOf(const SpaceFace& f) {
  return [&f](int a) { return Vec3<double>{{f.now[size_t(a)].x(), f.now[size_t(a)].y(), f.now[size_t(a)].z()}}; };
}

Plane<double> planeOf(const SpaceFace& slave) {
  Outline<double> corners;
  for (int i = 0; i < slave.corners; ++i) corners.push_back(nodesOf(slave)(i));
  return {slave, corners};
}

/// Of faces that look the same way none touches the other.
bool faceEachOther(const SpaceFace& slave, const SpaceFace& master) {
  return flatNormal(slave).normalized().dot(flatNormal(master).normalized()) <= -0.2;
}

/// Whether circles round the faces are apart as they are seen along the plane's normal.
bool areApart(const SpaceFace& slave, const SpaceFace& master) {
  const auto middleAndReach = [](const SpaceFace& f) {
    Point3 middle = Point3::Zero();
    for (size_t i = 0; i < size_t(f.corners); ++i) middle += f.now[i] / f.corners;
    double most = 0;
    for (size_t i = 0; i < size_t(f.nodes); ++i) most = std::max(most, (f.now[i] - middle).squaredNorm());
    return std::pair{middle, std::sqrt(most)};
  };
  const auto [one, reach] = middleAndReach(slave);
  const auto [other, reachOther] = middleAndReach(master);
  const Point3 way = other - one, n = flatNormal(slave);
  const double aside = way.squaredNorm() - way.dot(n) * way.dot(n) / n.squaredNorm(), both = (1 + 1e-6) * (reach + reachOther);
  return aside > both * both;
}

/// Whether a point behind the face has just gone through it; else it is of no concern.
bool hasGoneThrough(const SharedPoint& p, const Places& slaveBefore, const Places& masterBefore, double reach) {
  return (masterBefore.at(p.master.at).x - slaveBefore.at(p.slave.at).x).dot(p.normal) > -0.5 * reach;
}

}  // namespace

FlatOverlap::FlatOverlap(const SpaceFace& slave, const SpaceFace& master)
    : plane(planeOf(slave)),
      area(areaOf(projected(plane, outlineOf<double>(slave, nodesOf(slave)), false))),
      tolerance(1e-10 * std::sqrt(std::max(area, 0.))),
      overlap(overlapOn(plane, slave, nodesOf(slave), master, nodesOf(master), tolerance)),
      fine(!isParallelogram(slave) || !isParallelogram(master)) {}

std::optional<SharedPoint> sharedAt(const SpaceFace& slave, const Places& slaveNow, const SpaceFace& master,
                                    const Places& masterNow, const Plane<double>& plane, const Vec2<double>& y) {
  const auto foot = footOn(slave, slaveNow, plane, y);
  if (!foot) return {};
  const auto place = slaveNow.at(foot->at);
  const Point3 across = place.t1.cross(place.t2);
  const double size = across.norm();
  const Point3 normal = across / size;
  const auto met = footAlong(master, masterNow, place.x, normal);
  if (!met) return {};
  return SharedPoint{*foot, *met, place, size, normal};
}

FacePoints pointsShared(const SpaceFace& slave, const SpaceFace& master, double reach) {
  FacePoints shared;
  shared.reach = reach;
  if (!faceEachOther(slave, master) || areApart(slave, master)) return shared;
  const FlatOverlap flat(slave, master);
  if (!flat.overlaps()) return shared;
  const Places slaveNow(slave, slave.now), slaveBefore(slave, slave.before), masterNow(master, master.now),
      masterBefore(master, master.before);
  bool all = true;
  overEach(flat.overlap, flat.area, flat.fine, [&](const Vec2<double>& y, double size) {
    const auto p = sharedAt(slave, slaveNow, master, masterNow, flat.plane, y);
    const bool opposite = p && isOpposite(master, p->master.at, p->master.gap, reach);
    all &= opposite && p->master.gap >= -reach;
    if (!opposite) return;
    shared.closest = std::min(shared.closest, closestAt(slave, p->slave.at, master, p->master.at, p->master.gap));
    if (p->master.gap >= -reach || hasGoneThrough(*p, slaveBefore, masterBefore, reach))
      shared.leastGap = std::min(shared.leastGap, p->master.gap);
    if (p->master.gap < -reach) return;
    const double weight = size / p->normal.dot(plain(flat.plane.normal));
    shared.points.push_back({p->slave.at, p->master.at, weight / p->size});
  });
  if (all) shared.covered = areaOf(flat.overlap) / flat.area;
  return shared;
}

}  // namespace anvil::contact
