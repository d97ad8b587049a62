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
#include "core/mesh/select.hpp"
#include "core/model/quantities.hpp"

namespace anvil::app {
namespace {
QString number(double v) { return QString::fromStdString(shortNumber(v, 4)); }
}  // namespace

Overlay::Overlay(ModelView& view) : QWidget(view.canvas_), v_(view) {
  setAttribute(Qt::WA_TransparentForMouseEvents);
  setAttribute(Qt::WA_NoSystemBackground);
}

void Overlay::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  if (!v_.drawn_.sweep && !v_.scene_->solid()) rigidBodies(p);
  if (!v_.drawn_.sweep) marked(p);
  if (v_.scene_->solid()) triad(p);
  if (v_.showsResult_) extremes(p), legend(p);
  else symbols(p);
  pins(p);
  box(p);
  words(p);
}

/// The box while it is drawn, and the nodes that were in it.
void Overlay::box(QPainter& p) {
  p.setPen(Qt::NoPen), p.setBrush(theme().accent);
  for (int n : v_.boxed_)
    if (size_t(n) < v_.scene_->header().mesh.x.size()) p.drawEllipse(v_.canvas_->toScreen(v_.scene_->place(n)), 2.2, 2.2);
  if (v_.box_.isEmpty()) return;
  QColor fill = theme().accent;
  fill.setAlpha(28);
  p.setPen(QPen(theme().accent, 1.2, Qt::DashLine)), p.setBrush(fill), p.drawRect(v_.box_);
}

QRectF Overlay::legendBar() const { return QRectF(width() - 90, 34, 16, std::max(120, height() - 110)); }

int Overlay::legendEnd(const QPointF& at) const {
  if (!v_.showsResult_ || at.x() < legendBar().left()) return 0;
  return std::abs(at.y() - legendBar().top()) < 11 ? 1 : std::abs(at.y() - legendBar().bottom()) < 11 ? -1 : 0;
}

void Overlay::legend(QPainter& p) {
  const auto& r = v_.results_;
  const double low = r.low(), high = r.high();
  const QRectF bar = legendBar();
  QColor back = theme().paper;  // readable whatever lies behind
  back.setAlpha(215);
  p.fillRect(QRectF(width() - 146, 4, 146, height() - 50), back);
  const auto y = [&](double value) { return bar.bottom() - (value - low) / (high - low) * bar.height(); };
  for (int i = 0; i < int(bar.height()); ++i) {
    double t = 1 - i / bar.height();
    if (v_.drawn_.bands) t = std::min(9., std::floor(t * 10)) / 9;
    p.fillRect(QRectF(bar.left(), bar.top() + i, bar.width(), 1.5), r.isSigned() ? twoEnded(t) : heat(t));
  }
  // histogram of the nodal values, to the left of the bar
  std::vector<double> count(40, 0);
  for (const auto& b : v_.scene_->header().mesh.blocks)
    for (int n : b.nodes)
      if (size_t(n) < r.values().size()) {
        const double t = (r.values()[size_t(n)] - low) / (high - low);
        if (t >= 0 && t <= 1) count[size_t(std::min(39., t * 40))] += 1;
      }
  double most = 1;
  for (double& c : count) c = std::sqrt(c), most = std::max(most, c);
  p.setPen(Qt::NoPen), p.setBrush(theme().faint);
  const double step = bar.height() / 40;
  for (size_t i = 0; i < count.size(); ++i)
    p.drawRect(QRectF(bar.left() - 4 - 44 * count[i] / most, bar.bottom() - double(i + 1) * step + 0.5, 44 * count[i] / most, step - 1));
  p.setPen(theme().ink);
  for (int i = 0; i <= 5; ++i) {
    const double value = low + (high - low) * i / 5;
    const QRectF at(bar.right() + 5, y(value) - 9, 72, 18);
    p.drawText(at, Qt::AlignVCenter, number(value));
    if (i % 5 == 0) p.drawLine(at.bottomLeft(), at.bottomLeft() + QPointF(p.fontMetrics().horizontalAdvance(number(value)), 0));   // leads there
  }
  const double yield = v_.scene_->header().yieldStress;
  if (r.moment().field == "von Mises stress" && yield > low && yield < high) {
    p.setPen(QPen(theme().accent, 2));
    p.drawLine(QPointF(bar.left() - 50, y(yield)), QPointF(bar.right() + 2, y(yield)));
    p.drawText(QRectF(bar.left() - 172, y(yield) - 9, 118, 18), Qt::AlignRight | Qt::AlignVCenter, "first yield " + number(yield));
  }
  p.setPen(theme().faint);
  QString below = r.rangeLocked() ? "range held" : "range of this moment";
  p.drawText(QRectF(width() - 180, bar.bottom() + 8, 172, 18), Qt::AlignRight, below);
  p.setPen(theme().ink);
  const QFont plain = p.font();
  QFont f = plain;
  f.setWeight(QFont::DemiBold);
  p.setFont(f);
  p.drawText(QRectF(width() - 240, 8, 232, 18), Qt::AlignRight, r.moment().field + (r.unit().isEmpty() ? "" : "  " + r.unit()));
  p.setFont(plain);
}

/// Thick outline with hatching on the material's side.
void Overlay::rigidBodies(QPainter& p) {
  const QColor c("#5B6470");
  const auto& header = v_.scene_->header();
  for (size_t k = 0; k < header.rigid.size(); ++k) {
    const auto names = header.mesh.parts;
    bool hidden = false;
    for (size_t i = 0; i < names.size(); ++i) hidden |= names[i] == header.rigid[k].name && v_.isHidden(int(i));
    if (!hidden) hatched(p, v_.scene_->rigidPath(k), c);
  }
}

void Overlay::hatched(QPainter& p, const std::vector<Eigen::Vector3d>& path, const QColor& c) {
  const auto& mirrors = v_.drawn_.mirrors;
  for (size_t copy = 0; copy < size_t(1) << mirrors.size(); ++copy) {
    bool reversed = false;
    QPolygonF line;
    for (auto x : path) {
      reversed = false;
      for (size_t m = 0; m < mirrors.size(); ++m)
        if (copy >> m & 1) x[mirrors[m].axis] = 2 * mirrors[m].at - x[mirrors[m].axis], reversed = !reversed;
      line << v_.canvas_->toScreen(x.x(), x.y(), 0);
    }
    if (reversed) std::reverse(line.begin(), line.end());
    p.setPen(QPen(c, 3)), p.setBrush(Qt::NoBrush), p.drawPolyline(line);
    p.setPen(QPen(c, 1));
    double left = 6;
    for (int i = 0; i + 1 < line.size(); ++i) {
      const QPointF d = line[i + 1] - line[i];
      const double L = std::hypot(d.x(), d.y());
      for (; left < L; left += 9) {
        const QPointF at = line[i] + d * (left / L), into(d.y() / L, -d.x() / L);  // left of the path; y runs down
        p.drawLine(at, at + 9 * into - 4 * d / L);
      }
      left -= L;
    }
  }
}

/// A contact's surface by status: colour and line pattern, so that colour alone does not carry it.
bool Overlay::contactStatus(QPainter& p) {
  const auto& header = v_.scene_->header();
  const auto& status = v_.drawn_.status;
  if (status.empty()) return false;
  const QPen pens[3] = {QPen(contactColor(0), 2, Qt::DotLine), QPen(contactColor(1), 5, Qt::DashLine, Qt::FlatCap), QPen(contactColor(2), 5, Qt::SolidLine, Qt::FlatCap)};
  const char* const words[3] = {"open", "sliding", "sticking"};
  for (const auto& c : header.contacts) {
    if (QString::fromStdString(c.name) != v_.contact_) continue;
    for (size_t i = 0; i + 1 < c.segments.size(); i += 2) {
      const int a = c.segments[i], b = c.segments[i + 1];
      p.setPen(pens[std::max({0, status[size_t(a)], status[size_t(b)]})]);
      p.drawLine(v_.canvas_->toScreen(v_.scene_->place(a)), v_.canvas_->toScreen(v_.scene_->place(b)));
    }
  }
  for (int i = 0; i < 3; ++i) {
    const double y = height() - 108. + 20 * i;
    if (v_.scene_->solid()) {   // as on the facets: a stroke where it slides, a cross where it sticks
      const QRectF box(18, y - 8, 16, 16);
      p.setPen(Qt::NoPen), p.setBrush(contactColor(i)), p.drawRect(box), p.setBrush(Qt::NoBrush), p.setPen(QPen(QColor("#23282D"), 1.2));
      if (i > 0) p.drawLine(box.bottomLeft() + QPointF(3, -3), box.topRight() + QPointF(-3, 3));
      if (i > 1) p.drawLine(box.topLeft() + QPointF(3, 3), box.bottomRight() + QPointF(-3, -3));
    } else {
      p.setPen(pens[i]), p.drawLine(QPointF(16, y), QPointF(44, y));
    }
    p.setPen(theme().ink), p.drawText(QPointF(52, y + 4), words[i]);
  }
  return true;
}

/// The axes of space, as they lie now.
void Overlay::triad(QPainter& p) {
  const QPointF at(width() - 300, height() - 40);
  const double unit = 26 * v_.canvas_->pixelLength();
  const QPointF origin = v_.canvas_->toScreen(Eigen::Vector3d::Zero());
  for (int k = 0; k < 3; ++k) {
    const QPointF d = v_.canvas_->toScreen(unit * Eigen::Vector3d::Unit(k)) - origin;
    p.setPen(QPen(theme().faint, 1.6)), p.drawLine(at, at + d);
    if (std::hypot(d.x(), d.y()) > 6) p.setPen(theme().ink), p.drawText(QRectF(at + 1.35 * d - QPointF(8, 8), QSizeF(16, 16)), Qt::AlignCenter, QString("xyz")[k]);
  }
}

void Overlay::marked(QPainter& p) {
  const auto& header = v_.scene_->header();
  if (contactStatus(p)) return;
  if (v_.scene_->solid()) return;
  p.setPen(QPen(theme().accent, 3.5, Qt::SolidLine, Qt::RoundCap));
  for (int k : v_.drawn_.highlight) {
    if (size_t(k) >= header.mesh.faces.size()) continue;
    for (const auto& f : header.mesh.faces[size_t(k)].facets) {
      const auto n = header.mesh.nodesOf(f);
      const auto a = v_.scene_->place(n[0]), b = v_.scene_->place(n[1]);
      p.drawLine(v_.canvas_->toScreen(a.x(), a.y(), 0), v_.canvas_->toScreen(b.x(), b.y(), 0));
    }
  }
}

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
  p.setPen(QPen(theme().raised, 4)), p.setBrush(Qt::NoBrush), p.drawPolyline(line);   // stands out from what lies behind
  p.setPen(QPen(c, 2)), p.drawPolyline(line);
  if (L < 1) return;   // seen along its plane
  p.setBrush(c), p.drawPolygon(QPolygonF{tip + 6 * along, tip - 3 * along + 4.5 * side, tip - 3 * along - 4.5 * side});
}

void Overlay::symbols(QPainter& p) {
  const auto& d = v_.document_.document();
  const auto& mesh = v_.scene_->header().mesh;
  if (v_.drawn_.sweep) return;
  const bool solid = v_.scene_->solid();
  const auto onScreen = [&](const Eigen::Vector3d& direction) {  // unit direction as it lies on the screen
    const QPointF t = v_.canvas_->toScreen(v_.canvas_->pixelLength() * 40 * direction) - v_.canvas_->toScreen(Eigen::Vector3d::Zero());
    const double L = std::hypot(t.x(), t.y());
    return L > 4 ? t / L : QPointF(0, 0);
  };
  const auto axis = [&](const std::string& a) { return onScreen(Eigen::Vector3d::Unit(a == "x" || a == "r" ? 0 : a == "z" && solid ? 2 : 1)); };
  // a few places along the named edges and faces, with outward direction on the screen
  const auto along = [&](const std::vector<std::string>& on, const auto& draw) {
    for (const auto& name : on) {
      std::vector<std::string> edges{name};
      if (const auto* region = d.regions.find(name)) edges = region->edges;
      for (const auto& e : edges)
        if (const auto* face = mesh.face(e)) {
          if (v_.isHidden(face->part)) continue;
          const size_t n = face->facets.size(), every = std::max<size_t>(1, n / 5);
          for (size_t i = every / 2; i < n; i += every) {
            Eigen::Vector3d middle, normal;
            v_.scene_->facetFrame(face->facets[i], middle, normal);
            if (solid && normal.dot(v_.canvas_->viewer()) < -0.05) continue;  // on the far side
            draw(v_.canvas_->toScreen(middle), onScreen(normal));
          }
        }
      for (size_t k = 0; k < v_.scene_->header().rigid.size(); ++k) {
        const auto& body = v_.scene_->header().rigid[k];
        if (body.name != name) continue;
        QPointF center(0, 0);
        for (const auto& x : v_.scene_->rigidPath(k)) center += v_.canvas_->toScreen(x);
        draw(center / double(v_.scene_->rigidPath(k).size()), QPointF(0, 0));
      }
    }
  };
  std::map<std::string, Eigen::Vector3d> points;   // of carriers
  for (const auto& [name, carrier] : d.carriers) {  // threads from the faces to the point
    const QColor c = laneColor("carriers");
    std::vector<QPointF> ends;
    Eigen::Vector3d point = Eigen::Vector3d::Zero();
    double count = 0;
    for (const auto& on : carrier.on)
      if (const auto* face = mesh.face(on))
        for (const auto& f : face->facets) {
          Eigen::Vector3d middle, normal;
          v_.scene_->facetFrame(f, middle, normal);
          point += middle, count += 1;
          ends.push_back(v_.canvas_->toScreen(middle));
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
    std::vector<mesh::Facet> shank;
    for (const auto& on : b.on)
      if (const auto* face = mesh.face(on)) shank.insert(shank.end(), face->facets.begin(), face->facets.end());
    const auto round = mesh::cylinderOf(mesh, shank);
    if (shank.empty() || !round.fits() || v_.isHidden(mesh.blocks[size_t(shank.front().block)].part)) continue;
    double half = 0;
    for (int n : mesh.nodesOf(shank)) half = std::max(half, std::abs(round.axis.dot(mesh.x[size_t(n)] - round.centre)));
    const double share = b.cut.number.value_or(0.5);
    const Eigen::Vector3d u = round.axis.unitOrthogonal(), v = round.axis.cross(u), at = round.centre + (2 * share - 1) * half * round.axis;
    QPolygonF ring;
    for (int k = 0; k <= 32; ++k) ring << v_.canvas_->toScreen(at + 1.25 * round.radius * (std::cos(k * std::numbers::pi / 16) * u + std::sin(k * std::numbers::pi / 16) * v));
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(theme().raised, 4)), p.drawPolyline(ring);
    p.setPen(QPen(c, 2)), p.drawPolyline(ring);
    const QPointF middle = v_.canvas_->toScreen(at), way = onScreen(round.axis), side(-way.y(), way.x());
    for (const double end : {-1., 1.}) {
      const QPointF tail = v_.canvas_->toScreen(at + end * 1.6 * half * round.axis), tip = middle + (tail - middle) * 0.45, back = end * way;
      p.setPen(QPen(theme().raised, 4)), p.drawLine(tail, tip);
      p.setPen(QPen(c, 2)), p.drawLine(tail, tip);
      p.setBrush(c), p.drawPolygon(QPolygonF{tip, tip + 9 * back + 4 * side, tip + 9 * back - 4 * side}), p.setBrush(Qt::NoBrush);
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
  const auto axisOf = [](const std::string& word) { return Eigen::Vector3d(Eigen::Vector3d::Unit(word.ends_with("x") ? 0 : word.ends_with("y") ? 1 : 2)); };
  const auto backwards = [](const model::Course& course) {
    const auto negative = [](const model::Entry& e) { return e.number ? *e.number < 0 : e.text.starts_with("=-") || e.text.starts_with("-"); };
    bool is = negative(course.value);
    for (const auto& [step, stage] : course.stages) is |= negative(stage.value);
    return is;
  };
  for (const auto& [name, m] : d.motions) {
    const QColor c = laneColor("motions");
    if (m.along.axis.starts_with("turn")) {
      Eigen::Vector3d about = axisOf(m.along.axis);
      if (m.axis.size() == 3) try {
          const model::Quantities q(d);
          for (int k = 0; k < 3; ++k) about[k] = q(m.axis[size_t(k)], Kind::number, "");
        } catch (const Error&) {
          continue;  // readiness says what is wrong
        }
      auto places = placesOf(m.on);
      if (places.empty()) try {   // faces turn about a point of the axis
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
      if (l.kind == "moment") turning(p, at, sense * (l.along.axis.empty() ? Eigen::Vector3d(Eigen::Vector3d::UnitZ()) : axisOf(l.along.axis)), c);
      else if (!l.on.empty() && points.contains(l.on.front())) arrow(p, v_.canvas_->toScreen(at) + 26 * sense * axis(l.along.axis), sense * axis(l.along.axis), c);
    }
    if (l.kind == "moment") continue;
    along(l.on, [&](QPointF at, QPointF out) { arrow(p, at, l.kind == "pressure" ? -out : axis(l.along.axis), c); });
  }
}

/// Where the greatest and least values are, marked on the picture.
void Overlay::extremes(QPainter& p) {
  const auto& r = v_.results_;
  int most = -1, least = -1;
  for (const auto& b : v_.scene_->header().mesh.blocks) {
    if (v_.isHidden(b.part)) continue;
    for (int n : b.nodes) {
      if (size_t(n) >= r.values().size()) continue;
      if (most < 0 || r.values()[size_t(n)] > r.values()[size_t(most)]) most = n;
      if (least < 0 || r.values()[size_t(n)] < r.values()[size_t(least)]) least = n;
    }
  }
  if (most < 0 || v_.drawn_.sweep) return;
  const auto mark = [&](int n, const QString& word) {
    const QPointF at = v_.canvas_->toScreen(v_.scene_->place(n));
    const QString text = word + " " + number(r.values()[size_t(n)]);
    const double w = p.fontMetrics().horizontalAdvance(text) + 12, x0 = std::max(8., at.x() - w - 46);
    const QRectF box(x0, at.y() - 11, w, 22);
    for (const auto& pen : {QPen(theme().raised, 4), QPen(theme().ink, 1)}) p.setPen(pen), p.drawLine(QPointF(box.right(), box.center().y()), at);
    p.setBrush(theme().raised), p.drawRoundedRect(box, 4, 4);
    p.setPen(QPen(theme().ink, 1.5)), p.setBrush(Qt::NoBrush), p.drawEllipse(at, 4, 4);
    p.drawText(box, Qt::AlignCenter, text);
  };
  mark(most, "greatest");
  if (r.isSigned()) mark(least, "least");
}

void Overlay::pins(QPainter& p) {
  const auto& r = v_.results_;
  for (int n : v_.pins_) {
    const auto x = v_.scene_->place(n);
    const QPointF at = v_.canvas_->toScreen(x.x(), x.y(), x.z());
    const QString text = v_.showsResult_ && size_t(n) < r.values().size() ? number(r.values()[size_t(n)]) + " " + r.unit() : QString("node %1").arg(n + 1);
    const QRectF box(at.x() + 12, at.y() - 32, p.fontMetrics().horizontalAdvance(text) + 14, 22);
    p.setPen(QPen(theme().ink, 1)), p.setBrush(theme().raised);
    p.drawLine(at, box.bottomLeft() + QPointF(4, -4));
    p.drawRoundedRect(box, 4, 4);
    p.setBrush(theme().accent), p.setPen(Qt::NoPen), p.drawEllipse(at, 3.5, 3.5);
    p.setPen(theme().ink), p.drawText(box, Qt::AlignCenter, text);
  }
  if (v_.marked_ >= 0 && size_t(v_.marked_) < v_.scene_->header().mesh.x.size()) {
    const auto x = v_.scene_->place(v_.marked_);
    const QPointF at = v_.canvas_->toScreen(x.x(), x.y(), x.z());
    p.setPen(QPen(theme().accent, 2)), p.setBrush(Qt::NoBrush), p.drawEllipse(at, 9, 9);
    const QRectF box(at.x() + 14, at.y() - 11, p.fontMetrics().horizontalAdvance("worst residual") + 12, 22);
    p.setPen(QPen(theme().accent, 1)), p.setBrush(theme().raised), p.drawRoundedRect(box, 4, 4);
    p.setPen(theme().ink), p.drawText(box, Qt::AlignCenter, "worst residual");
  }
}

void Overlay::words(QPainter& p) {
  p.setPen(theme().faint);
  QString left = v_.showsResult_ ? QString("time %1 s   ·   true to scale").arg(number(v_.shownTime())) : QString("as built");
  QStringList beyond;
  for (const auto& m : v_.drawn_.sweep ? std::vector<mesh::MirrorPlane>() : v_.drawn_.mirrors) beyond << QString("%1 = %2").arg(QString(v_.space_ == "axisymmetric" ? "rzz" : "xyz")[m.axis], number(m.at));
  if (!beyond.isEmpty()) left += "   ·   mirrored at " + beyond.join(", ") + " mm";
  p.drawText(QRectF(16, height() - 30, width() - 340., 20), Qt::AlignLeft, left);
  const auto& x = v_.scene_->header().mesh.x;
  if (!v_.drawn_.sweep && !x.empty()) {  // a length to go by
    const double want = 90 * v_.canvas_->pixelLength(), power = std::pow(10, std::floor(std::log10(want)));
    const double length = want / power >= 5 ? 5 * power : want / power >= 2 ? 2 * power : power, pixels = length / v_.canvas_->pixelLength();
    const double at = width() - 230;
    p.setPen(QPen(theme().faint, 1.5));
    const double base = height() - 16;
    p.drawLine(QPointF(at, base), QPointF(at + pixels, base)), p.drawLine(QPointF(at, base - 4), QPointF(at, base)), p.drawLine(QPointF(at + pixels, base - 4), QPointF(at + pixels, base));
    p.drawText(QRectF(at + pixels + 6, base - 14, 80, 20), Qt::AlignLeft, number(length) + " mm");
  }
  if (!v_.trouble_.isEmpty()) {
    QRectF box(16, 16, std::min(560, width() - 40), 0);
    const QRectF need = p.fontMetrics().boundingRect(box.adjusted(12, 8, -12, 400).toRect(), Qt::TextWordWrap, v_.trouble_);
    box.setHeight(need.height() + 18);
    p.setPen(QPen(theme().accent, 1)), p.setBrush(theme().raised), p.drawRoundedRect(box, 4, 4);
    p.setPen(theme().ink), p.drawText(box.adjusted(12, 8, -12, -8), Qt::TextWordWrap, v_.trouble_);
  } else if (x.empty()) {
    p.setPen(theme().faint);
    p.drawText(rect(), Qt::AlignCenter, v_.preparing() ? "Working out the mesh …" : "Nothing to show yet. Add a part on the shelf, or open an example.");
  }
}

}  // namespace anvil::app
