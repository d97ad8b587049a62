// Where the parameters of a document are used.
#pragma once
#include <functional>
#include <string>
#include <vector>

#include "core/base/units.hpp"
#include "core/model/forward.hpp"

namespace anvil::model {

/// Places (paths of keys, such as "parts/block/shape/1/rectangle/size") of all formulas that name a parameter, in the document's
/// order; those in other parameters are among them.
std::vector<std::string> usesOf(const Document& document, const std::string& parameter);

/// Calls `visit` with every entry of the document, its place as above, and what it measures.
using VisitEntry = std::function<void(const Entry& entry, const std::string& path, Kind kind)>;
void eachEntry(const Document& document, const VisitEntry& visit);

/// Does a formula ("=2*wall + 1") name it?
bool namesParameter(const std::string& formula, const std::string& parameter);

}  // namespace anvil::model
