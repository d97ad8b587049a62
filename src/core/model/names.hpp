// What things of a model may be called.
#pragma once
#include <string>

namespace anvil::model {

/// Throws Error where a name is empty, holds one of the `forbidden` characters, which part names from each other, or characters
/// that cannot be seen.
void checkName(const std::string& name, const std::string& path, const char* forbidden);

/// Throws Error where a parameter has a name that no formula can use: letters, digits and _ do, not a digit first.
void checkParameterName(const std::string& name, const std::string& path);

}  // namespace anvil::model
