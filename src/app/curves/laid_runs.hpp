// Runs that are laid over the one on show: kept before a rerun, or read from a results file.
#pragma once
#include <QString>
#include <map>
#include <string>
#include <vector>

#include "app/result_store.hpp"

namespace anvil::app {

struct LaidRun {
  QString name;       ///< what sets it apart
  std::string model;  ///< its model file's text
  std::vector<double> times;
  std::map<QString, std::vector<double>> histories;  ///< per increment
  bool shown = true;
  /// "time" or a history; empty where the run has none of that name.
  std::vector<double> column(const QString& history) const;
};

/// The histories on show, to be kept.
LaidRun keptRun(const ResultStore& results);
/// The histories of a results file. Throws Error.
LaidRun readRun(const QString& file);

/// What sets one model apart from another: parameters of other value ("flange = 8"), else its title, else `otherwise`.
QString whatDiffers(const std::string& model, const std::string& other, const QString& otherwise);

}  // namespace anvil::app
