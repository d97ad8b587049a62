// Numbers as people type and read them: with a decimal comma where their language has one. Formulas have a point everywhere, as
// in files.
#pragma once
#include <QString>
#include <QStringList>

#include "core/model/entry.hpp"

namespace anvil::app {

/// What a person reads.
QString shown(double value, int digits = 10);
QString shown(const model::Entry& entry, int digits = 10);

/// What a person has typed: a number, a quantity such as "0,5 mm", or a formula.
model::Entry typed(const QString& text);

/// Several on one line: joined by commas, or by semicolons where the comma belongs to numbers; there, to be read, a comma before
/// a space parts them too.
QString shownList(const QStringList& items);
QStringList typedList(const QString& text);

/// Numbers of a table's row, as they are typed or come from elsewhere: parted by spaces and tabs too.
QStringList typedCells(const QString& line);

}  // namespace anvil::app
