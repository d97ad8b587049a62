// Runs the tests of the window one after another on one display (Xvfb will do).
#include "app/view/vtk_canvas.hpp"
#include "fixture.hpp"

int main(int argc, char** argv) {
  using namespace anvil::app;
  VtkCanvas::prepareFormat();
  QTemporaryDir home;
  qputenv("XDG_DATA_HOME", home.path().toUtf8());
  qputenv("XDG_CONFIG_HOME", home.path().toUtf8());
  qputenv("XDG_CACHE_HOME", home.path().toUtf8());
  qputenv("ANVIL_CLI", ANVIL_CLI);
  if (qEnvironmentVariableIsEmpty("QTEST_FUNCTION_TIMEOUT"))
    qputenv("QTEST_FUNCTION_TIMEOUT", "1500000");  // runs on a busy machine take their time
  QLocale::setDefault(QLocale::c());               // numbers on the screen follow the user's locale; language_test takes others
  QApplication application(argc, argv);
  QApplication::setApplicationName("unyielding-anvil");
  applyTheme(application, false);
  int failed = 0;
  for (const auto make : {makeWindowTest,       makeHistoryTest, makeDeskTest,     makeReviewTest,   makeSolidTest,
                          makeGeometryTest,     makeJointTest,   makeMeshPageTest, makePickingTest,  makeClampTest,
                          makeDisplayTest,      makeSlenderTest, makeSheetTest,    makeLanguageTest, makeBeginTest,
                          makeMaterialPageTest, makeUnitsTest,   makeOutlineTest,  makeFromNewTest,  makeAccessTest}) {
    const std::unique_ptr<QObject> test(make());
    // one class alone: ANVIL_TEST=Picking
    if (const auto only = qgetenv("ANVIL_TEST"); !only.isEmpty() && !QByteArray(test->metaObject()->className()).contains(only))
      continue;
    failed += QTest::qExec(test.get(), argc, argv);
  }
  return failed;
}
