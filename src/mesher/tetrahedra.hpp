// Straight tetrahedra of one solid by the mesher library, with the CAD faces their outer triangles lie on.
#pragma once
#include <Eigen/Geometry>
#include <TopoDS_Shape.hxx>
#include <array>
#include <functional>
#include <stdexcept>
#include <string>
#include <vector>

#include "mesher/skin.hpp"

namespace anvil::mesher {

/// What is asked for. Lengths in mm.
struct Wishes {
  double size = 1, smallest = 0;  ///< edge length of tetrahedra; no smaller one is made anywhere
  double grading = 0.3;           ///< how fast sizes may change: 0 hardly, 1 fast
  double perCircle = 12;          ///< edges round a full circle of a curved face
  std::vector<double> faceSize;   ///< per face in the order of the shape; 0: `size`
  struct Near {
    Eigen::Vector3d at;
    double within, size;
  };
  std::vector<Near> near;  ///< smaller sizes round places
  int optimise = 3;        ///< rounds of improvement
  bool nearEdges = false;  ///< smaller elements where edges run close to each other
  int fewestLayers = 1;    ///< of swept solids
};

struct Tetrahedra {
  std::vector<Eigen::Vector3d> x;
  std::vector<std::array<int, 4>> cells;  ///< positive volume
  struct Triangle {
    std::array<int, 3> node;
    int face;  ///< of the shape, from 0
  };
  std::vector<Triangle> triangles;
  int closedOver = 0;  ///< faces too narrow for any element, which have none
};

/// Why a solid could not be meshed, and where.
struct Refusal : std::runtime_error {
  Refusal(const std::string& why, std::vector<int> where) : std::runtime_error(why), faces(std::move(where)) {}
  std::vector<int> faces;  ///< of the shape that was to be meshed
};

/// Only the triangles of its faces, `cells` stays empty; else as below.
Tetrahedra surfaceOnly(const std::string& brepFile, const std::vector<TopoDS_Shape>& faces, const Wishes& wishes,
                       const std::function<void(const char*)>& stage);

/// Meshes the solid in a BREP file. `faces` is the shape's own list, in the order of exploration, to which triangles refer.
/// `stage` is called with the name of each stage of the work. Throws Refusal with a sentence when it cannot be done.
Tetrahedra tetrahedra(const std::string& brepFile, const std::vector<TopoDS_Shape>& faces, const Wishes& wishes,
                      const std::function<void(const char*)>& stage);

/// Fills a closed skin with tetrahedra; its triangles stay.
Tetrahedra filled(const Skin& skin, const Wishes& wishes, const std::function<void(const char*)>& stage);

}  // namespace anvil::mesher
