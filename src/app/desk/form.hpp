// What the desk shows of a thing: one row per entry, with its help line, in the order of arrangement.hpp.
#pragma once
#include <QString>
#include <QStringList>
#include <QWidget>

#include "app/document_store.hpp"
#include "core/base/units.hpp"

class QVBoxLayout;

namespace anvil::app {

/// One editable value of the document.
struct FormRow {
  /// `openChoice`: typed or chosen. `toggles`: any of the choices. `places`: faces, edges and parts, typed or picked in the view.
  enum class Editor { line, choice, openChoice, check, table, toggles, places };
  QStringList path;  ///< keys below the thing: {"plastic", "yield"}
  QString label, help, text;
  QStringList choices;
  Editor editor = Editor::line;
  QString unit;  ///< of the file's bare numbers
  Kind kind = Kind::number;
  struct Column {
    Kind kind;
    QString unit;  ///< of the file's bare numbers
  };
  std::vector<Column> columns;  ///< of a table of quantities
  int quantities = 0;           ///< 1: the text is a quantity of the kind; 2: it is a list of such
  QString newKind;              ///< kind of things of which a new one can be made and taken here; "": none
};

/// A heading, then rows.
struct FormSection {
  QString title;
  std::vector<FormRow> rows;
  QStringList removable;  ///< keys of what these rows are about, where it may be left out
  bool folded = false;    ///< its rows are shown when its heading is clicked
  bool foldable = false;
  QString at = {};  ///< keys of the object whose entries these are
};

/// Rows for a thing of the document ("materials", "bronze"). Empty when it is gone.
std::vector<FormSection> describeThing(const model::Document& document, const QString& kind, const QString& name);

/// What a thing may have and has not: keys, and what it is called. Features and shapes, which replace each other, are not among
/// them.
std::vector<FormRow> absentIn(const model::Document& document, const QString& kind, const QString& name);
/// Gives a thing what it may have, with its defaults, or takes it away.
void setPresent(model::Document& document, const QString& kind, const QString& name, const QStringList& path, bool present);

/// Writes one row's text back. Throws Error when the text cannot be what is wanted.
void assignThing(model::Document& document, const QString& kind, const QString& name, const QStringList& path,
                 const QString& text);

/// Takes a thing out of the document / gives it another name (references follow).
void removeThing(model::Document& document, const QString& kind, const QString& name);
void renameThing(model::Document& document, const QString& kind, const QString& from, const QString& to);

/// Adds a parameter with a value as it is typed. Throws Error where the value is not understood.
void addParameter(model::Document& document, const QString& name, const QString& value);
/// Puts a copy of a thing behind it; returns its name, empty when there is no such thing.
QString copyThing(model::Document& document, const QString& kind, const QString& name);

}  // namespace anvil::app
