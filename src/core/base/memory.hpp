// How much memory there is to be had.
#pragma once

namespace anvil {

/// Memory that can be taken without swapping, in MB, as the system tells and MemoryLimit allows; 1e300 where neither does.
double availableMemory();

/// Memory of this process that lies in the machine's now, and the most that ever did, MB; 0 where the system does not tell.
double usedMemory();
double mostUsedMemory();

/// Gives what has been freed, and lies in holes between what has not, back to the system.
void giveBackMemory();

/// Holds what the process takes in all down to so many MB while it lives, as far as availableMemory() is asked before more is
/// taken.
class MemoryLimit {
 public:
  explicit MemoryLimit(double megabytes);
  ~MemoryLimit();
  MemoryLimit(const MemoryLimit&) = delete;

 private:
  double before_;
};

}  // namespace anvil
