// Programs of our own that work beside us: they can be stopped, and can fail alone.
#pragma once
#include <cstdint>
#include <functional>
#include <string>
#include <vector>

#include "core/base/job_folder.hpp"

namespace anvil {

struct WorkerEnd {
  int code = -1;           ///< exit code; -1 when it died
  bool stopped = false;    ///< it was told to end
  bool outOfTime = false;  ///< it had used up the processor time that it was given
  std::string lastWord;    ///< the last line it said
};

/// Runs a program that lies beside this one (or in the build tree, or on the search path) to its end. `heard` gets each line
/// that it writes to its standard error, and an empty one a few times a second; when it returns false the program is ended.
/// Throws Error when the program is not there.
WorkerEnd runWorker(const std::string& program, const std::vector<std::string>& arguments,
                    const std::function<bool(const std::string&)>& heard);

/// What a worker has to say to a job.
struct WorkerAnswer {
  WorkerEnd end;
  std::string result;  ///< bytes; empty where it left none
};

/// Gives a worker a job, bytes that it reads as a file of `folder`, and takes the result it leaves there. As runWorker.
WorkerAnswer askWorker(const std::string& program, const JobFolder& folder, const std::vector<std::uint8_t>& job,
                       const std::function<bool(const std::string&)>& heard);

}  // namespace anvil
