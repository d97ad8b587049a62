// Regular grids on those faces of a sheet that have four sides, and where they meet faces that have not.
#pragma once
#include <Eigen/Core>
#include <TopTools_IndexedMapOfShape.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Shape.hxx>
#include <map>
#include <optional>
#include <set>
#include <vector>

#include "mesher/polygons.hpp"
#include "mesher/surfaces.hpp"
#include "mesher/tetrahedra.hpp"

namespace anvil::mesher {

/// Grids on faces with four sides and true corners; those of sides that meet go on into each other (W. Gordon, C. Hall, IJNME 7,
/// 1973, in the surfaces' own coordinates). The other faces, and those with smaller elements round a place, are free: they are
/// covered by somebody else, whose nodes on common edges the grids take over.
class SheetGrids {
 public:
  SheetGrids(const std::vector<TopoDS_Shape>& faces, Surfaces& surfaces, const Wishes& wishes);
  const std::vector<bool>& free() const { return free_; }
  /// Lines opposite each other on a face get the same number of elements, the largest that any of them wants; an even one where
  /// a free face lies beside any of them.
  void divide();
  /// Places on the edges of free faces where every other node of a grid beside them is to lie.
  std::vector<Eigen::Vector3d> partings() const;
  /// Takes what covers the free faces (numbered as here). False where common edges are not divided as planned; `divide` then
  /// plans with the larger number.
  bool join(const Polygons& beside);
  /// Frees the faces whose edges were not divided as planned.
  void letGo();
  /// Frees all faces; false where all of them are free already.
  bool freeAll();
  /// The grids and what was joined; nothing where a grid folds: its face is free then.
  std::optional<Polygons> grids();

 private:
  /// An edge that faces share: how many elements lie along it, and its nodes in the curve's own sense.
  struct Line {
    TopoDS_Edge edge;
    double length = 0, turned = 0;
    int count = 1, least = 1;
    bool beside = false, unlike = false;  ///< a free face lies beside it, and has divided it in another way
    std::vector<double> parameter = {};
    std::vector<int> node = {};
  };
  struct Side {
    int line;
    TopoDS_Edge edge;  ///< as the face's wire runs through it
    bool reversed() const { return edge.Orientation() == TopAbs_REVERSED; }
  };

  bool refined(size_t f) const;
  /// The four sides of a face, in the order and sense of its wire; false where it has not just these.
  bool takeSides(size_t f);
  static void measure(Line& line);
  int lead(int line) const;
  /// Of each line, whether a grid has it for a side.
  std::vector<bool> usedLines() const;
  /// Takes the nodes that others have laid on a line.
  bool follow(Line& line, const std::set<int>& nodes);
  int vertex(const TopoDS_Shape& v);
  void place(Line& line);
  bool grid(size_t f);

  const std::vector<TopoDS_Shape>& faces_;
  Surfaces& surfaces_;
  const Wishes& w_;
  TopTools_IndexedMapOfShape known_, corners_;
  std::vector<Line> lines_;
  std::vector<int> leader_;  ///< of lines that are divided alike
  std::vector<std::vector<Side>> sides_;
  std::vector<bool> free_;
  std::set<int> border_;  ///< nodes on the border of what was joined
  std::vector<int> cornerNode_;
  Polygons p_;
};

}  // namespace anvil::mesher
