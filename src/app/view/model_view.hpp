// The viewport: scene, legend with histogram, symbols of what acts, pins, and the words over the picture.
#pragma once
#include <QWidget>
#include <memory>
#include <optional>

#include "app/document_store.hpp"
#include "app/preparation.hpp"
#include "app/result_store.hpp"
#include "app/view/scene.hpp"
#include "app/view/vtk_canvas.hpp"

class QComboBox;
class QToolButton;

namespace anvil::app {

class Overlay;

class ModelView : public QWidget {
  Q_OBJECT
public:
  ModelView(DocumentStore& document, Preparation& preparation, ResultStore& results, QWidget* parent = nullptr);

  /// Hides or shows a part by index.
  void setHidden(int part, bool hidden);
  bool isHidden(int part) const { return size_t(part) < state_.hidden.size() && state_.hidden[size_t(part)]; }
  void highlightFace(const QString& name);
  /// Colours a contact's surface by status while a result is on show; empty: none.
  void showContact(const QString& name);
  /// Pins the node with the greatest (least) value on show.
  void pinExtreme(bool greatest);
  void markNode(int node);
  void fit();
  const std::vector<int>& pins() const { return pins_; }
  void togglePin(int node);
  void setSweep(bool on);
  void setEdges(bool on);
  void setUndeformed(bool on);
  /// Node nearest to a place of the view, within a few pixels; -1.
  int nodeAt(const QPointF& at) const;
  VtkCanvas* canvas() { return canvas_; }
  QComboBox* fieldBox() { return field_; }
  QString trouble() const { return trouble_; }

signals:
  void facePicked(const QString& name);
  void pinned(int node);

private:
  friend class Overlay;
  void rebuild();
  void refresh();
  void click(const QPointF& at);
  QString faceAt(const QPointF& at) const;
  std::vector<int> contactStatus() const;

  DocumentStore& document_;
  Preparation& preparation_;
  ResultStore& results_;
  VtkCanvas* canvas_;
  Overlay* overlay_;
  QComboBox* field_;
  QToolButton *edges_, *undeformed_, *sweep_, *lock_;
  std::unique_ptr<Scene> scene_;
  SceneState state_;
  std::vector<float> displacement_;
  std::vector<double> rigid_;
  std::vector<int> pins_;
  QString contact_;
  int marked_ = -1;
  QString trouble_;
  bool fitted_ = false, showsResult_ = false;
  QString space_;
};

}  // namespace anvil::app
