#include "core/model/names.hpp"

#include <algorithm>
#include <cctype>

#include "core/base/error.hpp"
#include "core/base/expression.hpp"
#include "core/base/text.hpp"

namespace anvil::model {

void checkName(const std::string& name, const std::string& path, const char* forbidden) {
  constexpr size_t longest = 200;
  if (name.empty() || name.find_first_of(forbidden) != std::string::npos)
    throw Error("the name '" + brief(name) + "' cannot be used", path, "Names are not empty and have no '.' or '/'.");
  if (hasControls(name))
    throw Error("the name '" + brief(name) + "' holds characters that cannot be seen, such as line breaks", path,
                "Take them out.");
  if (name.size() > longest)
    throw Error("the name '" + brief(name) + "' is " + std::to_string(name.size()) + " characters long", path,
                "Give one of at most " + std::to_string(longest) + ".");
}

void checkParameterName(const std::string& name, const std::string& path) {
  const auto fits = [](char c) { return std::isalnum(static_cast<unsigned char>(c)) || c == '_' || (c & 0x80); };
  const bool digit = !name.empty() && std::isdigit(static_cast<unsigned char>(name[0]));
  if (name.empty() || digit || !std::all_of(name.begin(), name.end(), fits))
    throw Error("no formula can use a parameter called '" + brief(name) + "'", path,
                digit ? "Begin its name with a letter: x" + brief(name) + "."
                      : "Write it with letters, digits and _ alone, as wall_thickness.");
  if (isReserved(name))
    throw Error("'" + name + "' means something else in formulas already", path, "Give the parameter another name.");
}

}  // namespace anvil::model
