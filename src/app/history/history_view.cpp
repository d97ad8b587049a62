#include "app/history/history_view.hpp"

#include <QContextMenuEvent>
#include <QLineEdit>
#include <QMenu>
#include <QMouseEvent>
#include <algorithm>
#include <cmath>

#include "app/history/step_edits.hpp"
#include "app/shown_units.hpp"
#include "core/base/error.hpp"
#include "core/model/actions.hpp"
#include "core/model/document.hpp"
#include "core/model/place_words.hpp"

namespace anvil::app {

HistoryView::HistoryView(DocumentStore& document, ResultStore& results, RunControl& run, QWidget* parent)
    : QWidget(parent), document_(document), results_(results), run_(run) {
  setMinimumHeight(150);
  setFocusPolicy(Qt::StrongFocus), setAccessibleName("Loading history");
  setMouseTracking(true);
  editor_ = new QLineEdit(this);
  editor_->setObjectName("cellEditor"), editor_->setAccessibleName("Value in this step");
  editor_->hide();
  editor_->installEventFilter(this);
  connect(editor_, &QLineEdit::editingFinished, this, [this] {
    if (!editor_->isVisible()) return;
    editor_->hide();
    if (editLane_ < 0 || size_t(editLane_) >= lanes_.size()) return;
    const Lane lane = lanes_[size_t(editLane_)];
    const auto step = steps_[editStep_].toStdString();
    const bool shortens = lane.kind == "bolts" && editor_->text().trimmed().startsWith("shorten");
    const auto words = asWritten(editor_->text(), shortens ? Kind::length : lane.unit, document_.document().units);
    if (editor_->text() == lane.cells[editStep_]) return;  // looked at, not changed
    document_.edit("change " + lane.name, [&](model::Document& d) {
      if (auto* b = lane.kind == "bolts" ? d.bolts.find(lane.name.toStdString()) : nullptr)
        setBoltCell(*b, step, size_t(editStep_), words, d);
      else if (auto* c = courseOf(d, lane.kind, lane.name))
        setCell(*c, step, size_t(editStep_), words, d);
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
  connect(&units(), &ShownUnits::changed, this, &HistoryView::rebuild);
  connect(&results_, &ResultStore::changed, this, [this] { marks_ = marksOf(results_, document_.document()), update(); });
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
  const auto& d = document_.document();
  steps_.clear();
  for (const auto& n : d.steps.names()) steps_ << QString::fromStdString(n);
  times_ = shownTimes(d), lanes_ = lanesOf(d);
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

/// Escape in a cell drops what was typed, Enter takes it; both do nothing else in the window.
bool HistoryView::eventFilter(QObject* object, QEvent* e) {
  if (object == editor_ && e->type() == QEvent::KeyPress) {
    const int key = static_cast<QKeyEvent*>(e)->key();
    if (key == Qt::Key_Return || key == Qt::Key_Enter) return setFocus(), true;  // leaving it takes what is typed
  }
  const bool escapes = object == editor_ && (e->type() == QEvent::ShortcutOverride || e->type() == QEvent::KeyPress) &&
                       static_cast<QKeyEvent*>(e)->key() == Qt::Key_Escape;
  if (!escapes) return QWidget::eventFilter(object, e);
  e->accept();
  if (e->type() == QEvent::KeyPress) editLane_ = -1, editor_->hide(), setFocus();
  return true;
}

/// While the history has the keys, up and down choose the lane, Ctrl with left and right the step, Enter edits the cell.
bool HistoryView::event(QEvent* e) {
  if (e->type() == QEvent::ShortcutOverride) {
    const auto* key = static_cast<QKeyEvent*>(e);
    const bool ways = key->key() == Qt::Key_Left || key->key() == Qt::Key_Right;
    if (key->key() == Qt::Key_Up || key->key() == Qt::Key_Down || key->key() == Qt::Key_Return ||
        (ways && key->modifiers() & Qt::ControlModifier))
      e->accept();
  }
  return QWidget::event(e);
}

void HistoryView::keyPressEvent(QKeyEvent* e) {
  const int lanes = int(lanes_.size()), steps = int(steps_.size()), key = e->key();
  if (lanes == 0 || steps == 0) return QWidget::keyPressEvent(e);
  keyLane_ = std::clamp(keyLane_, 0, lanes - 1), keyStep_ = std::clamp(keyStep_, 0, steps - 1);
  if (key == Qt::Key_Up || key == Qt::Key_Down)
    keyLane_ = std::clamp(keyLane_ + (key == Qt::Key_Down ? 1 : -1), 0, lanes - 1);
  else if ((key == Qt::Key_Left || key == Qt::Key_Right) && e->modifiers() & Qt::ControlModifier)
    keyStep_ = std::clamp(keyStep_ + (key == Qt::Key_Right ? 1 : -1), 0, steps - 1);
  else if (key == Qt::Key_Return || key == Qt::Key_Enter)
    return editCell(keyLane_, keyStep_);
  else
    return QWidget::keyPressEvent(e);
  const int visible = std::max(1, (height() - headHeight - stripHeight) / laneHeight);
  scroll_ = std::clamp(scroll_, keyLane_ - visible + 1, keyLane_);
  const auto& lane = lanes_[size_t(keyLane_)];
  selectedKind_ = lane.kind, selectedName_ = lane.name;
  emit selected(lane.kind, lane.name);
  update();
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
        emit said(QString::fromStdString(model::inWords(e)));
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
