// What the window does with geometry: STEP files brought in, bolts fitted, what touches, the mesh looked at.
#include <QApplication>
#include <QFileDialog>
#include <QFileInfo>
#include <QLineEdit>
#include <QPointer>
#include <QThread>

#include "app/main_window.hpp"
#include "app/new_page.hpp"
#include "app/new_thing.hpp"
#include "app/next_line.hpp"
#include "app/view/line_tool.hpp"
#include "app/view/outline_tool.hpp"
#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/checks/fit_bolt.hpp"
#include "core/geometry/draw_lines.hpp"
#include "core/geometry/step_parts.hpp"
#include "core/model/actions.hpp"
#include "core/model/beginnings.hpp"
#include "core/model/bolts.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"
#include "core/model/place_words.hpp"

namespace anvil::app {

void MainWindow::fitBolt() {
  const auto picked = shelf_->pickedFaces();
  if (picked.isEmpty()) return notice("Pick the inside of a hole first.");
  preparation_.whenCurrent([this, face = picked.back().toStdString()] {
    try {
      const auto fit = checks::fitToHole(preparation_.header().mesh, face);
      std::string made;
      document_.edit("a bolt in " + QString::fromStdString(face), [&](model::Document& d) { made = checks::addBolt(d, fit); });
      select("bolts", QString::fromStdString(made));
      notice(QString("Bolt of %1 mm through %2 hole%3. Find what touches (K) makes the contacts under its head and nut.")
                 .arg(QString::fromStdString(shortNumber(fit.diameter)))
                 .arg(fit.holes.size())
                 .arg(fit.holes.size() == 1 ? "" : "s"));
    } catch (const Error& e) {
      notice(QString::fromStdString(model::inWords(e)));
    }
  });
}

void MainWindow::addBeamBolt() {
  const auto faces = view_->pickedFaces();
  if (faces.size() != 2)
    return notice("Pick two faces first (the second with Ctrl): the one that the head presses, then the nut's.");
  QString made;
  document_.edit("a beam bolt", [&](model::Document& d) {
    std::string name = "bolt";
    for (int k = 2; d.bolts.find(name); ++k) name = "bolt " + std::to_string(k);
    auto& b = d.bolts(name);
    b.beam = model::BoltBeam{
        {faces[0].toStdString()}, {faces[1].toStdString()}, "8 mm", d.materials.empty() ? "" : d.materials.front().first};
    if (!d.steps.empty()) b.force.stages(d.steps.front().first) = {model::How::ramp, model::Entry("10 kN")};
    made = QString::fromStdString(name);
  });
  select("bolts", made);
  notice("A beam from " + faces[0] + " to " + faces[1] + ", tightened in the first step. Its diameter is at the desk.");
}

void MainWindow::makeThin() {
  const auto picked = view_->pickedFaces();
  const auto partOf = [](const QString& face) { return face.section('.', 0, 0); };
  if (picked.isEmpty()) return notice("Pick faces of a solid first (the second and later with Ctrl): they become the sheet.");
  const auto name = partOf(picked.front());
  const auto* part = document_.document().parts.find(name.toStdString());
  if (!part || part->solid.empty() || part->rigid || part->thin)
    return notice(name + " is no solid of features or of a STEP file: its faces cannot become a sheet.");
  if (std::any_of(picked.begin(), picked.end(), [&](const QString& f) { return partOf(f) != name; }))
    return notice("The picked faces are on several parts: pick those of one.");
  document_.edit("make " + name + " thin", [&](model::Document& d) {
    auto& p = *d.parts.find(name.toStdString());
    auto& thin = p.thin.emplace();
    for (const auto& f : picked) thin.faces.push_back(f.section('.', 1).toStdString());
    p.element = "auto";
  });
  select("parts", name);
  if (auto* box = desk_->findChild<QLineEdit*>("row-thin/thickness")) box->setFocus(Qt::OtherFocusReason);
  notice(
      QString("%1 is a sheet on %2 face%3: type its thickness.").arg(name).arg(picked.size()).arg(picked.size() > 1 ? "s" : ""));
}

void MainWindow::makeSlender() {
  std::vector<std::string> edges;
  for (const auto& name : view_->pickedFaces())
    if (name.count(" & ") == 1) edges.push_back(name.toStdString());
  if (edges.empty()) return notice("Pick edges of a solid first (2, then clicks with Ctrl): lines are made along them.");
  QString made;
  document_.edit("a slender part along edges",
                 [&](model::Document& d) { made = QString::fromStdString(geometry::drawAlong(d, edges)); });
  select("parts", made);
  notice(QString("%1 runs along %2 edge%3. Its section and material are at the desk.")
             .arg(made)
             .arg(edges.size())
             .arg(edges.size() > 1 ? "s" : ""));
}

void MainWindow::drawLines() {
  if (!document_.isOpen()) return;
  if (document_.document().space == "axisymmetric") return notice("Axisymmetric models have no slender parts.");
  if (results_.row() >= 0) results_.setRow(-1);  // they are drawn on the model as built
  showPage(1);
  drawnPart_ = shelf_->chosen("parts").toStdString();
  preparation_.whenCurrent([this] {
    view_->lineTool()->start();
    view_->canvas()->setFocus();
  });
}

void MainWindow::drawOutline(bool rigid) {
  if (!document_.isOpen()) return;
  if (document_.document().space == "solid")
    return notice("Outlines are drawn in plane and axisymmetric models; a solid's features are added at the desk of its part.");
  if (results_.row() >= 0) results_.setRow(-1);
  showPage(1);
  view_->lineTool()->end();
  preparation_.whenCurrent([this, rigid] {
    view_->outlineTool()->start(rigid);
    view_->canvas()->setFocus();
  });
}

/// A part of what was drawn: of the first material, in elements that suit its size.
void MainWindow::addOutline(const std::vector<geometry::Point2>& drawn, bool rigid) {
  auto points = drawn;
  double area = 0;
  for (size_t i = 0; i < points.size(); ++i) {
    const auto &a = points[i], &b = points[(i + 1) % points.size()];
    area += (a.x() * b.y() - a.y() * b.x()) / 2;
  }
  const bool closed = points.size() > 2 && !rigid;
  if (closed && area < 0) std::reverse(points.begin(), points.end());  // the material lies on the left of the way
  QString made;
  document_.edit(rigid ? "a rigid outline" : "an outline", [&](model::Document& d) {
    const model::Quantities q(d);
    if (!rigid && d.materials.empty()) addThing(d, "materials", {});  // of something it must be
    made = addThing(d, "parts", {});
    auto& part = *d.parts.find(made.toStdString());
    std::vector<std::string> names;
    for (size_t i = 1; i <= points.size(); ++i) names.push_back("edge " + std::to_string(i));
    auto shape = geometry::outlineThrough(points, names, q);
    if (closed) {  // drawn back to its start, so that the last edge has a name too
      auto& last = shape.profile->path.emplace_back();
      last.line = shape.profile->start, last.name = names.back();
    }
    part.shape = {shape};
    if (rigid) {
      part.rigid = true, part.material.clear();
      return;
    }
    const double size = std::sqrt(std::abs(area)) / 16, power = std::pow(10, std::floor(std::log10(std::max(size, 1e-9))));
    const double nice = power * (size / power > 5 ? 5 : size / power > 2 ? 2 : 1);
    part.mesh.size = QString::number(conversion(q.unitOf(Kind::length), Kind::length).fromCore(nice), 'g', 6).toDouble();
  });
  select("parts", made);
  notice(rigid ? made + ": its material lies on the left of the way it was drawn. Drag its points, type its sizes."
               : made + ": drag its points and edges, type its sizes; a right click on an edge makes an arc of it.");
}

void MainWindow::addLine(const geometry::LineEnd& from, const geometry::LineEnd& to) {
  try {
    geometry::DrawnLine made;
    document_.edit("a line", [&](model::Document& d) { made = geometry::drawLine(d, drawnPart_, from, to); });
    drawnPart_ = made.part;
    view_->lineTool()->goOnFrom({to.at, made.to});
    select("parts", QString::fromStdString(made.part));
    notice(QString::fromStdString(made.from + " to " + made.to) + ". Click the next point; Esc lets go, Esc again ends.");
  } catch (const Error& e) {
    notice(QString::fromStdString(model::inWords(e)));
  }
}

void MainWindow::askForKind() {
  new_->begin();
  showPage(3);
}

void MainWindow::beginModel(const QString& kind, const QString& part) {
  results_.close();
  document_.openNew(model::begun(kind.toStdString(), part.toStdString()));
  showPage(1);
  next_->begin();
  if (const auto& parts = document_.document().parts; !parts.empty())
    select("parts", QString::fromStdString(parts.front().first));
}

/// What a word of the line of next things leads to.
void MainWindow::goOn(const QString& stage) {
  const auto& d = document_.document();
  if (stage == "run") return run();
  if (stage == "touching") return showTouching();
  if (stage == "material" && !d.materials.empty()) return select("materials", QString::fromStdString(d.materials.front().first));
  if (stage == "part" && !d.parts.empty()) return select("parts", QString::fromStdString(d.parts.front().first));
  if (stage == "steps" && (!d.loads.empty() || !d.motions.empty()))
    return notice(
        "The loading history below has a lane for each load and motion and a column for each step: double-click a cell.");
  if (stage == "supports" && shelf_->pickedFaces().isEmpty())
    return notice("Click a face of the part in the view first, then supports again: it is held there.");
  if (stage == "steps" && shelf_->pickedFaces().isEmpty())
    return notice("Click a face of the part in the view first, then steps again: a load acts there.");
  shelf_->add(stage == "part" ? "parts" : stage == "material" ? "materials" : stage == "steps" ? "loads" : stage);
}

void MainWindow::keepRegion() {
  if (view_->pickedFaces().isEmpty()) return notice("Pick faces, edges or corners first.");
  keepAsRegion(view_->pickedRegion());
}

void MainWindow::keepBox() {
  const auto region = view_->boxRegion();
  region.box ? keepAsRegion(region) : notice("Pick faces of a solid model first.");
}

void MainWindow::keepAsRegion(const model::Region& region) {
  QString made;
  document_.edit("a region", [&](model::Document& d) {
    std::string name = "region";
    for (int k = 2; d.regions.find(name); ++k) name = "region " + std::to_string(k);
    d.regions(name) = region;
    made = QString::fromStdString(name);
  });
  preparation_.whenCurrent([this, made] { select("regions", made); });
  notice("Kept as " + made + (region.edges.empty() ? ", by its rule: it is found again after every change of the shape." : "."));
}

void MainWindow::showMesh() {
  if (results_.row() >= 0) results_.setRow(-1);  // the mesh is looked at as built
  preparation_.whenCurrent([this] {
    if (!mesh_) {
      mesh_ = new MeshPage(document_, preparation_);
      connect(mesh_, &MeshPage::colouring, view_, &ModelView::setQuality);
      connect(mesh_, &MeshPage::looked, view_, &ModelView::lookAt);
    }
    showPage(1);
    mesh_->examine();
    desk_->showOther(mesh_);
  });
}

void MainWindow::showTouching() {
  preparation_.whenCurrent([this] {
    if (!touching_) {
      touching_ = new TouchingList(document_, preparation_);
      connect(touching_, &TouchingList::lit, view_, &ModelView::light);
      connect(touching_, &TouchingList::picked, this, &MainWindow::select);
      connect(touching_, &TouchingList::said, this, &MainWindow::notice);
    }
    showPage(1);
    touching_->find();
    desk_->showOther(touching_);
  });
}

QString MainWindow::geometryFile() {
  return QFileDialog::getOpenFileName(this, "Bring in geometry", {}, "STEP files (*.step *.stp *.STEP *.STP)");
}

void MainWindow::askForGeometry() {
  if (!document_.isOpen()) {
    emit start_->geometryAsked();
    return;
  }
  if (const auto path = geometryFile(); !path.isEmpty()) bringIn(path);
}

void MainWindow::bringIn(const QString& path) {
  const auto file = QFileInfo(path).absoluteFilePath();
  notice("Reading " + QFileInfo(path).fileName() + " …");
  // large assemblies take their time: read beside the window
  auto* worker = QThread::create([self = QPointer<MainWindow>(this), file] {
    std::vector<geometry::StepContent> solids;
    QString trouble;
    try {
      solids = geometry::stepContents(file.toStdString(), "import");
    } catch (const Error& e) {
      trouble = QString::fromStdString(e.what());
    }
    QMetaObject::invokeMethod(
        qApp,
        [self, file, solids, trouble] {
          if (self) self->addSolids(file, solids, trouble);
        },
        Qt::QueuedConnection);
  });
  connect(worker, &QThread::finished, worker, &QObject::deleteLater);
  worker->start();
}

void MainWindow::addSolids(const QString& file, const std::vector<geometry::StepContent>& solids, const QString& trouble) {
  if (!trouble.isEmpty()) return notice(trouble);
  const bool fresh = document_.document().parts.empty();
  if (!fresh && document_.document().space != "solid")
    return notice("This model is plane: solids can only be brought into a model in space.");
  document_.edit("bring in " + QFileInfo(file).fileName(),
                 [&](model::Document& d) { geometry::addStepParts(d, file.toStdString(), solids); });
  showPage(1);
  const auto healed = std::count_if(solids.begin(), solids.end(), [](const auto& s) { return !s.healing.empty(); });
  notice(QString("%1 part%2 brought in from %3.")
             .arg(solids.size())
             .arg(solids.size() > 1 ? "s" : "")
             .arg(QFileInfo(file).fileName()) +
         (std::any_of(solids.begin(), solids.end(), [](const auto& s) { return s.sheet; })
              ? QString(" Surfaces without a volume are thin parts: type their thickness.")
              : QString()) +
         (healed ? QString(" %1 had to be healed: see Readiness.").arg(healed) : QString()));
}

}  // namespace anvil::app
