// What the loading history shows: a lane for each acting thing, and marks where something begins or ends.
#pragma once
#include <QColor>
#include <QString>
#include <QStringList>
#include <vector>

#include "core/base/units.hpp"
#include "core/model/forward.hpp"

namespace anvil::app {

class ResultStore;

/// One row: an acting thing with its course.
struct Lane {
  QString kind, name;        ///< "motions", "pull"
  std::vector<double> t, v;  ///< its course
  std::vector<bool> active;  ///< per step
  Kind unit = Kind::number;  ///< of its values
  QStringList cells;         ///< words per step
  bool editable = false;     ///< cells take a value
};

/// Lanes of a document, by kind and in its order; what cannot be evaluated has no course, and a question mark in its first cell.
std::vector<Lane> lanesOf(const model::Document& document);

/// Times of the steps' ends, s, from 0 on; a second for each where they cannot be evaluated.
std::vector<double> shownTimes(const model::Document& document);

/// A moment that is marked.
struct Mark {
  double time;
  QString words;
  QColor color;
};

/// Where contacts closed or opened and where yielding began, by time.
std::vector<Mark> marksOf(const ResultStore& results, const model::Document& document);

}  // namespace anvil::app
