// A material's curve, large: the law, the points of its table, which can be dragged, and points of tests.
#pragma once
#include <QPointF>
#include <QWidget>
#include <optional>
#include <vector>

#include "core/base/units.hpp"

namespace anvil::app {

class CurvePlot : public QWidget {
  Q_OBJECT
 public:
  explicit CurvePlot(QWidget* parent = nullptr);
  struct Content {
    std::vector<QPointF> law;                  ///< strain across; stress up, MPa
    std::vector<QPointF> table;                ///< dragged
    std::vector<std::vector<QPointF>> tests;   ///< dots
    std::vector<std::vector<QPointF>> fitted;  ///< dashed
    std::optional<QPointF> yield;
    QString across, trouble;
  };
  void setContent(Content content);
  const Content& content() const { return content_; }
  /// Points of the table that are picked, for a slope through two of them.
  const std::vector<int>& picked() const { return picked_; }
  /// Where a point of the plane is in the widget.
  QPointF place(const QPointF& at) const;

 signals:
  void dragBegun();
  void dragged(int point, const QPointF& to);
  void pickChanged();

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent* e) override;
  void mouseMoveEvent(QMouseEvent* e) override;
  void mouseReleaseEvent(QMouseEvent* e) override;

 private:
  QRectF box() const { return QRectF(66, 12, width() - 84, height() - 58); }
  QPointF value(const QPointF& at) const;
  int pointAt(const QPointF& at) const;
  void measure();
  Content content_;
  double x0_ = 0, x1_ = 1, y0_ = 0, y1_ = 1;
  int held_ = -1;
  bool moved_ = false;
  std::vector<int> picked_;
};

}  // namespace anvil::app
