#pragma once
#include <QString>

class QApplication;

namespace anvil::app {
class MainWindow;
/// Runs the demo in the window and writes a PNG of each main view; with `demoOnly` those of the first example. Returns the
/// process's exit code.
int takeShots(QApplication& application, MainWindow& window, const QString& folder, bool demoOnly);
}  // namespace anvil::app
