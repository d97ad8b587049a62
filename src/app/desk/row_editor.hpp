// One entry of the desk: its label, the editor that suits it, and what is typed there in the units on show.
#pragma once
#include <QWidget>

#include "app/desk/form.hpp"

class QLabel;
class QLineEdit;
class QToolButton;
class QVBoxLayout;

namespace anvil::app {

class ShownUnits;

class RowEditor : public QWidget {
  Q_OBJECT
 public:
  RowEditor(const DocumentStore& document, FormRow row, QWidget* parent = nullptr);
  const FormRow& row() const { return row_; }
  /// The text of the document has become this.
  void setText(const QString& text);
  /// What is picked in the view, while this entry takes it.
  bool takesPicked() const;
  void setPicked(const QStringList& names);
  void endPicking();
  /// Names that can be typed into an entry of places.
  void setPlaces(const QStringList& names);

 signals:
  /// What was entered: as it is written into the document.
  void entered(const QString& text);
  void newAsked();                                 ///< a new thing of `row.newKind` is to be made and taken
  void openAsked(const QString& name);             ///< goes to the thing that is chosen
  void pickingBegun();                             ///< places are to be picked in the view
  void placesPointedAt(const QStringList& names);  ///< the mouse is over a chip

 protected:
  bool eventFilter(QObject* object, QEvent* e) override;

 private:
  void addChoice(QVBoxLayout* layout);
  void addLine(QVBoxLayout* layout);
  void addTable(QVBoxLayout* layout);
  void addToggles(QVBoxLayout* layout);
  void addPlaces(QVBoxLayout* layout);
  QLayout* beside(QWidget* editor, QWidget* behind = nullptr);
  void showWorth();
  void showChips();
  QStringList chosen() const;
  void choose(const QStringList& words);
  /// The text of a table of quantities, with each of its cells changed; names stay.
  using Change = QString (ShownUnits::*)(const QString&, Kind, const std::string&) const;
  QString changedCells(const QString& text, Change change) const;
  /// As it is shown: bare numbers of another unit than that on show with their own behind them.
  QString shownText() const;
  /// As it is written: bare numbers with the unit on show, where the file's is another.
  QString writtenText(const QString& typed) const;

  const DocumentStore& document_;
  FormRow row_;
  QLineEdit* line_ = nullptr;
  QLabel *worth_ = nullptr, *unit_ = nullptr;  ///< the value in the units on show; the unit of a number that is in it
  QWidget* chips_ = nullptr;
  QToolButton* pick_ = nullptr;
};

}  // namespace anvil::app
