// What the loading history does to steps and courses, on plain documents.
#pragma once
#include <QString>

#include "core/base/units.hpp"
#include "core/model/file_units.hpp"
#include "core/model/forward.hpp"

namespace anvil::app {

/// A course's words in a step ("0.3 mm", "hold", "off", "at once 12", "" when nothing is said).
QString cellWords(const model::Course& course, const std::string& step, size_t index);
/// The same for the units on show: bare numbers of the file's unit have it behind them where that is another; and back.
QString withFileUnit(const QString& words, Kind kind, const model::FileUnits& units);
QString asWritten(const QString& words, Kind kind, const model::FileUnits& units);
/// Puts a cell's words into a course; empty words take the stage out.
void setCell(model::Course& course, const std::string& step, size_t index, const QString& words, const model::Document& document);
/// What a bolt does in a step, in words: a force ("6.5 kN", "tighten 6.5 kN"), "shorten 0.1", "slack" (or "off"), "hold" or
/// nothing.
void setBoltCell(model::Bolt& bolt, const std::string& step, size_t index, const QString& words, const model::Document& document);
/// The course of a motion or load by name; null when there is none.
model::Course* courseOf(model::Document& document, const QString& kind, const QString& name);

/// Adds a step behind the given one (at the end when out of range), with its increments. Returns its name.
std::string addStep(model::Document& document, int after);
/// Takes a step out with all that is said about it.
void removeStep(model::Document& document, const std::string& name);
/// Halves a step; the courses go on through the new border as before. Returns the second half's name.
/// Throws Error when a course cannot be evaluated.
std::string splitStep(model::Document& document, const std::string& name);
/// Adds a copy of a step behind it, with the same cells. Returns its name.
std::string repeatStep(model::Document& document, const std::string& name);
/// Moves a step to another place in the order; its cells go with it.
void moveStep(model::Document& document, const std::string& name, int to);
/// Sets a step's duration in seconds, written in the file's unit. Throws Error when it is not above zero.
void setStepTime(model::Document& document, const std::string& name, double seconds);
/// Copies a cell of a lane to the next step, or to all later ones.
void copyCell(model::Document& document, const QString& kind, const QString& name, const std::string& step, bool toAllLater);

}  // namespace anvil::app
