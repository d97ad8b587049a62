// What the scene shows beyond the model itself: its mirrored pictures, and the face of a section through it.
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

/// The reflections of picture `copy`: bit k stands for plane k.
vtkSmartPointer<vtkTransform> reflection(const std::vector<mesh::MirrorPlane>& planes, size_t copy) {
  auto t = vtkSmartPointer<vtkTransform>::New();
  for (size_t k = 0; k < planes.size(); ++k) {
    if (!(copy >> k & 1)) continue;
    double shift[3] = {0, 0, 0}, scale[3] = {1, 1, 1};
    shift[planes[k].axis] = 2 * planes[k].at, scale[planes[k].axis] = -1;
    t->Translate(shift), t->Scale(scale);
  }
  return t;
}

/// The section as it looks from picture `copy` before that is reflected.
Section seenFrom(Section section, const std::vector<mesh::MirrorPlane>& planes, size_t copy) {
  for (size_t k = 0; k < planes.size(); ++k)
    if ((copy >> k & 1) && planes[k].axis == section.axis)
      section.at = 2 * planes[k].at - section.at, section.keepAbove = !section.keepAbove;
  return section;
}

}  // namespace

void Scene::mirror(const SceneState& s) {
  mirrors_ = s.sweep ? std::vector<mesh::MirrorPlane>() : s.mirrors;
  const size_t copies = (size_t(1) << mirrors_.size()) - 1;
  for (Layer* l : drawn()) {
    for (auto& a : l->mirrored) renderer_->RemoveActor(a);
    l->mirrored.clear();
    for (size_t k = 1; k <= copies; ++k) {
      auto actor = vtkSmartPointer<vtkActor>::New();
      actor->SetMapper(l->mapper), actor->SetProperty(l->actor->GetProperty());
      actor->SetUserTransform(reflection(mirrors_, k));
      renderer_->AddActor(actor);
      l->mirrored.push_back(actor);
    }
  }
}

void Scene::fillCaps(const SceneState& s) {
  for (auto& c : caps_) renderer_->RemoveActor(c.actor);
  caps_.clear();
  const bool cuts = s.section && solid();
  vtkNew<vtkPlane> plane;
  if (cuts) {
    double origin[3] = {0, 0, 0}, normal[3] = {0, 0, 0};
    origin[s.section->axis] = s.section->at, normal[s.section->axis] = s.section->keepAbove ? 1 : -1;
    plane->SetOrigin(origin), plane->SetNormal(normal);
  }
  for (Layer* l : drawn()) {
    l->mapper->RemoveAllClippingPlanes();
    if (cuts) l->mapper->AddClippingPlane(plane);
  }
  if (!cuts) return;
  for (size_t k = 0; k < size_t(1) << mirrors_.size(); ++k)
    for (const bool quadratic : {false, true}) {
      auto& layer = caps_.emplace_back();
      connect(layer, renderer_);
      layer.actor->GetProperty()->SetLighting(false);
      layer.actor->SetUserTransform(reflection(mirrors_, k));
      cap(layer, seenFrom(*s.section, mirrors_, k), quadratic, s);
    }
}

/// Cuts the linear or the quadratic cells of every part in sight and draws what is found, coloured as the surface is.
void Scene::cap(Layer& layer, const Section& section, bool quadratic, const SceneState& s) {
  const auto& mesh = header_.mesh;
  vtkNew<vtkPlane> plane;
  double origin[3] = {0, 0, 0}, normal[3] = {0, 0, 0};
  origin[section.axis] = section.at, normal[section.axis] = 1;
  plane->SetOrigin(origin), plane->SetNormal(normal);
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
          const double d = place_[size_t(ids[i])][section.axis] - section.at;
          below |= d <= 0, above |= d >= 0;
        }
        if (below && above) grid->InsertNextCell(type.vtk, type.nodes, ids);
      }
    }
    if (grid->GetNumberOfCells() == 0) continue;
    vtkNew<vtkCutter> cutter;
    cutter->SetInputData(grid), cutter->SetCutFunction(plane), cutter->GenerateTrianglesOff();
    cutter->Update();
    auto* cut = cutter->GetOutput();
    const vtkIdType base = points->GetNumberOfPoints();
    for (vtkIdType i = 0; i < cut->GetNumberOfPoints(); ++i) {
      points->InsertNextPoint(cut->GetPoint(i));
      found->InsertNextValue(s.values && cut->GetPointData()->GetScalars() ? cut->GetPointData()->GetScalars()->GetTuple1(i) : 0);
    }
    const QColor c = (part < s.colors.size() ? s.colors[part] : partColor(int(part))).darker(112);
    const unsigned char rgb[3] = {static_cast<unsigned char>(c.red()), static_cast<unsigned char>(c.green()),
                                  static_cast<unsigned char>(c.blue())};
    auto* polys = cut->GetPolys();
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
