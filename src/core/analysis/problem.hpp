// The numerical problem: the document and its mesh lowered to flat arrays. The solver sees only this.
#pragma once
#include <Eigen/Core>
#include <memory>
#include <string>
#include <vector>

#include "core/contact/pair.hpp"
#include "core/element/block.hpp"
#include "core/mesh/mesh.hpp"
#include "core/model/document.hpp"
#include "core/model/quantities.hpp"

namespace anvil::analysis {

using Eigen::VectorXd;
using Point2 = Eigen::Vector2d;

struct StepPlan {
  std::string name;
  double begin = 0, end = 0;
  double first, smallest, largest;   ///< increment sizes as parts of the step
  int most;
};

/// A motion or support on nodes or a rigid body: displacement along `direction` follows the course.
struct Motion {
  std::string name;
  bool support = false;
  std::vector<int> nodes;
  std::vector<Point2> direction;     ///< one per node
  int rigid = -1, rigidAxis = 0;     ///< 0, 1: translation; 2: turn
  model::TimedCourse course;
};

struct Load {
  std::string name;
  bool pressure = true;
  std::vector<mesh::Facet> facets;
  Point2 direction{0, 0};
  model::TimedCourse course;
};

struct Stabilisation {
  std::string name;
  VectorXd viscosity;                ///< per dof, N s/mm
  std::vector<bool> active;
};

struct ContactPlan {
  std::vector<bool> active;
  model::TimedCourse interference;
  bool hasInterference = false;
  int resolveStep = -1;
};

struct WatchPoint {
  std::string name;
  int node;
};

struct Control {
  double forceTolerance, correctionTolerance, growth, cut, plasticStrainLimit;
  int mostIterations, fewestIterations, easyIterations;
  bool lineSearch, predictor;
};

/// Everything the solver needs. Not copyable: it holds the state of elements and contacts.
struct Problem {
  mesh::Mesh mesh;
  element::Setting setting;
  std::vector<std::unique_ptr<element::Block>> blocks;   ///< parallel to mesh.blocks
  std::vector<contact::RigidOutline> rigid;
  std::vector<int> rigidPart;                            ///< part index of each rigid outline
  std::vector<contact::Pair> pairs;
  std::vector<ContactPlan> contactPlans;
  std::vector<Motion> motions;
  std::vector<Load> loads;
  std::vector<Stabilisation> stabilisations;
  std::vector<StepPlan> steps;
  std::vector<WatchPoint> watch;
  Control control{};
  double youngScale = 1;                                 ///< a typical Young's modulus
  std::vector<double> partYoung;                         ///< per part; 0 for rigid ones

  int nodeCount() const { return int(mesh.x.size()); }
  int dofs() const { return 2 * nodeCount() + 3 * int(rigid.size()); }
  int rigidDof(int body, int axis) const { return 2 * nodeCount() + 3 * body + axis; }
  contact::Measure measure() const { return {setting.space == element::Space::axisymmetric, setting.thickness}; }
  /// Names of the two axes: x y, or r z.
  const char* axis(int i) const {
    if (setting.space == element::Space::axisymmetric) return i ? "z" : "r";
    return i ? "y" : "x";
  }
  /// "part 'sleeve' near r 12.3, z 4.5" for a node.
  std::string whereIs(int node) const;
};

/// Meshes all parts of a document. Throws Error with the place in the document.
mesh::Mesh buildMesh(const model::Document& document, const model::Quantities& quantities);

/// Facets of regions, edges or whole parts by name. Throws Error naming the nearest known one.
std::vector<mesh::Facet> facetsOf(const std::vector<std::string>& names, const model::Document& document, const mesh::Mesh& mesh,
                                  const std::string& path);

/// Material law of the document as a hardening curve of true stress against plastic log strain. Throws Error with the row.
material::J2Law plasticLaw(const model::Material& material, const model::Quantities& quantities, const std::string& path);
material::ElasticLaw elasticLaw(const model::Material& material, const model::Quantities& quantities, const std::string& path);

/// Lowers the whole document. Throws Error with the place in the document.
std::unique_ptr<Problem> lower(const model::Document& document);

}  // namespace anvil::analysis
