#include "core/results/fields.hpp"

#include <Eigen/Eigenvalues>
#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>
#include <map>
#include <numbers>
#include <optional>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/results/corners.hpp"
#include "core/results/sheet_fields.hpp"
#include "core/results/slender_fields.hpp"

namespace anvil::results {
namespace {

std::string lower(std::string s) {
  std::transform(s.begin(), s.end(), s.begin(), [](unsigned char c) { return std::tolower(c); });
  return s;
}

constexpr SheetPlace elsewhere[] = {SheetPlace::middle, SheetPlace::upper, SheetPlace::lower};

/// Names of the three directions of a tensor.
std::array<std::string, 3> axesOf(const Header& h) {
  if (h.space == "axisymmetric") return {"r", "z", "hoop"};
  return {"x", "y", "z"};
}
/// Stored components of a tensor: 11, 22, 33, 12 and in space 23, 13.
size_t componentsOf(const Header& h) { return h.mesh.dim == 3 ? 6 : 4; }
std::vector<std::string> shearsOf(const Header& h) {
  const auto a = axesOf(h);
  if (h.mesh.dim == 2) return {a[0] + a[1]};
  return {"xy", "yz", "xz"};
}

/// Scalar from stored components.
double scalarOf(const float* s, size_t components, const std::string& kind) {
  const double x = s[0], y = s[1], z = s[2], xy = s[3], yz = components == 6 ? s[4] : 0, xz = components == 6 ? s[5] : 0;
  if (kind == "mises")
    return std::sqrt(0.5 * ((x - y) * (x - y) + (y - z) * (y - z) + (z - x) * (z - x)) + 3 * (xy * xy + yz * yz + xz * xz));
  if (kind == "mean") return (x + y + z) / 3;
  Eigen::Matrix3d m;
  m << x, xy, xz, xy, y, yz, xz, yz, z;
  const Eigen::Vector3d e = Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d>(m, Eigen::EigenvaluesOnly).eigenvalues();
  return kind == "greatest" ? e[2] : e[0];
}

}  // namespace

const std::string& placeWords(SheetPlace place) {
  static const std::map<SheetPlace, std::string> words{{SheetPlace::bothSides, ""},
                                                       {SheetPlace::upper, " on the upper side"},
                                                       {SheetPlace::middle, " in the middle"},
                                                       {SheetPlace::lower, " on the lower side"}};
  return words.at(place);
}

std::string withoutPlace(const FieldInfo& f) { return f.name.substr(0, f.name.size() - placeWords(f.place).size()); }

/// Of a file that holds everything.
static std::vector<FieldInfo> allFields(const Header& h) {
  const auto axes = axesOf(h);
  std::vector<FieldInfo> list{{"von Mises stress", Kind::stress, false, false},
                              {"equivalent plastic strain", Kind::number, false, false},
                              {"displacement", Kind::length, false, true}};
  for (int k = 0; k < h.mesh.dim; ++k) list.push_back({"displacement " + axes[size_t(k)], Kind::length, true, true});
  for (const auto& a : axes) list.push_back({"stress " + a, Kind::stress, true, false});
  for (const auto& s : shearsOf(h)) list.push_back({"shear stress " + s, Kind::stress, true, false});
  list.insert(list.end(), {{"mean stress", Kind::stress, true, false},
                           {"greatest principal stress", Kind::stress, true, false},
                           {"least principal stress", Kind::stress, true, false}});
  for (const auto& a : axes) list.push_back({"strain " + a, Kind::number, true, false});
  for (const auto& s : shearsOf(h)) list.push_back({"shear strain " + s, Kind::number, true, false});
  list.insert(list.end(), {{"strain energy density", Kind::energyDensity, false, false},
                           {"contact pressure", Kind::stress, false, true},
                           {"contact status", Kind::number, false, true},
                           {"contact gap", Kind::length, true, true},
                           {"contact slip", Kind::length, false, true},
                           {"friction traction", Kind::stress, false, true},
                           {"reaction", Kind::force, false, true}});
  for (int k = 0; k < h.mesh.dim; ++k) list.push_back({"reaction " + axes[size_t(k)], Kind::force, true, true});
  const auto usual = list;  // of thin parts on their sides
  for (const auto& f : slenderFields(h.mesh)) list.push_back(f);
  if (!hasThinCells(h.mesh)) return list;
  for (const auto& f : sheetFields(h.mesh)) list.push_back(f);
  for (const auto place : elsewhere)
    for (const auto& f : usual)
      if (!f.nodal) list.push_back({f.name + placeWords(place), f.kind, f.isSigned, false, place});
  return list;
}

/// What a field is worked out from, where that can be left out of a file.
static std::string sourceOf(const FieldInfo& f) {
  const auto name = withoutPlace(f);
  if (name == "strain energy density") return "strain energy";
  if (name == "equivalent plastic strain") return "plastic strain";
  if (name.starts_with("reaction")) return "reaction";
  if (name.starts_with("strain ") || name.starts_with("shear strain ")) return "strain";
  if (isSlenderField(name)) return {};
  return isSheetField(name) || name.find("stress") != std::string::npos ? "stress" : "";
}

std::vector<FieldInfo> fieldList(const Header& h) {
  auto list = allFields(h);
  std::erase_if(
      list, [&](const FieldInfo& f) { return std::find(h.leftOut.begin(), h.leftOut.end(), sourceOf(f)) != h.leftOut.end(); });
  return list;
}

FieldInfo fieldNamed(const Header& h, const std::string& name) {
  std::vector<std::string> known;
  for (const auto& f : fieldList(h)) {
    if (lower(f.name) == lower(name)) return f;
    known.push_back(f.name);
  }
  const auto near = nearest(name, known);
  throw Error("there is no field '" + name + "'", {},
              near.empty() ? "Known: " + inProse(known) + "." : "Did you mean '" + near + "'?");
}

std::vector<double> pointField(const Reader& reader, const std::string& name, size_t row) {
  const auto& h = reader.header();
  const auto direct = [&](const char* set) {
    const auto v = reader.field(set, row);
    return std::vector<double>(v.begin(), v.end());
  };
  if (name == "equivalent plastic strain") return direct("plastic strain");
  if (name == "strain energy density") return direct("strain energy");
  const bool strain = name.find("strain") != std::string::npos;
  const size_t C = componentsOf(h);
  const auto tensors = reader.field(strain ? "strain" : "stress", row);
  std::vector<double> v(tensors.size() / C);
  int index = -1;
  const auto axes = axesOf(h);
  const auto shears = shearsOf(h);
  for (size_t i = 0; i < shears.size(); ++i)
    if (name.starts_with("shear") && name.ends_with(" " + shears[i])) index = int(3 + i);
  for (size_t i = 0; i < 3; ++i)
    if (name == (strain ? "strain " : "stress ") + axes[i]) index = int(i);
  const std::string kind = name.starts_with("von")        ? "mises"
                           : name.starts_with("mean")     ? "mean"
                           : name.starts_with("greatest") ? "greatest"
                                                          : "least";
  for (size_t i = 0; i < v.size(); ++i)
    v[i] = index >= 0 ? double(tensors[C * i + size_t(index)]) : scalarOf(tensors.data() + C * i, C, kind);
  return v;
}

namespace {

/// Two layers of points at ±1/√3 taken to ±1.
void layers(int count, double* n) {
  const double g = std::sqrt(3.);
  for (int i = 0; i < count; ++i) {
    const double mean = (n[i] + n[count + i]) / 2, half = (n[count + i] - n[i]) / 2 * g;
    n[i] = mean - half, n[count + i] = mean + half;
  }
}

}  // namespace

void extrapolate(const mesh::Block& cells, const double* p, double* n) {
  if (cells.thin()) return toSides(cells, p, n);
  const auto& cell = mesh::info(cells.type);
  switch (cells.type) {
    case mesh::Cell::quad4:
    case mesh::Cell::quad8:
      cornersOfSquare(p, n);
      break;
    case mesh::Cell::tri6:
      cornersOfSimplex(3, 2. / 3, 1. / 6, p, n);
      break;
    case mesh::Cell::tet10:
      cornersOfSimplex(4, (5 + 3 * std::sqrt(5.)) / 20, (5 - std::sqrt(5.)) / 20, p, n);
      break;
    case mesh::Cell::hex8:
    case mesh::Cell::hex20:
      cornersOfSquare(p, n), cornersOfSquare(p + 4, n + 4), layers(4, n);
      break;
    case mesh::Cell::wedge6:
    case mesh::Cell::wedge15:
      cornersOfSimplex(3, 2. / 3, 1. / 6, p, n), cornersOfSimplex(3, 2. / 3, 1. / 6, p + 3, n + 3), layers(3, n);
  }
  for (const auto& e : cell.edge)
    if (cell.quadratic) n[e[2]] = (n[e[0]] + n[e[1]]) / 2;
}

static std::optional<ContactColumn> contactColumnOf(const std::string& field) {
  static const std::map<std::string, ContactColumn> columns{{"contact pressure", ContactColumn::pressure},
                                                            {"contact status", ContactColumn::status},
                                                            {"contact gap", ContactColumn::gap},
                                                            {"contact slip", ContactColumn::slip},
                                                            {"friction traction", ContactColumn::friction}};
  const auto it = columns.find(field);
  return it == columns.end() ? std::nullopt : std::optional(it->second);
}

/// The largest gap that any contact sees at an increment.
static double farGap(const Reader& reader, size_t row) {
  double most = 0;
  for (size_t k = 0; k < reader.header().contacts.size(); ++k) {
    const auto s = reader.contact(k, row);
    for (size_t i = size_t(ContactColumn::gap); i < s.size(); i += contactColumns) most = std::max(most, double(s[i]));
  }
  return most;
}

std::vector<double> contactAreas(const Reader& reader, size_t row, const std::vector<int>& nodes) {
  std::vector<double> area(reader.header().mesh.x.size(), 0), result;
  for (size_t k = 0; k < reader.header().contacts.size(); ++k) {
    const auto s = reader.contact(k, row);
    const auto& on = reader.header().contacts[k].nodes;
    for (size_t i = 0; i < on.size(); ++i) area[size_t(on[i])] += s[contactColumns * i + size_t(ContactColumn::area)];
  }
  for (int n : nodes) result.push_back(area[size_t(n)]);
  return result;
}

static std::vector<double> nodalDirect(const Reader& reader, const std::string& name, size_t row) {
  const auto& h = reader.header();
  if (name == "thickness" || name == "thinning")
    return sheetThickness(h.mesh, reader.field("displacement", row), name == "thinning");
  std::vector<double> v(h.mesh.x.size(), 0);
  if (const auto column = contactColumnOf(name)) {
    const auto which = size_t(*column);
    const bool gap = *column == ContactColumn::gap, status = *column == ContactColumn::status;
    if (gap) std::fill(v.begin(), v.end(), farGap(reader, row));  // elsewhere nothing is near
    for (size_t k = 0; k < h.contacts.size(); ++k) {
      const auto s = reader.contact(k, row);
      const auto& nodes = h.contacts[k].nodes;
      std::vector<bool> carrier(v.size(), false);
      for (size_t i = 0; i < nodes.size(); ++i) {
        const double one = std::abs(s[contactColumns * i + which]) * (gap && s[contactColumns * i + which] < 0 ? -1 : 1);
        double& all = v[size_t(nodes[i])];
        all = gap ? std::min(all, one) : std::max(all, one);
        carrier[size_t(nodes[i])] = true;
      }
      for (const auto& block : h.mesh.blocks)  // mid-side nodes between two carriers
        for (size_t cell = 0; mesh::info(block.type).quadratic && cell < block.count(); ++cell)
          for (const auto& e : mesh::info(block.type).edge) {
            const int* n = block.cell(cell);
            const auto p = size_t(n[e[0]]), q = size_t(n[e[1]]);
            if (carrier[p] && carrier[q]) v[size_t(n[e[2]])] = status ? std::min(v[p], v[q]) : (v[p] + v[q]) / 2;
          }
    }
    return v;
  }
  const auto u = reader.field(name.starts_with("reaction") ? "reaction" : "displacement", row);
  const auto axes = axesOf(h);
  const auto D = size_t(h.mesh.dim);
  int component = -1;
  for (size_t k = 0; k < D; ++k)
    if (name.ends_with(" " + axes[k])) component = int(k);
  for (size_t i = 0; i < v.size(); ++i) {
    double sum = 0;
    for (size_t k = 0; k < D; ++k) sum += double(u[D * i + k]) * u[D * i + k];
    v[i] = component >= 0 ? u[D * i + size_t(component)] : std::sqrt(sum);
  }
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
  if (isSlenderField(f.name)) {
    for (const auto& b : h.mesh.blocks) result.resize(result.size() + b.nodes.size(), 0);
    return result;
  }
  if (isSheetField(f.name)) return sectionForces(h.mesh, f.name, reader.field("displacement", row), reader.field("stress", row));
  const auto p = pointField(reader, withoutPlace(f), row);
  size_t at = 0;
  for (const auto& b : h.mesh.blocks) {
    const auto& info = mesh::info(b.type);
    for (size_t c = 0; c < b.count(); ++c, at += size_t(b.points())) {
      double n[20];
      if (b.thin() && f.place == SheetPlace::middle)
        toMiddle(b, p.data() + at, n);
      else
        extrapolate(b, p.data() + at, n);
      double *const low = n, *const high = n + info.nodes / 2;
      if (b.thin() && f.place == SheetPlace::upper) std::copy(high, n + info.nodes, low);
      if (b.thin() && f.place == SheetPlace::lower) std::copy(low, n + info.nodes / 2, high);
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
  if (f.name.starts_with("equivalent plastic strain") || f.name.starts_with("von Mises stress") ||
      f.name.starts_with("strain energy density"))
    for (auto& v : sum) v = std::max(v, 0.);  // extrapolation must not make a magnitude negative
  addSlenderNodes(reader, f.name, row, sum);
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
  s.area = weight;
  s.weightedMean = weight > 0 ? weighted / weight : s.mean;
  return s;
}

std::vector<double> nodalAreas(const Header& h, const std::vector<mesh::Facet>& facets, const std::vector<int>& nodes) {
  std::vector<double> area(h.mesh.x.size(), 0);
  for (const auto& f : facets) {
    const auto n = h.mesh.nodesOf(f);
    const int corners = h.mesh.cornersOf(f);
    const auto at = [&](size_t i) { return h.mesh.x[size_t(n[i])]; };
    if (corners > 2) {  // equal shares for the corners of the flat face (negative shares of serendipity corners help nobody)
      const double whole =
          (corners == 3 ? (at(1) - at(0)).cross(at(2) - at(0)) : (at(2) - at(0)).cross(at(3) - at(1))).norm() / 2;
      const double perMiddle = int(n.size()) > corners ? whole * (corners == 3 ? 1. / 3 : 1. / 6) : 0,
                   perCorner = (whole - perMiddle * double(int(n.size()) - corners)) / corners;
      for (size_t i = 0; i < n.size(); ++i) area[size_t(n[i])] += int(i) < corners ? perCorner : perMiddle;
      continue;
    }
    const Eigen::Vector3d a = at(0), b = at(1);
    const double length = (b - a).norm();
    const auto scale = [&](const Eigen::Vector3d& x) { return h.space == "axisymmetric" ? 2 * std::numbers::pi * x.x() : 1; };
    if (n.size() == 3) {
      area[size_t(n[0])] += length / 6 * scale(a), area[size_t(n[1])] += length / 6 * scale(b),
          area[size_t(n[2])] += length * 4 / 6 * scale((a + b) / 2);
    } else {
      area[size_t(n[0])] += length / 6 * (2 * scale(a) + scale(b)), area[size_t(n[1])] += length / 6 * (scale(a) + 2 * scale(b));
    }
  }
  std::vector<double> result;
  for (int n : nodes) result.push_back(area[size_t(n)]);
  return result;
}

}  // namespace anvil::results
