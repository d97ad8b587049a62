// Deformable against deformable, in space: over the clipped overlap of two faces.
#include <Eigen/Geometry>
#include <Eigen/LU>
#include <optional>

#include "core/contact/overlap.hpp"
#include "core/contact/space_touch.hpp"

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

/// Height of the true surface over a face with straight edges.
double risen(const SpaceFace& f, const Eigen::Vector2d& at) {
  if (f.corners == 4) return f.sag[0] * (1 - at.x() * at.x()) + f.sag[1] * (1 - at.y() * at.y());
  const double L0 = 1 - at.x() - at.y(), L1 = at.x(), L2 = at.y();
  return 4 * (f.sag[0] * L0 * L1 + f.sag[1] * L1 * L2 + f.sag[2] * L2 * L0);
}

/// A point of one face, and the inverse of the equations by which it was found.
template <int N>
struct Foot {
  Eigen::Vector2d at;
  Eigen::Matrix<double, N, N> inverse;
};

/// The point of the slave whose projection along the plane's normal is y.
std::optional<Foot<2>> footOn(const SpaceFace& slave, const Plane<double>& plane, const Vec2<double>& y) {
  const Point3 o = plain(plane.origin), e1 = plain(plane.e1), e2 = plain(plane.e2);
  Eigen::Vector2d xi = middleOf(slave);
  Eigen::Matrix2d J;
  for (int it = 0;; ++it) {
    const auto s = element::faceShape(slave.corners, slave.nodes > slave.corners, xi);
    const Point3 x = sum(slave, s.N, slave.now) - o, t1 = sum(slave, s.d1, slave.now), t2 = sum(slave, s.d2, slave.now);
    J << e1.dot(t1), e1.dot(t2), e2.dot(t1), e2.dot(t2);
    const Eigen::Vector2d step = J.inverse() * Eigen::Vector2d(e1.dot(x) - y.x, e2.dot(x) - y.y);
    xi -= step;
    if (step.norm() < 1e-13) return Foot<2>{xi, J.inverse()};
    if (it > 25 || !(xi.norm() < 10)) return {};
  }
}

/// The point of the master that the line from xs along n meets, and how far it is.
std::optional<std::pair<Foot<3>, double>> footAlong(const SpaceFace& master, const Point3& xs, const Point3& n) {
  Eigen::Vector2d eta = middleOf(master);
  double gap = 0;
  Eigen::Matrix3d K;
  for (int it = 0;; ++it) {
    const auto m = element::faceShape(master.corners, master.nodes > master.corners, eta);
    K << sum(master, m.d1, master.now), sum(master, m.d2, master.now), -n;
    const Point3 step = K.inverse() * (sum(master, m.N, master.now) - xs - gap * n);
    eta -= step.head<2>(), gap -= step[2];
    if (step.head<2>().norm() < 1e-13) return std::pair{Foot<3>{eta, K.inverse()}, gap};
    if (it > 25 || !(eta.norm() < 10)) return {};
  }
}

/// Projection along the slave's normal may fall a little beside a face that its plane's overlap lies in.
bool within(const SpaceFace& master, const Eigen::Vector2d& eta, double beside) {
  if (master.corners == 4) return eta.cwiseAbs().maxCoeff() < 1 + beside;
  return eta.minCoeff() > -beside && eta.sum() < 1 + beside;
}

/// What two faces have in common on the slave's plane.
template <class T, class Node, class Other>
Polygon<T> overlapOn(const Plane<T>& plane, const SpaceFace& slave, const Node& slaveNode, const SpaceFace& master,
                     const Other& masterNode, double tolerance) {
  return clipped(projected(plane, outlineOf<T>(slave, slaveNode), false),
                 projected(plane, outlineOf<T>(master, masterNode), true), tolerance);
}

/// Points of an overlap, triangle by triangle: f(y, weight).
template <class T, class Each>
void overEach(const Polygon<T>& overlap, double area, bool fine, const Each& each) {
  for (size_t i = 1; i + 1 < overlap.size(); ++i) {
    const auto& a = overlap[0];
    const auto& b = overlap[i];
    const auto& c = overlap[i + 1];
    const T twice = (b.x - a.x) * (c.y - a.y) - (c.x - a.x) * (b.y - a.y);
    if (std::abs(plain(twice)) < 1e-12 * area) continue;
    for (const auto& p : triangleRule(fine))
      each(Vec2<T>{T(p[0] * a.x + p[1] * b.x + p[2] * c.x), T(p[0] * a.y + p[1] * b.y + p[2] * c.y)}, T(0.5 * p[3] * twice));
  }
}

/// The plane of a slave face and what the master's covers of it, in plain numbers.
struct Rough {
  static auto nodesOf(const SpaceFace& f) {
    return [&f](int a) { return Vec3<double>{{f.now[size_t(a)].x(), f.now[size_t(a)].y(), f.now[size_t(a)].z()}}; };
  }
  static Plane<double> planeOf(const SpaceFace& slave) {
    std::vector<Vec3<double>> corners;
    for (int i = 0; i < slave.corners; ++i) corners.push_back(nodesOf(slave)(i));
    return {slave, corners};
  }
  Plane<double> plane;
  double area, tolerance;  ///< of the slave's outline; of what is clipped
  Polygon<double> overlap;
  bool fine;  ///< whether its triangles need the finer rule
  Rough(const SpaceFace& slave, const SpaceFace& master)
      : plane(planeOf(slave)),
        area(areaOf(projected(plane, outlineOf<double>(slave, nodesOf(slave)), false))),
        tolerance(1e-10 * std::sqrt(std::max(area, 0.))),
        overlap(overlapOn(plane, slave, nodesOf(slave), master, nodesOf(master), tolerance)),
        fine(!isParallelogram(slave) || !isParallelogram(master)) {}
  bool overlaps() const { return areaOf(overlap) > 1e-9 * area; }
};

/// Whether a point counts that is so far off, and on the master. Notes how close the true surfaces come, and points that have
/// just gone through.
bool counts(const SpaceFace& slave, const Eigen::Vector2d& xi, const SpaceFace& master, const Eigen::Vector2d& eta, double gap,
            const Point3& normal, double reach, FaceIntegral& out) {
  if (gap > reach || !within(master, eta, 0.3)) return false;
  if (within(master, eta, 0.05)) out.closest = std::min(out.closest, gap - risen(slave, xi) - risen(master, eta));
  if (gap >= -reach) return true;
  // behind the face: of no concern, unless it has just gone through
  const auto before = [](const SpaceFace& f, const Eigen::Vector2d& at) {
    return sum(f, element::faceShape(f.corners, f.nodes > f.corners, at).N, f.before);
  };
  if ((before(master, eta) - before(slave, xi)).dot(normal) > -0.5 * reach) out.leastGap = std::min(out.leastGap, gap);
  return false;
}

/// What a point puts on the master's corners.
void addMaster(const SpaceFace& slave, const SpaceFace& master, const Eigen::Vector2d& eta, double weight,
               const std::array<double, 4>& multiplier, FaceIntegral& out) {
  const auto corner = element::faceShape(master.corners, false, eta).N;
  for (int b = 0; b < master.corners; ++b) {
    const double w = corner[size_t(b)] * weight;
    out.area[b] += w;
    for (int a = 0; a < slave.corners; ++a) out.onMaster(b, a) += w * multiplier[size_t(a)];
  }
}

template <int N>
class Facing {
  using D = Dual<N>;

 public:
  Facing(const SpaceFace& slave, const SpaceFace& master, const std::array<CornerTraction, 4>& traction, double reach,
         bool friction, FaceIntegral& out)
      : slave_(slave),
        master_(master),
        S_{slave, 0},
        M_{master, 3 * slave.nodes},
        traction_(traction),
        reach_(reach),
        friction_(friction),
        out_(out) {}

  bool run() {
    const Rough rough(slave_, master_);
    if (!rough.overlaps()) return false;
    rough_ = &rough.plane;
    std::vector<Vec3<D>> dualCorners;
    for (int i = 0; i < slave_.corners; ++i) dualCorners.push_back(S_.node(i));
    const Plane<D> plane(slave_, dualCorners);
    clear(out_, slave_, 3 * (slave_.nodes + master_.nodes), friction_);
    const auto overlap = overlapOn(
        plane, slave_, [&](int a) { return S_.node(a); }, master_, [&](int a) { return M_.node(a); }, rough.tolerance);
    overEach(overlap, rough.area, rough.fine, [&](const Vec2<D>& y, const D& weight) { point(plane, y, weight); });
    out_.stiffness.transposeInPlace();
    return out_.touched || out_.leastGap < 1e300;
  }

 private:
  void point(const Plane<D>& plane, const Vec2<D>& y, const D& flatWeight) {
    const auto foot = footOn(slave_, *rough_, {y.x.value(), y.y.value()});
    if (!foot) return;
    const Eigen::Vector2d& xi = foot->at;
    const Eigen::Matrix2d& inverse = foot->inverse;
    const auto s = shapeAt(slave_, xi);
    const Vec3<D> fixed = S_.blend(s.at.N, {}, {}, nullptr);
    const Vec2<D> at = plane(fixed);
    const D rx = at.x - y.x, ry = at.y - y.y;
    Vec2<D> dxi{D(xi.x() - inverse(0, 0) * (rx - rx.value()) - inverse(0, 1) * (ry - ry.value())),
                D(xi.y() - inverse(1, 0) * (rx - rx.value()) - inverse(1, 1) * (ry - ry.value()))};
    const Vec3<D> x = S_.blend(s.at.N, s.at.d1, s.at.d2, &dxi);
    Touch<N> q;
    q.friction = friction_;
    q.normal = unit(cross(S_.blend(s.at.d1, s.d11, s.d12, &dxi), S_.blend(s.at.d2, s.d12, s.d22, &dxi)));
    q.weight = flatWeight / dot(q.normal, plane.normal);

    const auto met = footAlong(master_, plain(x), plain(q.normal));
    if (!met) return;
    const Eigen::Vector2d& eta = met->first.at;
    const double gap = met->second;
    if (!counts(slave_, xi, master_, eta, gap, plain(q.normal), reach_, out_)) return;
    const auto m = shapeAt(master_, eta);
    const Vec3<D> opposite = M_.blend(m.at.N, {}, {}, nullptr);
    Vec3<D> r;
    for (int k = 0; k < 3; ++k) r[k] = opposite[k] - x[k] - gap * q.normal[k];
    const Eigen::Matrix3d& Ki = met->first.inverse;
    Vec2<D> deta{constant(eta.x()), constant(eta.y())};
    q.gap = constant(gap);
    for (int k = 0; k < 3; ++k) {
      deta.x.derivatives() -= Ki(0, k) * r[k].derivatives(), deta.y.derivatives() -= Ki(1, k) * r[k].derivatives();
      q.gap.derivatives() -= Ki(2, k) * r[k].derivatives();
    }
    q.multiplier = multipliers<N>(slave_, xi, &dxi);
    if (friction_) {  // the touching points' places at the start of the increment, as they move over the faces
      const Point3 then = sum(slave_, s.at.N, slave_.before) - sum(master_, m.at.N, master_.before);
      const Point3 s1 = sum(slave_, s.at.d1, slave_.before), s2 = sum(slave_, s.at.d2, slave_.before);
      const Point3 m1 = sum(master_, m.at.d1, master_.before), m2 = sum(master_, m.at.d2, master_.before);
      const Vec3<D> y2 = M_.blend(m.at.N, m.at.d1, m.at.d2, &deta);
      for (int k = 0; k < 3; ++k) {
        q.moved[k] = x[k] - y2[k] - then[k];
        q.moved[k].derivatives() -= s1[k] * dxi.x.derivatives() + s2[k] * dxi.y.derivatives() - m1[k] * deta.x.derivatives() -
                                    m2[k] * deta.y.derivatives();
      }
    }
    struct Rows {
      NodeRows<N> slave, master;
      void addForce(const Vec3<D>& f, FaceIntegral& o) const { slave.addForce(f, o), master.addForce(f, o); }
      void addUnit(const Point3& f, Eigen::MatrixXd::ColXpr c) const { slave.addUnit(f, c), master.addUnit(f, c); }
    } const rows{{slave_, s, &dxi, 0, 1}, {master_, m, &deta, 3 * slave_.nodes, -1}};
    std::array<double, 4> multiplier{};
    for (size_t a = 0; a < 4; ++a) multiplier[a] = plain(q.multiplier[a]);
    addMaster(slave_, master_, eta, plain(q.weight), multiplier, out_);
    q.add(slave_, traction_, rows, out_);
  }

  static D constant(double v) { return D(v, Eigen::Matrix<double, N, 1>::Zero()); }

  const SpaceFace &slave_, &master_;
  DualFace<N> S_, M_;
  const std::array<CornerTraction, 4>& traction_;
  double reach_;
  bool friction_;
  FaceIntegral& out_;
  const Plane<double>* rough_ = nullptr;  // the slave's plane in plain numbers
};

/// Of faces that look the same way none touches the other.
bool faceEachOther(const SpaceFace& slave, const SpaceFace& master) {
  return flatNormal(slave).normalized().dot(flatNormal(master).normalized()) <= -0.2;
}

}  // namespace

bool lookAtFaces(const SpaceFace& slave, const SpaceFace& master, double reach, FaceIntegral& out) {
  if (!faceEachOther(slave, master)) return false;
  const Rough rough(slave, master);
  if (!rough.overlaps()) return false;
  out = {};
  out.corners = slave.corners;
  for (auto& s : out.slip) s.setZero();
  const Point3 across = plain(rough.plane.normal);
  overEach(rough.overlap, rough.area, rough.fine, [&](const Vec2<double>& y, double flatWeight) {
    const auto foot = footOn(slave, rough.plane, y);
    if (!foot) return;
    const auto s = element::faceShape(slave.corners, slave.nodes > slave.corners, foot->at);
    const Point3 normal = sum(slave, s.d1, slave.now).cross(sum(slave, s.d2, slave.now)).normalized();
    const auto met = footAlong(master, sum(slave, s.N, slave.now), normal);
    if (!met || !counts(slave, foot->at, master, met->first.at, met->second, normal, reach, out)) return;
    const double weight = flatWeight / normal.dot(across), gap = met->second;
    const auto shape = element::faceShape(slave.corners, false, foot->at).N;
    std::array<double, 4> multiplier{};
    for (size_t a = 0; a < size_t(slave.corners); ++a) {
      multiplier[a] = shape[a];
      out.kappa[a] += multiplier[a] * weight, out.gap[a] += multiplier[a] * weight * gap;
      for (int b = 0; b < slave.corners; ++b) out.mass(int(a), b) += multiplier[a] * weight * shape[size_t(b)];
    }
    addMaster(slave, master, met->first.at, weight, multiplier, out);
    out.touched = true, out.leastGap = std::min(out.leastGap, gap);
  });
  out.lookedOver = out.kappa, out.distance = out.gap;
  return out.touched || out.leastGap < 1e300;
}

bool integrateFaces(const SpaceFace& slave, const SpaceFace& master, const std::array<CornerTraction, 4>& traction, double reach,
                    bool friction, FaceIntegral& out) {
  if (!faceEachOther(slave, master)) return false;
  const int dofs = 3 * (slave.nodes + master.nodes);
  if (dofs <= 24) return Facing<24>(slave, master, traction, reach, friction, out).run();
  if (dofs <= 36) return Facing<36>(slave, master, traction, reach, friction, out).run();
  return Facing<48>(slave, master, traction, reach, friction, out).run();
}

}  // namespace anvil::contact
