#include "core/checks/mesh_findings.hpp"

#include <map>

#include "core/base/text.hpp"
#include "core/geometry/recipes.hpp"
#include "core/mesh/quality.hpp"
#include "core/model/document.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"

namespace anvil::checks {
namespace {

using analysis::Problem;

void meshFacts(const Problem& p, Report& r) {
  size_t cells = 0;
  for (const auto& b : p.mesh.blocks) cells += b.count();
  for (const auto& l : p.mesh.lines) cells += l.count();
  r.facts.push_back(std::to_string(p.mesh.x.size()) + " nodes, " + std::to_string(cells) + " elements, " +
                    std::to_string(p.dofs()) + " unknowns");
  for (const auto& b : p.mesh.blocks) {
    const auto q = mesh::quality(p.mesh, b);
    const std::string name = p.mesh.parts[size_t(b.part)];
    r.facts.push_back(
        "part '" + name + "': " + std::to_string(b.count()) + (b.thin() ? " thin " : " ") + mesh::info(b.type).name + ", edges " +
        shortNumber(q.shortestEdge, 3) + " to " + shortNumber(q.longestEdge, 3) + " mm, scaled Jacobian from " +
        shortNumber(q.leastScaledJacobian, 3) + ", aspect ratio up to " + shortNumber(q.greatestAspect, 3) +
        (q.greatestWarp > 0.1 ? ", warped by up to " + shortNumber(q.greatestWarp, 2) + " degrees" : std::string()));
    const bool free = b.type == mesh::Cell::tet10 || (b.thin() && b.type == mesh::Cell::wedge6);  // some slivers are usual
    if (q.leastScaledJacobian < (free ? mesh::sliverLimit(b) : 0.2)) {
      const auto nodes = b.cell(size_t(q.worstCell));
      r.findings.push_back({false, "parts/" + name + "/mesh",
                            "Elements are strongly skewed (scaled Jacobian " + shortNumber(q.leastScaledJacobian, 2) + ") in " +
                                p.whereIs(nodes[0]) + ": stress there is not to be trusted.",
                            b.thin() ? "Divide the sheet otherwise there."
                            : free   ? "Give the faces there a smaller element size, or take the thin wedge out of the shape."
                                     : "Regroup the sides or split the part into blocks."});
    }
    // a graded mesh has long elements where little happens: what counts is how long they usually are
    if (q.usualAspect > 20 || q.greatestAspect > 300)
      r.findings.push_back({false, "parts/" + name + "/mesh",
                            (q.usualAspect > 20 ? "Half of the elements are over " + shortNumber(q.usualAspect, 2)
                                                : "Elements are up to " + shortNumber(q.greatestAspect, 2)) +
                                " times as long as wide.",
                            "Use more elements along the long direction."});
  }
}

/// What the free mesher gave up.
void meshNotes(const Problem& p, Report& r) {
  for (const auto& note : p.mesh.notes)
    if (!note.doubt)
      r.facts.push_back("part '" + p.mesh.parts[size_t(note.part)] + "': " + note.words);
    else
      r.findings.push_back({false, "parts/" + p.mesh.parts[size_t(note.part)] + "/mesh", "Of this part: " + note.words + ".",
                            "Look at the mesh; mend the shape where it was drawn if a face matters there."});
}

/// Parts whose blocks do not all hang together: most often corners that were meant to coincide.
void looseBlocks(const Problem& p, const model::Document& d, Report& r) {
  const model::Quantities q(d);
  for (size_t part = 0; part < p.mesh.parts.size(); ++part) {
    const auto& [name, own] = d.parts[part];
    if (own.rigid) continue;
    const size_t pieces = p.mesh.bodies(int(part)).size(),
                 meant = own.around ? geometry::around(*own.around, q, p.dim() == 3, "parts/" + name + "/around").size() : 1;
    if (pieces > meant)
      r.findings.push_back({false, "parts/" + name + "/shape",
                            "The part is in " + std::to_string(pieces / meant) + " pieces that do not hang together.",
                            "Let blocks share corner points and have as many elements along their common edges."});
  }
}

/// A single row or column of elements with reduced integration can take shapes that cost them no energy.
void singleColumns(const Problem& p, Report& r) {
  for (size_t part = 0; part < p.mesh.parts.size(); ++part) {
    std::map<std::pair<int, int>, int> free;  // sides of the boundary per cell
    for (const auto& f : p.mesh.boundary(int(part))) ++free[{f.block, f.cell}];
    for (size_t b = 0; b < p.mesh.blocks.size(); ++b) {
      const auto& block = p.mesh.blocks[b];
      if (block.part != int(part) || block.type != mesh::Cell::hex20) continue;
      bool column = true;
      for (size_t c = 0; c < block.count() && column; ++c) column = free[{int(b), int(c)}] >= 4;
      if (column)
        r.findings.push_back({false, "parts/" + p.mesh.parts[part] + "/mesh",
                              "The part is a single column of hex20, whose reduced integration lets it bulge without force.",
                              "Take two elements across one direction, or hex8 or tet10."});
    }
  }
}

}  // namespace

void meshFindings(const Problem& problem, const model::Document& document, Report& report) {
  meshFacts(problem, report), meshNotes(problem, report);
  looseBlocks(problem, document, report), singleColumns(problem, report);
}

}  // namespace anvil::checks
