// Sizes of a solid's features in the view: typed where they stand, dragged at their tips.
#pragma once
#include <QLineEdit>
#include <QObject>
#include <functional>
#include <optional>

#include "app/document_store.hpp"
#include "app/view/vtk_canvas.hpp"
#include "core/geometry/feature_edit.hpp"
#include "core/geometry/recipes.hpp"

class QPainter;

namespace anvil::app {

class FeatureTool : public QObject {
  Q_OBJECT
 public:
  FeatureTool(DocumentStore& document, VtkCanvas& canvas, QObject* parent = nullptr);
  /// The part whose features are meant, and the one of them that a face was picked of ("part.feature.face"); a part of one
  /// feature needs none.
  void show(const QString& part, const QString& face);
  void setOn(bool on);
  bool press(const QPointF& at);
  void drag(const QPointF& at, bool free);
  void release();
  bool click(const QPointF& at);
  void paint(QPainter& painter) const;
  /// Where a size's tip and words are on the canvas; for those who drive the window.
  QPointF tipPlace(const QString& key) const;
  QRectF labelPlace(const QString& key) const;

 signals:
  void changed();
  void said(const QString& words);

 private:
  void gather();
  Eigen::Vector3d world(const Eigen::Vector3d& x) const { return place_(x); }
  QRectF labelOf(const geometry::FeatureSize& size) const;
  void edit(const geometry::FeatureSize& size, const model::Entry& value, int gesture);

  DocumentStore& document_;
  VtkCanvas& canvas_;
  QString part_, face_;
  bool on_ = false;
  size_t feature_ = 0;
  std::vector<geometry::FeatureSize> sizes_;
  geometry::Placement place_;
  std::optional<geometry::FeatureSize> held_;
  QPointF heldAt_;
  int gesture_ = 0;
  QLineEdit* entry_;
  std::optional<geometry::FeatureSize> typed_;
};

}  // namespace anvil::app
