#include "app/history/history_view.hpp"

#include <QContextMenuEvent>
#include <QLineEdit>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "app/theme.hpp"
#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/model/quantities.hpp"

namespace anvil::app {
namespace {

constexpr int nameWidth = 190, headHeight = 26, laneHeight = 30, stripHeight = 46, rightEdge = 20;

QString words(const model::Entry& e) { return e.number ? QString::fromStdString(shortNumber(*e.number)) : QString::fromStdString(e.text); }

/// What a course says in a step, as short words.
QString cellWords(const model::Course& c, const std::string& step, size_t index) {
  if (!c.table.empty()) return index == 0 ? "table" : "";
  if (c.stages.empty()) return index == 0 ? words(c.value) : "hold";
  const auto* s = c.stages.find(step);
  if (!s) return "";
  switch (s->how) {
    case model::How::hold: return "hold";
    case model::How::off: return "off";
    case model::How::atOnce: return "at once " + words(s->value);
    default: return words(s->value);
  }
}

void setCell(model::Course& c, const std::string& step, size_t index, const QString& text, const model::Document& d) {
  if (c.stages.empty() && c.table.empty() && d.steps.size() > 1) {  // a single value becomes a stage of its own
    const auto value = c.value;
    c.value = {};
    if (value.given() && index != 0) c.stages(d.steps.front().first) = {model::How::ramp, value};
  }
  const auto t = text.trimmed();
  bool isNumber;
  const double number = t.toDouble(&isNumber);
  const auto entry = isNumber ? model::Entry(number) : model::Entry(t.toStdString());
  if (d.steps.size() == 1 && c.stages.empty()) {
    c.value = entry;
    return;
  }
  if (t.isEmpty()) {
    std::erase_if(c.stages, [&](const auto& s) { return s.first == step; });
    return;
  }
  auto& stage = c.stages(step);
  if (t == "hold") stage = {model::How::hold, {}};
  else if (t == "off") stage = {model::How::off, {}};
  else if (t.startsWith("at once")) {
    const auto rest = t.mid(7).trimmed();
    const double v = rest.toDouble(&isNumber);
    stage = {model::How::atOnce, isNumber ? model::Entry(v) : model::Entry(rest.toStdString())};
  } else stage = {model::How::ramp, entry};
}

model::Course* courseOf(model::Document& d, const Lane& lane) {
  const auto name = lane.name.toStdString();
  if (lane.kind == "motions") return d.motions.find(name) ? &d.motions.find(name)->course : nullptr;
  if (lane.kind == "loads") return d.loads.find(name) ? &d.loads.find(name)->course : nullptr;
  return nullptr;
}

}  // namespace

HistoryView::HistoryView(DocumentStore& document, ResultStore& results, RunControl& run, QWidget* parent)
    : QWidget(parent), document_(document), results_(results), run_(run) {
  setMinimumHeight(150);
  setFocusPolicy(Qt::ClickFocus);
  setMouseTracking(true);
  editor_ = new QLineEdit(this);
  editor_->setObjectName("cellEditor");
  editor_->hide();
  connect(editor_, &QLineEdit::editingFinished, this, [this] {
    if (!editor_->isVisible()) return;
    editor_->hide();
    if (editLane_ < 0 || size_t(editLane_) >= lanes_.size()) return;
    const Lane lane = lanes_[size_t(editLane_)];
    const auto step = steps_[editStep_].toStdString();
    document_.edit("change " + lane.name, [&](model::Document& d) {
      if (auto* c = courseOf(d, lane)) setCell(*c, step, size_t(editStep_), editor_->text(), d);
    });
  });
  timer_.setInterval(90);
  connect(&timer_, &QTimer::timeout, this, [this] {
    const int last = results_.has() ? int(results_.reader()->rows().size()) - 1 : -1;
    if (results_.row() >= last) timer_.stop();
    else results_.setRow(results_.row() + 1);
  });
  connect(&document_, &DocumentStore::changed, this, &HistoryView::rebuild);
  connect(&results_, &ResultStore::changed, this, [this] { findMarks(), update(); });
  connect(&results_, &ResultStore::rowChanged, this, qOverload<>(&QWidget::update));
  connect(&run_, &RunControl::iterated, this, qOverload<>(&QWidget::update));
}

QSize HistoryView::sizeHint() const { return {900, headHeight + laneHeight * std::clamp(int(lanes_.size()), 2, 5) + stripHeight + 6}; }

void HistoryView::play(bool on) {
  if (!on) {
    timer_.stop();
    return;
  }
  if (results_.has() && results_.row() + 1 >= int(results_.reader()->rows().size())) results_.setRow(-1);
  timer_.start();
}

void HistoryView::rebuild() {
  lanes_.clear(), steps_.clear();
  const auto& d = document_.document();
  for (const auto& n : d.steps.names()) steps_ << QString::fromStdString(n);
  times_ = {0};
  for (int i = 0; i < steps_.size(); ++i) times_.push_back(i + 1.);
  std::unique_ptr<model::Quantities> q;
  try {
    q = std::make_unique<model::Quantities>(d);
    times_ = model::stepTimes(d, *q);
  } catch (const Error&) {
    // readiness says what is wrong; lanes are still shown
  }
  const auto add = [&](const char* kind, const std::string& name, const model::Course* course, const std::vector<std::string>* during, Kind unit) {
    Lane lane;
    lane.kind = kind, lane.name = QString::fromStdString(name);
    lane.active.assign(size_t(steps_.size()), true);
    if (course) {
      lane.editable = course->table.empty();
      for (int i = 0; i < steps_.size(); ++i) lane.cells << cellWords(*course, steps_[i].toStdString(), size_t(i));
      try {
        if (q && course->given()) {
          const auto t = model::timed(*course, unit, d, *q, name);
          lane.t = t.curve.x, lane.v = t.curve.y, lane.active = t.active;
        }
      } catch (const Error&) {
        lane.cells[0] += " ?";
      }
    } else if (during) {
      for (int i = 0; i < steps_.size(); ++i) {
        const bool on = during->empty() || std::find(during->begin(), during->end(), steps_[i].toStdString()) != during->end();
        lane.active[size_t(i)] = on;
        lane.cells << (on && i == 0 ? "acts" : "");
      }
    }
    lanes_.push_back(lane);
  };
  for (const auto& [n, m] : d.motions) add("motions", n, &m.course, nullptr, m.along.axis == "turn" ? Kind::angle : Kind::length);
  for (const auto& [n, l] : d.loads) add("loads", n, &l.course, nullptr, l.kind == "pressure" ? Kind::stress : Kind::force);
  for (const auto& [n, c] : d.contacts) add("contacts", n, c.interference.given() ? &c.interference : nullptr, &c.during, Kind::length);
  for (const auto& [n, s] : d.supports) add("supports", n, nullptr, &s.during, Kind::length);
  for (const auto& [n, s] : d.stabilisations) add("stabilisations", n, nullptr, &s.during, Kind::length);
  scroll_ = std::clamp(scroll_, 0, std::max(0, int(lanes_.size()) - 1));
  updateGeometry();
  update();
}

double HistoryView::xOf(double t) const { return nameWidth + (width() - nameWidth - rightEdge) * (times_.back() > 0 ? t / times_.back() : 0); }
double HistoryView::timeOf(double x) const { return (x - nameWidth) / std::max(1, width() - nameWidth - rightEdge) * times_.back(); }

int HistoryView::stepAt(double x) const {
  for (int i = 0; i < steps_.size(); ++i)
    if (x >= xOf(times_[size_t(i)]) && x < xOf(times_[size_t(i) + 1])) return i;
  return -1;
}

int HistoryView::laneAt(double y) const {
  if (y < headHeight || y > height() - stripHeight) return -1;
  const int lane = int((y - headHeight) / laneHeight) + scroll_;
  return lane < int(lanes_.size()) ? lane : -1;
}

QPoint HistoryView::cellCenter(int lane, int step) const {
  return QPointF((xOf(times_[size_t(step)]) + xOf(times_[size_t(step) + 1])) / 2, headHeight + laneHeight * (lane - scroll_ + 0.5)).toPoint();
}

void HistoryView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const auto& th = theme();
  p.fillRect(rect(), th.paper);
  const int bottom = height() - stripHeight;
  p.setPen(th.line);
  p.drawLine(0, headHeight, width(), headHeight), p.drawLine(0, bottom, width(), bottom), p.drawLine(nameWidth, 0, nameWidth, height());
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
  p.setClipRect(0, headHeight + 1, width(), bottom - headHeight - 1);
  if (lanes_.empty()) p.drawText(QRectF(nameWidth + 16, headHeight, width(), 60), Qt::AlignVCenter, "What acts appears here: add a support, a motion or a load on the shelf.");
  for (size_t k = size_t(scroll_); k < lanes_.size(); ++k) {
    const auto& lane = lanes_[k];
    const double y = headHeight + laneHeight * double(int(k) - scroll_);
    if (y > bottom) break;
    const QColor c = laneColor(lane.kind);
    const bool chosen = lane.kind == selectedKind_ && lane.name == selectedName_;
    if (chosen) p.fillRect(QRectF(0, y, width(), laneHeight), QColor(th.accentSoft.red(), th.accentSoft.green(), th.accentSoft.blue(), 90));
    p.fillRect(QRectF(0, y + 4, 4, laneHeight - 8), c);
    p.setPen(th.ink);
    p.drawText(QRectF(16, y, nameWidth - 62, laneHeight), Qt::AlignVCenter, p.fontMetrics().elidedText(lane.name, Qt::ElideRight, nameWidth - 66));
    p.setPen(th.faint);
    QFont small = font();
    small.setPixelSize(12), p.setFont(small);
    p.drawText(QRectF(16, y, nameWidth - 24, laneHeight), Qt::AlignVCenter | Qt::AlignRight, lane.kind.left(lane.kind.size() - 1).left(9));
    p.setFont(font());
    double low = 0, high = 0;
    for (double v : lane.v) low = std::min(low, v), high = std::max(high, v);
    const double range = std::max(high - low, 1e-300);
    const auto yOf = [&](double v) { return y + laneHeight - 6 - (v - low) / range * (laneHeight - 12); };
    for (int i = 0; i < steps_.size(); ++i) {
      if (!lane.active[size_t(i)]) continue;
      const double x0 = xOf(times_[size_t(i)]), x1 = xOf(times_[size_t(i) + 1]);
      QColor soft = c;
      soft.setAlpha(30);
      p.fillRect(QRectF(x0 + 1, y + 3, x1 - x0 - 2, laneHeight - 6), soft);
      if (lane.t.size() < 2) {
        p.setPen(QPen(c, 1.5)), p.drawLine(QPointF(x0 + 1, y + laneHeight / 2.), QPointF(x1 - 1, y + laneHeight / 2.));
        continue;
      }
      QPainterPath path;
      const Curve curve{lane.t, lane.v};
      const double t0 = times_[size_t(i)], t1 = times_[size_t(i) + 1];
      path.moveTo(x0, yOf(curve(t0 + 1e-9 * (t1 - t0))));
      for (double t : lane.t)
        if (t > t0 && t < t1) path.lineTo(xOf(t), yOf(curve(t)));
      path.lineTo(x1, yOf(curve(t1)));
      p.setPen(QPen(c, 1.8)), p.setBrush(Qt::NoBrush), p.drawPath(path);
    }
    for (int i = 0; i < lane.cells.size() && i < steps_.size(); ++i) {
      const double x0 = xOf(times_[size_t(i)]), x1 = xOf(times_[size_t(i) + 1]);
      if (lane.cells[i].isEmpty()) continue;
      const QString text = p.fontMetrics().elidedText(lane.cells[i], Qt::ElideRight, int(x1 - x0 - 20));
      const QRectF box(x0 + 6, y + 6, p.fontMetrics().horizontalAdvance(text) + 8, laneHeight - 12);
      QColor back = th.paper;
      back.setAlpha(200);
      p.fillRect(box, back);
      p.setPen(th.ink), p.drawText(box, Qt::AlignCenter, text);
    }
  }
  p.setClipping(false);
  strip(p);
  const double x = xOf(results_.row() < 0 ? 0 : results_.time());
  p.setPen(QPen(th.accent, 2)), p.drawLine(QPointF(x, 4), QPointF(x, height() - 4));
  p.setBrush(th.accent), p.setPen(Qt::NoPen);
  p.drawPolygon(QPolygonF{{x - 6, 0}, {x + 6, 0}, {x, 9}});
}

void HistoryView::strip(QPainter& p) {
  const auto& th = theme();
  const double base = height() - 6, top = height() - stripHeight + 8;
  p.setPen(th.faint);
  QFont small = font();
  small.setPixelSize(12), p.setFont(small);
  const QString state = run_.active() ? "running" : results_.has() ? QString("%1 increments").arg(results_.reader()->rows().size()) : "not run yet";
  p.drawText(QRectF(16, top - 4, nameWidth - 24, 18), state);
  if (results_.has()) p.drawText(QRectF(16, top + 12, nameWidth - 24, 18), "height: iterations");
  p.setFont(font());
  if (!results_.has()) return;
  const auto& rows = results_.reader()->rows();
  int most = 8;
  for (const auto& r : rows) most = std::max(most, r.iterations);
  double before = 0;
  for (size_t i = 0; i < rows.size(); ++i) {
    const double x0 = xOf(before), x1 = xOf(rows[i].time), h = std::max(2., (base - top) * rows[i].iterations / most);
    p.fillRect(QRectF(x0, base - h, std::max(1., x1 - x0 - 1), h), int(i) == results_.row() ? th.accent : th.dark ? QColor("#6B7078") : QColor("#B9B2A6"));
    if (rows[i].cuts > 0) {  // a notch for increments that had to be shortened
      p.setBrush(th.warn), p.setPen(Qt::NoPen);
      p.drawPolygon(QPolygonF{{x0 - 3, top - 5}, {x0 + 3, top - 5}, {x0, top + 1}});
    }
    before = rows[i].time;
  }
  QFont tiny = font();
  tiny.setPixelSize(12), p.setFont(tiny);
  for (size_t i = 0; i < marks_.size(); ++i) {
    const auto& m = marks_[i];
    const double x = xOf(m.time), next = i + 1 < marks_.size() ? xOf(marks_[i + 1].time) : width();
    p.setPen(QPen(m.color, 1.5)), p.drawLine(QPointF(x, top - 6), QPointF(x, base));
    p.setBrush(m.color), p.setPen(Qt::NoPen), p.drawEllipse(QPointF(x, top - 3), 3.5, 3.5);
    const double w = p.fontMetrics().horizontalAdvance(m.words);
    if (x + 10 + w > next) continue;  // words only where they have room; the others are told on hovering
    p.setPen(m.color), p.drawText(QPointF(x + 6, top + 3), m.words);
  }
  p.setFont(font());
}

void HistoryView::findMarks() {
  marks_.clear();
  if (!results_.has()) return;
  try {
    const auto& reader = *results_.reader();
    const auto t = reader.times();
    for (const auto& contact : reader.header().contacts) {
      const auto area = reader.history("contacts/" + contact.name + "/area");
      for (size_t i = 0; i < area.size(); ++i) {
        const bool now = area[i] > 0, before = i > 0 && area[i - 1] > 0;
        if (now != before) marks_.push_back({t[i], QString::fromStdString(contact.name) + (now ? " closes" : " opens"), laneColor("contacts")});
      }
    }
    const auto strain = reader.history("plasticity/greatest plastic strain");
    for (size_t i = 0; i < strain.size(); ++i)
      if (strain[i] > 0) {
        marks_.push_back({t[i], "yielding begins", theme().accent});
        break;
      }
    std::stable_sort(marks_.begin(), marks_.end(), [](const Mark& a, const Mark& b) { return a.time < b.time; });
  } catch (const Error&) {
    marks_.clear();  // the file is just growing: the next look finds them
  }
}

void HistoryView::movePlayhead(double x) {
  if (!results_.has()) return;
  const int row = results_.rowAt(timeOf(x));
  if (row != results_.row()) results_.setRow(row);
}

void HistoryView::mousePressEvent(QMouseEvent* e) {
  if (e->button() != Qt::LeftButton) return;
  const auto at = e->position();
  const int lane = laneAt(at.y()), step = stepAt(at.x());
  if (lane >= 0) {
    selectedKind_ = lanes_[size_t(lane)].kind, selectedName_ = lanes_[size_t(lane)].name;
    emit selected(selectedKind_, selectedName_);
    update();
    return;
  }
  if (at.y() < headHeight && step >= 0) {
    selectedKind_ = "steps", selectedName_ = steps_[step];
    emit selected(selectedKind_, selectedName_);
  }
  if (at.x() > nameWidth - 10) dragging_ = true, movePlayhead(at.x());
  update();
}

void HistoryView::mouseMoveEvent(QMouseEvent* e) {
  if (dragging_) movePlayhead(e->position().x());
  QStringList near;
  for (const auto& m : marks_)
    if (e->position().y() > height() - stripHeight && std::abs(xOf(m.time) - e->position().x()) < 5) near << m.words;
  setToolTip(near.join("\n"));
}

void HistoryView::mouseDoubleClickEvent(QMouseEvent* e) {
  const int lane = laneAt(e->position().y()), step = stepAt(e->position().x());
  if (lane >= 0 && step >= 0) editCell(lane, step);
}

void HistoryView::editCell(int lane, int step) {
  if (!lanes_[size_t(lane)].editable) return;
  editLane_ = lane, editStep_ = step;
  const double x0 = xOf(times_[size_t(step)]), x1 = xOf(times_[size_t(step) + 1]), y = headHeight + laneHeight * (lane - scroll_);
  editor_->setGeometry(QRectF(x0 + 2, y + 1, std::min(220., x1 - x0 - 4), laneHeight - 2).toRect());
  editor_->setText(lanes_[size_t(lane)].cells[step]);
  editor_->setPlaceholderText("value, hold, off, at once …");
  editor_->show();
  editor_->setFocus();
  editor_->selectAll();
}

void HistoryView::addStep(int after) {
  document_.edit("add step", [&](model::Document& d) {
    std::string name = "step " + std::to_string(d.steps.size() + 1);
    for (int k = 2; d.steps.find(name); ++k) name = "step " + std::to_string(d.steps.size() + size_t(k));
    const auto at = d.steps.begin() + std::min<std::ptrdiff_t>(after + 1, std::ptrdiff_t(d.steps.size()));
    d.steps.insert(at, {name, after >= 0 && size_t(after) < d.steps.size() ? d.steps[size_t(after)].second : model::Step{}});
  });
}

void HistoryView::contextMenuEvent(QContextMenuEvent* e) {
  const int step = stepAt(e->pos().x());
  QMenu menu(this);
  menu.addAction("Add a step behind", this, [this, step] { addStep(step); });
  if (step >= 0 && steps_.size() > 1)
    menu.addAction("Take '" + steps_[step] + "' out", this, [this, step] {
      const auto name = steps_[step].toStdString();
      document_.edit("take step out", [&](model::Document& d) {
        const auto out = [&](auto& list) { std::erase_if(list, [&](const auto& x) { return x.first == name; }); };
        out(d.steps);
        for (auto& [n, m] : d.motions) out(m.course.stages);
        for (auto& [n, l] : d.loads) out(l.course.stages);
      });
    });
  menu.exec(e->globalPos());
}

void HistoryView::wheelEvent(QWheelEvent* e) {
  const int visible = (height() - headHeight - stripHeight) / laneHeight;
  scroll_ = std::clamp(scroll_ - (e->angleDelta().y() > 0 ? 1 : -1), 0, std::max(0, int(lanes_.size()) - visible));
  update();
}

}  // namespace anvil::app
