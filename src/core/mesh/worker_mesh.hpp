// What the mesher's process is asked and what it answers, kept in the user's cache. For use inside this folder.
#pragma once
#include <nlohmann/json.hpp>
#include <string>

#include "core/geometry/solid.hpp"
#include "core/mesh/free.hpp"
#include "core/mesh/working.hpp"

namespace anvil::mesh {

/// Sizes as the mesher takes them: `size` all over, those on faces and near places, and the least of them in "smallest".
nlohmann::json sizeWishes(const FreeSizes& sizes, double size);

/// One run of the mesher, with wishes as its main.cpp reads them. The answer has "error" when it refuses, dies or takes too long.
/// Throws Error when it is missing or told to end.
nlohmann::json askedOfWorker(const geometry::Solid& solid, const nlohmann::json& wishes, const std::string& path,
                             const Working& working = {});

/// Tetrahedra, or the end of a swept solid in quads, as src/mesher/main.cpp writes them. Where that
/// fails or an element comes out too thin, other ways are tried in turn; what was given up stands in "told". Throws Error naming
/// `path` when the mesher refuses, is missing, dies, is told to end, or finds no sound mesh.
nlohmann::json meshedByWorker(const geometry::Solid& solid, const nlohmann::json& wishes, const std::string& path,
                              const Working& working);

}  // namespace anvil::mesh
