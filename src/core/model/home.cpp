// Models that move: files they name are still found.
#include <filesystem>

#include "core/model/document.hpp"
#include "core/model/features.hpp"
#include "core/model/json.hpp"
#include "core/model/part.hpp"

namespace anvil::model {

Document rehomed(Document d, const std::string& folder) {
  namespace fs = std::filesystem;
  const std::string to = fs::absolute(folder).lexically_normal().string();
  for (auto& [name, part] : d.parts)
    for (auto& feature : part.solid)
      if (feature.step && !feature.step->file.empty() && !d.home.folder.empty() && fs::path(feature.step->file).is_relative())
        feature.step->file = (fs::path(d.home.folder) / feature.step->file).lexically_normal().lexically_proximate(to).string();
  d.home.folder = to;
  return d;
}

std::vector<std::string> filesOf(const Document& d) {
  std::vector<std::string> files;
  for (const auto& [name, part] : d.parts)
    for (const auto& feature : part.solid)
      if (feature.step && !feature.step->file.empty())
        files.push_back((std::filesystem::path(d.home.folder) / feature.step->file).lexically_normal().string());
  return files;
}

}  // namespace anvil::model
