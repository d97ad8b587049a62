#include "app/view/feature_tool.hpp"

#include <QPainter>
#include <cmath>

#include "app/shown_units.hpp"
#include "app/theme.hpp"
#include "app/typed.hpp"
#include "core/base/error.hpp"
#include "core/model/document.hpp"
#include "core/model/features.hpp"
#include "core/model/part.hpp"
#include "core/model/place_words.hpp"
#include "core/model/quantities.hpp"

namespace anvil::app {

using geometry::FeatureSize;

FeatureTool::FeatureTool(DocumentStore& document, VtkCanvas& canvas, QObject* parent)
    : QObject(parent), document_(document), canvas_(canvas) {
  entry_ = new QLineEdit(&canvas_);
  entry_->setObjectName("feature-entry"), entry_->setFixedWidth(120), entry_->hide(), entry_->setAccessibleName("Size");
  connect(entry_, &QLineEdit::returnPressed, this, [this] {
    const auto size = std::exchange(typed_, {});
    const auto value = typed(units().asWritten(entry_->text(), Kind::length, document_.document().units.length));
    entry_->hide(), canvas_.setFocus();
    if (size && value.given()) edit(*size, value, 0);
  });
  connect(entry_, &QLineEdit::editingFinished, entry_, &QWidget::hide);
  connect(&document_, &DocumentStore::changed, this, [this] {
    gather();
    emit changed();
  });
}

void FeatureTool::show(const QString& part, const QString& face) {
  if (part == part_ && face == face_) return;
  part_ = part, face_ = face;
  gather();
  emit changed();
}

void FeatureTool::setOn(bool on) {
  if (on == on_) return;
  on_ = on, held_.reset();
  if (!on) entry_->hide();
  emit changed();
}

void FeatureTool::gather() {
  sizes_.clear();
  const auto* own = document_.document().parts.find(part_.toStdString());
  if (!own || own->solid.empty()) return;
  const auto named = face_.startsWith(part_ + ".") ? face_.section('.', 1, 1).toStdString() : std::string();
  feature_ = own->solid.size();
  for (size_t i = 0; i < own->solid.size(); ++i) {
    const auto& f = own->solid[i];
    const std::string kind = f.box        ? "box"
                             : f.cylinder ? "cylinder"
                             : f.tube     ? "tube"
                             : f.ball     ? "ball"
                             : f.plate    ? "plate"
                             : f.angle    ? "angle"
                                          : "";
    if (!named.empty() ? (f.name.empty() ? kind : f.name) == named : own->solid.size() == 1) feature_ = i;
  }
  if (feature_ == own->solid.size()) return;
  try {
    const model::Quantities q(document_.document());
    place_ = geometry::placement(*own, q, true, "parts/" + part_.toStdString());
    sizes_ = geometry::sizesOf(own->solid[feature_], q);
  } catch (const std::exception&) {  // readiness tells what is wrong
    sizes_.clear();
  }
}

void FeatureTool::edit(const FeatureSize& size, const model::Entry& value, int gesture) {
  try {
    const model::Quantities q(document_.document());
    const auto act = [&](model::Document& d) {
      auto* own = d.parts.find(part_.toStdString());
      if (own && feature_ < own->solid.size()) geometry::setSize(own->solid[feature_], q, size, value);
    };
    gesture ? document_.drag("a size of " + part_, gesture, act) : document_.edit("a size of " + part_, act);
  } catch (const Error& e) {
    emit said(QString::fromStdString(model::inWords(e)));
  }
}

QPointF FeatureTool::tipPlace(const QString& key) const {
  for (const auto& s : sizes_)
    if (QString::fromStdString(s.key) == key) return canvas_.toScreen(world(s.tip));
  return {-1e6, -1e6};
}
QRectF FeatureTool::labelPlace(const QString& key) const {
  for (const auto& s : sizes_)
    if (QString::fromStdString(s.key) == key) return labelOf(s);
  return {};
}

/// Towards the tip, a little beside the line: bases often lie together.
QRectF FeatureTool::labelOf(const FeatureSize& s) const {
  const auto a = canvas_.toScreen(world(s.base)), b = canvas_.toScreen(world(s.tip)), d = b - a;
  const double length = std::max(1., std::hypot(d.x(), d.y()));
  const QPointF at = a + 0.8 * d + QPointF(-d.y(), d.x()) / length * 12;
  const double w = canvas_.fontMetrics().horizontalAdvance(units().number(s.value, Kind::length, 5)) + 12;
  return {at.x() - w / 2, at.y() - 9, w, 18};
}

bool FeatureTool::press(const QPointF& at) {
  held_.reset();
  if (!on_) return false;
  for (const auto& s : sizes_) {
    const auto d = canvas_.toScreen(world(s.tip)) - at;
    if (!s.fixed && std::hypot(d.x(), d.y()) < 8) held_ = s;
  }
  heldAt_ = at;
  if (held_) gesture_ = document_.newGesture();
  return held_.has_value();
}

/// Along the size's own line, as it lies on the screen.
void FeatureTool::drag(const QPointF& at, bool free) {
  if (!held_) return;
  const Eigen::Vector3d along = (held_->tip - held_->base).normalized();
  const QPointF each = canvas_.toScreen(world(held_->tip + along)) - canvas_.toScreen(world(held_->tip)), way = at - heldAt_;
  const double size = each.x() * each.x() + each.y() * each.y();
  if (size < 1e-4) return;  // it points at the viewer
  double value = held_->value + (way.x() * each.x() + way.y() * each.y()) / size;
  const double unit = units().from(1, Kind::length);
  if (!free) {
    const double want = 6 * canvas_.pixelLength() * unit, power = std::pow(10, std::floor(std::log10(want)));
    const double step = (want / power > 5 ? 10 : want / power > 2 ? 5 : 2) * power / unit;
    value = step * std::max(1., std::round(value / step));
  }
  const auto in = conversion(document_.document().units.length, Kind::length);
  edit(*held_, model::Entry(QString::number(in.fromCore(std::max(value, 1e-6)), 'g', 9).toDouble()), gesture_);
}

void FeatureTool::release() { held_.reset(); }

bool FeatureTool::click(const QPointF& at) {
  if (!on_) return false;
  for (const auto& s : sizes_) {
    const auto box = labelOf(s);
    if (!box.adjusted(-2, -2, 2, 2).contains(at)) continue;
    typed_ = s;
    entry_->move(int(std::clamp(box.center().x() - 60, 2., std::max(2., canvas_.width() - 124.))),
                 int(std::clamp(box.center().y() - 14, 2., std::max(2., canvas_.height() - 32.))));
    entry_->setText(s.written.given() && !s.written.number ? shown(s.written) : units().number(s.value, Kind::length, 7));
    entry_->selectAll(), entry_->show(), entry_->raise(), entry_->setFocus();
    return true;
  }
  return false;
}

void FeatureTool::paint(QPainter& p) const {
  if (!on_) return;
  for (const auto& s : sizes_) {
    const auto a = canvas_.toScreen(world(s.base)), b = canvas_.toScreen(world(s.tip));
    for (const auto& pen : {QPen(theme().raised, 4), QPen(s.fixed ? theme().faint : theme().accent, 1.6)})
      p.setPen(pen), p.drawLine(a, b);
    p.setBrush(theme().raised), p.drawRect(QRectF(b - QPointF(4, 4), QSizeF(8, 8)));
    const auto box = labelOf(s);
    p.setPen(Qt::NoPen), p.drawRoundedRect(box, 4, 4);
    p.setPen(theme().ink), p.drawText(box, Qt::AlignCenter, units().number(s.value, Kind::length, 5));
  }
}

}  // namespace anvil::app
