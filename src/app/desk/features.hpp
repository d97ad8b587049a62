// Features added to solid parts from the window, with sizes that suit what is there.
#pragma once
#include <QString>
#include <QStringList>

#include "core/model/forward.hpp"

namespace anvil::app {

/// Kinds offered, in the order of the menu: "box", "cylinder", "tube", "ball", "hole", "fillet", "chamfer".
QStringList featureKinds();

/// Adds a feature of this kind to a part: bodies stand on top of its first feature, holes go through its middle, fillets and
/// chamfers take the picked faces that are the part's ("part.feature.face"), else its upper edges.
void addFeature(model::Document& document, const std::string& part, const QString& kind, const QStringList& picked);

/// Takes the feature with this number (from 1) out; sizes on its faces go with it.
void removeFeature(model::Document& document, const std::string& part, int number);

}  // namespace anvil::app
