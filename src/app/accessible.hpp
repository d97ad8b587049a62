// Names for those who hear the window instead of seeing it.
#pragma once

class QWidget;

namespace anvil::app {

/// Gives every entry, list and slider below a widget that has no name of its own one for assistive tools: its label, what stands
/// in it while it is empty, or its help's first sentence.
void nameForAssistiveTools(QWidget* root);

}  // namespace anvil::app
