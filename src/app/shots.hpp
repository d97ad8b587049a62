#pragma once
#include <QString>

class QApplication;

namespace anvil::app {
class MainWindow;
/// Runs the demo in the window and writes a PNG of each main view. Returns the process's exit code.
int takeShots(QApplication& application, MainWindow& window, const QString& folder);
}  // namespace anvil::app
