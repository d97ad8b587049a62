// Parallel loops over oneTBB. Callers write disjoint data per index, so results do not depend on the thread count.
#pragma once
#include <oneapi/tbb/blocked_range.h>
#include <oneapi/tbb/global_control.h>
#include <oneapi/tbb/parallel_for.h>

namespace anvil {

/// Calls body(i) for every i in [0, n), in parallel when n is worth it.
template <class Body>
void forEach(size_t n, const Body& body, size_t grain = 64) {
  if (n <= grain) {
    for (size_t i = 0; i < n; ++i) body(i);
    return;
  }
  tbb::parallel_for(tbb::blocked_range<size_t>(0, n, grain), [&](const tbb::blocked_range<size_t>& r) {
    for (size_t i = r.begin(); i != r.end(); ++i) body(i);
  });
}

/// Holds the number of threads down to `count` while it lives.
class ThreadLimit {
 public:
  explicit ThreadLimit(int count) : control_(tbb::global_control::max_allowed_parallelism, size_t(count < 1 ? 1 : count)) {}

 private:
  tbb::global_control control_;
};

}  // namespace anvil
