// A deformable side against a rigid outline, in the plane.
#include "core/contact/plane_points.hpp"

namespace anvil::contact {

using namespace plane;

namespace {

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

/// In a rigid body's own frame.
Point2 ownPlace(const RigidBody& body, const Eigen::Vector3d& moved, const Point2& x) {
  const double c = std::cos(moved[2]), s = std::sin(moved[2]);
  const Point2 d = x - body.pivot.head<2>() - moved.head<2>();
  return body.pivot.head<2>() + Point2(c * d.x() + s * d.y(), c * d.y() - s * d.x());
}

/// By what of the outline is nearest at the increment's start; see leadOfSide.
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
  return leadOfSide(length, curvature);
}

}  // namespace

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
  const double sideLength = (slave.node[2].before - slave.node[1].before).norm();
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
  const auto spans = nearSpans(distanceAt, near.none);
  const double leads = spans.empty() ? 0 : sideLeads(slave, body, place, sideLength);
  for (const auto& [from, to] : spans) {
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
