// The viewport: scene, legend with histogram, symbols of what acts, pins, and the words over the picture.
#pragma once
#include <QWidget>
#include <memory>
#include <optional>

#include "app/document_store.hpp"
#include "app/preparation.hpp"
#include "app/result_store.hpp"
#include "app/view/scene.hpp"
#include "app/view/section_bar.hpp"
#include "app/view/vtk_canvas.hpp"

class QComboBox;
class QToolButton;

namespace anvil::app {

class Overlay;

class ModelView : public QWidget {
  Q_OBJECT
public:
  ModelView(DocumentStore& document, Preparation& preparation, ResultStore& results, QWidget* parent = nullptr);

  /// Shows, fades (outline only) or hides a part by index.
  void setSight(int part, Sight sight);
  Sight sight(int part) const { return state_.sightOf(part); }
  /// Neither picked nor coloured: faded or hidden.
  bool isHidden(int part) const { return drawn_.sightOf(part) != Sight::shown; }
  void highlightFace(const QString& name) { highlightFaces(name.isEmpty() ? QStringList() : QStringList(name)); }
  void highlightFaces(const QStringList& names);
  QStringList pickedFaces() const;
  /// Lights faces and fades all parts but these, until called with nothing.
  void light(const QStringList& faces, const std::vector<int>& parts);
  /// Colours a contact's surface by status while a result is on show; empty: none.
  void showContact(const QString& name);
  /// Pins the node with the greatest (least) value on show.
  void pinExtreme(bool greatest);
  /// Looks at the greatest (least) value of what is shown, near and from its outside.
  void goToExtreme(bool greatest);
  void markNode(int node);
  void fit();
  const std::vector<int>& pins() const { return pins_; }
  void togglePin(int node);
  /// Sends the field's history at the pins to Curves.
  void sendPins();
  const std::vector<int>& boxedNodes() const { return boxed_; }
  /// Time of the moment on show.
  double shownTime() const;
  void setSweep(bool on);
  void setEdges(bool on);
  void setUndeformed(bool on);
  /// Repeats the picture beyond the model's symmetry planes.
  void setMirrored(bool on);
  /// Field colours in ten bands instead of continuous.
  void setBands(bool on);
  bool bands() const { return state_.bands; }
  /// Cuts the picture of a solid open.
  void setSection(bool on);
  SectionBar* sectionBar() { return section_; }
  const Scene& scene() const { return *scene_; }
  /// Node nearest to a place of the view, within a few pixels; -1.
  int nodeAt(const QPointF& at) const;
  VtkCanvas* canvas() { return canvas_; }
  QComboBox* fieldBox() { return field_; }
  QString trouble() const { return trouble_; }
  bool preparing() const { return !preparation_.current(); }

signals:
  void facesPicked(const QStringList& names);
  void boxRead(const QString& words);   ///< what the field is over the nodes in a box
  void pinsSent();
  void pinned(int node);

private:
  friend class Overlay;
  int extremeNode(bool greatest) const;
  void rebuild();
  void refresh();
  void click(const QPointF& at, bool more);
  void drawBox(const QRectF& box, bool done);
  std::vector<int> nodesInSight() const;
  void reachBehindSection(std::vector<char>& used) const;
  QString faceAt(const QPointF& at) const;
  std::vector<int> contactStatus() const;
  SceneState shown() const;
  void offerDisplays();

  DocumentStore& document_;
  Preparation& preparation_;
  ResultStore& results_;
  VtkCanvas* canvas_;
  Overlay* overlay_;
  QComboBox* field_;
  QToolButton *edges_, *undeformed_, *sweep_, *mirrored_, *cut_, *lock_, *send_;
  SectionBar* section_;
  std::unique_ptr<Scene> scene_;
  SceneState state_, drawn_;                   ///< what was chosen; what that comes to with what is lit
  std::vector<mesh::MirrorPlane> planes_;
  QStringList litFaces_;
  std::vector<int> litParts_;
  std::vector<int> pins_, boxed_;
  QRectF box_;
  QString contact_;
  int marked_ = -1;
  QString trouble_;
  bool fitted_ = false, showsResult_ = false;
  QString space_;
};

}  // namespace anvil::app
