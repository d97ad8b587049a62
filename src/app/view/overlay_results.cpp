// Results painted over the picture: the legend, contact status, extremes, ill-shaped elements, what bolts carry.
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
#include "app/view/model_view.hpp"
#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/lower/lower.hpp"
#include "core/mesh/cut.hpp"
#include "core/mesh/select.hpp"
#include "core/model/bolts.hpp"
#include "core/model/document.hpp"
#include "core/model/quantities.hpp"

namespace anvil::app {
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
    p.drawRect(
        QRectF(bar.left() - 4 - 44 * count[i] / most, bar.bottom() - double(i + 1) * step + 0.5, 44 * count[i] / most, step - 1));
  p.setPen(theme().ink);
  const auto words = [&](double value) { return units().number(value, r.kind()); };
  for (int i = 0; i <= 5; ++i) {
    const double value = low + (high - low) * i / 5;
    const QRectF at(bar.right() + 5, y(value) - 9, 72, 18);
    p.drawText(at, Qt::AlignVCenter, words(value));
    if (i % 5 == 0)
      p.drawLine(at.bottomLeft(), at.bottomLeft() + QPointF(p.fontMetrics().horizontalAdvance(words(value)), 0));  // leads there
  }
  const double yield = v_.scene_->header().yieldStress;
  if (r.moment().field == "von Mises stress" && yield > low && yield < high) {
    p.setPen(QPen(theme().accent, 2));
    p.drawLine(QPointF(bar.left() - 50, y(yield)), QPointF(bar.right() + 2, y(yield)));
    p.drawText(QRectF(bar.left() - 172, y(yield) - 9, 118, 18), Qt::AlignRight | Qt::AlignVCenter,
               "first yield " + units().number(yield, Kind::stress));
  }
  p.setPen(theme().faint);
  QString below = r.rangeLocked() ? "range held" : "range of this moment";
  p.drawText(QRectF(width() - 180, bar.bottom() + 8, 172, 18), Qt::AlignRight, below);
  p.setPen(theme().ink);
  const QFont plain = p.font();
  QFont f = plain;
  f.setWeight(QFont::DemiBold);
  p.setFont(f);
  p.drawText(QRectF(width() - 480, 8, 472, 18), Qt::AlignRight, r.moment().field + units().behind(r.kind()));
  p.setFont(plain);
}

/// A contact's surface by status: colour and line pattern, so that colour alone does not carry it.
bool Overlay::contactStatus(QPainter& p) {
  const auto& header = v_.scene_->header();
  const auto& status = v_.drawn_.status;
  if (status.empty()) return false;
  const QPen pens[3] = {QPen(contactColor(0), 2, Qt::DotLine), QPen(contactColor(1), 5, Qt::DashLine, Qt::FlatCap),
                        QPen(contactColor(2), 5, Qt::SolidLine, Qt::FlatCap)};
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
    if (v_.scene_->solid()) {  // as on the facets: a stroke where it slides, a cross where it sticks
      const QRectF box(18, y - 8, 16, 16);
      p.setPen(Qt::NoPen), p.setBrush(contactColor(i)), p.drawRect(box), p.setBrush(Qt::NoBrush),
          p.setPen(QPen(QColor("#23282D"), 1.2));
      if (i > 0) p.drawLine(box.bottomLeft() + QPointF(3, -3), box.topRight() + QPointF(-3, 3));
      if (i > 1) p.drawLine(box.topLeft() + QPointF(3, 3), box.bottomRight() + QPointF(-3, -3));
    } else {
      p.setPen(pens[i]), p.drawLine(QPointF(16, y), QPointF(44, y));
    }
    p.setPen(theme().ink), p.drawText(QPointF(52, y + 4), words[i]);
  }
  return true;
}

QString Overlay::roughness(int node) const {
  const auto* rough = v_.results_.rough();
  return rough && size_t(node) < rough->size() && (*rough)[size_t(node)] ? QString(" ") + triangle : QString();
}

/// Thin elements in sight, where the result on show is rough. True when there are some.
bool Overlay::thinElements(QPainter& p) {
  const auto* rough = v_.results_.rough();
  const auto& mesh = v_.scene_->header().mesh;
  if (!rough || rough->size() != mesh.x.size() || v_.drawn_.sweep) return false;
  const auto mark = [&](const Eigen::Vector3d& x) {
    const QPointF at = v_.canvas_->toScreen(x);
    const QPolygonF shape{at + QPointF(0, -5), at + QPointF(4.5, 3), at + QPointF(-4.5, 3)};
    for (const auto& pen : {QPen(theme().raised, 3.5), QPen(theme().ink, 1.3)}) p.setPen(pen), p.drawPolygon(shape);
  };
  bool any = false;
  p.setBrush(Qt::NoBrush);
  if (!v_.scene_->solid()) {
    for (const auto& b : mesh.blocks)
      for (int n : b.nodes)
        if ((*rough)[size_t(n)] && !v_.isHidden(b.part)) mark(v_.scene_->place(n)), any = true;
    return any;
  }
  for (size_t part = 0; part < mesh.parts.size(); ++part) {
    if (v_.isHidden(int(part))) continue;
    for (const auto& f : v_.scene_->boundary(part)) {
      const auto nodes = mesh.nodesOf(f);
      const auto corners = nodes.begin() + mesh.cornersOf(f);
      if (!std::all_of(nodes.begin(), corners, [&](int n) { return (*rough)[size_t(n)]; })) continue;
      Eigen::Vector3d middle, normal;
      v_.scene_->facetFrame(f, middle, normal);
      if (v_.drawn_.section && v_.drawn_.section->cutsAway(middle)) continue;
      if (normal.dot(v_.canvas_->viewer()) > 0) mark(middle), any = true;
    }
  }
  return any;
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
    const bool behind = v_.isBehind(n);  // what is seen there is another face
    const QString text =
        word + " " + units().number(r.values()[size_t(n)], r.kind()) + roughness(n) + (behind ? ", hidden here" : "");
    const double w = p.fontMetrics().horizontalAdvance(text) + 12, x0 = std::max(8., at.x() - w - 46);
    const QRectF box(x0, at.y() - 11, w, 22);
    const auto dashes = behind ? Qt::DotLine : Qt::SolidLine;
    for (const auto& pen : {QPen(theme().raised, 4), QPen(theme().ink, 1, dashes)})
      p.setPen(pen), p.drawLine(QPointF(box.right(), box.center().y()), at);
    p.setPen(QPen(theme().ink, 1)), p.setBrush(theme().raised), p.drawRoundedRect(box, 4, 4);
    p.setPen(QPen(theme().ink, 1.5, dashes)), p.setBrush(Qt::NoBrush), p.drawEllipse(at, 4, 4);
    p.drawText(box, Qt::AlignCenter, text);
  };
  mark(most, "greatest");
  if (r.isSigned()) mark(least, "least");
}

/// What each bolt carries at the moment on show, its force and bending moment, at the upper end of its shank.
void Overlay::boltForces(QPainter& p) {
  const auto& mesh = v_.scene_->header().mesh;
  const auto row = size_t(std::max(0, v_.results_.moment().row));
  std::vector<QRectF> taken;
  std::vector<analysis::OneBolt> bolts;
  for (const auto& [name, b] : v_.document_.document().bolts)
    for (auto& one : analysis::boltsOf(name, b, mesh)) {
      if (b.beam) one.on = b.beam->head;
      bolts.push_back(std::move(one));
    }
  for (const auto& [name, ends] : bolts) {
    const auto* force = v_.results_.history("bolts/" + QString::fromStdString(name) + "/force");
    if (!force || row >= force->size()) continue;
    QPointF at(0, 1e9);
    bool hidden = false;
    for (const auto& on : ends)
      for (const auto* face : mesh.facesNamed(on)) {
        hidden |= v_.isHidden(face->part);
        for (int n : mesh.nodesOf(face->facets))
          if (const QPointF q = v_.canvas_->toScreen(v_.scene_->place(n)); q.y() < at.y()) at = q;
      }
    if (hidden || at.y() > 1e8) continue;
    const double value = (*force)[row];
    QString text = QString::fromStdString(name) + "  " + units().quantity(value, Kind::force);
    if (const auto* moment = v_.results_.history("bolts/" + QString::fromStdString(name) + "/bending moment");
        moment && row < moment->size())
      text += " · " + units().quantity((*moment)[row], Kind::moment, 3);
    QRectF box(at.x() + 10, at.y() - 40, p.fontMetrics().horizontalAdvance(text) + 16, 22);
    box.moveRight(std::min(box.right(), width() - legendWidth - 6.));
    for (size_t k = 0; k < taken.size(); ++k)
      if (taken[k].adjusted(-2, -2, 2, 2).intersects(box)) box.moveTop(taken[k].top() - 25), k = size_t(-1);
    taken.push_back(box);
    const QColor c = laneColor("bolts");
    p.setPen(QPen(c, 1)), p.drawLine(at, QPointF(box.left() + 6, box.bottom()));
    p.setBrush(theme().raised), p.drawRoundedRect(box, 4, 4);
    p.setBrush(c), p.setPen(Qt::NoPen), p.drawEllipse(at, 2.5, 2.5);
    p.setPen(theme().ink), p.drawText(box, Qt::AlignCenter, text);
  }
}

}  // namespace anvil::app
