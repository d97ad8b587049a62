// Geometry of the view: mesh surface, element edges, outlines, rigid bodies, as VTK data filled in place.
#pragma once
#include <vtkActor.h>
#include <vtkDoubleArray.h>
#include <vtkFloatArray.h>
#include <vtkLookupTable.h>
#include <vtkPoints.h>
#include <vtkPolyData.h>
#include <vtkPolyDataMapper.h>
#include <vtkRenderer.h>
#include <vtkSmartPointer.h>
#include <vtkStaticCellLocator.h>

#include <QColor>
#include <functional>
#include <optional>
#include <vector>

#include "core/mesh/symmetry.hpp"
#include "core/results/store.hpp"

namespace anvil::app {

/// How much of a part is drawn: all, its outline only, nothing.
enum class Sight { shown, faded, hidden };

/// A plane that cuts the picture of a solid open: what lies beyond it is not drawn.
struct Section {
  int axis = 0;            ///< its normal: 0 x, 1 y, 2 z
  double at = 0;           ///< mm
  bool keepAbove = false;  ///< the greater side is kept, else the lesser
  bool cutsAway(const Eigen::Vector3d& x) const { return keepAbove ? x[axis] < at : x[axis] > at; }
};

/// Which way a diagram stands off its line: not at all, up or across its section.
enum class Diagram { none, up, across };

/// What the view draws.
struct SceneState {
  const std::vector<float>* displacement = nullptr;  ///< 2 or 3 per node
  const std::vector<double>* rigid = nullptr;        ///< 3 or 6 per body
  const std::vector<double>* values = nullptr;       ///< nodal field; null: part colours
  const std::vector<float>* turn = nullptr;          ///< of slender parts: 1 or 3 per turn of the mesh
  const std::vector<double>* ends = nullptr;         ///< the field at both ends of every slender cell
  Diagram diagram = Diagram::none;                   ///< of the field along slender parts
  bool diagramReversed = false;                      ///< positive values stand the other way
  double low = 0, high = 1, scale = 1;
  bool isSigned = false, edges = true, undeformed = false, sweep = false, bands = false;
  std::vector<Sight> sight;  ///< per part; all shown when missing
  Sight sightOf(int part) const { return size_t(part) < sight.size() ? sight[size_t(part)] : Sight::shown; }
  std::vector<QColor> colors;                    ///< per part; by their order when missing
  std::vector<mesh::Facet> highlight;            ///< facets picked or lit,
  std::vector<std::vector<int>> highlightLines;  ///< edges of the shape (two ends, and a middle),
  std::vector<int> highlightNodes;               ///< and corners
  std::vector<Eigen::Affine3d> pictures;         ///< where the picture stands again: mirrored, or turned to other sectors
  std::optional<Section> section;
  const std::vector<std::vector<float>>* quality = nullptr;  ///< per block and cell: colours elements by their shape
  bool glass = false;                                        ///< solids let what lies behind shine through
  std::vector<int> status;  ///< contact status per node (-1: none), to colour a contact's faces in space
};

class Scene {
 public:
  explicit Scene(vtkRenderer* renderer);
  /// New mesh: everything is built anew.
  void setHeader(const results::Header& header);
  /// New moment, field or display choice.
  void update(const SceneState& state);
  const results::Header& header() const { return header_; }
  /// Bounds of what is drawn, further pictures included: xmin, xmax, ymin, ymax, zmin, zmax.
  void bounds(double b[6]) const;
  /// Draws what is picked or lit anew, and nothing else.
  void mark(const SceneState& state);
  /// Large surfaces are drawn lightly while the view moves: simplified, without element edges.
  void setLight(bool on);
  /// Area of the section's face that is drawn (mm², of all pictures); 0 without a section.
  double sectionArea() const;
  /// Outline of a rigid body where it stands now.
  const std::vector<Eigen::Vector3d>& rigidPath(size_t body) const { return rigidPaths_.at(body); }
  /// Deformed place of a node.
  Eigen::Vector3d place(int node) const;
  bool solid() const { return header_.mesh.dim == 3; }
  /// The facet that a line from `from` towards `to` meets first, of the parts in sight and not cut away; nothing where it meets
  /// none. Solid models only.
  std::optional<mesh::Facet> facetAlong(const Eigen::Vector3d& from, const Eigen::Vector3d& to,
                                        const std::optional<Section>& section) const;
  /// Boundary facets of a part.
  const std::vector<mesh::Facet>& boundary(size_t part) const { return outline_.at(part); }
  /// Deformed middle of a facet and its outward normal (unit).
  void facetFrame(const mesh::Facet& facet, Eigen::Vector3d& middle, Eigen::Vector3d& normal) const;

 private:
  struct Layer {
    vtkSmartPointer<vtkPolyData> data = vtkSmartPointer<vtkPolyData>::New();
    vtkSmartPointer<vtkPolyDataMapper> mapper = vtkSmartPointer<vtkPolyDataMapper>::New();
    vtkSmartPointer<vtkActor> actor = vtkSmartPointer<vtkActor>::New();
    std::vector<vtkSmartPointer<vtkActor>> again;  ///< the same in the other pictures
  };
  /// A line along an element edge: two ends, or with a node between them.
  struct Line {
    int part;
    std::vector<int> nodes;
  };
  void connect(Layer& layer, vtkRenderer* renderer);
  void findLines();
  void fillFaces(const SceneState& s);
  void fillStrokes(const SceneState& s, double lift);
  int statusOf(const mesh::Facet& facet, const SceneState& s) const;
  void fillSurface(const SceneState& s);
  void fillLines(const SceneState& s);
  /// A section's axes at an end of a slender cell, as it is turned: along, up, across.
  Eigen::Matrix3d frameAt(const mesh::Line& line, size_t cell, size_t end, const SceneState& s) const;
  /// `axes`: their lines in the colours of a field, seen however thin they are.
  void addSlender(const SceneState& s, vtkPoints* points, vtkCellArray* cells, vtkCellArray* axes, vtkDoubleArray* scalars,
                  const std::function<void(int)>& paint);
  void fillDiagrams(const SceneState& s);
  void fillRigid(const SceneState& s);
  void fillCaps(const SceneState& s);
  void cap(Layer& layer, const Eigen::Hyperplane<double, 3>& section, bool quadratic, const SceneState& s);
  void repeat(const SceneState& s);
  std::vector<Layer*> drawn() {
    return {&ghost_, &surface_, &edges_, &outlines_, &faded_, &rigid_, &highlight_, &strokes_, &diagrams_};
  }
  void colours(const SceneState& s);

  results::Header header_;
  std::vector<Eigen::Vector3d> place_;
  std::vector<std::vector<Eigen::Vector3d>> rigidPaths_;
  std::vector<std::vector<mesh::Facet>> outline_;  ///< boundary facets per part
  std::vector<Line> edgeLines_, outlineLines_;     ///< element edges in sight; edges of the shape
  Layer surface_, edges_, outlines_, faded_, ghost_, rigid_, highlight_, strokes_, diagrams_;
  std::vector<Eigen::Affine3d> pictures_;  ///< besides the model's own
  Layer light_;                            ///< the surface simplified
  bool lightMade_ = false;
  double extent_ = 1;                                      ///< largest side of what is drawn, mm
  std::vector<mesh::Facet> polygonOf_;                     ///< per polygon of the surface: its facet
  mutable vtkSmartPointer<vtkStaticCellLocator> locator_;  ///< of the surface, made when first asked
  std::vector<Layer> caps_;                                ///< faces of the section: of the model and of each further picture
  vtkRenderer* renderer_;
  vtkSmartPointer<vtkLookupTable> table_ = vtkSmartPointer<vtkLookupTable>::New();
};

}  // namespace anvil::app
