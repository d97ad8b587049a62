#include "mesher/rim.hpp"

#include <BRep_Tool.hxx>
#include <GCPnts_AbscissaPoint.hxx>
#include <GeomAPI_ProjectPointOnCurve.hxx>
#include <GeomAdaptor_Curve.hxx>
#include <GeomLProp_CLProps.hxx>
#include <algorithm>
#include <cmath>
#include <gp_Circ.hxx>

#include "mesher/points.hpp"

namespace anvil::mesher {

using Eigen::Vector2d;
using Eigen::Vector3d;

Rims::Rims(const Prism& prism) : prism_(prism) {
  for (const auto& rim : prism.rims) {
    Curve c;
    c.curve = BRep_Tool::Curve(rim.edge, c.from, c.to);
    const GeomAdaptor_Curve adaptor(c.curve, c.from, c.to);
    c.length = GCPnts_AbscissaPoint::Length(adaptor);
    c.a = prism.flat(vector(c.curve->Value(c.from))), c.b = prism.flat(vector(c.curve->Value(c.to)));
    if (adaptor.GetType() == GeomAbs_Circle)
      c.circle = true, c.centre = prism.flat(vector(adaptor.Circle().Location())), c.radius = adaptor.Circle().Radius();
    curves_.push_back(c);
  }
}

Vector2d Rims::at(int curve, double share) const {
  const auto& c = curves_[size_t(curve)];
  const GeomAdaptor_Curve adaptor(c.curve, c.from, c.to);
  if (share <= 0) return c.a;
  if (share >= 1) return c.b;
  return prism_.flat(vector(c.curve->Value(GCPnts_AbscissaPoint(adaptor, share * c.length, c.from).Parameter())));
}

double Rims::edgesFor(int curve, double perCircle) const {
  const auto& c = curves_[size_t(curve)];
  double turned = 0;
  Vector2d last(0, 0);
  for (int i = 0; i <= 32; ++i) {
    gp_Pnt p;
    gp_Vec t;
    c.curve->D1(c.from + (c.to - c.from) * i / 32, p, t);
    const Vector2d now =
        Vector2d(Vector3d(t.X(), t.Y(), t.Z()).dot(prism_.u), Vector3d(t.X(), t.Y(), t.Z()).dot(prism_.v)).normalized();
    if (i) turned += std::abs(std::atan2(last.x() * now.y() - last.y() * now.x(), last.dot(now)));
    last = now;
  }
  return turned / (2 * M_PI) * perCircle;
}

std::optional<Vector2d> Rims::onto(const Vector2d& a, const Vector2d& b, int* rim) const {
  const Vector2d mid = (a + b) / 2;
  const double edge = (a - b).norm();
  double nearest = 1e300;
  Vector2d best = mid;
  for (size_t i = 0; i < curves_.size(); ++i) {
    const auto& c = curves_[i];
    const auto foot = [&](const Vector2d& p, Vector2d* there) {
      const Vector3d x = prism_.space(p);
      double distance = std::min((p - c.a).norm(), (p - c.b).norm());
      if (there) *there = (p - c.a).norm() < (p - c.b).norm() ? c.a : c.b;
      GeomAPI_ProjectPointOnCurve f(gp_Pnt(x.x(), x.y(), x.z()), c.curve, c.from, c.to);
      if (f.NbPoints() && f.LowerDistance() < distance) {
        distance = f.LowerDistance();
        if (there) *there = prism_.flat(vector(f.NearestPoint()));
      }
      return distance;
    };
    if (foot(a, nullptr) > 1e-4 * edge || foot(b, nullptr) > 1e-4 * edge) continue;
    Vector2d there;
    const double off = foot(mid, &there);
    if (off < nearest && off < 0.4 * edge) {
      nearest = off, best = there;
      if (rim) *rim = int(i);
    }
  }
  if (nearest > 1e299) return {};
  return best;
}

}  // namespace anvil::mesher
