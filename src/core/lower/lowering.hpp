// The way from the document to the problem, shared by the files that do a part of it each. For use inside this folder.
#pragma once
#include <map>
#include <memory>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/lower/lower.hpp"
#include "core/mesh/working.hpp"
#include "core/model/document.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"

namespace anvil::analysis {

using model::Document;
using model::Quantities;

/// The entry `name` of a list of the document. Throws Error with the nearest name when there is none.
template <class T>
const T& found(const model::Named<T>& list, const std::string& name, const std::string& kind, const std::string& path) {
  if (const T* t = list.find(name)) return *t;
  const auto near = nearest(name, list.names());
  throw Error("there is no " + kind + " '" + name + "'", path,
              !near.empty()  ? "Did you mean '" + near + "'?"
              : list.empty() ? "Define it first."
                             : "Known: " + inProse(list.names()) + ".");
}

/// Number of a part by name, or -1.
inline int partIndex(const Document& d, const std::string& name) {
  for (size_t i = 0; i < d.parts.size(); ++i)
    if (d.parts[i].first == name) return int(i);
  return -1;
}

/// What something acts on: nodes with their shares of the whole (they add up to 1), by undeformed area, or along edges by length.
struct Footing {
  std::vector<mesh::Facet> facets;  ///< none where it is edges or corners
  std::vector<int> nodes;
  std::vector<double> share;
  double length = 0;  ///< of edges and lines, mm
};

class Lowering {
 public:
  Lowering(const Document& document, const mesh::Working& hear)
      : d(document), q(document), working(hear), p(std::make_unique<Problem>()) {}
  std::unique_ptr<Problem> run();
  /// The rigid parts alone.
  std::vector<std::pair<int, contact::RigidBody>> rigidAlone();

 private:
  void blocks();
  void steps();
  Vector3d pointOf(const model::Point& point, const std::string& path) const;
  void temperatures();
  void stabilisations();
  void watchPoints();
  void control();

  // slender parts
  void slenderBodies();
  void slenderParts();
  void slenderDofs();

  // rigid parts, carriers, springs
  void rigidBodies();
  /// Number of a body's dof by word: an axis, or a turn.
  int bodyAxis(const std::string& word, const std::string& path) const;
  void carriers();
  /// Faces, edges or corners by name. Throws Error where a name is unknown, or faces and edges are mixed.
  Footing standsOn(const std::vector<std::string>& names, const std::string& path) const;
  /// Lines of slender parts: the one of that name, or all of a part.
  std::vector<const mesh::Line*> linesNamed(const std::string& name) const;
  /// A slender part, or a line or point of one.
  bool isSlender(const std::string& name) const;
  /// What turns at a point, along a line or in a part of that name.
  std::set<int> slenderBodiesNamed(const std::string& name) const;
  /// A carrier's point and its hold on what it stands on; without `at` the point is its middle.
  /// `body`: an own one where it is -1, else the end of a slender part.
  void addCarrier(const std::string& name, bool rigid, const Footing& on, const std::optional<Vector3d>& at,
                  const std::string& path, int body = -1);
  /// Joins the end of a slender part to a rigid part.
  void addEndOnRigid(const std::string& name, const mesh::Spot& spot, int tool);
  /// Share of the facets' undeformed area that belongs to each node.
  std::vector<double> nodalShares(const std::vector<mesh::Facet>& facets, const std::vector<int>& nodes) const;
  void springs();
  void bolts();
  BeamShank beamShank(const std::string& name, const model::BoltBeam& beam, const std::string& path) const;
  std::vector<BoltStage> boltStages(const model::Bolt& bolt, const std::string& path) const;
  int bodyNamed(const std::string& name) const;
  int bodyWanted(const std::string& name, const std::string& path) const;
  /// Puts a plane outline into its place.
  static void place(contact::RigidBody& body);

  // contacts and their surfaces
  /// The rigid part of that name, or whose face it names; -1 for none.
  int rigidNamed(const std::string& name) const;
  /// The named face of a rigid part alone; none where the name is the part's. Throws Error where it has no such face.
  std::shared_ptr<const contact::RigidBody> rigidFace(int index, const std::string& name, const std::string& path) const;
  /// A named surface, or with "everything" the outside of all deformable parts.
  contact::Surface surfaceOf(const std::string& name, const std::string& path);
  /// Half the smallest extent of the body behind a surface.
  double halfThickness(const contact::Surface& s) const;
  void contacts();
  /// A pair of a contact of the document, which may make several.
  void addContact(const std::string& name, const std::string& contact, const model::Contact& c,
                  const std::vector<std::string>& between, const std::string& path);

  // directions, supports, motions, loads
  bool isAxis(const std::string& word, int& axis) const;
  /// "turn", or in space "turn x", "turn y", "turn z": the number of the axis. False for other words.
  bool isTurn(const std::string& word, int& axis, const std::string& path) const;
  Vector3d vectorOf(const model::Direction& along, const std::string& path) const;
  /// Outward normals of facets at their nodes, averaged by area.
  std::map<int, Vector3d> normalsOf(const std::vector<mesh::Facet>& facets) const;
  void addMotion(const std::string& name, bool support, const std::vector<std::string>& on, const model::Direction& along,
                 const model::TimedCourse& course, const std::string& path, const Vector3d& about = Vector3d::Zero(),
                 const Vector3d& axisOfTurn = Vector3d::Zero(), bool hinged = false);
  /// Takes rounding out of directions that run along an axis.
  static Vector3d cleaned(Vector3d d);
  void motions();
  void loads();
  /// Nodes on the lower side of thin parts' edges, by those on their upper. Throws Error with these words where other faces are
  /// among them.
  std::map<int, int> edgePairs(const std::vector<mesh::Facet>& facets, const std::string& what, const std::string& remedy,
                               const std::string& path) const;
  /// Lets a motion act on the middle lines of thin parts' edges, and keeps unknowns for them.
  void hinge(Motion& motion, const std::map<int, int>& lowerOf);
  /// Spreads a force per length along edges of thin parts, slender lines or edges where faces meet.
  void lineForce(const std::vector<std::string>& on, Load& load, const std::string& path) const;
  /// Takes a moment to the edges of thin parts; false where something else is named. Throws Error for faces that are no edges.
  bool edgeMoment(const std::vector<std::string>& on, Load& load, const std::string& path) const;
  /// Share of the whole that the modelled part is, by its symmetry planes: 1/2, 1/4, 1/8.
  double wholeShare(const std::string& path) const;

  const Document& d;
  Quantities q;
  const mesh::Working& working;
  std::unique_ptr<Problem> p;
};

}  // namespace anvil::analysis
