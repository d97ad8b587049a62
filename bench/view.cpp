// The view on software or hardware rendering: frames while a large surface turns and when it stands, and a pick, click to answer.
//   view-bench [FACES]      (needs a display: xvfb-run -a bench/view-bench)
#include <fmt/format.h>
#include <QApplication>
#include <QElapsedTimer>
#include <QMouseEvent>
#include <QTemporaryDir>
#include <cstdio>

#include "app/main_window.hpp"
#include "app/theme.hpp"
#include "app/view/vtk_canvas.hpp"
#include "core/base/files.hpp"

using namespace anvil;
using namespace anvil::app;

namespace {

void wait(int milliseconds) {
  QElapsedTimer t;
  for (t.start(); t.elapsed() < milliseconds;)
    QApplication::processEvents(QEventLoop::AllEvents, 10), QApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
}

/// A plate of one layer, bent to a wave by nothing: two faces of n by n elements.
std::string plate(int n) {
  return fmt::format(
      R"({{"anvil": 1, "title": "plate", "space": "solid", "materials": {{"m": {{"elastic": {{"E": 1000, "nu": 0.3}}}}}},
    "parts": {{"p": {{"material": "m", "element": "hex8", "shape": {{"rectangle": {{"at": [0, 0], "size": [100, 60]}}}},
      "mesh": {{"count": [{0}, {0}]}}, "extrude": {{"depth": 20, "count": 1}}}}}},
    "steps": {{"s": {{}}}}, "supports": {{"foot": {{"on": "p.left", "fix": ["x", "y", "z"]}}}}}})",
      n);
}

void mouse(QWidget* w, QEvent::Type type, const QPointF& at, Qt::MouseButton button, Qt::MouseButtons held) {
  QMouseEvent e(type, at, w->mapToGlobal(at), button, held, Qt::NoModifier);
  QApplication::sendEvent(w, &e);
}

}  // namespace

int main(int argc, char** argv) {
  VtkCanvas::prepareFormat();
  QApplication application(argc, argv);
  application.setApplicationName("anvil-view-bench");
  applyTheme(application, false);
  const int wanted = argc > 1 ? std::atoi(argv[1]) : 200000, n = std::max(2, int(std::sqrt(wanted / 2.)));
  QTemporaryDir folder;
  const auto file = folder.filePath("plate.anvil");
  writeWhole(file.toStdString(), plate(n));
  MainWindow w;
  w.resize(1280, 800);
  w.show();
  if (!w.openModel(file)) return 1;
  while (!w.preparation().current()) wait(50);
  wait(500);
  auto* canvas = w.view()->canvas();
  w.view()->canvas()->lookFrom({0.7, 0.45, 0.8}, Eigen::Vector3d::UnitY());
  w.view()->fit();
  wait(300);
  int frames = 0;
  QObject::connect(canvas, &QOpenGLWidget::frameSwapped, [&] { ++frames; });
  const auto frame = [&] {
    const int before = frames;
    canvas->update();
    while (frames == before) QApplication::processEvents(QEventLoop::AllEvents, 5);
  };
  size_t facets = 0;
  for (const auto& f : w.preparation().header().mesh.faces) facets += f.facets.size();
  QElapsedTimer t;
  t.start();
  for (int k = 0; k < 5; ++k) frame();
  fmt::print("{} surface faces, {} x {} pixels\n  standing     {:.0f} ms a frame\n", facets, canvas->width(), canvas->height(),
             double(t.nsecsElapsed()) / 5e6);
  const QPointF middle(canvas->width() / 2., canvas->height() / 2.);
  mouse(canvas, QEvent::MouseButtonPress, middle, Qt::LeftButton, Qt::LeftButton);
  t.restart();
  mouse(canvas, QEvent::MouseMove, middle + QPointF(8, 2), Qt::NoButton, Qt::LeftButton);
  frame();
  fmt::print("  first turn   {:.0f} ms\n", double(t.nsecsElapsed()) / 1e6);
  t.restart();
  const int turns = 40;
  for (int k = 0; k < turns; ++k)
    mouse(canvas, QEvent::MouseMove, middle + QPointF(10 + 3 * k, 2 + k), Qt::NoButton, Qt::LeftButton), frame();
  fmt::print("  turning      {:.1f} frames a second\n", turns / (double(t.nsecsElapsed()) / 1e9));
  mouse(canvas, QEvent::MouseButtonRelease, middle, Qt::LeftButton, Qt::NoButton);
  w.view()->canvas()->lookFrom({0.7, 0.45, 0.8}, Eigen::Vector3d::UnitY());
  frame();
  double first = 0, sum = 0;
  const int picks = 20;
  for (int k = 0; k < picks; ++k) {
    w.view()->highlightFaces({});  // each pick marks the face anew
    const QPointF at = middle + QPointF(6 * (k % 5) - 12, 4 * (k / 5) - 8);
    mouse(canvas, QEvent::MouseButtonPress, at, Qt::LeftButton, Qt::LeftButton);
    t.restart();
    mouse(canvas, QEvent::MouseButtonRelease, at, Qt::LeftButton, Qt::NoButton);
    const double took = double(t.nsecsElapsed()) / 1e6;
    k == 0 ? first = took : sum += took;
  }
  fmt::print("  picking      {:.1f} ms, the first {:.0f} ms ({})\n", sum / (picks - 1), first,
             w.view()->pickedFaces().join(", ").toStdString());
  return 0;
}
