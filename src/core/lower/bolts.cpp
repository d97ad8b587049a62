// From the document to the problem: bolts and their cuts, bolts that are beams.
#include <Eigen/Geometry>
#include <numbers>

#include "core/lower/lowering.hpp"
#include "core/mesh/cut.hpp"
#include "core/mesh/symmetry.hpp"
#include "core/model/bolts.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/materials.hpp"
#include "core/model/quantities.hpp"

namespace anvil::analysis {

std::vector<OneBolt> boltsOf(const std::string& name, const model::Bolt& b, const mesh::Mesh& mesh) {
  size_t copies = 1;
  for (const auto& face : b.on) copies = std::max(copies, mesh.facesNamed(face).size());
  if (copies == 1) return {{name, b.on}};
  std::vector<OneBolt> all;
  for (size_t k = 1; k <= copies; ++k) {
    all.push_back({name + " " + std::to_string(k), {}});
    for (const auto& face : b.on) all.back().on.push_back(face + " " + std::to_string(k));
  }
  return all;
}

void cutBolts(mesh::Mesh& mesh, const Document& d, const Quantities& q) {
  for (const auto& [name, b] : d.bolts) {
    const std::string path = "bolts/" + name;
    if (mesh.dim != 3)
      throw Error("bolts stand in solid models only", path, "Set \"space\": \"solid\", or press the parts together by a load.");
    if (b.beam && !b.on.empty()) throw Error("the bolt has a shank and is a beam", path, "Keep \"on\" or \"beam\".");
    if (b.beam) continue;
    mesh::CutPlace place;
    place.share = q(b.cut, Kind::number, path + "/cut");
    if (b.along.given()) {
      const auto v = q.inSpace(b.along, path + "/along", "[0, 0, 1].");
      place.along = {v[0], v[1], v[2]};
    }
    for (const auto& one : boltsOf(name, b, mesh))
      mesh::cutAcross(mesh, one.name, facetsOf(one.on, d, mesh, path + "/on"), place, path);
  }
}

BeamShank Lowering::beamShank(const std::string& name, const model::BoltBeam& b, const std::string& path) const {
  BeamShank s;
  s.head = bodyWanted(name + " head", path), s.nut = bodyWanted(name + " nut", path);
  const Vector3d chord = p->bodies[size_t(s.nut)].pivot - p->bodies[size_t(s.head)].pivot;
  s.length = chord.norm();
  const double diameter = q(b.diameter, Kind::length, path + "/diameter");
  if (!(diameter > 0))
    throw Error("the diameter is " + shortNumber(diameter) + " mm", path + "/diameter", "Give a value above zero.");
  if (!(s.length > 1e-3 * diameter))
    throw Error("head and nut press at the same place", path + "/nut", "Name the faces on the two sides of the joint.");
  s.axis = chord / s.length, s.second = s.axis.unitOrthogonal(), s.third = s.axis.cross(s.second);
  const auto& m = found(d.materials, b.material, "material", path + "/material");
  const double E = youngOf(m, q, "materials/" + b.material),
               nu = m.rubber ? 0.5 : q.orElse(m.elastic.nu, Kind::number, 0.3, "materials/" + b.material + "/elastic/nu"),
               G = E / (2 + 2 * nu);
  const double area = std::numbers::pi * diameter * diameter / 4, I = area * diameter * diameter / 16;
  const double k = 6 * (1 + nu) / (7 + 6 * nu);  // shear of a round section (G. Cowper, J. Applied Mechanics 33, 1966)
  s.axial = E * area / s.length, s.bending = E * I / s.length, s.twist = 2 * G * I / s.length;
  s.shear = 12 * E * I / (G * area * k * s.length * s.length);
  return s;
}

/// The symmetry planes that hold the shank's axis: they leave half of it, or a quarter. None for a bolt that stands whole in its
/// model.
static std::vector<Vector3d> mirrorsOf(const Document& d, const mesh::Mesh& mesh, const mesh::Cut& cut) {
  std::vector<Vector3d> normals;
  for (const auto& plane : mesh::mirrorPlanes(d, mesh))
    if (std::abs(cut.axis[plane.axis]) < 1e-6 && std::abs(cut.centre[plane.axis] - plane.at) < cut.radius)
      normals.push_back(Vector3d::Unit(plane.axis));
  return normals;
}

void Lowering::bolts() {
  size_t cuts = 0;
  for (const auto& [name, b] : d.bolts) {
    const std::string path = "bolts/" + name;
    for (const auto& one : boltsOf(name, b, p->mesh)) {
      Bolt bolt;
      bolt.name = one.name, bolt.entry = name;
      if (b.beam) {
        bolt.beam = beamShank(name, *b.beam, path + "/beam");
        bolt.scale = p->youngScale * p->sizeScale();
        if (b.of == "whole")
          throw Error("a beam stands for its whole shank", path + "/of",
                      "Take \"of\" out; for half a bolt give a diameter of 0.71 times its own.");
      } else {
        bolt.cut = int(cuts++);
        const auto& cut = p->mesh.cuts[size_t(bolt.cut)];
        bolt.pairs = int(cut.below.size()), bolt.scale = p->partYoung[size_t(cut.part)] * p->sizeScale();
        if (b.of == "whole") bolt.mirrors = mirrorsOf(d, p->mesh, cut);
      }
      bolt.first = p->bodyEnd() + p->multipliers;
      bolt.stages = boltStages(b, path);
      p->multipliers += bolt.unknowns(), p->lengthsBehind += bolt.lengths();
      p->bolts.push_back(std::move(bolt));
    }
  }
}

std::vector<BoltStage> Lowering::boltStages(const model::Bolt& b, const std::string& path) const {
  std::vector<BoltStage> stages(d.steps.size());
  const auto lay = [&](const model::Course& course, BoltStage::What what, Kind kind, const std::string& place) {
    if (!course.table.empty())
      throw Error("a bolt is tightened step by step, not along a table", place + "/table", "Give values per step.");
    if (course.stages.empty() && course.value.given()) stages[0] = {what, false, q(course.value, kind, place)};
    for (const auto& [step, s] : course.stages) {
      const std::string here = place + "/" + step;
      const auto at = std::find_if(d.steps.begin(), d.steps.end(), [&, name = step](const auto& x) { return x.first == name; });
      if (at == d.steps.end()) found(d.steps, step, "step", here);
      auto& stage = stages[size_t(at - d.steps.begin())];
      if (s.how == model::How::hold) continue;
      if (stage.what != BoltStage::What::held)
        throw Error("the bolt is tightened to a force and shortened by a length in the same step", here, "Keep one of them.");
      if (s.how == model::How::off && what == BoltStage::What::shortened)
        throw Error("a shortening is not switched off", here,
                    "To slacken the bolt, switch its force off, or shorten it by a negative length.");
      stage = s.how == model::How::off ? BoltStage{BoltStage::What::tightened, false, 0}
                                       : BoltStage{what, s.how == model::How::atOnce, q(s.value, kind, here)};
      if (p->steps[size_t(at - d.steps.begin())].arcLength)
        throw Error("a bolt is not tightened along an arc of displacements", here, "Tighten it in a step led by time.");
    }
  };
  lay(b.force, BoltStage::What::tightened, Kind::force, path + "/force");
  lay(b.shortening, BoltStage::What::shortened, Kind::length, path + "/shortening");
  return stages;
}

}  // namespace anvil::analysis
