// What a person writes in a document: quantities, points, named lists.
#pragma once
#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace anvil::model {

/// One quantity as a person wrote it: a bare number in the file's units, "12 mm", or "=2*wall".
struct Entry {
  std::optional<double> number;
  std::string text;  ///< with a unit, or an expression; empty when `number` is set or nothing was given

  Entry() = default;
  Entry(double value) : number(value) {}
  Entry(int value) : number(value) {}
  Entry(std::string written) : text(std::move(written)) {}
  Entry(const char* written) : text(written) {}
  bool given() const { return number.has_value() || !text.empty(); }
  bool operator==(const Entry&) const = default;
};

/// Named things in the order of the file.
template <class T>
struct Named : std::vector<std::pair<std::string, T>> {
  using std::vector<std::pair<std::string, T>>::vector;
  T* find(const std::string& name) {
    for (auto& [n, value] : *this)
      if (n == name) return &value;
    return nullptr;
  }
  const T* find(const std::string& name) const { return const_cast<Named*>(this)->find(name); }
  std::vector<std::string> names() const {
    std::vector<std::string> list;
    for (auto& [n, value] : *this) list.push_back(n);
    return list;
  }
  T& operator()(const std::string& name) {
    if (auto* t = find(name)) return *t;
    return this->emplace_back(name, T{}).second;
  }
};

using Point = std::vector<Entry>;  ///< two (or three) coordinates

/// An axis by name ("x", "y", "r", "z", "normal", "turn") or a vector.
struct Direction {
  std::string axis;
  std::vector<Entry> vector;
  bool given() const { return !axis.empty() || !vector.empty(); }
  bool operator==(const Direction&) const = default;
};

}  // namespace anvil::model
