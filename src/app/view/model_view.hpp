// The viewport: scene, legend with histogram, symbols of what acts, pins, and the words over the picture.
#pragma once
#include <QMap>
#include <QWidget>
#include <memory>
#include <optional>
#include <tuple>

#include "app/document_store.hpp"
#include "app/preparation.hpp"
#include "app/result_store.hpp"
#include "app/view/scene.hpp"
#include "app/view/section_bar.hpp"
#include "app/view/vtk_canvas.hpp"
#include "core/lower/sectors.hpp"
#include "core/mesh/meeting.hpp"
#include "core/model/regions.hpp"

class QComboBox;
class QTimer;
class QToolButton;

namespace anvil::app {

class FeatureTool;
class LineTool;
class OutlineTool;
class Overlay;

/// What a click picks as built.
enum class Picking { faces, edges, corners, parts };

/// What a name of the document stands for in the picture.
struct Spot {
  std::vector<mesh::Facet> facets;
  std::vector<std::vector<int>> lines;
  std::vector<int> nodes;
};

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
  /// Names of what is picked: faces, "face & face" for edges and corners, parts.
  QStringList pickedFaces() const;
  Picking picking() const;
  void setPicking(Picking what);
  /// Picks all faces that belong to one by a rule: "cylinder", "smooth" or "plane".
  void pickByRule(const QString& face, const QString& rule);
  /// What is picked, by its rule where it was picked by one.
  model::Region pickedRegion() const;
  /// All faces of the picked ones' parts in the box round what is picked; without a box where nothing is.
  model::Region boxRegion() const;
  /// Lights faces and fades all parts but these, until called with nothing.
  void light(const QStringList& faces, const std::vector<int>& parts);
  /// Colours a contact's surface by status while a result is on show; empty: none.
  void showContact(const QString& name);
  /// The units on show are others.
  void refreshUnits();
  /// Pins the node with the greatest (least) value on show.
  void pinExtreme(bool greatest);
  /// Looks at the greatest (least) value of what is shown, near and from its outside.
  void goToExtreme(bool greatest);
  void markNode(int node);
  /// Colours elements by their shape while no result is on show.
  void setQuality(bool on);
  /// Thin elements were in sight, and marked, when the view was last painted.
  bool showsThinElements() const;
  bool showsQuality() const { return state_.quality; }
  /// Moves near to a place and marks the node next to it.
  void lookAt(const Eigen::Vector3d& place, double size);
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
  /// Is there a face between a node and the viewer, or has a section taken it away?
  bool isBehind(int node) const;
  VtkCanvas* canvas() { return canvas_; }
  /// Draws lines of slender parts by clicks.
  LineTool* lineTool() { return lines_; }
  /// Draws and changes plane shapes.
  OutlineTool* outlineTool() { return outline_; }
  /// Shows and changes sizes of solids' features.
  FeatureTool* featureTool() { return features_; }
  /// The part whose shapes and sizes are shown to be changed; none with an empty name.
  void showShapesOf(const QString& part);
  QComboBox* fieldBox() { return field_; }
  QString trouble() const { return trouble_; }
  bool preparing() const { return !preparation_.current(); }

 signals:
  void facesPicked(const QStringList& names);
  void thinAsked();                    ///< the picked faces are to become a sheet
  void slenderAsked();                 ///< the picked edges are to become a slender part
  void regionAsked();                  ///< what is picked is to be kept as a region,
  void boxRegionAsked();               ///< or the box round it
  void boxRead(const QString& words);  ///< what the field is over the nodes in a box
  void pinsSent();
  void pinned(int node);

 private:
  friend class Overlay;
  int extremeNode(bool greatest) const;
  void rebuild();
  void chooseField();
  void showField();
  void refresh();
  void markPicked();
  void click(const QPointF& at, bool more);
  void drawBox(const QRectF& box, bool done);
  std::vector<int> nodesInSight() const;
  void reachBehindSection(std::vector<char>& used) const;
  QString faceAt(const QPointF& at) const;
  void nameFaces() const;
  QString meetingAt(const QPointF& at) const;
  QString thingAt(const QPointF& at) const;
  const std::vector<mesh::Meeting>& meetings() const;
  const Spot& spotOf(const QString& name) const;
  void addSpot(SceneState& state, const QString& name) const;
  void forgetPickables();
  /// Makes ready what a pick looks up, before the first one.
  void preparePicking();
  void showPickMenu(const QPointF& at);
  std::vector<int> contactStatus() const;
  std::vector<Eigen::Affine3d> furtherPictures() const;
  SceneState shown() const;
  void offerDisplays();

  DocumentStore& document_;
  Preparation& preparation_;
  ResultStore& results_;
  VtkCanvas* canvas_;
  Overlay* overlay_;
  QComboBox *field_, *sheetPlace_, *pick_;
  QToolButton *edges_, *undeformed_, *sweep_, *mirrored_, *sectioned_, *lock_, *send_;
  SectionBar* section_;
  LineTool* lines_;
  OutlineTool* outline_;
  FeatureTool* features_;
  std::unique_ptr<Scene> scene_;
  SceneState state_, drawn_;  ///< what was chosen; what that comes to with what is lit
  std::vector<mesh::MirrorPlane> planes_;
  std::vector<analysis::Sector> sectors_;
  mutable QMap<std::tuple<int, int, int>, QString> faceNames_;  ///< of facets, in space
  mutable QMap<QString, Spot> spots_;
  mutable std::optional<std::vector<mesh::Meeting>> meetings_[2];  ///< edges, corners
  QTimer* idle_;                                                   ///< a while after the picture has changed
  QStringList picked_;
  std::optional<model::Region> rule_;  ///< by which it was picked
  QStringList litFaces_;
  std::vector<int> litParts_;
  std::vector<std::vector<float>> quality_;  ///< per block and cell
  bool wantsQuality_ = false;
  std::vector<int> pins_, boxed_;
  QRectF box_;
  QString contact_;
  int marked_ = -1;
  QString markWords_;  ///< why the node is marked
  QString trouble_;
  bool fitted_ = false, showsResult_ = false;
  QString space_;
};

}  // namespace anvil::app
