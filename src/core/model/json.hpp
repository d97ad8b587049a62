// Reading and writing *.anvil files, and their JSON Schema.
#pragma once
#include <string>
#include <vector>

#include "core/base/error.hpp"
#include "core/model/forward.hpp"

namespace anvil::model {

/// Parses a model file's text (JSON; // and /* */ comments allowed). Throws Error with the place (path and line), the
/// value, and the nearest right one.
Document parse(const std::string& text);

/// Reads a file. Errors name the file.
Document load(const std::string& path);

/// The document as text: entries at their default are left out. parse(print(d)) == d.
std::string print(const Document& document);

/// Saves whole or not at all.
void save(const Document& document, const std::string& path);

/// JSON Schema (draft 2020-12) of the format, from the same field lists.
std::string schema();

/// Line (from 1) of the value at a path such as "contacts/grip/friction"; the nearest enclosing one; 0 if none.
int lineOf(const std::string& text, const std::string& path);

/// The same error with "(line N)" behind its place when the place is a path into `text`.
std::string sentenceWithLine(const Error& error, const std::string& text);

/// The same model to be kept in another folder: relative names of files that it uses are rewritten.
Document rehomed(Document document, const std::string& folder);

/// Files that a model is made of besides its own, where they lie.
std::vector<std::string> filesOf(const Document& document);

}  // namespace anvil::model
