#include "core/mesh/near_sheet.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/error.hpp"
#include "core/base/text.hpp"

namespace anvil::mesh {

using geometry::Point2;
using geometry::Sweep;

std::vector<double> stations(double length, int count, const std::function<double(double)>& wanted) {
  constexpr int pieces = 4000;
  std::vector<double> sum{0};  // elements up to each place
  for (int i = 0; i < pieces; ++i)
    sum.push_back(sum.back() + std::max(count / length, 1 / wanted((i + 0.5) / pieces)) * length / pieces);
  const int n = std::max(count, int(std::ceil(sum.back() - 0.05)));
  std::vector<double> shares{0};
  size_t at = 0;
  for (int k = 1; k < n; ++k) {
    const double target = sum.back() * k / n;
    while (at + 2 < sum.size() && sum[at + 1] < target) ++at;
    shares.push_back((double(at) + (target - sum[at]) / (sum[at + 1] - sum[at])) / pieces);
  }
  shares.push_back(1);
  return shares;
}

void refineNear(geometry::SheetLine& line, Sweep& sweep, int layers, const std::vector<FreeSizes::Near>& near,
                const std::string& path) {
  const bool revolves = sweep.kind == Sweep::Kind::revolve;
  if (sweep.kind == Sweep::Kind::trail || sweep.twist != 0)
    throw Error("smaller elements round a place are not made along a way that bends or twists", path + "/near",
                "Give a \"size\" or counts for the whole part.");
  struct Spot {
    Point2 inPlane;
    double along, radius, within, size;  // along: mm, or rad about y
  };
  std::vector<Spot> spots;
  double least = 1e300;
  for (const auto& n : near) {
    const double radius = std::hypot(n.at.x(), n.at.z());
    spots.push_back({revolves ? Point2(radius, n.at.y()) : Point2(n.at.x(), n.at.y()),
                     revolves ? std::atan2(n.at.z(), n.at.x()) : n.at.z(), radius, n.within, n.size});
    least = std::min(least, n.size);
  }
  double whole = revolves ? 0 : sweep.length;
  for (const auto& c : line.curves) {
    whole += c.length();
    if (revolves)
      for (const double s : {0., 0.5, 1.}) whole = std::max(whole, sweep.length * c.at(s).x());
  }
  if (!(whole / least < 1e5))
    throw Error("an element size of " + shortNumber(least, 3) + " mm would divide the sheet into " +
                    shortNumber(whole / least, 3) + " elements one way",
                path + "/near", "Take a larger one; check its unit.");
  constexpr double growth = 0.3;
  const auto sizeAt = [](const Spot& s, double distance) { return s.size + growth * std::max(0., distance - s.within); };
  line.stations.clear();
  for (auto& c : line.curves) {
    line.stations.push_back(stations(c.length(), c.count, [&](double share) {
      double h = 1e300;
      for (const auto& s : spots) h = std::min(h, sizeAt(s, (c.at(share) - s.inPlane).norm()));
      return h;
    }));
    c.count = int(line.stations.back().size()) - 1;
  }
  if (sweep.grading != 1) throw Error("layers are graded and refined round a place at once", path + "/near", "Keep one of them.");
  // of a way round an axis the longest radius that a place has counts
  double radius = 0;
  for (const auto& s : spots) radius = std::max(radius, s.radius);
  if (revolves && radius == 0) return;
  const double length = revolves ? sweep.length * radius : sweep.length;
  sweep.borders = stations(length, layers, [&](double share) {
    double h = 1e300;
    for (const auto& s : spots) {
      double off = sweep.from + share * sweep.length - s.along;
      if (revolves) off = std::remainder(off, 2 * std::numbers::pi) * radius;
      h = std::min(h, sizeAt(s, std::abs(off)));
    }
    return h;
  });
  sweep.count = int(sweep.borders.size()) - 1;
}

}  // namespace anvil::mesh
