#include "core/geometry/step_faces.hpp"

#include <Eigen/Core>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Face.hxx>
#include <algorithm>
#include <cmath>

#include "core/geometry/face_shape.hpp"

namespace anvil::geometry {
namespace {

enum { number, kind, area, place, direction = 6, radius = 9, length };

Eigen::Vector3d vectorAt(const FaceMark& m, size_t i) { return {m[i], m[i + 1], m[i + 2]}; }

/// How different two faces are; infinite for those that cannot be the same one. `size` of the solid.
double difference(const FaceMark& a, const FaceMark& b, double size) {
  if (a[kind] != b[kind]) return 1e300;
  const double turned = a[kind] == 0 ? 1 - vectorAt(a, direction).dot(vectorAt(b, direction))
                                     : 1 - std::abs(vectorAt(a, direction).dot(vectorAt(b, direction)));
  if (turned > 1e-6) return 1e300;
  return (vectorAt(a, place) - vectorAt(b, place)).norm() / size +
         0.2 * std::abs(std::log(std::max(a[area], 1e-12) / std::max(b[area], 1e-12))) + std::abs(a[radius] - b[radius]) / size;
}

}  // namespace

std::vector<FaceMark> marksOf(const TopoDS_Shape& solid) {
  std::vector<FaceMark> marks;
  for (TopExp_Explorer e(solid, TopAbs_FACE); e.More(); e.Next()) {
    const auto f = shapeOf(TopoDS::Face(e.Current()));
    const Eigen::Vector3d d = f.axis.isZero() ? Eigen::Vector3d::UnitZ() : f.axis;
    marks.push_back({double(marks.size() + 1), double(f.kind), f.area, f.centre.x(), f.centre.y(), f.centre.z(), d.x(), d.y(),
                     d.z(), f.radius});
  }
  return marks;
}

Matched matched(const std::vector<FaceMark>& known, const std::vector<FaceMark>& now) {
  Matched result;
  result.number.assign(now.size(), 0);
  Eigen::Vector3d low = Eigen::Vector3d::Constant(1e300), high = -low;
  double total = 0;
  for (const auto& m : now) low = low.cwiseMin(vectorAt(m, place)), high = high.cwiseMax(vectorAt(m, place)), total += m[area];
  const double size = std::max((high - low).norm(), std::sqrt(total / 6));
  struct Pair {
    double difference;
    size_t before, after;
  };
  std::vector<Pair> pairs;
  for (size_t i = 0; i < known.size(); ++i)
    for (size_t j = 0; j < now.size(); ++j)
      if (known[i].size() == length)
        if (const double off = difference(known[i], now[j], size); off < 0.5) pairs.push_back({off, i, j});
  std::stable_sort(pairs.begin(), pairs.end(), [](const Pair& a, const Pair& b) { return a.difference < b.difference; });
  std::vector<bool> taken(known.size(), false);
  for (const auto& p : pairs)
    if (!taken[p.before] && !result.number[p.after])
      taken[p.before] = true, result.number[p.after] = int(known[p.before][number]);
  int most = 0;
  for (size_t i = 0; i < known.size(); ++i) {
    most = std::max(most, known[i].empty() ? 0 : int(known[i][number]));
    if (!taken[i]) result.gone.push_back(known[i].empty() ? 0 : int(known[i][number]));
  }
  for (int& n : result.number)
    if (!n) result.fresh.push_back(n = ++most);
  return result;
}

}  // namespace anvil::geometry
