#include "core/geometry/step_parts.hpp"

#include <algorithm>
#include <filesystem>

#include "core/model/document.hpp"
#include "core/model/features.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"

namespace anvil::geometry {

std::vector<std::string> addStepParts(model::Document& d, const std::string& file, const std::vector<StepContent>& solids,
                                      bool whole) {
  d.space = "solid";
  if (d.materials.empty()) {
    auto& elastic = d.materials("steel").elastic;
    elastic.E = "205 GPa", elastic.nu = 0.3;
  }
  const std::string base = std::filesystem::path(file).stem().string();
  std::vector<std::string> added;
  const auto add = [&](const std::string& own, const std::string& solid, const std::vector<std::vector<double>>& faces,
                       bool sheet = false) {
    std::string name = own;
    for (char& c : name)
      if (c == '.' || c == '/') c = ' ';  // these part the names of parts and faces
    const std::string plain = name;
    for (int k = 2; d.parts.find(name); ++k) name = plain + " " + std::to_string(k);
    model::Feature f;
    f.name = "shape", f.step = model::StepFeature{file, solid, {}};
    for (const auto& mark : faces) f.step->faces.emplace_back(mark.begin(), mark.end());
    auto& part = d.parts(name);
    part.material = d.materials.front().first, part.solid = {f};
    if (sheet) part.thin.emplace();
    added.push_back(name);
  };
  const auto isSolid = [](const StepContent& s) { return !s.sheet; };
  const bool together = whole && std::count_if(solids.begin(), solids.end(), isSolid) > 1;
  if (together) add(base, "all", {});
  for (size_t i = 0; i < solids.size(); ++i) {
    const auto& s = solids[i];
    if (together && isSolid(s)) continue;
    add(s.name.empty() ? base : s.name,
        solids.size() == 1 ? ""
        : s.name.empty()   ? std::to_string(i + 1)
                           : s.name,
        s.faces, s.sheet);
  }
  return added;
}

}  // namespace anvil::geometry
