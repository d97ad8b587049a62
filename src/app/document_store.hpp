// The open document with undo, saving, autosave and recovery. The only thing the window edits.
#pragma once
#include <QObject>
#include <QTimer>
#include <QUndoStack>
#include <functional>
#include <memory>

#include "core/model/forward.hpp"

namespace anvil::app {

class DocumentStore : public QObject {
  Q_OBJECT
 public:
  explicit DocumentStore(QObject* parent = nullptr);
  ~DocumentStore() override;

  const model::Document& document() const { return *document_; }
  const QString& path() const { return path_; }
  QUndoStack* undoStack() { return &undo_; }
  bool isOpen() const { return open_; }
  bool dirty() const { return !undo_.isClean() || recovered_; }

  /// Opens a file; throws Error. A newer autosave of it is taken up instead, and `recovered` is said.
  void open(const QString& path);
  /// A new model, empty but for a step, or as it was begun.
  void openNew();
  void openNew(const model::Document& begun);
  /// Saves; throws Error. With a path: under another name.
  void save(const QString& path = {});
  /// Changes the document as one undoable act with a name. Nothing happens when the change leaves it equal.
  void edit(const QString& name, const std::function<void(model::Document&)>& change);
  /// The same while something is dragged: all with one `gesture` (above zero) are one act.
  int newGesture() { return ++gestures_; }
  void drag(const QString& name, int gesture, const std::function<void(model::Document&)>& change);
  /// As it is in the file, or as it was begun.
  const model::Document& saved() const { return *saved_; }
  /// Writes the autosave now, when there is something to save.
  void autosave();
  /// The text of the document's file, for line numbers.
  std::string text() const;

 signals:
  void changed();
  void opened();
  void recovered(const QString& note);

 private:
  friend class EditCommand;
  void set(const model::Document& document);
  QString autosavePath() const;
  void dropAutosave();

  std::unique_ptr<model::Document> document_, saved_;
  QString path_;
  QUndoStack undo_;
  QTimer timer_;
  bool open_ = false, recovered_ = false;
  int gestures_ = 0;
};

}  // namespace anvil::app
