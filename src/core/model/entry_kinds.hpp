// What entries measure, where that depends on what stands beside them, and what a parameter measures.
#pragma once
#include <optional>
#include <string>
#include <vector>

#include "core/model/field_table.hpp"
#include "core/model/file_units.hpp"
#include "core/model/forward.hpp"

namespace anvil::model {

/// Kind of an entry: of courses by the kind of load or the motion, of springs by the way they act; else as the field says.
Kind kindOf(const Value& owner, const Field& field);

/// Kinds of the columns of a table of quantities, times among them; empty where the field has none.
std::vector<Kind> columnsOf(const Value& owner, const Field& field);

/// Unit of the bare numbers of a field, which are of a kind. Empty for plain numbers.
std::string bareUnit(const Field& field, Kind kind, const FileUnits& units);

/// What a parameter measures: by its own unit or by what it is added up from; else by the entries that it stands for, where
/// all of them measure the same. Nothing where that is not known.
std::optional<Kind> kindOfParameter(const Document& document, const std::string& name);

}  // namespace anvil::model
