// Points of the CAD kernel and vectors.
#pragma once
#include <Eigen/Core>
#include <gp_Dir.hxx>
#include <gp_Pnt.hxx>

namespace anvil::mesher {

inline Eigen::Vector3d vector(const gp_Pnt& p) { return {p.X(), p.Y(), p.Z()}; }
inline gp_Pnt point(const Eigen::Vector3d& x) { return {x.x(), x.y(), x.z()}; }
inline gp_Dir direction(const Eigen::Vector3d& x) { return {x.x(), x.y(), x.z()}; }

}  // namespace anvil::mesher
