// The named things of a document by the kind they are of ("materials", "parts", "contacts", …: the keys of the document that
// hold named objects): taking out, copying, and renaming with whatever refers to them.
#pragma once
#include <string>

#include "core/model/field_table.hpp"

namespace anvil::model {

/// Kinds of things that a document has, in the order of the format.
std::vector<std::string> kindsOfThings();

/// The list of one kind: named objects. Throws Error when there is no such kind.
Value things(Document& document, const std::string& kind);
Value things(const Document& document, const std::string& kind);  ///< for walkers that only read
std::vector<std::string> namesOf(const Document& document, const std::string& kind);

/// Where a thing stands in its list; its size when there is none of that name.
size_t placeOf(const Value& things, const std::string& name);

/// Takes a thing out, if it is there. What refers to it stays as it was: `check` names it.
void remove(Document& document, const std::string& kind, const std::string& name);

/// Puts a copy at the end of the list; returns its name, empty when there is no such thing.
std::string copy(Document& document, const std::string& kind, const std::string& name);

/// Gives a thing another name, everywhere. Throws Error where that name is taken or cannot be used.
void rename(Document& document, const std::string& kind, const std::string& from, const std::string& to);

/// What refers to a point, line or section of a slender part follows when that has got another name. `list`: "points", "lines" or
/// "sections".
void followSlender(Document& document, const std::string& part, const std::string& list, const std::string& from,
                   const std::string& to);

/// What refers to a face or edge ("part.from") follows when that has got another name.
void followFace(Document& document, const std::string& part, const std::string& from, const std::string& to);

}  // namespace anvil::model
