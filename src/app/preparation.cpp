#include "app/preparation.hpp"

#include <QCoreApplication>

#include "core/base/error.hpp"
#include "core/job/run_model.hpp"
#include "core/lower/lower.hpp"
#include "core/mesh/working.hpp"
#include "core/model/document.hpp"
#include "core/model/part.hpp"
#include "core/model/place_words.hpp"
#include "core/model/quantities.hpp"

namespace anvil::app {

Preparation::Preparation(DocumentStore& document, QObject* parent) : QObject(parent), document_(document) {
  pool_.setMaxThreadCount(1);
  connect(&document_, &DocumentStore::changed, this, &Preparation::ask);
}

Preparation::~Preparation() {
  ++asked_;  // ends a mesh in the making
  pool_.waitForDone();
  QCoreApplication::removePostedEvents(this);
}

void Preparation::ask() {
  ++asked_, stopped_ = false;
  emit started();
  if (!busy_) start();
}

void Preparation::start() {
  busy_ = true;
  const quint64 number = asked_;
  pool_.start([this, number, document = document_.document()] {
    auto result = std::make_shared<Result>(prepare(document, [this, number](const std::string& stage) {
      if (!stage.empty())
        QMetaObject::invokeMethod(
            this, [this, text = QString::fromStdString(stage)] { emit meshing(text); }, Qt::QueuedConnection);
      return number == asked_ && !stopped_;
    }));
    QMetaObject::invokeMethod(
        this,
        [this, number, result] {
          busy_ = false;
          if (number != asked_) {  // the document went on meanwhile
            start();
            return;
          }
          result_ = std::move(*result), done_ = number;
          emit ready();
          if (auto then = std::exchange(then_, {})) then();
        },
        Qt::QueuedConnection);
  });
}

void Preparation::whenCurrent(std::function<void()> then) {
  if (current())
    then();
  else
    then_ = std::move(then);
}

Preparation::Result Preparation::prepare(const model::Document& d, const mesh::Working& working) {
  Result r;
  try {
    const auto problem = analysis::lower(d, working);
    r.header = job::headerOf(*problem, d), r.readiness = checks::readiness(d, *problem);
    return r;
  } catch (const mesh::Refusal& e) {
    r.trouble = QString::fromStdString(model::inWords(e)), r.refused = e.places();
    r.readiness = checks::readiness(d, e), r.header = job::outsidesOf(d);
  } catch (const Error& e) {
    if (!d.parts.empty()) r.trouble = QString::fromStdString(model::inWords(e));
    r.readiness = checks::readiness(d, e);
    try {
      r.header.mesh = analysis::buildMesh(d, model::Quantities(d), working), r.header.space = d.space;
    } catch (const Error&) {
      r.header.mesh = {}, r.header.mesh.parts = d.parts.names();
    }
  }
  return r;
}

}  // namespace anvil::app
