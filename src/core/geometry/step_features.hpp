// Features that are taken out of STEP files. For use inside this folder.
#pragma once
#include "core/geometry/step_faces.hpp"
#include "core/geometry/step_file.hpp"
#include "core/model/features.hpp"
#include "core/model/forward.hpp"

namespace anvil::geometry {

/// The solid that a feature takes out of its file; all of them as one where it asks so. Throws Error with the place in the
/// document.
StepSolid stepSolid(const model::StepFeature& feature, const std::string& folder, const std::string& path);

/// The faces as they were when the file was taken in; empty where the document keeps none. Throws Error.
std::vector<FaceMark> knownFaces(const model::StepFeature& feature, const model::Quantities& quantities, const std::string& path);

}  // namespace anvil::geometry
