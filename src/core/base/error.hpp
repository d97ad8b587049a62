// Errors as sentences: what is wrong, where in the model, what to do about it.
#pragma once
#include <stdexcept>
#include <string>
#include <utility>

namespace anvil {

/// An error that a person reads. `what()` is the whole sentence.
///
///     throw Error("The yield stress is negative", "materials/bronze/yield (line 12)", "Give a stress above zero.");
class Error : public std::runtime_error {
 public:
  Error(std::string what, std::string where = {}, std::string remedy = {})
      : std::runtime_error(join(what, where, remedy)),
        what_(std::move(what)),
        where_(std::move(where)),
        remedy_(std::move(remedy)) {}

  const std::string& wrong() const { return what_; }
  const std::string& where() const { return where_; }
  const std::string& remedy() const { return remedy_; }

 private:
  static std::string join(const std::string& what, const std::string& where, const std::string& remedy) {
    std::string text = where.empty() ? what : where + ": " + what;
    if (!text.empty() && text.back() != '.' && text.back() != '?') text += '.';
    if (!remedy.empty()) text += ' ' + remedy;
    return text;
  }
  std::string what_, where_, remedy_;
};

}  // namespace anvil
