#include "core/model/field_table.hpp"

namespace anvil::model {

const Field* Type::find(const std::string& key) const {
  for (const auto& f : fields)
    if (f.key == key) return &f;
  return nullptr;
}

bool Value::operator==(const Value& other) const {
  for (const auto& f : type_->fields)
    if (!((*this)[f] == other[f])) return false;
  if (!type_->item) return form() == Form::object || type_->equal(at_, other.at_);
  if (size() != other.size()) return false;
  for (size_t i = 0; i < size(); ++i)
    if ((form() == Form::named && name(i) != other.name(i)) || !(at(i) == other.at(i))) return false;
  return true;
}

void Value::assign(const Value& from) const {
  for (const auto& f : type_->fields) (*this)[f].assign(from[f]);
  if (!type_->item) return type_->assign(at_, from.at_);
  clear();
  for (size_t i = 0; i < from.size(); ++i) {
    append().assign(from.at(i));
    if (form() == Form::named) name(i) = from.name(i);
  }
}

}  // namespace anvil::model
