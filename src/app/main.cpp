// The window's program. With --shots FOLDER it drives itself over the demo and writes pictures of the main views.
#include <QApplication>
#include <QCommandLineParser>

#include "app/main_window.hpp"
#include "app/shots.hpp"
#include "app/theme.hpp"
#include "core/base/process.hpp"

int main(int argc, char** argv) {
  anvil::secureProcess();
  anvil::app::VtkCanvas::prepareFormat();
  QApplication application(argc, argv);
  anvil::secureProcess();  // the toolkit has set the person's language, numbers included
  QApplication::setApplicationName("unyielding-anvil");
  QApplication::setOrganizationName("GannetQuay");
  anvil::app::applyTheme(application, false);
  QCommandLineParser parser;
  parser.setApplicationDescription("Unyielding Anvil: contact, yielding and large deflection, step by step.");
  parser.addHelpOption();
  parser.addPositionalArgument("model", "Model file (*.anvil)");
  const QCommandLineOption shots("shots", "Write pictures of the main views to a folder and quit.", "folder");
  const QCommandLineOption demo("demo", "With --shots: of the first example only, in a few minutes.");
  parser.addOption(shots), parser.addOption(demo);
  parser.process(application);
  anvil::app::MainWindow window;
  window.show();
  if (parser.isSet(shots)) return anvil::app::takeShots(application, window, parser.value(shots), parser.isSet(demo));
  if (!parser.positionalArguments().isEmpty()) window.openModel(parser.positionalArguments().front());
  return application.exec();
}
