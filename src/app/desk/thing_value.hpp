// A thing of the document as a value to be walked.
#pragma once
#include <QString>
#include <algorithm>

#include "core/model/things.hpp"

namespace anvil::app {

/// Calls `act` with the thing of that name, if there is one.
template <class Act>
void withThing(const model::Document& document, const QString& kind, const QString& name, const Act& act) {
  const auto kinds = model::kindsOfThings();
  if (std::find(kinds.begin(), kinds.end(), kind.toStdString()) == kinds.end()) return;
  const auto list = model::things(document, kind.toStdString());
  if (const auto i = model::placeOf(list, name.toStdString()); i < list.size()) act(list.at(i));
}

}  // namespace anvil::app
