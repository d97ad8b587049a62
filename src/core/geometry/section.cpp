#include "core/geometry/section.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <numbers>

#include "core/base/error.hpp"
#include "core/base/quadrature.hpp"
#include "core/base/text.hpp"
#include "core/model/quantities.hpp"
#include "core/model/slender.hpp"

namespace anvil::geometry {
namespace {

using Eigen::Vector2d;
using model::Quantities;

struct Wall {
  double left, bottom, right, top;
  double width() const { return right - left; }
  double height() const { return top - bottom; }
  double area() const { return width() * height(); }
};

constexpr int roundCorners = 48;  ///< of a circle's outline
constexpr int layers = 12;        ///< of fibre pairs over a section's height or width

/// Two by two fibres in every piece of a box (Gauss), pieces no larger than `step`.
void addBox(std::vector<Fibre>& fibres, const Wall& box, const Vector2d& step, bool flat) {
  static const auto rule = gaussLine(2);
  const int rows = std::max(1, int(std::ceil(box.height() / step.y() - 1e-9))),
            columns = flat ? 1 : std::max(1, int(std::ceil(box.width() / step.x() - 1e-9)));
  const double h = box.height() / rows, w = box.width() / columns;
  for (int r = 0; r < rows; ++r)
    for (const auto& [u, wu] : rule)
      for (int c = 0; c < columns; ++c)
        for (const auto& [a, wa] : rule)
          fibres.push_back({box.bottom + h * (r + (1 + u) / 2), box.left + w * (c + (1 + a) / 2), h * w * wu * wa / 4});
}

/// Rings of fibres from one radius to another.
void addRings(std::vector<Fibre>& fibres, double inner, double outer) {
  static const auto rule = gaussLine(2);
  const int rings = std::max(1, int(std::ceil((outer - inner) / outer * 6))), spokes = rings > 2 ? 32 : 64;
  const double d = (outer - inner) / rings;
  for (int k = 0; k < rings; ++k)
    for (const auto& [s, w] : rule) {
      const double r = inner + d * (k + (1 + s) / 2);
      for (int i = 0; i < spokes; ++i) {
        const double angle = 2 * std::numbers::pi * (i + 0.5) / spokes;
        fibres.push_back({r * std::sin(angle), r * std::cos(angle), 2 * std::numbers::pi / spokes * r * w / 2 * d});
      }
    }
}

double turned(const Vector2d& a, const Vector2d& b, const Vector2d& c) {
  return (b - a).x() * (c - a).y() - (b - a).y() * (c - a).x();
}

bool cross(const Vector2d& a, const Vector2d& b, const Vector2d& c, const Vector2d& d) {
  return turned(a, b, c) * turned(a, b, d) < 0 && turned(c, d, a) * turned(c, d, b) < 0;
}

/// Triangles of a polygon that does not cross itself, anticlockwise, by cutting off its ears (G. Meisters, Am. Math. Monthly 82,
/// 1975).
std::vector<std::array<Vector2d, 3>> triangles(std::vector<Vector2d> p) {
  std::vector<std::array<Vector2d, 3>> list;
  while (p.size() > 2) {
    const size_t n = p.size();
    size_t ear = n;
    for (size_t i = 0; i < n && ear == n; ++i) {
      const auto &a = p[(i + n - 1) % n], &b = p[i], &c = p[(i + 1) % n];
      bool is = turned(a, b, c) >= 0;
      for (const auto& x : p)
        is = is && (&x == &a || &x == &b || &x == &c || turned(a, b, x) <= 0 || turned(b, c, x) <= 0 || turned(c, a, x) <= 0);
      if (is) ear = i;
    }
    if (ear == n) ear = 0;
    list.push_back({p[(ear + n - 1) % n], p[ear], p[(ear + 1) % n]});
    p.erase(p.begin() + std::ptrdiff_t(ear));
  }
  return list;
}

/// Fibres at the middles of a triangle's sides, exact to second order; larger triangles are parted.
void addTriangle(std::vector<Fibre>& fibres, const Vector2d& a, const Vector2d& b, const Vector2d& c, double step) {
  const double area = turned(a, b, c) / 2;
  if (area <= 0) return;
  const Vector2d ab = (a + b) / 2, bc = (b + c) / 2, ca = (c + a) / 2;
  if (std::max({(b - a).norm(), (c - b).norm(), (a - c).norm()}) > step) {
    addTriangle(fibres, a, ab, ca, step), addTriangle(fibres, ab, b, bc, step), addTriangle(fibres, ca, bc, c, step);
    return addTriangle(fibres, ab, bc, ca, step);
  }
  for (const auto& x : {ab, bc, ca}) fibres.push_back({x.y(), x.x(), area / 3});
}

std::vector<Vector2d> circle(double radius) {
  std::vector<Vector2d> loop;
  for (int i = 0; i < roundCorners; ++i)
    loop.emplace_back(radius * std::cos(2 * std::numbers::pi * i / roundCorners),
                      radius * std::sin(2 * std::numbers::pi * i / roundCorners));
  return loop;
}

/// Torsion constant of a rectangle, within 0.5 % (R. Roark, Formulas for Stress and Strain, 1965).
double rectangleTorsion(double a, double b) {
  if (a < b) std::swap(a, b);
  const double r = b / a;
  return a * b * b * b * (1. / 3 - 0.21 * r * (1 - r * r * r * r / 12));
}

/// Reads one section.
class Reader {
 public:
  Reader(const model::Section& section, bool flat, const Quantities& q, const std::string& path)
      : s_(section), flat_(flat), q_(q), path_(path) {}

  SectionShape read() {
    if (s_.form == "rectangle")
      rectangle();
    else if (s_.form == "round" || s_.form == "tube")
      circular();
    else if (s_.form == "polygon")
      polygon();
    else
      walled();
    return finish();
  }

 private:
  double positive(const model::Entry& e, const char* what, const char* key) const {
    const std::string place = path_ + "/" + key;
    if (!e.given()) throw Error(std::string("the section has no ") + what, place, "Give it, for example \"20 mm\".");
    const double v = q_(e, Kind::length, place);
    if (!(v > 0)) throw Error(std::string("the ") + what + " is " + shortNumber(v) + " mm", place, "Give a value above zero.");
    return v;
  }
  double width() const { return positive(s_.width, "width", "width"); }
  double height() const { return positive(s_.height, "height", "height"); }
  double wall() const { return positive(s_.wall, "wall thickness", "wall"); }

  void boxes(const std::vector<Wall>& list) {
    for (const auto& b : list) {
      addBox(out_.fibres, b, Vector2d(out_.width, out_.height) / layers, flat_);
      const double a = std::max(b.width(), b.height()), t = std::min(b.width(), b.height());
      out_.torsion += list.size() == 1 ? rectangleTorsion(a, t) : a * t * t * t / 3;
    }
  }

  void rectangle() {
    const double w = width(), h = height();
    out_.width = w, out_.height = h;
    boxes({{-w / 2, -h / 2, w / 2, h / 2}});
    out_.shearUp = out_.shearAcross = 5. / 6 * w * h;
    out_.loops = {{{-w / 2, -h / 2}, {w / 2, -h / 2}, {w / 2, h / 2}, {-w / 2, h / 2}}};
  }

  void circular() {
    const double outer = positive(s_.diameter, "diameter", "diameter") / 2;
    double inner = 0;
    if (s_.form == "tube") {
      inner = outer - wall();
      if (inner <= 0)
        throw Error("the wall is " + shortNumber(outer - inner) + " mm thick, the tube's radius " + shortNumber(outer) + " mm",
                    path_ + "/wall", "Make it thinner, or take the form \"round\".");
    }
    addRings(out_.fibres, inner, outer);
    out_.torsion = std::numbers::pi / 2 * (std::pow(outer, 4) - std::pow(inner, 4));
    const double m = inner / outer, k = (1 + m * m) * (1 + m * m);
    out_.shearUp = out_.shearAcross = 6 * k / (7 * k + 20 * m * m) * std::numbers::pi * (outer * outer - inner * inner);
    out_.loops = {circle(outer)};
    if (inner > 0) out_.loops.push_back(circle(inner)), std::reverse(out_.loops[1].begin(), out_.loops[1].end());
    out_.width = out_.height = 2 * outer;
  }

  /// I, channel and angle: of thin rectangles.
  void walled() {
    const double w = width(), h = height(), t = wall(),
                 f = s_.form == "angle" || !s_.flange.given() ? t : positive(s_.flange, "flange thickness", "flange");
    const bool angle = s_.form == "angle", I = s_.form == "I";
    if (t >= w || (angle ? f : 2 * f) >= h)
      throw Error("the walls fill the section", path_ + (t >= w ? "/wall" : "/flange"),
                  "Make them thinner, or take the form \"rectangle\".");
    out_.width = w, out_.height = h;
    if (angle) {
      boxes({{0, 0, w, t}, {0, t, t, h}});
      out_.shearUp = 5. / 6 * t * h, out_.shearAcross = 5. / 6 * t * w;
      out_.loops = {{{0, 0}, {w, 0}, {w, t}, {t, t}, {t, h}, {0, h}}};
      return;
    }
    const double web = I ? (w - t) / 2 : 0;  // the web's left side
    boxes({{0, 0, w, f}, {web, f, web + t, h - f}, {0, h - f, w, h}});
    out_.shearUp = t * h, out_.shearAcross = 5. / 6 * 2 * f * w;
    if (I)
      out_.loops = {{{0, 0},
                     {w, 0},
                     {w, f},
                     {web + t, f},
                     {web + t, h - f},
                     {w, h - f},
                     {w, h},
                     {0, h},
                     {0, h - f},
                     {web, h - f},
                     {web, f},
                     {0, f}}};
    else
      out_.loops = {{{0, 0}, {w, 0}, {w, f}, {t, f}, {t, h - f}, {w, h - f}, {w, h}, {0, h}}};
  }

  void polygon() {
    const std::string place = path_ + "/points";
    std::vector<Vector2d> p;
    for (size_t i = 0; i < s_.points.size(); ++i) {
      const auto v = q_.list(s_.points[i], Kind::length, place + "/" + std::to_string(i + 1));
      if (v.size() != 2)
        throw Error("a point of a section needs two coordinates", place + "/" + std::to_string(i + 1), "Write [across, up].");
      p.emplace_back(v[0], v[1]);
    }
    const size_t n = p.size();
    if (n < 3) throw Error("the polygon has " + std::to_string(n) + " points", place, "Give three or more.");
    for (size_t i = 0; i < n; ++i)
      for (size_t k = i + 1; k < n; ++k)
        if (cross(p[i], p[(i + 1) % n], p[k], p[(k + 1) % n]))
          throw Error(
              "the section crosses itself: its sides " + std::to_string(i + 1) + " and " + std::to_string(k + 1) + " meet", place,
              "List the corners in order, once round.");
    double area = 0;
    for (size_t i = 0; i < n; ++i) area += turned({0, 0}, p[i], p[(i + 1) % n]) / 2;
    if (area < 0) std::reverse(p.begin(), p.end());
    Vector2d low = p[0], high = p[0];
    for (const auto& x : p) low = low.cwiseMin(x), high = high.cwiseMax(x);
    out_.width = high.x() - low.x(), out_.height = high.y() - low.y();
    if (std::abs(area) < 1e-9 * (high - low).squaredNorm())
      throw Error("the section has no area", place, "List the corners in order, once round.");
    for (const auto& t : triangles(p)) addTriangle(out_.fibres, t[0], t[1], t[2], (high - low).norm() / layers);
    out_.shearUp = out_.shearAcross = 5. / 6 * std::abs(area);
    out_.loops = {p};
  }

  /// Moments of the area; the section is put with its middle at the shift.
  SectionShape finish() {
    Vector2d shift = Vector2d::Zero();
    if (!s_.shift.empty()) {
      const auto v = q_.list(s_.shift, Kind::length, path_ + "/shift");
      if (v.size() != 2) throw Error("the shift needs two lengths", path_ + "/shift", "Write [across, up].");
      shift = {v[0], v[1]};
    }
    if (flat_ && shift.x() != 0)
      throw Error("a section of a plane model cannot be shifted across the plane", path_ + "/shift", "Write [0, up].");
    Vector2d middle = Vector2d::Zero();
    for (const auto& f : out_.fibres) out_.area += f.area, middle += f.area * Vector2d(f.across, f.up);
    middle /= out_.area;
    for (auto& f : out_.fibres) {
      f.across -= middle.x(), f.up -= middle.y();
      out_.inertia += f.area * Vector2d(f.up * f.up, f.across * f.across), out_.mixed += f.area * f.up * f.across;
      f.across += shift.x(), f.up += shift.y();
    }
    if (s_.torsion.given()) {
      out_.torsion = q_(s_.torsion, Kind::number, path_ + "/torsion");
      if (!(out_.torsion > 0))
        throw Error("the torsion constant is " + shortNumber(out_.torsion) + " mm^4", path_ + "/torsion",
                    "Give a value above zero.");
    }
    if (out_.torsion == 0) out_.torsion = std::pow(out_.area, 4) / (40 * out_.inertia.sum());  // Saint-Venant's estimate
    for (auto& loop : out_.loops)
      for (auto& x : loop) x += shift - middle;
    out_.middle = shift;
    addCorners();
    if (flat_) foldFlat();
    return std::move(out_);
  }

  /// Fibres without area at the outline's corners: what happens at the section's surface.
  void addCorners() {
    for (const auto& loop : out_.loops)
      for (size_t i = 0; i < loop.size(); i += loop.size() == roundCorners ? 4 : 1)
        out_.fibres.push_back({loop[i].y(), loop[i].x(), 0});
  }

  /// In the plane fibres of one height are one.
  void foldFlat() {
    std::map<double, double> rows;
    for (const auto& f : out_.fibres) rows[std::round(f.up / out_.height * 1e9)] += f.area;
    out_.fibres.clear();
    for (const auto& [up, area] : rows) out_.fibres.push_back({up * out_.height / 1e9, 0, area});
    out_.mixed = 0;
  }

  const model::Section& s_;
  bool flat_;
  const Quantities& q_;
  std::string path_;
  SectionShape out_;
};

}  // namespace

bool SectionShape::round() const {
  return std::abs(inertia.x() - inertia.y()) + std::abs(mixed) < 1e-9 * inertia.sum() && loops[0].size() == roundCorners;
}

SectionShape sectionShape(const model::Section& section, bool flat, const Quantities& quantities, const std::string& path) {
  return Reader(section, flat, quantities, path).read();
}

}  // namespace anvil::geometry
