#include "app/history/step_edits.hpp"

#include <algorithm>
#include <cstring>

#include "app/shown_units.hpp"
#include "app/typed.hpp"
#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/model/actions.hpp"
#include "core/model/bolts.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/quantities.hpp"
#include "core/model/timed_course.hpp"

namespace anvil::app {

namespace {

using model::Course;
using model::Document;
using model::Entry;
using model::How;

size_t indexOf(const Document& d, const std::string& step) {
  for (size_t i = 0; i < d.steps.size(); ++i)
    if (d.steps[i].first == step) return i;
  throw Error("there is no step '" + step + "'", "steps", {});
}

std::string freshName(const Document& d, const std::string& base) {
  std::string name = base;
  for (int k = 2; d.steps.find(name); ++k) name = base + " " + std::to_string(k);
  return name;
}

/// Calls f(course, kind of value) for every course of the document.
template <class F>
void eachCourse(Document& d, const F& f) {
  for (auto& [n, m] : d.motions) f(m.course, m.along.axis.starts_with("turn") ? Kind::angle : Kind::length);
  for (auto& [n, l] : d.loads) f(l.course, model::loadKind(l));
  for (auto& [n, t] : d.temperatures) f(t.rise, Kind::number);
  for (auto& [n, b] : d.bolts) f(b.force, Kind::force), f(b.shortening, Kind::length);
  for (auto& [n, c] : d.contacts) f(c.interference, Kind::length);
}

/// Calls f(list of step names) for everything that acts during named steps.
template <class F>
void eachDuring(Document& d, const F& f) {
  for (auto& [n, c] : d.contacts) f(c.during);
  for (auto& [n, s] : d.supports) f(s.during);
  for (auto& [n, s] : d.stabilisations) f(s.during);
}

/// Stages in the order of the steps, as people read them.
void tidy(Document& d) {
  eachCourse(d, [&](Course& c, Kind) {
    std::stable_sort(c.stages.begin(), c.stages.end(),
                     [&](const auto& a, const auto& b) { return indexOf(d, a.first) < indexOf(d, b.first); });
  });
}

/// A single value, ramped over the first step, as a stage of its own.
void intoStages(Course& c, const Document& d) {
  if (!c.value.given() || d.steps.empty()) return;
  c.stages(d.steps.front().first) = {How::ramp, c.value};
  c.value = {};
}

/// A value in core units as it would be written in this file.
Entry written(double core, Kind kind, const model::Quantities& q) {
  return Entry(conversion(q.unitOf(kind), kind).fromCore(core));
}

}  // namespace

QString cellWords(const Course& c, const std::string& step, size_t index) {
  if (!c.table.empty()) return index == 0 ? "table" : "";
  if (c.stages.empty()) return index == 0 ? shown(c.value) : "hold";
  const auto* s = c.stages.find(step);
  if (!s) return "";
  switch (s->how) {
    case How::hold:
      return "hold";
    case How::off:
      return "off";
    case How::atOnce:
      return "at once " + shown(s->value);
    case How::ramp:
      break;
  }
  return shown(s->value);
}

/// Does something to the number of a cell's words: behind "at once", "tighten", "shorten".
template <class Act>
static QString onNumber(const QString& words, const Act& act) {
  for (const char* before : {"at once ", "tighten ", "shorten "})
    if (words.trimmed().startsWith(before)) return before + act(words.trimmed().mid(qsizetype(std::strlen(before))));
  return act(words);
}
QString withFileUnit(const QString& words, Kind kind, const model::FileUnits& file) {
  return onNumber(words, [&](const QString& n) { return units().withFileUnit(n, kind, model::fileUnit(file, kind)); });
}
QString asWritten(const QString& words, Kind kind, const model::FileUnits& file) {
  return onNumber(words, [&](const QString& n) { return units().asWritten(n, kind, model::fileUnit(file, kind)); });
}

void setCell(Course& c, const std::string& step, size_t index, const QString& text, const Document& d) {
  const auto t = text.trimmed();
  if (d.steps.size() == 1 && c.stages.empty()) {
    c.value = t.isEmpty() ? Entry() : typed(t);
    return;
  }
  if (c.stages.empty() && c.table.empty()) {
    if (index == 0)
      c.value = {};
    else
      intoStages(c, d);
  }
  if (t.isEmpty()) {
    std::erase_if(c.stages, [&](const auto& s) { return s.first == step; });
    return;
  }
  auto& stage = c.stages(step);
  if (t == "hold")
    stage = {How::hold, {}};
  else if (t == "off")
    stage = {How::off, {}};
  else if (t.startsWith("at once"))
    stage = {How::atOnce, typed(t.mid(7).trimmed())};
  else
    stage = {How::ramp, typed(t)};
}

void setBoltCell(model::Bolt& b, const std::string& step, size_t index, const QString& text, const Document& d) {
  auto t = text.trimmed();
  const bool shorten = t.startsWith("shorten");
  if (shorten)
    t = t.mid(7).trimmed();
  else if (t.startsWith("tighten"))
    t = t.mid(7).trimmed();
  if (t == "slack") t = "off";
  if (t == "hold") t.clear();
  // one of both in a step
  setCell(shorten ? b.force : b.shortening, step, index, {}, d);
  setCell(shorten ? b.shortening : b.force, step, index, t, d);
}

Course* courseOf(Document& d, const QString& kind, const QString& name) {
  const auto n = name.toStdString();
  if (kind == "motions") return d.motions.find(n) ? &d.motions.find(n)->course : nullptr;
  if (kind == "bolts") return d.bolts.find(n) ? &d.bolts.find(n)->force : nullptr;
  if (kind == "temperatures") return d.temperatures.find(n) ? &d.temperatures.find(n)->rise : nullptr;
  if (kind == "loads") return d.loads.find(n) ? &d.loads.find(n)->course : nullptr;
  if (kind == "contacts") return d.contacts.find(n) ? &d.contacts.find(n)->interference : nullptr;
  return nullptr;
}

std::string addStep(Document& d, int after) {
  const auto name = freshName(d, "step " + std::to_string(d.steps.size() + 1));
  const auto at =
      after < 0 ? std::ptrdiff_t(d.steps.size()) : std::min<std::ptrdiff_t>(after + 1, std::ptrdiff_t(d.steps.size()));
  const auto like = at > 0 ? d.steps[size_t(at - 1)].second : model::Step{};
  d.steps.insert(d.steps.begin() + at, {name, like});
  return name;
}

void removeStep(Document& d, const std::string& name) {
  const auto out = [&](auto& list) { std::erase_if(list, [&](const auto& x) { return x.first == name; }); };
  out(d.steps);
  eachCourse(d, [&](Course& c, Kind) { out(c.stages); });
  eachDuring(d, [&](std::vector<std::string>& during) { std::erase(during, name); });
  for (auto& [n, c] : d.contacts)
    if (c.start.resolveOver == name) c.start.resolveOver.clear();
}

std::string splitStep(Document& d, const std::string& name) {
  const model::Quantities q(d);
  const size_t i = indexOf(d, name);
  const auto times = model::stepTimes(d, q);
  const double half = (times[i + 1] - times[i]) / 2, middle = times[i] + half;
  const auto second = freshName(d, name + ", second half");
  eachCourse(d, [&](Course& c, Kind kind) {
    if (!c.given() || !c.table.empty()) return;  // a table goes by time, not by steps
    const auto t = model::timed(c, kind, d, q, "steps/" + name);
    if (c.stages.empty()) intoStages(c, d);
    auto* stage = c.stages.find(name);
    if (!stage || stage->how != How::ramp) return;  // what holds goes on to hold
    const auto target = stage->value;
    stage->value = written(t.curve(middle), kind, q);
    c.stages(second) = {How::ramp, target};
  });
  eachDuring(d, [&](std::vector<std::string>& during) {
    if (const auto at = std::find(during.begin(), during.end(), name); at != during.end()) during.insert(at + 1, second);
  });
  d.steps[i].second.time = written(half, Kind::time, q);
  d.steps.insert(d.steps.begin() + std::ptrdiff_t(i) + 1, {second, d.steps[i].second});
  tidy(d);
  return second;
}

std::string repeatStep(Document& d, const std::string& name) {
  const size_t i = indexOf(d, name);
  const auto again = freshName(d, name + " again");
  d.steps.insert(d.steps.begin() + std::ptrdiff_t(i) + 1, {again, d.steps[i].second});
  eachCourse(d, [&](Course& c, Kind) {
    if (const auto* stage = c.stages.find(name)) {
      const auto copy = *stage;
      c.stages(again) = copy;
    }
  });
  eachDuring(d, [&](std::vector<std::string>& during) {
    if (const auto at = std::find(during.begin(), during.end(), name); at != during.end()) during.insert(at + 1, again);
  });
  tidy(d);
  return again;
}

void moveStep(Document& d, const std::string& name, int to) {
  const size_t from = indexOf(d, name);
  eachCourse(d, [&](Course& c, Kind) {
    if (c.stages.empty() && c.value.given() && d.steps.size() > 1)
      intoStages(c, d);  // its value belongs to the step, not to the place
  });
  const auto step = d.steps[from];
  d.steps.erase(d.steps.begin() + std::ptrdiff_t(from));
  d.steps.insert(d.steps.begin() + std::clamp<std::ptrdiff_t>(to, 0, std::ptrdiff_t(d.steps.size())), step);
  tidy(d);
}

void setStepTime(Document& d, const std::string& name, double seconds) {
  if (!(seconds > 0))
    throw Error("the step's time would be " + shortNumber(seconds) + " s", "steps/" + name + "/time", "Give a time above zero.");
  const model::Quantities q(d);
  d.steps[indexOf(d, name)].second.time =
      Entry(QString::fromStdString(shortNumber(conversion(q.unitOf(Kind::time), Kind::time).fromCore(seconds), 4)).toDouble());
}

void copyCell(Document& d, const QString& kind, const QString& name, const std::string& step, bool toAllLater) {
  auto* c = courseOf(d, kind, name);
  if (!c || !c->table.empty()) return;
  const size_t i = indexOf(d, step);
  const auto text = cellWords(*c, step, i);
  for (size_t k = i + 1; k < d.steps.size() && (toAllLater || k == i + 1); ++k) setCell(*c, d.steps[k].first, k, text, d);
}

}  // namespace anvil::app
