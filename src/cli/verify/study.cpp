#include "cli/verify/study.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <filesystem>

#include "core/base/error.hpp"
#include "core/job/run_model.hpp"
#include "core/model/json.hpp"
#include "core/model/quantities.hpp"
#include "core/results/fields.hpp"

namespace anvil::cli {

size_t Solved::rowAt(double time) const {
  size_t best = 0;
  for (size_t i = 0; i < reader_.rows().size(); ++i)
    if (std::abs(reader_.rows()[i].time - time) < std::abs(reader_.rows()[best].time - time)) best = i;
  return best;
}

std::pair<double, double> Solved::range(const std::string& field, size_t row) const {
  const auto v = results::pointField(reader_, field, row);
  return {*std::min_element(v.begin(), v.end()), *std::max_element(v.begin(), v.end())};
}

std::vector<std::pair<double, double>> Solved::curve(const std::string& x, const std::string& y, double xScale,
                                                     double yScale) const {
  const auto a = x == "time" ? reader_.times() : reader_.history(x), b = reader_.history(y);
  std::vector<std::pair<double, double>> points{{0, 0}};
  for (size_t i = 0; i < a.size(); ++i) points.emplace_back(xScale * a[i], yScale * b[i]);
  return points;
}

int Solved::iterations() const {
  int n = 0;
  for (const auto& r : reader_.rows()) n += r.iterations;
  return n;
}

model::Document Study::document(const std::string& name) const { return model::load(cases_ + "/" + name + ".anvil"); }

Solved Study::solve(const std::string& name, const std::vector<std::string>& set,
                    const std::function<void(model::Document&)>& change, int threads) {
  auto d = document(name);
  for (const auto& s : set) model::setParameter(d, s);
  if (change) change(d);
  for (auto& [title, step] : d.steps)
    if (usualIncrements_ && step.control == "time") step.increments = {};
  std::filesystem::create_directories(work_);
  const std::string out =
      work_ + "/" + std::filesystem::path(name).filename().string() + "-" + std::to_string(++runs_) + ".results.h5";
  std::string outcome = "finished";
  const auto start = std::chrono::steady_clock::now();
  try {
    job::runModel(d, {out, threads ? threads : threads_, false, {}});
  } catch (const Error& e) {
    if (!e.where().starts_with("step '")) throw;  // a model fault is a fault of the case
    outcome = e.what();
  }
  results::Reader reader(out);
  if (reader.rows().empty()) throw Error("not a single increment could be solved: " + outcome, name, "");
  return {std::move(reader), outcome, std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count()};
}

void Study::row(const std::string& id, const std::string& what, double reference, double computed, double limit,
                const Solved* from) {
  VerifyRow r{id, what, reference, computed, reference != 0 ? std::abs(computed / reference - 1) : std::abs(computed), limit};
  if (!(r.error == r.error)) r.error = 1e300;
  if (from) r.increments = from->increments(), r.iterations = from->iterations(), r.seconds = from->seconds();
  rows_.push_back(r);
}

}  // namespace anvil::cli
