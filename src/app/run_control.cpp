#include "app/run_control.hpp"

#include <QCoreApplication>
#include <QFileInfo>

#include "core/job/progress.hpp"
#include "core/model/place_words.hpp"

namespace anvil::app {

RunControl::RunControl(QObject* parent) : QObject(parent) {
  connect(&process_, &QProcess::readyReadStandardOutput, this, &RunControl::read);
  connect(&process_, &QProcess::finished, this, [this](int code) { ended(code); });
  connect(&process_, &QProcess::errorOccurred, this, [this](QProcess::ProcessError e) {
    if (e != QProcess::FailedToStart) return;
    state_ = State::failed, message_ = "The run could not be started: " + program() + " was not found.",
    remedy_ = "Build or install the program whole.";
    emit changed();
  });
}

RunControl::~RunControl() {
  disconnect(&process_, nullptr, this, nullptr);
  if (process_.state() == QProcess::NotRunning) return;
  process_.write("stop\n");
  if (!process_.waitForFinished(2000)) process_.kill(), process_.waitForFinished(1000);
}

QString RunControl::program() {
  const auto given = qEnvironmentVariable("ANVIL_CLI");
  if (!given.isEmpty()) return given;
  const auto here = QCoreApplication::applicationDirPath();
  for (const auto* place : {"/anvil", "/../cli/anvil", "/../src/cli/anvil"})
    if (const QFileInfo f(here + place); f.isExecutable() && f.isFile()) return f.absoluteFilePath();
  return "anvil";
}

void RunControl::start(const QString& modelFile, const QString& resultsFile, bool resume) {
  if (active()) return;
  iterations_.clear(), cutbacks_.clear(), notes_.clear(), buffer_.clear(), message_.clear(), remedy_.clear();
  results_ = resultsFile, state_ = State::running, outcome_ = State::idle;
  QStringList arguments{"run", modelFile, "--out", resultsFile, "--progress", "json"};
  if (resume) arguments << "--continue";
  process_.start(program(), arguments);
  emit changed();
}

void RunControl::pause() {
  if (state_ != State::running) return;
  process_.write("pause\n"), state_ = State::paused;
  emit changed();
}
void RunControl::resume() {
  if (state_ != State::paused) return;
  process_.write("resume\n"), state_ = State::running;
  emit changed();
}
void RunControl::stop() {
  if (active()) process_.write("stop\n");
}

void RunControl::read() {
  buffer_ += process_.readAllStandardOutput();
  for (qsizetype end; (end = buffer_.indexOf('\n')) >= 0; buffer_.remove(0, end + 1)) handle(buffer_.left(end));
}

void RunControl::handle(const QByteArray& line) {
  using Event = job::Progress::Event;
  const auto told = job::progressOf({line.constData(), size_t(line.size())});
  if (!told) return;
  const auto words = [](const std::string& text) { return QString::fromStdString(text); };
  const auto& p = *told;
  switch (p.event) {
    case Event::iteration:
      iterations_.push_back({words(p.step), p.increment, p.iteration, p.contactChanges, p.worstNode, p.time, p.size, p.force,
                             p.forceLimit, p.correction, p.correctionLimit});
      return emit iterated();
    case Event::increment:
      return emit incremented();
    case Event::cut:
      cutbacks_.push_back(p.time);
      notes_ << QString("Shorter increment: %1").arg(words(p.why));
      return emit iterated();
    case Event::note:
      notes_ << words(p.text);
      return;
    case Event::finished:
      outcome_ = State::finished, message_ = "Finished.";
      return;
    case Event::stopped:
      outcome_ = State::stopped, message_ = "Stopped; everything solved so far is kept.";
      return;
    case Event::failed:
      outcome_ = State::failed,
      message_ = (p.where.empty() ? "" : words(model::placeInWords(p.where)) + ": ") + words(p.what) + ".";
      remedy_ = words(p.remedy);
      return;
    case Event::start:
    case Event::meshing:
    case Event::paused:
    case Event::resumed:
      return;
  }
}

void RunControl::ended(int code) {
  read();
  state_ = outcome_;
  if (outcome_ == State::idle) {  // it ended without a word
    state_ = State::failed;
    message_ = process_.exitStatus() == QProcess::CrashExit ? "The run ended unexpectedly; everything solved so far is kept."
                                                            : QString("The run ended with code %1.").arg(code);
    const auto said = QString::fromUtf8(process_.readAllStandardError()).trimmed();
    if (!said.isEmpty()) message_ += " " + said;
    remedy_ = "Continue it from the last increment, or run again.";
  }
  emit incremented();
  emit changed();
}

}  // namespace anvil::app
