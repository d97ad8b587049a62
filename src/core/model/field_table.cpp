#include "core/model/field_table.hpp"

namespace anvil::model {

const Field* Type::find(const std::string& key) const {
  for (const auto& f : fields)
    if (f.key == key) return &f;
  return nullptr;
}

bool Value::operator==(const Value& other) const {
  switch (form()) {
    case Form::object:
      for (const auto& f : type_->fields)
        if (!((*this)[f] == other[f])) return false;
      return true;
    case Form::optional:
    case Form::list:
    case Form::named:
      if (size() != other.size()) return false;
      for (size_t i = 0; i < size(); ++i)
        if ((form() == Form::named && name(i) != other.name(i)) || !(at(i) == other.at(i))) return false;
      return true;
    case Form::flag:
    case Form::whole:
    case Form::text:
    case Form::quantity:
    case Form::direction:
    case Form::course:
      break;
  }
  return type_->equal(at_, other.at_);
}

void Value::assign(const Value& from) const {
  switch (form()) {
    case Form::object:
      for (const auto& f : type_->fields) (*this)[f].assign(from[f]);
      return;
    case Form::optional:
    case Form::list:
    case Form::named:
      clear();
      for (size_t i = 0; i < from.size(); ++i) {
        append().assign(from.at(i));
        if (form() == Form::named) name(i) = from.name(i);
      }
      return;
    case Form::flag:
    case Form::whole:
    case Form::text:
    case Form::quantity:
    case Form::direction:
    case Form::course:
      break;
  }
  type_->assign(at_, from.at_);
}

}  // namespace anvil::model
