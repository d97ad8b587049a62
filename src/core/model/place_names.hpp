// Names of places on a model: "part.face", and edges and corners by the faces that meet there, "part.top & part.left".
#pragma once
#include <string>
#include <vector>

namespace anvil::model {

/// Stands between the faces in the name of an edge or corner.
inline constexpr const char* meets = " & ";

/// The faces in a name; the name itself when it is one face.
std::vector<std::string> facesInName(const std::string& name);

}  // namespace anvil::model
