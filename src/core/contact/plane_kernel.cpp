#include "core/contact/plane_kernel.hpp"

#include <cmath>
#include <numbers>
#include <unsupported/Eigen/AutoDiff>

namespace anvil::contact {
namespace {

using Dual = Eigen::AutoDiffScalar<LocalVector>;
using Vec = Eigen::Matrix<Dual, 2, 1>;

Dual constant(double v) { return Dual(v, LocalVector::Zero()); }
Vec constant(const Point2& v) { return {constant(v.x()), constant(v.y())}; }
Vec variable(const Point2& v, int dof) { return {Dual(v.x(), maxDofs, dof), Dual(v.y(), maxDofs, dof + 1)}; }
Point2 valueOf(const Vec& v) { return {v.x().value(), v.y().value()}; }

template <class T>
T cross(const Eigen::Matrix<T, 2, 1>& a, const Eigen::Matrix<T, 2, 1>& b) {
  return T(a.x() * b.y() - a.y() * b.x());
}
template <class T>
T dot(const Eigen::Matrix<T, 2, 1>& a, const Eigen::Matrix<T, 2, 1>& b) {
  return T(a.x() * b.x() + a.y() * b.y());
}
template <class T>
Eigen::Matrix<T, 2, 1> unit(const Eigen::Matrix<T, 2, 1>& a) {
  using std::sqrt;
  const T length = sqrt(T(a.x() * a.x() + a.y() * a.y()));
  return {T(a.x() / length), T(a.y() / length)};
}
template <class T>
Eigen::Matrix<T, 2, 1> scaled(const Eigen::Matrix<T, 2, 1>& a, const T& s) {
  return {T(a.x() * s), T(a.y() * s)};
}
/// Normal to the right of a tangent: outward, for a body on the left.
template <class T>
Eigen::Matrix<T, 2, 1> right(const Eigen::Matrix<T, 2, 1>& t) {
  return {t.y(), T(-t.x())};
}

/// 1D shape functions of 2- and 3-node edges (ends, then middle) on [-1, 1].
template <class T>
std::array<T, 3> edgeShape(bool quadratic, const T& s) {
  if (!quadratic) return {T((1. - s) * 0.5), T((1. + s) * 0.5), T(s * 0.)};
  return {T(s * (s - 1.) * 0.5), T(s * (s + 1.) * 0.5), T(1. - s * s)};
}
template <class T>
std::array<T, 3> edgeSlope(bool quadratic, const T& s) {
  if (!quadratic) return {T(s * 0. - 0.5), T(s * 0. + 0.5), T(s * 0.)};
  return {T(s - 0.5), T(s + 0.5), T(s * -2.)};
}
template <class T>
Eigen::Matrix<T, 2, 1> blend(const std::array<T, 3>& n, const std::array<Eigen::Matrix<T, 2, 1>, 3>& x, bool quadratic) {
  Eigen::Matrix<T, 2, 1> r{T(n[0] * x[0].x() + n[1] * x[1].x()), T(n[0] * x[0].y() + n[1] * x[1].y())};
  if (quadratic) r = Eigen::Matrix<T, 2, 1>{T(r.x() + n[2] * x[2].x()), T(r.y() + n[2] * x[2].y())};
  return r;
}

/// An edge with its places and normals, in plain or dual numbers.
template <class T>
struct Edge {
  bool quadratic = false;
  std::array<Eigen::Matrix<T, 2, 1>, 3> x, n;
  Eigen::Matrix<T, 2, 1> at(const T& s) const { return blend(edgeShape(quadratic, s), x, quadratic); }
  Eigen::Matrix<T, 2, 1> slope(const T& s) const { return blend(edgeSlope(quadratic, s), x, quadratic); }
  Eigen::Matrix<T, 2, 1> normal(const T& s) const { return unit(blend(edgeShape(quadratic, s), n, quadratic)); }
};

template <class T>
void smoothNormals(Edge<T>& e, const Eigen::Matrix<T, 2, 1>& before, const Eigen::Matrix<T, 2, 1>& after, bool hasBefore,
                   bool hasAfter) {
  using V = Eigen::Matrix<T, 2, 1>;
  const V fromA = unit(V((e.quadratic ? e.x[2] : e.x[1]) - e.x[0])), intoB = unit(V(e.x[1] - (e.quadratic ? e.x[2] : e.x[0])));
  e.n[0] = right(hasBefore ? unit(V(fromA + unit(V(e.x[0] - before)))) : fromA);
  e.n[1] = right(hasAfter ? unit(V(intoB + unit(V(after - e.x[1])))) : intoB);
  e.n[2] = e.quadratic ? right(unit(V(e.x[1] - e.x[0]))) : V(e.n[0]);
}

/// Parameter on `edge` where its normal line passes through y; false when Newton's method does not settle.
bool projectAlongOwnNormal(const Edge<double>& edge, const Point2& y, double& s) {
  s = 0;
  for (int i = 0; i < 25; ++i) {
    const auto f = [&](double at) { return cross<double>(y - edge.at(at), edge.normal(at)); };
    const double h = 1e-6, value = f(s), slope = (f(s + h) - f(s - h)) / (2 * h);
    if (std::abs(slope) < 1e-300) return false;
    double step = value / slope;
    step = std::clamp(step, -1., 1.);
    s -= step;
    if (std::abs(s) > 4) return true;  // far outside: only the side matters
    if (std::abs(step) < 1e-13) return true;
  }
  return std::abs(s) > 1.5;
}

/// Parameter on `edge` where the line from x along n meets it.
bool projectAlong(const Edge<double>& edge, const Point2& x, const Point2& n, double& s) {
  s = 0;
  for (int i = 0; i < 25; ++i) {
    const double value = cross<double>(edge.at(s) - x, n), slope = cross<double>(edge.slope(s), n);
    if (std::abs(slope) < 1e-300) return false;
    const double step = std::clamp(value / slope, -1., 1.);
    s -= step;
    if (std::abs(s) > 4) return false;
    if (std::abs(step) < 1e-14) return true;
  }
  return std::abs(s) < 1.2;
}

struct GaussRule {
  int n;
  const double *x, *w;
};
GaussRule gauss(int n) {
  static const double x3[] = {-0.7745966692414834, 0, 0.7745966692414834}, w3[] = {5. / 9, 8. / 9, 5. / 9};
  static const double x6[] = {-0.9324695142031521, -0.6612093864662645, -0.2386191860831969,
                              0.2386191860831969,  0.6612093864662645,  0.9324695142031521};
  static const double w6[] = {0.1713244923791704, 0.3607615730481386, 0.4679139345726910,
                              0.4679139345726910, 0.3607615730481386, 0.1713244923791704};
  return n == 3 ? GaussRule{3, x3, w3} : GaussRule{6, x6, w6};
}

/// A pair of touching points with all that is integrated over it.
struct PointPair {
  Dual weight, gap, slip;
  Vec normal;                       ///< out of the slave
  std::array<Dual, 2> lambdaShape;  ///< N_A
  std::array<Dual, maxDofs> arm;    ///< d(x_s - x_m)/d(dof): factor of each dof's own direction
  Vec offset;                       ///< rigid: contact point minus reference, for the moment
};

/// Adds a point: weighted gap and slip, forces along n and τ, and their derivatives. `push` maps (direction) to local
/// residual entries: push(i, f, direction) gives the residual of dof i per unit traction along `direction`.
template <class Push>
void addPoint(const PointPair& q, const std::array<double, 2>& ln, const std::array<double, 2>& lt, int dofs, const Push& push,
              SegmentIntegral& out) {
  const Vec tangent{Dual(-q.normal.y()), q.normal.x()};
  std::array<Dual, maxDofs> alongNormal, alongTangent;
  push(q.normal, alongNormal);
  push(tangent, alongTangent);
  Dual p = constant(0), t = constant(0);
  for (int a = 0; a < 2; ++a) {
    const Dual w = q.lambdaShape[size_t(a)] * q.weight;
    const Dual wg = w * q.gap, ws = w * q.slip;
    const size_t A = size_t(a);
    out.kappa[A] += w.value(), out.dKappa[A] += w.derivatives();
    out.gap[A] += wg.value(), out.dGap[A] += wg.derivatives();
    out.slip[A] += ws.value(), out.dSlip[A] += ws.derivatives();
    for (size_t B = 0; B < 2; ++B) out.mass[A][B] += w.value() * q.lambdaShape[B].value();
    for (int i = 0; i < dofs; ++i) {
      out.normal[A][i] += w.value() * alongNormal[size_t(i)].value();
      out.tangential[A][i] += w.value() * alongTangent[size_t(i)].value();
    }
    p += w * ln[A];
    t += w * lt[A];
  }
  for (int i = 0; i < dofs; ++i) {
    const Dual f = p * alongNormal[size_t(i)] + t * alongTangent[size_t(i)];
    out.force[i] += f.value();
    out.stiffness.row(i) += f.derivatives().transpose();
  }
  out.touched = true;
  out.leastGap = std::min(out.leastGap, q.gap.value());
}

Dual areaFactor(const Depth& m, const Vec& x) {
  return m.axisymmetric ? Dual(x.x() * (2 * std::numbers::pi)) : constant(m.thickness);
}

/// Gap between a point and the nearest feature of a rigid outline, and the unit normal away from its material, in its own frame.
Dual gapTo(const Feature& f, const Vec& own, Vec& away) {
  if (f.kind == Feature::Kind::line) {
    away = constant(f.normal);
    return dot<Dual>(Vec(own - constant(f.point)), away);
  }
  const Vec radial = own - constant(f.point);
  const Dual distance = sqrt(Dual(radial.x() * radial.x() + radial.y() * radial.y()));
  const double sign = f.kind == Feature::Kind::arc ? f.sign : 1;
  away = scaled<Dual>(radial, Dual(sign / distance));
  return Dual((distance - f.radius) * sign);
}

/// Parts of [-1, 1] where a distance is below a limit.
template <class Distance>
std::vector<std::pair<double, double>> nearSpans(const Distance& distance, double limit) {
  constexpr int samples = 24;
  std::vector<std::pair<double, double>> spans;
  const auto crossing = [&](double inside, double outside) {
    for (int i = 0; i < 40; ++i) {
      const double m = (inside + outside) / 2;
      (distance(m) < limit ? inside : outside) = m;
    }
    return (inside + outside) / 2;
  };
  double before = -1, from = -1;
  bool was = distance(-1) < limit;
  for (int i = 1; i <= samples; ++i) {
    const double at = -1 + 2. * i / samples;
    const bool is = distance(at) < limit;
    if (is && !was) from = crossing(at, before);
    if (was && !is) spans.emplace_back(from, crossing(before, at));
    if (is && i == samples) spans.emplace_back(from, 1);
    before = at, was = is;
  }
  return spans;
}

Edge<double> plainEdge(const SlavePatch& s, Point2 LocalNode::*when = &LocalNode::now) {
  Edge<double> e;
  e.quadratic = s.quadratic;
  e.x = {s.node[1].*when, s.node[2].*when, s.node[3].*when};
  smoothNormals<double>(e, s.node[0].*when, s.node[4].*when, s.hasBefore, s.hasAfter);
  return e;
}

Edge<Dual> variableEdge(const SlavePatch& s) {
  Edge<Dual> e;
  e.quadratic = s.quadratic;
  for (size_t i = 0; i < 3; ++i) e.x[i] = variable(s.node[i + 1].now, 2 * int(i + 1));
  smoothNormals<Dual>(e, variable(s.node[0].now, 0), variable(s.node[4].now, 8), s.hasBefore, s.hasAfter);
  return e;
}

/// In a rigid body's own frame.
Point2 ownPlace(const RigidBody& body, const Eigen::Vector3d& moved, const Point2& x) {
  const double c = std::cos(moved[2]), s = std::sin(moved[2]);
  const Point2 d = x - body.pivot.head<2>() - moved.head<2>();
  return body.pivot.head<2>() + Point2(c * d.x() + s * d.y(), c * d.y() - s * d.x());
}

/// How far pressure acts along the normal of the side, not of the rigid body: 1 under what is round and small against the side,
/// 0 under what is flat. Pressures on a side are spread over more of it than what touches in truth, and lie to one side of the
/// middle of that, between one node and the next; round a small radius that would turn the force. As it was at the increment's
/// start, by what is nearest then.
double sideLeads(const SlavePatch& slave, const RigidBody& body, const RigidPlace& place, double length) {
  constexpr int samples = 8;
  const Edge<double> was = plainEdge(slave, &LocalNode::before);
  std::array<Feature, samples + 1> seen;
  double least = 1e300;
  for (int i = 0; i <= samples; ++i) {
    seen[size_t(i)] = nearestFeature(body, ownPlace(body, place.before, was.at(2. * i / samples - 1)));
    if (seen[size_t(i)].kind != Feature::Kind::none) least = std::min(least, std::abs(seen[size_t(i)].distance));
  }
  double curvature = 0;
  for (const auto& f : seen)
    if (f.kind == Feature::Kind::arc && f.sign > 0 && std::abs(f.distance) < least + Nearness::of(length).none)
      curvature = std::max(curvature, 1 / f.radius);
  const double t = std::pow(4 * length * curvature, 4);
  return t / (1 + t);
}

}  // namespace

void SegmentIntegral::clear(int n) {
  touched = false, dofs = n, leastGap = 1e300;
  kappa = gap = slip = area = lookedOver = distance = {0, 0};
  mass = onMaster = {};
  for (auto* list : {&dKappa, &dGap, &dSlip, &normal, &tangential})
    for (auto& v : *list) v.setZero();
  force.setZero(), stiffness.setZero();
}

void integrateFacing(const SlavePatch& slave, const MasterPatch& master, const std::array<double, 2>& ln,
                     const std::array<double, 2>& lt, double reach, const Depth& depth, SegmentIntegral& out) {
  const Edge<double> se = plainEdge(slave);
  Edge<double> me;
  me.quadratic = master.quadratic;
  for (size_t i = 0; i < 3; ++i) me.x[i] = master.node[i].now;
  // opposed faces only
  if (right<double>(Point2(me.x[1] - me.x[0])).normalized().dot(right<double>(Point2(se.x[1] - se.x[0])).normalized()) > -0.2)
    return;
  double s0, s1;  // the master's end b lies towards the slave's a
  if (!projectAlongOwnNormal(se, me.x[1], s0) || !projectAlongOwnNormal(se, me.x[0], s1)) return;
  const double low = std::max(s0, -1.), high = std::min(s1, 1.);
  if (high - low < 1e-9) return;

  const Edge<Dual> S = variableEdge(slave);
  Edge<Dual> M;
  M.quadratic = master.quadratic;
  for (size_t i = 0; i < 3; ++i) M.x[i] = variable(master.node[i].now, 10 + 2 * int(i));

  const auto limit = [&](double s, const Vec& y, bool clamped) {  // one Newton step in dual numbers carries the derivative
    if (clamped) return constant(s);
    const double h = 1e-5;
    const auto f = [&](double at) { return cross<double>(valueOf(y) - se.at(at), se.normal(at)); };
    const Dual value = cross<Dual>(Vec(y - S.at(constant(s))), S.normal(constant(s)));
    return Dual(constant(s) - value / ((f(s + h) - f(s - h)) / (2 * h)));
  };
  const Dual from = limit(low, M.x[1], s0 <= -1), to = limit(high, M.x[0], s1 >= 1);
  const Dual middle = (from + to) * 0.5, half = (to - from) * 0.5;

  const auto rule = gauss(slave.quadratic || master.quadratic ? 6 : 3);
  for (int g = 0; g < rule.n; ++g) {
    PointPair q;
    const Dual s = middle + half * rule.x[g];
    const Vec x = S.at(s), slope = S.slope(s);
    q.normal = S.normal(s);
    double m0;
    if (!projectAlong(me, valueOf(x), valueOf(q.normal), m0) || std::abs(m0) > 1 + 1e-6) continue;
    const Dual at0 = constant(m0);
    const Dual miss = cross<Dual>(Vec(M.at(at0) - x), q.normal);
    const Dual m = at0 - miss / cross<double>(me.slope(m0), valueOf(q.normal));
    const Vec y = M.at(m);
    q.gap = dot<Dual>(Vec(y - x), q.normal);
    if (q.gap.value() > reach) continue;
    if (q.gap.value() < -reach) {  // behind the face: of no concern, unless it has just gone through
      Point2 was(0, 0);
      const auto ns = edgeShape(slave.quadratic, s.value());
      const auto nm = edgeShape(master.quadratic, m.value());
      for (size_t i = 0; i < 3; ++i) was += nm[i] * master.node[i].before - ns[i] * slave.node[i + 1].before;
      if (was.dot(valueOf(q.normal)) > -0.5 * reach) out.leastGap = std::min(out.leastGap, q.gap.value());
      continue;
    }
    const Dual length = sqrt(Dual(slope.x() * slope.x() + slope.y() * slope.y()));
    q.weight = length * half * areaFactor(depth, x) * rule.w[g];
    q.lambdaShape = {Dual((1. - s) * 0.5), Dual((1. + s) * 0.5)};
    const auto ns = edgeShape(slave.quadratic, s), nm = edgeShape(master.quadratic, m);
    Vec moved = x - y;  // minus the old places of the same material points
    for (size_t i = 0; i < 3; ++i) {
      moved -= scaled<Dual>(constant(slave.node[i + 1].before), ns[i]);
      moved += scaled<Dual>(constant(master.node[i].before), nm[i]);
    }
    const Vec tangent{Dual(-q.normal.y()), q.normal.x()};
    q.slip = dot<Dual>(moved, tangent);
    for (size_t b = 0; b < 2; ++b) {
      const double w = (b ? 1 + m.value() : 1 - m.value()) / 2 * q.weight.value();
      out.area[b] += w;
      for (size_t a = 0; a < 2; ++a) out.onMaster[b][a] += w * q.lambdaShape[a].value();
    }
    addPoint(
        q, ln, lt, maxDofs,
        [&](const Vec& d, std::array<Dual, maxDofs>& r) {
          r[0] = r[1] = r[8] = r[9] = constant(0);
          for (size_t i = 0; i < 3; ++i) {
            r[2 * i + 2] = ns[i] * d.x(), r[2 * i + 3] = ns[i] * d.y();
            r[2 * i + 10] = -nm[i] * d.x(), r[2 * i + 11] = -nm[i] * d.y();
          }
        },
        out);
  }
}

void integrateRigid(const SlavePatch& slave, const RigidBody& body, const RigidPlace& place, const std::array<double, 2>& ln,
                    const std::array<double, 2>& lt, double reach, const Depth& depth, SegmentIntegral& out) {
  const Edge<double> se = plainEdge(slave);
  const Edge<Dual> S = variableEdge(slave);
  const Dual ux(place.now[0], maxDofs, 10), uy(place.now[1], maxDofs, 11), turn(place.now[2], maxDofs, 12);
  const Dual c = cos(turn), sn = sin(turn);
  const Vec pivot{Dual(ux + body.pivot.x()), Dual(uy + body.pivot.y())};
  const double c0 = std::cos(place.before[2]), s0 = std::sin(place.before[2]);

  const auto ownAt = [&](double at) { return ownPlace(body, place.now, se.at(at)); };
  const auto distanceAt = [&](double at) {
    const Feature f = nearestFeature(body, ownAt(at));
    return f.kind == Feature::Kind::none ? 1e300 : f.distance;
  };
  const double sideLength = (slave.node[2].before - slave.node[1].before).norm(),
               leads = sideLeads(slave, body, place, sideLength);
  const auto near = Nearness::of(sideLength);
  const auto whole = gauss(6);
  for (int g = 0; g < whole.n; ++g) {  // how far it is off, for those who ask before it is near
    const Point2 at = ownAt(whole.x[g]);
    const Feature f = nearestFeature(body, at);
    const double d = f.distance;
    if (f.kind == Feature::Kind::none || d > reach || d < -reach) continue;
    const Point2 away = f.kind == Feature::Kind::line
                            ? f.normal
                            : Point2((f.kind == Feature::Kind::arc ? f.sign : 1) * (at - f.point).normalized());
    if (-Point2(c.value() * away.x() - sn.value() * away.y(), sn.value() * away.x() + c.value() * away.y())
             .dot(se.normal(whole.x[g])) < 0.1)
      continue;
    const double w = se.slope(whole.x[g]).norm() * whole.w[g];
    out.lookedOver[0] += w * (1 - whole.x[g]) / 2, out.lookedOver[1] += w * (1 + whole.x[g]) / 2;
    out.distance[0] += w * d * (1 - whole.x[g]) / 2, out.distance[1] += w * d * (1 + whole.x[g]) / 2;
  }
  for (const auto& [from, to] : nearSpans(distanceAt, near.none)) {
    const auto limit = [&](double at) {  // where the gap is at its limit; one Newton step in dual numbers carries the derivative
      if (std::abs(at) >= 1) return constant(at);
      const double h = 1e-6, slope = (distanceAt(at + h) - distanceAt(at - h)) / (2 * h);
      const Feature f = nearestFeature(body, ownAt(at));
      if (!(std::abs(slope) > 1e-6) || !(std::abs(slope) < 1e6) || f.kind == Feature::Kind::none) return constant(at);
      const Vec arm = S.at(constant(at)) - pivot;
      const Vec own{Dual(c * arm.x() + sn * arm.y() + body.pivot.x()), Dual(c * arm.y() - sn * arm.x() + body.pivot.y())};
      Vec away;
      return Dual(constant(at) - (gapTo(f, own, away) - near.none) / slope);
    };
    const Dual low = limit(from), high = limit(to), middle = (low + high) * 0.5, half = (high - low) * 0.5;
    const auto rule = gauss(6);
    for (int g = 0; g < rule.n; ++g) {
      PointPair q;
      const Dual s = Dual(middle + half * rule.x[g]);
      const Vec x = S.at(s), slope = S.slope(s), arm = x - pivot;
      // the point in the body's own frame
      const Vec own{Dual(c * arm.x() + sn * arm.y() + body.pivot.x()), Dual(c * arm.y() - sn * arm.x() + body.pivot.y())};
      const Feature f = nearestFeature(body, valueOf(own));
      if (f.kind == Feature::Kind::none || f.distance > reach) continue;
      if (f.distance < -reach) {  // inside the body: of no concern, unless it has just got there
        Point2 was(0, 0);
        const auto shape = edgeShape(slave.quadratic, s.value());
        for (size_t i = 0; i < 3; ++i) was += shape[i] * slave.node[i + 1].before;
        const Point2 from = ownPlace(body, place.before, was);
        const Feature then = nearestFeature(body, from);
        // no distance changes by more than the way: else it is another stretch of an open outline that is nearest now
        const bool same = then.distance - f.distance <= (1 + 1e-6) * (valueOf(own) - from).norm();
        if (then.kind != Feature::Kind::none && then.distance > -0.5 * reach && same)
          out.leastGap = std::min(out.leastGap, f.distance);
        continue;
      }
      Vec out2;  // unit normal away from the material, own frame
      q.gap = gapTo(f, own, out2);
      if (q.gap.value() >= near.none) continue;
      q.normal = Vec{Dual(-(c * out2.x() - sn * out2.y())), Dual(-(sn * out2.x() + c * out2.y()))};
      if (valueOf(q.normal).dot(se.normal(s.value())) < 0.1) continue;
      const Dual length = sqrt(Dual(slope.x() * slope.x() + slope.y() * slope.y()));
      q.weight = length * half * areaFactor(depth, x) * rule.w[g];
      if (q.gap.value() > near.full) q.weight = q.weight * near.weight(q.gap);
      q.lambdaShape = {Dual((1. - s) * 0.5), Dual((1. + s) * 0.5)};
      const Vec y = x + scaled<Dual>(q.normal, q.gap);
      if (leads > 0)
        q.normal = unit(Vec(scaled<Dual>(S.normal(s), constant(leads)) + scaled<Dual>(q.normal, constant(1 - leads))));
      // where the touched point of the body was at the start of the increment
      const Vec touched{Dual(own.x() - q.gap * out2.x() - body.pivot.x()), Dual(own.y() - q.gap * out2.y() - body.pivot.y())};
      const Vec wasAt{Dual(touched.x() * c0 - touched.y() * s0 + (body.pivot.x() + place.before[0])),
                      Dual(touched.x() * s0 + touched.y() * c0 + (body.pivot.y() + place.before[1]))};
      const auto ns = edgeShape(slave.quadratic, s);
      Vec moved = x - y + wasAt;
      for (size_t i = 0; i < 3; ++i) moved -= scaled<Dual>(constant(slave.node[i + 1].before), ns[i]);
      const Vec tangent{Dual(-q.normal.y()), q.normal.x()};
      q.slip = dot<Dual>(moved, tangent);
      const Vec lever = x - pivot;  // where the slave's point is: no couple where a gap is closed without strain
      addPoint(
          q, ln, lt, 13,
          [&](const Vec& d, std::array<Dual, maxDofs>& r) {
            r[0] = r[1] = r[8] = r[9] = constant(0);
            for (size_t i = 0; i < 3; ++i) r[2 * i + 2] = ns[i] * d.x(), r[2 * i + 3] = ns[i] * d.y();
            r[10] = -d.x(), r[11] = -d.y();
            r[12] = -cross<Dual>(lever, d);
          },
          out);
    }
  }
}

}  // namespace anvil::contact
