#include "app/view/scene.hpp"

#include <vtkCellArray.h>
#include <vtkCellData.h>
#include <vtkFloatArray.h>
#include <vtkGenericCell.h>
#include <vtkIdList.h>
#include <vtkIdTypeArray.h>
#include <vtkPointData.h>
#include <vtkProperty.h>
#include <vtkQuadricClustering.h>
#include <vtkUnsignedCharArray.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

#include "app/theme.hpp"
#include "app/view/scene_cells.hpp"
#include "core/contact/rotation.hpp"

namespace anvil::app {
namespace {

constexpr double sweepAngle = 1.5 * std::numbers::pi;
constexpr int sweepSteps = 60;

Eigen::Vector3d swept(const Eigen::Vector3d& p, double angle) {
  return {p.x() * std::cos(angle), p.y(), -p.x() * std::sin(angle)};
}

}  // namespace

Scene::Scene(vtkRenderer* renderer) : renderer_(renderer) {
  for (Layer* l : drawn()) connect(*l, renderer);
  connect(light_, renderer);
  light_.actor->SetVisibility(false);
  surface_.mapper->SetInterpolateScalarsBeforeMapping(true);
  surface_.mapper->SetLookupTable(table_);
  surface_.mapper->SetUseLookupTableScalarRange(true);
  // lines lie just in front of the surface
  vtkMapper::SetResolveCoincidentTopologyToPolygonOffset();
  vtkMapper::SetResolveCoincidentTopologyPolygonOffsetParameters(2.5, 40);      // less lets lines show in pieces
  rigid_.mapper->SetRelativeCoincidentTopologyPolygonOffsetParameters(1, 120);  // tools that lie on a face lie behind it
  for (Layer* l : {&edges_, &outlines_, &faded_, &ghost_, &rigid_, &highlight_, &strokes_, &diagrams_})
    l->actor->GetProperty()->SetLighting(false);
  outlines_.actor->GetProperty()->SetLineWidth(1), surface_.actor->GetProperty()->SetLineWidth(2);
  rigid_.actor->GetProperty()->SetLineWidth(3);
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
  findLines();
}

void Scene::findLines() {
  edgeLines_.clear(), outlineLines_.clear();
  const auto& mesh = header_.mesh;
  place_ = mesh.x;
  if (!solid()) {
    for (size_t k = 0; k < mesh.blocks.size(); ++k)
      for (size_t c = 0; c < mesh.blocks[k].count(); ++c)
        for (int e = 0; e < mesh::info(mesh.blocks[k].type).sides; ++e)
          edgeLines_.push_back({mesh.blocks[k].part, mesh.nodesOf({int(k), int(c), e})});
    for (size_t p = 0; p < outline_.size(); ++p)
      for (const auto& f : outline_[p]) outlineLines_.push_back({int(p), mesh.nodesOf(f)});
    return;
  }
  // edges of the boundary's facets, each once; those where the surface bends are edges of the shape
  for (size_t p = 0; p < outline_.size(); ++p) {
    std::map<std::pair<int, int>, std::pair<size_t, Eigen::Vector3d>> seen;
    for (const auto& f : outline_[p]) {
      const auto n = mesh.nodesOf(f);
      const int corners = mesh.cornersOf(f);
      Eigen::Vector3d middle, normal;
      facetFrame(f, middle, normal);
      for (int i = 0; i < corners; ++i) {
        const int a = n[size_t(i)], b = n[size_t((i + 1) % corners)];
        const auto [it, fresh] = seen.try_emplace(std::minmax(a, b), edgeLines_.size(), normal);
        if (fresh) {
          std::vector<int> line{a, b};
          if (int(n.size()) > corners) line.push_back(n[size_t(corners + i)]);
          edgeLines_.push_back({int(p), line});
        } else if (it->second.second.dot(normal) < 0.8) {
          outlineLines_.push_back(edgeLines_[it->second.first]);
        }
      }
    }
  }
}

void Scene::bounds(double b[6]) const {
  for (int i = 0; i < 3; ++i) b[2 * i] = 1e300, b[2 * i + 1] = -1e300;
  for (const Layer* l : {&surface_, &rigid_, &diagrams_}) {
    if (l->data->GetNumberOfCells() == 0) continue;
    double o[6];
    l->data->GetCellsBounds(o);
    for (int i = 0; i < 3; ++i) b[2 * i] = std::min(b[2 * i], o[2 * i]), b[2 * i + 1] = std::max(b[2 * i + 1], o[2 * i + 1]);
  }
  constexpr vtkIdType enough = 4000;  // points to go by, of a large surface
  for (const Layer* l : {&surface_, &rigid_}) {
    for (auto* drawn : {l->data->GetPolys(), l->data->GetLines()}) {
      const vtkIdType cells = pictures_.empty() ? 0 : drawn->GetNumberOfCells(), every = 1 + cells / enough;
      vtkNew<vtkIdList> ids;
      for (vtkIdType c = 0; c < cells; c += every) {
        drawn->GetCellAtId(c, ids);
        for (vtkIdType i = 0; i < ids->GetNumberOfIds(); ++i) {
          const Eigen::Vector3d own(l->data->GetPoint(ids->GetId(i)));
          for (const auto& picture : pictures_) {
            const Eigen::Vector3d x = picture * own;
            for (int k = 0; k < 3; ++k) b[2 * k] = std::min(b[2 * k], x[k]), b[2 * k + 1] = std::max(b[2 * k + 1], x[k]);
          }
        }
      }
    }
  }
  if (b[0] > b[1])
    for (int i = 0; i < 3; ++i) b[2 * i] = -1, b[2 * i + 1] = 1;
}

void Scene::update(const SceneState& s) {
  const auto& x = header_.mesh.x;
  place_ = x;
  const auto D = size_t(header_.mesh.dim);
  if (s.displacement && s.displacement->size() >= D * x.size())
    for (size_t i = 0; i < x.size(); ++i)
      place_[i] += s.scale * Eigen::Vector3d((*s.displacement)[D * i], (*s.displacement)[D * i + 1],
                                             D == 3 ? (*s.displacement)[3 * i + 2] : 0);
  colours(s);
  fillSurface(s);
  fillRigid(s);
  diagrams_.data->Initialize();  // as large as the rest of the picture has it
  double b[6];
  bounds(b);
  extent_ = std::max({b[1] - b[0], b[3] - b[2], b[5] - b[4]});
  fillDiagrams(s);
  fillFaces(s);
  fillLines(s);
  repeat(s);
  fillCaps(s);
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
  paint(edges_, s.values ? QColor("#4A4643") : QColor("#77716A")), paint(outlines_, theme().ink), paint(ghost_, theme().faint),
      paint(faded_, theme().faint);
  paint(rigid_, QColor("#5B6470")), paint(highlight_, theme().accent), paint(strokes_, QColor("#23282D")),
      paint(diagrams_, theme().ink);
}

void Scene::fillSurface(const SceneState& s) {
  vtkNew<vtkPoints> points;
  vtkNew<vtkCellArray> cells;
  vtkNew<vtkDoubleArray> scalars;
  vtkNew<vtkUnsignedCharArray> colors;
  colors->SetNumberOfComponents(3);
  const auto& mesh = header_.mesh;
  const auto isHidden = [&](int part) { return s.sightOf(part) != Sight::shown; };
  const auto value = [&](size_t n) { return s.values && n < s.values->size() ? (*s.values)[n] : 0.; };
  const auto paint = [&](int part, int block = -1, size_t cell = 0) {
    const QColor c = s.quality && block >= 0 && size_t(block) < s.quality->size()
                         ? qualityColor((*s.quality)[size_t(block)][cell])
                     : size_t(part) < s.colors.size() ? s.colors[size_t(part)]
                                                      : partColor(part);
    const unsigned char rgb[3] = {static_cast<unsigned char>(c.red()), static_cast<unsigned char>(c.green()),
                                  static_cast<unsigned char>(c.blue())};
    colors->InsertNextTypedTuple(rgb);
  };
  polygonOf_.clear(), locator_ = nullptr, lightMade_ = false;
  setLight(false);
  const auto into = [&](std::initializer_list<vtkIdType> ids) { cell(cells, ids); };
  const auto flat = [&](double angle, bool turned) {
    const vtkIdType base = points->GetNumberOfPoints();
    for (size_t i = 0; i < place_.size(); ++i) {
      const Eigen::Vector3d p = turned ? swept(place_[i], angle) : place_[i];
      points->InsertNextPoint(p.data());
      scalars->InsertNextValue(value(i));
    }
    for (size_t k = 0; k < mesh.blocks.size(); ++k) {
      const auto& b = mesh.blocks[k];
      if (isHidden(b.part) || solid()) continue;
      const auto& type = mesh::info(b.type);
      for (size_t c = 0; c < b.count(); ++c)
        for (int left = polygons(into, b.cell(c), type.corners, type.nodes, base); left > 0; --left) paint(b.part, int(k), c);
    }
    for (size_t p = 0; solid() && p < outline_.size(); ++p) {
      if (isHidden(int(p))) continue;
      for (const auto& f : outline_[p]) {
        const auto n = mesh.nodesOf(f);
        for (int k = polygons(into, n.data(), mesh.cornersOf(f), int(n.size()), base); k > 0; --k)
          paint(int(p), f.block, size_t(f.cell)), polygonOf_.push_back(f);
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
          for (vtkIdType a = 0; a < sweepSteps; ++a)
            cell(cells, {base + 2 * a, base + 2 * a + 1, base + 2 * a + 3, base + 2 * a + 2}), paint(int(p));
        }
      }
    }
  }
  vtkNew<vtkCellArray> axes;
  addSlender(s, points, cells, axes, scalars, [&](int part) { paint(part), polygonOf_.push_back({-1, -1, -1}); });
  surface_.data->SetPoints(points);
  surface_.data->SetPolys(cells);
  surface_.data->SetLines(axes);
  surface_.data->GetPointData()->SetScalars(s.values ? scalars.Get() : nullptr);
  surface_.data->GetCellData()->SetScalars(s.values ? nullptr : colors.Get());
  surface_.mapper->SetScalarVisibility(true);
  if (s.values)
    surface_.mapper->SetScalarModeToUsePointData(), surface_.mapper->SetColorModeToMapScalars();
  else
    surface_.mapper->SetScalarModeToUseCellData(), surface_.mapper->SetColorModeToDirectScalars();
  surface_.actor->GetProperty()->SetLighting(s.sweep || solid());
  surface_.actor->GetProperty()->SetAmbient(0.55), surface_.actor->GetProperty()->SetDiffuse(0.5);
  surface_.actor->GetProperty()->SetOpacity(s.glass && solid() ? 0.4 : 1);
  surface_.data->Modified();
}

void Scene::mark(const SceneState& s) { fillFaces(s); }

void Scene::setLight(bool on) {
  constexpr vtkIdType many = 40000;
  on = on && surface_.data->GetNumberOfCells() > many && pictures_.empty() && caps_.empty();
  if (on && !lightMade_) {
    lightMade_ = true;
    // colours per polygon, as the simplified ones inherit them
    vtkNew<vtkPolyData> coloured;
    coloured->ShallowCopy(surface_.data);
    if (auto* values = surface_.data->GetPointData()->GetScalars()) {
      vtkNew<vtkUnsignedCharArray> colours;
      colours->SetNumberOfComponents(3), colours->SetNumberOfTuples(coloured->GetNumberOfCells());
      vtkNew<vtkIdList> ids;
      for (vtkIdType c = 0; c < coloured->GetNumberOfCells(); ++c) {
        coloured->GetCellPoints(c, ids);
        double mean = 0;
        for (vtkIdType i = 0; i < ids->GetNumberOfIds(); ++i)
          mean += values->GetTuple1(ids->GetId(i)) / double(ids->GetNumberOfIds());
        const unsigned char* rgba = table_->MapValue(mean);
        colours->SetTypedTuple(c, rgba);
      }
      coloured->GetPointData()->SetScalars(nullptr), coloured->GetCellData()->SetScalars(colours);
    }
    vtkNew<vtkQuadricClustering> simpler;
    simpler->SetInputData(coloured), simpler->SetNumberOfDivisions(90, 90, 90), simpler->AutoAdjustNumberOfDivisionsOn(),
        simpler->CopyCellDataOn();
    simpler->Update();
    light_.data->ShallowCopy(simpler->GetOutput());
    light_.mapper->SetScalarVisibility(true), light_.mapper->SetScalarModeToUseCellData(),
        light_.mapper->SetColorModeToDirectScalars();
    light_.actor->GetProperty()->DeepCopy(surface_.actor->GetProperty());
  }
  light_.actor->SetVisibility(on);
  for (Layer* l : {&surface_, &edges_}) l->actor->SetVisibility(!on);
}

std::optional<mesh::Facet> Scene::facetAlong(const Eigen::Vector3d& from, const Eigen::Vector3d& to,
                                             const std::optional<Section>& section) const {
  if (polygonOf_.empty() || vtkIdType(polygonOf_.size()) != surface_.data->GetNumberOfCells()) return {};
  if (!locator_) {
    locator_ = vtkSmartPointer<vtkStaticCellLocator>::New();
    locator_->SetDataSet(surface_.data);
    locator_->BuildLocator();
  }
  // the first hit; behind the section's face the next one
  Eigen::Vector3d start = from;
  vtkNew<vtkGenericCell> cell;
  for (int hits = 0; hits < 1000; ++hits) {
    double along = 0, local[3];
    Eigen::Vector3d x;
    int sub = 0;
    vtkIdType id = -1;
    if (!locator_->IntersectWithLine(start.data(), to.data(), 0., along, x.data(), local, sub, id, cell) || id < 0) return {};
    if (!section || !section->cutsAway(x)) {
      if (polygonOf_[size_t(id)].block < 0) return {};  // a slender part
      return polygonOf_[size_t(id)];
    }
    start = x + 1e-6 * (to - from);
  }
  return {};
}

void Scene::fillLines(const SceneState& s) {
  const auto& mesh = header_.mesh;
  const auto isHidden = [&](int part) { return s.sightOf(part) != Sight::shown; };
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
  const double lift = s.sweep || solid() ? 0 : 1e-3 * std::max(b[1] - b[0], b[3] - b[2]);
  vtkNew<vtkCellArray> edges, outline, faded, ghost;
  const auto side = [](vtkCellArray* lines, const std::vector<int>& n) {
    if (n.size() == 3)
      cell(lines, {n[0], n[2], n[1]});
    else
      cell(lines, {n[0], n[1]});
  };
  for (const auto& line : edgeLines_)
    if (s.edges && !isHidden(line.part)) side(edges, line.nodes);
  for (const auto& l : mesh.lines)  // seen however thin they are
    for (size_t c = 0; c < l.count() && s.sightOf(l.part) != Sight::hidden; ++c) {
      if (isHidden(l.part)) side(faded, {l.nodes[c], l.nodes[c + 1]});
      if (!isHidden(l.part) && !s.values) side(outline, {l.nodes[c], l.nodes[c + 1]});
      if (s.undeformed) side(ghost, {l.nodes[c], l.nodes[c + 1]});
    }
  for (const auto& line : outlineLines_) {
    if (s.sightOf(line.part) == Sight::hidden) continue;
    side(isHidden(line.part) ? faded : outline, line.nodes);
    if (s.undeformed) side(ghost, line.nodes);
  }
  const auto placed = nodes(place_, lift);
  set(edges_, placed, edges), set(outlines_, placed, outline), set(faded_, placed, faded);
  set(ghost_, nodes(mesh.x, lift), ghost);
}

void Scene::fillRigid(const SceneState& s) {
  vtkNew<vtkPoints> points;
  vtkNew<vtkCellArray> lines, faces;
  rigidPaths_.clear();
  for (size_t k = 0; k < header_.rigid.size(); ++k) {
    const auto& body = header_.rigid[k];
    const size_t width = solid() ? 6 : 3;
    Eigen::Vector3d shift = Eigen::Vector3d::Zero(), turn = shift;
    if (s.rigid && s.rigid->size() >= width * (k + 1)) {
      const double* r = s.rigid->data() + width * k;
      for (int i = 0; i < header_.mesh.dim; ++i) shift[i] = r[i];
      if (solid())
        turn = Eigen::Vector3d(r[3], r[4], r[5]);
      else
        turn.z() = r[2];
    }
    const Eigen::Matrix3d R = contact::rotationOf(turn);
    std::vector<Eigen::Vector3d> path;
    for (size_t i = 0; i + 2 < body.points.size(); i += 3)
      path.push_back(body.pivot + shift +
                     R * (Eigen::Vector3d(body.points[i], body.points[i + 1], body.points[i + 2]) - body.pivot));
    rigidPaths_.push_back(path);
    if (solid()) {
      bool hiddenBody = false;
      for (size_t i = 0; i < header_.mesh.parts.size(); ++i)
        hiddenBody |= header_.mesh.parts[i] == body.name && s.sightOf(int(i)) != Sight::shown;
      const vtkIdType base = points->GetNumberOfPoints();
      for (const auto& p : path) points->InsertNextPoint(p.data());
      for (size_t i = 0; !hiddenBody && i + 3 < body.quads.size(); i += 4)
        cell(faces, {base + body.quads[i], base + body.quads[i + 1], base + body.quads[i + 2], base + body.quads[i + 3]});
      continue;
    }
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
        for (vtkIdType i = 0; i + 1 < vtkIdType(path.size()); ++i)
          cell(faces, {previous + i, previous + i + 1, base + i + 1, base + i});
      previous = base;
    }
  }
  rigid_.data->SetPoints(points), rigid_.data->SetLines(lines), rigid_.data->SetPolys(faces), rigid_.data->Modified();
  rigid_.actor->GetProperty()->SetLighting(s.sweep || solid());
  rigid_.actor->GetProperty()->SetOpacity(solid() ? 0.45 : 1);
}

}  // namespace anvil::app
