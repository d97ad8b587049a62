// The shelf: cards of parts, materials, contacts and what acts, with a search box.
#pragma once
#include <QScrollArea>

#include "app/document_store.hpp"
#include "app/result_store.hpp"
#include "app/shelf/card.hpp"
#include "app/shelf/touch_map.hpp"

class QHBoxLayout;
class QLineEdit;
class QVBoxLayout;

namespace anvil::app {

class Shelf : public QWidget {
  Q_OBJECT
 public:
  Shelf(DocumentStore& document, ResultStore& results, QWidget* parent = nullptr);
  void choose(const QString& kind, const QString& name);
  /// The chosen thing of a kind; empty where none of it is.
  QString chosen(const QString& kind) const { return kind == kind_ ? name_ : QString(); }
  /// Adds a thing of a kind, on what is picked.
  void add(const QString& kind);
  QLineEdit* search() { return search_; }
  /// Faces that something added next is to act on.
  void setPickedFaces(const QStringList& names) { pickedFaces_ = names; }
  const QStringList& pickedFaces() const { return pickedFaces_; }
  QList<Card*> cards() const { return cards_; }
  /// Contacts as a map, parts by parts, instead of cards.
  void showMap(bool on);
  bool showsMap() const { return mapped_; }
  TouchMap* touchMap() { return map_; }

 signals:
  void touchingAsked();
  void linesAsked();
  void outlineAsked(bool rigid);  ///< lines are to be drawn in the view
  void regionAsked();
  void picked(const QString& kind, const QString& name);
  void sightChanged(int index, Sight sight);
  void lit(const QStringList& faces, const std::vector<int>& parts);

 private:
  void rebuild();
  void addMapButton(QWidget* head, QHBoxLayout* row);
  void addMap();
  DocumentStore& document_;
  ResultStore& results_;
  QLineEdit* search_;
  QWidget* body_;
  QVBoxLayout* list_;
  QList<Card*> cards_;
  TouchMap* map_ = nullptr;
  bool mapped_ = false;
  std::vector<Sight> sights_;
  QStringList pickedFaces_;
  QString kind_, name_;
};

}  // namespace anvil::app
