// A circle drawn on a face, which parts it: what lies inside becomes a face of its own. For use inside this folder.
#pragma once
#include "core/geometry/feature_shapes.hpp"

namespace anvil::geometry {

/// `name`.inside within `radius` (mm) of `centre`, which is put onto the plane of the face; the rest keeps its name. Throws Error
/// with the place in the document: no such face, one that is not plane, a circle that does not part it.
Named imprinted(const Named& body, const std::string& face, const Eigen::Vector3d& centre, double radius, const std::string& name,
                const std::string& path);

}  // namespace anvil::geometry
