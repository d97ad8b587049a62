#include "core/job/continuation.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/model/actions.hpp"
#include "core/model/bolts.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/field_table.hpp"
#include "core/model/history.hpp"
#include "core/model/json.hpp"
#include "core/model/quantities.hpp"
#include "core/model/timed_course.hpp"

namespace anvil::job {
namespace {

using model::Document, model::Entry, model::Form, model::Value;

/// What is compared elsewhere, or may differ.
bool leftOut(const std::string& path, const model::Field& f) {
  static const std::vector<std::string> everywhere{"note", "title", "file", "during", "increments"},
      lists{"anvil", "units", "parameters", "steps", "watch", "solver"};
  if (f.programsOwn || f.type->form == Form::course) return true;
  return std::find(everywhere.begin(), everywhere.end(), f.key) != everywhere.end() ||
         (path.empty() && std::find(lists.begin(), lists.end(), f.key) != lists.end());
}

/// Every value of a document by its path, in core units where it is a quantity.
class Facts {
 public:
  explicit Facts(const Document& d) : quantities_(d) { object(model::root(d), ""); }
  std::map<std::string, std::string> all;

 private:
  void object(const Value& v, const std::string& path) {
    for (const auto& f : v.type().fields)
      if (!leftOut(path, f)) value(v[f], f, path + (path.empty() ? "" : "/") + f.key);
  }
  void value(const Value& v, const model::Field& f, const std::string& path) {
    switch (v.form()) {
      case Form::flag:
        return put(path, v.as<bool>() ? "true" : "false");
      case Form::whole:
        return put(path, std::to_string(v.as<int>()));
      case Form::text:
        return put(path, v.as<std::string>());
      case Form::quantity:
        return put(path, worth(v.as<Entry>(), f.kind, path));
      case Form::direction: {
        const auto& d = v.as<model::Direction>();
        std::string words = d.axis;
        for (const auto& e : d.vector) words += " " + worth(e, Kind::number, path);
        return put(path, words);
      }
      case Form::course:
        return;
      case Form::optional:
        return v.size() ? value(v.at(0), f, path) : void();
      case Form::list:
        for (size_t i = 0; i < v.size(); ++i) value(v.at(i), f, path + "/" + std::to_string(i + 1));
        return;
      case Form::named:
        for (size_t i = 0; i < v.size(); ++i) all[path + "/" + v.name(i)] = "", value(v.at(i), f, path + "/" + v.name(i));
        return;
      case Form::object:
        return object(v, path);
    }
  }
  std::string worth(const Entry& e, Kind kind, const std::string& path) const {
    if (!e.given()) return "";
    try {
      return shortNumber(quantities_(e, kind, path), 10);
    } catch (const Error&) {  // a word, or a number of another kind than its field's
      return e.number ? shortNumber(*e.number, 10) : e.text;
    }
  }
  void put(const std::string& path, const std::string& value) {
    if (!value.empty()) all[path] = value;
  }
  model::Quantities quantities_;
};

/// What acts, and when.
struct Acting {
  std::string path;  ///< of the thing
  model::TimedCourse course;
};

std::vector<Acting> actingIn(const Document& d) {
  const model::Quantities q(d);
  std::vector<Acting> list;
  const auto add = [&](const std::string& thing, const char* key, const model::Course& c, Kind kind) {
    if (c.given()) list.push_back({thing, model::timed(c, kind, d, q, thing + "/" + key)});
  };
  for (const auto& [n, m] : d.motions)
    add("motions/" + n, "course", m.course, m.along.axis.starts_with("turn") ? Kind::angle : Kind::length);
  for (const auto& [n, l] : d.loads) add("loads/" + n, "course", l.course, model::loadKind(l));
  for (const auto& [n, t] : d.temperatures) add("temperatures/" + n, "rise", t.rise, Kind::number);
  for (const auto& [n, b] : d.bolts)
    add("bolts/" + n, "force", b.force, Kind::force), add("bolts/" + n, "shortening", b.shortening, Kind::length);
  for (const auto& [n, c] : d.contacts) add("contacts/" + n, "interference", c.interference, Kind::length);
  const auto listed = [&](const char* kind, const auto& things) {
    for (const auto& [n, t] : things) {
      const auto path = std::string(kind) + "/" + n;
      list.push_back({path, {{}, model::activeDuring(t.during, d, path + "/during")}});
    }
  };
  listed("supports", d.supports), listed("contacts", d.contacts);
  listed("stabilisations", d.stabilisations);
  return list;
}

bool activeUpTo(int step, const Acting& a) {
  for (int s = 0; s <= step && size_t(s) < a.course.active.size(); ++s)
    if (a.course.active[size_t(s)]) return true;
  return false;
}

/// Whether two courses are worth the same up to a time.
bool sameUpTo(int step, double time, const Acting& a, const Acting& b) {
  for (int s = 0; s <= step; ++s) {
    const auto at = [&](const Acting& c) { return size_t(s) < c.course.active.size() && c.course.active[size_t(s)]; };
    if (at(a) != at(b)) return false;
  }
  for (const auto* c : {&a, &b})
    for (size_t i = 0; i < c->course.curve.x.size(); ++i)
      for (const double t : {c->course.curve.x[i], std::nextafter(c->course.curve.x[i], 1e300), time})
        if (t <= time) {
          const double one = a.course.curve(t), other = b.course.curve(t);
          if (std::abs(one - other) > 1e-9 * (std::abs(one) + std::abs(other))) return false;
        }
  return true;
}

std::string thingOf(const std::string& path) { return path.substr(0, path.find('/', path.find('/') + 1)); }

}  // namespace

std::vector<std::string> differencesUpTo(int step, const Document& now, const Document& then) {
  std::vector<std::string> found;
  const model::Quantities q(now), qThen(then);
  // the steps themselves
  const auto times = model::stepTimes(now, q), timesThen = model::stepTimes(then, qThen);
  for (int s = 0; s <= step; ++s) {
    const auto i = size_t(s);
    if (i >= now.steps.size() || i >= then.steps.size() || now.steps[i].first != then.steps[i].first)
      return {"its step " + std::to_string(s + 1) + " is " +
              (i < now.steps.size() ? "'" + now.steps[i].first + "'" : std::string("gone")) + ", was " +
              (i < then.steps.size() ? "'" + then.steps[i].first + "'" : std::string("not there"))};
    const auto &a = now.steps[i].second, &b = then.steps[i].second;
    const std::string path = "steps/" + now.steps[i].first;
    if (std::abs(times[i + 1] - timesThen[i + 1]) > 1e-9 * std::abs(times[i + 1]))
      found.push_back(path + " ends at " + shortNumber(times[i + 1], 8) + " s, did at " + shortNumber(timesThen[i + 1], 8) +
                      " s");
    if (a.control != b.control) found.push_back(path + "/control is " + a.control + ", was " + b.control);
  }
  // what acts
  const double until = times[size_t(step) + 1];
  const auto acting = actingIn(now), before = actingIn(then);
  std::vector<std::string> later;  // things that act only afterwards
  for (const auto* list : {&acting, &before})
    for (const auto& a : *list)
      if (!activeUpTo(step, a)) later.push_back(a.path);
  for (const auto* list : {&acting, &before})  // unless they act in another way as well
    for (const auto& a : *list)
      if (activeUpTo(step, a)) std::erase(later, a.path);
  const auto comesLater = [&](const std::string& thing) { return std::find(later.begin(), later.end(), thing) != later.end(); };
  for (size_t i = 0, j = 0; i < acting.size() || j < before.size();) {
    const auto takenFrom = [&](const std::vector<Acting>& list, size_t& at) {
      return comesLater(list[at].path) ? (++at, true) : false;
    };
    if (i < acting.size() && takenFrom(acting, i)) continue;
    if (j < before.size() && takenFrom(before, j)) continue;
    if (i == acting.size() || j == before.size() || acting[i].path != before[j].path) break;  // told below, by name
    if (!sameUpTo(step, until, acting[i], before[j])) found.push_back(acting[i].path + " acts otherwise up to there");
    ++i, ++j;
  }
  // everything else
  const auto a = Facts(now).all, b = Facts(then).all;
  const auto say = [&](const std::string& path, const std::string* is, const std::string* was) {
    const auto thing = thingOf(path);
    if (comesLater(thing)) return;
    const bool region = path.starts_with("regions/");
    if (region && (!a.contains(thing) || !b.contains(thing))) return;  // nothing that was there uses it
    const auto word = [](const std::string* v) { return !v ? std::string("not given") : v->empty() ? std::string("there") : *v; };
    found.push_back(path + " is " + word(is) + ", was " + word(was));
  };
  for (const auto& [path, value] : a) {
    const auto other = b.find(path);
    if (other == b.end() || other->second != value) say(path, &value, other == b.end() ? nullptr : &other->second);
  }
  for (const auto& [path, value] : b)
    if (!a.contains(path)) say(path, nullptr, &value);
  return found;
}

static bool sameMesh(const mesh::Mesh& a, const mesh::Mesh& b) {
  if (a.x.size() != b.x.size() || a.blocks.size() != b.blocks.size() || a.parts != b.parts) return false;
  Eigen::AlignedBox3d box;
  for (const auto& x : a.x) box.extend(x);
  const double close = a.x.empty() ? 0 : 1e-9 * box.diagonal().norm();
  for (size_t i = 0; i < a.x.size(); ++i)
    if (!((a.x[i] - b.x[i]).norm() <= close)) return false;
  for (size_t i = 0; i < a.blocks.size(); ++i)
    if (a.blocks[i].type != b.blocks[i].type || a.blocks[i].part != b.blocks[i].part || a.blocks[i].nodes != b.blocks[i].nodes)
      return false;
  return true;
}

void checkContinuation(const results::Reader& stored, size_t row, const Document& now, const results::Header& fresh) {
  const auto& was = stored.header();
  const auto refuse = [&](const std::string& why) {
    const auto& step = was.steps[size_t(stored.rows()[row].step)];
    throw Error("the stored run cannot be gone on with: " + why, "continue",
                "Run from the start, or take back what was changed. Up to the end of step '" + step +
                    "' only increments, solver settings and watched points may differ; what acts after it may be anything.");
  };
  Document then;
  try {
    then = model::parse(was.model);
  } catch (const Error&) {
    refuse("the model in it cannot be read any more");
  }
  const auto different = differencesUpTo(stored.rows()[row].step, now, then);
  if (!different.empty())
    refuse(different.front() +
           (different.size() > 1 ? " (and " + std::to_string(different.size() - 1) + " more that differ)" : std::string()));
  if (was.space != fresh.space || !sameMesh(was.mesh, fresh.mesh))
    refuse("its mesh is another one (a file that a part is made of may have changed)");
  const auto sameContact = [](const results::ContactSurface& a, const results::ContactSurface& b) {
    return a.name == b.name && a.nodes == b.nodes && a.carriers == b.carriers;
  };
  const auto sameBody = [](const results::RigidShape& a, const results::RigidShape& b) {
    if (a.name != b.name || a.points.size() != b.points.size()) return false;
    for (size_t i = 0; i < a.points.size(); ++i)
      if (std::abs(a.points[i] - b.points[i]) > 1e-9 * (1 + std::abs(a.points[i]))) return false;
    return true;
  };
  if (!std::equal(was.contacts.begin(), was.contacts.end(), fresh.contacts.begin(), fresh.contacts.end(), sameContact))
    refuse("its contacts are others");
  if (!std::equal(was.rigid.begin(), was.rigid.end(), fresh.rigid.begin(), fresh.rigid.end(), sameBody))
    refuse("its rigid parts are others");
}

}  // namespace anvil::job
