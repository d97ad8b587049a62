#include "mesher/remesh.hpp"

#include <CGAL/AABB_face_graph_triangle_primitive.h>
#include <CGAL/AABB_traits.h>
#include <CGAL/AABB_tree.h>
#include <CGAL/AABB_triangle_primitive.h>
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Polygon_mesh_processing/detect_features.h>
#include <CGAL/Polygon_mesh_processing/measure.h>
#include <CGAL/Polygon_mesh_processing/orient_polygon_soup.h>
#include <CGAL/Polygon_mesh_processing/orientation.h>
#include <CGAL/Polygon_mesh_processing/polygon_soup_to_polygon_mesh.h>
#include <CGAL/Polygon_mesh_processing/remesh.h>
#include <CGAL/Polygon_mesh_processing/repair_degeneracies.h>
#include <CGAL/Polygon_mesh_processing/repair_polygon_soup.h>
#include <CGAL/Polygon_mesh_processing/repair_self_intersections.h>
#include <CGAL/Polygon_mesh_processing/self_intersections.h>
#include <CGAL/Surface_mesh.h>
#include <algorithm>
#include <cmath>
#include <set>
#include <stdexcept>

namespace anvil::mesher {
namespace {

namespace PMP = CGAL::Polygon_mesh_processing;
using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
using Point = Kernel::Point_3;
using Surface = CGAL::Surface_mesh<Point>;

Surface surfaceOf(const Skin& skin) {
  std::vector<Point> points;
  std::vector<std::vector<std::size_t>> triangles;
  for (const auto& p : skin.x) points.emplace_back(p.x(), p.y(), p.z());
  for (const auto& t : skin.triangles) triangles.push_back({std::size_t(t[0]), std::size_t(t[1]), std::size_t(t[2])});
  PMP::repair_polygon_soup(points, triangles);
  PMP::orient_polygon_soup(points, triangles);
  if (!PMP::is_polygon_soup_a_polygon_mesh(triangles)) throw std::runtime_error("the solid's triangles do not join to a surface");
  Surface s;
  PMP::polygon_soup_to_polygon_mesh(points, triangles, s);
  PMP::remove_degenerate_faces(s);
  if (!CGAL::is_closed(s)) throw std::runtime_error("the solid's triangles leave gaps");
  if (!PMP::is_outward_oriented(s)) PMP::reverse_face_orientations(s);
  return s;
}

using Triangles = std::vector<Kernel::Triangle_3>;
using Primitive = CGAL::AABB_triangle_primitive<Kernel, Triangles::const_iterator>;
using Tree = CGAL::AABB_tree<CGAL::AABB_traits<Kernel, Primitive>>;

}  // namespace

std::vector<int> nearestFaces(const Skin& skin, const std::vector<Eigen::Vector3d>& points) {
  const auto at = [&](int n) { return Point(skin.x[size_t(n)].x(), skin.x[size_t(n)].y(), skin.x[size_t(n)].z()); };
  Triangles triangles;
  std::vector<int> face;
  for (size_t t = 0; t < skin.triangles.size(); ++t) {
    const auto& n = skin.triangles[t];
    const Kernel::Triangle_3 one(at(n[0]), at(n[1]), at(n[2]));
    if (!one.is_degenerate()) triangles.push_back(one), face.push_back(skin.face[t]);
  }
  const Tree tree(triangles.cbegin(), triangles.cend());
  std::vector<int> found;
  for (const auto& p : points) {
    const auto hit = tree.closest_point_and_primitive(Point(p.x(), p.y(), p.z()));
    found.push_back(face[size_t(hit.second - triangles.cbegin())]);
  }
  return found;
}

Skin remeshed(const Skin& skin, double size) {
  Surface start = surfaceOf(skin);
  const double flat = std::cos(170 * CGAL_PI / 180), blunt = std::cos(150 * CGAL_PI / 180);
  PMP::experimental::remove_almost_degenerate_faces(start, flat, 20, 0.03 * size);  // steps and slits that no element would fit
  const double whole = PMP::volume(start);
  for (const double part : {1., 0.6, 0.35}) {
    Surface s = start;
    const double h = part * size;
    auto kept = s.add_property_map<Surface::Edge_index, bool>("kept", false).first;
    PMP::detect_sharp_edges(s, 30, kept);
    PMP::split_long_edges(CGAL::edges(s), 4. / 3 * h, s, PMP::parameters::edge_is_constrained_map(kept));
    PMP::isotropic_remeshing(
        CGAL::faces(s), h, s,
        PMP::parameters::number_of_iterations(4).number_of_relaxation_steps(2).edge_is_constrained_map(kept).protect_constraints(
            false));
    PMP::remove_degenerate_faces(s);
    PMP::experimental::remove_almost_degenerate_faces(s, blunt, 6, 0.15 * h);
    if (PMP::does_self_intersect(s)) PMP::experimental::remove_self_intersections(s);
    // mending has been seen to throw most of a body away
    if (!CGAL::is_closed(s) || PMP::does_self_intersect(s) || std::abs(PMP::volume(s) - whole) > 0.05 * whole) continue;
    s.collect_garbage();
    Skin even;
    for (const auto v : s.vertices()) even.x.emplace_back(s.point(v).x(), s.point(v).y(), s.point(v).z());
    std::vector<Eigen::Vector3d> middles;
    for (const auto f : s.faces()) {
      std::array<int, 3> t{};
      size_t k = 0;
      Eigen::Vector3d middle = Eigen::Vector3d::Zero();
      for (const auto v : CGAL::vertices_around_face(s.halfedge(f), s))
        t[k++] = int(v.idx()), middle += even.x[size_t(v.idx())] / 3;
      even.triangles.push_back(t), middles.push_back(middle);
    }
    even.face = nearestFaces(skin, middles);
    return even;
  }
  throw std::runtime_error("the solid's outside goes through itself when its triangles are made even");
}

std::vector<int> crossing(const Skin& skin) {
  Surface s;
  std::vector<Surface::Vertex_index> v;
  for (const auto& p : skin.x) v.push_back(s.add_vertex(Point(p.x(), p.y(), p.z())));
  std::vector<int> number;
  for (size_t t = 0; t < skin.triangles.size(); ++t) {
    const auto& n = skin.triangles[t];
    if (s.add_face(v[size_t(n[0])], v[size_t(n[1])], v[size_t(n[2])]) != Surface::null_face()) number.push_back(int(t));
  }
  std::vector<std::pair<Surface::Face_index, Surface::Face_index>> pairs;
  PMP::self_intersections(s, std::back_inserter(pairs));
  std::set<int> found;
  for (const auto& [a, b] : pairs) found.insert(number[size_t(a.idx())]), found.insert(number[size_t(b.idx())]);
  return {found.begin(), found.end()};
}

}  // namespace anvil::mesher
