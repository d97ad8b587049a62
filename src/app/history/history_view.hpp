// The loading history: lanes by steps, progress strip, playhead.
#pragma once
#include <QWidget>

#include "app/document_store.hpp"
#include "app/result_store.hpp"
#include "app/run_control.hpp"

class QLineEdit;
class QMenu;

namespace anvil::app {

/// One row: an acting thing with its course.
struct Lane {
  QString kind, name;        ///< "motions", "pull"
  std::vector<double> t, v;  ///< its course
  std::vector<bool> active;  ///< per step
  QStringList cells;         ///< words per step
  bool editable = false;     ///< cells take a value
};

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
  void contextMenuEvent(QContextMenuEvent* e) override;
  void wheelEvent(QWheelEvent* e) override;

 private:
  void rebuild();
  double xOf(double time) const;
  double timeOf(double x) const;
  int stepAt(double x) const;
  int laneAt(double y) const;
  void movePlayhead(double x);
  void strip(QPainter& p);
  int edgeAt(const QPointF& at) const;
  void findMarks();

  DocumentStore& document_;
  ResultStore& results_;
  RunControl& run_;
  std::vector<Lane> lanes_;
  std::vector<double> times_{0, 1};
  QStringList steps_;
  QString selectedKind_, selectedName_;
  QLineEdit* editor_ = nullptr;
  struct Mark {
    double time;
    QString words;
    QColor color;
  };
  std::vector<Mark> marks_;  ///< where contacts closed or opened and where yielding began
  int editLane_ = -1, editStep_ = -1, scroll_ = 0;
  bool dragging_ = false;
  int pulled_ = -1;  ///< step whose end is being pulled
  double pulledTo_ = 0;
  QTimer timer_;
};

}  // namespace anvil::app
