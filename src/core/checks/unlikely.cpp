#include "core/checks/unlikely.hpp"

#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/memory.hpp"
#include "core/base/text.hpp"
#include "core/checks/estimate.hpp"
#include "core/model/carriers.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"
#include "core/model/regions.hpp"
#include "core/model/timed_course.hpp"
#include "core/problem/problem.hpp"

namespace anvil::checks {
namespace {

Eigen::AlignedBox3d boxOf(const mesh::Mesh& mesh) {
  Eigen::AlignedBox3d box;
  for (const auto& x : mesh.x) box.extend(x);
  return box;
}

void memory(const analysis::Problem& p, const model::Document& d, Report& r) {
  const double there = availableMemory();
  const double most = 1e-3 * std::pow(double(p.mesh.x.size() * size_t(p.mesh.dim)), 4 / 3.);  // MB, of nested dissection in space
  if (most < there) return;  // to reckon it more closely takes a while
  const double need = costOf(d, p.mesh).memory;
  if (need > there)
    r.findings.push_back({false, "parts",
                          "A run needs about " + sizeInWords(need) + " of memory, and " + sizeInWords(there) +
                              " are free. Factors of the equations that do not fit lie on disk, and iterations take longer.",
                          "Take coarser or linear elements, or a symmetry plane; or run it on a larger machine."});
}

void watched(const analysis::Problem& p, const model::Document& d, Report& r) {
  const model::Quantities q(d);
  const double size = p.mesh.x.empty() ? 0 : boxOf(p.mesh).diagonal().norm();
  for (const auto& w : p.watch) {
    const auto* point = d.watch.find(w.name);
    if (!point) continue;
    const auto at = q.list(point->at, Kind::length, "watch/" + w.name + "/at");
    Eigen::Vector3d asked = Eigen::Vector3d::Zero();
    for (size_t k = 0; k < std::min<size_t>(3, at.size()); ++k) asked[Eigen::Index(k)] = at[k];
    if (const double off = (p.placeOf(w) - asked).norm(); off > 0.2 * size)
      r.findings.push_back({false, "watch/" + w.name + "/at", "The nearest node is " + shortNumber(off, 3) + " mm away.",
                            "Give a point of the part, and check its unit."});
  }
}

void names(const model::Document& d, Report& r) {
  for (const auto& [name, region] : d.regions)
    if (d.parts.find(name) || d.carriers.find(name))
      r.findings.push_back({false, "regions/" + name,
                            std::string("A ") + (d.parts.find(name) ? "part" : "carrier") + " has the same name; where '" + name +
                                "' stands, the region is meant.",
                            "Give one of them another name."});
}

void interference(const analysis::Problem& p, const model::Document& d, Report& r) {
  std::vector<Eigen::AlignedBox3d> boxes(p.mesh.parts.size());
  for (const auto& b : p.mesh.blocks)
    for (int n : b.nodes) boxes[size_t(b.part)].extend(p.mesh.x[size_t(n)]);
  double least = 1e300;
  for (const auto& box : boxes)
    if (!box.isEmpty()) least = std::min(least, box.diagonal().norm());
  const model::Quantities q(d);
  for (const auto& [name, c] : d.contacts) {
    if (!c.interference.given()) continue;
    const std::string path = "contacts/" + name + "/interference";
    double most = 0;
    for (double y : model::timed(c.interference, Kind::length, d, q, path).curve.y) most = std::max(most, std::abs(y));
    if (most > 0.2 * least)
      r.findings.push_back(
          {false, path,
           "It is " + shortNumber(most, 3) + " mm, of parts of which the smallest measures " + shortNumber(least, 3) + " mm.",
           "Check its unit; press fits are thousandths of the diameter."});
  }
}

/// A motion goes before a support that holds the same direction of the same node.
void overridden(const analysis::Problem& p, Report& r) {
  for (const auto& support : p.motions) {
    if (!support.support || support.nodes.empty()) continue;
    std::map<int, size_t> held;
    for (size_t k = 0; k < support.nodes.size(); ++k) held[support.nodes[k]] = k;
    for (const auto& motion : p.motions) {
      if (motion.support || motion.turn || motion.nodes.empty()) continue;
      bool together = false;
      for (size_t s = 0; s < std::min(support.course.active.size(), motion.course.active.size()); ++s)
        together = together || (support.course.active[s] && motion.course.active[s]);
      if (!together) continue;
      size_t shared = 0;
      for (size_t i = 0; i < motion.nodes.size(); ++i) {
        const auto at = held.find(motion.nodes[i]);
        if (at == held.end() || i >= motion.direction.size() || at->second >= support.direction.size()) continue;
        if (std::abs(support.direction[at->second].dot(motion.direction[i])) > 0.999) ++shared;
      }
      if (shared == motion.nodes.size())
        r.findings.push_back(
            {false, "motions/" + motion.name,
             "All that it moves is held in the same direction by the support '" + support.name + "'; the motion goes before it.",
             "Take one of them out, or let them act in different steps."});
    }
  }
}

}  // namespace

void unlikely(const analysis::Problem& problem, const model::Document& document, Report& report) {
  memory(problem, document, report);
  watched(problem, document, report);
  names(document, report);
  interference(problem, document, report);
  overridden(problem, report);
}

}  // namespace anvil::checks
