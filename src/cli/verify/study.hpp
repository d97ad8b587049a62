// What a verification case needs: run a model file with other parameters, read values back, report rows.
#pragma once
#include <functional>
#include <string>
#include <vector>

#include "cli/verify/plot.hpp"
#include "core/model/forward.hpp"
#include "core/results/store.hpp"

namespace anvil::cli {

struct VerifyRow {
  std::string id, what;
  double reference = 0, computed = 0, error = 0, limit = 0;  ///< error and limit relative, or absolute when reference is 0
  int increments = 0, iterations = 0;
  double seconds = 0;
  bool passed() const { return error <= limit; }
};

/// A solved model.
class Solved {
 public:
  Solved(results::Reader reader, std::string outcome, double seconds)
      : reader_(std::move(reader)), outcome_(std::move(outcome)), seconds_(seconds) {}
  const results::Reader& reader() const { return reader_; }
  const std::string& outcome() const { return outcome_; }  ///< "finished", or why the run ended
  size_t last() const { return reader_.rows().size() - 1; }
  size_t rowAt(double time) const;
  /// One history against another.
  std::vector<std::pair<double, double>> curve(const std::string& x, const std::string& y, double xScale = 1,
                                               double yScale = 1) const;
  double history(const std::string& name, size_t row) const { return reader_.history(name).at(row); }
  /// Largest and smallest of a point field.
  std::pair<double, double> range(const std::string& field, size_t row) const;
  int increments() const { return int(reader_.rows().size()); }
  int iterations() const;
  double seconds() const { return seconds_; }

 private:
  results::Reader reader_;
  std::string outcome_;
  double seconds_;
};

class Study {
 public:
  /// `usualIncrements`: steps led by time take the increments a new model has, whatever the case files say. `threads`: of runs
  /// that do not ask for a number themselves; 0: all.
  Study(std::string cases, std::string work, bool usualIncrements = false, int threads = 0)
      : cases_(std::move(cases)), work_(std::move(work)), usualIncrements_(usualIncrements), threads_(threads) {}

  /// Runs verification/NAME.anvil. `change` may edit the document first. A run that ends early is no error here.
  Solved solve(const std::string& name, const std::vector<std::string>& set = {},
               const std::function<void(model::Document&)>& change = {}, int threads = 0);
  model::Document document(const std::string& name) const;

  /// Adds a row compared with a reference (relative; absolute when the reference is 0).
  void row(const std::string& id, const std::string& what, double reference, double computed, double limit,
           const Solved* from = nullptr);

  /// Adds a row as it is.
  void add(VerifyRow row) { rows_.push_back(std::move(row)); }
  /// Adds a plot to the report.
  void plot(VerifyPlot plot) { plots_.push_back(std::move(plot)); }
  const std::vector<VerifyPlot>& plots() const { return plots_; }

  const std::vector<VerifyRow>& rows() const { return rows_; }

 private:
  std::string cases_, work_;
  bool usualIncrements_;
  int threads_;
  std::vector<VerifyRow> rows_;
  std::vector<VerifyPlot> plots_;
  int runs_ = 0;
};

/// A case by id with what it does; `slow` ones are left out of the quick part.
struct VerifyCase {
  std::string id, title;
  bool slow;
  std::function<void(Study&)> run;
};
const std::vector<VerifyCase>& verifyCases();

}  // namespace anvil::cli
