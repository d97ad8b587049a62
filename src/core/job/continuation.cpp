#include "core/job/continuation.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

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
      lists{"anvil", "units", "parameters", "steps", "watch", "solver", "results"};
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
  std::string path, how;  ///< of the thing; which of its entries says so
  model::TimedCourse course;
};

std::vector<Acting> actingIn(const Document& d) {
  const model::Quantities q(d);
  std::vector<Acting> list;
  const auto add = [&](const std::string& thing, const char* key, const model::Course& c, Kind kind) {
    if (c.given()) list.push_back({thing, key, model::timed(c, kind, d, q, thing + "/" + key)});
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
      list.push_back({path, "during", {{}, model::activeDuring(t.during, d, path + "/during")}});
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

/// Of the steps themselves; those behind the first that is another are not looked at.
std::vector<std::string> differentSteps(int step, const Document& now, const Document& then) {
  std::vector<std::string> found;
  const auto times = model::stepTimes(now, model::Quantities(now)), timesThen = model::stepTimes(then, model::Quantities(then));
  const auto called = [](const Document& d, size_t i, const char* none) {
    return i < d.steps.size() ? "'" + d.steps[i].first + "'" : std::string(none);
  };
  for (size_t i = 0; i <= size_t(step); ++i) {
    if (i >= now.steps.size() || i >= then.steps.size() || now.steps[i].first != then.steps[i].first)
      return {"its step " + std::to_string(i + 1) + " is " + called(now, i, "gone") + ", was " + called(then, i, "not there")};
    const auto &a = now.steps[i].second, &b = then.steps[i].second;
    const std::string path = "steps/" + now.steps[i].first;
    if (std::abs(times[i + 1] - timesThen[i + 1]) > 1e-9 * std::abs(times[i + 1]))
      found.push_back(path + " ends at " + shortNumber(times[i + 1], 8) + " s, did at " + shortNumber(timesThen[i + 1], 8) +
                      " s");
    if (a.control != b.control) found.push_back(path + "/control is " + a.control + ", was " + b.control);
  }
  return found;
}

/// Things that act in some step, but in none up to this one.
std::set<std::string> actingLater(int step, const std::vector<Acting>& one, const std::vector<Acting>& other) {
  std::set<std::string> things, earlier;
  for (const auto* list : {&one, &other})
    for (const auto& a : *list) (activeUpTo(step, a) ? earlier : things).insert(a.path);
  for (const auto& thing : earlier) things.erase(thing);
  return things;
}

}  // namespace

std::vector<std::string> differencesUpTo(int step, const Document& now, const Document& then) {
  auto found = differentSteps(step, now, then);
  if (size_t(step) >= std::min(now.steps.size(), then.steps.size())) return found;
  const double until = model::stepTimes(now, model::Quantities(now))[size_t(step) + 1];
  const auto acting = actingIn(now), before = actingIn(then);
  const auto later = actingLater(step, acting, before);
  for (const auto& a : acting)
    for (const auto& b : before)
      if (a.path == b.path && a.how == b.how && !later.contains(a.path) && !sameUpTo(step, until, a, b))
        found.push_back(a.path + " acts otherwise up to there");
  // what one of them has alone, and all other values
  for (const auto& a : acting) {
    const auto same = [&](const Acting& b) { return a.path == b.path && a.how == b.how; };
    if (activeUpTo(step, a) && std::none_of(before.begin(), before.end(), same))
      found.push_back(a.path + "/" + a.how + " is new");
  }
  for (const auto& b : before) {
    const auto same = [&](const Acting& a) { return a.path == b.path && a.how == b.how; };
    if (activeUpTo(step, b) && std::none_of(acting.begin(), acting.end(), same))
      found.push_back(b.path + "/" + b.how + " is gone");
  }
  const auto a = Facts(now).all, b = Facts(then).all;
  const auto say = [&](const std::string& path, const std::string* is, const std::string* was) {
    const auto thing = thingOf(path);
    if (later.contains(thing)) return;
    if (path.starts_with("regions/") && (!a.contains(thing) || !b.contains(thing))) return;  // nothing that was there uses it
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
  const auto sameLine = [](const mesh::Line& l, const mesh::Line& m) {
    return l.part == m.part && l.nodes == m.nodes && l.turns == m.turns;
  };
  return std::equal(a.lines.begin(), a.lines.end(), b.lines.begin(), b.lines.end(), sameLine);
}

void checkContinuation(const results::Reader& stored, size_t row, const Document& now, const results::Header& fresh) {
  const auto& was = stored.header();
  const int reached = stored.rows()[row].step;
  std::string otherwise = "Run from the start";
  const auto refuse = [&](const std::string& why) {
    throw Error("the stored run cannot be gone on with: " + why, "continue",
                otherwise + ", or take back what was changed. Up to the end of step '" + was.steps[size_t(reached)] +
                    "' only increments, solver settings and watched points may differ; what acts after it may be anything.");
  };
  Document then;
  try {
    then = model::parse(was.model);
  } catch (const Error&) {
    refuse("the model in it cannot be read any more");
  }
  const auto different = differencesUpTo(reached, now, then);
  for (int s = reached - 1; !different.empty() && s >= 0; --s) {  // the last increment before it matters
    if (!differencesUpTo(s, now, then).empty()) continue;
    size_t last = row;
    while (last > 0 && stored.rows()[last].step > s) --last;
    otherwise = "Go on from increment " + std::to_string(last + 1) + ", before it acts (--continue-from " +
                std::to_string(last + 1) + "), run from the start";
    break;
  }
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
