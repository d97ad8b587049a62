#include "app/view/overlay.hpp"

#include <Eigen/Geometry>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

#include "app/shown_units.hpp"
#include "app/theme.hpp"
#include "app/view/feature_tool.hpp"
#include "app/view/line_tool.hpp"
#include "app/view/model_view.hpp"
#include "app/view/outline_tool.hpp"
#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/lower/lower.hpp"
#include "core/mesh/cut.hpp"
#include "core/mesh/select.hpp"
#include "core/model/bolts.hpp"
#include "core/model/document.hpp"
#include "core/model/quantities.hpp"

namespace anvil::app {

QString Overlay::number(double v) { return QString::fromStdString(shortNumber(v, 4)); }

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
  thinInSight_ = v_.showsResult_ && thinElements(p);
  if (v_.showsResult_)
    extremes(p), boltForces(p), legend(p);
  else
    symbols(p);
  pins(p);
  box(p);
  words(p);
  v_.outline_->paint(p), v_.features_->paint(p);
  v_.lines_->paint(p);
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
  auto pictures = v_.drawn_.pictures;
  pictures.insert(pictures.begin(), Eigen::Affine3d::Identity());
  for (const auto& picture : pictures) {
    const bool reversed = picture.linear().determinant() < 0;
    QPolygonF line;
    for (const auto& own : path) {
      const Eigen::Vector3d x = picture * own;
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

/// The axes of space, as they lie now.
void Overlay::triad(QPainter& p) {
  const QPointF at(width() - 300, height() - 40);
  const double unit = 26 * v_.canvas_->pixelLength();
  const QPointF origin = v_.canvas_->toScreen(Eigen::Vector3d::Zero());
  for (int k = 0; k < 3; ++k) {
    const QPointF d = v_.canvas_->toScreen(unit * Eigen::Vector3d::Unit(k)) - origin;
    p.setPen(QPen(theme().faint, 1.6)), p.drawLine(at, at + d);
    if (std::hypot(d.x(), d.y()) > 6)
      p.setPen(theme().ink),
          p.drawText(QRectF(at + 1.35 * d - QPointF(8, 8), QSizeF(16, 16)), Qt::AlignCenter, QString("xyz")[k]);
  }
}

/// Broad lines are painted here: not every driver draws them. Those on the far side are thin.
void Overlay::pickedEdges(QPainter& p) {
  if (v_.drawn_.highlightLines.empty()) return;
  std::vector<char> seen(v_.scene_->header().mesh.x.size(), 0);
  for (int n : v_.nodesInSight()) seen[size_t(n)] = 1;
  for (const auto& line : v_.drawn_.highlightLines) {
    const bool near = seen[size_t(line[0])] && seen[size_t(line[1])];
    p.setPen(QPen(theme().accent, near ? 3.5 : 1.2, near ? Qt::SolidLine : Qt::DotLine, Qt::RoundCap));
    QPolygonF way;
    for (const int n : line.size() == 3 ? std::vector<int>{line[0], line[2], line[1]} : line)
      way << v_.canvas_->toScreen(v_.scene_->place(n));
    p.drawPolyline(way);
  }
}

void Overlay::marked(QPainter& p) {
  const auto& header = v_.scene_->header();
  if (contactStatus(p)) return;
  pickedEdges(p);
  for (int n : v_.drawn_.highlightNodes) {
    p.setPen(QPen(theme().raised, 1.5)), p.setBrush(theme().accent);
    p.drawEllipse(v_.canvas_->toScreen(v_.scene_->place(n)), 5, 5);
  }
  if (v_.scene_->solid()) return;
  p.setPen(QPen(theme().accent, 3.5, Qt::SolidLine, Qt::RoundCap));
  for (const auto& f : v_.drawn_.highlight) {
    const auto n = header.mesh.nodesOf(f);
    const auto a = v_.scene_->place(n[0]), b = v_.scene_->place(n[1]);
    p.drawLine(v_.canvas_->toScreen(a.x(), a.y(), 0), v_.canvas_->toScreen(b.x(), b.y(), 0));
  }
}

void Overlay::pins(QPainter& p) {
  const auto& r = v_.results_;
  for (int n : v_.pins_) {
    const auto x = v_.scene_->place(n);
    const QPointF at = v_.canvas_->toScreen(x.x(), x.y(), x.z());
    const QString text = v_.showsResult_ && size_t(n) < r.values().size()
                             ? units().quantity(r.values()[size_t(n)], r.kind()) + roughness(n)
                             : QString("node %1").arg(n + 1);
    const QRectF box(at.x() + 12, at.y() - 32, p.fontMetrics().horizontalAdvance(text) + 14, 22);
    p.setPen(QPen(theme().ink, 1)), p.setBrush(theme().raised);
    p.drawLine(at, box.bottomLeft() + QPointF(4, -4));
    p.drawRoundedRect(box, 4, 4);
    p.setBrush(theme().accent), p.setPen(Qt::NoPen), p.drawEllipse(at, 3.5, 3.5);
    p.setPen(theme().ink), p.drawText(box, Qt::AlignCenter, text);
  }
  const auto ring = [&](const Eigen::Vector3d& x, const QString& words) {
    const QPointF at = v_.canvas_->toScreen(x.x(), x.y(), x.z());
    p.setPen(QPen(theme().accent, 2)), p.setBrush(Qt::NoBrush), p.drawEllipse(at, 9, 9);
    const QRectF box(at.x() + 14, at.y() - 11, p.fontMetrics().horizontalAdvance(words) + 12, 22);
    p.setPen(QPen(theme().accent, 1)), p.setBrush(theme().raised), p.drawRoundedRect(box, 4, 4);
    p.setPen(theme().ink), p.drawText(box, Qt::AlignCenter, words);
  };
  if (v_.marked_ >= 0 && size_t(v_.marked_) < v_.scene_->header().mesh.x.size())
    ring(v_.scene_->place(v_.marked_), v_.markWords_);
  if (!v_.showsResult_)
    for (const auto& place : v_.preparation_.refused())
      ring(place.at, place.face.empty() ? "no sound element" : "not meshed: " + QString::fromStdString(place.face));
}

void Overlay::words(QPainter& p) {
  p.setPen(theme().faint);
  QString left = v_.showsResult_ ? QString("time %1   ·   true to scale").arg(units().quantity(v_.shownTime(), Kind::time))
                 : !v_.preparation_.refused().empty() ? QString("as drawn, without a mesh")
                                                      : QString("as built");
  QStringList beyond;
  const bool whole = !v_.drawn_.sweep && !v_.drawn_.pictures.empty();
  for (const auto& m : whole ? v_.planes_ : std::vector<mesh::MirrorPlane>())
    beyond << QString("%1 = %2").arg(QString(v_.space_ == "axisymmetric" ? "rzz" : "xyz")[m.axis],
                                     units().number(m.at, Kind::length));
  if (thinInSight_)
    p.drawText(QRectF(16, height() - 52, width() - 240., 20), Qt::AlignLeft,
               QString(triangle) + " ill-shaped elements: values are rough there");
  if (!beyond.isEmpty()) left += "   ·   mirrored at " + beyond.join(", ") + units().behind(Kind::length).mid(1);
  for (const auto& sector : whole ? v_.sectors_ : std::vector<analysis::Sector>())
    left += QString("   ·   %1 sectors").arg(sector.count);
  p.drawText(QRectF(16, height() - 30, width() - 340., 20), Qt::AlignLeft, left);
  const auto& x = v_.scene_->header().mesh.x;
  if (!v_.drawn_.sweep && !x.empty()) {                 // a length to go by
    const double each = units().from(1, Kind::length);  // of the unit
    const double want = 90 * v_.canvas_->pixelLength() * each, power = std::pow(10, std::floor(std::log10(want)));
    const double length = want / power >= 5   ? 5 * power
                          : want / power >= 2 ? 2 * power
                                              : power,
                 pixels = length / each / v_.canvas_->pixelLength();
    const double at = width() - 230;
    p.setPen(QPen(theme().faint, 1.5));
    const double base = height() - 16;
    p.drawLine(QPointF(at, base), QPointF(at + pixels, base)), p.drawLine(QPointF(at, base - 4), QPointF(at, base)),
        p.drawLine(QPointF(at + pixels, base - 4), QPointF(at + pixels, base));
    p.drawText(QRectF(at + pixels + 6, base - 14, 80, 20), Qt::AlignLeft, number(length) + units().behind(Kind::length).mid(1));
  }
  if (!v_.trouble_.isEmpty()) {
    QRectF box(16, 16, std::min(560, width() - 40), 0);
    const QRectF need = p.fontMetrics().boundingRect(box.adjusted(12, 8, -12, 400).toRect(), Qt::TextWordWrap, v_.trouble_);
    box.setHeight(need.height() + 18);
    p.setPen(QPen(theme().accent, 1)), p.setBrush(theme().raised), p.drawRoundedRect(box, 4, 4);
    p.setPen(theme().ink), p.drawText(box.adjusted(12, 8, -12, -8), Qt::TextWordWrap, v_.trouble_);
  } else if (x.empty() && !v_.lines_->active()) {
    p.setPen(theme().faint);
    p.drawText(rect(), Qt::AlignCenter,
               v_.preparing() ? "Working out the mesh …" : "Nothing to show yet. Add a part on the shelf, or open an example.");
  }
}

}  // namespace anvil::app
