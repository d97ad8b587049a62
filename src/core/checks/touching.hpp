// What touches what: pairs of faces of different parts, or a face and a rigid part, that lie closer than a tolerance and look at
// each other.
#pragma once
#include <string>
#include <vector>

#include "core/mesh/mesh.hpp"
#include "core/model/forward.hpp"

namespace anvil::checks {

/// Two faces that touch or nearly do.
struct Touching {
  std::string first, second;  ///< "part.face"; a rigid part by its own name, always the second
  int firstPart = -1, secondPart = -1;
  double gap = 0;      ///< smallest distance between them, mm; 0 when they overlap
  double overlap = 0;  ///< deepest overlap, mm
  double area = 0;     ///< of the smaller face within the tolerance of the other, mm² (plane models: length, mm)
  enum class Kind { flat, cylindrical, other } kind = Kind::other;
  double radius = 0;    ///< of a cylindrical pair
  std::string contact;  ///< of the document, when one holds these faces already
};

/// A tolerance that finds faces meant to touch: a two-hundredth of the smallest part's diagonal.
double usualTolerance(const mesh::Mesh& mesh);

/// All pairs within a tolerance (mm), the largest area first. Distances are those of flat facets, so curved faces that
/// touch may seem apart or overlapping by the sagitta of a facet; that much is added to the tolerance. From rigid parts they are
/// exact at the nodes.
std::vector<Touching> findTouching(const mesh::Mesh& mesh, const model::Document& document, double tolerance);

/// Makes contacts of found pairs: one for each two parts, over regions where a side has several faces. Returns their names.
std::vector<std::string> makeContacts(model::Document& document, const mesh::Mesh& mesh, const std::vector<Touching>& pairs,
                                      const std::string& kind, const model::Entry& friction);

/// Asks for elements of this length (as written in the document, before its fineness) on the faces of pairs that lie on solids of
/// features and are coarser. Returns the faces.
std::vector<std::string> refineAt(model::Document& document, const mesh::Mesh& mesh, const std::vector<Touching>& pairs,
                                  const model::Entry& size);
/// A length that lets pressures be read: half the mean edge on the pairs' faces.
double finerSize(const model::Document& document, const mesh::Mesh& mesh, const std::vector<Touching>& pairs);

/// Contacts of the document that are doubtful: the same faces in two contacts; a bolt's shank held fast along its length, which
/// would carry the bolt's force past its seats.
struct Doubt {
  enum class Kind { countedTwice, shankHeld } kind;
  std::string contact, words;  ///< `words`: half a sentence
};
std::vector<Doubt> doubtfulContacts(const model::Document& document, const mesh::Mesh& mesh);

}  // namespace anvil::checks
