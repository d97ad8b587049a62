// The loading history: lanes by steps, progress strip, playhead.
#pragma once
#include <QWidget>

#include "app/document_store.hpp"
#include "app/history/lanes.hpp"
#include "app/result_store.hpp"
#include "app/run_control.hpp"

class QLineEdit;
class QMenu;

namespace anvil::app {

class HistoryView : public QWidget {
  Q_OBJECT
 public:
  HistoryView(DocumentStore& document, ResultStore& results, RunControl& run, QWidget* parent = nullptr);
  QSize sizeHint() const override;
  const std::vector<Lane>& lanes() const { return lanes_; }
  /// Middle of a cell, for tests and keyboard.
  QPoint cellCenter(int lane, int step) const;
  /// Opens the in-place editor of a cell.
  void editCell(int lane, int step);
  void play(bool on);
  bool playing() const { return timer_.isActive(); }

  /// Handle of a step's end, in the heading.
  QPoint edgePoint(int step) const;
  /// The acts offered at a lane (-1: none) and step.
  void fillMenu(QMenu& menu, int lane, int step);

 signals:
  void selected(const QString& kind, const QString& name);
  void said(const QString& words);  ///< something could not be done

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent* e) override;
  void mouseMoveEvent(QMouseEvent* e) override;
  void mouseReleaseEvent(QMouseEvent*) override;
  void mouseDoubleClickEvent(QMouseEvent* e) override;
  bool eventFilter(QObject* object, QEvent* e) override;
  void contextMenuEvent(QContextMenuEvent* e) override;
  void wheelEvent(QWheelEvent* e) override;
  bool event(QEvent* e) override;
  void keyPressEvent(QKeyEvent* e) override;
  void focusInEvent(QFocusEvent*) override { update(); }
  void focusOutEvent(QFocusEvent*) override { update(); }

 private:
  void rebuild();
  double xOf(double time) const;
  double timeOf(double x) const;
  int stepAt(double x) const;
  int laneAt(double y) const;
  void movePlayhead(double x);
  int edgeAt(const QPointF& at) const;
  // of the picture, y: the lane's top
  void heading(QPainter& p, int bottom);
  void laneName(QPainter& p, const Lane& lane, double y);
  void laneCourse(QPainter& p, const Lane& lane, double y);
  void laneCells(QPainter& p, const Lane& lane, double y);
  void strip(QPainter& p);
  void marks(QPainter& p);
  void playhead(QPainter& p);

  static constexpr int nameWidth = 190, headHeight = 26, laneHeight = 30, stripHeight = 46, rightEdge = 20;

  DocumentStore& document_;
  ResultStore& results_;
  RunControl& run_;
  std::vector<Lane> lanes_;
  std::vector<double> times_{0, 1};
  QStringList steps_;
  QString selectedKind_, selectedName_;
  QLineEdit* editor_ = nullptr;
  std::vector<Mark> marks_;
  int editLane_ = -1, editStep_ = -1, scroll_ = 0;
  int keyLane_ = 0, keyStep_ = 0;  ///< the cell that the keys are at
  bool dragging_ = false;
  int pulled_ = -1;  ///< step whose end is being pulled
  double pulledTo_ = 0;
  QTimer timer_;
};

}  // namespace anvil::app
