// Points, lines and sections of slender parts as tables at the desk.
#pragma once
#include <QStringList>
#include <string>
#include <utility>
#include <vector>

#include "core/model/field_table.hpp"

namespace anvil::app {

/// Rows of the table: name, then coordinates, ends or form, parted by tabs. `value`: one of the three lists.
QStringList slenderRows(const model::Value& value);
/// What a row holds, in a few words.
QString slenderHint(const model::Value& value);
/// Sets a list from its table. What keeps its name keeps the rest of what it is, and so does what is renamed where it stands:
/// returns the names of these before and after.
std::vector<std::pair<std::string, std::string>> setSlender(const model::Value& value, const QString& text);

}  // namespace anvil::app
