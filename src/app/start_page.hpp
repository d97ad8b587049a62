// Start page: examples with pictures, recent files, new and open.
#pragma once
#include <QWidget>

namespace anvil::app {

class StartPage : public QWidget {
  Q_OBJECT
 public:
  explicit StartPage(QWidget* parent = nullptr);
  void refresh();
  static QStringList recentFiles();
  static void remember(const QString& path);
  /// Folder of the examples: beside the sources, or installed.
  static QString examplesFolder();

 signals:
  void openAsked(const QString& path);
  void openDialogAsked();
  void newAsked();
  void geometryAsked();

 private:
  class QVBoxLayout* recent_;
};

}  // namespace anvil::app
