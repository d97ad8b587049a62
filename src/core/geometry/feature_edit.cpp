#include "core/geometry/feature_edit.hpp"

#include <Eigen/Geometry>
#include <cmath>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/model/document.hpp"
#include "core/model/features.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"

namespace anvil::geometry {
namespace {

using Eigen::Vector3d;
using model::Entry, model::Feature, model::Quantities;

Vector3d inSpace(const model::Point& p, const Quantities& q) {
  Vector3d x = Vector3d::Zero();
  const auto v = q.list(p, Kind::length, "feature");
  for (size_t k = 0; k < std::min<size_t>(3, v.size()); ++k) x[Eigen::Index(k)] = v[k];
  return x;
}

class Sizes {
 public:
  explicit Sizes(const Quantities& q) : q_(q) {}
  std::vector<FeatureSize> all;

  void add(const std::string& key, const Entry& e, const Vector3d& base, const Vector3d& along) {
    if (!e.given()) return;
    const double v = q_(e, Kind::length, "feature");
    all.push_back({key, v, base, base + v * along, e, e.text.starts_with("=")});
  }
  /// Three lengths from a corner, each along its axis through the middle of the face it begins at.
  void box(const model::Point& at, const model::Point& size) {
    if (size.size() != 3) return;
    const Vector3d corner = inSpace(at, q_), lengths = inSpace(size, q_);
    for (int k = 0; k < 3; ++k) {
      Vector3d base = corner + lengths / 2;
      base[k] = corner[k];
      add("size " + std::to_string(k + 1), size[size_t(k)], base, Vector3d::Unit(k));
    }
  }
  /// The length of an axis, which is where its end lies.
  void axis(const model::Point& from, const model::Point& to) {
    const Vector3d a = inSpace(from, q_), b = inSpace(to, q_);
    bool formula = false;
    for (const auto& e : to) formula |= e.text.starts_with("=");
    all.push_back({"length", (b - a).norm(), a, b, {}, formula});
  }

 private:
  const Quantities& q_;
};

/// Square to an axis, as a radius is shown.
Vector3d squareTo(const Vector3d& axis) {
  const Vector3d a = axis.normalized();
  return (std::abs(a.x()) < 0.9 ? Vector3d(Vector3d::UnitX() - a.x() * a) : Vector3d(Vector3d::UnitY() - a.y() * a)).normalized();
}

Entry& entryOf(Feature& f, const std::string& key) {
  const auto part = [&](std::vector<Entry>& list) -> Entry& { return list.at(size_t(key.back() - '1')); };
  if (f.box && key.starts_with("size")) return part(f.box->size);
  if (f.plate && key.starts_with("size")) return part(f.plate->size);
  if (f.angle && key.starts_with("legs")) return part(f.angle->legs);
  if (f.angle && key == "thickness") return f.angle->thickness;
  if (f.angle && key == "length") return f.angle->length;
  if (f.cylinder && key == "radius") return f.cylinder->radius;
  if (f.ball && key == "radius") return f.ball->radius;
  if (f.tube && key == "inner") return f.tube->inner;
  if (f.tube && key == "outer") return f.tube->outer;
  if (f.extrude && key == "depth") return f.extrude->depth;
  throw Error("the feature has no " + key);
}

}  // namespace

std::vector<FeatureSize> sizesOf(const Feature& f, const Quantities& q) {
  Sizes s(q);
  if (f.box) s.box(f.box->at, f.box->size);
  if (f.plate) s.box(f.plate->at, f.plate->size);
  if (f.cylinder) {
    const Vector3d a = inSpace(f.cylinder->from, q), b = inSpace(f.cylinder->to, q);
    s.axis(f.cylinder->from, f.cylinder->to);
    s.add("radius", f.cylinder->radius, b, squareTo(b - a));
  }
  if (f.tube) {
    const Vector3d a = inSpace(f.tube->from, q), b = inSpace(f.tube->to, q), out = squareTo(b - a);
    s.axis(f.tube->from, f.tube->to);
    s.add("outer", f.tube->outer, b, out);
    s.add("inner", f.tube->inner, b, -out);
  }
  if (f.ball) s.add("radius", f.ball->radius, inSpace(f.ball->center, q), Vector3d::UnitX());
  if (f.angle && f.angle->legs.size() == 2) {
    const Vector3d at = inSpace(f.angle->at, q);
    s.add("legs 1", f.angle->legs[0], at, Vector3d::UnitX());
    s.add("legs 2", f.angle->legs[1], at, Vector3d::UnitY());
    s.add("length", f.angle->length, at, Vector3d::UnitZ());
    s.add("thickness", f.angle->thickness, at + Vector3d(q(f.angle->legs[0], Kind::length, "") * 0.7, 0, 0), Vector3d::UnitY());
  }
  if (f.profile && f.extrude) {
    Vector3d middle = inSpace(f.profile->start, q);
    for (const auto& piece : f.profile->path) middle += inSpace(piece.arc.empty() ? piece.line : piece.arc, q);
    middle /= double(f.profile->path.size() + 1);
    middle.z() = q.orElse(f.extrude->from, Kind::length, 0, "from");
    s.add("depth", f.extrude->depth, middle, Vector3d::UnitZ());
  }
  return s.all;
}

void setSize(Feature& f, const Quantities& q, const FeatureSize& size, const Entry& value) {
  const double v = q(value, Kind::length, "size");
  if (!(v > 0)) throw Error("a length of " + shortNumber(v) + " mm is none", {}, "Give a value above zero.");
  if (f.tube && size.key == "inner" && v >= q(f.tube->outer, Kind::length, "outer"))
    throw Error("the inner radius is not below the outer one", {}, "Give a smaller one.");
  if (f.tube && size.key == "outer" && v <= q(f.tube->inner, Kind::length, "inner"))
    throw Error("the outer radius is not above the inner one", {}, "Give a larger one.");
  if (size.key != "length" || f.angle) {
    entryOf(f, size.key) = value;
    return;
  }
  auto& from = f.cylinder ? f.cylinder->from : f.tube->from;
  auto& to = f.cylinder ? f.cylinder->to : f.tube->to;
  const Vector3d a = inSpace(from, q), b = a + v * (inSpace(to, q) - a).normalized();
  const auto in = conversion(q.unitOf(Kind::length), Kind::length);
  if (to.size() < 3) to.resize(3, 0);
  for (size_t k = 0; k < 3; ++k) {
    const double own = in.fromCore(b[Eigen::Index(k)]);
    if (!to[k].text.starts_with("=")) to[k] = std::round(own * 1e7) / 1e7;
  }
}

}  // namespace anvil::geometry
