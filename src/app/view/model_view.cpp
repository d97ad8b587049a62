#include "app/view/model_view.hpp"
#include "core/model/document.hpp"
#include "core/model/part.hpp"

#include <QComboBox>
#include <QSignalBlocker>
#include <QTimer>
#include <QToolButton>
#include <algorithm>
#include <cmath>

#include "app/theme.hpp"
#include "app/view/feature_tool.hpp"
#include "app/view/folding_row.hpp"
#include "app/view/line_tool.hpp"
#include "app/view/outline_tool.hpp"
#include "app/view/overlay.hpp"
#include "core/base/text.hpp"
#include "core/mesh/quality.hpp"
#include "core/results/fields.hpp"
#include "core/results/slender_fields.hpp"

namespace anvil::app {

ModelView::ModelView(DocumentStore& document, Preparation& preparation, ResultStore& results, QWidget* parent)
    : QWidget(parent), document_(document), preparation_(preparation), results_(results) {
  canvas_ = new VtkCanvas(this);
  canvas_->setFocusPolicy(Qt::StrongFocus), canvas_->setAccessibleName("Picture of the model");
  overlay_ = new Overlay(*this);
  scene_ = std::make_unique<Scene>(canvas_->renderer());
  scene_->update(state_);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0), layout->setSpacing(0);

  auto* bar = new QWidget(this);
  bar->setObjectName("plain"), bar->setAttribute(Qt::WA_StyledBackground);
  auto* row = new FoldingRow(bar);
  row->setContentsMargins(12, 6, 12, 4);
  field_ = new QComboBox(bar);
  field_->setObjectName("field");
  field_->setMinimumWidth(170);
  field_->setToolTip("Result on show");
  sheetPlace_ = new QComboBox(bar);
  sheetPlace_->setObjectName("sheetPlace");
  sheetPlace_->setToolTip("Where in thin parts it is looked at");
  for (const auto& [words, place] : {std::pair{"both sides", results::SheetPlace::bothSides},
                                     {"upper side", results::SheetPlace::upper},
                                     {"middle", results::SheetPlace::middle},
                                     {"lower side", results::SheetPlace::lower}})
    sheetPlace_->addItem(words, int(place));
  row->addWidget(field_), row->addWidget(sheetPlace_);
  pick_ = new QComboBox(bar);
  pick_->setObjectName("pick");
  pick_->setToolTip("What a click picks (1 to 4)");
  pick_->addItems({"Pick faces", "Pick edges", "Pick corners", "Pick parts"});
  row->addWidget(pick_);
  const auto toggle = [&](const QString& text, const QString& help, const QString& name, bool on) {
    auto* b = new QToolButton(bar);
    b->setText(text), b->setToolTip(help), b->setCheckable(true), b->setChecked(on), b->setObjectName(name),
        b->setProperty("small", true);
    row->addWidget(b);
    return b;
  };
  edges_ = toggle("Mesh", "Show element edges (M)", "edges", true);
  undeformed_ = toggle("Undeformed", "Outline of the undeformed shape (U)", "undeformed", false);
  sweep_ = toggle("Swept", "Axisymmetric model turned about its axis (W)", "sweep", false);
  mirrored_ = toggle("Mirrored", "Show the whole: the picture is repeated beyond the symmetry planes, and in all sectors (R)",
                     "mirrored", false);
  sectioned_ = toggle("Section", "Cut the picture open by a plane (S)", "section", false);
  lock_ = toggle("Hold range", "Keep the legend's range over all moments", "lock", false);
  send_ = new QToolButton(bar);
  send_->setText("Pins to Curves"), send_->setToolTip("Plot the result on show at the pins over the whole history (P)"),
      send_->setObjectName("sendPins"), send_->setProperty("small", true), send_->hide();
  connect(send_, &QToolButton::clicked, this, &ModelView::sendPins);
  auto* whole = new QToolButton(bar);
  whole->setText("Fit"), whole->setProperty("small", true), whole->setToolTip("Show everything (F)");
  row->addWidget(whole), row->addWidget(send_);
  section_ = new SectionBar(document_, this);
  section_->hide();
  lines_ = new LineTool(document_, *scene_, *canvas_, this);
  outline_ = new OutlineTool(document_, *scene_, *canvas_, this);
  features_ = new FeatureTool(document_, *canvas_, this);
  layout->addWidget(bar), layout->addWidget(section_), layout->addWidget(lines_), layout->addWidget(outline_),
      layout->addWidget(canvas_, 1);
  connect(section_, &SectionBar::moved, this, &ModelView::refresh);

  connect(edges_, &QToolButton::toggled, this, &ModelView::setEdges);
  connect(undeformed_, &QToolButton::toggled, this, &ModelView::setUndeformed);
  connect(sweep_, &QToolButton::toggled, this, &ModelView::setSweep);
  connect(mirrored_, &QToolButton::toggled, this, &ModelView::setMirrored);
  connect(sectioned_, &QToolButton::toggled, this, &ModelView::setSection);
  connect(lock_, &QToolButton::toggled, this, [this](bool on) { results_.lockRange(on); });
  connect(whole, &QToolButton::clicked, this, &ModelView::fit);
  connect(field_, &QComboBox::activated, this, &ModelView::chooseField);
  connect(sheetPlace_, &QComboBox::activated, this, &ModelView::chooseField);
  connect(canvas_, &VtkCanvas::cameraChanged, this, [this] {
    overlay_->setGeometry(canvas_->rect());
    overlay_->update();
  });
  connect(canvas_, &VtkCanvas::clicked, this, &ModelView::click);
  idle_ = new QTimer(this), idle_->setSingleShot(true), idle_->setInterval(150);
  connect(idle_, &QTimer::timeout, this, &ModelView::preparePicking);
  connect(canvas_, &VtkCanvas::menuAsked, this, &ModelView::showPickMenu);
  connect(canvas_, &VtkCanvas::hovered, this, [this](const QPointF& at) {
    if (lines_->active()) return lines_->hover(at);
    if (outline_->drawing()) return outline_->hover(at);
    canvas_->setCursor(overlay_->legendEnd(at) ? Qt::PointingHandCursor : Qt::ArrowCursor);
    outline_->hover(at);
  });
  connect(lines_, &LineTool::changed, overlay_, qOverload<>(&QWidget::update));
  connect(outline_, &OutlineTool::changed, overlay_, qOverload<>(&QWidget::update));
  connect(features_, &FeatureTool::changed, overlay_, qOverload<>(&QWidget::update));
  canvas_->takesHold = [this](const QPointF& at) { return !lines_->active() && (outline_->press(at) || features_->press(at)); };
  canvas_->dragged = [this](const QPointF& at, bool free) { outline_->drag(at, free), features_->drag(at, free); };
  canvas_->letGo = [this] { outline_->release(), features_->release(); };
  connect(canvas_, &VtkCanvas::moving, this, [this](bool now) { scene_->setLight(now); });
  connect(canvas_, &VtkCanvas::boxDrawn, this, &ModelView::drawBox);
  connect(&preparation_, &Preparation::ready, this, &ModelView::rebuild);
  connect(&document_, &DocumentStore::opened, this, [this] {
    lines_->end(), outline_->end(), showShapesOf({});
    fitted_ = false, pins_.clear(), boxed_.clear(), state_.sight.clear(), picked_.clear(), rule_.reset();
  });
  connect(&results_, &ResultStore::changed, this, [this] {
    if (!results_.has() && showsResult_) rebuild();
    const QSignalBlocker block(field_);
    if (results_.isOpen() && field_->count() == 0)
      for (const auto& f : results::fieldList(results_.header()))
        if (f.place == results::SheetPlace::bothSides) field_->addItem(QString::fromStdString(f.name));
    if (!results_.isOpen()) field_->clear();
    showField();
    field_->setVisible(field_->count() > 0), lock_->setVisible(field_->count() > 0), undeformed_->setVisible(field_->count() > 0);
  });
  connect(&results_, &ResultStore::rowChanged, this, &ModelView::refresh);
  connect(&results_, &ResultStore::fieldChanged, this, [this] {
    showField();
    const QSignalBlocker block(lock_);
    lock_->setChecked(results_.rangeLocked());
    refresh();
  });
  for (QWidget* w : {static_cast<QWidget*>(field_), static_cast<QWidget*>(sheetPlace_), static_cast<QWidget*>(lock_),
                     static_cast<QWidget*>(undeformed_), static_cast<QWidget*>(mirrored_), static_cast<QWidget*>(sectioned_),
                     static_cast<QWidget*>(pick_)})
    w->hide();
}

void ModelView::rebuild() {
  const auto& d = document_.document();
  space_ = QString::fromStdString(preparation_.header().space.empty() ? d.space : preparation_.header().space);
  sweep_->setVisible(space_ == "axisymmetric");
  if (space_ != "axisymmetric" && state_.sweep) sweep_->setChecked(false);
  const bool flat = space_ != "solid" && !state_.sweep;
  if (canvas_->plane() != flat) canvas_->setPlane(flat), fitted_ = false;
  trouble_ = preparation_.trouble();
  scene_->setHeader(preparation_.header());
  lines_->forgetCorners();
  state_.colors.clear();
  for (const auto& [name, part] : d.parts)
    state_.colors.push_back(partColor(int(state_.colors.size()), QString::fromStdString(part.color)));
  showsResult_ = false;
  offerDisplays();
  refresh();
}

/// What is drawn: what was chosen, with what is lit for a while.
SceneState ModelView::shown() const {
  SceneState s = state_;
  if (litFaces_.isEmpty()) return s;
  s.sight.resize(std::max(s.sight.size(), scene_->header().mesh.parts.size()), Sight::shown);
  for (size_t i = 0; i < s.sight.size(); ++i) {
    const bool lit = std::find(litParts_.begin(), litParts_.end(), int(i)) != litParts_.end();
    s.sight[i] = lit ? Sight::shown : s.sight[i] == Sight::hidden ? Sight::hidden : Sight::faded;
  }
  s.highlight.clear(), s.highlightLines.clear(), s.highlightNodes.clear(), s.status.clear(), s.glass = true;
  for (const auto& name : litFaces_) addSpot(s, name);
  return s;
}

void ModelView::light(const QStringList& faces, const std::vector<int>& parts) {
  if (faces == litFaces_ && parts == litParts_) return;
  litFaces_ = faces, litParts_ = parts;
  refresh();
}

void ModelView::refresh() {
  const auto& moment = results_.moment();
  const bool result = results_.isOpen() && moment.row >= 0;
  if (result && outline_->drawing()) outline_->end();
  features_->setOn(!result && document_.document().space == "solid");
  outline_->setOn(!result && !state_.sweep && document_.document().space != "solid");
  if (result && lines_->active()) lines_->end();  // lines are drawn on the model as built
  if (result != showsResult_) {
    boxed_.clear();
    showsResult_ = result;
    if (!result) return rebuild();
    scene_->setHeader(results_.header()), offerDisplays();
  }
  state_.displacement = nullptr, state_.rigid = nullptr, state_.values = nullptr;
  state_.turn = nullptr, state_.ends = nullptr, state_.diagram = Diagram::none;
  if (result) {
    state_.displacement = &moment.displacement, state_.rigid = &moment.rigid, trouble_ = moment.trouble;
    if (!results_.values().empty()) state_.values = &results_.values();
    if (!moment.ends.empty()) {
      state_.turn = &moment.turn, state_.ends = &moment.ends;
      const auto field = moment.field.toStdString();
      state_.diagram = !results::isSlenderForce(field) ? Diagram::none : results::isAcross(field) ? Diagram::across : Diagram::up;
      state_.diagramReversed = field.starts_with("bending");  // moments on the side that they stretch
    }
    state_.low = results_.low(), state_.high = results_.high(), state_.isSigned = results_.isSigned();
  }
  state_.quality = nullptr;
  if (wantsQuality_ && !result) {
    const auto& mesh = scene_->header().mesh;
    quality_.clear();
    for (const auto& b : mesh.blocks) {
      quality_.emplace_back();
      for (size_t c = 0; c < b.count(); ++c) quality_.back().push_back(float(mesh::scaledJacobian(mesh, b, c)));
    }
    state_.quality = &quality_;
  }
  state_.status = contactStatus();
  markPicked();
  pick_->setVisible(!showsResult_ && !state_.sweep && !scene_->header().mesh.faces.empty());
  send_->setVisible(showsResult_ && !pins_.empty());
  std::erase_if(pins_, [&](int n) { return size_t(n) >= scene_->header().mesh.x.size(); });
  state_.pictures = mirrored_->isChecked() ? furtherPictures() : std::vector<Eigen::Affine3d>();
  state_.section.reset();
  if (sectioned_->isChecked() && scene_->solid()) state_.section = section_->section();
  drawn_ = shown();
  scene_->update(drawn_);
  if (!fitted_ && preparation_.current() && !(scene_->header().mesh.x.empty() && scene_->header().rigid.empty()) &&
      canvas_->width() > 250)
    fit(), fitted_ = true;
  overlay_->setGeometry(canvas_->rect());
  overlay_->update();
  canvas_->update();
  if (!result && scene_->solid()) idle_->start();
}

bool ModelView::showsThinElements() const { return overlay_->marksThinElements(); }

void ModelView::fit() {
  double b[6];
  scene_->bounds(b);
  canvas_->fit(b, Overlay::legendWidth, Overlay::topMargin);
}

void ModelView::setSight(int part, Sight sight) {
  if (state_.sight.size() <= size_t(part)) state_.sight.resize(size_t(part) + 1, Sight::shown);
  state_.sight[size_t(part)] = sight;
  refresh();
}

void ModelView::highlightFaces(const QStringList& names) {
  rule_.reset();
  if (names == picked_) return;
  picked_ = names;
  markPicked();
  drawn_ = shown();
  scene_->mark(drawn_);
  overlay_->update();
  canvas_->update();
}

void ModelView::markPicked() {
  state_.highlight.clear(), state_.highlightLines.clear(), state_.highlightNodes.clear();
  for (const auto& name : picked_) addSpot(state_, name);
}

QStringList ModelView::pickedFaces() const { return picked_; }

double ModelView::shownTime() const { return showsResult_ ? results_.rows()[size_t(results_.moment().row)].time : 0; }

void ModelView::showContact(const QString& name) {
  contact_ = name;
  refresh();
}

/// Status of the chosen contact per node, -1 elsewhere; empty when none is to be shown.
std::vector<int> ModelView::contactStatus() const {
  if (!showsResult_ || contact_.isEmpty()) return {};
  const auto& header = scene_->header();
  for (size_t k = 0; k < header.contacts.size(); ++k) {
    const auto& c = header.contacts[k];
    if (QString::fromStdString(c.name) != contact_) continue;
    std::vector<int> status(header.mesh.x.size(), -1);
    if (k >= results_.moment().contacts.size()) return {};
    const auto& state = results_.moment().contacts[k];
    for (size_t i = 0; i < c.nodes.size() && results::contactColumns * i < state.size(); ++i)
      status[size_t(c.nodes[i])] =
          std::max(status[size_t(c.nodes[i])], int(state[results::contactColumns * i + size_t(results::ContactColumn::status)]));
    return status;
  }
  return {};
}

int ModelView::extremeNode(bool greatest) const {
  int best = -1;
  const auto& v = results_.values();
  for (const auto& b : scene_->header().mesh.blocks)
    for (int n : b.nodes)
      if (!isHidden(b.part) && size_t(n) < v.size() &&
          (best < 0 || (greatest ? v[size_t(n)] > v[size_t(best)] : v[size_t(n)] < v[size_t(best)])))
        best = n;
  return showsResult_ ? best : -1;
}

void ModelView::pinExtreme(bool greatest) {
  if (const int n = extremeNode(greatest); n >= 0 && std::find(pins_.begin(), pins_.end(), n) == pins_.end()) togglePin(n);
}

void ModelView::goToExtreme(bool greatest) {
  const int node = extremeNode(greatest);
  if (node < 0 || state_.sweep) return;
  if (scene_->solid()) {  // from outside: the mean of the normals round it
    Eigen::Vector3d out = Eigen::Vector3d::Zero(), middle, normal;
    const auto& mesh = scene_->header().mesh;
    for (size_t p = 0; p < mesh.parts.size(); ++p)
      for (const auto& f : scene_->boundary(p)) {
        const auto nodes = mesh.nodesOf(f);
        if (std::find(nodes.begin(), nodes.end(), node) == nodes.end()) continue;
        scene_->facetFrame(f, middle, normal);
        out += normal;
      }
    if (out.norm() > 0.1 && out.normalized().dot(canvas_->viewer()) < 0.3) {
      const Eigen::Vector3d from = (out.normalized() + 0.35 * Eigen::Vector3d(0.4, 0.5, 0.6)).normalized();
      canvas_->lookFrom(from, std::abs(from.y()) > 0.9 ? Eigen::Vector3d::UnitZ() : Eigen::Vector3d::UnitY());
    }
  }
  double b[6];
  scene_->bounds(b);
  canvas_->goTo(scene_->place(node), 0.2 * std::max({b[1] - b[0], b[3] - b[2], b[5] - b[4]}), Overlay::legendWidth);
}

void ModelView::setQuality(bool on) {
  if (wantsQuality_ == on) return;
  wantsQuality_ = on;
  refresh();
}

void ModelView::lookAt(const Eigen::Vector3d& place, double size) {
  if (state_.sweep) return;
  int nearest = -1;
  for (size_t n = 0; n < scene_->header().mesh.x.size(); ++n)
    if (nearest < 0 || (scene_->place(int(n)) - place).squaredNorm() < (scene_->place(nearest) - place).squaredNorm())
      nearest = int(n);
  marked_ = nearest, markWords_ = "thin element";
  canvas_->goTo(place, size, Overlay::legendWidth);
  overlay_->update();
}

void ModelView::markNode(int node) {
  marked_ = node, markWords_ = "worst residual";
  overlay_->update();
}

void ModelView::setSweep(bool on) {
  state_.sweep = on;
  canvas_->setPlane(!on && space_ != "solid");
  refresh();
  fit();
}
void ModelView::setMirrored(bool on) {
  if (on && planes_.empty() && sectors_.empty()) return;
  mirrored_->setChecked(on);
  refresh();
  fit();
}

void ModelView::setSection(bool on) {
  on = on && scene_->solid();
  sectioned_->setChecked(on), section_->setVisible(on);
  if (on) {
    double b[6];
    scene_->bounds(b);
    section_->setBounds(b);
    if (!state_.section) section_->setSection({2, (b[4] + b[5]) / 2, false});
  }
  refresh();
}

void ModelView::setBands(bool on) { state_.bands = on, refresh(); }
void ModelView::setEdges(bool on) { state_.edges = on, refresh(); }
void ModelView::setUndeformed(bool on) { state_.undeformed = on, refresh(); }

void ModelView::togglePin(int node) {
  const auto it = std::find(pins_.begin(), pins_.end(), node);
  if (it != pins_.end())
    pins_.erase(it);
  else
    pins_.push_back(node);
  send_->setVisible(showsResult_ && !pins_.empty());
  overlay_->update();
  emit pinned(node);
}

void ModelView::sendPins() {
  if (!showsResult_ || pins_.empty()) return;
  emit pinsSent();
  results_.trace(pins_);
}

}  // namespace anvil::app
