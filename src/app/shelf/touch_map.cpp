#include "app/shelf/touch_map.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/part.hpp"
#include "core/model/regions.hpp"

#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/theme.hpp"

namespace anvil::app {

constexpr int margin = 4;

TouchMap::TouchMap(DocumentStore& document, ResultStore& results, QWidget* parent)
    : QWidget(parent), document_(document), results_(results) {
  setObjectName("touchMap");
  setMouseTracking(true);
  setCursor(Qt::PointingHandCursor);
  QSizePolicy policy(QSizePolicy::Preferred, QSizePolicy::Fixed);
  policy.setHeightForWidth(true);
  setSizePolicy(policy);
  gather();
}

/// Contacts by pairs of parts; "everything" touches every pair.
void TouchMap::gather() {
  const auto& d = document_.document();
  parts_ = d.parts.names();
  const auto index = [&](const std::string& surface) {
    std::string edge = surface;
    if (const auto* region = d.regions.find(surface); region && !region->edges.empty()) edge = region->edges.front();
    const auto it = std::find(parts_.begin(), parts_.end(), edge.substr(0, edge.find('.')));
    return it == parts_.end() ? -1 : int(it - parts_.begin());
  };
  const auto named = [&](const std::string& surface) {
    const auto* region = d.regions.find(surface);
    return region ? region->edges : std::vector<std::string>{surface};
  };
  for (const auto& [name, c] : d.contacts) {
    if (c.between.empty()) continue;
    if (c.between.size() == 1 && c.between[0] == "everything") {
      for (int a = 0; a < int(parts_.size()); ++a)
        for (int b = a; b < int(parts_.size()); ++b)
          if (!(d.parts.find(parts_[size_t(a)])->rigid && d.parts.find(parts_[size_t(b)])->rigid))
            touches_[{a, b}].push_back({name, {}});
      continue;
    }
    const int a = index(c.between.front()), b = index(c.between.back());
    if (a < 0 || b < 0) continue;
    Touch touch{name, named(c.between.front())};
    for (const auto& f : named(c.between.back())) touch.faces.push_back(f);
    touches_[std::minmax(a, b)].push_back(touch);
  }
}

double TouchMap::cellSize(int width) const {
  return parts_.empty() ? 0 : std::clamp((width - 2. * margin - 72) / double(parts_.size()), 9., 34.);
}
QSize TouchMap::sizeHint() const { return {180, heightForWidth(180)}; }
int TouchMap::heightForWidth(int width) const { return int(cellSize(width) * double(parts_.size())) + 2 * margin + 18; }

QRectF TouchMap::cell(Pair at) const {  // rows down the greater part, columns along the lesser
  const double s = cellSize(width());
  return {margin + s * at.first, margin + s * at.second, s, s};
}

QPointF TouchMap::cellOf(const QString& a, const QString& b) const {
  const auto find = [&](const QString& n) {
    return int(std::find(parts_.begin(), parts_.end(), n.toStdString()) - parts_.begin());
  };
  return cell(std::minmax(find(a), find(b))).center();
}

std::optional<TouchMap::Pair> TouchMap::pairAt(const QPointF& at) const {
  for (int b = 0; b < int(parts_.size()); ++b)
    for (int a = 0; a <= b; ++a)
      if (cell({a, b}).contains(at)) return Pair{a, b};
  return {};
}

void TouchMap::mouseMoveEvent(QMouseEvent* e) {
  const auto at = pairAt(e->position());
  if (at == hovered_) return;
  hovered_ = at, next_ = 0;
  QStringList faces;
  std::vector<int> parts;
  QString words;
  if (at) {
    const auto found = touches_.find(*at);
    const auto name = [&](int k) { return QString::fromStdString(parts_[size_t(k)]); };
    if (found != touches_.end()) {
      QStringList contacts;
      for (const auto& t : found->second) {
        contacts << QString::fromStdString(t.contact);
        for (const auto& f : t.faces) faces << QString::fromStdString(f);
      }
      parts = {at->first, at->second};
      if (faces.isEmpty()) faces << name(at->first);  // whole parts
      words = name(at->first) + " and " + name(at->second) + ": " + contacts.join(", ");
    } else if (at->first != at->second) {
      words = name(at->first) + " and " + name(at->second) + " are not made to touch";
    }
  }
  setToolTip(words);
  emit lit(faces, parts);
  update();
}

void TouchMap::leaveEvent(QEvent*) {
  hovered_.reset();
  emit lit({}, {});
  update();
}

void TouchMap::mousePressEvent(QMouseEvent* e) {
  const auto at = pairAt(e->position());
  if (!at) return;
  if (const auto found = touches_.find(*at); found != touches_.end()) {
    emit picked("contacts", QString::fromStdString(found->second[next_ % found->second.size()].contact));
    ++next_;
  } else if (at->first == at->second) {
    emit picked("parts", QString::fromStdString(parts_[size_t(at->first)]));
  }
}

/// Filled by the status of the contacts: the tightest of them counts. Patterned, so that colour alone does not carry it.
void TouchMap::drawCell(QPainter& p, Pair at, const std::vector<Touch>& touches) const {
  const QRectF r = cell(at).adjusted(1.5, 1.5, -1.5, -1.5);
  int status = -1;
  const bool result = results_.isOpen() && results_.moment().row >= 0;
  if (result)
    for (const auto& t : touches) {
      const auto tally = results_.contactTally(QString::fromStdString(t.contact));
      status = std::max(status, tally.sticking > tally.sliding ? 2 : tally.sliding > 0 ? 1 : 0);
    }
  const QColor fill = result ? contactColor(std::max(0, status)) : theme().faint;
  p.setPen(Qt::NoPen), p.setBrush(fill), p.drawRoundedRect(r, 3, 3);
  p.setPen(QPen(theme().raised, 1.4));
  if (result && status == 0) p.setBrush(theme().raised), p.drawRoundedRect(r.adjusted(2.5, 2.5, -2.5, -2.5), 2, 2);
  if (result && status == 1)
    for (double x : {0.3, 0.6, 0.9})
      p.drawLine(QPointF(r.left() + x * r.width(), r.top() + 2), QPointF(r.left() + (x - 0.25) * r.width(), r.bottom() - 2));
  if (touches.size() > 1 && r.width() > 14)
    p.setPen(status == 0 ? theme().ink : theme().raised), p.drawText(r, Qt::AlignCenter, QString::number(touches.size()));
}

void TouchMap::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const double s = cellSize(width());
  const int n = int(parts_.size());
  QFont small = p.font();
  small.setPixelSize(12), p.setFont(small);
  for (int b = 0; b < n; ++b)
    for (int a = 0; a <= b; ++a) {
      const QRectF r = cell({a, b});
      p.setPen(QPen(theme().line, 1)), p.setBrush(Qt::NoBrush), p.drawRect(r);
      const auto* part = document_.document().parts.find(parts_[size_t(b)]);
      if (a == b && part)
        p.setPen(Qt::NoPen), p.setBrush(partColor(b, QString::fromStdString(part->color))),
            p.drawEllipse(r.center(), s * 0.24, s * 0.24);
      if (const auto found = touches_.find({a, b}); found != touches_.end())
        a == b                                            ? p.setPen(QPen(theme().accent, 1.6)),
            p.drawEllipse(r.center(), s * 0.36, s * 0.36) : drawCell(p, {a, b}, found->second);
      if (hovered_ == Pair{a, b}) p.setPen(QPen(theme().accent, 2)), p.setBrush(Qt::NoBrush), p.drawRect(r);
    }
  p.setPen(theme().ink);
  const int every = std::max(1, int(std::ceil(14 / std::max(1., s))));
  for (int b = 0; b < n; b += every) {
    const bool warm = hovered_ && (hovered_->first == b || hovered_->second == b);
    p.setPen(warm ? theme().accent : theme().ink);
    const QRectF r(margin + s * (b + 1) + 6, margin + s * b, width() - s * (b + 1) - margin - 8, s);
    if (s >= 9)
      p.drawText(r, Qt::AlignVCenter,
                 p.fontMetrics().elidedText(QString::fromStdString(parts_[size_t(b)]), Qt::ElideRight, int(r.width())));
  }
}

}  // namespace anvil::app
