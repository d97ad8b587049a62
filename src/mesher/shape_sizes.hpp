// Sizes of elements that a shape asks for by itself: by the curvature of its edges and faces, the length of its edges, the width
// of its faces; and those asked for on faces and round places. Lengths in mm.
#pragma once
#include <TopTools_IndexedMapOfShape.hxx>
#include <optional>

#include "mesher/tetrahedra.hpp"

class TopoDS_Edge;

namespace anvil::mesher {

/// Takes a size at a place.
using SizeAt = std::function<void(Eigen::Vector3d place, double size)>;

/// No element is made smaller.
double leastOf(const Wishes& wishes);

/// Edges that close on themselves need three pieces, however small they are: the length of theirs, where it is below the least.
std::optional<double> pieceOf(const TopoDS_Edge& edge, double least);

/// Of a long face: twice its area over its rim.
double widthOf(const TopoDS_Shape& face);

/// Along a narrow face twice what it is wide; of what is narrower than the least size, five times, which still can be solved.
double sizeAlong(const TopoDS_Shape& face, const Wishes& wishes);

/// Sizes of faces, laid on points spread over them; 0 where the wished size of all does.
void sizesOnFaces(const std::vector<TopoDS_Shape>& faces, const std::vector<double>& sizes, const Wishes& wishes,
                  const SizeAt& lay);

/// Sizes by the curvature of edges and faces, by the length of edges, and where wished by the width of faces, as the library
/// would set them: it goes through the whole shape for every edge, which takes minutes where there are thousands.
void sizesByShape(const std::vector<TopoDS_Shape>& faces, const TopTools_IndexedMapOfShape& edges, const Wishes& wishes,
                  const SizeAt& lay);

/// Wished sizes round places.
void sizesNear(const Wishes& wishes, const SizeAt& lay);

}  // namespace anvil::mesher
