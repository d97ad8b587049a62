#include "app/curves/laid_runs.hpp"

#include <QFileInfo>
#include <QTime>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"

namespace anvil::app {
namespace {

QString written(const model::Entry& e) {
  return e.number ? QString::fromStdString(shortNumber(*e.number)) : QString::fromStdString(e.text);
}

}  // namespace

std::vector<double> LaidRun::column(const QString& history) const {
  if (history == "time") return times;
  const auto at = histories.find(history);
  return at == histories.end() ? std::vector<double>() : at->second;
}

LaidRun keptRun(const ResultStore& results) {
  LaidRun run;
  run.model = results.header().model, run.times = results.times();
  for (const auto& name : results.header().historyNames)
    if (const auto* values = results.history(QString::fromStdString(name))) run.histories[QString::fromStdString(name)] = *values;
  run.name = "kept at " + QTime::currentTime().toString("HH:mm");
  return run;
}

LaidRun readRun(const QString& file) {
  const results::Reader reader(file.toStdString());
  LaidRun run;
  run.model = reader.header().model, run.times = reader.times(), run.name = QFileInfo(file).completeBaseName();
  for (const auto& name : reader.header().historyNames) run.histories[QString::fromStdString(name)] = reader.history(name);
  return run;
}

QString whatDiffers(const std::string& model, const std::string& other, const QString& otherwise) {
  try {
    const auto a = model::parse(model), b = model::parse(other);
    QStringList words;
    for (const auto& [name, value] : a.parameters)
      if (const auto* there = b.parameters.find(name); !there || !(*there == value))
        words << QString::fromStdString(name) + " = " + written(value);
    if (!words.isEmpty()) return words.mid(0, 3).join(", ");
    if (a.title != b.title && !a.title.empty()) return QString::fromStdString(a.title);
  } catch (const Error&) {  // a model of another day
  }
  return otherwise;
}

}  // namespace anvil::app
