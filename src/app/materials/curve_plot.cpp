#include "app/materials/curve_plot.hpp"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "app/shown_units.hpp"
#include "app/theme.hpp"
#include "core/base/text.hpp"

namespace anvil::app {

CurvePlot::CurvePlot(QWidget* parent) : QWidget(parent) {
  setMinimumSize(320, 260), setMouseTracking(true), setObjectName("curvePlot");
  setAccessibleName("Stress against strain");
}

void CurvePlot::setContent(Content content) {
  content_ = std::move(content);
  std::erase_if(picked_, [this](int i) { return size_t(i) >= content_.table.size(); });
  if (held_ < 0) measure();  // the frame stands still while a point is dragged
  update();
}

void CurvePlot::measure() {
  x0_ = 0, x1_ = 1e-6, y0_ = 0, y1_ = 1e-6;
  const auto take = [&](const std::vector<QPointF>& points) {
    for (const auto& p : points)
      x0_ = std::min(x0_, p.x()), x1_ = std::max(x1_, p.x()), y0_ = std::min(y0_, p.y()), y1_ = std::max(y1_, p.y());
  };
  // a law goes on for ever: where there are points they say how much of it is of interest
  take(content_.table);
  for (const auto& t : content_.tests) take(t);
  if (content_.table.empty() && content_.tests.empty()) take(content_.law);
  y1_ += 0.1 * (y1_ - y0_), x1_ += 0.05 * (x1_ - x0_);
}

QPointF CurvePlot::place(const QPointF& at) const {
  const auto b = box();
  return {b.left() + (at.x() - x0_) / (x1_ - x0_) * b.width(), b.bottom() - (at.y() - y0_) / (y1_ - y0_) * b.height()};
}
QPointF CurvePlot::value(const QPointF& at) const {
  const auto b = box();
  return {x0_ + (at.x() - b.left()) / b.width() * (x1_ - x0_), y0_ + (b.bottom() - at.y()) / b.height() * (y1_ - y0_)};
}

int CurvePlot::pointAt(const QPointF& at) const {
  int best = -1;
  double least = 9;
  for (size_t i = 0; i < content_.table.size(); ++i)
    if (const auto d = place(content_.table[i]) - at; std::hypot(d.x(), d.y()) < least)
      least = std::hypot(d.x(), d.y()), best = int(i);
  return best;
}

void CurvePlot::mousePressEvent(QMouseEvent* e) {
  held_ = e->button() == Qt::LeftButton ? pointAt(e->position()) : -1, moved_ = false;
  if (held_ < 0 && e->button() == Qt::LeftButton && !picked_.empty()) picked_.clear(), update(), emit pickChanged();
  if (held_ >= 0) emit dragBegun();
}

void CurvePlot::mouseMoveEvent(QMouseEvent* e) {
  if (held_ < 0) {
    setCursor(pointAt(e->position()) >= 0 ? Qt::SizeAllCursor : Qt::ArrowCursor);
    return;
  }
  moved_ = true;
  emit dragged(held_, value(e->position()));
}

void CurvePlot::mouseReleaseEvent(QMouseEvent*) {
  if (held_ >= 0 && !moved_) {  // a click picks it, or leaves it
    if (const auto it = std::find(picked_.begin(), picked_.end(), held_); it != picked_.end())
      picked_.erase(it);
    else
      picked_.push_back(held_);
    emit pickChanged();
  }
  held_ = -1;
  measure(), update();
}

void CurvePlot::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const auto b = box();
  p.setPen(theme().line), p.setBrush(theme().raised), p.drawRect(b);
  const auto number = [](double v) { return QString::fromStdString(shortNumber(v, 3)); };
  const auto stepOf = [](double range) {
    const double power = std::pow(10, std::floor(std::log10(range / 5))), each = range / 5 / power;
    return power * (each < 1.5 ? 1 : each < 3.5 ? 2 : each < 7.5 ? 5 : 10);
  };
  const double unit = units().from(1, Kind::stress);
  for (double step = stepOf(x1_ - x0_), x = std::ceil(x0_ / step) * step; x <= x1_; x += step) {
    const double at = place({x, 0}).x();
    p.setPen(QPen(theme().line, 1)), p.drawLine(QPointF(at, b.top()), QPointF(at, b.bottom()));
    p.setPen(theme().faint),
        p.drawText(QRectF(at - 40, b.bottom() + 5, 80, 16), Qt::AlignHCenter, number(std::abs(x) < step / 9 ? 0 : x));
  }
  for (double step = stepOf((y1_ - y0_) * unit), y = std::ceil(y0_ * unit / step) * step; y <= y1_ * unit; y += step) {
    const double at = place({0, y / unit}).y();
    p.setPen(QPen(theme().line, 1)), p.drawLine(QPointF(b.left(), at), QPointF(b.right(), at));
    p.setPen(theme().faint), p.drawText(QRectF(0, at - 8, b.left() - 6, 16), Qt::AlignRight | Qt::AlignVCenter,
                                        number(std::abs(y) < step / 9 ? 0 : y));
  }
  p.setPen(theme().ink);
  p.drawText(QRectF(b.left(), b.bottom() + 24, b.width(), 18), Qt::AlignHCenter, content_.across);
  p.drawText(QRectF(b.left() + 8, b.top() + 4, 260, 18), Qt::AlignLeft, "stress, " + units().unit(Kind::stress));
  if (!content_.trouble.isEmpty()) {
    p.setPen(theme().accentInk), p.drawText(b.adjusted(12, 28, -12, -12), Qt::TextWordWrap, content_.trouble);
  }
  p.setClipRect(b.adjusted(-6, -6, 6, 6));
  const auto line = [&](const std::vector<QPointF>& points, const QPen& pen) {
    QPainterPath path;
    for (size_t i = 0; i < points.size(); ++i) i ? path.lineTo(place(points[i])) : path.moveTo(place(points[i]));
    p.setPen(pen), p.setBrush(Qt::NoBrush), p.drawPath(path);
  };
  for (const auto& t : content_.tests) {
    p.setPen(Qt::NoPen), p.setBrush(theme().faint);
    for (const auto& at : t) p.drawEllipse(place(at), 2.4, 2.4);
  }
  line(content_.law, QPen(theme().accent, 2));
  for (const auto& f : content_.fitted) line(f, QPen(theme().good, 2, Qt::DashLine));
  for (size_t i = 0; i < content_.table.size(); ++i) {
    const bool picked = std::find(picked_.begin(), picked_.end(), int(i)) != picked_.end();
    const auto at = place(content_.table[i]);
    p.setPen(QPen(theme().accent, 1.6)), p.setBrush(picked ? theme().accent : theme().raised);
    p.drawRect(QRectF(at.x() - 4, at.y() - 4, 8, 8));
  }
  if (content_.yield) {
    const auto at = place(*content_.yield);
    p.setPen(QPen(theme().ink, 1.4)), p.setBrush(Qt::NoBrush), p.drawEllipse(at, 6, 6);
    p.drawText(QRectF(at.x() + 10, at.y() + 2, 200, 18), Qt::AlignLeft,
               "yield " + units().quantity(content_.yield->y(), Kind::stress));
  }
}

}  // namespace anvil::app
