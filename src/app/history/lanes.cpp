#include "app/history/lanes.hpp"

#include <algorithm>
#include <memory>

#include "app/history/step_edits.hpp"
#include "app/result_store.hpp"
#include "app/theme.hpp"
#include "core/base/error.hpp"
#include "core/model/actions.hpp"
#include "core/model/bolts.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/quantities.hpp"
#include "core/model/timed_course.hpp"

namespace anvil::app {
namespace {

/// Null where the document's parameters cannot be evaluated: readiness says what is wrong, lanes are still shown.
std::unique_ptr<model::Quantities> quantitiesOf(const model::Document& d) {
  try {
    return std::make_unique<model::Quantities>(d);
  } catch (const Error&) {
    return nullptr;
  }
}

class Lister {
 public:
  explicit Lister(const model::Document& d) : d_(d), steps_(d.steps.names()), q_(quantitiesOf(d)) {}

  Lane lane(const char* kind, const std::string& name) const {
    Lane lane;
    lane.kind = kind, lane.name = QString::fromStdString(name);
    lane.active.assign(steps_.size(), true);
    return lane;
  }

  Lane byCourse(const char* kind, const std::string& name, const model::Course& course, Kind unit) const {
    Lane lane = this->lane(kind, name);
    lane.editable = course.table.empty(), lane.unit = unit;
    for (size_t i = 0; i < steps_.size(); ++i) lane.cells << withFileUnit(cellWords(course, steps_[i], i), unit, d_.units);
    if (!q_ || !course.given()) return lane;
    try {
      const auto t = model::timed(course, unit, d_, *q_, name);
      lane.t = t.curve.x, lane.v = t.curve.y, lane.active = t.active;
    } catch (const Error&) {
      if (!lane.cells.isEmpty()) lane.cells[0] += " ?";
    }
    return lane;
  }

  Lane bySteps(const char* kind, const std::string& name, const std::vector<std::string>& during) const {
    Lane lane = this->lane(kind, name);
    for (size_t i = 0; i < steps_.size(); ++i) {
      const bool on = during.empty() || std::find(during.begin(), during.end(), steps_[i]) != during.end();
      lane.active[i] = on;
      lane.cells << (on && i == 0 ? "acts" : "");
    }
    return lane;
  }

  Lane bolt(const std::string& name, const model::Bolt& b) const {
    Lane lane = byCourse("bolts", name, b.force, Kind::force);
    bool tightened = false;
    for (int i = 0; i < lane.cells.size(); ++i) {  // it keeps its length wherever no force is given
      const auto& step = steps_[size_t(i)];
      const auto* drawn = b.shortening.stages.find(step);
      const bool off = lane.cells[i] == "off", given = !lane.cells[i].isEmpty() && lane.cells[i] != "hold" && !off;
      if (given)
        lane.cells[i] = "tighten " + lane.cells[i];
      else if (drawn && drawn->value.given())
        lane.cells[i] = "shorten " + withFileUnit(cellWords(b.shortening, step, size_t(i)), Kind::length, d_.units);
      else if (off)
        lane.cells[i] = "slack";
      else
        lane.cells[i] = tightened ? "hold" : QString();
      tightened |= given || drawn;
      lane.active[size_t(i)] = !lane.cells[i].isEmpty();
    }
    return lane;
  }

 private:
  const model::Document& d_;
  std::vector<std::string> steps_;
  std::unique_ptr<model::Quantities> q_;
};

}  // namespace

std::vector<Lane> lanesOf(const model::Document& d) {
  const Lister list(d);
  std::vector<Lane> lanes;
  for (const auto& [n, m] : d.motions)
    lanes.push_back(list.byCourse("motions", n, m.course, m.along.axis.starts_with("turn") ? Kind::angle : Kind::length));
  for (const auto& [n, l] : d.loads) lanes.push_back(list.byCourse("loads", n, l.course, model::loadKind(l)));
  for (const auto& [n, b] : d.bolts) lanes.push_back(list.bolt(n, b));
  for (const auto& [n, t] : d.temperatures) lanes.push_back(list.byCourse("temperatures", n, t.rise, Kind::number));
  for (const auto& [n, c] : d.contacts)
    lanes.push_back(c.interference.given() ? list.byCourse("contacts", n, c.interference, Kind::length)
                                           : list.bySteps("contacts", n, c.during));
  for (const auto& [n, s] : d.supports) lanes.push_back(list.bySteps("supports", n, s.during));
  for (const auto& [n, s] : d.stabilisations) lanes.push_back(list.bySteps("stabilisations", n, s.during));
  return lanes;
}

std::vector<double> shownTimes(const model::Document& d) {
  if (const auto q = quantitiesOf(d)) try {
      return model::stepTimes(d, *q);
    } catch (const Error&) {
    }
  std::vector<double> times{0};
  for (size_t i = 0; i < d.steps.size(); ++i) times.push_back(double(i) + 1);
  return times;
}

std::vector<Mark> marksOf(const ResultStore& results, const model::Document& document) {
  std::vector<Mark> marks;
  if (!results.has()) return marks;
  const auto t = results.times();
  for (const auto& contact : results.header().contacts) {
    const auto* own = document.contacts.find(contact.name);
    if (own && (own->kind == "tied" || own->kind == "cyclic")) continue;  // from the first moment to the last
    const auto* area = results.history(QString::fromStdString("contacts/" + contact.name + "/area"));
    for (size_t i = 0; area && i < area->size(); ++i) {
      const bool now = (*area)[i] > 0, before = i > 0 && (*area)[i - 1] > 0;
      if (now != before)
        marks.push_back({t[i], QString::fromStdString(contact.name) + (now ? " closes" : " opens"), laneColor("contacts")});
    }
  }
  const auto* strain = results.history("plasticity/greatest plastic strain");
  for (size_t i = 0; strain && i < strain->size(); ++i)
    if ((*strain)[i] > 0) {
      marks.push_back({t[i], "yielding begins", theme().accent});
      break;
    }
  std::stable_sort(marks.begin(), marks.end(), [](const Mark& a, const Mark& b) { return a.time < b.time; });
  return marks;
}

}  // namespace anvil::app
