// From the document to the numbers: its mesh, its materials, its whole problem.
#pragma once
#include <memory>
#include <string>
#include <utility>
#include <vector>

#include "core/mesh/meeting.hpp"
#include "core/mesh/working.hpp"
#include "core/model/forward.hpp"
#include "core/problem/problem.hpp"

namespace anvil::analysis {

/// Meshes all parts of a document. `working` hears of free meshes in the making ("clamp: volume"). Throws Error with the place in
/// the document.
mesh::Mesh buildMesh(const model::Document& document, const model::Quantities& quantities, const mesh::Working& working = {});

/// What the document's fineness makes of element lengths: a factor, and edges round a full circle.
std::pair<double, int> fineness(const model::Document& document);

/// Cuts the shanks of the document's bolts in the mesh, in their order. Throws Error with the place in the document.
void cutBolts(mesh::Mesh& mesh, const model::Document& document, const model::Quantities& quantities);

/// The bolts that an entry of the document makes: one, or where its faces are those of a part that is repeated one in each copy,
/// with the copy's number behind its name.
struct OneBolt {
  std::string name;
  std::vector<std::string> on;  ///< faces of its shank; none of a beam
};
std::vector<OneBolt> boltsOf(const std::string& name, const model::Bolt& bolt, const mesh::Mesh& mesh);

/// Where the faces meet that a name with " & " lists; of a part that is repeated, in each of its copies. Throws Error.
mesh::Meeting meetingNamed(const std::string& name, const model::Document& document, const mesh::Mesh& mesh,
                           const std::string& path);

/// Facets of regions, edges, faces or whole parts by name. Throws Error naming the nearest known one.
std::vector<mesh::Facet> facetsOf(const std::vector<std::string>& names, const model::Document& document, const mesh::Mesh& mesh,
                                  const std::string& path);

/// The document's rigid parts as they stand at first, with the number of each part. Throws Error with the place in the document.
std::vector<std::pair<int, contact::RigidBody>> rigidBodies(const model::Document& document);

/// Material law of the document as a hardening curve of true stress against plastic log strain. Throws Error with the row.
material::J2Law plasticLaw(const model::Material& material, const model::Quantities& quantities, const std::string& path);
material::ElasticLaw elasticLaw(const model::Material& material, const model::Quantities& quantities, const std::string& path);

material::RubberLaw rubberLaw(const model::Material& material, const model::Quantities& quantities, const std::string& path);
/// Nominal stress of a rubber bar stretched to `stretch`, volume kept, MPa.
double nominalTension(const material::RubberLaw& law, double stretch);
/// The law of a material, whichever it is.
material::AnyLaw materialLaw(const model::Material& material, const model::Quantities& quantities, const std::string& path);
/// Young's modulus; of a rubber its small-strain one.
double youngOf(const model::Material& material, const model::Quantities& quantities, const std::string& path);

/// Lowers the whole document. Throws Error with the place in the document.
std::unique_ptr<Problem> lower(const model::Document& document, const mesh::Working& working = {});

}  // namespace anvil::analysis
