// The results on show: file, moment, field. All reading goes on beside the window, while the run writes; the newest
// wish wins.
#pragma once
#include <QObject>
#include <QStringList>
#include <QThreadPool>
#include <atomic>
#include <map>
#include <memory>
#include <mutex>
#include <optional>

#include "core/results/fields.hpp"
#include "core/results/store.hpp"

namespace anvil::app {

/// What is small enough to be kept of a whole run.
struct Series {
  std::shared_ptr<const results::Header> header;
  std::shared_ptr<const std::vector<bool>> thin;  ///< per node: of a thin element
  std::vector<results::RowInfo> rows;
  std::map<QString, std::vector<double>> histories;  ///< per increment
};

/// One stored increment, with one field.
struct Snapshot {
  int row = -1;
  QString field;
  std::vector<double> values;  ///< of the field, per node
  double least = 0, greatest = 1;
  std::vector<float> displacement, turn;
  std::vector<double> ends;  ///< of the field, at both ends of every cell of slender parts
  std::vector<double> rigid;
  std::vector<std::vector<float>> contacts;  ///< per contact: results::contactColumns per node
  QString trouble;
};

/// A field's value at a node over the history: a pin sent to Curves.
struct Trace {
  QString field;
  int node = -1;
  std::vector<double> values;
  QString name() const { return QString("%1 at node %2").arg(field).arg(node + 1); }
};

/// Nodes of a contact by status.
struct ContactTally {
  int open = 0, sliding = 0, sticking = 0;
};

class ResultStore : public QObject {
  Q_OBJECT
 public:
  explicit ResultStore(QObject* parent = nullptr);
  ~ResultStore() override;

  /// Opens a file; `opened` or `refused` follows, at once when the file is quickly read.
  void open(const QString& path);
  /// Lets the file go; with `wait`, nobody here holds it when this returns.
  void close(bool wait = false);
  /// Looks for new increments; follows the last one when `follow`.
  void refresh(bool follow);
  bool isOpen() const { return series_ != nullptr; }
  bool has() const { return series_ && !series_->rows.empty(); }
  /// True while something asked for has not come yet.
  bool busy() const { return busy_; }

  /// To be called only while a file is open.
  const results::Header& header() const { return *series_->header; }
  const std::vector<results::RowInfo>& rows() const;
  int last() const { return int(rows().size()) - 1; }
  std::vector<double> times() const;
  /// Null when there is no such history.
  const std::vector<double>* history(const QString& name) const;

  /// Increment of the playhead; -1 is "as built". What is on show follows as soon as it is read.
  int row() const { return row_; }
  void setRow(int row);
  double time() const;
  /// The row nearest to a time; -1 at or before zero.
  int rowAt(double time) const;
  /// What is on show.
  const Snapshot& moment() const { return moment_; }

  /// How a contact stands at the moment on show; of all its pairs when it is between everything.
  ContactTally contactTally(const QString& contact) const;

  const QString& field() const { return field_; }
  void setField(const QString& name);
  bool rangeLocked() const { return locked_.has_value(); }
  void lockRange(bool lock);

  /// Nodal values on show and their range (the locked one if so).
  const std::vector<double>& values() const { return moment_.values; }
  double low() const { return low_; }
  double high() const { return high_; }
  bool isSigned() const;
  Kind kind() const { return kindOf(moment_.field); }
  /// Nodes where the field on show is rough, for their elements are thin; null for fields that are not recovered from elements.
  const std::vector<bool>* rough() const;
  Kind kindOf(const QString& field) const;

  /// Follows the field on show at nodes over the history; `tracesChanged` follows.
  void trace(const std::vector<int>& nodes);
  const std::vector<Trace>& traces() const { return traces_; }
  void clearTraces();

 signals:
  void opened();
  void refused(const QString& why);
  void changed();  ///< other results, or more increments
  void playheadMoved();
  void rowChanged();  ///< another moment is on show
  void fieldChanged();
  void tracesChanged();

 private:
  struct Job;
  struct Outcome;
  struct Hands;  // the reader, touched by the worker only
  void ask(const std::function<void(Job&)>& wish);
  void start();
  void take();
  void setRange();
  static Outcome work(Hands& hands, const Job& job);

  QThreadPool pool_;
  std::shared_ptr<Hands> hands_;
  std::unique_ptr<Job> wanted_;
  std::mutex mutex_;
  std::shared_ptr<Outcome> done_;
  std::shared_ptr<std::atomic<bool>> stop_;  ///< of the file that is open
  bool busy_ = false;
  quint64 generation_ = 0;
  quint64 steered_ = 0;  ///< times the playhead was moved by hand

  std::shared_ptr<const Series> series_;
  Snapshot moment_;
  std::vector<Trace> traces_;
  QString field_ = "von Mises stress";
  int row_ = -1;
  double low_ = 0, high_ = 1;
  std::optional<std::pair<double, double>> locked_;
};

}  // namespace anvil::app
