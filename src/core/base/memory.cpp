#include "core/base/memory.hpp"

#include <malloc.h>

#include <algorithm>
#include <atomic>
#include <fstream>
#include <sstream>
#include <string>

namespace anvil {
namespace {

constexpr double none = 1e300;
std::atomic<double> limit{none};

/// A line "name: number kB" of a file of the system, in MB; `otherwise` where it has none.
double megabytes(const char* file, const std::string& name, double otherwise) {
  std::ifstream in(file);
  for (std::string line; std::getline(in, line);)
    if (line.starts_with(name)) {
      double kilobytes = 0;
      std::istringstream(line.substr(name.size())) >> kilobytes;
      return kilobytes / 1024;
    }
  return otherwise;
}

}  // namespace

double usedMemory() { return megabytes("/proc/self/status", "VmRSS:", 0); }
double mostUsedMemory() { return megabytes("/proc/self/status", "VmHWM:", 0); }

double availableMemory() {
  const double there = megabytes("/proc/meminfo", "MemAvailable:", none);
  return limit < none ? std::min(there, std::max(0., limit - usedMemory())) : there;
}

void giveBackMemory() { ::malloc_trim(0); }

MemoryLimit::MemoryLimit(double megabytes) : before_(limit) { limit = std::min(before_, megabytes); }
MemoryLimit::~MemoryLimit() { limit = before_; }

}  // namespace anvil
