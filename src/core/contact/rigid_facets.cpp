#include "core/contact/rigid_facets.hpp"

#include <algorithm>
#include <cmath>

#include "core/geometry/rigid_solid.hpp"

namespace anvil::contact {

RigidFacets facetsOf(const RigidBody& body, int dim) {
  RigidFacets facets;
  if (body.facets) {
    for (const auto& p : body.facets->points()) facets.points.push_back(body.place(p));
    for (const auto& t : body.facets->triangles()) facets.quads.push_back({t[0], t[1], t[2], t[2]});
    return facets;
  }
  std::vector<Point2> line;
  for (const auto& c : body.curves) {
    const int n = c.arc ? std::max(6, int(std::abs(c.sweep) / 0.08)) : 1;
    for (int i = 0; i < n; ++i) line.push_back(c.at(double(i) / n));
  }
  if (line.empty()) return facets;
  line.push_back(body.curves.back().b);
  const bool revolved = body.sweep.kind == geometry::Sweep::Kind::revolve;
  const int layers = dim == 2 ? 0 : revolved ? std::max(2, int(body.sweep.length / 0.1)) : 1, n = int(line.size());
  for (int k = 0; k <= layers; ++k) {
    const double s = body.sweep.from + (layers ? body.sweep.length * k / layers : 0);
    for (const auto& p : line)
      facets.points.push_back(body.place(dim == 2   ? Point3(p.x(), p.y(), 0)
                                         : revolved ? Point3(p.x() * std::cos(s), p.y(), p.x() * std::sin(s))
                                                    : Point3(p.x(), p.y(), s)));
  }
  for (int k = 0; k < layers; ++k)
    for (int i = 0; i + 1 < n; ++i) facets.quads.push_back({k * n + i, k * n + i + 1, (k + 1) * n + i + 1, (k + 1) * n + i});
  for (int k = 0; k < 2; ++k)  // flat ends
    if (body.ends[size_t(k)])
      for (auto [a, b, c] : geometry::insideOf({line.begin(), line.end() - 1})) {
        if (k == 0) std::swap(b, c);
        facets.quads.push_back({k * n + a, k * n + b, k * n + c, k * n + c});
      }
  return facets;
}

std::vector<Point3> pointsOf(const RigidBody& body, int dim, double spacing) {
  const auto facets = facetsOf(body, dim);
  auto points = facets.points;
  const auto parts = [&](double length, double most) { return int(std::clamp(std::ceil(length / spacing), 1., most)); };
  if (dim == 2) {
    for (size_t i = 0; i + 1 < facets.points.size(); ++i) {
      const Point3 &a = facets.points[i], &b = facets.points[i + 1];
      for (int k = 1, n = parts((b - a).norm(), 1000); k < n; ++k) points.push_back(a + double(k) / n * (b - a));
    }
    return points;
  }
  constexpr double many = 20000;
  const double most = std::max(1., std::sqrt(many / std::max<double>(1, double(facets.quads.size()))));
  for (const auto& q : facets.quads) {
    const auto x = [&](int i) -> const Point3& { return facets.points[size_t(q[size_t(i)])]; };
    const int n = parts(std::max((x(1) - x(0)).norm(), (x(2) - x(3)).norm()), most),
              m = parts(std::max((x(3) - x(0)).norm(), (x(2) - x(1)).norm()), most);
    for (int i = 0; i <= n; ++i)
      for (int j = 0; j <= m; ++j) {
        if ((i == 0 || i == n) && (j == 0 || j == m)) continue;  // a corner
        const double s = double(i) / n, t = double(j) / m;
        points.push_back((1 - t) * ((1 - s) * x(0) + s * x(1)) + t * ((1 - s) * x(3) + s * x(2)));
      }
  }
  return points;
}

}  // namespace anvil::contact
