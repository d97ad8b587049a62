#include "app/result_store.hpp"

#include <algorithm>
#include <cmath>
#include <functional>

#include "core/base/error.hpp"
#include "core/mesh/quality.hpp"
#include "core/results/slender_fields.hpp"

namespace anvil::app {

namespace {
constexpr int patience = 40;  ///< ms that a wish may be waited for, so that quick ones are fulfilled at once
}

/// What the worker is to do, in this order.
struct ResultStore::Job {
  quint64 generation = 0, steered = 0;
  std::optional<QString> path;
  bool refresh = false, follow = false;
  std::optional<std::pair<int, QString>> moment;
  std::vector<Trace> traces;  ///< to be made as long as the history
  std::shared_ptr<std::atomic<bool>> stop;
  bool empty() const { return !path && !refresh && !moment && traces.empty(); }
};

struct ResultStore::Outcome {
  quint64 generation = 0, steered = 0;
  bool opened = false, follow = false;
  QString refused;
  std::shared_ptr<const Series> series;
  std::optional<Snapshot> moment;
  std::vector<Trace> traces;
};

struct ResultStore::Hands {
  std::unique_ptr<results::Reader> reader;
  std::shared_ptr<const results::Header> header;
  std::shared_ptr<const std::vector<bool>> thin;
};

namespace {

/// Nodes of ill-shaped elements; null when there are none.
std::shared_ptr<const std::vector<bool>> thinNodesOf(const mesh::Mesh& mesh) {
  auto thin = mesh::nodesOfSlivers(mesh);
  if (std::find(thin.begin(), thin.end(), true) == thin.end()) return nullptr;
  return std::make_shared<const std::vector<bool>>(std::move(thin));
}

std::shared_ptr<const Series> seriesOf(const results::Reader& reader, std::shared_ptr<const results::Header> header,
                                       std::shared_ptr<const std::vector<bool>> thin) {
  auto s = std::make_shared<Series>();
  s->thin = std::move(thin), s->header = std::move(header), s->rows = reader.rows();
  const auto table = reader.histories();
  const auto& names = s->header->historyNames;
  for (size_t k = 0; k < names.size(); ++k) {
    auto& column = s->histories[QString::fromStdString(names[k])];
    for (size_t r = 0; (r + 1) * names.size() <= table.size(); ++r) column.push_back(table[r * names.size() + k]);
  }
  return s;
}

Snapshot momentOf(const results::Reader& reader, int row, const QString& field) {
  Snapshot m;
  m.row = row, m.field = field;
  try {
    const auto at = reader.storedNear(size_t(row));
    m.row = int(at);
    m.displacement = reader.field("displacement", at), m.rigid = reader.rigid(at);
    for (size_t k = 0; k < reader.header().contacts.size(); ++k) m.contacts.push_back(reader.contact(k, at));
    m.values = results::nodalField(reader, field.toStdString(), at);
    m.ends = results::slenderEnds(reader, field.toStdString(), at, m.values);
    if (!m.ends.empty()) m.turn = reader.field("turn", at);
  } catch (const Error& e) {
    m.trouble = e.what();
    return m;
  }
  m.least = 1e300, m.greatest = -1e300;
  for (const auto& b : reader.header().mesh.blocks)
    for (int n : b.nodes)
      m.least = std::min(m.least, m.values[size_t(n)]), m.greatest = std::max(m.greatest, m.values[size_t(n)]);
  for (double v : m.ends) m.least = std::min(m.least, v), m.greatest = std::max(m.greatest, v);
  return m;
}

}  // namespace

ResultStore::ResultStore(QObject* parent)
    : QObject(parent),
      hands_(std::make_shared<Hands>()),
      wanted_(std::make_unique<Job>()),
      stop_(std::make_shared<std::atomic<bool>>(false)) {
  pool_.setMaxThreadCount(1);
}

ResultStore::~ResultStore() {
  *stop_ = true;
  pool_.waitForDone();
}

ResultStore::Outcome ResultStore::work(Hands& hands, const Job& job) {
  Outcome out;
  out.generation = job.generation, out.steered = job.steered, out.follow = job.follow;
  try {
    if (job.path) {
      hands.reader.reset();
      hands.reader = std::make_unique<results::Reader>(job.path->toStdString());
      hands.header = std::make_shared<results::Header>(hands.reader->header());
      hands.thin = thinNodesOf(hands.header->mesh);
      out.opened = true;
    }
    if (!hands.reader) return out;
    if (job.refresh && !job.path) hands.reader->refresh();
    if (job.path || job.refresh) out.series = seriesOf(*hands.reader, hands.header, hands.thin);
  } catch (const Error& e) {
    if (job.path) out.refused = e.what();
    return out;  // the writer is just adding a row: the next event looks again
  }
  const int last = int(hands.reader->rows().size()) - 1;
  if (job.moment) {
    const int row = job.follow ? last : std::min(job.moment->first, last);
    if (row >= 0) out.moment = momentOf(*hands.reader, row, job.moment->second);
  }
  try {
    for (auto t : job.traces) {
      for (int row = int(t.values.size()); row <= last && !*job.stop; ++row)
        t.values.push_back(hands.reader->rows()[size_t(row)].stored
                               ? results::nodalField(*hands.reader, t.field.toStdString(), size_t(row)).at(size_t(t.node))
                               : std::nan(""));
      out.traces.push_back(std::move(t));
    }
  } catch (const Error&) {
    out.traces.clear();
  }
  return out;
}

void ResultStore::ask(const std::function<void(Job&)>& wish) {
  wish(*wanted_);
  wanted_->generation = generation_, wanted_->steered = steered_, wanted_->stop = stop_;
  start();
  if (busy_ && pool_.waitForDone(patience)) take();
}

void ResultStore::start() {
  if (busy_ || wanted_->empty()) return;
  busy_ = true;
  auto job = std::make_shared<Job>(std::move(*wanted_));
  *wanted_ = {};
  pool_.start([this, job, hands = hands_]() mutable {
    auto outcome = std::make_shared<Outcome>(work(*hands, *job));
    hands.reset();
    const std::lock_guard lock(mutex_);
    done_ = outcome;
    QMetaObject::invokeMethod(
        this, [this] { take(); }, Qt::QueuedConnection);
  });
}

/// Takes up what the worker has brought, once, and gives it the next job.
void ResultStore::take() {
  std::shared_ptr<Outcome> outcome;
  {
    const std::lock_guard lock(mutex_);
    outcome.swap(done_);
  }
  if (!outcome) return;
  busy_ = false;
  start();
  if (outcome->generation != generation_) return;
  if (!outcome->refused.isEmpty()) {
    emit refused(outcome->refused);
    return;
  }
  if (outcome->series) series_ = outcome->series, emit changed();
  if (outcome->opened) emit opened();
  // the newest moment is not for one who has taken the playhead elsewhere since, and none is for "as built"
  if (outcome->moment && (outcome->follow ? outcome->steered == steered_ : row_ >= 0)) {
    const bool otherField = outcome->moment->field != moment_.field;
    moment_ = std::move(*outcome->moment);
    if (outcome->follow) row_ = moment_.row, emit playheadMoved();
    setRange();
    emit rowChanged();
    if (otherField) emit fieldChanged();
  }
  for (auto& t : outcome->traces)
    for (auto& own : traces_)
      if (own.field == t.field && own.node == t.node) own = std::move(t);
  if (!outcome->traces.empty()) emit tracesChanged();
}

void ResultStore::open(const QString& path) {
  close();
  ask([&](Job& j) { j.path = path; });
}

void ResultStore::close(bool wait) {
  ++generation_;
  *wanted_ = {};
  *stop_ = true, stop_ = std::make_shared<std::atomic<bool>>(false);
  hands_ = std::make_shared<Hands>();  // a job under way keeps the old ones to its end
  if (wait) pool_.waitForDone(), take();
  series_.reset(), moment_ = {}, traces_.clear(), row_ = -1, locked_.reset();
  emit changed();
  emit playheadMoved();
  emit rowChanged();
}

void ResultStore::refresh(bool follow) {
  if (!series_) return;
  ask([&](Job& j) {
    j.refresh = true;
    if (follow) j.follow = true, j.moment = {0, field_};
    if (j.traces.empty()) j.traces = traces_;
  });
}

const std::vector<results::RowInfo>& ResultStore::rows() const {
  static const std::vector<results::RowInfo> none;
  return series_ ? series_->rows : none;
}

std::vector<double> ResultStore::times() const {
  std::vector<double> t;
  for (const auto& r : rows()) t.push_back(r.time);
  return t;
}

const std::vector<double>* ResultStore::history(const QString& name) const {
  if (!series_) return nullptr;
  const auto it = series_->histories.find(name);
  return it == series_->histories.end() ? nullptr : &it->second;
}

/// Increments of which only histories are stored are gone by, on the way to the row asked for.
void ResultStore::setRow(int row) {
  row = std::clamp(row, -1, last());
  const int way = row < row_ ? -1 : 1;
  while (row >= 0 && !rows()[size_t(row)].stored) row += way;  // the last one is always stored
  row_ = row;
  ++steered_;
  emit playheadMoved();
  if (row_ < 0) {
    wanted_->moment.reset();
    moment_ = {};
    emit rowChanged();
    return;
  }
  ask([&](Job& j) { j.moment = {row_, field_}, j.follow = false; });
}

double ResultStore::time() const { return row_ < 0 || !has() ? 0 : rows()[size_t(row_)].time; }

int ResultStore::rowAt(double time) const {
  int best = -1;
  double least = std::abs(time);
  for (size_t i = 0; i < rows().size(); ++i)
    if (rows()[i].stored && std::abs(rows()[i].time - time) < least) least = std::abs(rows()[i].time - time), best = int(i);
  return best;
}

void ResultStore::setField(const QString& name) {
  field_ = name;
  locked_.reset();
  if (row_ < 0)
    emit fieldChanged();
  else
    ask([&](Job& j) { j.moment = {row_, field_}; });
}

void ResultStore::lockRange(bool lock) {
  if (lock)
    locked_ = {low_, high_};
  else
    locked_.reset();
  setRange();
  emit fieldChanged();
}

bool ResultStore::isSigned() const {
  if (!series_) return false;
  for (const auto& f : results::fieldList(header()))
    if (QString::fromStdString(f.name) == moment_.field) return f.isSigned;
  return false;
}

const std::vector<bool>* ResultStore::rough() const {
  if (!series_ || !series_->thin) return nullptr;
  for (const auto& f : results::fieldList(header()))
    if (QString::fromStdString(f.name) == moment_.field) return f.nodal ? nullptr : series_->thin.get();
  return nullptr;
}

Kind ResultStore::kindOf(const QString& field) const {
  if (series_)
    for (const auto& f : results::fieldList(header()))
      if (QString::fromStdString(f.name) == field) return f.kind;
  return Kind::number;
}

void ResultStore::setRange() {
  if (moment_.values.empty()) return;
  low_ = moment_.least, high_ = moment_.greatest;
  if (isSigned()) high_ = std::max(std::abs(low_), std::abs(high_)), low_ = -high_;
  if (locked_) std::tie(low_, high_) = *locked_;
  if (high_ - low_ < 1e-12 * std::max(1., std::abs(high_))) high_ = low_ + std::max(1e-9, std::abs(low_) * 1e-6);
}

void ResultStore::trace(const std::vector<int>& nodes) {
  if (!has()) return;
  for (int n : nodes)
    if (std::none_of(traces_.begin(), traces_.end(), [&](const Trace& t) { return t.node == n && t.field == field_; }))
      traces_.push_back({field_, n, {}});
  ask([&](Job& j) { j.traces = traces_; });
}

void ResultStore::clearTraces() {
  traces_.clear();
  emit tracesChanged();
}

ContactTally ResultStore::contactTally(const QString& contact) const {
  ContactTally tally;
  if (!series_ || moment_.row < 0) return tally;
  for (size_t i = 0; i < header().contacts.size() && i < moment_.contacts.size(); ++i) {
    const auto name = QString::fromStdString(header().contacts[i].name);
    if (name != contact && !name.startsWith(contact + " with ")) continue;
    const auto& state = moment_.contacts[i];
    constexpr auto columns = results::contactColumns, status = size_t(results::ContactColumn::status);
    for (size_t k = 0; k + columns <= std::min(state.size(), columns * header().contacts[i].carriers); k += columns)
      ++(state[k + status] == 1 ? tally.sliding : state[k + status] == 2 ? tally.sticking : tally.open);
  }
  return tally;
}

}  // namespace anvil::app
