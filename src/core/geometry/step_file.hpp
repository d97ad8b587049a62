// Solids of STEP files, read by a worker: no foreign geometry is read by this process. For use inside this folder.
#pragma once
#include <TopoDS_Shape.hxx>
#include <string>
#include <vector>

namespace anvil::geometry {

struct StepSolid {
  std::string name;     ///< as the file gives it; may be empty
  TopoDS_Shape shape;   ///< a valid solid, in mm, where its assemblies put it
  std::string healing;  ///< what had to be mended; empty for most
  bool sheet = false;   ///< a surface without a volume
};

/// The solids of a STEP file in its order, named as the assembly names them, in mm whatever unit it is written in, healed where
/// they need it. What was read once is kept in the cache, by the bytes of the file. Throws Error with `path` when the file is
/// missing, cut short, holds no solid, or holds one that cannot be healed. The last files are kept as long as they do not change
/// on disk: many parts are often taken out of one.
std::vector<StepSolid> readStep(const std::string& file, const std::string& folder, const std::string& path);

}  // namespace anvil::geometry
