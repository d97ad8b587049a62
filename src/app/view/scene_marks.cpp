// What is marked on the scene's faces: picked ones, and a contact's by status, told by colour and by strokes.
#include <vtkCellArray.h>
#include <vtkCellData.h>
#include <vtkFloatArray.h>
#include <vtkIdTypeArray.h>
#include <vtkPointData.h>
#include <vtkUnsignedCharArray.h>

#include <algorithm>

#include "app/theme.hpp"
#include "app/view/scene.hpp"
#include "app/view/scene_cells.hpp"

namespace anvil::app {
namespace {

/// Coloured polygons gathered in plain arrays: a picked face may have a hundred thousand facets and must light up at once.
struct Gathered {
  std::vector<float> points;
  std::vector<vtkIdType> starts{0}, nodes;
  std::vector<unsigned char> colors;

  void point(const Eigen::Vector3d& p) { points.insert(points.end(), {float(p.x()), float(p.y()), float(p.z())}); }
  void cell(std::initializer_list<vtkIdType> ids) { nodes.insert(nodes.end(), ids), starts.push_back(vtkIdType(nodes.size())); }
  void giveTo(vtkPolyData* data) const {
    vtkNew<vtkFloatArray> places;
    places->SetNumberOfComponents(3);
    vtkNew<vtkPoints> at;
    at->SetData(filled(places.Get(), points));
    vtkNew<vtkIdTypeArray> first, corner;
    vtkNew<vtkCellArray> cells;
    cells->SetData(filled(first.Get(), starts), filled(corner.Get(), nodes));
    vtkNew<vtkUnsignedCharArray> rgb;
    rgb->SetNumberOfComponents(3);
    data->SetPoints(at), data->SetPolys(cells);
    data->GetCellData()->SetScalars(filled(rgb.Get(), colors));
    data->Modified();
  }

 private:
  template <class Array, class T>
  static Array* filled(Array* array, const std::vector<T>& from) {
    array->SetNumberOfTuples(vtkIdType(from.size()) / array->GetNumberOfComponents());
    std::copy(from.begin(), from.end(), array->GetPointer(0));
    return array;
  }
};

}  // namespace

void Scene::facetFrame(const mesh::Facet& f, Eigen::Vector3d& middle, Eigen::Vector3d& normal) const {
  const auto n = header_.mesh.nodesOf(f);
  const auto at = [&](size_t i) { return place_[size_t(n[i])]; };
  const int corners = header_.mesh.cornersOf(f);
  middle = Eigen::Vector3d::Zero();
  for (int i = 0; i < corners; ++i) middle += at(size_t(i)) / corners;
  if (corners == 2)
    normal = (at(1) - at(0)).cross(Eigen::Vector3d::UnitZ());
  else
    normal = corners == 3 ? (at(1) - at(0)).cross(at(2) - at(0)) : (at(2) - at(0)).cross(at(3) - at(1));
  normal.normalize();
}

Eigen::Vector3d Scene::place(int node) const { return place_.at(size_t(node)); }

/// Marked faces in space, a little before the surface: a named face, or a contact's faces by status.
void Scene::fillFaces(const SceneState& s) {
  Gathered all;
  const auto& mesh = header_.mesh;
  const double lift = 1.5e-3 * extent_;
  static const int inTurn[] = {0, 1, 2, 3, 4, 5, 6, 7};
  const auto add = [&](const mesh::Facet& f, const QColor& c) {  // called for every facet of a picked face: nothing is allocated
    const auto& block = mesh.blocks[size_t(f.block)];
    const auto& type = mesh::info(block.type);
    const auto& side = type.side[size_t(f.side)];
    const int* nodes = block.cell(size_t(f.cell));
    const int corners = type.cornersOf(f.side);
    const auto at = [&](size_t i) -> const Eigen::Vector3d& { return place_[size_t(nodes[side[i]])]; };
    const Eigen::Vector3d shift =
        lift * (corners == 3 ? (at(1) - at(0)).cross(at(2) - at(0)) : (at(2) - at(0)).cross(at(3) - at(1))).normalized();
    const auto base = vtkIdType(all.points.size() / 3);
    for (size_t i = 0; i < side.size(); ++i) all.point(at(i) + shift);
    const auto into = [&](std::initializer_list<vtkIdType> ids) { all.cell(ids); };
    const std::initializer_list<unsigned char> rgb = {static_cast<unsigned char>(c.red()), static_cast<unsigned char>(c.green()),
                                                      static_cast<unsigned char>(c.blue())};
    for (int k = polygons(into, inTurn, corners, int(side.size()), base); k > 0; --k) all.colors.insert(all.colors.end(), rgb);
  };
  const auto isHidden = [&](int part) { return s.sightOf(part) != Sight::shown; };
  if (solid() && !s.status.empty()) {
    for (size_t p = 0; p < outline_.size(); ++p)
      for (const auto& f : outline_[p])
        if (const int status = statusOf(f, s); status >= 0 && !isHidden(int(p))) add(f, contactColor(status));
  } else if (solid()) {
    const QColor color = theme().accent;
    for (const auto& f : s.highlight)
      if (!isHidden(mesh.blocks[size_t(f.block)].part)) add(f, color);
  }
  all.giveTo(highlight_.data);
  highlight_.mapper->SetScalarVisibility(true), highlight_.mapper->SetScalarModeToUseCellData(),
      highlight_.mapper->SetColorModeToDirectScalars();
  fillStrokes(s, 1.4 * lift);
}

/// Contact status of a facet: the firmest of its corners; -1 where it is not of the contact.
int Scene::statusOf(const mesh::Facet& f, const SceneState& s) const {
  const auto n = header_.mesh.nodesOf(f);
  int least = 3, most = -1;
  for (int i = 0; i < header_.mesh.cornersOf(f); ++i)
    least = std::min(least, s.status[size_t(n[size_t(i)])]), most = std::max(most, s.status[size_t(n[size_t(i)])]);
  return least < 0 ? -1 : most;
}

/// What tells the status without colour: a stroke on each facet that slides, a cross on each that sticks.
void Scene::fillStrokes(const SceneState& s, double lift) {
  vtkNew<vtkPoints> points;
  vtkNew<vtkCellArray> lines;
  const auto& mesh = header_.mesh;
  for (size_t p = 0; solid() && !s.status.empty() && p < outline_.size(); ++p)
    for (const auto& f : outline_[p]) {
      const int status = statusOf(f, s);
      if (status < 1 || s.sightOf(int(p)) != Sight::shown) continue;
      Eigen::Vector3d middle, normal;
      facetFrame(f, middle, normal);
      const auto n = mesh.nodesOf(f);
      const auto corners = size_t(mesh.cornersOf(f));
      const auto inner = [&](size_t i) {
        return Eigen::Vector3d(middle + 0.6 * (place_[size_t(n[i])] - middle) + lift * normal);
      };
      const auto stroke = [&](const Eigen::Vector3d& a, const Eigen::Vector3d& b) {
        const vtkIdType base = points->InsertNextPoint(a.data());
        points->InsertNextPoint(b.data());
        cell(lines, {base, base + 1});
      };
      const Eigen::Vector3d far = corners == 4 ? inner(2) : Eigen::Vector3d((inner(1) + inner(2)) / 2);
      stroke(inner(0), far);
      if (status == 2) stroke(inner(1), corners == 4 ? inner(3) : Eigen::Vector3d((inner(0) + inner(2)) / 2));
    }
  strokes_.data->SetPoints(points), strokes_.data->SetLines(lines), strokes_.data->Modified();
}

}  // namespace anvil::app
