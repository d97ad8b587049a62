#include "core/checks/effects.hpp"

#include <Eigen/Geometry>
#include <algorithm>
#include <cmath>
#include <numbers>
#include <set>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/checks/facet_points.hpp"
#include "core/checks/held_motions.hpp"
#include "core/lower/lower.hpp"
#include "core/model/actions.hpp"
#include "core/model/bolts.hpp"
#include "core/model/carriers.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"
#include "core/model/regions.hpp"
#include "core/model/timed_course.hpp"

namespace anvil::checks {
namespace {

using analysis::Problem;
using Eigen::Vector3d;

/// Area of facets and the integral of their normals out of the body, undeformed: of the model's thickness or all round the axis.
struct Faces {
  double area = 0;
  Vector3d normal{0, 0, 0};
};
Faces integrate(const Problem& p, const std::vector<mesh::Facet>& facets) {
  Faces sum;
  const bool axisymmetric = p.setting.space == element::Space::axisymmetric;
  eachFacetPoint(p.mesh, facets, [&](const Vector3d& x, const Vector3d& normal) {
    Vector3d n = normal * throughAt(p, x);
    sum.area += n.norm();
    if (axisymmetric) n.x() = 0;  // all round the axis it cancels
    sum.normal += n;
  });
  return sum;
}

/// A course's value that is farthest from zero.
double farthest(const Curve& c) {
  double far = 0;
  for (double y : c.y)
    if (std::abs(y) > std::abs(far)) far = y;
  return far;
}

class Gathering {
 public:
  Gathering(const Problem& p, const model::Document& d, Report& r) : p_(p), d_(d), q_(d), r_(r) {}

  void all() { parts(), contacts(), motions(), loads(), bolts(), carriers(), regions(), temperatures(), watched(); }

 private:
  void add(const std::string& thing, Effect e) { r_.effects[thing].push_back(std::move(e)); }
  void addVector(const std::string& thing, const char* label, const Vector3d& v, Kind kind) {
    add(thing, {label, {v.data(), v.data() + p_.dim()}, kind, "", true});
  }
  Faces facesOf(const std::vector<std::string>& names) const {
    try {
      return integrate(p_, analysis::facetsOf(names, d_, p_.mesh, ""));
    } catch (const Error&) {
      return {};  // rigid, slender, or an edge
    }
  }
  double densityOf(const std::string& part) const {
    const auto* own = d_.parts.find(part);
    const auto* m = own ? d_.materials.find(own->material) : nullptr;
    return m && m->density.given() ? q_(m->density, Kind::density, "materials/" + own->material + "/density") : 0;
  }

  /// By the divergence theorem the volume is a third of the integral of x·n over the outside; of a body of revolution π∫r² n_r.
  double volumeOf(int part) const {
    double volume = 0;
    const bool axisymmetric = p_.setting.space == element::Space::axisymmetric;
    eachFacetPoint(p_.mesh, p_.mesh.boundary(part), [&](const Vector3d& x, const Vector3d& n) {
      volume += p_.dim() == 3  ? x.dot(n) / 3
                : axisymmetric ? std::numbers::pi * x.x() * x.x() * n.x()
                               : p_.setting.thickness * x.head<2>().dot(n.head<2>()) / 2;
    });
    return volume;
  }

  void parts() {
    for (size_t i = 0; i < p_.mesh.parts.size(); ++i) {
      const auto& name = p_.mesh.parts[i];
      size_t cells = 0;
      std::set<int> nodes;
      for (const auto& b : p_.mesh.blocks)
        if (b.part == int(i)) cells += b.count(), nodes.insert(b.nodes.begin(), b.nodes.end());
      for (const auto& l : p_.mesh.lines)
        if (l.part == int(i)) cells += l.count(), nodes.insert(l.nodes.begin(), l.nodes.end());
      if (nodes.empty()) continue;
      const std::string path = "parts/" + name;
      add(path, {"elements", {double(cells)}});
      Eigen::AlignedBox3d box;
      for (int n : nodes) box.extend(p_.mesh.x[size_t(n)]);
      addVector(path, "size", box.sizes(), Kind::length);
      const double volume = volumeOf(int(i));
      if (!(volume > 0)) continue;
      add(path, {"volume", {volume}, Kind::volume});
      if (const double rho = densityOf(name); rho > 0) add(path, {"mass", {rho * volume}, Kind::mass});
    }
  }

  void contacts() {
    std::set<std::string> done;
    for (const auto& pair : p_.pairs) {
      const auto& setup = pair.setup();
      const std::string path = "contacts/" + setup.contact;
      for (const auto* surface : {&setup.slave, &setup.master}) {
        if (surface->sides.empty() || !done.insert(path + surface->name).second) continue;
        std::vector<mesh::Facet> facets;
        for (const auto& side : surface->sides) facets.push_back(side.facet);
        add(path, {"area of " + surface->name, {integrate(p_, facets).area}, Kind::area});
      }
      if (setup.rigid >= 0 && done.insert(path + " rigid").second)
        add(path, {"against", {}, Kind::number, "rigid '" + p_.rigid[size_t(setup.rigid)].name + "'"});
    }
  }

  /// What a support or motion alone leaves free of the parts it holds on to.
  void motions() {
    std::map<std::string, std::vector<const analysis::Motion*>> named;
    for (const auto& m : p_.motions) named[(m.support ? "supports/" : "motions/") + m.name].push_back(&m);
    for (const auto& [path, list] : named) {
      if (!list.front()->support) {
        const auto& m = *list.front();
        const bool angle = m.turn || m.anyAxis || (m.body >= 0 && m.bodyAxis >= p_.dim());
        add(path, {"farthest travel", {farthest(m.course.curve)}, angle ? Kind::angle : Kind::length});
        continue;
      }
      std::set<int> parts, held;
      for (const auto* m : list) held.insert(m->nodes.begin(), m->nodes.end());
      if (held.empty()) continue;
      for (const auto& b : p_.mesh.blocks)
        if (std::any_of(b.nodes.begin(), b.nodes.end(), [&](int n) { return held.contains(n); })) parts.insert(b.part);
      if (parts.size() != 1) continue;  // slender parts have turns besides, and several may not hold together
      std::vector<int> nodes;
      for (const auto& b : p_.mesh.blocks)
        if (parts.contains(b.part)) nodes.insert(nodes.end(), b.nodes.begin(), b.nodes.end());
      std::sort(nodes.begin(), nodes.end()), nodes.erase(std::unique(nodes.begin(), nodes.end()), nodes.end());
      HeldMotions motions(p_, nodes);
      for (const auto* m : list)
        for (size_t i = 0; i < m->nodes.size() && i < m->direction.size(); ++i) {
          const int other = i < m->opposite.size() ? m->opposite[i] : m->nodes[i];
          motions.shift((p_.mesh.x[size_t(m->nodes[i])] + p_.mesh.x[size_t(other)]) / 2, m->direction[i].normalized());
        }
      const auto free = motions.free();
      add(path, {"nodes held", {double(held.size())}});
      add(path, {"leaves free", {}, Kind::number, free.empty() ? "nothing" : inProse(free)});
    }
  }

  void loads() {
    for (const auto& l : p_.loads) {
      const std::string path = "loads/" + l.name;
      const double most = farthest(l.course.curve);
      if (!l.facets.empty()) {
        const auto faces = integrate(p_, l.facets);
        add(path, {"area", {faces.area}, Kind::area});
        if (l.pressure) addVector(path, "resultant", -most * faces.normal, Kind::force);
        if (!l.pressure && faces.area > 0) add(path, {"traction", {most / faces.area}, Kind::stress});
      }
      if (l.perLength && !l.moment) {
        double length = 0;
        for (double share : l.share) length += share;
        add(path, {"length", {length}, Kind::length});
        addVector(path, "resultant", most * length * l.direction, Kind::force);
      } else if (l.moment) {
        add(path, {"farthest value", {most}, Kind::moment});
      } else if (!l.pressure) {
        addVector(path, "resultant", most * l.direction, Kind::force);
      }
    }
  }

  /// Stress and stretch of the shank at the largest force that is asked for.
  void bolts() {
    for (const auto& b : p_.bolts) {
      const std::string path = "bolts/" + b.entry;
      if (r_.effects.contains(path)) continue;  // the first of several stands for all
      double force = 0, area = 0, length = 0, stiffness = 0;
      for (const auto& s : b.stages)
        if (s.what == analysis::BoltStage::What::tightened) force = std::max(force, s.value);
      const auto* own = d_.bolts.find(b.entry);
      if (b.beam && own && own->beam) {
        const double d = q_(own->beam->diameter, Kind::length, path + "/beam/diameter");
        area = std::numbers::pi * d * d / 4, length = b.beam->length, stiffness = b.beam->axial;
      } else if (b.cut >= 0 && own) {
        const auto& cut = p_.mesh.cuts[size_t(b.cut)];
        area = cut.area;
        double low = 1e300, high = -1e300;
        for (const auto& f : analysis::facetsOf(own->on, d_, p_.mesh, path + "/on"))
          for (int n : p_.mesh.nodesOf(f)) {
            const double at = p_.mesh.x[size_t(n)].dot(cut.axis);
            low = std::min(low, at), high = std::max(high, at);
          }
        length = high - low, stiffness = length > 0 ? p_.partYoung[size_t(cut.part)] * area / length : 0;
      }
      if (!(area > 0)) continue;
      add(path, {"shank across", {area}, Kind::area});
      add(path, {"its length", {length}, Kind::length});
      if (!(force > 0)) continue;
      force *= b.share();  // as the area is that of what is modelled of the shank
      add(path, {"stress at the greatest force", {force / area}, Kind::stress});
      if (stiffness > 0) add(path, {"stretch there", {force / stiffness}, Kind::length});
    }
  }

  void carriers() {
    for (const auto& c : p_.carriers) {
      if (c.ofBolt) continue;
      addVector("carriers/" + c.name, "point", p_.bodies[size_t(c.body)].pivot, Kind::length);
      add("carriers/" + c.name, {"nodes that follow", {double(c.nodes.size())}});
    }
  }

  void regions() {
    for (const auto& own : d_.regions.names())
      if (const auto faces = facesOf({own}); faces.area > 0) add("regions/" + own, {"area", {faces.area}, Kind::area});
  }

  void temperatures() {
    for (const auto& t : p_.temperatures) {
      double expansion = 0;
      for (double e : t.expansion) expansion = std::max(expansion, e);
      add("temperatures/" + t.name, {"free strain at the farthest", {100 * expansion * farthest(t.rise.curve)}, Kind::percent});
    }
  }

  void watched() {
    for (const auto& w : p_.watch) {
      const Vector3d at = p_.placeOf(w);
      addVector("watch/" + w.name, "node followed, at", at, Kind::length);
    }
  }

  const Problem& p_;
  const model::Document& d_;
  model::Quantities q_;
  Report& r_;
};

}  // namespace

void effects(const Problem& p, const model::Document& d, Report& r) { Gathering(p, d, r).all(); }

}  // namespace anvil::checks
