#include "core/mesh/ways_across.hpp"

#include <Eigen/Geometry>
#include <algorithm>
#include <map>

#include "core/base/dense.hpp"
#include "core/base/error.hpp"
#include "core/base/text.hpp"

namespace anvil::mesh {
namespace {

using Eigen::Vector3d;

/// Normals that go on smoothly into each other taken together.
std::vector<Vector3d> distinct(const std::vector<Vector3d>& normals) {
  std::vector<Vector3d> faces;
  for (const auto& n : normals) {
    const auto same = std::find_if(faces.begin(), faces.end(), [&](const Vector3d& f) { return f.normalized().dot(n) > 0.96; });
    same == faces.end() ? faces.push_back(n) : void(*same += n);
  }
  for (auto& f : faces) f.normalize();
  return faces;
}

/// The shortest m with m·n = 1 for all normals: it lies in their own span.
Vector3d mitred(const std::vector<Vector3d>& faces, const Vector3d& at, const std::string& path) {
  if (faces.size() == 1) return faces.front();
  for (const auto& a : faces)
    for (const auto& b : faces)
      if (a.dot(b) < -0.87)
        throw Error("the sheet is folded back on itself near " + shortNumber(at.x(), 4) + ", " + shortNumber(at.y(), 4) + ", " +
                        shortNumber(at.z(), 4) + " mm",
                    path, "A sheet can be folded by up to 150 degrees; round the fold.");
  Eigen::MatrixXd A = Eigen::MatrixXd::Zero(3, 3);
  Vector3d b = Vector3d::Zero(), m = b;
  for (const auto& f : faces) A += f * f.transpose(), b += f;
  const auto modes = symmetricModes(A);
  for (int k = 0; k < 3; ++k)
    if (modes.values[k] > 0.02) m += modes.vectors.col(k) * modes.vectors.col(k).dot(b) / modes.values[k];
  return m;
}

/// What a mitre shifts the side of one of its faces by, along that face, over a distance of 1.
struct Shift {
  Vector3d at, by;
};

/// Adds the shifts of the mitres near a place: the nearest, and of those in other directions the nearest again.
Vector3d shiftAt(const Vector3d& x, const std::vector<Shift>& shifts, double reach) {
  std::vector<std::pair<double, Vector3d>> near;
  for (const auto& s : shifts) {
    const double far = (x - s.at).norm() / (2.5 * s.by.norm() * reach);
    if (far < 1) near.emplace_back(1 - far, s.by);
  }
  std::stable_sort(near.begin(), near.end(), [](const auto& a, const auto& b) { return a.first > b.first; });
  Vector3d sum = Vector3d::Zero();
  std::vector<Vector3d> taken;
  for (const auto& [share, by] : near) {
    const auto alike = [&, &own = by](const Vector3d& t) { return t.dot(own.normalized()) > 0.7; };
    if (std::any_of(taken.begin(), taken.end(), alike)) continue;
    taken.push_back(by.normalized()), sum += share * by;
  }
  return sum;
}

}  // namespace

std::vector<Vector3d> waysAcross(const DrawnQuads& s, double reach, const std::string& path) {
  std::vector<std::vector<Vector3d>> normals(s.x.size());
  std::vector<std::map<int, Vector3d>> onFace(s.x.size());  // normals by face
  for (size_t k = 0; k < s.cells.size(); ++k) {
    const auto n = size_t(s.cells[k]);
    normals[n].push_back(s.normals[k]), onFace[n][s.face[k / 4]] = s.normals[k];
  }
  std::vector<Vector3d> ways;
  std::map<int, std::vector<Shift>> shifts;  // by face
  std::vector<bool> folded;
  for (size_t n = 0; n < s.x.size(); ++n) {
    const auto faces = distinct(normals[n]);
    folded.push_back(faces.size() > 1);
    ways.push_back(mitred(faces, s.x[n], path));
    if (folded.back())
      for (const auto& [face, normal] : onFace[n]) shifts[face].push_back({s.x[n], ways.back() - normal});
  }
  for (size_t n = 0; n < s.x.size() && reach > 0; ++n)
    for (auto it = onFace[n].begin(); it != onFace[n].end() && !folded[n]; ++it)
      if (const auto near = shifts.find(it->first); near != shifts.end()) {
        ways[n] += shiftAt(s.x[n], near->second, reach);
        break;
      }
  return ways;
}

}  // namespace anvil::mesh
