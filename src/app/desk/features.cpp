#include "app/desk/features.hpp"

#include <Eigen/Geometry>
#include <algorithm>
#include <cmath>

#include "core/base/error.hpp"
#include "core/model/document.hpp"
#include "core/model/features.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"
#include "core/model/shapes.hpp"

namespace anvil::app {
namespace {

using Eigen::Vector3d;

/// Room that the part's first feature takes; a block of 20 mm where that cannot be told.
Eigen::AlignedBox3d roomOf(const model::Document& d, const model::Part& part) {
  Eigen::AlignedBox3d room;
  try {
    const model::Quantities q(d);
    const auto point = [&](const model::Point& p) {
      const auto v = q.list(p, Kind::length, "");
      return v.size() == 3 ? Vector3d(v[0], v[1], v[2]) : Vector3d(0, 0, 0);
    };
    if (!part.solid.empty()) {
      const auto& f = part.solid.front();
      if (f.box) room.extend(point(f.box->at)), room.extend(Vector3d(point(f.box->at) + point(f.box->size)));
      if (f.ball || f.cylinder || f.tube) {
        const double r = q(f.ball ? f.ball->radius : f.cylinder ? f.cylinder->radius : f.tube->outer, Kind::length, "");
        for (const auto& end : {point(f.ball       ? f.ball->center
                                      : f.cylinder ? f.cylinder->from
                                                   : f.tube->from),
                                point(f.ball       ? f.ball->center
                                      : f.cylinder ? f.cylinder->to
                                                   : f.tube->to)})
          room.extend(Vector3d(end.array() - r)), room.extend(Vector3d(end.array() + r));
      }
    }
  } catch (const Error&) {
    room.setEmpty();
  }
  if (room.isEmpty() || !(room.sizes().minCoeff() > 0)) room = {Vector3d(0, 0, 0), Vector3d(20, 20, 20)};
  return room;
}

model::Point written(const Vector3d& x) { return {x.x(), x.y(), x.z()}; }

}  // namespace

QStringList featureKinds() {
  return {"box", "plate", "angle", "cylinder", "tube", "ball", "profile", "bolt", "hole", "half", "imprint", "fillet", "chamfer"};
}

void addFeature(model::Document& d, const std::string& name, const QString& kind, const QStringList& picked) {
  auto* part = d.parts.find(name);
  if (!part) return;
  const auto room = roomOf(d, *part);
  const Vector3d low = room.min(), size = room.sizes(), middle = room.center();
  const bool first = part->solid.empty();
  // bodies stand on the top and reach a little into what is there, so that they are one with it
  const Vector3d foot(middle.x(), first ? 0 : room.max().y() - 0.1 * size.y(), middle.z()),
      head = foot + Vector3d(0, size.y(), 0);
  const double r = std::round(std::min(size.x(), size.z()) * 2.5) / 10;
  model::Feature f;
  if (kind == "box")
    f.box = first ? model::BoxFeature{{}, written(size)}
                  : model::BoxFeature{written({middle.x() - size.x() / 6, foot.y(), low.z()}),
                                      written({size.x() / 3, size.y(), size.z()})};
  if (kind == "cylinder") f.cylinder = model::CylinderFeature{written(foot), written(head), r};
  if (kind == "plate") {
    const Vector3d at = first ? Vector3d::Zero() : Vector3d(low.x(), foot.y(), low.z());
    const double w = std::min(size.x(), size.y());
    f.plate = model::PlateFeature{written(at),
                                  written({size.x(), size.y(), std::round(w) / 5}),
                                  {{{w / 4, w / 4}}, w / 12, {size.x() - w / 2, size.y() - w / 2}, {2, 2}}};
  }
  if (kind == "angle") {
    const double leg = std::round(size.x() / 2);
    f.angle = model::AngleFeature{written({low.x(), foot.y(), low.z()}), {leg, leg}, leg / 5, size.z(), leg / 10};
  }
  if (kind == "profile") {  // a corner piece, to begin with
    const double w = std::round(size.x() / 2), t = std::round(w) / 6;
    f.profile = model::Profile{};
    f.profile->start = {foot.x(), foot.y()};
    for (const auto& [x, y] : {std::pair{w, 0.}, {w, t}, {t, t}, {t, w}, {0., w}}) {
      model::PathPiece piece;
      piece.line = {foot.x() + x, foot.y() + y};
      f.profile->path.push_back(piece);
    }
    f.extrude = model::Extrude{};
    f.extrude->from = low.z(), f.extrude->depth = size.z();
  }
  if (kind == "bolt") f.bolt = model::BoltFeature{written(head), written(foot), r, {}, {}, {}, 0};
  if (kind == "half") f.half = model::HalfFeature{written(middle), {"x", {}}};
  if (kind == "imprint") {
    const auto own = [&](const QString& face) { return face.startsWith(QString::fromStdString(name) + "."); };
    const auto at = std::find_if(picked.begin(), picked.end(), own);
    const std::string base = first || part->solid.front().name.empty() ? "box" : part->solid.front().name,
                      face = first || part->solid.front().box ? ".back" : ".end";
    f.imprint = model::ImprintFeature{at == picked.end() ? base + face : at->toStdString().substr(name.size() + 1),
                                      written({middle.x(), middle.y(), room.max().z()}), r / 2};
  }
  if (kind == "tube") f.tube = model::TubeFeature{written(foot), written(head), r / 2, r};
  if (kind == "ball") f.ball = model::BallFeature{written(foot), r};
  if (kind == "hole") {
    f.how = "cut";
    f.cylinder = model::CylinderFeature{written({middle.x(), middle.y(), low.z() - 1}),
                                        written({middle.x(), middle.y(), room.max().z() + 1}),
                                        std::round(std::min(size.x(), size.y()) * 2.5) / 10};
  }
  if (kind == "fillet" || kind == "chamfer") {
    model::EdgeFeature edges;
    for (const auto& face : picked)
      if (face.startsWith(QString::fromStdString(name) + ".") && edges.between.size() < 2)
        edges.between.push_back(face.toStdString().substr(name.size() + 1));
    if (edges.between.empty() && !first) {
      const auto& base = part->solid.front();
      const std::string of = base.name.empty() ? base.box        ? "box"
                                                 : base.cylinder ? "cylinder"
                                                 : base.tube     ? "tube"
                                                 : base.angle    ? "angle"
                                                                 : "ball"
                                               : base.name;
      edges.between = {of + (base.box ? ".top" : ".end")};
    }
    edges.radius = std::round(size.minCoeff()) / 10;
    (kind == "fillet" ? f.fillet : f.chamfer) = edges;
  }
  const auto taken = [&](const std::string& n) {
    return std::any_of(part->solid.begin(), part->solid.end(), [&](const auto& g) { return g.name == n; });
  };
  f.name = kind.toStdString();
  for (int k = 2; taken(f.name); ++k) f.name = kind.toStdString() + " " + std::to_string(k);
  part->solid.push_back(f);
}

void removeFeature(model::Document& d, const std::string& name, int number) {
  auto* part = d.parts.find(name);
  if (!part || number < 1 || number > int(part->solid.size())) return;
  const auto gone = part->solid[size_t(number) - 1].name;
  part->solid.erase(part->solid.begin() + number - 1);
  if (!gone.empty())
    std::erase_if(part->faceSizes, [&](const auto& s) { return s.first == gone || s.first.starts_with(gone + "."); });
}

}  // namespace anvil::app
