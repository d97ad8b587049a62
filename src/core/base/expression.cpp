#include "core/base/expression.hpp"

#include <cmath>
#include <muParser.h>
#include <numbers>

#include "core/base/error.hpp"
#include "core/base/text.hpp"

namespace anvil {
namespace {

mu::Parser parser(const std::string& formula) {
  mu::Parser p;
  p.DefineConst("pi", std::numbers::pi);
  p.SetExpr(formula);
  return p;
}

[[noreturn]] void refuse(const std::string& formula, const mu::Parser::exception_type& e) {
  throw Error("'=" + formula + "' cannot be worked out: " + e.GetMsg(), {}, "Check names, brackets and signs.");
}

}  // namespace

std::vector<std::string> namesIn(const std::string& formula) try {
  std::vector<std::string> names;
  auto p = parser(formula);
  for (const auto& [name, value] : p.GetUsedVar()) names.push_back(name);
  return names;
} catch (const mu::Parser::exception_type& e) {
  refuse(formula, e);
}

double evaluate(const std::string& formula, const std::map<std::string, double>& names) try {
  auto p = parser(formula);
  std::map<std::string, double> held = names;
  std::vector<std::string> known;
  for (auto& [name, value] : held) known.push_back(name);
  for (const auto& name : namesIn(formula))
    if (!held.count(name)) {
      const auto near = nearest(name, known);
      throw Error("'=" + formula + "' uses the name '" + name + "', which is not a parameter", {},
                  near.empty() ? "Define it under parameters." : "Did you mean '" + near + "'?");
    }
  for (auto& [name, value] : held) p.DefineVar(name, &value);
  const double result = p.Eval();
  if (!std::isfinite(result)) throw Error("'=" + formula + "' is not a finite number", {}, "Check for a division by zero.");
  return result;
} catch (const mu::Parser::exception_type& e) {
  refuse(formula, e);
}

}  // namespace anvil
