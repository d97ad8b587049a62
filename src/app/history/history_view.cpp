#include "app/history/history_view.hpp"

#include <QContextMenuEvent>
#include <QLineEdit>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "app/history/step_edits.hpp"
#include "app/theme.hpp"
#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/model/actions.hpp"
#include "core/model/bolts.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/quantities.hpp"
#include "core/model/timed_course.hpp"

namespace anvil::app {
namespace {

constexpr int nameWidth = 190, headHeight = 26, laneHeight = 30, stripHeight = 46, rightEdge = 20;

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
      if (auto* b = lane.kind == "bolts" ? d.bolts.find(lane.name.toStdString()) : nullptr)
        setBoltCell(*b, step, size_t(editStep_), editor_->text(), d);
      else if (auto* c = courseOf(d, lane.kind, lane.name))
        setCell(*c, step, size_t(editStep_), editor_->text(), d);
    });
  });
  timer_.setInterval(90);
  connect(&timer_, &QTimer::timeout, this, [this] {
    if (results_.row() >= results_.last())
      timer_.stop();
    else if (!results_.busy())
      results_.setRow(results_.row() + 1);
  });
  connect(&document_, &DocumentStore::changed, this, &HistoryView::rebuild);
  connect(&results_, &ResultStore::changed, this, [this] { findMarks(), update(); });
  connect(&results_, &ResultStore::playheadMoved, this, qOverload<>(&QWidget::update));
  connect(&run_, &RunControl::iterated, this, qOverload<>(&QWidget::update));
}

QSize HistoryView::sizeHint() const {
  return {900, headHeight + laneHeight * std::clamp(int(lanes_.size()), 2, 5) + stripHeight + 6};
}

void HistoryView::play(bool on) {
  if (!on) {
    timer_.stop();
    return;
  }
  if (results_.has() && results_.row() >= results_.last()) results_.setRow(-1);
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
  const auto add = [&](const char* kind, const std::string& name, const model::Course* course,
                       const std::vector<std::string>* during, Kind unit) {
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
  for (const auto& [n, m] : d.motions)
    add("motions", n, &m.course, nullptr, m.along.axis.starts_with("turn") ? Kind::angle : Kind::length);
  for (const auto& [n, l] : d.loads) add("loads", n, &l.course, nullptr, loadKind(l));
  for (const auto& [n, b] : d.bolts) {
    add("bolts", n, &b.force, nullptr, Kind::force);
    auto& lane = lanes_.back();
    bool tightened = false;
    for (int i = 0; i < lane.cells.size(); ++i) {  // it keeps its length wherever no force is given
      const auto step = steps_[i].toStdString();
      const auto* drawn = b.shortening.stages.find(step);
      const bool off = lane.cells[i] == "off", given = !lane.cells[i].isEmpty() && lane.cells[i] != "hold" && !off;
      if (given)
        lane.cells[i] = "tighten " + lane.cells[i];
      else if (drawn && drawn->value.given())
        lane.cells[i] = "shorten " + cellWords(b.shortening, step, size_t(i));
      else if (off)
        lane.cells[i] = "slack";
      else
        lane.cells[i] = tightened ? "hold" : QString();
      tightened |= given || drawn;
      lane.active[size_t(i)] = !lane.cells[i].isEmpty();
    }
  }
  for (const auto& [n, t] : d.temperatures) add("temperatures", n, &t.rise, nullptr, Kind::number);
  for (const auto& [n, c] : d.contacts)
    add("contacts", n, c.interference.given() ? &c.interference : nullptr, &c.during, Kind::length);
  for (const auto& [n, s] : d.supports) add("supports", n, nullptr, &s.during, Kind::length);
  for (const auto& [n, s] : d.stabilisations) add("stabilisations", n, nullptr, &s.during, Kind::length);
  scroll_ = std::clamp(scroll_, 0, std::max(0, int(lanes_.size()) - 1));
  updateGeometry();
  update();
}

double HistoryView::xOf(double t) const {
  return nameWidth + (width() - nameWidth - rightEdge) * (times_.back() > 0 ? t / times_.back() : 0);
}
double HistoryView::timeOf(double x) const {
  return (x - nameWidth) / std::max(1, width() - nameWidth - rightEdge) * times_.back();
}

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
  return QPointF((xOf(times_[size_t(step)]) + xOf(times_[size_t(step) + 1])) / 2,
                 headHeight + laneHeight * (lane - scroll_ + 0.5))
      .toPoint();
}

void HistoryView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const auto& th = theme();
  p.fillRect(rect(), th.paper);
  const int bottom = height() - stripHeight;
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
  p.setClipRect(0, headHeight + 1, width(), bottom - headHeight - 1);
  if (lanes_.empty())
    p.drawText(QRectF(nameWidth + 16, headHeight, width(), 60), Qt::AlignVCenter,
               "What acts appears here: add a support, a motion or a load on the shelf.");
  for (size_t k = size_t(scroll_); k < lanes_.size(); ++k) {
    const auto& lane = lanes_[k];
    const double y = headHeight + laneHeight * double(int(k) - scroll_);
    if (y > bottom) break;
    const QColor c = laneColor(lane.kind);
    const bool chosen = lane.kind == selectedKind_ && lane.name == selectedName_;
    if (chosen)
      p.fillRect(QRectF(0, y, width(), laneHeight), QColor(th.accentSoft.red(), th.accentSoft.green(), th.accentSoft.blue(), 90));
    p.fillRect(QRectF(0, y + 4, 4, laneHeight - 8), c);
    const QString kind = lane.kind.left(lane.kind.size() - 1);  // "contacts": a contact
    QFont small = font();
    small.setPixelSize(12);
    const int room = nameWidth - 34 - QFontMetrics(small).horizontalAdvance(kind);  // the kind is shown whole
    p.setPen(th.ink);
    p.drawText(QRectF(16, y, room, laneHeight), Qt::AlignVCenter, p.fontMetrics().elidedText(lane.name, Qt::ElideRight, room));
    p.setPen(th.faint), p.setFont(small);
    p.drawText(QRectF(16, y, nameWidth - 24, laneHeight), Qt::AlignVCenter | Qt::AlignRight, kind);
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
  if (pulled_ >= 0) {
    p.setPen(QPen(th.accent, 1.5, Qt::DashLine)), p.drawLine(QPointF(pulledTo_, 0), QPointF(pulledTo_, height()));
    p.drawText(QPointF(pulledTo_ + 6, headHeight - 8),
               QString::fromStdString(shortNumber(timeOf(pulledTo_) - times_[size_t(pulled_)], 3)) + " s");
  }
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
    p.fillRect(QRectF(x0, base - h, std::max(1., x1 - x0 - 1), h), int(i) == results_.row() ? th.accent
                                                                   : th.dark                ? QColor("#6B7078")
                                                                                            : QColor("#B9B2A6"));
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
  const auto t = results_.times();
  for (const auto& contact : results_.header().contacts) {
    const auto* own = document_.document().contacts.find(contact.name);
    if (own && (own->kind == "tied" || own->kind == "cyclic")) continue;  // from the first moment to the last
    const auto* area = results_.history(QString::fromStdString("contacts/" + contact.name + "/area"));
    for (size_t i = 0; area && i < area->size(); ++i) {
      const bool now = (*area)[i] > 0, before = i > 0 && (*area)[i - 1] > 0;
      if (now != before)
        marks_.push_back({t[i], QString::fromStdString(contact.name) + (now ? " closes" : " opens"), laneColor("contacts")});
    }
  }
  const auto* strain = results_.history("plasticity/greatest plastic strain");
  for (size_t i = 0; strain && i < strain->size(); ++i)
    if ((*strain)[i] > 0) {
      marks_.push_back({t[i], "yielding begins", theme().accent});
      break;
    }
  std::stable_sort(marks_.begin(), marks_.end(), [](const Mark& a, const Mark& b) { return a.time < b.time; });
}

void HistoryView::movePlayhead(double x) {
  if (!results_.has()) return;
  const int row = results_.rowAt(timeOf(x));
  if (row != results_.row()) results_.setRow(row);
}

void HistoryView::mousePressEvent(QMouseEvent* e) {
  if (e->button() != Qt::LeftButton) return;
  const auto at = e->position();
  if ((pulled_ = edgeAt(at)) >= 0) {
    pulledTo_ = at.x();
    return;
  }
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
  if (pulled_ >= 0)
    pulledTo_ = std::max(e->position().x(), xOf(times_[size_t(pulled_)]) + 4), update();
  else
    setCursor(edgeAt(e->position()) >= 0 ? Qt::SplitHCursor : Qt::ArrowCursor);
  QStringList near;
  for (const auto& m : marks_)
    if (e->position().y() > height() - stripHeight && std::abs(xOf(m.time) - e->position().x()) < 5) near << m.words;
  setToolTip(near.join("\n"));
}

void HistoryView::mouseReleaseEvent(QMouseEvent*) {
  dragging_ = false;
  if (pulled_ < 0) return;
  const int step = std::exchange(pulled_, -1);
  const double seconds = timeOf(pulledTo_) - times_[size_t(step)];
  if (std::abs(pulledTo_ - xOf(times_[size_t(step) + 1])) > 2)
    document_.edit("duration of " + steps_[step],
                   [&](model::Document& d) { setStepTime(d, steps_[step].toStdString(), seconds); });
  update();
}

/// The step whose end is at this place of the heading; -1.
int HistoryView::edgeAt(const QPointF& at) const {
  if (at.y() > headHeight) return -1;
  for (int i = 0; i < steps_.size(); ++i)
    if (std::abs(at.x() - xOf(times_[size_t(i) + 1])) < 5) return i;
  return -1;
}

QPoint HistoryView::edgePoint(int step) const { return QPointF(xOf(times_[size_t(step) + 1]), headHeight / 2.).toPoint(); }

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
  editor_->setPlaceholderText(lanes_[size_t(lane)].kind == "bolts" ? "tighten 5 kN, shorten 0.1, hold, slack"
                                                                   : "value, hold, off, at once …");
  editor_->show();
  editor_->setFocus();
  editor_->selectAll();
}

void HistoryView::contextMenuEvent(QContextMenuEvent* e) {
  QMenu menu(this);
  fillMenu(menu, laneAt(e->pos().y()), stepAt(e->pos().x()));
  menu.exec(e->globalPos());
}

void HistoryView::fillMenu(QMenu& menu, int lane, int step) {
  const auto act = [&](const QString& words, const QString& undo, const std::function<void(model::Document&)>& change) {
    menu.addAction(words, this, [this, undo, change] {
      try {
        document_.edit(undo, change);
      } catch (const Error& e) {
        emit said(QString::fromStdString(e.what()));
      }
    });
  };
  if (step >= 0 && lane >= 0 && lanes_[size_t(lane)].editable && step + 1 < steps_.size()) {
    const auto kind = lanes_[size_t(lane)].kind, name = lanes_[size_t(lane)].name;
    const auto from = steps_[step].toStdString();
    act("Copy this cell to '" + steps_[step + 1] + "'", "copy cell of " + name,
        [=](model::Document& d) { copyCell(d, kind, name, from, false); });
    if (step + 2 < steps_.size())
      act("Copy this cell to all later steps", "copy cell of " + name,
          [=](model::Document& d) { copyCell(d, kind, name, from, true); });
    menu.addSeparator();
  }
  act("Add a step behind", "add step", [step](model::Document& d) { addStep(d, step); });
  if (step < 0) return;
  const auto name = steps_[step];
  const auto key = name.toStdString();
  act("Split '" + name + "'", "split " + name, [key](model::Document& d) { splitStep(d, key); });
  act("Repeat '" + name + "'", "repeat " + name, [key](model::Document& d) { repeatStep(d, key); });
  if (step > 0)
    act("Move '" + name + "' earlier", "move " + name, [key, step](model::Document& d) { moveStep(d, key, step - 1); });
  if (step + 1 < steps_.size())
    act("Move '" + name + "' later", "move " + name, [key, step](model::Document& d) { moveStep(d, key, step + 1); });
  if (steps_.size() > 1)
    act("Take '" + name + "' out", "take " + name + " out", [key](model::Document& d) { removeStep(d, key); });
}

void HistoryView::wheelEvent(QWheelEvent* e) {
  const int visible = (height() - headHeight - stripHeight) / laneHeight;
  scroll_ = std::clamp(scroll_ - (e->angleDelta().y() > 0 ? 1 : -1), 0, std::max(0, int(lanes_.size()) - visible));
  update();
}

}  // namespace anvil::app
