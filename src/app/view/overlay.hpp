// What is painted over the picture: legend, symbols, pins, words.
#pragma once
#include <Eigen/Core>
#include <QWidget>
#include <vector>

namespace anvil::app {

class ModelView;

class Overlay : public QWidget {
  Q_OBJECT
 public:
  explicit Overlay(ModelView& view);
  static constexpr int legendWidth = 170, topMargin = 12;
  bool marksThinElements() const { return thinInSight_; }
  /// The legend's number at a place: 1 the greatest, -1 the least, 0 none. They lead to where they are.
  int legendEnd(const QPointF& at) const;

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  static constexpr QChar triangle{0x25B3};  ///< the mark of ill-shaped elements
  static QString number(double v);
  QRectF legendBar() const;
  void legend(QPainter& p);
  class Symbols;
  void symbols(QPainter& p);
  void rigidBodies(QPainter& p);
  void hatched(QPainter& p, const std::vector<Eigen::Vector3d>& path, const QColor& c);
  void marked(QPainter& p);
  void pickedEdges(QPainter& p);
  bool contactStatus(QPainter& p);
  void triad(QPainter& p);
  void extremes(QPainter& p);
  bool thinElements(QPainter& p);
  /// Beside a number that stands at a thin element.
  QString roughness(int node) const;
  void boltForces(QPainter& p);
  void pins(QPainter& p);
  void box(QPainter& p);
  void words(QPainter& p);
  void arrow(QPainter& p, QPointF tip, QPointF direction, const QColor& c);
  void turning(QPainter& p, const Eigen::Vector3d& at, const Eigen::Vector3d& axis, const QColor& c);
  ModelView& v_;
  bool thinInSight_ = false;
};

}  // namespace anvil::app
