// Slender parts in the view: their sections in true shape, and forces and moments as diagrams along their lines.
#include <vtkCellArray.h>
#include <vtkDoubleArray.h>
#include <vtkProperty.h>

#include <algorithm>
#include <cmath>

#include "app/view/scene.hpp"
#include "app/view/scene_cells.hpp"
#include "core/contact/rotation.hpp"

namespace anvil::app {

Eigen::Matrix3d Scene::frameAt(const mesh::Line& line, size_t cell, size_t end, const SceneState& s) const {
  const Eigen::Vector3d along =
      (header_.mesh.x[size_t(line.nodes[cell + 1])] - header_.mesh.x[size_t(line.nodes[cell])]).normalized();
  Eigen::Matrix3d frame;
  frame << along, line.up[cell], along.cross(line.up[cell]);
  const size_t width = solid() ? 3 : 1;
  if (!line.turns.empty() && s.turn && s.turn->size() >= width * header_.mesh.turnNode.size()) {
    const float* t = s.turn->data() + width * size_t(line.turns[end]);
    const Eigen::Vector3d turn = solid() ? Eigen::Vector3d(t[0], t[1], t[2]) : Eigen::Vector3d(0, 0, t[0]);
    return contact::rotationOf(s.scale * turn) * frame;
  }
  // bars turn with the line between their ends
  const Eigen::Vector3d now = place_[size_t(line.nodes[cell + 1])] - place_[size_t(line.nodes[cell])];
  if (now.norm() == 0) return frame;
  return Eigen::Quaterniond::FromTwoVectors(along, now).toRotationMatrix() * frame;
}

void Scene::addSlender(const SceneState& s, vtkPoints* points, vtkCellArray* cells, vtkCellArray* axes, vtkDoubleArray* scalars,
                       const std::function<void(int)>& paint) {
  size_t end = 0;
  for (const auto& l : header_.mesh.lines)
    for (size_t c = 0; c < l.count(); ++c, end += 2) {
      if (s.sightOf(l.part) != Sight::shown) continue;
      const Eigen::Matrix3d frames[2] = {frameAt(l, c, c, s), frameAt(l, c, c + 1, s)};
      const auto corner = [&](int e, const Eigen::Vector2d& at) {
        const Eigen::Vector3d x =
            place_[size_t(l.nodes[c + size_t(e)])] + at.y() * frames[e].col(1) + (solid() ? at.x() : 0) * frames[e].col(2);
        points->InsertNextPoint(x.data());
        scalars->InsertNextValue(s.ends && end + 1 < s.ends->size() ? (*s.ends)[end + size_t(e)] : 0);
      };
      if (s.values) {
        const vtkIdType base = points->GetNumberOfPoints();
        corner(0, {0, 0}), corner(1, {0, 0});
        cell(axes, {base, base + 1});
      }
      if (!solid()) {  // as high as its section
        double low = 1e300, high = -1e300;
        for (const auto& loop : l.outline)
          for (const auto& x : loop) low = std::min(low, x.y()), high = std::max(high, x.y());
        const vtkIdType base = points->GetNumberOfPoints();
        corner(0, {0, low}), corner(1, {0, low}), corner(1, {0, high}), corner(0, {0, high});
        cell(cells, {base, base + 1, base + 2, base + 3}), paint(l.part);
        continue;
      }
      for (const auto& loop : l.outline) {
        const vtkIdType base = points->GetNumberOfPoints(), n = vtkIdType(loop.size());
        for (int e = 0; e < 2; ++e)
          for (const auto& x : loop) corner(e, x);
        for (vtkIdType i = 0; i < n; ++i) {
          const vtkIdType k = (i + 1) % n;
          cell(cells, {base + i, base + n + i, base + n + k, base + k}), paint(l.part);
        }
        for (int e = 0; e < 2; ++e) {  // ends of the line are closed; tubes and the like stay open to be seen for what they are
          if ((e == 0 ? c > 0 : c + 1 < l.count()) || l.outline.size() > 1) continue;
          cells->InsertNextCell(int(n));
          for (vtkIdType i = 0; i < n; ++i) cells->InsertCellPoint(base + (e == 0 ? n - 1 - i : n + i));
          paint(l.part);
        }
      }
    }
}

void Scene::fillDiagrams(const SceneState& s) {
  vtkNew<vtkPoints> points;
  vtkNew<vtkCellArray> lines;
  double most = 0;
  if (s.ends && s.diagram != Diagram::none)
    for (double v : *s.ends) most = std::max(most, std::abs(v));
  constexpr double share = 0.12;  // of the picture, that the greatest value takes
  size_t end = 0;
  for (const auto& l : header_.mesh.lines)
    for (size_t c = 0; c < l.count(); ++c, end += 2) {
      if (most == 0 || s.sightOf(l.part) != Sight::shown || end + 1 >= s.ends->size()) continue;
      vtkIdType ids[2][2];
      for (size_t e = 0; e < 2; ++e) {
        const Eigen::Vector3d at = place_[size_t(l.nodes[c + e])],
                              way = frameAt(l, c, c + e, s).col(s.diagram == Diagram::up ? 1 : 2);
        const Eigen::Vector3d there = at + (s.diagramReversed ? -1 : 1) * share * extent_ * (*s.ends)[end + e] / most * way;
        ids[e][0] = points->InsertNextPoint(at.data()), ids[e][1] = points->InsertNextPoint(there.data());
      }
      cell(lines, {ids[0][0], ids[0][1], ids[1][1], ids[1][0]});
    }
  diagrams_.data->SetPoints(points), diagrams_.data->SetLines(lines), diagrams_.data->Modified();
}

}  // namespace anvil::app
