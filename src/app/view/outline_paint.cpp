// Where grips and sizes of plane shapes stand in the picture, and how they look.
#include <QPainter>
#include <cmath>

#include "app/shown_units.hpp"
#include "app/theme.hpp"
#include "app/view/outline_tool.hpp"
#include "core/model/document.hpp"
#include "core/model/part.hpp"

namespace anvil::app {

using geometry::Grip, geometry::SizeMark;

/// Roundings of radius 0 lie beside their corner, so that they can be got hold of.
QPointF OutlineTool::gripPlace(Grip::What what, size_t which) const {
  for (const auto& grips : grips_)
    for (const auto& g : grips) {
      if (g.what != what || g.which != which) continue;
      auto at = toScreen(g.at);
      if (what != Grip::What::fillet) return at;
      const auto* own = part();
      for (const auto& s : own->shape)
        if (s.profile && which < s.profile->path.size() && !s.profile->path[which].fillet.given())
          for (const auto& p : grips)
            if (p.what == Grip::What::point && apart(toScreen(p.at), at) < 1) {
              QPointF way(0, 0);  // into the angle: towards the middles of the edges beside it
              for (const auto& e : grips)
                if (e.what == Grip::What::edge && (e.which == which || e.which == which + 1)) {
                  const auto d = toScreen(e.at) - at;
                  way += d / std::max(1., apart(d, {}));
                }
              const double length = apart(way, {});
              return length > 0.1 ? at + way / length * 15 : at;
            }
      return at;
    }
  return {-1e6, -1e6};
}

QRectF OutlineTool::sizePlace(SizeMark::What what, size_t which) const {
  for (const auto& sizes : sizes_)
    for (const auto& m : sizes)
      if (m.what == what && m.which == which) return labelOf(m);
  return {};
}

QString OutlineTool::wordsOf(const SizeMark& m) const {
  using What = SizeMark::What;
  const QString value = units().number(m.value, m.kind, 5);
  if (m.kind == Kind::angle) return value + (units().unit(Kind::angle) == "deg" ? QString("°") : " " + units().unit(Kind::angle));
  return (m.what == What::radius || m.what == What::inner || m.what == What::outer || m.what == What::fillet ? "R " : "") + value;
}

/// Beside the middle of what is measured, on its outside.
QRectF OutlineTool::labelOf(const SizeMark& m) const {
  const auto a = toScreen(m.a), b = toScreen(m.b);
  const QPointF middle = (a + b) / 2, d = b - a;
  const double length = std::max(1., apart(a, b));
  const QPointF out(-d.y() / length, d.x() / length);  // right of the way; y runs down
  const double w = canvas_.fontMetrics().horizontalAdvance(wordsOf(m)) + 10;
  const bool radius = m.what != SizeMark::What::length && m.what != SizeMark::What::width && m.what != SizeMark::What::height;
  const QPointF at = radius ? a + 0.72 * d : middle + out * (13 + 0.5 * w * std::abs(out.x()));
  return {at.x() - w / 2, at.y() - 9, w, 18};
}

void OutlineTool::paint(QPainter& p) const {
  const auto label = [&](const QRectF& box, const QString& text) {
    p.setPen(Qt::NoPen), p.setBrush(theme().raised), p.drawRoundedRect(box, 4, 4);
    p.setPen(theme().ink), p.drawText(box, Qt::AlignCenter, text);
  };
  p.setPen(QPen(theme().accent, 1, Qt::DashLine));
  for (const auto& g : guides_) p.drawLine(g);
  if (drawing_) {
    QPolygonF way;
    for (const auto& x : points_) way << canvas_.toScreen(x.x(), x.y(), 0);
    if (next_) way << canvas_.toScreen(next_->x(), next_->y(), 0);
    p.setPen(QPen(theme().accent, 2)), p.setBrush(Qt::NoBrush), p.drawPolyline(way);
    p.setBrush(theme().raised);
    for (const auto& x : points_) p.drawRect(QRectF(canvas_.toScreen(x.x(), x.y(), 0) - QPointF(4, 4), QSizeF(8, 8)));
    if (!next_) return;
    QString words = units().number(next_->x(), Kind::length) + ", " + units().number(next_->y(), Kind::length);
    if (!points_.empty()) words += "   ·   " + units().quantity((*next_ - points_.back()).norm(), Kind::length) + " long";
    label(QRectF(way.back().x() + 14, way.back().y() - 30, p.fontMetrics().horizontalAdvance(words) + 14, 22), words);
    return;
  }
  if (!editing()) return;
  for (const auto& sizes : sizes_)
    for (const auto& m : sizes) {
      if (m.what != SizeMark::What::length && m.what != SizeMark::What::width && m.what != SizeMark::What::height) {
        p.setPen(QPen(theme().faint, 1)), p.drawLine(toScreen(m.a), toScreen(m.b));
      } else if (apart(toScreen(m.a), toScreen(m.b)) < 26) {
        continue;  // no room for words: larger, they come
      }
      label(labelOf(m), wordsOf(m));
    }
  for (const auto& grips : grips_)
    for (const auto& g : grips) {
      const auto at = gripPlace(g.what, g.which);
      p.setPen(QPen(g.fixed ? theme().faint : theme().accent, 1.6)), p.setBrush(theme().raised);
      if (g.what == Grip::What::point)
        p.drawRect(QRectF(at - QPointF(4, 4), QSizeF(8, 8)));
      else if (g.what == Grip::What::edge)
        p.drawPolygon(QPolygonF{at + QPointF(0, -4), at + QPointF(4, 0), at + QPointF(0, 4), at + QPointF(-4, 0)});
      else if (g.what == Grip::What::centre)
        p.drawLine(at - QPointF(6, 0), at + QPointF(6, 0)), p.drawLine(at - QPointF(0, 6), at + QPointF(0, 6));
      else
        p.drawEllipse(at, g.what == Grip::What::fillet ? 3 : 4, g.what == Grip::What::fillet ? 3 : 4);
    }
}

}  // namespace anvil::app
