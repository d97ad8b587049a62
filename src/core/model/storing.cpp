#include "core/model/storing.hpp"

#include <algorithm>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/model/document.hpp"
#include "core/model/quantities.hpp"

namespace anvil::model {

const std::vector<std::string>& optionalFields() {
  static const std::vector<std::string> fields{"stress", "strain", "plastic strain", "strain energy", "reaction"};
  return fields;
}

Storing::Storing(const Document& d, std::vector<double> stepEnds, double reached)
    : which_(d.results.increments), every_(d.results.every), stepEnds_(std::move(stepEnds)) {
  if (which_ == "each n-th" && every_ < 1)
    throw Error("n is below one", "results/every", "Give a whole number from 1 on: 5 stores every fifth increment.");
  if (which_ == "at times") {
    if (d.results.times.empty())
      throw Error("no time is given", "results/times", "Give times of the run, or take another choice for the increments.");
    times_ = Quantities(d).list(d.results.times, Kind::time, "results/times");
    std::sort(times_.begin(), times_.end());
    while (next_ < times_.size() && times_[next_] <= reached) ++next_;
  }
  for (const auto& f : d.results.leaveOut)
    if (const auto& known = optionalFields(); std::find(known.begin(), known.end(), f) == known.end())
      throw Error("'" + f + "' cannot be left out", "results/leave out", "What can: " + inProse(known) + ".");
}

bool Storing::of(int step, int index, double time) {
  bool reached = false;
  for (; next_ < times_.size() && time >= times_[next_] * (1 - 1e-12); ++next_) reached = true;
  if (time >= stepEnds_[size_t(step)] * (1 - 1e-12) || which_ == "all") return true;
  return which_ == "each n-th" ? index % every_ == 0 : reached;
}

double Storing::share(int step, double increments) const {
  if (which_ == "all") return increments;
  if (which_ == "each n-th") return std::max(1., increments / every_);
  const double begin = step > 0 ? stepEnds_[size_t(step) - 1] : 0, end = stepEnds_[size_t(step)];
  return std::min(increments,
                  1 + double(std::count_if(times_.begin(), times_.end(), [&](double t) { return t > begin && t < end; })));
}

}  // namespace anvil::model
