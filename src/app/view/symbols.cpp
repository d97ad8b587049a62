// Symbols of what acts, as built: of fixed size on the screen, in the colour of their lane.
#include "app/view/overlay.hpp"

#include <Eigen/Geometry>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include "app/theme.hpp"
#include "app/view/model_view.hpp"
#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/lower/lower.hpp"
#include "core/mesh/cut.hpp"
#include "core/mesh/select.hpp"
#include "core/model/actions.hpp"
#include "core/model/bolts.hpp"
#include "core/model/carriers.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/quantities.hpp"

namespace anvil::app {

void Overlay::arrow(QPainter& p, QPointF tip, QPointF d, const QColor& c) {
  const double L = std::hypot(d.x(), d.y());
  if (L < 1e-9) return;
  d /= L;
  const QPointF side(-d.y(), d.x()), tail = tip - 22 * d;
  p.setPen(QPen(c, 2)), p.setBrush(c);
  p.drawLine(tail, tip - 6 * d);
  p.drawPolygon(QPolygonF{tip, tip - 8 * d + 4 * side, tip - 8 * d - 4 * side});
}

/// A moment or a turn: three quarters of a circle about its axis, of fixed size on the screen, with its sense.
void Overlay::turning(QPainter& p, const Eigen::Vector3d& at, const Eigen::Vector3d& axis, const QColor& c) {
  if (axis.norm() < 1e-12) return;
  const Eigen::Vector3d n = axis.normalized(), a = n.unitOrthogonal(), b = n.cross(a);
  const double radius = 20 * v_.canvas_->pixelLength();
  QPolygonF line;
  for (int i = 0; i <= 30; ++i) {
    const double t = 0.3 + 4.6 * i / 30;
    line << v_.canvas_->toScreen(at + radius * (std::cos(t) * a + std::sin(t) * b));
  }
  const QPointF tip = line.last(), before = line[27], d = tip - before;
  const double L = std::max(1e-9, std::hypot(d.x(), d.y()));
  const QPointF along = d / L, side(-along.y(), along.x());
  p.setPen(QPen(theme().raised, 4)), p.setBrush(Qt::NoBrush), p.drawPolyline(line);  // stands out from what lies behind
  p.setPen(QPen(c, 2)), p.drawPolyline(line);
  if (L < 1) return;  // seen along its plane
  p.setBrush(c), p.drawPolygon(QPolygonF{tip + 6 * along, tip - 3 * along + 4.5 * side, tip - 3 * along - 4.5 * side});
}

void Overlay::symbols(QPainter& p) {
  const auto& d = v_.document_.document();
  const auto& mesh = v_.scene_->header().mesh;
  if (v_.drawn_.sweep) return;
  const bool solid = v_.scene_->solid();
  const auto onScreen = [&](const Eigen::Vector3d& direction) {  // unit direction as it lies on the screen
    const QPointF t =
        v_.canvas_->toScreen(v_.canvas_->pixelLength() * 40 * direction) - v_.canvas_->toScreen(Eigen::Vector3d::Zero());
    const double L = std::hypot(t.x(), t.y());
    return L > 4 ? t / L : QPointF(0, 0);
  };
  const auto axis = [&](const std::string& a) {
    return onScreen(Eigen::Vector3d::Unit(a == "x" || a == "r" ? 0 : a == "z" && solid ? 2 : 1));
  };
  // a few places along the named edges and faces, with outward direction on the screen
  const auto along = [&](const std::vector<std::string>& on, const auto& draw) {
    for (const auto& name : on) {
      const auto& spot = v_.spotOf(QString::fromStdString(name));
      const size_t n = spot.facets.size(), every = std::max<size_t>(1, n / 5), few = std::max<size_t>(1, spot.lines.size() / 3);
      for (size_t i = every / 2; i < n; i += every) {
        if (v_.isHidden(mesh.blocks[size_t(spot.facets[i].block)].part)) continue;
        Eigen::Vector3d middle, normal;
        v_.scene_->facetFrame(spot.facets[i], middle, normal);
        if (solid && normal.dot(v_.canvas_->viewer()) < -0.05) continue;  // on the far side
        draw(v_.canvas_->toScreen(middle), onScreen(normal));
      }
      for (size_t i = few / 2; i < spot.lines.size(); i += few)
        draw(v_.canvas_->toScreen((v_.scene_->place(spot.lines[i][0]) + v_.scene_->place(spot.lines[i][1])) / 2), QPointF(0, 0));
      for (int node : spot.nodes) draw(v_.canvas_->toScreen(v_.scene_->place(node)), QPointF(0, 0));
      for (size_t k = 0; k < v_.scene_->header().rigid.size(); ++k) {
        const auto& body = v_.scene_->header().rigid[k];
        if (body.name != name) continue;
        QPointF center(0, 0);
        for (const auto& x : v_.scene_->rigidPath(k)) center += v_.canvas_->toScreen(x);
        draw(center / double(v_.scene_->rigidPath(k).size()), QPointF(0, 0));
      }
    }
  };
  std::map<std::string, Eigen::Vector3d> points;    // of carriers
  for (const auto& [name, carrier] : d.carriers) {  // threads from the faces to the point
    const QColor c = laneColor("carriers");
    std::vector<QPointF> ends;
    Eigen::Vector3d point = Eigen::Vector3d::Zero();
    double count = 0;
    const auto add = [&](const Eigen::Vector3d& middle) {
      point += middle, count += 1, ends.push_back(v_.canvas_->toScreen(middle));
    };
    for (const auto& on : carrier.on) {
      const auto& spot = v_.spotOf(QString::fromStdString(on));
      for (const auto& f : spot.facets) {
        Eigen::Vector3d middle, normal;
        v_.scene_->facetFrame(f, middle, normal);
        add(middle);
      }
      for (const auto& line : spot.lines) add((v_.scene_->place(line[0]) + v_.scene_->place(line[1])) / 2);
      for (int n : spot.nodes) add(v_.scene_->place(n));
    }
    if (count == 0) continue;
    point /= count;
    if (!carrier.at.empty()) try {
        const model::Quantities q(d);
        const auto at = q.list(carrier.at, Kind::length, "");
        for (size_t k = 0; k < at.size() && k < 3; ++k) point[Eigen::Index(k)] = at[k];
      } catch (const Error&) {
        continue;  // readiness says what is wrong
      }
    points[name] = point;
    const QPointF at = v_.canvas_->toScreen(point);
    p.setPen(QPen(c, 1, carrier.hold == "rigid" ? Qt::SolidLine : Qt::DotLine));
    const size_t every = std::max<size_t>(1, ends.size() / 24);
    for (size_t i = 0; i < ends.size(); i += every) p.drawLine(at, ends[i]);
    p.setPen(QPen(theme().raised, 1.5)), p.setBrush(c), p.drawEllipse(at, 5, 5);
  }
  for (const auto& [name, b] : d.bolts) {  // the axis, a ring where the shank is cut, arrows that draw it together
    const QColor c = laneColor("bolts");
    if (b.beam) {  // a shaft from head to nut, a bar across each end
      const auto middle = [&](const std::vector<std::string>& faces) {
        std::vector<mesh::Facet> facets;
        for (const auto& on : faces) {
          const auto& spot = v_.spotOf(QString::fromStdString(on));
          facets.insert(facets.end(), spot.facets.begin(), spot.facets.end());
        }
        Eigen::Vector3d sum = Eigen::Vector3d::Zero(), at, normal;
        double area = 0;
        for (const auto& f : facets) {
          const double a = mesh::areaOf(mesh, f).norm();
          v_.scene_->facetFrame(f, at, normal);
          sum += a * at, area += a;
        }
        return area > 0 ? std::optional<QPointF>(v_.canvas_->toScreen(sum / area)) : std::nullopt;
      };
      const auto head = middle(b.beam->head), nut = middle(b.beam->nut);
      if (!head || !nut) continue;
      const QPointF way = *nut - *head, side = QPointF(-way.y(), way.x()) / std::max(1., std::hypot(way.x(), way.y())) * 9;
      for (const auto& [color, width] : {std::pair{theme().raised, 6.}, {c, 3.}}) {
        p.setPen(QPen(color, width, Qt::SolidLine, Qt::RoundCap));
        p.drawLine(*head, *nut), p.drawLine(*head - side, *head + side), p.drawLine(*nut - side, *nut + side);
      }
      continue;
    }
    for (const auto& one : analysis::boltsOf(name, b, mesh)) {
      std::vector<mesh::Facet> shank;
      for (const auto& on : one.on) {
        const auto& spot = v_.spotOf(QString::fromStdString(on));
        shank.insert(shank.end(), spot.facets.begin(), spot.facets.end());
      }
      const auto round = mesh::cylinderOf(mesh, shank);
      if (shank.empty() || !round.fits() || v_.isHidden(mesh.blocks[size_t(shank.front().block)].part)) continue;
      double half = 0;
      for (int n : mesh.nodesOf(shank)) half = std::max(half, std::abs(round.axis.dot(mesh.x[size_t(n)] - round.centre)));
      const double share = b.cut.number.value_or(0.5);
      const Eigen::Vector3d u = round.axis.unitOrthogonal(), v = round.axis.cross(u),
                            at = round.centre + (2 * share - 1) * half * round.axis;
      QPolygonF ring;
      for (int k = 0; k <= 32; ++k)
        ring << v_.canvas_->toScreen(
            at + 1.25 * round.radius * (std::cos(k * std::numbers::pi / 16) * u + std::sin(k * std::numbers::pi / 16) * v));
      p.setBrush(Qt::NoBrush);
      p.setPen(QPen(theme().raised, 4)), p.drawPolyline(ring);
      p.setPen(QPen(c, 2)), p.drawPolyline(ring);
      const QPointF middle = v_.canvas_->toScreen(at), way = onScreen(round.axis), side(-way.y(), way.x());
      for (const double end : {-1., 1.}) {
        const QPointF tail = v_.canvas_->toScreen(at + end * 1.6 * half * round.axis), tip = middle + (tail - middle) * 0.45,
                      back = end * way;
        p.setPen(QPen(theme().raised, 4)), p.drawLine(tail, tip);
        p.setPen(QPen(c, 2)), p.drawLine(tail, tip);
        p.setBrush(c), p.drawPolygon(QPolygonF{tip, tip + 9 * back + 4 * side, tip + 9 * back - 4 * side}),
            p.setBrush(Qt::NoBrush);
      }
    }
  }
  for (const auto& [name, s] : d.supports) {
    const QColor c = laneColor("supports");
    const auto& held = s.fix;
    along(s.on, [&](QPointF at, QPointF out) {
      for (const auto& direction : held) {
        const QPointF a = direction == "normal" ? -out : axis(direction);
        const double sign = a.x() * out.x() + a.y() * out.y() > 0 ? -1 : 1;
        if (a.isNull()) continue;  // along the line of sight
        const QPointF dir = sign * a, side(-dir.y(), dir.x()), base = at - 11 * dir;
        p.setPen(QPen(c, 1.6)), p.setBrush(Qt::NoBrush);
        p.drawLine(at, base), p.drawLine(base + 6 * side, base - 6 * side);
        for (int k = -1; k <= 1; ++k) p.drawLine(base + 5. * k * side, base + 5. * k * side - 4 * dir - 3 * side);
      }
    });
  }
  // where things that act on carriers and rigid parts stand
  const auto placesOf = [&](const std::vector<std::string>& on) {
    std::vector<Eigen::Vector3d> places;
    for (const auto& name : on) {
      if (const auto it = points.find(name); it != points.end()) places.push_back(it->second);
      for (size_t k = 0; k < v_.scene_->header().rigid.size(); ++k)
        if (v_.scene_->header().rigid[k].name == name) {
          Eigen::Vector3d middle = Eigen::Vector3d::Zero();
          for (const auto& x : v_.scene_->rigidPath(k)) middle += x / double(v_.scene_->rigidPath(k).size());
          places.push_back(middle);
        }
    }
    return places;
  };
  const auto axisOf = [](const std::string& word) {
    return Eigen::Vector3d(Eigen::Vector3d::Unit(word.ends_with("x") ? 0 : word.ends_with("y") ? 1 : 2));
  };
  const auto backwards = [](const model::Course& course) {
    const auto negative = [](const model::Entry& e) {
      return e.number ? *e.number < 0 : e.text.starts_with("=-") || e.text.starts_with("-");
    };
    bool is = negative(course.value);
    for (const auto& [step, stage] : course.stages) is |= negative(stage.value);
    return is;
  };
  for (const auto& [name, m] : d.motions) {
    const QColor c = laneColor("motions");
    if (m.along.axis.starts_with("turn")) {
      Eigen::Vector3d about = axisOf(m.along.axis);
      if (m.axis.given()) try {
          const auto v = model::Quantities(d).inSpace(m.axis, "", "");
          about = {v[0], v[1], v[2]};
        } catch (const Error&) {
          continue;  // readiness says what is wrong
        }
      auto places = placesOf(m.on);
      if (places.empty()) try {  // faces turn about a point of the axis
          const model::Quantities q(d);
          const auto x = q.list(m.about, Kind::length, "");
          places.emplace_back(!x.empty() ? x[0] : 0, x.size() > 1 ? x[1] : 0, x.size() > 2 ? x[2] : 0);
        } catch (const Error&) {
          continue;
        }
      for (const auto& at : places) turning(p, at, (backwards(m.course) ? -1 : 1) * about, c);
      continue;
    }
    const auto direction = m.along.vector.empty() ? axis(m.along.axis) : QPointF(1, 0);
    const double sign = backwards(m.course) ? -1 : 1;
    for (const auto& at : placesOf(m.on))
      if (points.contains(m.on.front())) arrow(p, v_.canvas_->toScreen(at) + 26 * sign * direction, sign * direction, c);
    along(m.on, [&](QPointF at, QPointF out) {
      const bool normal = m.along.axis == "normal";
      const QPointF dir = sign * (normal ? out : direction);
      arrow(p, dir.x() * out.x() + dir.y() * out.y() > 0 ? at + 26 * dir : at, dir, c);
    });
  }
  for (const auto& [name, l] : d.loads) {
    const QColor c = laneColor("loads");
    const double sense = backwards(l.course) ? -1 : 1;
    for (const auto& at : placesOf(l.on)) {
      if (l.kind == "moment")
        turning(p, at, sense * (l.along.axis.empty() ? Eigen::Vector3d(Eigen::Vector3d::UnitZ()) : axisOf(l.along.axis)), c);
      else if (!l.on.empty() && points.contains(l.on.front()))
        arrow(p, v_.canvas_->toScreen(at) + 26 * sense * axis(l.along.axis), sense * axis(l.along.axis), c);
    }
    if (l.kind == "moment") continue;
    along(l.on, [&](QPointF at, QPointF out) {
      const QPointF dir = sense * (l.kind == "pressure" ? -out : axis(l.along.axis));
      arrow(p, dir.x() * out.x() + dir.y() * out.y() > 0 ? at + 26 * dir : at, dir, c);
    });
  }
}

}  // namespace anvil::app
