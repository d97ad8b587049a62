// Deformable sides against each other, in the plane.
#include "core/contact/plane_points.hpp"

namespace anvil::contact {

using namespace plane;

namespace {

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

}  // namespace anvil::contact
