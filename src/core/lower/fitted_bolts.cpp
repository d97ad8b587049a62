#include "core/lower/fitted_bolts.hpp"

#include <cmath>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/geometry/recipes.hpp"
#include "core/model/document.hpp"
#include "core/model/features.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"

namespace anvil::analysis {

using Eigen::Vector3d;

namespace {

/// Faces of a solid that a name stands for: one hole may be cut into several.
std::vector<const geometry::Solid::Face*> holeNamed(const std::string& name, const SolidNamed& solidNamed,
                                                    const std::string& path) {
  const auto dot = name.find('.');
  const auto* solid = dot == std::string::npos ? nullptr : solidNamed(name.substr(0, dot));
  if (!solid)
    throw Error("'" + name + "' is no face of a solid of features", path,
                "Name holes as \"part.feature.face\", or give the bolt's ends by \"from\" and \"to\".");
  std::vector<const geometry::Solid::Face*> faces;
  std::vector<std::string> round;
  for (const auto& f : solid->faces()) {
    if (f.kind != geometry::Solid::Kind::cylinder) continue;
    if (f.name == name.substr(dot + 1)) faces.push_back(&f);
    round.push_back(name.substr(0, dot + 1) + f.name);
  }
  if (faces.empty()) {
    const auto near = nearest(name, round);
    throw Error("there is no round face '" + name + "'", path,
                near.empty() ? "Name the inside of a hole." : "Did you mean '" + near + "'?");
  }
  return faces;
}

void fit(model::BoltFeature& bolt, const model::Quantities& q, const geometry::Placement& place, const SolidNamed& solidNamed,
         const std::string& path) {
  const geometry::Solid::Face* first = nullptr;
  double low = 1e300, high = -1e300, radius = 1e300;
  Vector3d axis;
  for (const auto& name : bolt.through)
    for (const auto* f : holeNamed(name, solidNamed, path + "/through")) {
      if (!first) {
        first = f;
        Eigen::Index k;
        f->axis.cwiseAbs().maxCoeff(&k);
        axis = f->axis[k] < 0 ? Vector3d(-f->axis) : f->axis;  // the head at the end that lies further along x, y or z
      }
      const Vector3d arm = f->origin - first->origin;
      if (std::abs(f->axis.dot(axis)) < 1 - 1e-6 || (arm - axis.dot(arm) * axis).norm() > 0.05 * first->radius)
        throw Error("'" + bolt.through.front() + "' and '" + name + "' do not lie on one axis", path + "/through",
                    "Name holes that one bolt goes through.");
      radius = std::min(radius, f->radius);
      for (const double s : {f->low, f->high}) {
        const double t = axis.dot(arm + s * f->axis);
        low = std::min(low, t), high = std::max(high, t);
      }
    }
  const auto length = conversion(q.unitOf(Kind::length), Kind::length);
  const auto written = [&](double along) {
    const Vector3d x = place.turn.transpose() * (first->origin + along * axis - place.shift);
    return model::Point{length.fromCore(x.x()), length.fromCore(x.y()), length.fromCore(x.z())};
  };
  if (bolt.from.empty()) bolt.from = written(high);
  if (bolt.to.empty()) bolt.to = written(low);
  if (!bolt.diameter.given()) bolt.diameter = length.fromCore(model::boltFor(2 * radius));
}

}  // namespace

model::Part withFittedBolts(const model::Part& part, const model::Quantities& q, const SolidNamed& solidNamed,
                            const std::string& path) {
  model::Part fitted = part;
  const auto place = geometry::placement(part, q, true, path);
  for (size_t i = 0; i < fitted.solid.size(); ++i)
    if (auto& f = fitted.solid[i]; f.bolt && !f.bolt->through.empty())
      fit(*f.bolt, q, place, solidNamed, path + "/solid/" + std::to_string(i + 1) + "/bolt");
  return fitted;
}

}  // namespace anvil::analysis
