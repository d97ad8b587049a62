// From the document to the problem: slender parts.
#include "core/lower/slender_parts.hpp"
#include "core/geometry/recipes.hpp"
#include "core/geometry/slender.hpp"
#include "core/lower/lowering.hpp"
#include "core/mesh/slender.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"

#include <algorithm>

namespace anvil::analysis {
namespace {

geometry::SlenderShape shapeOf(const Document& d, const model::Part& part, const Quantities& q, const std::string& path) {
  const double factor = fineness(d).first;
  return geometry::slenderShape(d, part, d.space != "solid", {factor, int(48 / factor), 16}, q, path + "/slender");
}

}  // namespace

void addSlender(mesh::Mesh& mesh, int index, const Document& d, const Quantities& q, const std::string& path) {
  const auto& part = d.parts[size_t(index)].second;
  if (!part.shape.empty() || !part.solid.empty() || part.thin)
    throw Error("the part is slender and has " + std::string(part.thin ? "a thickness" : "shapes or a solid"), path + "/slender",
                "Keep one of them; make two parts of it.");
  if (part.extrude || part.revolve || part.coil || part.along)
    throw Error("a slender part is not swept", path, "Draw its lines in space.");
  if (part.element != "auto") throw Error("a slender part has cells of its own", path + "/element", "Take \"element\" out.");
  if (part.around) throw Error("a slender part is not repeated", path + "/around", "Draw its lines all round.");
  if (d.space == "axisymmetric")
    throw Error("axisymmetric models have no slender parts", path + "/slender", "Draw rings, or take another \"space\".");
  mesh::addSlender(mesh, index, shapeOf(d, part, q, path), geometry::placement(part, q, mesh.dim == 3, path), path);
}

void Lowering::slenderBodies() {
  const size_t count = p->mesh.turnNode.size();
  std::vector<double> length(count, 0);  // of the longest line at each turn
  for (const auto& l : p->mesh.lines) {
    double own = 0;
    for (size_t c = 0; c < l.count(); ++c) own += (p->mesh.x[size_t(l.nodes[c + 1])] - p->mesh.x[size_t(l.nodes[c])]).norm();
    for (int t : l.turns) length[size_t(t)] = std::max(length[size_t(t)], own);
  }
  for (size_t t = 0; t < count; ++t) {
    Body body;
    body.pivot = p->mesh.x[size_t(p->mesh.turnNode[t])];
    body.loose.fill(true);
    body.lever = length[t];
    p->bodies.push_back(body);
  }
  for (const auto& s : p->mesh.spots)
    if (auto* body = s.turn >= 0 ? &p->bodies[size_t(p->bodyOfTurn(s.turn))] : nullptr; body && body->name.empty())
      body->name = s.name;
  for (const auto& l : p->mesh.lines)
    for (int t : l.turns)
      if (auto& name = p->bodies[size_t(p->bodyOfTurn(t))].name; name.empty()) name = "a joint of " + l.name;
}

void Lowering::slenderParts() {
  size_t at = 0;
  for (size_t i = 0; i < d.parts.size(); ++i) {
    const auto& [name, part] = d.parts[i];
    if (!part.slender) continue;
    const std::string path = "parts/" + name;
    if (part.rigid) throw Error("the part is rigid and slender", path + "/slender", "Take \"rigid\" out, or draw an outline.");
    if (part.material.empty()) throw Error("the part has no material", path + "/material", "Name one of the materials.");
    const auto& m = found(d.materials, part.material, "material", path + "/material");
    const std::string place = "materials/" + part.material;
    const auto law = material::fibreOf(materialLaw(m, q, place));
    if (!law)
      throw Error("the material '" + part.material + "' is no metal: fibres of slender parts are elastic or yield",
                  path + "/material", "Take an elastic or plastic material, or model the part as a solid.");
    p->partYoung[i] = youngOf(m, q, place);
    auto shape = shapeOf(d, part, q, path);
    const auto placed = geometry::placement(part, q, p->dim() == 3, path);
    for (auto& line : shape.lines) {
      const auto& own = p->mesh.lines[at++];
      for (auto& x : line.places) x = placed(x);
      line.up = own.up;
      Slender s;
      s.part = int(i);
      s.cells = element::makeBeams(line, shape.sections[line.section], *law,
                                   {p->dim() == 2, p->setting.large, line.carries, line.tension});
      for (size_t c = 0; c < own.count(); ++c) {
        std::vector<int> dofs;
        for (const size_t end : {c, c + 1}) {
          for (int k = 0; k < p->dim(); ++k) dofs.push_back(p->dim() * own.nodes[end] + k);
          for (int k = p->dim(); !own.turns.empty() && k < p->rigidSize(); ++k)
            dofs.push_back(own.turns[end]);  // its dof once all bodies, rigid ones too, are known
        }
        s.dofs.push_back(std::move(dofs));
      }
      p->slender.push_back(std::move(s));
    }
  }
}

/// Bodies behind the slender ones move the places of turns, so dofs are written down last.
void Lowering::slenderDofs() {
  for (auto& s : p->slender) {
    const int half = s.cells->dofs() / 2;
    for (auto& dofs : s.dofs)
      for (int end = 0; end < 2; ++end)
        for (int k = p->dim(); k < half; ++k) {
          auto& dof = dofs[size_t(end * half + k)];
          dof = p->rigidDof(p->bodyOfTurn(dof), k);
        }
  }
}

}  // namespace anvil::analysis
