// Tasks in processes of their own, so many at a time: what is not safe among threads (the storage library, the solver's Fortran)
// is safe there, and a task that dies takes no other with it.
#pragma once
#include <cstddef>
#include <functional>

namespace anvil::cli {

/// Does `task` for 0 … count − 1, each in a process of its own, begun in this order, `jobs` at a time. `done` is told in this
/// process of each that ended: 0, or the signal that ended it. To be called before there are threads. Throws Error where no
/// process can be begun.
void sideBySide(size_t count, int jobs, const std::function<void(size_t)>& task, const std::function<void(size_t, int)>& done);

}  // namespace anvil::cli
