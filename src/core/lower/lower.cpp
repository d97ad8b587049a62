// From the document to the problem: names become numbers.
#include <algorithm>
#include <cmath>
#include <map>

#include "core/geometry/recipes.hpp"
#include "core/geometry/solid.hpp"
#include "core/lower/fitted_bolts.hpp"
#include "core/lower/lowering.hpp"
#include "core/lower/slender_parts.hpp"
#include "core/lower/solid_parts.hpp"
#include "core/lower/thin_parts.hpp"
#include "core/mesh/free.hpp"
#include "core/mesh/part_mesh.hpp"
#include "core/mesh/quality.hpp"
#include "core/mesh/working.hpp"
#include "core/model/actions.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/materials.hpp"
#include "core/model/quantities.hpp"
#include "core/model/storing.hpp"
#include "core/model/timed_course.hpp"

namespace anvil::analysis {
namespace {

element::Setting settingOf(const Document& d, const Quantities& q) {
  element::Setting s;
  s.space = d.space == "plane stress"   ? element::Space::planeStress
            : d.space == "axisymmetric" ? element::Space::axisymmetric
            : d.space == "solid"        ? element::Space::solid
                                        : element::Space::planeStrain;
  s.large = d.geometry == "large";
  s.thickness =
      s.space == element::Space::axisymmetric || s.space == element::Space::solid ? 1 : q(d.thickness, Kind::length, "thickness");
  if (s.thickness <= 0)
    throw Error("the thickness is " + shortNumber(s.thickness) + " mm", "thickness", "Give a value above zero.");
  return s;
}

}  // namespace

std::unique_ptr<Problem> Lowering::run() {
  p->setting = settingOf(d, q);
  p->mesh = buildMesh(d, q, working);
  if (d.steps.empty()) throw Error("the model has no step", "steps", "Add one, for example \"steps\": {\"press\": {}}.");
  blocks();
  steps();
  rigidBodies();
  slenderBodies();
  carriers();
  springs();
  bolts();
  slenderDofs();
  contacts();
  motions();
  loads();
  temperatures();
  stabilisations();
  watchPoints();
  control();
  return std::move(p);
}

void Lowering::blocks() {
  p->partYoung.assign(d.parts.size(), 0);
  double sum = 0;
  for (const auto& cells : p->mesh.blocks) {
    const auto& [name, part] = d.parts[size_t(cells.part)];
    const std::string path = "parts/" + name;
    if (part.material.empty()) throw Error("the part has no material", path + "/material", "Name one of the materials.");
    const auto& m = found(d.materials, part.material, "material", path + "/material");
    const std::string place = "materials/" + part.material;
    try {
      p->blocks.push_back(element::makeBlock(cells, p->mesh.x, p->setting, materialLaw(m, q, place)));
    } catch (const Error& e) {
      throw e.where().empty() ? Error(e.wrong(), path, e.remedy()) : e;
    }
    p->partYoung[size_t(cells.part)] = youngOf(m, q, place);
    sum += p->partYoung[size_t(cells.part)];
  }
  slenderParts();
  if (p->blocks.empty() && p->slender.empty())
    throw Error("the model has no deformable part", "parts", "Add a part with a shape and a material.");
  for (const auto& s : p->slender) sum += p->partYoung[size_t(s.part)];
  p->youngScale = sum / double(p->blocks.size() + p->slender.size());
}

void Lowering::steps() {
  const auto times = model::stepTimes(d, q);
  for (size_t i = 0; i < d.steps.size(); ++i) {
    const auto& [name, s] = d.steps[i];
    const std::string path = "steps/" + name + "/increments";
    StepPlan plan{name,
                  times[i],
                  times[i + 1],
                  q(s.increments.first, Kind::number, path + "/first"),
                  q(s.increments.smallest, Kind::number, path + "/smallest"),
                  q(s.increments.largest, Kind::number, path + "/largest"),
                  s.increments.most};
    const bool alongArc =
        s.control == "arc length";  // there, lengths of the way over that of the whole loading at the stiffness of the start
    if (!(plan.smallest > 0) || plan.first < plan.smallest || plan.largest < plan.smallest ||
        (!alongArc && (plan.largest > 1 || plan.first > 1)))
      throw Error("the increment sizes do not fit together", path,
                  "Keep 0 < smallest <= first <= 1 and smallest <= largest <= 1; they are parts of the step.");
    plan.first = std::min(plan.first, plan.largest);
    plan.arcLength = alongArc;
    if (!s.until.watch.empty() && (!plan.arcLength || i + 1 < d.steps.size()))
      throw Error("only an arc-length step at the end of the history can end by a displacement", "steps/" + name + "/until",
                  "Set \"control\": \"arc length\" on the last step, or take \"until\" out.");
    if (alongArc && !s.increments.at.empty())
      throw Error("results at given times can only be asked for where time leads", path + "/at",
                  "Take them out: an arc-length step follows the structure, at times of its own.");
    for (size_t k = 0; k < s.increments.at.size(); ++k) {
      const std::string here = path + "/at/" + std::to_string(k + 1);
      const double t = q(s.increments.at[k], Kind::time, here), whole = times[i + 1] - times[i];
      if (!(t > 0) || t > whole * (1 + 1e-12))
        throw Error("the time " + shortNumber(t) + " s lies outside the step", here,
                    "Give times after the step's begin, up to its duration, " + shortNumber(whole) + " s.");
      plan.stops.push_back(times[i] + t);
    }
    p->steps.push_back(plan);
  }
}

Vector3d Lowering::pointOf(const model::Point& point, const std::string& path) const {
  const auto v = q.list(point, Kind::length, path);
  if (int(v.size()) != p->dim())
    throw Error(p->dim() == 3 ? "a point needs three coordinates" : "a point needs two coordinates", path,
                p->dim() == 3 ? "Write [x, y, z]." : "Write [x, y].");
  Vector3d x = Vector3d::Zero();
  for (size_t i = 0; i < v.size(); ++i) x[Eigen::Index(i)] = v[i];
  return x;
}

void Lowering::temperatures() {
  for (const auto& [name, t] : d.temperatures) {
    const std::string path = "temperatures/" + name;
    if (t.on.empty()) throw Error("it acts on no part", path + "/on", "Name parts.");
    Temperature plan;
    plan.name = name, plan.expansion.assign(p->blocks.size() + p->slender.size(), 0);
    if (!t.rise.given())
      throw Error("the temperature has no course", path + "/rise", "Give a value in kelvin, or values per step.");
    plan.rise = model::timed(t.rise, Kind::number, d, q, path + "/rise");
    for (const auto& partName : t.on) {
      const auto& part = found(d.parts, partName, "part", path + "/on");
      if (part.rigid) throw Error("the part '" + partName + "' is rigid", path + "/on", "Name a deformable part.");
      const auto& m = found(d.materials, part.material, "material", "parts/" + partName + "/material");
      if (!m.expansion.given())
        throw Error("the material '" + part.material + "' has no thermal expansion", "materials/" + part.material + "/expansion",
                    "Give it, for steel 12e-6.");
      const int index = partIndex(d, partName);
      const double expansion = q(m.expansion, Kind::expansion, "materials/" + part.material + "/expansion");
      for (size_t i = 0; i < p->blocks.size(); ++i)
        if (p->mesh.blocks[i].part == index) plan.expansion[i] = expansion;
      for (size_t i = 0; i < p->slender.size(); ++i)
        if (p->slender[i].part == index) plan.expansion[p->blocks.size() + i] = expansion;
    }
    p->temperatures.push_back(plan);
  }
}

void Lowering::stabilisations() {
  for (const auto& [name, s] : d.stabilisations) {
    const std::string path = "stabilisations/" + name;
    Stabilisation stab;
    stab.name = name;
    stab.active = model::activeDuring(s.during, d, path + "/during");
    stab.viscosity = VectorXd::Zero(p->dofs());
    const double strength = q(s.strength, Kind::number, path + "/strength");
    for (const auto& partName : s.on) {
      found(d.parts, partName, "part", path + "/on");
      const int part = partIndex(d, partName);
      if (const int body = bodyNamed(partName); body >= 0) {
        const double size = p->bodies[size_t(body)].lever,
                     viscosity = strength * 1e-5 * p->youngScale * size * (p->dim() == 3 ? size : p->setting.thickness) / size;
        for (int k = 0; k < p->rigidSize(); ++k)
          stab.viscosity[p->rigidDof(body, k)] += viscosity * (k < p->dim() ? 1 : size * size);
        continue;
      }
      double volume = 0;
      VectorXd lumped = VectorXd::Zero(p->dofs());
      for (const auto& b : p->blocks) {
        if (b->cells().part != part) continue;
        const int n = mesh::info(b->cells().type).nodes;
        std::vector<double> share(static_cast<size_t>(n));
        for (size_t c = 0; c < b->cells().count(); ++c) {
          b->lumpedVolume(c, share.data());
          for (int a = 0; a < n; ++a) {
            const int node = b->cells().cell(c)[a];
            lumped.segment(p->dim() * node, p->dim()).array() += share[size_t(a)];
            volume += share[size_t(a)];
          }
        }
      }
      for (size_t i = 0; i < p->slender.size(); ++i) {
        const auto& cells = *p->slender[i].cells;
        for (size_t c = 0; c < cells.count() && p->slender[i].part == part; ++c) {
          const double half = cells.length(c) * cells.section().area / 2;
          for (const size_t end : {c, c + 1})
            lumped.segment(p->dim() * p->mesh.lines[i].nodes[end], p->dim()).array() += half, volume += half;
        }
      }
      // moving the whole body by its own size in unit time takes 1e-5 E over a section of it
      if (volume > 0) stab.viscosity += lumped * (strength * 1e-5 * p->partYoung[size_t(part)] / std::pow(volume, 2. / 3));
    }
    p->stabilisations.push_back(stab);
  }
}

void Lowering::watchPoints() {
  for (const auto& [name, w] : d.watch) {
    const std::string path = "watch/" + name;
    found(d.parts, w.part, "part", path + "/part");
    const int part = partIndex(d, w.part);
    const Vector3d at = pointOf(w.at, path + "/at");
    WatchPoint point{name, -1};
    double least = 1e300;
    const auto take = [&, own = name](int node, int opposite) {
      const WatchPoint candidate{own, node, opposite};
      if (const double r = (p->placeOf(candidate) - at).norm(); r < least) least = r, point = candidate;
    };
    for (const auto& b : p->mesh.blocks) {
      if (b.part != part) continue;
      for (int n : b.nodes) take(n, -1);
      const int half = mesh::info(b.type).nodes / 2;
      for (size_t c = 0; b.thin() && c < b.count(); ++c)  // in the middle of a sheet
        for (int i = 0; i < half; ++i) take(b.cell(c)[i], b.cell(c)[i + half]);
    }
    for (const auto& l : p->mesh.lines)
      for (size_t i = 0; l.part == part && i < l.nodes.size(); ++i) {
        take(l.nodes[i], -1);
        if (point.node == l.nodes[i] && point.body < 0 && !l.turns.empty()) point.body = p->bodyOfTurn(l.turns[i]);
      }
    if (point.node < 0) throw Error("the part has no nodes to watch", path + "/part", "Name a deformable part.");
    p->watch.push_back(point);
  }
  for (size_t i = 0; i < d.steps.size(); ++i) {  // steps that end at a watched displacement
    const auto& [name, s] = d.steps[i];
    if (s.until.watch.empty()) continue;
    const std::string path = "steps/" + name + "/until";
    found(d.watch, s.until.watch, "watched point", path + "/watch");
    auto& plan = p->steps[i];
    for (size_t k = 0; k < p->watch.size(); ++k)
      if (p->watch[k].name == s.until.watch) plan.untilWatch = int(k);
    if (!isAxis(s.until.along, plan.untilAxis))
      throw Error("the direction '" + s.until.along + "' is not understood", path + "/along",
                  p->dim() == 3 ? "Give x, y or z." : "Give x or y (r or z in axisymmetric models).");
    if (!s.until.passes.given())
      throw Error("the value is missing", path + "/passes", "Give the displacement that ends the step.");
    plan.untilValue = q(s.until.passes, Kind::length, path + "/passes");
  }
}

void Lowering::control() {
  std::vector<double> ends;
  for (const auto& step : p->steps) ends.push_back(step.end);
  const model::Storing storing(d, ends);  // says what of it cannot be
  const auto& s = d.solver;
  auto& c = p->control;
  c = {q(s.forceTolerance, Kind::number, "solver/force tolerance"),
       q(s.correctionTolerance, Kind::number, "solver/correction tolerance"),
       q(s.growth, Kind::number, "solver/growth"),
       q(s.cutback, Kind::number, "solver/cut"),
       q(s.plasticStrainLimit, Kind::number, "solver/plastic strain limit"),
       s.mostIterations,
       s.fewestIterations,
       s.easyIterations,
       s.lineSearch,
       s.predictor};
  if (c.mostIterations < 2 || c.fewestIterations > c.mostIterations)
    throw Error("at most " + std::to_string(c.mostIterations) + " and at least " + std::to_string(c.fewestIterations) +
                    " iterations are allowed",
                "solver/most iterations", "Give 2 or more, and not below \"fewest iterations\"; 16 is usual.");
  if (!(c.forceTolerance > 0 && c.correctionTolerance > 0))
    throw Error("a tolerance is not above zero", "solver", "Give small positive numbers.");
  if (!(c.cutback > 0 && c.cutback < 1) || c.growth < 1)
    throw Error("cut must lie between 0 and 1 and growth be at least 1", "solver", "Take 0.4 and 1.5.");
}

std::pair<double, int> fineness(const Document& d) {
  if (d.fineness == "draft") return {1.6, 7};
  if (d.fineness == "fine") return {0.6, 20};
  return {1., 12};
}

void scale(std::vector<geometry::Block>& blocks, geometry::Sweep& sweep, double factor) {
  if (factor == 1) return;
  const auto fewer = [&](int n) { return n ? std::max(1, int(std::lround(n / factor))) : 0; };
  for (auto& b : blocks) {
    b.size *= factor;
    for (auto& n : b.count) n = fewer(n);
    for (auto& side : b.sides)
      for (auto& curve : side) curve.count = fewer(curve.count);
  }
  sweep.count = fewer(sweep.count);
}

/// A part of shapes: mapped blocks, in space swept.
static void addShapes(mesh::Mesh& mesh, int index, const Document& d, const Quantities& q, const std::string& path) {
  const auto& part = d.parts[size_t(index)].second;
  const bool sweptSheet = part.thin && (part.extrude || part.revolve || part.coil || part.along);
  if (!part.near.empty() && !sweptSheet)
    throw Error("smaller elements round a place are made in solids and in swept sheets only", path + "/near",
                "Give the shape counts and \"grading\", or take \"near\" out.");
  if (!part.faceSizes.empty())
    throw Error("sizes on faces are for parts made of features or a STEP file", path + "/sizes",
                "Give the shape a \"mesh\" of its own, or take \"sizes\" out.");
  if (part.thin) return addThin(mesh, index, d, q, path);
  auto blocks = geometry::blocks(part, q, path);
  auto sweep = geometry::sweep(part, q, path);
  scale(blocks, sweep, fineness(d).first);
  mesh::addPart(mesh, index, part.element, blocks, sweep, geometry::placement(part, q, mesh.dim == 3, path), path);
}

mesh::Mesh buildMesh(const Document& d, const Quantities& q, const mesh::Working& working) {
  mesh::Mesh mesh;
  mesh.parts = d.parts.names();
  mesh.dim = d.space == "solid" ? 3 : 2;
  std::map<std::string, geometry::Solid> solids;  // whose holes bolts go through
  const SolidNamed solidNamed = [&](const std::string& name) -> const geometry::Solid* {
    const auto* part = d.parts.find(name);
    if (!part || part->solid.empty()) return nullptr;
    if (const auto it = solids.find(name); it != solids.end()) return &it->second;
    return &solids.emplace(name, geometry::solid(*part, q, d.home.folder, "parts/" + name)).first->second;
  };
  for (size_t i = 0; i < d.parts.size(); ++i) {
    const auto& [name, part] = d.parts[i];
    if (part.rigid) continue;
    const std::string path = "parts/" + name;
    const size_t firstNode = mesh.x.size();
    if (part.around && d.space == "axisymmetric")
      throw Error("a part of an axisymmetric model is all round already", path + "/around", "Take \"around\" out.");
    if (part.slender)
      addSlender(mesh, int(i), d, q, path);
    else if (!part.solid.empty())
      addSolid(mesh, int(i), d, q, path, working, solidNamed);
    else
      addShapes(mesh, int(i), d, q, path);
    if (part.around)
      mesh::repeatPart(mesh, int(i), firstNode, geometry::around(*part.around, q, mesh.dim == 3, path + "/around"));
  }
  if (d.space == "axisymmetric")
    for (const auto& x : mesh.x)
      if (x.x() < -1e-9)
        throw Error("a part reaches to negative radius", "parts", "In axisymmetric models the first coordinate is the radius.");
  cutBolts(mesh, d, q);
  return mesh;
}

std::unique_ptr<Problem> lower(const Document& document, const mesh::Working& working) {
  return Lowering(document, working).run();
}

}  // namespace anvil::analysis
