// Lines of slender parts drawn in the view: a click sets a point, the next one a line to it. The strip below the tools says what
// is going on and takes coordinates.
#pragma once
#include <QWidget>
#include <optional>
#include <vector>

#include "app/document_store.hpp"
#include "app/view/scene.hpp"
#include "app/view/vtk_canvas.hpp"
#include "core/geometry/draw_lines.hpp"

class QLabel;
class QLineEdit;

namespace anvil::app {

class LineTool : public QWidget {
  Q_OBJECT
 public:
  LineTool(const DocumentStore& document, const Scene& scene, VtkCanvas& canvas, QWidget* parent = nullptr);
  bool active() const { return active_; }
  void start();
  /// Lets go of the last point; the second time ends the drawing.
  void back();
  void end();
  void click(const QPointF& at);
  void hover(const QPointF& at);
  /// The line that is being drawn, and the grid that places keep to.
  void paint(QPainter& painter) const;
  /// What a click there would set: a point of a slender part, a corner of a shape, else a place on the grid.
  geometry::LineEnd under(const QPointF& at) const;
  /// The shapes have changed.
  void forgetCorners() { corners_.reset(); }
  /// The next line goes on from there.
  void goOnFrom(const geometry::LineEnd& end) { last_ = end, tell(); }

 signals:
  void drawn(const geometry::LineEnd& from, const geometry::LineEnd& to);
  void changed();

 private:
  void set(const geometry::LineEnd& end);
  void take(const QString& text);
  void tell();
  double step() const;  ///< of the grid, mm
  int level() const;    ///< axis that the grid is square to

  const DocumentStore& document_;
  const Scene& scene_;
  VtkCanvas& canvas_;
  bool active_ = false;
  std::optional<geometry::LineEnd> last_, next_;
  mutable std::optional<std::vector<int>> corners_;  ///< nodes, found when first asked
  QLabel* words_;
  QLineEdit* place_;
};

}  // namespace anvil::app
