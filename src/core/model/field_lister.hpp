// Makes the table of fields out of the document's types. Included by the lists of fields alone.
#pragma once
#include "core/model/actions.hpp"
#include "core/model/bolts.hpp"
#include "core/model/carriers.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/features.hpp"
#include "core/model/field_table.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"
#include "core/model/regions.hpp"

namespace anvil::model {

/// Choices offered for a text entry; reading refuses others and names the nearest.
struct Choice {
  std::vector<std::string> words;
};
/// Marks what is of use only where a text or flag beside it has this value.
struct OnlyWhen {
  const char *lead, *when;
};
/// Marks what replaces others of its object: kinds of shapes and features.
struct OneOf {};
/// What the columns of a table of quantities measure.
struct Columns {
  std::vector<Kind> kinds;
};
/// Marks what has bare numbers in the core's units.
struct InCoreUnits {};
/// Marks what the program writes for itself.
struct ProgramsOwn {};

template <class T>
const Type& typeOf();
template <>
const Type& typeOf<Part>();  // of part_field_lists.cpp

/// Lists the members of an object, by their place in one that is at hand.
class FieldLister {
 public:
  FieldLister(std::vector<Field>& fields, const void* object) : fields_(fields), object_(static_cast<const char*>(object)) {}
  template <class T, class... Notes>
  void operator()(const char* key, T& member, const char* help, const Notes&... notes) {
    auto& f = fields_.emplace_back();
    f.key = key, f.help = help, f.type = &typeOf<T>();
    f.offset = size_t(reinterpret_cast<const char*>(&member) - object_);
    (note(f, notes), ...);
  }

 private:
  static void note(Field& f, Kind kind) { f.kind = kind; }
  static void note(Field& f, const Columns& columns) { f.columns = columns.kinds; }
  static void note(Field& f, InCoreUnits) { f.inCoreUnits = true; }
  static void note(Field& f, Refers refers) { f.refers = refers; }
  static void note(Field& f, const Choice& choice) { f.choices = choice.words; }
  static void note(Field& f, const OnlyWhen& only) { f.lead = only.lead, f.when = only.when; }
  static void note(Field& f, OneOf) { f.oneOf = true; }
  static void note(Field& f, ProgramsOwn) { f.programsOwn = true; }
  std::vector<Field>& fields_;
  const char* object_;
};

template <class T>
struct Known : Type {
  explicit Known(Form form) : Type(form, typeid(T)) {}
  static T& of(void* v) { return *static_cast<T*>(v); }
  static const T& of(const void* v) { return *static_cast<const T*>(v); }
};

/// Objects, unless one of the forms below fits.
template <class T>
struct TypeMaker : Known<T> {
  TypeMaker() : Known<T>(Form::object) {
    FieldLister lister(this->fields, &fresh_);
    list(lister, fresh_);
  }
  void* fresh() const override { return &fresh_; }
  mutable T fresh_{};  ///< nobody writes to it
};
template <Form form, class T>
struct Leaf : Known<T> {
  Leaf() : Known<T>(form) {}
  bool equal(const void* a, const void* b) const override { return this->of(a) == this->of(b); }
  void assign(void* to, const void* from) const override { this->of(to) = this->of(from); }
};
template <>
struct TypeMaker<bool> : Leaf<Form::flag, bool> {};
template <>
struct TypeMaker<int> : Leaf<Form::whole, int> {};
template <>
struct TypeMaker<std::string> : Leaf<Form::text, std::string> {};
template <>
struct TypeMaker<Entry> : Leaf<Form::quantity, Entry> {};
template <>
struct TypeMaker<Direction> : Leaf<Form::direction, Direction> {};
template <>
struct TypeMaker<Course> : Leaf<Form::course, Course> {};
template <class T>
struct TypeMaker<std::optional<T>> : Known<std::optional<T>> {
  using Self = std::optional<T>;
  TypeMaker() : Known<Self>(Form::optional) { this->item = &typeOf<T>(); }
  size_t size(const void* v) const override { return this->of(v).has_value(); }
  void* at(void* v, size_t) const override { return &*this->of(v); }
  void* append(void* v) const override { return &this->of(v).emplace(); }
  void erase(void* v, size_t) const override { this->of(v).reset(); }
};
template <class T>
struct TypeMaker<std::vector<T>> : Known<std::vector<T>> {
  using Self = std::vector<T>;
  TypeMaker() : Known<Self>(Form::list) { this->item = &typeOf<T>(); }
  size_t size(const void* v) const override { return this->of(v).size(); }
  void* at(void* v, size_t i) const override { return &this->of(v)[i]; }
  void* append(void* v) const override { return &this->of(v).emplace_back(); }
  void erase(void* v, size_t i) const override { this->of(v).erase(this->of(v).begin() + std::ptrdiff_t(i)); }
};
template <class T>
struct TypeMaker<Named<T>> : Known<Named<T>> {
  using Self = Named<T>;
  TypeMaker() : Known<Self>(Form::named) { this->item = &typeOf<T>(); }
  size_t size(const void* v) const override { return this->of(v).size(); }
  void* at(void* v, size_t i) const override { return &this->of(v)[i].second; }
  std::string* name(void* v, size_t i) const override { return &this->of(v)[i].first; }
  void* append(void* v) const override { return &this->of(v).emplace_back().second; }
  void erase(void* v, size_t i) const override { this->of(v).erase(this->of(v).begin() + std::ptrdiff_t(i)); }
};

template <class T>
const Type& typeOf() {
  static const TypeMaker<T> type;
  return type;
}

}  // namespace anvil::model
