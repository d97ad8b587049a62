#include "app/new_thing.hpp"

#include "app/desk/features.hpp"
#include "core/model/actions.hpp"
#include "core/model/bolts.hpp"
#include "core/model/carriers.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"

namespace anvil::app {

QString addThing(model::Document& d, const QString& kind, const QStringList& picked) {
  QString made;
  const auto fresh = [&](auto& list, const char* base) -> auto& {
    std::string name = base;
    for (int k = 2; list.find(name); ++k) name = base + std::string(" ") + std::to_string(k);
    made = QString::fromStdString(name);
    return list(name);
  };
  const auto firstEdge = [&] {  // what is picked in the view, else any
    if (!picked.isEmpty()) {
      std::vector<std::string> on;
      for (const auto& f : picked) on.push_back(f.toStdString());
      return on;
    }
    for (const auto& [n, part] : d.parts)
      if (!part.rigid) return std::vector<std::string>{n + ".bottom"};
    return std::vector<std::string>{};
  };
  if (kind == "materials") {
    auto& elastic = fresh(d.materials, "material").elastic;
    elastic.E = "205 GPa", elastic.nu = 0.3;
  }
  if (kind == "parts") {
    auto& part = fresh(d.parts, "part");
    if (!d.materials.empty()) part.material = d.materials.front().first;
    if (d.space == "solid") {
      addFeature(d, made.toStdString(), "box", {});
    } else {
      model::Shape s;
      s.rectangle = model::Rectangle{{0, 0}, {20, 10}};
      part.shape = {s};
    }
  }
  if (kind == "contacts") {
    auto& c = fresh(d.contacts, "contact");
    if (picked.size() == 2) c.between = firstEdge();
  }
  if (kind == "supports") fresh(d.supports, "support") = {firstEdge(), {"y"}, {}, "held", {}};
  if (kind == "motions") {
    auto& m = fresh(d.motions, "motion");
    m.on = firstEdge(), m.along.axis = "y", m.course.value = 0;
  }
  if (kind == "loads") {
    auto& l = fresh(d.loads, "load");
    l.on = firstEdge(), l.course.value = 1;
  }
  if (kind == "temperatures") {
    auto& t = fresh(d.temperatures, "warming");
    for (const auto& [n, part] : d.parts)
      if (!part.rigid) t.on.push_back(n);
    t.rise.value = 50;
  }
  if (kind == "carriers") fresh(d.carriers, "carrier").on = firstEdge();
  if (kind == "bolts") {
    auto& b = fresh(d.bolts, "bolt");
    b.on = firstEdge();
    if (!d.steps.empty()) b.force.stages(d.steps.front().first) = {model::How::ramp, model::Entry("10 kN")};
  }
  if (kind == "springs") {
    auto& s = fresh(d.springs, "spring");
    if (!d.carriers.empty()) s.between = {d.carriers.front().first};
    s.along = "x", s.stiffness = 1000;
  }
  if (kind == "stabilisations") {
    auto& s = fresh(d.stabilisations, "stabilisation");
    for (const auto& [n, part] : d.parts)
      if (!part.rigid) s.on.push_back(n);
  }
  return made;
}

}  // namespace anvil::app
