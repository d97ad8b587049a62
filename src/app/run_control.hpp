// Starts, watches, pauses and ends the run, which is a process of its own.
#pragma once
#include <QObject>
#include <QProcess>
#include <QVector>

namespace anvil::app {

struct IterationRecord {
  QString step;
  int increment = 0, iteration = 0, contactChanges = 0, worstNode = -1;
  double time = 0, size = 0, force = 0, forceLimit = 0, correction = 0, correctionLimit = 0;
};

class RunControl : public QObject {
  Q_OBJECT
 public:
  enum class State { idle, running, paused, finished, stopped, failed };
  explicit RunControl(QObject* parent = nullptr);
  ~RunControl() override;

  State state() const { return state_; }
  bool active() const { return state_ == State::running || state_ == State::paused; }
  const QVector<IterationRecord>& iterations() const { return iterations_; }
  const QVector<double>& cutbacks() const { return cutbacks_; }  ///< times at which an increment was shortened
  const QString& message() const { return message_; }
  const QString& remedy() const { return remedy_; }
  const QString& results() const { return results_; }
  const QStringList& notes() const { return notes_; }

  void start(const QString& modelFile, const QString& resultsFile, bool resume);
  void pause();
  void resume();
  void stop();
  /// Path of the shell program.
  static QString program();

 signals:
  void changed();
  void iterated();
  void incremented();

 private:
  void read();
  void handle(const QByteArray& line);
  void ended(int code);
  QProcess process_;
  QByteArray buffer_;
  State state_ = State::idle, outcome_ = State::idle;  ///< the outcome holds once the process has ended
  QVector<IterationRecord> iterations_;
  QVector<double> cutbacks_;
  QString message_, remedy_, results_;
  QStringList notes_;
};

}  // namespace anvil::app
