// Lists and paths of the document as text of an entry.
#pragma once
#include <QString>
#include <QStringList>
#include <vector>

#include "core/model/entry.hpp"
#include "core/model/shapes.hpp"

namespace anvil::app {

/// "line 4, 0  fillet=0.5  name=side" and back. Throws Error for what is none.
QString pieceWords(const model::PathPiece& piece);
model::PathPiece pieceOf(const QString& line);

QStringList listOf(const std::vector<model::Entry>& entries);
/// Rows of a table, one a line.
std::vector<std::vector<model::Entry>> rowsOf(const QString& text);

}  // namespace anvil::app
