#include "core/checks/estimate.hpp"

#include <algorithm>
#include <array>
#include <chrono>
#include <cmath>
#include <map>
#include <set>
#include <thread>

#include "core/base/error.hpp"
#include "core/base/memory.hpp"
#include "core/base/text.hpp"
#include "core/checks/pace.hpp"
#include "core/linear/direct_solver.hpp"
#include "core/linear/reusing_solver.hpp"
#include "core/lower/lower.hpp"
#include "core/model/actions.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"
#include "core/model/storing.hpp"
#include "core/problem/problem.hpp"

namespace anvil::checks {
namespace {

/// Whether a side of a contact is a rigid part, or a face of one.
bool isRigid(const model::Document& d, const std::string& side) {
  const auto* part = d.parts.find(side.substr(0, side.find('.')));
  return part && part->rigid;
}

/// Facets of the deformable sides of a contact; none where the other side is rigid.
std::vector<std::vector<mesh::Facet>> deformableSides(const model::Document& d, const model::Contact& c, const mesh::Mesh& mesh) {
  std::vector<std::vector<mesh::Facet>> sides;
  for (const auto& side : c.between) {
    if (isRigid(d, side)) return {};
    try {
      sides.push_back(analysis::facetsOf({side}, d, mesh, ""));
    } catch (const Error&) {  // readiness tells of it
      return {};
    }
  }
  return sides.size() == 2 ? sides : std::vector<std::vector<mesh::Facet>>();
}

/// Nodes that two bodies' contact brings together: all of the faces round a corner, and of those of the other body that lie no
/// farther from them than they are large.
void couple(const mesh::Mesh& mesh, const std::vector<mesh::Facet>& one, const std::vector<mesh::Facet>& other,
            std::vector<std::vector<int>>& rows) {
  struct Ball {
    Eigen::Vector3d centre;
    double radius;
    std::vector<int> nodes;
  };
  double largest = 0;
  const auto ballsOf = [&](const std::vector<mesh::Facet>& facets) {
    std::vector<Ball> balls;
    for (const auto& f : facets) {
      Ball b{Eigen::Vector3d::Zero(), 0, mesh.nodesOf(f)};
      for (int n : b.nodes) b.centre += mesh.x[size_t(n)] / double(b.nodes.size());
      for (int n : b.nodes) b.radius = std::max(b.radius, (mesh.x[size_t(n)] - b.centre).norm());
      largest = std::max(largest, b.radius);
      balls.push_back(std::move(b));
    }
    return balls;
  };
  const auto ours = ballsOf(one), theirs = ballsOf(other);
  if (ours.empty() || theirs.empty()) return;
  const auto boxOf = [&](const Eigen::Vector3d& x) {
    std::array<long, 3> box{};
    for (size_t k = 0; k < 3; ++k) box[k] = std::lround(std::floor(x[Eigen::Index(k)] / (2 * largest)));
    return box;
  };
  std::map<std::array<long, 3>, std::vector<size_t>> inBox;
  for (size_t i = 0; i < theirs.size(); ++i) inBox[boxOf(theirs[i].centre)].push_back(i);
  std::map<int, std::vector<int>> round;  // corner -> nodes that its condition joins
  for (size_t i = 0; i < ours.size(); ++i) {
    std::vector<int> joined = ours[i].nodes;
    const auto box = boxOf(ours[i].centre);
    for (long a = -1; a <= 1; ++a)
      for (long b = -1; b <= 1; ++b)
        for (long c = -1; c <= 1; ++c)
          if (const auto it = inBox.find({box[0] + a, box[1] + b, box[2] + c}); it != inBox.end())
            for (size_t k : it->second)
              if ((theirs[k].centre - ours[i].centre).norm() < ours[i].radius + theirs[k].radius)
                joined.insert(joined.end(), theirs[k].nodes.begin(), theirs[k].nodes.end());
    if (joined.size() == ours[i].nodes.size()) continue;  // faces nothing at the start
    for (int k = 0; k < mesh.cornersOf(one[i]); ++k) {
      auto& all = round[ours[i].nodes[size_t(k)]];
      all.insert(all.end(), joined.begin(), joined.end());
    }
  }
  for (auto& [corner, all] : round) {
    std::sort(all.begin(), all.end());
    all.erase(std::unique(all.begin(), all.end()), all.end());
    for (int n : all) rows[size_t(n)].insert(rows[size_t(n)].end(), all.begin(), all.end());
  }
}

/// Nodes that share a cell, or a contact.
linear::SparsePattern graphOf(const model::Document& d, const mesh::Mesh& mesh) {
  std::vector<std::vector<int>> rows(mesh.x.size());
  for (const auto& [name, c] : d.contacts)
    if (const auto sides = deformableSides(d, c, mesh); !sides.empty()) couple(mesh, sides[0], sides[1], rows);
  for (const auto& b : mesh.blocks) {
    const int n = mesh::info(b.type).nodes;
    for (size_t c = 0; c < b.count(); ++c)
      for (int i = 0; i < n; ++i) rows[size_t(b.cell(c)[i])].insert(rows[size_t(b.cell(c)[i])].end(), b.cell(c), b.cell(c) + n);
  }
  for (const auto& l : mesh.lines)
    for (size_t c = 0; c < l.count(); ++c)
      for (const size_t end : {c, c + 1})
        rows[size_t(l.nodes[end])].insert(rows[size_t(l.nodes[end])].end(), {l.nodes[c], l.nodes[c + 1]});
  linear::SparsePattern p;
  p.start.push_back(0);
  for (size_t i = 0; i < rows.size(); ++i) {
    auto& r = rows[i];
    r.push_back(int(i));
    std::sort(r.begin(), r.end());
    r.erase(std::unique(r.begin(), r.end()), r.end());
    p.column.insert(p.column.end(), r.begin(), r.end());
    p.start.push_back(int(p.column.size()));
    r = {};
  }
  return p;
}

/// Operations a second that one thread does on dense blocks.
double denseSpeed() {
  constexpr int n = 256;
  const Eigen::MatrixXd a = Eigen::MatrixXd::Constant(n, n, 0.5);
  Eigen::MatrixXd c = a;
  double best = 1e300;
  for (int k = 0; k < 3; ++k) {
    const auto begin = std::chrono::steady_clock::now();
    c.noalias() += a * a;
    best = std::min(best, std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count());
  }
  return c(0, 0) > 0 ? 2. * n * n * n / best : 1e9;
}

constexpr double overlapsPerFacet = 4, rowsPerOverlap = 36;

/// Contact makes the equations unsymmetric, as a pressure that follows does.
bool symmetricRun(const model::Document& d) {
  return d.contacts.empty() && std::none_of(d.loads.begin(), d.loads.end(),
                                            [&](const auto& l) { return l.second.kind == "pressure" && d.geometry == "large"; });
}

struct ContactCost {
  double seconds = 0;  ///< in which one thread of usual speed integrates all contacts once
  double bytes = 0;    ///< of the slopes of all that overlaps
};

/// By facets of the side with fewer, measured per kind of facet.
ContactCost contactCost(const model::Document& d, const mesh::Mesh& mesh) {
  ContactCost sum;
  for (const auto& [name, c] : d.contacts) {
    ContactCost fewest{1e300, 0};
    bool rigid = false;
    for (const auto& side : c.between) {
      if (isRigid(d, side)) {
        rigid = true;
        continue;
      }
      ContactCost own;
      try {
        for (const auto& f : analysis::facetsOf({side}, d, mesh, "")) {
          const bool quadratic = mesh::info(mesh.blocks[size_t(f.block)].type).quadratic;
          own.seconds += mesh.dim == 2 ? 2e-5 : mesh.cornersOf(f) == 4 ? (quadratic ? 6e-3 : 6e-4) : (quadratic ? 2.5e-3 : 3e-4);
          const double dofs = 2. * mesh.dim * double(mesh.nodesOf(f).size());
          own.bytes += overlapsPerFacet * 8 * dofs * (dofs + rowsPerOverlap);
        }
      } catch (const Error&) {  // readiness tells of it
      }
      if (own.seconds < fewest.seconds) fewest = own;
    }
    if (fewest.seconds < 1e300)
      sum.seconds += fewest.seconds / (rigid ? 4 : 1), sum.bytes += fewest.bytes / (rigid ? overlapsPerFacet : 1);
  }
  return sum;
}

std::string duration(double s) {
  if (s < 90) return shortNumber(std::max(s, 0.01), s < 9.5 ? 1 : 2) + " s";
  return s < 5400 ? shortNumber(s / 60, 2) + " min" : shortNumber(s / 3600, 2) + " h";
}

constexpr double programAlone = 50;  // MB
constexpr double statePerPoint = 14, packedShown = 0.9, packedState = 0.25;

/// MB of results. An increment holds single precision for the eye and double precision to go on from; what the elements' state
/// takes was measured, packed.
double storedSize(const model::Document& d, const mesh::Mesh& mesh) {
  const double dofs = double(mesh.x.size()) * mesh.dim, components = mesh.dim == 2 ? 4 : 6;
  double points = 0;
  for (const auto& b : mesh.blocks) points += double(b.count()) * b.points();
  const auto& out = d.results.leaveOut;
  const auto without = [&](const char* f) { return std::find(out.begin(), out.end(), f) != out.end() ? 0. : 1.; };
  const double shown = 4 * (dofs * (1 + without("reaction")) + points * (components * (without("stress") + without("strain")) +
                                                                         without("plastic strain") + without("strain energy")));
  const double state = 8 * (4 * dofs + statePerPoint * points);
  double increments = 0, time = 0;
  std::vector<double> ends;
  for (const auto& [name, s] : d.steps) ends.push_back(time += model::Quantities(d)(s.time, Kind::time, "steps/" + name));
  const model::Storing storing(d, ends);
  for (size_t s = 0; s < ends.size(); ++s) increments += storing.share(int(s), plannedIncrements(d) / double(ends.size()));
  // where not all are stored, the last two lie beside them, unpacked
  const double latest = d.results.increments == "all" ? 0 : 2;
  return 1e-6 * ((packedShown * shown + packedState * state) * increments + (shown + state) * latest);
}

}  // namespace

Estimate costOf(const model::Document& d, const mesh::Mesh& mesh) {
  Estimate e;
  e.nodes = mesh.x.size(), e.unknowns = e.nodes * size_t(mesh.dim), e.steps = int(d.steps.size()), e.symmetric = symmetricRun(d);
  double work = 0, state = 0, maps = 0;  // of the elements: points by their cost; bytes of state; of places in the matrix
  for (const auto& b : mesh.blocks) {
    const auto& type = mesh::info(b.type);
    e.cells += b.count(), work += double(b.count()) * b.points() * std::pow(type.nodes / 8., 1.3);
    state += (b.thin() ? 1900. : 800.) * double(b.count()) * b.points(),
        maps += 4 * double(b.count()) * std::pow(type.nodes * mesh.dim, 2);
  }
  for (const auto& l : mesh.lines) e.cells += l.count(), work += 8. * double(l.count());
  e.unknowns += mesh.turnNode.size() * (mesh.dim == 2 ? 1 : 3);
  if (mesh.x.empty()) return e;
  const auto graph = graphOf(d, mesh);
  const auto cost = linear::factorCost(graph);
  const double dim = mesh.dim, twice = e.symmetric ? 1 : 2;
  const double speed = denseSpeed(), threads = std::max(1u, std::thread::hardware_concurrency());
  const auto contact = contactCost(d, mesh);
  // entries and operations of blocks of dim by dim; the factors with what makes them, of single precision where they are large
  // and unsymmetric; the matrix, the elements' state and the contacts beside them
  const bool single = !e.symmetric && dim * dim * double(graph.column.size()) > linear::entriesForSingle;
  const double factors = 8 * dim * dim * cost.entries *
                         (e.symmetric ? 1.2
                          : single    ? 1.4
                                      : 2.7),
               // columns, values, places for the library, and its own copy of unsymmetric ones
      matrix = (e.symmetric ? 28
                : single    ? 36
                            : 40) *
               dim * dim * double(graph.column.size());
  e.memory = programAlone + 1e-6 * (factors + matrix + state + maps + contact.bytes);
  const double rate = e.symmetric ? 0.45 : 0.3, pace = 4e10 / speed / threads;
  // shares by what was measured of each; together, with what each iteration takes whatever its size, the examples take 1.7 times
  // that
  const double solving =
      twice * cost.operations * dim * dim * dim / (rate * speed) + twice * 12 * cost.entries * dim * dim / (0.2 * speed);
  e.iteration = 1.7 * (solving + (work * 25e-7 + contact.seconds) * pace + 0.02);
  return e;
}

Estimate estimate(const model::Document& d, const mesh::Mesh& mesh) {
  Estimate e = costOf(d, mesh);
  if (e.iteration <= 0 || d.steps.empty()) return e;
  const Pace pace = paceOf(finishedRuns(), digestOf(d), kindOf(d), e.iteration);
  e.stored = storedSize(d, mesh);
  e.iteration *= pace.speed, e.iterations = pace.iterationsEach * plannedIncrements(d), e.known = pace.sameModel;
  return e;
}

std::string inWords(const Estimate& e) {
  const double there = availableMemory();
  std::string words = "about " + sizeInWords(e.memory) + " of memory and " + duration(e.iteration) + " an iteration; " +
                      std::to_string(e.steps) + (e.steps == 1 ? " step" : " steps") + " with about " +
                      shortNumber(e.iterations, 2) + " iterations: about " + duration(e.seconds()) +
                      (e.known ? ", as when this model was last run" : " (half to twice that)");
  if (e.stored > 0) words += "; results of about " + sizeInWords(std::max(e.stored, 0.1));
  if (e.memory > there) words += "; only " + sizeInWords(there) + " are free";
  return words;
}

}  // namespace anvil::checks
