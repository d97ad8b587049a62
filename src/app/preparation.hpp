// What a run would start from, worked out beside the window: mesh, surfaces, readiness. The newest document wins.
#pragma once
#include <QObject>
#include <QThreadPool>
#include <atomic>
#include <functional>

#include "app/document_store.hpp"
#include "core/checks/readiness.hpp"
#include "core/mesh/refusal.hpp"
#include "core/mesh/working.hpp"
#include "core/results/store.hpp"

namespace anvil::app {

class Preparation : public QObject {
  Q_OBJECT
 public:
  explicit Preparation(DocumentStore& document, QObject* parent = nullptr);
  ~Preparation() override;

  /// True when what is offered belongs to the document as it is now.
  bool current() const { return asked_ == done_; }
  const checks::Report& readiness() const { return result_.readiness; }
  /// Mesh and surfaces as built; without a mesh when the document has a fault there.
  const results::Header& header() const { return result_.header; }
  const QString& trouble() const { return result_.trouble; }
  /// Where a part could not be meshed; then the header shows the parts' outsides.
  const std::vector<mesh::Refusal::Place>& refused() const { return result_.refused; }
  /// Ends the meshing that goes on; what is missing is told as a fault. It begins anew with the next change, or when asked to.
  void stop() { stopped_ = true; }
  void again() { ask(); }
  /// Calls back once the document as it is now is prepared; at once when it is. A newer call replaces a waiting one.
  void whenCurrent(std::function<void()> then);

 signals:
  void meshing(const QString& stage);
  void started();
  void ready();

 private:
  struct Result {
    results::Header header;
    checks::Report readiness;
    QString trouble;
    std::vector<mesh::Refusal::Place> refused;
  };
  void ask();
  void start();
  static Result prepare(const model::Document& document, const mesh::Working& working);

  DocumentStore& document_;
  QThreadPool pool_;
  std::atomic<quint64> asked_ = 0;  ///< read by the work itself, which ends when it is out of date
  std::atomic<bool> stopped_ = false;
  quint64 done_ = 0;
  bool busy_ = false;
  Result result_;
  std::function<void()> then_;
};

}  // namespace anvil::app
