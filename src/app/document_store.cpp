#include "app/document_store.hpp"

#include <QCryptographicHash>
#include <QDir>
#include <QFileInfo>
#include <QStandardPaths>
#include <QUndoCommand>

#include "core/base/cache.hpp"
#include "core/base/error.hpp"
#include "core/base/files.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/json.hpp"

namespace anvil::app {

class EditCommand : public QUndoCommand {
 public:
  EditCommand(DocumentStore& store, const QString& name, model::Document after, int gesture = 0)
      : QUndoCommand(name), store_(store), before_(store.document()), after_(std::move(after)), gesture_(gesture) {}
  int id() const override { return gesture_ > 0 ? gesture_ : -1; }
  bool mergeWith(const QUndoCommand* later) override {
    after_ = static_cast<const EditCommand*>(later)->after_;
    return true;
  }
  void undo() override { store_.set(before_); }
  void redo() override { store_.set(after_); }

 private:
  DocumentStore& store_;
  model::Document before_, after_;
  int gesture_;
};

DocumentStore::DocumentStore(QObject* parent)
    : QObject(parent), document_(std::make_unique<model::Document>()), saved_(std::make_unique<model::Document>()) {
  timer_.setInterval(15000);
  connect(&timer_, &QTimer::timeout, this, &DocumentStore::autosave);
  timer_.start();
}

DocumentStore::~DocumentStore() = default;

void DocumentStore::set(const model::Document& document) {
  const auto home = document_->home;  // where the file lies is no matter of undo
  *document_ = document, document_->home = home;
  emit changed();
}

QString DocumentStore::autosavePath() const {
  const auto folder = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/autosave";
  makePrivate(folder.toStdString());
  const auto key = QFileInfo(path_.isEmpty() ? "untitled.anvil" : path_).absoluteFilePath();
  return folder + "/" + QString::fromLatin1(QCryptographicHash::hash(key.toUtf8(), QCryptographicHash::Sha1).toHex().left(16)) +
         ".anvil";
}

void DocumentStore::dropAutosave() { QFile::remove(autosavePath()); }

void DocumentStore::open(const QString& path) {
  const auto loaded = model::load(path.toStdString());
  path_ = path, *document_ = loaded, *saved_ = loaded, open_ = true, recovered_ = false;
  undo_.clear();
  const QFileInfo saved(autosavePath());
  if (saved.exists() && saved.lastModified() > QFileInfo(path).lastModified()) {
    try {
      const auto found = model::rehomed(model::load(saved.filePath().toStdString()), loaded.home.folder);
      if (!(found == loaded)) {
        *document_ = found, recovered_ = true;
        emit recovered(
            "Unsaved changes from the last session were taken up. Save to keep them, or reopen the file after closing without "
            "saving.");
      }
    } catch (const Error&) {
      QFile::remove(saved.filePath());  // a damaged autosave helps nobody
    }
  }
  emit opened();
  emit changed();
}

void DocumentStore::openNew() {
  model::Document empty;
  empty.title = "Untitled";
  empty.steps("load");
  openNew(empty);
}

void DocumentStore::openNew(const model::Document& begun) {
  path_.clear(), *document_ = begun, *saved_ = begun, open_ = true, recovered_ = false;
  undo_.clear();
  emit opened();
  emit changed();
}

void DocumentStore::save(const QString& path) {
  const auto target = path.isEmpty() ? path_ : path;
  if (const auto there = QFileInfo(target).absolutePath().toStdString(); there != document_->home.folder)
    *document_ = model::rehomed(*document_, there);
  model::save(*document_, target.toStdString());
  *saved_ = *document_;
  dropAutosave();
  path_ = target, recovered_ = false;
  dropAutosave();
  undo_.setClean();
  emit changed();
}

void DocumentStore::edit(const QString& name, const std::function<void(model::Document&)>& change) { drag(name, 0, change); }

void DocumentStore::drag(const QString& name, int gesture, const std::function<void(model::Document&)>& change) {
  model::Document after = *document_;
  change(after);
  if (after == *document_) return;
  undo_.push(new EditCommand(*this, name, std::move(after), gesture));
}

void DocumentStore::autosave() {
  if (!open_ || !dirty()) return;
  try {
    const auto path = autosavePath();
    model::save(model::rehomed(*document_, QFileInfo(path).absolutePath().toStdString()), path.toStdString());
  } catch (const Error&) {
    // tried again at the next tick; the document itself is untouched
  }
}

std::string DocumentStore::text() const { return model::print(*document_); }

}  // namespace anvil::app
