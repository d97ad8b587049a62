#include "app/view/scene.hpp"

#include <vtkCellArray.h>
#include <vtkCellData.h>
#include <vtkPointData.h>
#include <vtkProperty.h>
#include <vtkUnsignedCharArray.h>

#include <cmath>
#include <numbers>

#include "app/theme.hpp"

namespace anvil::app {
namespace {

constexpr double sweepAngle = 1.5 * std::numbers::pi;
constexpr int sweepSteps = 60;

Eigen::Vector3d swept(const Eigen::Vector3d& p, double angle) { return {p.x() * std::cos(angle), p.y(), -p.x() * std::sin(angle)}; }

void cell(vtkCellArray* cells, std::initializer_list<vtkIdType> ids) { cells->InsertNextCell(vtkIdType(ids.size()), ids.begin()); }

}  // namespace

Scene::Scene(vtkRenderer* renderer) {
  for (Layer* l : {&ghost_, &surface_, &edges_, &outlines_, &rigid_, &highlight_}) connect(*l, renderer);
  surface_.mapper->SetInterpolateScalarsBeforeMapping(true);
  surface_.mapper->SetLookupTable(table_);
  surface_.mapper->SetUseLookupTableScalarRange(true);
  // lines lie just in front of the surface
  vtkMapper::SetResolveCoincidentTopologyToPolygonOffset();
  for (Layer* l : {&edges_, &outlines_, &ghost_, &rigid_, &highlight_}) l->actor->GetProperty()->SetLighting(false);
  outlines_.actor->GetProperty()->SetLineWidth(1.6f);
  rigid_.actor->GetProperty()->SetLineWidth(3);
  highlight_.actor->GetProperty()->SetLineWidth(4);
}

void Scene::connect(Layer& l, vtkRenderer* renderer) {
  l.mapper->SetInputData(l.data);
  l.mapper->SetScalarVisibility(false);
  l.actor->SetMapper(l.mapper);
  renderer->AddActor(l.actor);
}

void Scene::setHeader(const results::Header& header) {
  header_ = header;
  outline_.clear();
  for (size_t p = 0; p < header_.mesh.parts.size(); ++p) outline_.push_back(header_.mesh.boundary(int(p)));
}

Eigen::Vector3d Scene::place(int node) const { return place_.at(size_t(node)); }

void Scene::bounds(double b[6]) const {
  for (int i = 0; i < 3; ++i) b[2 * i] = 1e300, b[2 * i + 1] = -1e300;
  for (const Layer* l : {&surface_, &rigid_}) {
    if (l->data->GetNumberOfPoints() == 0) continue;
    double o[6];
    l->data->GetBounds(o);
    for (int i = 0; i < 3; ++i) b[2 * i] = std::min(b[2 * i], o[2 * i]), b[2 * i + 1] = std::max(b[2 * i + 1], o[2 * i + 1]);
  }
  if (b[0] > b[1])
    for (int i = 0; i < 3; ++i) b[2 * i] = -1, b[2 * i + 1] = 1;
}

void Scene::update(const SceneState& s) {
  const auto& x = header_.mesh.x;
  place_ = x;
  if (s.displacement && s.displacement->size() >= 2 * x.size())
    for (size_t i = 0; i < x.size(); ++i) place_[i] += s.scale * Eigen::Vector3d((*s.displacement)[2 * i], (*s.displacement)[2 * i + 1], 0);
  colours(s);
  fillSurface(s);
  fillLines(s);
  fillRigid(s);
}

void Scene::colours(const SceneState& s) {
  const int n = s.bands ? 10 : 256;
  table_->SetNumberOfTableValues(n);
  for (int i = 0; i < n; ++i) {
    const double t = n > 1 ? double(i) / (n - 1) : 0;
    const QColor c = s.isSigned ? twoEnded(t) : heat(t);
    table_->SetTableValue(i, c.redF(), c.greenF(), c.blueF());
  }
  table_->SetRange(s.low, s.high);
  const auto paint = [](Layer& l, const QColor& c) { l.actor->GetProperty()->SetColor(c.redF(), c.greenF(), c.blueF()); };
  // opaque colours: a translucent line would let the window shine through
  paint(edges_, s.values ? QColor("#4A4643") : QColor("#77716A")), paint(outlines_, theme().ink), paint(ghost_, theme().faint);
  paint(rigid_, QColor("#5B6470")), paint(highlight_, theme().accent);
}

void Scene::fillSurface(const SceneState& s) {
  vtkNew<vtkPoints> points;
  vtkNew<vtkCellArray> cells;
  vtkNew<vtkDoubleArray> scalars;
  vtkNew<vtkUnsignedCharArray> colors;
  colors->SetNumberOfComponents(3);
  const auto& mesh = header_.mesh;
  const auto isHidden = [&](int part) { return size_t(part) < s.hidden.size() && s.hidden[size_t(part)]; };
  const auto value = [&](size_t n) { return s.values && n < s.values->size() ? (*s.values)[n] : 0.; };
  const auto paint = [&](int part) {
    const QColor c = partColor(part);
    const unsigned char rgb[3] = {static_cast<unsigned char>(c.red()), static_cast<unsigned char>(c.green()), static_cast<unsigned char>(c.blue())};
    colors->InsertNextTypedTuple(rgb);
  };
  const auto flat = [&](double angle, bool turned) {
    const vtkIdType base = points->GetNumberOfPoints();
    for (size_t i = 0; i < place_.size(); ++i) {
      const Eigen::Vector3d p = turned ? swept(place_[i], angle) : place_[i];
      points->InsertNextPoint(p.data());
      scalars->InsertNextValue(value(i));
    }
    for (const auto& b : mesh.blocks) {
      if (isHidden(b.part)) continue;
      for (size_t c = 0; c < b.count(); ++c) {
        vtkIdType n[8];
        for (int k = 0; k < mesh::info(b.type).nodes; ++k) n[k] = base + b.cell(c)[k];
        if (b.type == mesh::Cell::quad4) {
          cell(cells, {n[0], n[1], n[2], n[3]}), paint(b.part);
          continue;
        }
        for (auto t : {std::array{0, 4, 7}, {4, 1, 5}, {5, 2, 6}, {6, 3, 7}, {4, 5, 6}, {4, 6, 7}}) cell(cells, {n[t[0]], n[t[1]], n[t[2]]}), paint(b.part);
      }
    }
  };
  if (!s.sweep) {
    flat(0, false);
  } else {
    flat(0, true), flat(sweepAngle, true);
    for (size_t p = 0; p < outline_.size(); ++p) {
      if (isHidden(int(p))) continue;
      for (const auto& f : outline_[p]) {
        const auto n = mesh.nodesOf(f);
        const std::vector<int> chain = n.size() == 3 ? std::vector<int>{n[0], n[2], n[1]} : n;
        for (size_t k = 0; k + 1 < chain.size(); ++k) {
          const vtkIdType base = points->GetNumberOfPoints();
          for (int a = 0; a <= sweepSteps; ++a)
            for (size_t e : {k, k + 1}) {
              points->InsertNextPoint(swept(place_[size_t(chain[e])], sweepAngle * a / sweepSteps).data());
              scalars->InsertNextValue(value(size_t(chain[e])));
            }
          for (vtkIdType a = 0; a < sweepSteps; ++a) cell(cells, {base + 2 * a, base + 2 * a + 1, base + 2 * a + 3, base + 2 * a + 2}), paint(int(p));
        }
      }
    }
  }
  surface_.data->SetPoints(points);
  surface_.data->SetPolys(cells);
  surface_.data->GetPointData()->SetScalars(s.values ? scalars.Get() : nullptr);
  surface_.data->GetCellData()->SetScalars(s.values ? nullptr : colors.Get());
  surface_.mapper->SetScalarVisibility(true);
  if (s.values) surface_.mapper->SetScalarModeToUsePointData(), surface_.mapper->SetColorModeToMapScalars();
  else surface_.mapper->SetScalarModeToUseCellData(), surface_.mapper->SetColorModeToDirectScalars();
  surface_.actor->GetProperty()->SetLighting(s.sweep);
  surface_.actor->GetProperty()->SetAmbient(0.35), surface_.actor->GetProperty()->SetDiffuse(0.7);
  surface_.data->Modified();
}

void Scene::fillLines(const SceneState& s) {
  const auto& mesh = header_.mesh;
  const auto isHidden = [&](int part) { return size_t(part) < s.hidden.size() && s.hidden[size_t(part)]; };
  const auto set = [](Layer& l, vtkPoints* points, vtkCellArray* lines) {
    l.data->SetPoints(points), l.data->SetLines(lines), l.data->Modified();
  };
  const auto nodes = [](const std::vector<Eigen::Vector3d>& x, double lift) {
    auto points = vtkSmartPointer<vtkPoints>::New();
    for (const auto& p : x) points->InsertNextPoint(p.x(), p.y(), p.z() + lift);
    return points;
  };
  double b[6];
  bounds(b);
  const double lift = s.sweep ? 0 : 1e-3 * std::max(b[1] - b[0], b[3] - b[2]);
  vtkNew<vtkCellArray> edges, outline, ghost, marked;
  const auto side = [](vtkCellArray* lines, const std::vector<int>& n) {
    if (n.size() == 3) cell(lines, {n[0], n[2], n[1]});
    else cell(lines, {n[0], n[1]});
  };
  for (size_t k = 0; k < mesh.blocks.size(); ++k) {
    if (!s.edges || isHidden(mesh.blocks[k].part)) continue;
    for (size_t c = 0; c < mesh.blocks[k].count(); ++c)
      for (int e = 0; e < 4; ++e) side(edges, mesh.nodesOf({int(k), int(c), e}));
  }
  for (size_t p = 0; p < outline_.size(); ++p) {
    if (isHidden(int(p))) continue;
    for (const auto& f : outline_[p]) {
      side(outline, mesh.nodesOf(f));
      if (s.undeformed) side(ghost, mesh.nodesOf(f));
    }
  }
  if (s.highlight >= 0 && size_t(s.highlight) < mesh.faces.size())
    for (const auto& f : mesh.faces[size_t(s.highlight)].facets) side(marked, mesh.nodesOf(f));
  const auto placed = nodes(place_, lift), high = nodes(place_, 2 * lift);
  set(edges_, placed, edges), set(outlines_, placed, outline), set(highlight_, high, marked);
  set(ghost_, nodes(mesh.x, lift), ghost);
}

void Scene::fillRigid(const SceneState& s) {
  vtkNew<vtkPoints> points;
  vtkNew<vtkCellArray> lines, faces;
  rigidPaths_.clear();
  for (size_t k = 0; k < header_.rigid.size(); ++k) {
    const auto& body = header_.rigid[k];
    double ux = 0, uy = 0, turn = 0;
    if (s.rigid && s.rigid->size() >= 3 * k + 3) ux = (*s.rigid)[3 * k], uy = (*s.rigid)[3 * k + 1], turn = (*s.rigid)[3 * k + 2];
    std::vector<Eigen::Vector3d> path;
    for (size_t i = 0; i + 1 < body.points.size(); i += 2) {
      const double x = body.points[i] - body.reference[0], y = body.points[i + 1] - body.reference[1];
      path.emplace_back(body.reference[0] + ux + std::cos(turn) * x - std::sin(turn) * y, body.reference[1] + uy + std::sin(turn) * x + std::cos(turn) * y, 0);
    }
    rigidPaths_.push_back(path);
    // a swept tool is cut open wider than the parts, so that they stay in sight
    const int copies = s.sweep ? sweepSteps / 2 : 0;
    vtkIdType previous = -1;
    for (int a = 0; a <= copies; ++a) {
      const vtkIdType base = points->GetNumberOfPoints();
      for (const auto& p : path) points->InsertNextPoint((s.sweep ? swept(p, sweepAngle * a / sweepSteps) : p).data());
      if (a == 0 || a == copies) {
        lines->InsertNextCell(vtkIdType(path.size()));
        for (size_t i = 0; i < path.size(); ++i) lines->InsertCellPoint(base + vtkIdType(i));
      }
      if (previous >= 0)
        for (vtkIdType i = 0; i + 1 < vtkIdType(path.size()); ++i) cell(faces, {previous + i, previous + i + 1, base + i + 1, base + i});
      previous = base;
    }
  }
  rigid_.data->SetPoints(points), rigid_.data->SetLines(lines), rigid_.data->SetPolys(faces), rigid_.data->Modified();
  rigid_.actor->GetProperty()->SetLighting(s.sweep);
}

}  // namespace anvil::app
