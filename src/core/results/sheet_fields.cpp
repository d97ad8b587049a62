#include "core/results/sheet_fields.hpp"

#include <Eigen/Geometry>
#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/quadrature.hpp"
#include "core/results/corners.hpp"

namespace anvil::results {
namespace {

using Eigen::Matrix3d;
using Eigen::Vector3d;

/// Places of a cell's nodes now.
std::vector<Vector3d> placesOf(const mesh::Mesh& m, const mesh::Block& b, size_t cell, const std::vector<float>& u) {
  std::vector<Vector3d> x;
  for (int i = 0; i < mesh::info(b.type).nodes; ++i) {
    const auto n = size_t(b.cell(cell)[i]);
    x.push_back(m.x[n]);
    if (!u.empty()) x.back() += Vector3d(u[3 * n], u[3 * n + 1], u[3 * n + 2]);
  }
  return x;
}

/// Normal of a cell's middle surface at a corner, not of unit length.
Vector3d normalAt(const std::vector<Vector3d>& x, size_t corner) {
  const size_t n = x.size() / 2;
  const auto middle = [&](size_t i) { return Vector3d(x[i % n] + x[i % n + n]); };
  return (middle(corner + 1) - middle(corner)).cross(middle(corner + n - 1) - middle(corner));
}

/// Distance of a cell's sides at a corner, across its middle surface.
double heightAt(const std::vector<Vector3d>& x, size_t corner) {
  return std::abs((x[corner + x.size() / 2] - x[corner]).dot(normalAt(x, corner).normalized()));
}

struct Component {
  const char* name;
  int first, second;  ///< own axes
  bool bending;
};
constexpr std::array<Component, 8> components{{{"membrane force 1", 0, 0, false},
                                               {"membrane force 2", 1, 1, false},
                                               {"membrane force 12", 0, 1, false},
                                               {"bending moment 1", 0, 0, true},
                                               {"bending moment 2", 1, 1, true},
                                               {"bending moment 12", 0, 1, true},
                                               {"transverse shear 1", 0, 2, false},
                                               {"transverse shear 2", 1, 2, false}}};

/// The sheet's own axes where its middle surface has this normal.
Matrix3d axesOn(const Vector3d& normal) {
  const Vector3d n = normal.normalized();
  Vector3d first = Vector3d::UnitX() - n.x() * n;
  if (first.norm() < 0.05) first = Vector3d::UnitY() - n.y() * n;
  Matrix3d Q;
  Q.col(0) = first.normalized(), Q.col(1) = n.cross(Q.col(0)), Q.col(2) = n;
  return Q;
}

/// Points of a layer taken to its corners.
void toCorners(int count, const double* p, double* n) {
  count == 4 ? cornersOfSquare(p, n) : cornersOfSimplex(3, 2. / 3, 1. / 6, p, n);
}

/// Share of each corner at a layer's point, which lies near the corner of its number.
double shareAt(int count, int point, int corner) {
  if (count == 3) return point == corner ? 2. / 3 : 1. / 6;
  const double near = (1 + 1 / std::sqrt(3.)) / 2, far = 1 - near;
  return point == corner ? near * near : (point + corner) % 2 ? near * far : far * far;
}

}  // namespace

bool hasThinCells(const mesh::Mesh& m) {
  return std::any_of(m.blocks.begin(), m.blocks.end(), [](const mesh::Block& b) { return b.thin(); });
}

std::vector<FieldInfo> sheetFields(const mesh::Mesh& m) {
  if (!hasThinCells(m)) return {};
  std::vector<FieldInfo> list{{"thickness", Kind::length, false, true}, {"thinning", Kind::percent, true, true}};
  for (const auto& c : components) list.push_back({c.name, c.bending ? Kind::lineMoment : Kind::lineForce, true, false});
  return list;
}

bool isSheetField(const std::string& name) {
  return std::any_of(components.begin(), components.end(), [&](const Component& c) { return name == c.name; });
}

std::vector<double> sheetThickness(const mesh::Mesh& m, const std::vector<float>& u, bool thinning) {
  std::vector<double> ratio(m.x.size(), 0), given(m.x.size(), 0);
  std::vector<int> cells(m.x.size(), 0);
  for (const auto& b : m.blocks)
    for (size_t c = 0; b.thin() && c < b.count(); ++c) {
      const auto before = placesOf(m, b, c, {}), now = placesOf(m, b, c, u);
      const size_t half = before.size() / 2;
      for (size_t i = 0; i < half; ++i) {
        const double r = heightAt(now, i) / heightAt(before, i);
        for (const size_t k : {i, i + half}) {
          const auto n = size_t(b.cell(c)[k]);
          ratio[n] += r, given[n] = b.thickness, ++cells[n];
        }
      }
    }
  for (size_t n = 0; n < ratio.size(); ++n) {
    if (!cells[n]) continue;
    const double r = ratio[n] / cells[n];
    ratio[n] = thinning ? 100 * (1 - r) : r * given[n];
  }
  return ratio;
}

std::vector<double> sectionForces(const mesh::Mesh& m, const std::string& name, const std::vector<float>& u,
                                  const std::vector<float>& stress) {
  const auto& which = *std::find_if(components.begin(), components.end(), [&](const Component& c) { return name == c.name; });
  std::vector<double> values;
  size_t at = 0;
  for (const auto& b : m.blocks) {
    const int nodes = mesh::info(b.type).nodes, inSheet = nodes / 2;
    const auto line = gaussLine(std::max(1, b.through));
    for (size_t c = 0; c < b.count(); ++c, at += size_t(b.points())) {
      if (!b.thin()) {
        values.resize(values.size() + size_t(nodes), 0);
        continue;
      }
      const auto x = placesOf(m, b, c, u);
      double atPoints[4], atCorners[4];
      for (int p = 0; p < inSheet; ++p) {
        Vector3d normal = Vector3d::Zero();
        double half = 0;
        for (int i = 0; i < inSheet; ++i) {
          const double share = shareAt(inSheet, p, i);
          normal += share * normalAt(x, size_t(i)), half += share * heightAt(x, size_t(i)) / 2;
        }
        const Matrix3d Q = axesOn(normal);
        double sum = 0;
        for (int k = 0; k < b.through; ++k) {
          const float* s = stress.data() + 6 * (at + size_t(k * inSheet + p));
          Matrix3d sigma;
          sigma << s[0], s[3], s[5], s[3], s[1], s[4], s[5], s[4], s[2];
          const auto& [zeta, weight] = line[size_t(k)];
          sum += half * weight * Q.col(which.first).dot(sigma * Q.col(which.second)) * (which.bending ? half * zeta : 1);
        }
        atPoints[p] = sum;
      }
      toCorners(inSheet, atPoints, atCorners);
      for (int side = 0; side < 2; ++side) values.insert(values.end(), atCorners, atCorners + inSheet);
    }
  }
  return values;
}

void toSides(const mesh::Block& cells, const double* p, double* n) {
  const int inSheet = mesh::info(cells.type).nodes / 2, layers = cells.through;
  const auto line = gaussLine(layers);
  const double outer = line.back()[0], next = line[size_t(layers - 2)][0], beyond = (1 - outer) / (outer - next);
  double onSide[4];
  for (const bool upper : {false, true}) {
    const double *first = p + (upper ? layers - 1 : 0) * inSheet, *second = p + (upper ? layers - 2 : 1) * inSheet;
    for (int i = 0; i < inSheet; ++i) onSide[i] = first[i] + beyond * (first[i] - second[i]);
    double* to = n + (upper ? inSheet : 0);
    toCorners(inSheet, onSide, to);
  }
}

void toMiddle(const mesh::Block& b, const double* p, double* n) {
  const int inSheet = mesh::info(b.type).nodes / 2, low = (b.through - 1) / 2, high = b.through / 2;
  double inMiddle[4];
  for (int i = 0; i < inSheet; ++i) inMiddle[i] = (p[low * inSheet + i] + p[high * inSheet + i]) / 2;
  toCorners(inSheet, inMiddle, n), std::copy(n, n + inSheet, n + inSheet);
}

}  // namespace anvil::results
