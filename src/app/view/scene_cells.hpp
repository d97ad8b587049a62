// Facets of the mesh as cells of the renderer. For use by the scene's own files.
#pragma once
#include <vtkCellArray.h>
#include <array>
#include <initializer_list>

namespace anvil::app {

inline void cell(vtkCellArray* cells, std::initializer_list<vtkIdType> ids) {
  cells->InsertNextCell(vtkIdType(ids.size()), ids.begin());
}

/// A quad or triangle, linear or quadratic (corners, then mid-side nodes), as polygons given to add(ids). Returns how many.
template <class Add>
int polygons(const Add& add, const int* node, int corners, int nodes, vtkIdType base) {
  vtkIdType n[8];
  for (int k = 0; k < nodes; ++k) n[k] = base + node[k];
  if (nodes == corners) {
    if (corners == 4)
      add({n[0], n[1], n[2], n[3]});
    else
      add({n[0], n[1], n[2]});
    return 1;
  }
  if (corners == 3) {
    for (auto t : {std::array{0, 3, 5}, {3, 1, 4}, {5, 4, 2}, {3, 4, 5}}) add({n[t[0]], n[t[1]], n[t[2]]});
    return 4;
  }
  for (auto t : {std::array{0, 4, 7}, {4, 1, 5}, {5, 2, 6}, {6, 3, 7}, {4, 5, 6}, {4, 6, 7}}) add({n[t[0]], n[t[1]], n[t[2]]});
  return 6;
}

}  // namespace anvil::app
