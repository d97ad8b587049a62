// What the scene shows beyond the model itself: its further pictures where it is symmetric, and the face of a section through it.
#include <vtkCellArray.h>
#include <vtkCellData.h>
#include <vtkCutter.h>
#include <vtkPlane.h>
#include <vtkPointData.h>
#include <vtkPolygon.h>
#include <vtkProperty.h>
#include <vtkTransform.h>
#include <vtkUnsignedCharArray.h>
#include <vtkUnstructuredGrid.h>

#include "app/theme.hpp"
#include "app/view/scene.hpp"

namespace anvil::app {
namespace {

vtkSmartPointer<vtkTransform> transformOf(const Eigen::Affine3d& picture) {
  auto t = vtkSmartPointer<vtkTransform>::New();
  double rows[16];
  for (int i = 0; i < 4; ++i)
    for (int j = 0; j < 4; ++j) rows[4 * i + j] = picture(i, j);
  t->SetMatrix(rows);
  return t;
}

}  // namespace

void Scene::repeat(const SceneState& s) {
  pictures_ = s.sweep ? std::vector<Eigen::Affine3d>() : s.pictures;
  for (Layer* l : drawn()) {
    for (auto& a : l->again) renderer_->RemoveActor(a);
    l->again.clear();
    for (const auto& picture : pictures_) {
      auto actor = vtkSmartPointer<vtkActor>::New();
      actor->SetMapper(l->mapper), actor->SetProperty(l->actor->GetProperty());
      actor->SetUserTransform(transformOf(picture));
      renderer_->AddActor(actor);
      l->again.push_back(actor);
    }
  }
}

void Scene::fillCaps(const SceneState& s) {
  for (auto& c : caps_) renderer_->RemoveActor(c.actor);
  caps_.clear();
  const bool sectioned = s.section && solid();
  vtkNew<vtkPlane> plane;
  if (sectioned) {
    double origin[3] = {0, 0, 0}, normal[3] = {0, 0, 0};
    origin[s.section->axis] = s.section->at, normal[s.section->axis] = s.section->keepAbove ? 1 : -1;
    plane->SetOrigin(origin), plane->SetNormal(normal);
  }
  for (Layer* l : drawn()) {
    l->mapper->RemoveAllClippingPlanes();
    if (sectioned) l->mapper->AddClippingPlane(plane);
  }
  if (!sectioned) return;
  const Eigen::Vector3d normal = Eigen::Vector3d::Unit(s.section->axis);
  auto pictures = pictures_;
  pictures.insert(pictures.begin(), Eigen::Affine3d::Identity());
  for (const auto& picture : pictures)
    for (const bool quadratic : {false, true}) {
      auto& layer = caps_.emplace_back();
      connect(layer, renderer_);
      layer.actor->GetProperty()->SetLighting(false);
      layer.actor->SetUserTransform(transformOf(picture));
      // the plane as it lies in the model's own picture: n · (A x + t) = at
      const Eigen::Vector3d own = picture.linear().transpose() * normal;
      cap(layer, {own, normal.dot(picture.translation()) - s.section->at}, quadratic, s);
    }
}

/// Cuts the linear or the quadratic cells of every part in sight and draws what is found, coloured as the surface is.
void Scene::cap(Layer& layer, const Eigen::Hyperplane<double, 3>& section, bool quadratic, const SceneState& s) {
  const auto& mesh = header_.mesh;
  vtkNew<vtkPlane> plane;
  Eigen::Vector3d origin = -section.offset() * section.normal(), normal = section.normal();
  plane->SetOrigin(origin.data()), plane->SetNormal(normal.data());
  vtkNew<vtkPoints> points, placed;
  vtkNew<vtkCellArray> cells;
  vtkNew<vtkDoubleArray> values, found;
  vtkNew<vtkUnsignedCharArray> colors;
  colors->SetNumberOfComponents(3);
  for (const auto& x : place_) placed->InsertNextPoint(x.data());
  if (s.values)
    for (size_t i = 0; i < place_.size(); ++i) values->InsertNextValue(i < s.values->size() ? (*s.values)[i] : 0);
  for (size_t part = 0; part < mesh.parts.size(); ++part) {
    if (s.sightOf(int(part)) != Sight::shown) continue;
    vtkNew<vtkUnstructuredGrid> grid;
    grid->SetPoints(placed);
    if (s.values) grid->GetPointData()->SetScalars(values);
    for (const auto& b : mesh.blocks) {
      const auto& type = mesh::info(b.type);
      if (b.part != int(part) || type.quadratic != quadratic) continue;
      for (size_t c = 0; c < b.count(); ++c) {
        vtkIdType ids[20];
        bool below = false, above = false;
        for (int i = 0; i < type.nodes; ++i) {
          ids[i] = b.cell(c)[i];
          const double d = section.signedDistance(place_[size_t(ids[i])]);
          below |= d <= 0, above |= d >= 0;
        }
        if (below && above) grid->InsertNextCell(type.vtk, type.nodes, ids);
      }
    }
    if (grid->GetNumberOfCells() == 0) continue;
    vtkNew<vtkCutter> cutter;
    cutter->SetInputData(grid), cutter->SetCutFunction(plane), cutter->GenerateTrianglesOff();
    cutter->Update();
    auto* pieces = cutter->GetOutput();
    const vtkIdType base = points->GetNumberOfPoints();
    for (vtkIdType i = 0; i < pieces->GetNumberOfPoints(); ++i) {
      points->InsertNextPoint(pieces->GetPoint(i));
      found->InsertNextValue(s.values && pieces->GetPointData()->GetScalars() ? pieces->GetPointData()->GetScalars()->GetTuple1(i)
                                                                              : 0);
    }
    const QColor c = (part < s.colors.size() ? s.colors[part] : partColor(int(part))).darker(112);
    const unsigned char rgb[3] = {static_cast<unsigned char>(c.red()), static_cast<unsigned char>(c.green()),
                                  static_cast<unsigned char>(c.blue())};
    auto* polys = pieces->GetPolys();
    polys->InitTraversal();
    vtkIdType n = 0;
    const vtkIdType* ids = nullptr;
    while (polys->GetNextCell(n, ids)) {
      cells->InsertNextCell(int(n));
      for (vtkIdType i = 0; i < n; ++i) cells->InsertCellPoint(base + ids[i]);
      colors->InsertNextTypedTuple(rgb);
    }
  }
  layer.data->SetPoints(points), layer.data->SetPolys(cells);
  layer.mapper->SetScalarVisibility(true);
  if (s.values) {
    layer.data->GetPointData()->SetScalars(found);
    layer.mapper->SetLookupTable(table_), layer.mapper->SetUseLookupTableScalarRange(true),
        layer.mapper->SetInterpolateScalarsBeforeMapping(true);
    layer.mapper->SetScalarModeToUsePointData(), layer.mapper->SetColorModeToMapScalars();
  } else {
    layer.data->GetCellData()->SetScalars(colors);
    layer.mapper->SetScalarModeToUseCellData(), layer.mapper->SetColorModeToDirectScalars();
  }
  auto* look = layer.actor->GetProperty();
  look->SetEdgeVisibility(s.edges && !quadratic);  // a curved cell is cut in pieces, whose edges mean nothing
  look->SetEdgeColor(theme().ink.redF(), theme().ink.greenF(), theme().ink.blueF()), look->SetLineWidth(1);
}

double Scene::sectionArea() const {
  double area = 0;
  for (const auto& c : caps_) {
    auto* polys = c.data->GetPolys();
    polys->InitTraversal();
    vtkIdType n = 0;
    const vtkIdType* ids = nullptr;
    while (polys->GetNextCell(n, ids)) {
      double normal[3];
      area += vtkPolygon::ComputeArea(c.data->GetPoints(), n, ids, normal);
    }
  }
  return area;
}

}  // namespace anvil::app
