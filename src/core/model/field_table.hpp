// The document as a table that is walked while the program runs: each type says which keys it has, what they hold, their help
// lines and units. Reading, writing, the JSON Schema, the desk's forms and renaming walk it, so a key is added in one place,
// and none of them is compiled anew. The keys themselves stand in field_lists.cpp and part_field_lists.cpp.
//
//   for (const Field& f : root(document).type().fields)          // materials, parts, …
//     for (size_t i = 0; i < root(document)[f].size(); ++i) …    // the things of one kind
#pragma once
#include <string>
#include <typeinfo>
#include <vector>

#include "core/base/units.hpp"
#include "core/model/forward.hpp"

namespace anvil::model {

/// What a value is made of. `optional`, `list` and `named` hold items of one type; `object` has fields.
enum class Form { flag, whole, text, quantity, direction, course, optional, list, named, object };

/// What the text of a field names, so that it follows when that is renamed. `places` are parts, faces, regions and carriers.
enum class Refers { nothing, materials, parts, places, steps, watch, faces };

struct Type;

/// One key of an object.
struct Field {
  std::string key, help;
  const Type* type = nullptr;
  size_t offset = 0;  ///< of the member, in bytes
  Kind kind = Kind::number;
  std::vector<Kind> columns;         ///< of a table of quantities
  bool inCoreUnits = false;          ///< bare numbers are in mm and N, whatever the file's units are
  std::vector<std::string> choices;  ///< words that a text may be; empty: any
  Refers refers = Refers::nothing;
  std::string lead, when;    ///< of use only where the text or flag `lead` beside it is `when`; "": always
  bool oneOf = false;        ///< one of several that replace each other
  bool programsOwn = false;  ///< written by the program, not shown to people
};

/// A type of the document. There is one of each; they live as long as the program.
struct Type {
  Form form;
  const std::type_info& cpp;
  const Type* item = nullptr;   ///< of optional, list and named
  std::vector<Field> fields{};  ///< of objects

  Type(Form f, const std::type_info& t) : form(f), cpp(t) {}
  virtual ~Type() = default;
  const Field* find(const std::string& key) const;
  virtual bool equal(const void*, const void*) const { return false; }  ///< of what holds no others
  virtual void assign(void*, const void*) const {}                      ///< likewise
  virtual void* fresh() const { return nullptr; }                       ///< of objects: one with its defaults
  virtual size_t size(const void*) const { return 0; }
  virtual void* at(void*, size_t) const { return nullptr; }
  virtual std::string* name(void*, size_t) const { return nullptr; }
  virtual void* append(void*) const { return nullptr; }
  virtual void erase(void*, size_t) const {}
};

/// A value of the document and its type; points into the document and is good until the lists above it change.
class Value {
 public:
  Value(const Type& type, void* at) : type_(&type), at_(at) {}
  const Type& type() const { return *type_; }
  Form form() const { return type_->form; }
  template <class T>
  bool is() const {
    return type_->cpp == typeid(T);
  }
  /// The value itself. Throws std::bad_cast when it is of another type.
  template <class T>
  T& as() const {
    if (!is<T>()) throw std::bad_cast();
    return *static_cast<T*>(at_);
  }
  /// Value of one of its fields.
  Value operator[](const Field& f) const { return {*f.type, static_cast<char*>(at_) + f.offset}; }
  /// An object as it is when nothing is given.
  Value fresh() const { return {*type_, type_->fresh()}; }
  /// Number of items: of a list, of named things, 1 or 0 of what may be left out.
  size_t size() const { return type_->size(at_); }
  Value at(size_t i) const { return {*type_->item, type_->at(at_, i)}; }
  std::string& name(size_t i) const { return *type_->name(at_, i); }
  /// Puts a fresh item at the end, or in place.
  Value append() const { return {*type_->item, type_->append(at_)}; }
  void erase(size_t i) const { type_->erase(at_, i); }
  void clear() const {
    while (size()) erase(size() - 1);
  }
  /// Both of one type.
  bool operator==(const Value& other) const;
  void assign(const Value& from) const;

 private:
  const Type* type_;
  void* at_;
};

const Type& documentType();
/// The whole document as a value. The second form is for walkers that only read.
Value root(Document& document);
Value root(const Document& document);

}  // namespace anvil::model
