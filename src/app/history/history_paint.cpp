// The loading history on paper: heading, lanes, strip of increments.
#include <QPainter>
#include <QPainterPath>
#include <algorithm>

#include "app/history/history_view.hpp"
#include "app/theme.hpp"
#include "core/base/curve.hpp"
#include "core/base/text.hpp"

namespace anvil::app {
namespace {

QColor seeThrough(QColor c, int alpha) {
  c.setAlpha(alpha);
  return c;
}

}  // namespace

void HistoryView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(rect(), theme().paper);
  const int bottom = height() - stripHeight;
  heading(p, bottom);
  p.setClipRect(0, headHeight + 1, width(), bottom - headHeight - 1);
  if (lanes_.empty())
    p.drawText(QRectF(nameWidth + 16, headHeight, width(), 60), Qt::AlignVCenter,
               "What acts appears here: add a support, a motion or a load on the shelf.");
  for (size_t k = size_t(scroll_); k < lanes_.size(); ++k) {
    const double y = headHeight + laneHeight * double(int(k) - scroll_);
    if (y > bottom) break;
    laneName(p, lanes_[k], y), laneCourse(p, lanes_[k], y), laneCells(p, lanes_[k], y);
  }
  p.setClipping(false);
  strip(p), marks(p), playhead(p);
}

void HistoryView::heading(QPainter& p, int bottom) {
  const auto& th = theme();
  p.setPen(th.line);
  p.drawLine(0, headHeight, width(), headHeight), p.drawLine(0, bottom, width(), bottom),
      p.drawLine(nameWidth, 0, nameWidth, height());
  QFont bold = p.font();
  bold.setWeight(QFont::DemiBold);
  for (int i = 0; i < steps_.size(); ++i) {
    const double x0 = xOf(times_[size_t(i)]), x1 = xOf(times_[size_t(i) + 1]);
    p.setPen(th.line), p.drawLine(QPointF(x1, 0), QPointF(x1, height()));
    p.setPen(selectedKind_ == "steps" && selectedName_ == steps_[i] ? th.accent : th.ink), p.setFont(bold);
    p.drawText(QRectF(x0 + 8, 0, x1 - x0 - 10, headHeight), Qt::AlignVCenter, steps_[i]);
    p.setFont(font());
  }
  p.setPen(th.faint), p.drawText(QRectF(16, 0, nameWidth - 20, headHeight), Qt::AlignVCenter, "Loading history");
}

void HistoryView::laneName(QPainter& p, const Lane& lane, double y) {
  const auto& th = theme();
  if (lane.kind == selectedKind_ && lane.name == selectedName_)
    p.fillRect(QRectF(0, y, width(), laneHeight), seeThrough(th.accentSoft, 90));
  p.fillRect(QRectF(0, y + 4, 4, laneHeight - 8), laneColor(lane.kind));
  const QString kind = lane.kind.left(lane.kind.size() - 1);  // "contacts": a contact
  QFont small = font();
  small.setPixelSize(12);
  const int room = nameWidth - 34 - QFontMetrics(small).horizontalAdvance(kind);  // the kind is shown whole
  p.setPen(th.ink);
  p.drawText(QRectF(16, y, room, laneHeight), Qt::AlignVCenter, p.fontMetrics().elidedText(lane.name, Qt::ElideRight, room));
  p.setPen(th.faint), p.setFont(small);
  p.drawText(QRectF(16, y, nameWidth - 24, laneHeight), Qt::AlignVCenter | Qt::AlignRight, kind);
  p.setFont(font());
}

void HistoryView::laneCourse(QPainter& p, const Lane& lane, double y) {
  const QColor c = laneColor(lane.kind);
  double low = 0, high = 0;
  for (double v : lane.v) low = std::min(low, v), high = std::max(high, v);
  const double range = std::max(high - low, 1e-300);
  const auto yOf = [&](double v) { return y + laneHeight - 6 - (v - low) / range * (laneHeight - 12); };
  for (int i = 0; i < steps_.size(); ++i) {
    if (!lane.active[size_t(i)]) continue;
    const double t0 = times_[size_t(i)], t1 = times_[size_t(i) + 1], x0 = xOf(t0), x1 = xOf(t1);
    p.fillRect(QRectF(x0 + 1, y + 3, x1 - x0 - 2, laneHeight - 6), seeThrough(c, 30));
    if (lane.t.size() < 2) {
      p.setPen(QPen(c, 1.5)), p.drawLine(QPointF(x0 + 1, y + laneHeight / 2.), QPointF(x1 - 1, y + laneHeight / 2.));
      continue;
    }
    QPainterPath path;
    const Curve curve{lane.t, lane.v};
    path.moveTo(x0, yOf(curve(t0 + 1e-9 * (t1 - t0))));
    for (double t : lane.t)
      if (t > t0 && t < t1) path.lineTo(xOf(t), yOf(curve(t)));
    path.lineTo(x1, yOf(curve(t1)));
    p.setPen(QPen(c, 1.8)), p.setBrush(Qt::NoBrush), p.drawPath(path);
  }
}

void HistoryView::laneCells(QPainter& p, const Lane& lane, double y) {
  const auto& th = theme();
  for (int i = 0; i < lane.cells.size() && i < steps_.size(); ++i) {
    const double x0 = xOf(times_[size_t(i)]), x1 = xOf(times_[size_t(i) + 1]);
    if (lane.cells[i].isEmpty()) continue;
    const QString text = p.fontMetrics().elidedText(lane.cells[i], Qt::ElideRight, int(x1 - x0 - 20));
    const QRectF box(x0 + 6, y + 6, p.fontMetrics().horizontalAdvance(text) + 8, laneHeight - 12);
    p.fillRect(box, seeThrough(th.paper, 200));
    p.setPen(th.ink), p.drawText(box, Qt::AlignCenter, text);
  }
}

void HistoryView::strip(QPainter& p) {
  const auto& th = theme();
  const double base = height() - 6, top = height() - stripHeight + 8;
  p.setPen(th.faint);
  QFont small = font();
  small.setPixelSize(12), p.setFont(small);
  const QString state = run_.active()    ? "running"
                        : results_.has() ? QString("%1 increments").arg(results_.rows().size())
                                         : "not run yet";
  p.drawText(QRectF(16, top - 4, nameWidth - 24, 18), state);
  if (results_.has()) p.drawText(QRectF(16, top + 12, nameWidth - 24, 18), "height: iterations");
  p.setFont(font());
  if (!results_.has()) return;
  const auto& rows = results_.rows();
  int most = 8;
  for (const auto& r : rows) most = std::max(most, r.iterations);
  double before = 0;
  for (size_t i = 0; i < rows.size(); ++i) {
    const double x0 = xOf(before), x1 = xOf(rows[i].time), h = std::max(2., (base - top) * rows[i].iterations / most);
    if (!rows[i].stored) {  // histories alone: an outline
      p.setPen(QPen(th.faint, 1)), p.setBrush(Qt::NoBrush), p.drawRect(QRectF(x0, base - h, std::max(1., x1 - x0 - 1), h));
    } else
      p.fillRect(QRectF(x0, base - h, std::max(1., x1 - x0 - 1), h), int(i) == results_.row() ? th.accent
                                                                     : th.dark                ? QColor("#6B7078")
                                                                                              : QColor("#B9B2A6"));
    if (rows[i].cutbacks > 0) {  // increments that had to be shortened: below, where no mark's words are
      p.setBrush(th.warn), p.setPen(Qt::NoPen);
      p.drawPolygon(QPolygonF{{x0 - 3, base + 6}, {x0 + 3, base + 6}, {x0, base + 1}});
    }
    before = rows[i].time;
  }
}

void HistoryView::marks(QPainter& p) {
  if (!results_.has()) return;
  const double base = height() - 6, top = height() - stripHeight + 8;
  QFont small = font();
  small.setPixelSize(12), p.setFont(small);
  for (size_t i = 0; i < marks_.size(); ++i) {
    const auto& m = marks_[i];
    const double x = xOf(m.time), next = i + 1 < marks_.size() ? xOf(marks_[i + 1].time) : width();
    p.setPen(QPen(m.color, 1.5)), p.drawLine(QPointF(x, top - 6), QPointF(x, base));
    p.setBrush(m.color), p.setPen(Qt::NoPen), p.drawEllipse(QPointF(x, top - 3), 3.5, 3.5);
    const double w = p.fontMetrics().horizontalAdvance(m.words);
    if (x + 10 + w > next) continue;  // words only where they have room; the others are told on hovering
    p.setPen(theme().ink), p.drawText(QPointF(x + 6, top + 3), m.words);
  }
  p.setFont(font());
}

void HistoryView::playhead(QPainter& p) {
  const auto& th = theme();
  if (hasFocus() && size_t(keyLane_) < lanes_.size() && keyStep_ < steps_.size() && keyLane_ >= scroll_) {  // where the keys are
    const double x0 = xOf(times_[size_t(keyStep_)]), x1 = xOf(times_[size_t(keyStep_) + 1]);
    p.setPen(QPen(th.accent, 1, Qt::DashLine)), p.setBrush(Qt::NoBrush);
    p.drawRect(QRectF(x0 + 2, headHeight + laneHeight * (keyLane_ - scroll_) + 1.5, x1 - x0 - 4, laneHeight - 3));
  }
  if (pulled_ >= 0) {
    p.setPen(QPen(th.accent, 1.5, Qt::DashLine)), p.drawLine(QPointF(pulledTo_, 0), QPointF(pulledTo_, height()));
    p.drawText(QPointF(pulledTo_ + 6, headHeight - 8),
               QString::fromStdString(shortNumber(timeOf(pulledTo_) - times_[size_t(pulled_)], 3)) + " s");
  }
  const double x = xOf(results_.row() < 0 ? 0 : results_.time());
  p.setPen(QPen(th.accent, 2)), p.drawLine(QPointF(x, 4), QPointF(x, height() - 4));
  p.setBrush(th.accent), p.setPen(Qt::NoPen);
  p.drawPolygon(QPolygonF{{x - 6, 0}, {x + 6, 0}, {x, 9}});
}

}  // namespace anvil::app
