// What a run will cost, before it begins.
#pragma once
#include <string>

#include "core/mesh/mesh.hpp"
#include "core/model/forward.hpp"

namespace anvil::checks {

struct Estimate {
  size_t nodes = 0, cells = 0, unknowns = 0;
  double memory = 0;     ///< MB
  double iteration = 0;  ///< s
  double stored = 0;     ///< MB of results
  int steps = 0;
  double iterations = 0;  ///< of all steps
  bool known = false;     ///< from a run of this very model
  double seconds() const { return iteration * iterations; }
  bool symmetric = true;  ///< no contact, no pressure that follows
};

/// What one iteration costs, from the mesh's own graph: the factors' size and work by a symbolic factorisation of the nodes, the
/// machine's speed by a short dense product, the work of contacts from their facets. Couplings over contacts are not in the
/// factors. Takes about a second for 100 000 unknowns. Nothing is learned here from finished runs.
Estimate costOf(const model::Document& document, const mesh::Mesh& mesh);

/// The same corrected by what finished runs on this machine took (pace.hpp), with the iterations they needed.
Estimate estimate(const model::Document& document, const mesh::Mesh& mesh);

/// "about 1.2 GB and 3 s an iteration; …", in one sentence without its full stop.
std::string inWords(const Estimate& estimate);

}  // namespace anvil::checks
