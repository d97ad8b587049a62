#include "core/base/expression.hpp"

#include <muParser.h>
#include <cmath>
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

std::vector<std::string> addends(const std::string& formula) try {
  const auto names = namesIn(formula);
  std::vector<double> at(names.size());
  auto p = parser(formula);
  for (size_t i = 0; i < names.size(); ++i) p.DefineVar(names[i], &at[i]);
  const auto value = [&](double s, double t) {  // on a plane of points that favours no name
    for (size_t i = 0; i < at.size(); ++i)
      at[i] = 1.3 + s * std::cos(1.0 + 2.4 * double(i)) + t * std::sin(2.0 + 1.7 * double(i));
    return p.Eval();
  };
  const double middle = value(0, 0);
  for (const auto& [s, t] : {std::pair{0.5, 0.0}, {0.0, 0.7}, {0.6, -0.4}, {0.3, 0.8}}) {
    const double ahead = value(s, t), behind = value(-s, -t);
    if (!(std::abs(ahead + behind - 2 * middle) <= 1e-9 * (std::abs(ahead) + std::abs(behind) + std::abs(middle)))) return {};
  }
  std::vector<std::string> found;
  for (size_t i = 0; i < at.size(); ++i) {
    value(0, 0);
    at[i] += 0.5;
    if (p.Eval() != middle) found.push_back(names[i]);
  }
  return found;
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
