#include "app/result_store.hpp"

#include <algorithm>
#include <cmath>

#include "core/base/error.hpp"

namespace anvil::app {

bool ResultStore::open(const QString& path, QString* why) {
  try {
    reader_ = std::make_unique<results::Reader>(path.toStdString());
  } catch (const Error& e) {
    reader_.reset();
    if (why) *why = e.what();
  }
  row_ = -1, locked_.reset(), values_.clear();
  emit changed();
  emit rowChanged();
  return reader_ != nullptr;
}

void ResultStore::close() {
  reader_.reset();
  row_ = -1, values_.clear(), locked_.reset();
  emit changed();
  emit rowChanged();
}

void ResultStore::refresh(bool follow) {
  if (!reader_) return;
  try {
    reader_->refresh();
  } catch (const Error&) {
    return;  // the writer is just adding a row: the next event looks again
  }
  emit changed();
  if (follow && !reader_->rows().empty()) setRow(int(reader_->rows().size()) - 1);
}

void ResultStore::setRow(int row) {
  const int last = reader_ ? int(reader_->rows().size()) - 1 : -1;
  row = std::clamp(row, -1, last);
  row_ = row;
  load();
  emit rowChanged();
}

double ResultStore::time() const { return row_ < 0 || !has() ? 0 : reader_->rows()[size_t(row_)].time; }

int ResultStore::rowAt(double time) const {
  if (!has()) return -1;
  const auto& rows = reader_->rows();
  int best = -1;
  double least = std::abs(time);
  for (size_t i = 0; i < rows.size(); ++i)
    if (std::abs(rows[i].time - time) < least) least = std::abs(rows[i].time - time), best = int(i);
  return best;
}

void ResultStore::setField(const QString& name) {
  field_ = name;
  locked_.reset();
  load();
  emit fieldChanged();
}

void ResultStore::lockRange(bool lock) {
  if (lock) locked_ = {low_, high_};
  else locked_.reset();
  load();
  emit fieldChanged();
}

bool ResultStore::isSigned() const {
  if (!reader_) return false;
  for (const auto& f : results::fieldList(reader_->header()))
    if (QString::fromStdString(f.name) == field_) return f.isSigned;
  return false;
}

QString ResultStore::unit() const {
  if (reader_)
    for (const auto& f : results::fieldList(reader_->header()))
      if (QString::fromStdString(f.name) == field_) return QString::fromStdString(f.unit);
  return {};
}

void ResultStore::load() {
  values_.clear();
  if (row_ < 0 || !has()) return;
  try {
    values_ = results::nodalField(*reader_, field_.toStdString(), size_t(row_));
  } catch (const Error&) {
    return;
  }
  std::vector<char> used(values_.size(), 0);
  for (const auto& b : reader_->header().mesh.blocks)
    for (int n : b.nodes) used[size_t(n)] = 1;
  low_ = 1e300, high_ = -1e300;
  for (size_t i = 0; i < values_.size(); ++i)
    if (used[i]) low_ = std::min(low_, values_[i]), high_ = std::max(high_, values_[i]);
  if (isSigned()) high_ = std::max(std::abs(low_), std::abs(high_)), low_ = -high_;
  if (locked_) std::tie(low_, high_) = *locked_;
  if (high_ - low_ < 1e-12 * std::max(1., std::abs(high_))) high_ = low_ + std::max(1e-9, std::abs(low_) * 1e-6);
}

}  // namespace anvil::app
