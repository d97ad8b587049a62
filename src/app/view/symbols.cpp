// Symbols of what acts, as built: of fixed size on the screen, in the colour of their lane.
#include "app/view/overlay.hpp"

#include <Eigen/Geometry>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <optional>

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

/// Draws what acts, kind by kind.
class Overlay::Symbols {
 public:
  Symbols(Overlay& overlay, QPainter& painter)
      : o_(overlay), v_(overlay.v_), p_(painter), d_(v_.document_.document()), mesh_(v_.scene_->header().mesh) {}

  void draw() {
    for (const auto& [name, carrier] : d_.carriers) threads(name, carrier);
    for (const auto& [name, b] : d_.bolts) {
      if (b.beam)
        shaft(*b.beam);
      else
        for (const auto& one : analysis::boltsOf(name, b, mesh_)) cutShank(one.on, b.cut.number.value_or(0.5));
    }
    for (const auto& [name, s] : d_.supports) hold(s);
    for (const auto& [name, m] : d_.motions) move(m);
    for (const auto& [name, l] : d_.loads) push(l);
  }

 private:
  using Vector3d = Eigen::Vector3d;

  QPointF onScreen(const Vector3d& x) const { return v_.canvas_->toScreen(x); }
  /// A unit direction as it lies on the screen; nothing along the line of sight.
  QPointF directionOnScreen(const Vector3d& direction) const {
    const QPointF t = onScreen(v_.canvas_->pixelLength() * 40 * direction) - onScreen(Vector3d::Zero());
    const double L = std::hypot(t.x(), t.y());
    return L > 4 ? t / L : QPointF(0, 0);
  }
  QPointF axis(const std::string& a) const {
    return directionOnScreen(Vector3d::Unit(a == "x" || a == "r" ? 0 : a == "z" && v_.scene_->solid() ? 2 : 1));
  }
  static Vector3d axisOf(const std::string& word) {
    return Vector3d::Unit(word.ends_with("x") ? 0 : word.ends_with("y") ? 1 : 2);
  }
  static bool isBackwards(const model::Course& course) {
    const auto negative = [](const model::Entry& e) {
      return e.number ? *e.number < 0 : e.text.starts_with("=-") || e.text.starts_with("-");
    };
    bool is = negative(course.value);
    for (const auto& [step, stage] : course.stages) is |= negative(stage.value);
    return is;
  }
  std::vector<mesh::Facet> facetsOf(const std::vector<std::string>& on) const {
    std::vector<mesh::Facet> facets;
    for (const auto& name : on) {
      const auto& spot = v_.spotOf(QString::fromStdString(name));
      facets.insert(facets.end(), spot.facets.begin(), spot.facets.end());
    }
    return facets;
  }
  Vector3d middleOfBody(size_t k) const {
    Vector3d middle = Vector3d::Zero();
    const auto& path = v_.scene_->rigidPath(k);
    for (const auto& x : path) middle += x / double(path.size());
    return middle;
  }

  /// A few places along the named edges and faces, with outward direction on the screen.
  template <class Draw>
  void along(const std::vector<std::string>& on, const Draw& draw) const {
    const bool solid = v_.scene_->solid();
    for (const auto& name : on) {
      const auto& spot = v_.spotOf(QString::fromStdString(name));
      const size_t n = spot.facets.size(), every = std::max<size_t>(1, n / 5), few = std::max<size_t>(1, spot.lines.size() / 3);
      for (size_t i = every / 2; i < n; i += every) {
        if (v_.isHidden(mesh_.blocks[size_t(spot.facets[i].block)].part)) continue;
        Vector3d middle, normal;
        v_.scene_->facetFrame(spot.facets[i], middle, normal);
        if (solid && normal.dot(v_.canvas_->viewer()) < -0.05) continue;  // on the far side
        draw(onScreen(middle), directionOnScreen(normal));
      }
      for (size_t i = few / 2; i < spot.lines.size(); i += few)
        draw(onScreen((v_.scene_->place(spot.lines[i][0]) + v_.scene_->place(spot.lines[i][1])) / 2), QPointF(0, 0));
      for (int node : spot.nodes) draw(onScreen(v_.scene_->place(node)), QPointF(0, 0));
      for (size_t k = 0; k < v_.scene_->header().rigid.size(); ++k) {
        if (v_.scene_->header().rigid[k].name != name) continue;
        QPointF center(0, 0);
        for (const auto& x : v_.scene_->rigidPath(k)) center += onScreen(x);
        draw(center / double(v_.scene_->rigidPath(k).size()), QPointF(0, 0));
      }
    }
  }

  /// Where things that act on carriers and rigid parts stand.
  std::vector<Vector3d> placesOf(const std::vector<std::string>& on) const {
    std::vector<Vector3d> places;
    for (const auto& name : on) {
      if (const auto it = points_.find(name); it != points_.end()) places.push_back(it->second);
      if (const auto* spot = mesh_.spot(name)) places.push_back(v_.scene_->place(spot->node));
      for (size_t k = 0; k < v_.scene_->header().rigid.size(); ++k)
        if (v_.scene_->header().rigid[k].name == name) places.push_back(middleOfBody(k));
    }
    return places;
  }

  /// Of a carrier: from its faces to its point.
  void threads(const std::string& name, const model::Carrier& carrier) {
    const QColor c = laneColor("carriers");
    std::vector<QPointF> ends;
    Vector3d point = Vector3d::Zero();
    const auto add = [&](const Vector3d& middle) { point += middle, ends.push_back(onScreen(middle)); };
    for (const auto& on : carrier.on) {
      const auto& spot = v_.spotOf(QString::fromStdString(on));
      for (const auto& f : spot.facets) {
        Vector3d middle, normal;
        v_.scene_->facetFrame(f, middle, normal);
        add(middle);
      }
      for (const auto& line : spot.lines) add((v_.scene_->place(line[0]) + v_.scene_->place(line[1])) / 2);
      for (int n : spot.nodes) add(v_.scene_->place(n));
    }
    if (ends.empty()) return;
    point /= double(ends.size());
    if (const auto* end = mesh_.spot(carrier.end)) point = v_.scene_->place(end->node);
    if (!carrier.at.empty()) try {
        const auto at = model::Quantities(d_).list(carrier.at, Kind::length, "");
        for (size_t k = 0; k < at.size() && k < 3; ++k) point[Eigen::Index(k)] = at[k];
      } catch (const Error&) {
        return;  // readiness says what is wrong
      }
    points_[name] = point;
    const QPointF at = onScreen(point);
    p_.setPen(QPen(c, 1, carrier.hold == "rigid" ? Qt::SolidLine : Qt::DotLine));
    const size_t every = std::max<size_t>(1, ends.size() / 24);
    for (size_t i = 0; i < ends.size(); i += every) p_.drawLine(at, ends[i]);
    p_.setPen(QPen(theme().raised, 1.5)), p_.setBrush(c), p_.drawEllipse(at, 5, 5);
  }

  std::optional<QPointF> middleOf(const std::vector<std::string>& faces) const {
    Vector3d sum = Vector3d::Zero(), at, normal;
    double area = 0;
    for (const auto& f : facetsOf(faces)) {
      const double a = mesh::areaOf(mesh_, f).norm();
      v_.scene_->facetFrame(f, at, normal);
      sum += a * at, area += a;
    }
    return area > 0 ? std::optional<QPointF>(onScreen(sum / area)) : std::nullopt;
  }
  /// Of a bolt that is a beam: from head to nut, a bar across each end.
  void shaft(const model::BoltBeam& beam) {
    const auto head = middleOf(beam.head), nut = middleOf(beam.nut);
    if (!head || !nut) return;
    const QPointF way = *nut - *head, side = QPointF(-way.y(), way.x()) / std::max(1., std::hypot(way.x(), way.y())) * 9;
    for (const auto& [color, width] : {std::pair{theme().raised, 6.}, {laneColor("bolts"), 3.}}) {
      p_.setPen(QPen(color, width, Qt::SolidLine, Qt::RoundCap));
      p_.drawLine(*head, *nut), p_.drawLine(*head - side, *head + side), p_.drawLine(*nut - side, *nut + side);
    }
  }
  /// A ring where a shank is cut, arrows along its axis that draw it together.
  void cutShank(const std::vector<std::string>& on, double share) {
    const QColor c = laneColor("bolts");
    const auto shank = facetsOf(on);
    const auto round = mesh::cylinderOf(mesh_, shank);
    if (shank.empty() || !round.fits() || v_.isHidden(mesh_.blocks[size_t(shank.front().block)].part)) return;
    double half = 0;
    for (int n : mesh_.nodesOf(shank)) half = std::max(half, std::abs(round.axis.dot(mesh_.x[size_t(n)] - round.centre)));
    const Vector3d u = round.axis.unitOrthogonal(), v = round.axis.cross(u),
                   at = round.centre + (2 * share - 1) * half * round.axis;
    QPolygonF ring;
    for (int k = 0; k <= 32; ++k)
      ring << onScreen(at +
                       1.25 * round.radius * (std::cos(k * std::numbers::pi / 16) * u + std::sin(k * std::numbers::pi / 16) * v));
    p_.setBrush(Qt::NoBrush);
    p_.setPen(QPen(theme().raised, 4)), p_.drawPolyline(ring);
    p_.setPen(QPen(c, 2)), p_.drawPolyline(ring);
    const QPointF middle = onScreen(at), way = directionOnScreen(round.axis), side(-way.y(), way.x());
    for (const double end : {-1., 1.}) {
      const QPointF tail = onScreen(at + end * 1.6 * half * round.axis), tip = middle + (tail - middle) * 0.45, back = end * way;
      p_.setPen(QPen(theme().raised, 4)), p_.drawLine(tail, tip);
      p_.setPen(QPen(c, 2)), p_.drawLine(tail, tip);
      p_.setBrush(c), p_.drawPolygon(QPolygonF{tip, tip + 9 * back + 4 * side, tip + 9 * back - 4 * side}),
          p_.setBrush(Qt::NoBrush);
    }
  }

  void hold(const model::Support& s) {
    const QColor c = laneColor("supports");
    along(s.on, [&](QPointF at, QPointF out) {
      for (const auto& direction : s.fix) {
        if (direction == "all" || direction.starts_with("turn")) {  // a block that keeps it from turning
          p_.setPen(QPen(c, 1.6)), p_.setBrush(direction == "all" ? QBrush(c) : Qt::NoBrush);
          p_.drawRect(QRectF(at - QPointF(6, 6), QSizeF(12, 12)));
          continue;
        }
        const QPointF a = direction == "normal" ? -out : axis(direction);
        const double sign = a.x() * out.x() + a.y() * out.y() > 0 ? -1 : 1;
        if (a.isNull()) continue;  // along the line of sight
        const QPointF dir = sign * a, side(-dir.y(), dir.x()), base = at - 11 * dir;
        p_.setPen(QPen(c, 1.6)), p_.setBrush(Qt::NoBrush);
        if (s.edge == "hinged") p_.drawEllipse(at, 3.5, 3.5);
        p_.drawLine(s.edge == "hinged" ? QPointF(at - 3.5 * dir) : at, base), p_.drawLine(base + 6 * side, base - 6 * side);
        for (int k = -1; k <= 1; ++k) p_.drawLine(base + 5. * k * side, base + 5. * k * side - 4 * dir - 3 * side);
      }
    });
  }

  void arrowAt(QPointF at, QPointF out, QPointF dir, const QColor& c) {
    o_.arrow(p_, dir.x() * out.x() + dir.y() * out.y() > 0 ? at + 26 * dir : at, dir, c);
  }
  /// On the point of a carrier, which has no face to stand off.
  void arrowsOnPoints(const std::vector<std::string>& on, QPointF dir, const QColor& c) {
    if (on.empty() || !points_.contains(on.front())) return;
    for (const auto& at : placesOf(on)) o_.arrow(p_, onScreen(at) + 26 * dir, dir, c);
  }

  void move(const model::Motion& m) {
    const QColor c = laneColor("motions");
    const double sign = isBackwards(m.course) ? -1 : 1;
    if (m.along.axis.starts_with("turn")) try {
        const model::Quantities q(d_);
        Vector3d about = axisOf(m.along.axis);
        if (m.axis.given()) {
          const auto v = q.inSpace(m.axis, "", "");
          about = {v[0], v[1], v[2]};
        }
        auto places = placesOf(m.on);
        if (places.empty()) {  // faces turn about a point of the axis
          const auto x = q.list(m.about, Kind::length, "");
          places.emplace_back(!x.empty() ? x[0] : 0, x.size() > 1 ? x[1] : 0, x.size() > 2 ? x[2] : 0);
        }
        for (const auto& at : places) o_.turning(p_, at, sign * about, c);
        return;
      } catch (const Error&) {
        return;  // readiness says what is wrong
      }
    const auto direction = m.along.vector.empty() ? axis(m.along.axis) : QPointF(1, 0);
    arrowsOnPoints(m.on, sign * direction, c);
    along(m.on, [&](QPointF at, QPointF out) { arrowAt(at, out, sign * (m.along.axis == "normal" ? out : direction), c); });
  }

  void push(const model::Load& l) {
    const QColor c = laneColor("loads");
    const double sense = isBackwards(l.course) ? -1 : 1;
    if (l.kind == "moment") {
      auto places = placesOf(l.on);
      if (places.empty())  // along edges of sheets
        for (const auto& name : l.on)
          if (const auto& facets = v_.spotOf(QString::fromStdString(name)).facets; !facets.empty()) {
            Vector3d middle, normal;
            v_.scene_->facetFrame(facets[facets.size() / 2], middle, normal);
            places.push_back(middle);
          }
      for (const auto& at : places)
        o_.turning(p_, at, sense * (l.along.axis.empty() ? Vector3d(Vector3d::UnitZ()) : axisOf(l.along.axis)), c);
      return;
    }
    arrowsOnPoints(l.on, sense * axis(l.along.axis), c);
    along(l.on,
          [&](QPointF at, QPointF out) { arrowAt(at, out, sense * (l.kind == "pressure" ? -out : axis(l.along.axis)), c); });
  }

  Overlay& o_;
  ModelView& v_;
  QPainter& p_;
  const model::Document& d_;
  const mesh::Mesh& mesh_;
  std::map<std::string, Vector3d> points_;  ///< of carriers
};

void Overlay::symbols(QPainter& p) {
  if (!v_.drawn_.sweep) Symbols(*this, p).draw();
}

}  // namespace anvil::app
