#include "core/model/place_names.hpp"

#include <cstring>

namespace anvil::model {

std::vector<std::string> facesInName(const std::string& name) {
  std::vector<std::string> faces;
  const size_t width = std::strlen(meets);
  size_t from = 0;
  for (size_t at; (at = name.find(meets, from)) != std::string::npos; from = at + width)
    faces.push_back(name.substr(from, at - from));
  faces.push_back(name.substr(from));
  return faces;
}

}  // namespace anvil::model
