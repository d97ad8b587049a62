// Adds up how long something takes, as long as it lives.
#pragma once
#include <chrono>

namespace anvil {

struct Stopwatch {
  double& total;  ///< seconds
  std::chrono::steady_clock::time_point start = std::chrono::steady_clock::now();
  ~Stopwatch() { total += std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count(); }
};

}  // namespace anvil
