// Plane shapes drawn and changed with the mouse: grips that are dragged, sizes that are typed where they stand, edges named, and
// new outlines set point by point.
#pragma once
#include <QWidget>
#include <cmath>
#include <optional>
#include <vector>

#include "app/document_store.hpp"
#include "app/view/scene.hpp"
#include "app/view/vtk_canvas.hpp"
#include "core/geometry/outline_edit.hpp"
#include "core/geometry/recipes.hpp"

class QLabel;
class QLineEdit;

namespace anvil::app {

/// Pixels between two places of the canvas.
inline double apart(const QPointF& a, const QPointF& b) { return std::hypot((a - b).x(), (a - b).y()); }

class OutlineTool : public QWidget {
  Q_OBJECT
 public:
  OutlineTool(DocumentStore& document, const Scene& scene, VtkCanvas& canvas, QWidget* parent = nullptr);
  /// Grips and sizes of this part are shown where it has plane shapes; of none with an empty name.
  void showPart(const QString& part);
  /// Off while something else than the model as built is on show.
  void setOn(bool on);
  /// The edge that was picked is named in the strip.
  void setEdge(const QString& face);

  bool drawing() const { return drawing_; }
  void start(bool rigid);
  void back();    ///< takes the last point back; without one ends the drawing
  void finish();  ///< the outline is whole
  void end();

  /// The mouse on the canvas. True where this tool takes it.
  bool press(const QPointF& at);
  void drag(const QPointF& at, bool free);
  void release();
  bool click(const QPointF& at);
  void hover(const QPointF& at);
  bool showMenu(const QPointF& at);
  void paint(QPainter& painter) const;

  /// Where grips and sizes are on the canvas; for those who drive the window.
  QPointF gripPlace(geometry::Grip::What what, size_t which) const;
  QRectF sizePlace(geometry::SizeMark::What what, size_t which) const;

 signals:
  void changed();
  void drawn(const std::vector<geometry::Point2>& points, bool rigid);
  void said(const QString& words);

 protected:
  /// Keys on the canvas while an outline is drawn.
  bool eventFilter(QObject* object, QEvent* e) override;

 private:
  struct Held {
    size_t shape;
    geometry::Grip grip;
  };
  bool editing() const;
  const model::Part* part() const;
  geometry::Point2 toWorld(const geometry::Point2& x) const;
  geometry::Point2 toPart(const QPointF& at) const;
  QPointF toScreen(const geometry::Point2& partPlace) const;
  void gather();
  std::optional<Held> gripAt(const QPointF& at) const;
  geometry::Point2 snapped(const geometry::Point2& world, const QPointF& at);
  double step() const;
  QRectF labelOf(const geometry::SizeMark& mark) const;
  QString wordsOf(const geometry::SizeMark& mark) const;
  void openEntry(const QRectF& at, const QString& text, std::function<void(const QString&)> take);
  void edit(const QString& what, size_t shape, int gesture,
            const std::function<void(model::Shape&, const model::Quantities&)>& change);
  void addPoint(const geometry::Point2& world);
  void tell();

  DocumentStore& document_;
  const Scene& scene_;
  VtkCanvas& canvas_;
  QString part_;
  bool on_ = false, drawing_ = false, rigid_ = false, moved_ = false;
  geometry::Placement place_;
  std::vector<std::vector<geometry::Grip>> grips_;  ///< per shape
  std::vector<std::vector<geometry::SizeMark>> sizes_;
  std::vector<geometry::Point2> points_;  ///< of the outline that is drawn, in the model
  std::optional<geometry::Point2> next_;
  std::optional<Held> held_;
  std::optional<std::pair<size_t, size_t>> edge_;  ///< shape and piece that is named
  std::vector<QLineF> guides_;                     ///< what a place was snapped to
  int gesture_ = 0;
  QLabel *words_, *edgeWords_;
  QLineEdit *placeBox_, *edgeName_, *entry_;
  std::function<void(const QString&)> take_;
};

}  // namespace anvil::app
