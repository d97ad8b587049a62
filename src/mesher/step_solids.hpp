// Reading STEP files with the CAD kernel, which a damaged one may bring down: in this process, whom nobody misses.
#pragma once
#include <TopoDS_Shape.hxx>
#include <stdexcept>
#include <string>
#include <vector>

namespace anvil::mesher {

struct StepSolid {
  std::string name;     ///< as the assembly or the solid itself gives it; may be empty
  TopoDS_Shape shape;   ///< a valid solid, in mm, where its assemblies put it
  std::string healing;  ///< what had to be mended, after "the solid …"; empty for most
  bool sheet = false;   ///< a shell of faces that encloses nothing
};

/// A file or one of its solids (numbered from 1) that cannot be used; `what()` goes on from "the file …" or "the solid …".
struct StepFault : std::runtime_error {
  StepFault(const std::string& why, std::string what, int number, std::string called)
      : std::runtime_error(why), remedy(std::move(what)), solid(number), name(std::move(called)) {}
  std::string remedy;
  int solid;
  std::string name;
};

/// The solids of a STEP file in its order, after those of each product its sheets, named as the assembly names them, in mm
/// whatever unit it is written in, healed where they need it. Throws StepFault, or what the kernel throws.
std::vector<StepSolid> solidsOfStep(const std::string& file);

}  // namespace anvil::mesher
