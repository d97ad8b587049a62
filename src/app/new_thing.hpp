// New things of the model, with what suits most.
#pragma once
#include <QString>
#include <QStringList>

#include "core/model/forward.hpp"

namespace anvil::app {

/// Adds a thing of a kind ("materials", …) and returns its name; what acts somewhere acts on what is picked in the view. Regions
/// are made of what is picked, elsewhere.
QString addThing(model::Document& document, const QString& kind, const QStringList& picked);

}  // namespace anvil::app
