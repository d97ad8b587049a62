#include "core/results/fields.hpp"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <numbers>

#include "core/base/error.hpp"
#include "core/base/text.hpp"

namespace anvil::results {
namespace {

std::string lower(std::string s) {
  std::transform(s.begin(), s.end(), s.begin(), [](unsigned char c) { return std::tolower(c); });
  return s;
}

struct Axes {
  std::string a, b, c;
};
Axes axesOf(const Header& h) { return h.space == "axisymmetric" ? Axes{"r", "z", "hoop"} : Axes{"x", "y", "z"}; }

/// Scalar from the four stored components [11, 22, 33, 12].
double scalarOf(const float* s, const std::string& kind) {
  const double x = s[0], y = s[1], z = s[2], xy = s[3];
  if (kind == "mises") return std::sqrt(0.5 * ((x - y) * (x - y) + (y - z) * (y - z) + (z - x) * (z - x)) + 3 * xy * xy);
  if (kind == "mean") return (x + y + z) / 3;
  const double middle = (x + y) / 2, radius = std::hypot((x - y) / 2, xy);
  if (kind == "greatest") return std::max(middle + radius, z);
  if (kind == "least") return std::min(middle - radius, z);
  return 0;
}

}  // namespace

std::vector<FieldInfo> fieldList(const Header& h) {
  const auto [a, b, c] = axesOf(h);
  const std::string shear = a + b;
  return {{"von Mises stress", "MPa", false, false},
          {"equivalent plastic strain", "", false, false},
          {"displacement", "mm", false, true},
          {"displacement " + a, "mm", true, true},
          {"displacement " + b, "mm", true, true},
          {"stress " + a, "MPa", true, false},
          {"stress " + b, "MPa", true, false},
          {"stress " + c, "MPa", true, false},
          {"shear stress " + shear, "MPa", true, false},
          {"mean stress", "MPa", true, false},
          {"greatest principal stress", "MPa", true, false},
          {"least principal stress", "MPa", true, false},
          {"strain " + a, "", true, false},
          {"strain " + b, "", true, false},
          {"strain " + c, "", true, false},
          {"shear strain " + shear, "", true, false},
          {"strain energy density", "MJ/m3", false, false},
          {"contact pressure", "MPa", false, true},
          {"reaction", "N", false, true}};
}

FieldInfo fieldNamed(const Header& h, const std::string& name) {
  std::vector<std::string> known;
  for (const auto& f : fieldList(h)) {
    if (lower(f.name) == lower(name)) return f;
    known.push_back(f.name);
  }
  const auto near = nearest(name, known);
  throw Error("there is no field '" + name + "'", {}, near.empty() ? "Known: " + inProse(known) + "." : "Did you mean '" + near + "'?");
}

std::vector<double> pointField(const Reader& reader, const std::string& name, size_t row) {
  const auto& h = reader.header();
  const auto [a, b, c] = axesOf(h);
  const auto direct = [&](const char* set) {
    const auto v = reader.field(set, row);
    return std::vector<double>(v.begin(), v.end());
  };
  if (name == "equivalent plastic strain") return direct("plastic strain");
  if (name == "strain energy density") return direct("strain energy");
  const bool strain = name.find("strain") != std::string::npos;
  const auto tensors = reader.field(strain ? "strain" : "stress", row);
  const std::vector<std::pair<std::string, int>> component{{" " + a, 0}, {" " + b, 1}, {" " + c, 2}};
  std::vector<double> v(tensors.size() / 4);
  int index = -1;
  if (name.starts_with("shear")) index = 3;
  else
    for (const auto& [end, i] : component)
      if (name == (strain ? "strain" : "stress") + end) index = i;
  const std::string kind = name.starts_with("von") ? "mises" : name.starts_with("mean") ? "mean" : name.starts_with("greatest") ? "greatest" : "least";
  for (size_t i = 0; i < v.size(); ++i) v[i] = index >= 0 ? double(tensors[4 * i + size_t(index)]) : scalarOf(tensors.data() + 4 * i, kind);
  return v;
}

void extrapolate(mesh::Cell type, const double* p, double* n) {
  // corners lie at ±√3 in the bilinear interpolation through the points
  static const double a = 1 + std::sqrt(3.) / 2, b = -0.5, c = 1 - std::sqrt(3.) / 2;
  for (int i = 0; i < 4; ++i) n[i] = a * p[i] + b * (p[(i + 1) % 4] + p[(i + 3) % 4]) + c * p[(i + 2) % 4];
  if (type == mesh::Cell::quad8)
    for (int i = 0; i < 4; ++i) n[4 + i] = (n[i] + n[(i + 1) % 4]) / 2;
}

static std::vector<double> nodalDirect(const Reader& reader, const std::string& name, size_t row) {
  const auto& h = reader.header();
  const auto [a, b, c] = axesOf(h);
  std::vector<double> v(h.mesh.x.size(), 0);
  if (name == "contact pressure") {
    for (size_t k = 0; k < h.contacts.size(); ++k) {
      const auto s = reader.contact(k, row);
      const auto& nodes = h.contacts[k].nodes;
      std::vector<bool> carrier(v.size(), false);
      for (size_t i = 0; i < nodes.size(); ++i) v[size_t(nodes[i])] = std::max(v[size_t(nodes[i])], double(s[5 * i])), carrier[size_t(nodes[i])] = true;
      for (const auto& block : h.mesh.blocks) {  // mid-side nodes between two carriers
        if (block.type != mesh::Cell::quad8) continue;
        for (size_t cell = 0; cell < block.count(); ++cell)
          for (int i = 0; i < 4; ++i) {
            const int* n = block.cell(cell);
            const auto p = size_t(n[i]), q = size_t(n[(i + 1) % 4]);
            if (carrier[p] && carrier[q]) v[size_t(n[4 + i])] = (v[p] + v[q]) / 2;
          }
      }
    }
    return v;
  }
  const auto u = reader.field(name == "reaction" ? "reaction" : "displacement", row);
  const int component = name.ends_with(" " + a) ? 0 : name.ends_with(" " + b) ? 1 : -1;
  for (size_t i = 0; i < v.size(); ++i) v[i] = component >= 0 ? u[2 * i + size_t(component)] : std::hypot(u[2 * i], u[2 * i + 1]);
  return v;
}

std::vector<double> cellField(const Reader& reader, const std::string& wanted, size_t row) {
  const auto& h = reader.header();
  const auto f = fieldNamed(h, wanted);
  std::vector<double> result;
  if (f.nodal) {
    const auto v = nodalDirect(reader, f.name, row);
    for (const auto& b : h.mesh.blocks)
      for (int n : b.nodes) result.push_back(v[size_t(n)]);
    return result;
  }
  const auto p = pointField(reader, f.name, row);
  size_t at = 0;
  for (const auto& b : h.mesh.blocks) {
    const auto& info = mesh::info(b.type);
    for (size_t c = 0; c < b.count(); ++c, at += size_t(info.points)) {
      double n[8];
      extrapolate(b.type, p.data() + at, n);
      result.insert(result.end(), n, n + info.nodes);
    }
  }
  return result;
}

std::vector<double> nodalField(const Reader& reader, const std::string& wanted, size_t row) {
  const auto& h = reader.header();
  const auto f = fieldNamed(h, wanted);
  if (f.nodal) return nodalDirect(reader, f.name, row);
  const auto cells = cellField(reader, f.name, row);
  std::vector<double> sum(h.mesh.x.size(), 0);
  std::vector<int> count(h.mesh.x.size(), 0);
  size_t at = 0;
  for (const auto& b : h.mesh.blocks)  // nodes belong to one part, so this averages within the part
    for (int n : b.nodes) sum[size_t(n)] += cells[at++], ++count[size_t(n)];
  for (size_t i = 0; i < sum.size(); ++i)
    if (count[i]) sum[i] /= count[i];
  if (f.name == "equivalent plastic strain" || f.name == "von Mises stress" || f.name == "strain energy density")
    for (auto& v : sum) v = std::max(v, 0.);  // extrapolation must not make a magnitude negative
  return sum;
}

Statistics statistics(const std::vector<double>& v, const std::vector<double>& w) {
  Statistics s;
  s.count = v.size();
  if (v.empty()) return s;
  s.least = *std::min_element(v.begin(), v.end()), s.greatest = *std::max_element(v.begin(), v.end());
  double weight = 0, weighted = 0;
  for (size_t i = 0; i < v.size(); ++i) {
    s.sum += v[i];
    if (i < w.size()) weight += w[i], weighted += w[i] * v[i];
  }
  s.mean = s.sum / double(v.size());
  s.weightedMean = weight > 0 ? weighted / weight : s.mean;
  return s;
}

std::vector<double> nodalAreas(const Header& h, const std::vector<mesh::Facet>& facets, const std::vector<int>& nodes) {
  std::vector<double> area(h.mesh.x.size(), 0);
  for (const auto& f : facets) {
    const auto n = h.mesh.nodesOf(f);
    const auto& a = h.mesh.x[size_t(n[0])];
    const auto& b = h.mesh.x[size_t(n[1])];
    const double length = (b - a).norm();
    const auto scale = [&](const Eigen::Vector3d& x) { return h.space == "axisymmetric" ? 2 * std::numbers::pi * x.x() : 1; };
    if (n.size() == 3) {
      area[size_t(n[0])] += length / 6 * scale(a), area[size_t(n[1])] += length / 6 * scale(b), area[size_t(n[2])] += length * 4 / 6 * scale((a + b) / 2);
    } else {
      area[size_t(n[0])] += length / 6 * (2 * scale(a) + scale(b)), area[size_t(n[1])] += length / 6 * (scale(a) + 2 * scale(b));
    }
  }
  std::vector<double> result;
  for (int n : nodes) result.push_back(area[size_t(n)]);
  return result;
}

}  // namespace anvil::results
