// Faces of imported solids told apart by what they are, so that they keep their numbers when the file changes.
#pragma once
#include <TopoDS_Shape.hxx>
#include <vector>

namespace anvil::geometry {

/// A face as the document keeps it: number, kind (as Solid::Kind), area mm², middle x y z, direction (normal or axis) x y z,
/// radius.
using FaceMark = std::vector<double>;

/// Marks of a solid's faces in its own order, numbered from 1.
std::vector<FaceMark> marksOf(const TopoDS_Shape& solid);

struct Matched {
  std::vector<int> number;  ///< per face now: that of the known face it is, or a new one beyond all known
  std::vector<int> gone;    ///< numbers of known faces that are no more
  std::vector<int> fresh;   ///< new numbers
};
/// Finds the known faces among those there are now: first what is the same, then, by growing difference, faces of the same kind
/// and direction that moved or changed their size (by less than half of the solid's).
Matched matched(const std::vector<FaceMark>& known, const std::vector<FaceMark>& now);

}  // namespace anvil::geometry
