#include "cli/verify/in_space.hpp"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "core/model/actions.hpp"
#include "core/model/carriers.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/part.hpp"
#include "core/model/shapes.hpp"

namespace anvil::cli {
namespace {

using model::Entry;

/// share × value, as a number or an expression.
void scale(Entry& e, double share) {
  if (e.number)
    *e.number *= share;
  else if (e.text.starts_with('='))
    e.text = "=(" + e.text.substr(1) + ")*" + fmt::format("{}", share);
}

void scale(model::Course& course, double share) {
  scale(course.value, share);
  for (auto& [step, stage] : course.stages) scale(stage.value, share);
  for (auto& row : course.table)
    if (row.size() > 1) scale(row[1], share);
}

std::string inSpace(const std::string& axis, bool round) {
  if (axis == "turn") return "turn z";
  if (!round) return axis;
  return axis == "r" ? "radial y" : axis == "z" ? "y" : axis;
}

/// A face that lies on the axis, as these models name it, has no area in space.
bool shrinks(const std::string& face) { return face.ends_with(".axis"); }

}  // namespace

void intoSpace(model::Document& d, const InSpace& how) {
  const bool round = d.space == "axisymmetric", stress = d.space == "plane stress";
  const double whole = stress ? d.thickness.number.value_or(1) : 1, share = round ? how.extent / 360 : how.extent / whole;
  d.space = "solid", d.thickness = 1;
  std::vector<std::string> ends;
  for (auto& [name, part] : d.parts) {
    const double before = part.rigid ? how.extent : 0;
    if (round && part.rigid)
      part.revolve = model::Revolve{0, 360, {}};
    else if (round)
      part.revolve = model::Revolve{0, how.extent, how.layers};
    else
      part.extrude = model::Extrude{-before, how.extent + 2 * before, part.rigid ? 1 : how.layers, 1, {}};
    if (part.pivot.size() == 2) part.pivot.push_back(0);
    if (part.place && part.place->shift.size() == 2) part.place->shift.push_back(0);
    if (part.rigid) continue;
    part.element = how.element;
    ends.push_back(name + ".front");
    if (!stress) ends.push_back(name + ".back");
  }
  for (auto& [name, support] : d.supports) {
    if (round) std::erase_if(support.on, shrinks);
    for (auto& f : support.fix) f = inSpace(f, round);
    if (support.about.size() == 2) support.about.push_back(0);
  }
  std::erase_if(d.supports, [](const auto& s) { return s.second.on.empty(); });
  d.supports("ends of the slice").on = ends, d.supports.back().second.fix = {"normal"};
  for (auto& [name, carrier] : d.carriers) {
    carrier.hold = "mean";
    if (carrier.at.size() == 2) carrier.at.push_back(how.extent / 2);
  }
  for (auto& [name, motion] : d.motions) {
    motion.along.axis = inSpace(motion.along.axis, round);
    if (motion.about.size() == 2) motion.about.push_back(0);
  }
  for (auto& [name, load] : d.loads) {
    load.along.axis = inSpace(load.along.axis, round);
    if (load.kind == "moment") load.along.axis = "z";
    if (load.kind != "pressure") scale(load.course, share);
  }
  for (auto& [name, spring] : d.springs) {
    spring.along = inSpace(spring.along, round), scale(spring.stiffness, share);
    if (spring.at.size() == 2) spring.at.push_back(how.extent / 2);
  }
  for (auto& [name, watch] : d.watch)
    if (watch.at.size() == 2) watch.at.push_back(0);
}

}  // namespace anvil::cli
