#include "core/base/expression.hpp"

#include <muParser.h>
#include <cctype>
#include <cmath>
#include <numbers>

#include "core/base/error.hpp"
#include "core/base/text.hpp"

namespace anvil {
namespace {

constexpr size_t longest = 2000;

/// What the parser would take in another sense than a person: a comma in a number, a parameter given a value.
void checkFormula(const std::string& formula) {
  const auto refuse = [&](const std::string& why, const std::string& remedy) {
    throw Error("the formula '=" + brief(formula) + "' " + why, {}, remedy);
  };
  if (formula.find_first_not_of(" \t") == std::string::npos)
    throw Error("the formula '=' is empty", {}, "Write for example \"=2*wall\".");
  if (formula.size() > longest)
    refuse("is " + std::to_string(formula.size()) + " characters long", "Give parts of it to parameters.");
  int depth = 0, deepest = 0;
  std::vector<bool> call;  // whether each open bracket is that of a function
  for (size_t i = 0; i < formula.size(); ++i) {
    const char c = formula[i], before = i ? formula[i - 1] : ' ', after = i + 1 < formula.size() ? formula[i + 1] : ' ';
    if (c == '(') call.push_back(std::isalnum(static_cast<unsigned char>(before))), deepest = std::max(deepest, ++depth);
    if (c == ')' && depth > 0) call.pop_back(), --depth;
    if (c == ',' && (call.empty() || !call.back()))
      refuse("holds a comma", "Write a decimal point: 0.3. A comma stands between what a function takes: min(a, b).");
    if (c == '=') {
      if (after == '=') {
        ++i;
        continue;
      }
      if (before != '<' && before != '>' && before != '!')
        refuse("gives a value to a name inside", "Give parameters their values under parameters. To compare, write ==.");
    }
  }
  if (deepest > 100) refuse("has brackets " + std::to_string(deepest) + " deep", "Give parts of it to parameters.");
}

mu::Parser parser(const std::string& formula) {
  checkFormula(formula);
  mu::Parser p;
  std::string letters = p.ValidNameChars();
  for (int c = 0x80; c < 0x100; ++c) letters += char(c);  // letters of all languages, in UTF-8
  p.DefineNameChars(letters.c_str());
  p.DefineConst("pi", std::numbers::pi);
  p.SetExpr(formula);
  return p;
}

[[noreturn]] void refuse(const std::string& formula, const mu::Parser::exception_type& e) {
  throw Error("the formula '=" + brief(formula) + "' cannot be worked out: " + brief(e.GetMsg(), 200), {},
              "Check names, brackets and signs.");
}

}  // namespace

bool isReserved(const std::string& name) {
  const mu::Parser p;
  return name == "pi" || p.GetFunDef().contains(name) || p.GetConst().contains(name);
}

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
      throw Error("'=" + brief(formula) + "' uses the name '" + brief(name) + "', which is not a parameter", {},
                  near.empty() ? "Define it under parameters." : "Did you mean '" + near + "'?");
    }
  for (auto& [name, value] : held) p.DefineVar(name, &value);
  const double result = p.Eval();
  if (std::isnan(result))
    throw Error("'=" + brief(formula) + "' has no value: a root or logarithm of a negative number, or zero by zero", {},
                "Check what stands under it with these parameters.");
  if (!std::isfinite(result))
    throw Error("'=" + brief(formula) + "' is not a finite number", {},
                "Check for a division by zero, or for too large a power.");
  return result;
} catch (const mu::Parser::exception_type& e) {
  refuse(formula, e);
}

}  // namespace anvil
