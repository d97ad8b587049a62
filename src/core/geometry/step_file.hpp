// Reading STEP files with the CAD kernel. For use inside this folder.
#pragma once
#include <TopoDS_Shape.hxx>
#include <string>
#include <vector>

namespace anvil::geometry {

struct StepSolid {
  std::string name;      ///< as the file gives it; may be empty
  TopoDS_Shape shape;    ///< a valid solid, in mm
};

/// The solids of a STEP file in its order, in mm whatever unit it is written in, healed where they need it. Throws Error with
/// `path` when the file is missing, cut short, holds no solid, or holds one that cannot be healed.
std::vector<StepSolid> readStep(const std::string& file, const std::string& folder, const std::string& path);

}  // namespace anvil::geometry
