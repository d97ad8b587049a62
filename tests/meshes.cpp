#include "meshes.hpp"

#include "core/element/block.hpp"
#include "core/lower/lower.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/model/quantities.hpp"

namespace anvil {

mesh::Mesh meshOf(const std::string& model) {
  const auto d = model::parse(model);
  return analysis::buildMesh(d, model::Quantities(d));
}

mesh::Mesh meshOfPart(const std::string& part, const std::string& space) {
  return meshOf("{\"anvil\": 1, \"space\": \"" + space + "\", \"parts\": {\"p\": " + part + "}}");
}

double volumeOf(const mesh::Mesh& m) {
  material::AnyLaw law = material::ElasticLaw::fromYoung(1, 0.3);
  double volume = 0;
  for (const auto& b : m.blocks) {
    const auto block =
        element::makeBlock(b, m.x, {m.dim == 3 ? element::Space::solid : element::Space::planeStrain, true, 1}, law);
    std::vector<double> share(size_t(mesh::info(b.type).nodes));
    for (size_t c = 0; c < b.count(); ++c) {
      block->lumpedVolume(c, share.data());
      for (double s : share) volume += s;
    }
  }
  return volume;
}

double areaOf(const mesh::Mesh& m, const std::vector<mesh::Facet>& facets) {
  double area = 0;
  for (const auto& f : facets) {
    const auto n = m.nodesOf(f);
    const auto at = [&](size_t i) { return m.x[size_t(n[i])]; };
    area += (m.cornersOf(f) == 3 ? (at(1) - at(0)).cross(at(2) - at(0)) : (at(2) - at(0)).cross(at(3) - at(1))).norm() / 2;
  }
  return area;
}

}  // namespace anvil
