// What is picked in the view: nodes of a result; faces, edges, corners and parts as built; by one click, a box, or a rule.
#include <QComboBox>
#include <QMenu>
#include <cmath>

#include "app/shown_units.hpp"
#include "app/view/feature_tool.hpp"
#include "app/view/line_tool.hpp"
#include "app/view/model_view.hpp"
#include "app/view/outline_tool.hpp"
#include "app/view/overlay.hpp"
#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/lower/lower.hpp"
#include "core/mesh/cut.hpp"
#include "core/mesh/select.hpp"
#include "core/model/document.hpp"
#include "core/model/place_names.hpp"
#include "core/model/quantities.hpp"
#include "core/problem/problem.hpp"

namespace anvil::app {

Picking ModelView::picking() const { return Picking(std::max(0, pick_->currentIndex())); }
void ModelView::setPicking(Picking what) { pick_->setCurrentIndex(int(what)); }

void ModelView::forgetPickables() { faceNames_.clear(), spots_.clear(), meetings_[0].reset(), meetings_[1].reset(); }

void ModelView::nameFaces() const {
  if (!faceNames_.isEmpty()) return;
  for (const auto& f : scene_->header().mesh.faces)
    for (const auto& own : f.facets)
      faceNames_.insert(std::make_tuple(own.block, own.cell, own.side), QString::fromStdString(f.name));
}

void ModelView::preparePicking() {
  nameFaces();
  (void)scene_->facetAlong(Eigen::Vector3d::Zero(), Eigen::Vector3d::UnitX(), {});
}

/// A line of slender cells as the sides that an edge of a shape has.
static std::vector<std::vector<int>> piecesOf(const mesh::Line& line) {
  std::vector<std::vector<int>> pieces;
  for (size_t c = 0; c < line.count(); ++c) pieces.push_back({line.nodes[c], line.nodes[c + 1]});
  return pieces;
}

/// Edges or corners of the shapes, whichever is picked; found when first asked.
const std::vector<mesh::Meeting>& ModelView::meetings() const {
  const bool edges = picking() == Picking::edges;
  auto& list = meetings_[edges ? 0 : 1];
  const auto& mesh = scene_->header().mesh;
  if (list) return *list;
  list = edges ? mesh::edgesOfShapes(mesh) : mesh::cornersOfShapes(mesh);
  for (const auto& l : mesh.lines)  // slender parts are picked as edges, their points as corners
    if (edges) list->push_back({l.name, l.part, piecesOf(l), l.nodes});
  for (const auto& s : mesh.spots)
    if (!edges) list->push_back({s.name, s.part, {}, {s.node}});
  return *list;
}

/// What a name of the document stands for in the picture.
const Spot& ModelView::spotOf(const QString& name) const {
  if (const auto it = spots_.find(name); it != spots_.end()) return *it;
  Spot s;
  const auto& mesh = scene_->header().mesh;
  const auto own = name.toStdString();
  const auto* region = document_.document().regions.find(own);
  for (const auto& l : mesh.lines)
    if (l.name == own || mesh.parts[size_t(l.part)] == own)
      for (auto& piece : piecesOf(l)) s.lines.push_back(std::move(piece));
  if (!s.lines.empty()) return *spots_.insert(name, s);
  if (const auto* point = mesh.spot(own)) {
    s.nodes = {point->node};
  } else if (own.find(model::meets) != std::string::npos) {
    try {
      auto m = analysis::meetingNamed(own, document_.document(), mesh, "");
      s.lines = std::move(m.lines);
      if (s.lines.empty()) s.nodes = std::move(m.nodes);
    } catch (const Error&) {  // readiness tells of it
    }
  } else if (region && std::any_of(region->edges.begin(), region->edges.end(),
                                   [](const auto& e) { return e.find(model::meets) != std::string::npos; })) {
    for (const auto& e : region->edges) {
      const Spot more = spotOf(QString::fromStdString(e));
      s.lines.insert(s.lines.end(), more.lines.begin(), more.lines.end()),
          s.nodes.insert(s.nodes.end(), more.nodes.begin(), more.nodes.end());
    }
  } else {
    try {
      s.facets = analysis::facetsOf({own}, document_.document(), mesh, "");
    } catch (const Error&) {  // a rigid part, a carrier, or a fault that readiness tells of
    }
  }
  return *spots_.insert(name, s);
}

void ModelView::addSpot(SceneState& state, const QString& name) const {
  const auto& s = spotOf(name);
  state.highlight.insert(state.highlight.end(), s.facets.begin(), s.facets.end());
  state.highlightLines.insert(state.highlightLines.end(), s.lines.begin(), s.lines.end());
  state.highlightNodes.insert(state.highlightNodes.end(), s.nodes.begin(), s.nodes.end());
}

/// The first layer of nodes behind a section's face can be picked too.
void ModelView::reachBehindSection(std::vector<char>& used) const {
  const auto& mesh = scene_->header().mesh;
  const auto& section = *state_.section;
  const auto behind = [&](int n) { return (section.keepAbove ? 1 : -1) * (scene_->place(n)[section.axis] - section.at); };
  for (const auto& b : mesh.blocks) {
    if (isHidden(b.part)) continue;
    const int nodes = mesh::info(b.type).nodes;
    for (size_t c = 0; c < b.count(); ++c) {
      const int* cell = b.cell(c);
      if (std::any_of(cell, cell + nodes, [&](int n) { return behind(n) < 0; }))
        for (int i = 0; i < nodes; ++i)
          if (behind(cell[i]) >= 0) used[size_t(cell[i])] = 1;
    }
  }
}

/// Nodes that can be picked: in space those of faces that look at the viewer.
std::vector<int> ModelView::nodesInSight() const {
  const auto& mesh = scene_->header().mesh;
  std::vector<char> used(mesh.x.size(), 0);
  if (scene_->solid()) {
    const auto viewer = canvas_->viewer();
    for (size_t p = 0; p < mesh.parts.size(); ++p) {
      if (isHidden(int(p))) continue;
      for (const auto& f : scene_->boundary(p)) {
        Eigen::Vector3d middle, normal;
        scene_->facetFrame(f, middle, normal);
        if (normal.dot(viewer) < 0) continue;
        for (int n : mesh.nodesOf(f)) used[size_t(n)] = !state_.section || !state_.section->cutsAway(scene_->place(n));
      }
    }
    if (state_.section) reachBehindSection(used);
  } else {
    for (const auto& b : mesh.blocks)
      if (!isHidden(b.part))
        for (int n : b.nodes) used[size_t(n)] = 1;
  }
  for (const auto& l : mesh.lines)
    if (!isHidden(l.part))
      for (int n : l.nodes) used[size_t(n)] = !state_.section || !state_.section->cutsAway(scene_->place(n));
  std::vector<int> nodes;
  for (size_t n = 0; n < used.size(); ++n)
    if (used[n]) nodes.push_back(int(n));
  return nodes;
}

bool ModelView::isBehind(int node) const {
  if (!scene_->solid() || state_.sweep) return false;
  double b[6];
  scene_->bounds(b);
  const double size = Eigen::Vector3d(b[1] - b[0], b[3] - b[2], b[5] - b[4]).norm();
  const auto x = scene_->place(node), out = canvas_->viewer();
  if (state_.section && state_.section->cutsAway(x)) return true;
  return scene_->facetAlong(x + 2e-3 * size * out, x + 2 * size * out, state_.section).has_value();
}

int ModelView::nodeAt(const QPointF& at) const {
  int best = -1;
  double least = 1e300;
  for (int n : nodesInSight()) {
    const auto x = scene_->place(n);
    const QPointF d = canvas_->toScreen(x) - at;
    const double r = std::hypot(d.x(), d.y());
    if (r > 14) continue;
    // a node far behind the picked place is worth less than one a few pixels off
    const double cost = r - (scene_->solid() ? canvas_->nearness(x) / canvas_->pixelLength() : 0);
    if (cost < least) least = cost, best = n;
  }
  return best;
}

QString ModelView::faceAt(const QPointF& at) const {
  const auto& mesh = scene_->header().mesh;
  if (scene_->solid()) {
    double b[6];
    scene_->bounds(b);
    const Eigen::Vector3d middle((b[0] + b[1]) / 2, (b[2] + b[3]) / 2, (b[4] + b[5]) / 2), out = canvas_->viewer();
    const double size = Eigen::Vector3d(b[1] - b[0], b[3] - b[2], b[5] - b[4]).norm();
    const Eigen::Vector3d at3 = canvas_->toSpace(at, middle);
    const auto facet = scene_->facetAlong(at3 + 2 * size * out, at3 - 2 * size * out, state_.section);
    if (!facet) return {};
    Eigen::Vector3d inside, normal;
    scene_->facetFrame(*facet, inside, normal);
    if (normal.dot(out) < 0) return {};  // seen from within: what was clicked is the section's face before it
    nameFaces();
    return faceNames_.value(std::make_tuple(facet->block, facet->cell, facet->side));
  }
  double least = 9;
  QString best;
  const auto offer = [&](int one, int other, const std::string& name) {
    const QPointF pa = canvas_->toScreen(scene_->place(one)), pb = canvas_->toScreen(scene_->place(other)), t = pb - pa,
                  d = at - pa;
    const double L2 = t.x() * t.x() + t.y() * t.y(), s = L2 > 0 ? std::clamp((d.x() * t.x() + d.y() * t.y()) / L2, 0., 1.) : 0;
    const QPointF miss = d - s * t;
    if (const double r = std::hypot(miss.x(), miss.y()); r < least) least = r, best = QString::fromStdString(name);
  };
  for (const auto& l : mesh.lines)
    for (size_t c = 0; c < l.count() && !isHidden(l.part); ++c) offer(l.nodes[c], l.nodes[c + 1], l.name);
  for (const auto& f : mesh.faces) {
    if (isHidden(f.part)) continue;
    for (const auto& facet : f.facets) {
      const auto n = mesh.nodesOf(facet);
      offer(n[0], n[1], f.name);
    }
  }
  return best;
}

/// The edge or corner next to a place of the view, of those that are in sight.
QString ModelView::meetingAt(const QPointF& at) const {
  const auto& mesh = scene_->header().mesh;
  std::vector<char> seen(mesh.x.size(), 0);
  for (int n : nodesInSight()) seen[size_t(n)] = 1;
  double least = 10;
  QString best;
  for (const auto& m : meetings()) {
    if (isHidden(m.part)) continue;
    const auto offer = [&](double r, int node) {
      // of two that are as near on the screen the one in front
      const double cost = r - (scene_->solid() ? 1e-3 * canvas_->nearness(scene_->place(node)) / canvas_->pixelLength() : 0);
      if (r < 10 && cost < least) least = cost, best = QString::fromStdString(m.name);
    };
    for (const auto& line : m.lines) {
      if (!seen[size_t(line[0])] || !seen[size_t(line[1])]) continue;
      const QPointF a = canvas_->toScreen(scene_->place(line[0])), t = canvas_->toScreen(scene_->place(line[1])) - a, d = at - a;
      const double L2 = t.x() * t.x() + t.y() * t.y(), s = L2 > 0 ? std::clamp((d.x() * t.x() + d.y() * t.y()) / L2, 0., 1.) : 0;
      const QPointF miss = d - s * t;
      offer(std::hypot(miss.x(), miss.y()), line[0]);
    }
    if (!m.lines.empty()) continue;
    for (int n : m.nodes)
      if (const QPointF d = canvas_->toScreen(scene_->place(n)) - at; seen[size_t(n)]) offer(std::hypot(d.x(), d.y()), n);
  }
  return best;
}

/// The name of what a click picks.
QString ModelView::thingAt(const QPointF& at) const {
  if (picking() == Picking::corners || (picking() == Picking::edges && scene_->solid())) return meetingAt(at);
  const auto face = faceAt(at);
  return picking() == Picking::parts ? face.section('.', 0, 0) : face;
}

void ModelView::pickByRule(const QString& face, const QString& rule) {
  const auto& mesh = scene_->header().mesh;
  const auto* own = mesh.face(face.toStdString());
  if (!own) return;
  model::Region region;
  std::vector<std::string> found;
  if (rule == "cylinder") found = mesh::facesOnCylinder(mesh, own->facets), region.cylinderOf = {own->name};
  if (rule == "smooth") found = mesh::facesTangentTo(mesh, own->facets), region.tangentTo = {own->name};
  if (rule == "plane") {
    Eigen::Vector3d normal = Eigen::Vector3d::Zero();
    for (const auto& f : own->facets) normal += mesh::areaOf(mesh, f);
    normal.normalize();
    const Eigen::Vector3d at = mesh.x[size_t(mesh.nodesOf(own->facets.front()).front())];
    double size = 0;
    for (const auto& x : mesh.x) size = std::max(size, (x - at).norm());
    const double within = 1e-4 * size;
    for (const auto& f : mesh.faces) {
      const auto nodes = mesh.nodesOf(f.facets);
      if (f.part == own->part &&
          std::all_of(nodes.begin(), nodes.end(), [&](int n) { return std::abs((mesh.x[size_t(n)] - at).dot(normal)) < within; }))
        found.push_back(f.name);
    }
    const auto tidy = [](double v) { return model::Entry(std::round(v * 1e6) / 1e6 + 0.); };
    const model::Quantities q(document_.document());
    const auto unit = conversion(q.unitOf(Kind::length), Kind::length);
    const auto length = [&](double v) { return tidy(unit.fromCore(v)); };
    region.plane = model::PlaneRule{{length(at.x()), length(at.y()), length(at.z())},
                                    {"", {tidy(normal.x()), tidy(normal.y()), tidy(normal.z())}},
                                    length(std::max(within, 1e-3))};
    region.of = {mesh.parts[size_t(own->part)]};
  }
  QStringList names;
  for (const auto& f : found) names << QString::fromStdString(f);
  if (names.isEmpty()) return emit boxRead(rule == "cylinder" ? face + " is no cylinder." : "No such faces.");
  highlightFaces(names);
  rule_ = region;
  emit facesPicked(names);
}

model::Region ModelView::pickedRegion() const {
  if (rule_) return *rule_;
  model::Region r;
  for (const auto& name : picked_) r.edges.push_back(name.toStdString());
  return r;
}

model::Region ModelView::boxRegion() const {
  model::Region r;
  const auto& mesh = scene_->header().mesh;
  Eigen::AlignedBox3d box;
  std::vector<int> parts;
  for (const auto& name : picked_)
    for (const auto& f : spotOf(name).facets) {
      for (int n : mesh.nodesOf(f)) box.extend(mesh.x[size_t(n)]);
      if (const int part = mesh.blocks[size_t(f.block)].part; std::find(parts.begin(), parts.end(), part) == parts.end())
        parts.push_back(part);
    }
  if (box.isEmpty() || !scene_->solid()) return r;
  // a little wider than the faces, in the document's unit and not to more places than one wants to read
  const model::Quantities q(document_.document());
  const auto length = conversion(q.unitOf(Kind::length), Kind::length);
  const double rim = std::max(1e-3, 0.005 * box.diagonal().norm());
  const auto written = [&](const Eigen::Vector3d& x, double sign) {
    model::Point p;
    for (int k = 0; k < 3; ++k) {
      const double step = std::pow(10, std::floor(std::log10(rim)));
      const double v = x[k] + sign * rim;
      p.push_back(length.fromCore((sign > 0 ? std::ceil(v / step) : std::floor(v / step)) * step));
    }
    return p;
  };
  r.box = model::BoxRule{written(box.min(), -1), written(box.max(), 1)};
  for (int part : parts) r.of.push_back(mesh.parts[size_t(part)]);
  return r;
}

void ModelView::showPickMenu(const QPointF& at) {
  if (outline_->showMenu(at)) return;
  if (showsResult_ || !scene_->solid() || state_.sweep || lines_->active()) return;
  const auto face = faceAt(at);
  QMenu menu(this);
  menu.setObjectName("pickMenu");
  if (!face.isEmpty()) {
    menu.addSection(face);
    menu.addAction("All faces of this cylinder", this, [this, face] { pickByRule(face, "cylinder"); });
    menu.addAction("All faces that go on without a corner", this, [this, face] { pickByRule(face, "smooth"); });
    menu.addAction("All faces in this plane", this, [this, face] { pickByRule(face, "plane"); });
  }
  if (!picked_.isEmpty() && picking() == Picking::faces)
    menu.addSeparator(), menu.addAction("Make a thin part of the picked faces", this, &ModelView::thinAsked);
  if (!picked_.isEmpty() && picking() == Picking::edges)
    menu.addSeparator(), menu.addAction("Make a slender part of the picked edges", this, &ModelView::slenderAsked);
  if (!picked_.isEmpty())
    menu.addSeparator(), menu.addAction("Keep what is picked as a region", this, &ModelView::regionAsked),
        menu.addAction("Keep the box round it as a region", this, &ModelView::boxRegionAsked);
  if (!menu.isEmpty()) menu.exec(canvas_->mapToGlobal(at.toPoint()));
}

void ModelView::click(const QPointF& at, bool more) {
  if (const int end = overlay_->legendEnd(at)) return goToExtreme(end > 0);
  if (lines_->active()) return lines_->click(at);
  if (outline_->click(at) || features_->click(at)) return;
  boxed_.clear();
  if (showsResult_) {
    if (const int n = nodeAt(at); n >= 0) togglePin(n);
    overlay_->update();
    return;
  }
  if (state_.sweep) return;
  const auto name = thingAt(at);
  auto names = more ? picked_ : QStringList();
  if (names.contains(name))
    names.removeAll(name);
  else if (!name.isEmpty())
    names << name;
  highlightFaces(names);
  emit facesPicked(names);
  outline_->setEdge(names.size() == 1 ? names.front() : QString());
}

/// A box takes the nodes inside while a result is on show, else the named faces that lie wholly inside.
void ModelView::drawBox(const QRectF& box, bool done) {
  box_ = done ? QRectF() : box;
  overlay_->update();
  if (!done || state_.sweep) return;
  const auto inside = [&](int n) { return box.contains(canvas_->toScreen(scene_->place(n))); };
  if (!showsResult_) {
    QStringList names;
    const auto& mesh = scene_->header().mesh;
    const auto take = [&](const std::string& name, int part, const std::vector<int>& nodes) {
      if (!nodes.empty() && !isHidden(part) && std::all_of(nodes.begin(), nodes.end(), inside))
        names << QString::fromStdString(name);
    };
    if (picking() == Picking::faces)
      for (const auto& f : mesh.faces) take(f.name, f.part, mesh.nodesOf(f.facets));
    else if (picking() == Picking::parts)
      for (size_t p = 0; p < mesh.parts.size(); ++p) take(mesh.parts[p], int(p), mesh.nodesOf(scene_->boundary(p)));
    else
      for (const auto& m : meetings()) take(m.name, m.part, m.nodes);
    highlightFaces(names);
    emit facesPicked(names);
    return;
  }
  boxed_.clear();
  std::vector<double> values;
  for (int n : nodesInSight())
    if (inside(n) && size_t(n) < results_.values().size()) boxed_.push_back(n), values.push_back(results_.values()[size_t(n)]);
  const auto s = results::statistics(values, {});
  const auto number = [&](double v) { return units().number(v, results_.kind()); };
  emit boxRead(boxed_.empty() ? QString("No nodes in the box.")
                              : QString("%1 nodes: %2 from %3 to %4, mean %5 %6")
                                    .arg(s.count)
                                    .arg(results_.moment().field, number(s.least), number(s.greatest), number(s.mean),
                                         units().unit(results_.kind())));
}

}  // namespace anvil::app
