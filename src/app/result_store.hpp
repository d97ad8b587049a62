// The results on show: file, moment, field. Reads while the run writes.
#pragma once
#include <QObject>
#include <memory>
#include <optional>

#include "core/results/fields.hpp"
#include "core/results/store.hpp"

namespace anvil::app {

class ResultStore : public QObject {
  Q_OBJECT
public:
  using QObject::QObject;

  bool has() const { return reader_ != nullptr && !reader_->rows().empty(); }
  const results::Reader* reader() const { return reader_.get(); }
  /// Opens a file; false (and nothing on show) when there is none or it cannot be read; `why` says it.
  bool open(const QString& path, QString* why = nullptr);
  void close();
  /// Looks for new increments; follows the last one when `follow`.
  void refresh(bool follow);

  /// Stored increment on show; -1 is "as built".
  int row() const { return row_; }
  void setRow(int row);
  double time() const;
  /// The row nearest to a time; -1 at or before zero.
  int rowAt(double time) const;

  const QString& field() const { return field_; }
  void setField(const QString& name);
  bool rangeLocked() const { return locked_.has_value(); }
  void lockRange(bool lock);

  /// Nodal values on show and their range (the locked one if so).
  const std::vector<double>& values() const { return values_; }
  double low() const { return low_; }
  double high() const { return high_; }
  bool isSigned() const;
  QString unit() const;

signals:
  void changed();      ///< other results, or more increments
  void rowChanged();
  void fieldChanged();

private:
  void load();
  std::unique_ptr<results::Reader> reader_;
  QString field_ = "von Mises stress";
  int row_ = -1;
  std::vector<double> values_;
  double low_ = 0, high_ = 1;
  std::optional<std::pair<double, double>> locked_;
};

}  // namespace anvil::app
