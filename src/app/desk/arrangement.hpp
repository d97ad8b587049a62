// How the desk arranges the entries of each kind of thing: what decides most first, under short headings what is needed less,
// and nothing that does not apply. What is not named here follows under "More", so that a new key is never out of reach.
#pragma once
#include <QString>
#include <vector>

#include "core/model/field_table.hpp"

namespace anvil::app {

/// What an entry's place on the desk may depend on.
struct Surroundings {
  const model::Document& document;
  const model::Value& owner;  ///< the object that holds the entry
  /// Text or flag ("true") of an entry beside it; its words joined by spaces where it is a list.
  std::string beside(const char* key) const;
  bool solid() const;
};

/// Special ways to edit what is text in the file.
enum class Choosing {
  asTyped,
  heldDirections,
  looseDirections,
  direction,
  forceDirection,
  springDirection,
  axis,
  steps,
  parts,
  places,
  optionalFields
};

struct Arranged {
  const char* key;
  const char* label;
  const char* heading = "";  ///< "" stands before all headings
  bool (*applies)(const Surroundings&) = nullptr;
  Choosing choosing = Choosing::asTyped;
};

/// A heading that is closed where the outline is drawn in the view, whatever stands under it.
inline constexpr const char* outlineAsText = "Outline as text";

/// The arrangement of a type's entries; empty for types that are shown in their own order.
const std::vector<Arranged>& arrangementOf(const model::Type& type);

/// Words that an entry may be chosen from.
QStringList choicesFor(Choosing choosing, const model::Document& document);

}  // namespace anvil::app
