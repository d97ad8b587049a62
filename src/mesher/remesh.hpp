// A skin of triangles made even, for solids whose own faces cannot be meshed one by one.
#pragma once
#include "mesher/skin.hpp"

namespace anvil::mesher {

/// Triangles of about `size`, mm, on the same surface: edges where it turns by more than 30 degrees are kept, others need not be
/// (M. Botsch, L. Kobbelt, A remeshing approach to multiresolution modeling, 2004; CGAL's implementation). Each triangle gets the
/// face it lies nearest. Throws std::runtime_error when the skin is not closed, or goes through itself at any size down to a
/// third.
Skin remeshed(const Skin& skin, double size);

/// Of each point, the face of the triangle that is nearest.
std::vector<int> nearestFaces(const Skin& skin, const std::vector<Eigen::Vector3d>& points);

/// Triangles that go through others.
std::vector<int> crossing(const Skin& skin);

}  // namespace anvil::mesher
