// From the document to the problem: bolts and their cuts.
#include "core/analysis/lowering.hpp"
#include "core/mesh/cut.hpp"

namespace anvil::analysis {

void cutBolts(mesh::Mesh& mesh, const Document& d, const Quantities& q) {
  for (const auto& [name, b] : d.bolts) {
    const std::string path = "bolts/" + name;
    if (mesh.dim != 3) throw Error("bolts are cut in solid models only", path, "Set \"space\": \"solid\", or press the parts together by a load.");
    const auto shank = facetsOf(b.on, d, mesh, path + "/on");
    mesh::CutPlace place;
    place.share = q(b.cut, Kind::number, path + "/cut");
    if (!b.along.empty()) {
      const auto v = q.list(b.along, Kind::number, path + "/along");
      if (v.size() != 3 || Vector3d(v[0], v[1], v[2]).norm() == 0) throw Error("the axis needs three numbers that are not all zero", path + "/along", "Write [0, 0, 1].");
      place.along = {v[0], v[1], v[2]};
    }
    mesh::cutAcross(mesh, name, shank, place, path);
  }
}

void Lowering::bolts() {
  for (size_t i = 0; i < d.bolts.size(); ++i) {
    const auto& [name, b] = d.bolts[i];
    const std::string path = "bolts/" + name;
    const auto& cut = p->mesh.cuts[i];
    Bolt bolt;
    bolt.name = name, bolt.cut = int(i), bolt.pairs = int(cut.below.size());
    bolt.scale = p->partYoung[size_t(cut.part)] * p->sizeScale();
    bolt.first = p->bodyEnd() + p->multipliers;
    bolt.stages = boltStages(b, path);
    p->multipliers += bolt.unknowns(), p->lengthsBehind += Bolt::lengths;
    p->bolts.push_back(std::move(bolt));
  }
}

std::vector<BoltStage> Lowering::boltStages(const model::Bolt& b, const std::string& path) const {
  std::vector<BoltStage> stages(d.steps.size());
  const auto lay = [&](const model::Course& course, BoltStage::What what, Kind kind, const std::string& place) {
    if (!course.table.empty()) throw Error("a bolt is tightened step by step, not along a table", place + "/table", "Give values per step.");
    if (course.stages.empty() && course.value.given()) stages[0] = {what, false, q(course.value, kind, place)};
    for (const auto& [step, s] : course.stages) {
      const std::string here = place + "/" + step;
      const auto at = std::find_if(d.steps.begin(), d.steps.end(), [&, name = step](const auto& x) { return x.first == name; });
      if (at == d.steps.end()) found(d.steps, step, "step", here);
      auto& stage = stages[size_t(at - d.steps.begin())];
      if (s.how == model::How::hold) continue;
      if (stage.what != BoltStage::What::held) throw Error("the bolt is tightened to a force and shortened by a length in the same step", here, "Keep one of them.");
      if (s.how == model::How::off && what == BoltStage::What::shortened) throw Error("a shortening is not switched off", here, "To slacken the bolt, switch its force off, or shorten it by a negative length.");
      stage = s.how == model::How::off ? BoltStage{BoltStage::What::tightened, false, 0} : BoltStage{what, s.how == model::How::atOnce, q(s.value, kind, here)};
      if (p->steps[size_t(at - d.steps.begin())].arcLength) throw Error("a bolt is not tightened along an arc of displacements", here, "Tighten it in a step led by time.");
    }
  };
  lay(b.force, BoltStage::What::tightened, Kind::force, path + "/force");
  lay(b.shortening, BoltStage::What::shortened, Kind::length, path + "/shortening");
  return stages;
}

}  // namespace anvil::analysis
