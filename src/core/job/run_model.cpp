#include "core/job/run_model.hpp"
#include "core/model/document.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"

#include <chrono>
#include <cstdlib>
#include <filesystem>
#include <functional>
#include <thread>
#include <type_traits>

#include "core/base/disk_room.hpp"
#include "core/base/error.hpp"
#include "core/base/memory.hpp"
#include "core/base/parallel.hpp"
#include "core/base/stopwatch.hpp"
#include "core/checks/estimate.hpp"
#include "core/checks/pace.hpp"
#include "core/contact/rigid_facets.hpp"
#include "core/geometry/rigid_solid.hpp"
#include "core/job/continuation.hpp"
#include "core/job/patience.hpp"
#include "core/lower/lower.hpp"
#include "core/model/json.hpp"
#include "core/model/quantities.hpp"
#include "core/model/storing.hpp"

namespace anvil::job {
namespace {

/// The single numbers of a restart and their names.
template <class Restart>
using Scalars = std::vector<
    std::pair<const char*, std::reference_wrapper<std::conditional_t<std::is_const_v<Restart>, const double, double>>>>;
template <class Restart>
Scalars<Restart> scalarsOf(Restart& r) {
  return {{"time", r.time},   {"next size", r.nextSize}, {"average force", r.averageForce}, {"last size", r.lastSize},
          {"share", r.share}, {"arc unit", r.arcUnit},   {"arc travelled", r.arcTravelled}};
}
template <class Restart>
Scalars<Restart> habitsOf(Restart& r) {
  return {{"failed size", r.habits.failedSize},   {"most size", r.habits.mostSize},
          {"plain first", r.habits.plainFirst},   {"calm", r.habits.calm},
          {"plastic rate", r.habits.plasticRate}, {"fine factors", r.habits.fineFactors},
          {"soft helped", r.habits.softHelped}};
}

/// Name of a pair among the vectors of a restart.
std::string pairKey(const analysis::Problem& p, size_t pair) {
  const auto& name = p.pairs[pair].setup().name;
  int same = 1;
  for (size_t k = 0; k < pair; ++k) same += p.pairs[k].setup().name == name;
  return "contact " + name + (same > 1 ? " (" + std::to_string(same) + ")" : "");
}

results::Row rowOf(const analysis::Problem& p, const analysis::Increment& inc) {
  results::Row row;
  row.step = inc.step, row.index = inc.index, row.iterations = inc.iterations, row.cutbacks = inc.cutbacks, row.time = inc.time,
  row.size = inc.size;
  const auto n = Eigen::Index(p.nodeDofs());
  row.displacement.assign(inc.displacement.begin(), inc.displacement.begin() + n);
  row.reaction.assign(inc.reaction.begin(), inc.reaction.begin() + n);
  const auto turns = Eigen::Index(p.layout().firstTurn());
  row.rigid.assign(inc.displacement.begin() + n, inc.displacement.begin() + n + p.rigidSize() * int(p.rigid.size()));
  row.turn.assign(inc.displacement.begin() + turns, inc.displacement.begin() + p.bodyEnd());
  for (const auto& cell : inc.slender)
    for (const auto& e : cell)  // as results::SlenderColumn has them
      for (double v : {e.normal, e.shearUp, e.shearAcross, e.torque, e.momentUp, e.momentAcross, e.stretch, e.twist, e.curveUp,
                       e.curveAcross, e.greatest, e.least, e.plastic, e.yielded})
        row.slender.push_back(float(v));
  const size_t components = p.dim() == 2 ? 4 : 6;
  row.stress.reserve(components * inc.points.size()), row.strain.reserve(components * inc.points.size());
  row.plastic.reserve(inc.points.size()), row.energyDensity.reserve(inc.points.size());
  for (const auto& q : inc.points) {
    for (int k = 0; k < int(components); ++k) {
      const double root = k >= 3 ? material::root2 : 1;
      row.stress.push_back(float(q.stress[k] / root)), row.strain.push_back(float(q.strain[k] / root));
    }
    row.plastic.push_back(float(q.equivalentPlastic)), row.energyDensity.push_back(float(q.strainEnergy));
  }
  for (const auto& c : inc.contacts) {
    std::vector<float> v;
    for (const auto* side : {&c.own, &c.opposite})
      for (const auto& n : *side)
        for (double x :
             {n.pressure, p.dim() == 2 ? n.friction.x() : n.friction.norm(), double(int(n.status)), n.gap, n.slip, n.area})
          v.push_back(float(x));
    row.contacts.push_back(v);
  }
  row.histories = inc.histories, row.residuals = inc.residuals;
  const auto& r = inc.restart;
  const auto plain = [](const analysis::VectorXd& v) { return std::vector<double>(v.begin(), v.end()); };
  row.restart["step"] = {double(r.step)}, row.restart["increment"] = {double(r.increment)};
  for (const auto& [name, value] : scalarsOf(r)) row.restart[name] = {value};
  for (const auto& [name, value] : habitsOf(r)) row.restart[name] = {value};
  row.restart["displacement"] = plain(r.displacement), row.restart["step start"] = plain(r.stepStart);
  row.restart["released"] = plain(r.released), row.restart["travelled"] = plain(r.travelled);
  row.restart["energies"] = r.energies;
  for (size_t b = 0; b < r.blockStates.size(); ++b) row.restart["block " + std::to_string(b)] = r.blockStates[b];
  for (size_t k = 0; k < r.pairStates.size(); ++k) row.restart[pairKey(p, k)] = r.pairStates[k];
  return row;
}

analysis::Restart restartOf(const analysis::Problem& p, const results::NamedVectors& v) {
  const auto named = [&](const std::string& name) -> const std::vector<double>& {
    if (const auto at = v.find(name); at != v.end()) return at->second;
    throw Error("the stored run has other parts or contacts than this model: it has no '" + name + "'", "continue",
                "Run from the start.");
  };
  analysis::Restart r;
  r.step = int(named("step").at(0)), r.increment = int(named("increment").at(0));
  for (auto& [name, value] : scalarsOf(r)) value.get() = named(name).at(0);
  for (auto& [name, value] : habitsOf(r))
    if (v.contains(name)) value.get() = named(name).at(0);  // older files have none
  const auto vector = [](const std::vector<double>& x) {
    return analysis::VectorXd(Eigen::Map<const analysis::VectorXd>(x.data(), Eigen::Index(x.size())));
  };
  r.displacement = vector(named("displacement")), r.stepStart = vector(named("step start"));
  r.released = vector(named("released")), r.travelled = vector(named("travelled")), r.energies = named("energies");
  const size_t states = p.blocks.size() + p.slender.size();
  for (size_t b = 0; b < states; ++b) r.blockStates.push_back(named("block " + std::to_string(b)));
  for (size_t k = 0; k < p.pairs.size(); ++k) r.pairStates.push_back(named(pairKey(p, k)));
  if (v.contains("block " + std::to_string(states)))
    throw Error("the stored run has more parts than this model", "continue", "Run from the start.");
  return r;
}

class Recorder : public analysis::Observer {
 public:
  Recorder(const analysis::Problem& p, results::Writer& writer, model::Storing storing, analysis::Observer* watch,
           Patience& patience)
      : p_(p), writer_(writer), storing_(std::move(storing)), watch_(watch), patience_(patience) {}
  void iterated(const analysis::IterationReport& r) override {
    ++iterations_;
    if (watch_) watch_->iterated(r);
  }
  void converged(const analysis::Increment& inc) override {
    ++increments_;
    {
      const Stopwatch watch{spent_};
      const auto turn = patience_.writing();
      auto row = rowOf(p_, inc);
      row.keep = storing_.of(inc.step, inc.index, inc.time) ? results::Keep::forGood : results::Keep::asLatest;
      writer_.append(row);
    }
    if (watch_) watch_->converged(inc);
  }
  void cutBack(const analysis::IterationReport& r, const std::string& why, double size) override {
    if (watch_) watch_->cutBack(r, why, size);
  }
  void warned(const std::string& text) override {
    if (watch_) watch_->warned(text);
  }
  bool stop() override { return watch_ && watch_->stop(); }
  int increments() const { return increments_; }
  int iterations() const { return iterations_; }
  double spent() const { return spent_; }  ///< on storing, s

 private:
  double spent_ = 0;
  int increments_ = 0, iterations_ = 0;
  const analysis::Problem& p_;
  results::Writer& writer_;
  model::Storing storing_;
  analysis::Observer* watch_;
  Patience& patience_;
};

}  // namespace

static std::vector<double> stepEnds(const analysis::Problem& p) {
  std::vector<double> ends;
  for (const auto& s : p.steps) ends.push_back(s.end);
  return ends;
}

/// A rigid body's surface for display.
static results::RigidShape shapeOf(const contact::RigidBody& body, int dim) {
  results::RigidShape shape{body.name, body.pivot, {}, body.closed, {}};
  const auto facets = contact::facetsOf(body, dim);
  for (const auto& x : facets.points) shape.points.insert(shape.points.end(), x.data(), x.data() + 3);
  for (const auto& q : facets.quads) shape.quads.insert(shape.quads.end(), q.begin(), q.end());
  return shape;
}

results::Header outsidesOf(const model::Document& document) {
  results::Header h;
  h.space = document.space, h.mesh.dim = 3, h.mesh.parts = document.parts.names();
  const model::Quantities q(document);
  for (const auto& [name, part] : document.parts) {
    if (part.solid.empty()) continue;
    try {
      const auto solid = geometry::rigidSolid(part, q, document.home.folder, "parts/" + name);
      contact::RigidBody body;
      body.name = name, body.facets = solid.facets, body.curves = solid.curves, body.place = solid.place;
      body.sweep = solid.sweep;
      const auto places = part.around ? geometry::around(*part.around, q, true, "parts/" + name + "/around")
                                      : std::vector<geometry::Placement>(1);
      for (const auto& place : places) {
        body.place = {place.turn * solid.place.turn, place(solid.place.shift)};
        h.rigid.push_back(shapeOf(body, 3));
      }
    } catch (const Error&) {
    }
  }
  return h;
}

results::Header headerOf(const analysis::Problem& p, const model::Document& document) {
  results::Header h;
  h.model = model::print(document), h.space = document.space, h.mesh = p.mesh;
  for (const auto& history : analysis::histories(p))
    h.historyNames.push_back(history.name()), h.historyUnits.push_back(coreUnit(history.kind));
  for (const auto& s : p.steps) h.steps.push_back(s.name);
  h.stepEnds = stepEnds(p), h.thinned = document.results.increments != "all", h.leftOut = document.results.leaveOut;
  for (const auto& pair : p.pairs) {
    const auto &own = pair.setup().slave, &opposite = pair.setup().master;
    results::ContactSurface c{pair.setup().name, own.corners, own.corners.size(), {}};
    c.nodes.insert(c.nodes.end(), opposite.corners.begin(), opposite.corners.end());
    if (p.dim() == 2)
      for (const auto* surface : {&own, &opposite})
        for (const auto& s : surface->sides) c.segments.insert(c.segments.end(), {s.node[0], s.node[1]});
    h.contacts.push_back(c);
  }
  for (const auto& body : p.rigid) h.rigid.push_back(shapeOf(body, p.dim()));
  const model::Quantities q(document);
  for (const auto& [name, m] : document.materials)
    if (m.plastic) {
      const double y = analysis::plasticLaw(m, q, "materials/" + name).yieldAt(0);
      h.yieldStress = h.yieldStress > 0 ? std::min(h.yieldStress, y) : y;
    }
  return h;
}

analysis::Outcome runModel(const model::Document& document, const RunOptions& options, analysis::Observer* watch,
                           analysis::Timing* timing) {
  const ThreadLimit limit(options.threads > 0 ? options.threads : int(std::thread::hardware_concurrency()));
  const MemoryLimit room(options.memory > 0 ? options.memory : 1e300);
  const auto beside = std::filesystem::absolute(options.out).parent_path();
  const DiskPlace disk(std::getenv("TMPDIR") ? std::filesystem::path() : beside);
  Patience patience(options);
  results::refuseIfWritten(options.out);  // said before the work of meshing
  auto problem = analysis::lower(document, options.meshing);
  const auto header = headerOf(*problem, document);
  std::optional<analysis::Restart> from;
  std::unique_ptr<results::Writer> writer;
  // a run that was killed before its first increment goes on from the start
  const bool begun = options.resumeFrom || (options.resume && !results::Reader(options.out).rows().empty());
  if (begun) {
    size_t row;
    {
      const results::Reader earlier(options.out);
      if (earlier.rows().empty()) throw Error("no increment is stored there to go on from", options.out, "Run from the start.");
      row = options.resumeFrom ? *options.resumeFrom : earlier.rows().size();
      if (row < 1 || row > earlier.rows().size())
        throw Error("there is no increment " + std::to_string(row), options.out,
                    "It holds increments 1 to " + std::to_string(earlier.rows().size()) + ".");
      checkContinuation(earlier, row - 1, document, header);
      from = restartOf(*problem, earlier.restart(row - 1));
      analysis::requireFit(*problem, *from);
      if (from->time >= problem->steps.back().end * (1 - 1e-12) && earlier.header().model != header.model)
        throw Error("the stored run is finished, but not with the model as it is now: there is nothing left to go on with",
                    options.out,
                    "To solve a changed step anew, go on from an increment before it (--continue-from N); to go on, add a step "
                    "to the model; or run from the start.");
    }
    writer = std::make_unique<results::Writer>(options.out, row, header);
  } else {
    writer = std::make_unique<results::Writer>(options.out, header);
  }
  patience.setWriter(writer.get());
  Recorder recorder(*problem, *writer, model::Storing(document, stepEnds(*problem), from ? from->time : -1), watch, patience);
  const auto began = std::chrono::steady_clock::now();
  try {
    const auto outcome = analysis::run(*problem, recorder, from ? &*from : nullptr, timing);
    if (timing) timing->storing = recorder.spent();
    patience.setWriter(nullptr);
    writer->finish(outcome == analysis::Outcome::finished ? "finished" : "stopped");
    if (outcome == analysis::Outcome::finished && !begun && options.remember) {
      checks::FinishedRun done{checks::digestOf(document), checks::kindOf(document), checks::plannedIncrements(document),
                               recorder.increments(), recorder.iterations()};
      done.seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - began).count();
      done.saidIteration = checks::costOf(document, problem->mesh).iteration;
      checks::remember(done);
    }
    return outcome;
  } catch (const std::exception&) {
    patience.setWriter(nullptr);
    writer->finish("failed");
    throw;
  }
}

}  // namespace anvil::job
