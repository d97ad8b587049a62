#include "core/model/quantities.hpp"
#include "core/model/actions.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"

#include <algorithm>
#include <cmath>

#include "core/base/error.hpp"
#include "core/base/expression.hpp"
#include "core/base/text.hpp"
#include "core/model/timed_course.hpp"

namespace anvil::model {

/// Kinds that a parameter's unit may have.
constexpr Kind withUnits[] = {Kind::length,      Kind::force,  Kind::stress,  Kind::time,
                              Kind::temperature, Kind::angle,  Kind::density, Kind::lineForce,
                              Kind::expansion,   Kind::moment, Kind::damping, Kind::turnDamping};

Kind kindOfUnit(const std::string& unit) {
  for (const Kind kind : withUnits)
    if (fits(unit, kind)) return kind;
  return Kind::number;
}

const std::string& fileUnit(const FileUnits& units, Kind kind) {
  static const std::string none, lineForce = "N/mm", expansion = "1/K", moment = "N mm", turnStiffness = "N mm/rad",
                                 damping = "N s/mm", turnDamping = "N mm s/rad";
  switch (kind) {
    case Kind::length:
      return units.length;
    case Kind::force:
      return units.force;
    case Kind::stress:
      return units.stress;
    case Kind::time:
      return units.time;
    case Kind::temperature:
      return units.temperature;
    case Kind::angle:
      return units.angle;
    case Kind::density:
      return units.density;
    case Kind::lineForce:
      return lineForce;
    case Kind::expansion:
      return expansion;
    case Kind::moment:
      return moment;
    case Kind::turnStiffness:
      return turnStiffness;
    case Kind::damping:
      return damping;
    case Kind::turnDamping:
      return turnDamping;
    case Kind::number:
    case Kind::work:
    case Kind::area:
    case Kind::volume:
    case Kind::mass:
    case Kind::lineMoment:
    case Kind::curvature:
    case Kind::twist:
    case Kind::energyDensity:
    case Kind::percent:
      break;  // no entry is of these
  }
  return none;
}

const std::string& Quantities::unitOf(Kind kind) const { return fileUnit(units_, kind); }

Quantities::Quantities(const Document& document) : units_(document.units) {
  for (const auto& [kind, name] : {std::pair{Kind::length, "length"},
                                   {Kind::force, "force"},
                                   {Kind::stress, "stress"},
                                   {Kind::time, "time"},
                                   {Kind::temperature, "temperature"},
                                   {Kind::angle, "angle"},
                                   {Kind::density, "density"}})
    try {
      conversion(unitOf(kind), kind);
    } catch (const Error& e) {
      throw Error(e.wrong(), std::string("units/") + name, e.remedy());
    }
  workOut(document.parameters);
}

/// Parameters may use each other in any order: each is worked out once all it uses are.
void Quantities::workOut(const Named<Entry>& parameters) {
  std::map<std::string, size_t> place;
  for (size_t i = 0; i < parameters.size(); ++i) place[parameters[i].first] = i;
  std::vector<std::vector<size_t>> usedBy(parameters.size());
  std::vector<size_t> waitsFor(parameters.size(), 0), ready;
  for (size_t i = 0; i < parameters.size(); ++i) {
    const auto& [name, entry] = parameters[i];
    if (!entry.number && entry.text.starts_with("=")) try {
        for (const auto& used : namesIn(entry.text.substr(1)))
          if (const auto at = place.find(used); at != place.end()) usedBy[at->second].push_back(i), ++waitsFor[i];
      } catch (const Error& e) {
        throw Error(e.wrong(), "parameters/" + name, e.remedy());
      }
    if (waitsFor[i] == 0) ready.push_back(i);
  }
  size_t done = 0;
  for (; done < ready.size(); ++done) {
    const auto& [name, entry] = parameters[ready[done]];
    parameters_[name] = inFileUnits(entry, "parameters/" + name);
    learnMeasure(name, entry);
    for (size_t user : usedBy[ready[done]])
      if (--waitsFor[user] == 0) ready.push_back(user);
  }
  if (done == parameters.size()) return;
  std::vector<std::string> names;
  for (size_t i = 0; i < parameters.size(); ++i)
    if (waitsFor[i] > 0) names.push_back(parameters[i].first);
  const auto& first = parameters[place[names.front()]].second;
  const auto used = namesIn(first.text.substr(1));
  if (std::find(used.begin(), used.end(), names.front()) != used.end())
    throw Error("the parameter '" + names.front() + "' needs itself ('" + brief(first.text) + "')", "parameters/" + names.front(),
                "Give it a number, or name another parameter.");
  throw Error("the parameters " + inProse(names) + " need each other", "parameters/" + names.front(),
              "Give one of them a number.");
}

void Quantities::learnMeasure(const std::string& name, const Entry& entry) {
  double number;
  std::string unit;
  if (entry.number) return;
  if (!entry.text.starts_with("=")) {
    if (!splitQuantity(entry.text, number, unit) || unit.empty()) return;
    if (const Kind kind = kindOfUnit(unit); kind != Kind::number) measures_[name] = {kind, name, entry.text};
    return;
  }
  for (const auto& used : addends(entry.text.substr(1)))
    if (const auto known = measures_.find(used); known != measures_.end()) {
      const auto [mine, first] = measures_.try_emplace(name, known->second);
      if (!first && mine->second.kind != known->second.kind)
        throw Error("'" + entry.text + "' adds " + kindName(known->second.kind) + " to " + kindName(mine->second.kind) + ": '" +
                        known->second.origin + "' is " + known->second.value + ", '" + mine->second.origin + "' is " +
                        mine->second.value,
                    "parameters/" + name, "Give both in units of the same kind.");
    }
}

/// Where a formula adds parameters up, its result measures what they measure.
void Quantities::checkMeasure(const std::string& formula, Kind kind) const {
  if (kind == Kind::number || measures_.empty()) return;  // a count from "=length/0.5" is fair
  for (const auto& used : addends(formula))
    if (const auto known = measures_.find(used); known != measures_.end() && !fits(coreUnit(known->second.kind), kind))
      throw Error("'=" + formula + "' stands for " + kindName(kind) + ", but the parameter '" + known->second.origin + "' is " +
                      kindName(known->second.kind) + " (" + known->second.value + ")",
                  {}, "Give '" + known->second.origin + "' in " + commonUnits(kind).front() + ", or mend the formula.");
}

double Quantities::inFileUnits(const Entry& entry, const std::string& path) const try {
  if (entry.number) return *entry.number;
  if (entry.text.starts_with("=")) return evaluate(entry.text.substr(1), parameters_);
  double number;
  std::string unit;
  if (!splitQuantity(entry.text, number, unit))
    throw Error("'" + brief(entry.text) + "' is not a number with a unit", {}, "Write for example \"12 mm\" or \"=2*wall\".");
  if (unit.empty()) return number;
  const Kind kind = kindOfUnit(unit);
  const double core = conversion(unit, kind).toCore(number);  // throws with the reason where it is none of an entry's
  return kind == Kind::number ? number : conversion(unitOf(kind), kind).fromCore(core);
} catch (const Error& e) {
  throw e.where().empty() ? Error(e.wrong(), path, e.remedy()) : e;
}

/// Nothing that is built is described by larger numbers, in any unit of the core.
static double meant(double value, Kind kind) {
  if (!(std::abs(value) <= 1e30))
    throw Error(shortNumber(value) + (*coreUnit(kind) ? std::string(" ") + coreUnit(kind) : "") + " is too large to be meant", {},
                "Check the number and its unit.");
  return value;
}

double Quantities::operator()(const Entry& entry, Kind kind, const std::string& path) const try {
  if (!entry.given()) throw Error("a value is missing", {}, std::string("Give ") + kindName(kind) + ".");
  double number;
  std::string unit;
  if (!entry.number && !entry.text.starts_with("=") && splitQuantity(entry.text, number, unit) && !unit.empty())
    return meant(conversion(unit, kind).toCore(number), kind);
  if (!entry.number && entry.text.starts_with("=")) checkMeasure(entry.text.substr(1), kind);
  return meant(conversion(unitOf(kind), kind).toCore(inFileUnits(entry, path)), kind);
} catch (const Error& e) {
  throw e.where().empty() ? Error(e.wrong(), path, e.remedy()) : e;
}

double Quantities::inCoreUnits(const Entry& entry, Kind kind, const std::string& path) const {
  double number;
  std::string unit;
  const bool written = !entry.number && splitQuantity(entry.text, number, unit) && !unit.empty();
  return (*this)(entry, written ? kind : Kind::number, path);
}

int Quantities::whole(const Entry& entry, int least, int most, const std::string& path, bool rounded) const {
  const double count = (*this)(entry, Kind::number, path);
  const bool whole = (rounded && entry.text.starts_with("=")) || std::abs(count - std::round(count)) <= 1e-9 * std::abs(count);
  if (!whole || !(count > least - 0.5 && count < most + 0.5))
    throw Error((rounded ? "the number of elements is " : "the number is ") + shortNumber(count, 10), path,
                "Give a whole number from " + std::to_string(least) + " to " + std::to_string(most) + ".");
  return int(std::lround(count));
}

double Quantities::orElse(const Entry& entry, Kind kind, double otherwise, const std::string& path) const {
  return entry.given() ? (*this)(entry, kind, path) : otherwise;
}

std::vector<double> Quantities::list(const std::vector<Entry>& entries, Kind kind, const std::string& path) const {
  std::vector<double> values;
  for (size_t i = 0; i < entries.size(); ++i) values.push_back((*this)(entries[i], kind, path + "/" + std::to_string(i + 1)));
  return values;
}

std::array<double, 3> Quantities::inSpace(const Direction& direction, const std::string& path, const std::string& example) const {
  std::array<double, 3> v{0, 0, 0};
  const bool back = direction.axis.starts_with('-');
  const auto word = direction.axis.substr(back ? 1 : 0);
  if (word == "x" || word == "y" || word == "z") {
    v[size_t(word[0] - 'x')] = back ? -1 : 1;
    return v;
  }
  const auto given = list(direction.vector, Kind::number, path);
  if (given.size() == 3) {
    const double length = std::hypot(given[0], given[1], given[2]);
    if (length > 0 && std::isfinite(length)) {
      for (size_t k = 0; k < 3; ++k) v[k] = given[k] / length;
      return v;
    }
  }
  throw Error(word.empty() ? "the direction needs three numbers that are not all zero"
                           : "'" + direction.axis + "' is not a direction in space",
              path, "Write x, y, z or three numbers that are not all zero: " + example);
}

void setParameter(Document& document, const std::string& assignment) {
  const auto equals = assignment.find('=');
  const auto name = assignment.substr(0, equals);
  Entry* entry = document.parameters.find(name);
  if (equals == std::string::npos && entry)
    throw Error("no value is given for '" + name + "'", "--set " + assignment, "Write " + name + "=value.");
  if (entry && assignment.size() == equals + 1)
    throw Error("the value for '" + name + "' is empty", "--set " + assignment, "Write " + name + "=value.");
  if (equals == std::string::npos || !entry) {
    const auto near = nearest(name, document.parameters.names());
    throw Error("'" + name + "' is not a parameter of this model", "--set " + assignment,
                !near.empty()                 ? "Did you mean '" + near + "'?"
                : document.parameters.empty() ? "The model has no parameters."
                                              : "Parameters: " + inProse(document.parameters.names()) + ".");
  }
  double number;
  std::string unit;
  const auto value = assignment.substr(equals + 1);
  // what had a unit is not given one of another kind
  std::string before;
  if (!entry->text.empty() && splitQuantity(entry->text, number, before) && !before.empty() &&
      splitQuantity(value, number, unit) && !unit.empty())
    for (const Kind kind : withUnits)
      if (fits(before, kind) && !fits(unit, kind))
        throw Error("'" + name + "' is " + kindName(kind) + " (" + entry->text + " in the model), not " + unit,
                    "--set " + assignment, std::string("Give it in ") + inProse(commonUnits(kind)) + ".");
  *entry = splitQuantity(value, number, unit) && unit.empty() ? Entry(number) : Entry(value);
}

std::vector<double> stepTimes(const Document& document, const Quantities& quantities) {
  std::vector<double> times{0};
  for (const auto& [name, step] : document.steps) {
    const double t = quantities(step.time, Kind::time, "steps/" + name + "/time");
    if (t <= 0) throw Error("the step's time is " + shortNumber(t) + " s", "steps/" + name + "/time", "Give a time above zero.");
    if (t < 1e-10 * times.back())  // no increment of it would change the time
      throw Error("the step takes " + shortNumber(t) + " s after " + shortNumber(times.back()) + " s of others",
                  "steps/" + name + "/time", "Give times of like size: where nothing depends on the rate, 1 does.");
    times.push_back(times.back() + t);
  }
  return times;
}

static size_t stepIndex(const std::string& name, const Document& document, const std::string& path) {
  for (size_t i = 0; i < document.steps.size(); ++i)
    if (document.steps[i].first == name) return i;
  const auto near = nearest(name, document.steps.names());
  throw Error("there is no step '" + name + "'", path,
              near.empty() ? "Steps: " + inProse(document.steps.names()) + "." : "Did you mean '" + near + "'?");
}

Kind loadKind(const Load& load) {
  return load.kind == "pressure"           ? Kind::stress
         : load.kind == "moment"           ? Kind::moment
         : load.kind == "force per length" ? Kind::lineForce
                                           : Kind::force;
}

std::vector<bool> activeDuring(const std::vector<std::string>& during, const Document& document, const std::string& path) {
  std::vector<bool> active(document.steps.size(), during.empty());
  for (const auto& name : during) active[stepIndex(name, document, path)] = true;
  return active;
}

static void layTable(const Course& course, Kind kind, const Quantities& q, const std::string& path, Curve& curve) {
  for (size_t i = 0; i < course.table.size(); ++i) {
    const std::string row = path + "/table/" + std::to_string(i + 1);
    if (course.table[i].size() != 2) throw Error("a row needs time and value", row, "Write [time, value].");
    const double t = q(course.table[i][0], Kind::time, row), v = q(course.table[i][1], kind, row);
    if (!curve.empty() && t <= curve.x.back())
      throw Error("time does not go on from row " + std::to_string(i), row, "Sort the rows by time.");
    curve.add(t, v);
  }
}

TimedCourse timed(const Course& course, Kind kind, const Document& document, const Quantities& q, const std::string& path) {
  TimedCourse result;
  const auto times = stepTimes(document, q);
  const size_t n = document.steps.size();
  result.active.assign(n, true);
  if (!course.table.empty()) {
    layTable(course, kind, q, path, result.curve);
  } else if (course.stages.empty()) {
    if (n == 0) return result;
    result.curve.add(0, 0);
    result.curve.add(times[1], q(course.value, kind, path));
  } else {
    std::vector<const Stage*> stage(n, nullptr);
    for (const auto& [name, s] : course.stages) stage[stepIndex(name, document, path + "/" + name)] = &s;
    double value = 0;
    bool on = false;
    result.curve.add(0, 0);
    for (size_t i = 0; i < n; ++i) {
      const Stage* s = stage[i];
      if (s && s->how == How::off) on = false, value = 0;
      if (s && (s->how == How::ramp || s->how == How::atOnce)) {
        const double target = q(s->value, kind, path + "/" + document.steps[i].first);
        on = true;
        result.curve.add(times[i], s->how == How::atOnce ? target : value);
        value = target;
      } else if (s && s->how == How::hold) {
        on = true;
        result.curve.add(times[i], value);
      } else
        result.curve.add(times[i], value);
      result.curve.add(times[i + 1], value);
      result.active[i] = on;
    }
  }
  return result;
}

}  // namespace anvil::model
