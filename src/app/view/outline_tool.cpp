#include "app/view/outline_tool.hpp"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPainter>
#include <QToolButton>
#include <cmath>

#include "app/shown_units.hpp"
#include "app/theme.hpp"
#include "app/typed.hpp"
#include "core/base/error.hpp"
#include "core/mesh/meeting.hpp"
#include "core/model/document.hpp"
#include "core/model/part.hpp"
#include "core/model/place_words.hpp"
#include "core/model/quantities.hpp"
#include "core/model/things.hpp"

namespace anvil::app {

using geometry::Grip, geometry::Point2, geometry::SizeMark;

namespace {

constexpr double reach = 8;  // pixels within which a grip or a line to snap to is met

}  // namespace

OutlineTool::OutlineTool(DocumentStore& document, const Scene& scene, VtkCanvas& canvas, QWidget* parent)
    : QWidget(parent), document_(document), scene_(scene), canvas_(canvas) {
  setObjectName("plain"), setAttribute(Qt::WA_StyledBackground);
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(12, 0, 12, 6);
  words_ = new QLabel(this);
  words_->setObjectName("outline-words");
  placeBox_ = new QLineEdit(this);
  placeBox_->setObjectName("outline-place"), placeBox_->setFixedWidth(150), placeBox_->setPlaceholderText("x, y");
  placeBox_->setAccessibleName("Coordinates of the next point");
  placeBox_->setToolTip("Coordinates of the next point, parted by commas; @dx, dy from the last one. Enter sets it");
  auto* done = new QToolButton(this);
  done->setText("Close it"), done->setObjectName("outline-done"), done->setToolTip("The outline is whole (Enter)");
  edgeWords_ = new QLabel("Name of the edge", this);
  edgeName_ = new QLineEdit(this);
  edgeName_->setObjectName("edge-name"), edgeName_->setFixedWidth(150), edgeName_->setAccessibleName("Name of the edge");
  edgeName_->setToolTip("Supports, loads and contacts know the edge by it; what refers to it follows");
  row->addWidget(words_), row->addWidget(placeBox_), row->addWidget(done), row->addWidget(edgeWords_), row->addWidget(edgeName_);
  row->addStretch();
  connect(done, &QToolButton::clicked, this, &OutlineTool::finish);
  connect(placeBox_, &QLineEdit::returnPressed, this, [this] {
    auto text = placeBox_->text().trimmed();
    if (text.isEmpty()) return finish();
    const bool onward = text.startsWith('@') && !points_.empty();
    try {
      model::Point point;
      for (const auto& cell : typedList(onward ? text.mid(1) : text)) {
        const auto entry = typed(units().asWritten(cell, Kind::length, document_.document().units.length));
        point.push_back(entry);
      }
      const auto v = model::Quantities(document_.document()).list(point, Kind::length, "point");
      if (v.size() != 2) throw Error("two coordinates are needed");
      addPoint(Point2(v[0], v[1]) + (onward ? points_.back() : Point2(0, 0)));
      placeBox_->clear();
    } catch (const Error& e) {
      words_->setText(QString::fromStdString(model::inWords(e)));
    }
  });
  connect(edgeName_, &QLineEdit::editingFinished, this, [this] {
    const auto* own = part();
    if (!edge_ || !own || edge_->first >= own->shape.size()) return;
    const auto& profile = own->shape[edge_->first].profile;
    if (!profile || edge_->second >= profile->path.size()) return;
    const auto before = profile->path[edge_->second].name, after = edgeName_->text().trimmed().toStdString();
    if (before == after || after.empty()) return;
    if (after.find('.') != std::string::npos || after.find('&') != std::string::npos)
      return words_->setText("Names of edges have no '.' and no '&'."), words_->show();
    document_.edit("name of an edge of " + part_, [&](model::Document& d) {
      geometry::nameEdge(d.parts.find(part_.toStdString())->shape[edge_->first], edge_->second, after);
      if (!before.empty()) model::followFace(d, part_.toStdString(), before, after);
    });
  });
  entry_ = new QLineEdit(&canvas_);
  entry_->setObjectName("size-entry"), entry_->setFixedWidth(120), entry_->hide(), entry_->setAccessibleName("Size");
  connect(entry_, &QLineEdit::returnPressed, this, [this] {
    const auto text = entry_->text();
    entry_->hide();
    if (take_) std::exchange(take_, {})(text);
    canvas_.setFocus();
  });
  connect(entry_, &QLineEdit::editingFinished, entry_, &QWidget::hide);
  canvas_.installEventFilter(this);
  connect(&document_, &DocumentStore::changed, this, [this] {
    gather();
    emit changed();
  });
  tell();
}

bool OutlineTool::eventFilter(QObject* object, QEvent* e) {
  if (!drawing_ || (e->type() != QEvent::KeyPress && e->type() != QEvent::ShortcutOverride))
    return QWidget::eventFilter(object, e);
  const int key = static_cast<QKeyEvent*>(e)->key();
  if (key != Qt::Key_Return && key != Qt::Key_Enter && key != Qt::Key_Backspace && key != Qt::Key_Escape)
    return QWidget::eventFilter(object, e);
  if (e->type() == QEvent::ShortcutOverride) return e->accept(), true;
  key == Qt::Key_Escape ? end() : key == Qt::Key_Backspace ? back() : finish();
  return true;
}

const model::Part* OutlineTool::part() const { return document_.document().parts.find(part_.toStdString()); }
bool OutlineTool::editing() const { return on_ && !drawing_ && !grips_.empty(); }

void OutlineTool::showPart(const QString& name) {
  if (name == part_ && !grips_.empty()) return;
  part_ = name, edge_.reset();
  gather(), tell();
  emit changed();
}

void OutlineTool::setOn(bool on) {
  if (on_ == on) return;
  on_ = on, held_.reset();
  if (!on) entry_->hide();
  tell();
  emit changed();
}

void OutlineTool::setEdge(const QString& face) {
  edge_.reset();
  if (const auto* own = part(); own && face.startsWith(part_ + "."))
    for (size_t s = 0; s < own->shape.size(); ++s)
      for (size_t i = 0; own->shape[s].profile && i < own->shape[s].profile->path.size(); ++i)
        if (QString::fromStdString(own->shape[s].profile->path[i].name) == face.mid(part_.size() + 1)) edge_ = {s, i};
  tell();
}

/// What the part has to be dragged, as the document stands.
void OutlineTool::gather() {
  grips_.clear(), sizes_.clear();
  const auto* own = part();
  if (!own || document_.document().space == "solid" || own->slender) return;
  try {
    const model::Quantities q(document_.document());
    place_ = geometry::placement(*own, q, false, "parts/" + part_.toStdString());
    for (const auto& s : own->shape)
      grips_.push_back(geometry::gripsOf(s, q, !own->rigid)), sizes_.push_back(geometry::sizesOf(s, q, !own->rigid));
  } catch (const std::exception&) {  // readiness tells what is wrong
    grips_.clear(), sizes_.clear();
  }
}

Point2 OutlineTool::toWorld(const Point2& x) const { return place_({x.x(), x.y(), 0}).head<2>(); }
Point2 OutlineTool::toPart(const QPointF& at) const {
  const auto w = canvas_.toPlane(at);
  return (place_.turn.transpose() * (Eigen::Vector3d(w.x(), w.y(), 0) - place_.shift)).head<2>();
}
QPointF OutlineTool::toScreen(const Point2& x) const {
  const auto w = toWorld(x);
  return canvas_.toScreen(w.x(), w.y(), 0);
}

double OutlineTool::step() const {
  const double each = units().from(1, Kind::length), want = 8 * canvas_.pixelLength() * each;
  const double power = std::pow(10, std::floor(std::log10(want)));
  return (want / power > 5 ? 10 : want / power > 2 ? 5 : 2) * power / each;
}

/// Points of other shapes, then their edges, then the axes and what is level with other points, then the grid.
Point2 OutlineTool::snapped(const Point2& world, const QPointF& at) {
  guides_.clear();
  std::vector<Point2> others = points_;
  for (size_t s = 0; s < grips_.size(); ++s)
    for (const auto& g : grips_[s])
      if (g.what == Grip::What::point && !(held_ && held_->shape == s && held_->grip.which == g.which))
        others.push_back(toWorld(g.at));
  const auto& mesh = scene_.header().mesh;
  for (const auto& corner : mesh::cornersOfShapes(mesh))
    for (int n : corner.nodes)
      if (mesh.parts[size_t(corner.part)] != part_.toStdString() || drawing_) others.push_back(mesh.x[size_t(n)].head<2>());
  for (const auto& o : others)
    if (apart(canvas_.toScreen(o.x(), o.y(), 0), at) < reach) return o;
  double near = reach * canvas_.pixelLength();
  std::optional<Point2> onEdge;
  for (const auto& face : mesh.faces) {
    if (!drawing_ && mesh.parts[size_t(face.part)] == part_.toStdString()) continue;
    for (const auto& f : face.facets) {
      const auto nodes = mesh.nodesOf(f);
      const Point2 a = mesh.x[size_t(nodes[0])].head<2>(), b = mesh.x[size_t(nodes[1])].head<2>(), d = b - a;
      const Point2 foot = a + std::clamp((world - a).dot(d) / std::max(d.squaredNorm(), 1e-300), 0., 1.) * d;
      if ((foot - world).norm() < near) near = (foot - world).norm(), onEdge = foot;
    }
  }
  if (onEdge) return *onEdge;
  Point2 x(step() * std::round(world.x() / step()), step() * std::round(world.y() / step()));
  others.emplace_back(0, 0);
  for (int k = 0; k < 2; ++k) {
    double least = reach * canvas_.pixelLength();
    const Point2* to = nullptr;
    for (const auto& o : others)
      if (std::abs(o[k] - world[k]) < least) least = std::abs(o[k] - world[k]), to = &o;
    if (to) {
      x[k] = (*to)[k];
      guides_.push_back(
          {canvas_.toScreen(to->x(), to->y(), 0), canvas_.toScreen(k ? world.x() : x.x(), k ? x.y() : world.y(), 0)});
    }
  }
  return x;
}

std::optional<OutlineTool::Held> OutlineTool::gripAt(const QPointF& at) const {
  std::optional<Held> best;
  double least = reach;
  for (size_t s = 0; s < grips_.size(); ++s)
    for (const auto& g : grips_[s]) {
      if (g.fixed) continue;
      const double away = apart(gripPlace(g.what, g.which), at) + (g.what == Grip::What::point ? 0 : 0.5);
      if (away < least) least = away, best = Held{s, g};
    }
  return best;
}

void OutlineTool::edit(const QString& what, size_t shape, int gesture,
                       const std::function<void(model::Shape&, const model::Quantities&)>& change) {
  try {
    const model::Quantities q(document_.document());
    const auto act = [&](model::Document& d) {
      if (auto* own = d.parts.find(part_.toStdString()); own && shape < own->shape.size()) change(own->shape[shape], q);
    };
    gesture ? document_.drag(what + " of " + part_, gesture, act) : document_.edit(what + " of " + part_, act);
  } catch (const Error& e) {
    emit said(QString::fromStdString(model::inWords(e)));
  }
}

bool OutlineTool::press(const QPointF& at) {
  if (!editing()) return false;
  held_ = gripAt(at), moved_ = false;
  if (held_) gesture_ = document_.newGesture();
  return held_.has_value();
}

void OutlineTool::drag(const QPointF& at, bool free) {
  if (!held_) return;
  moved_ = true;
  const auto w = canvas_.toPlane(at);
  const bool fillet = held_->grip.what == Grip::What::fillet;
  Point2 to(w.x(), w.y());
  if (!free && !fillet) to = snapped(to, at);
  const Eigen::Vector3d own = place_.turn.transpose() * (Eigen::Vector3d(to.x(), to.y(), 0) - place_.shift);
  const auto held = *held_;
  edit("outline", held.shape, gesture_, [&](model::Shape& s, const model::Quantities& q) {
    geometry::moveGrip(s, q, held.grip, own.head<2>());
    if (!fillet || free || !s.profile) return;
    auto& radius = s.profile->path[held.grip.which].fillet;  // a round value
    if (!radius.number) return;
    const double grid = step(), r = q(radius, Kind::length, "fillet");
    const double rounded = grid * std::round(r / grid);
    const auto in = conversion(q.unitOf(Kind::length), Kind::length);
    radius = rounded > 0 ? model::Entry(QString::number(in.fromCore(rounded), 'g', 9).toDouble()) : model::Entry();
  });
}

void OutlineTool::release() {
  held_.reset(), guides_.clear();
  emit changed();
}

bool OutlineTool::click(const QPointF& at) {
  if (drawing_) {
    const auto w = canvas_.toPlane(at);
    if (points_.size() > 2 && apart(canvas_.toScreen(points_.front().x(), points_.front().y(), 0), at) < reach)
      return finish(), true;
    addPoint(snapped({w.x(), w.y()}, at));
    return true;
  }
  if (!editing()) return false;
  for (size_t s = 0; s < sizes_.size(); ++s)
    for (const auto& m : sizes_[s])
      if (labelOf(m).adjusted(-2, -2, 2, 2).contains(at)) {
        const auto text = m.written.given() && !m.written.number ? shown(m.written) : units().number(m.value, m.kind, 7);
        openEntry(labelOf(m), text, [this, s, m](const QString& typedText) {
          const auto& file = model::fileUnit(document_.document().units, m.kind);
          const auto entry = typed(units().asWritten(typedText, m.kind, file));
          edit("a size", s, 0, [&](model::Shape& shape, const model::Quantities& q) { geometry::setSize(shape, q, m, entry); });
        });
        return true;
      }
  return false;
}

void OutlineTool::openEntry(const QRectF& at, const QString& text, std::function<void(const QString&)> take) {
  take_ = std::move(take);
  const double x = std::clamp(at.center().x() - 60, 2., std::max(2., canvas_.width() - 124.));
  entry_->move(int(x), int(std::clamp(at.center().y() - 14, 2., std::max(2., canvas_.height() - 32.))));
  entry_->setText(text), entry_->selectAll(), entry_->show(), entry_->raise(), entry_->setFocus();
}

void OutlineTool::hover(const QPointF& at) {
  if (drawing_) {
    const auto w = canvas_.toPlane(at);
    next_ = snapped({w.x(), w.y()}, at);
    return emit changed();
  }
  if (!editing()) return;
  bool label = false;
  for (const auto& sizes : sizes_)
    for (const auto& m : sizes) label = label || labelOf(m).contains(at);
  canvas_.setCursor(label ? Qt::IBeamCursor : gripAt(at) ? Qt::SizeAllCursor : Qt::ArrowCursor);
}

/// What can be done with the point or the edge there.
bool OutlineTool::showMenu(const QPointF& at) {
  if (!editing()) return false;
  const auto held = gripAt(at);
  const auto* own = part();
  if (!held || !own || !own->shape[held->shape].profile) return false;
  QMenu menu(this);
  menu.setObjectName("outlineMenu");
  const auto act = [&](const QString& text, const QString& what, auto change) {
    menu.addAction(text, this, [this, what, shape = held->shape, change] { edit(what, shape, 0, change); });
  };
  const size_t which = held->grip.which;
  const Point2 place = held->grip.at;
  using model::Quantities, model::Shape;
  if (held->grip.what == Grip::What::point)
    act("Take this point out", "a point less", [which](Shape& s, const Quantities&) { geometry::removePoint(s, which); });
  if (held->grip.what == Grip::What::edge || held->grip.what == Grip::What::radius) {
    act("Put a point here", "a point more",
        [which, place](Shape& s, const Quantities& q) { geometry::addPoint(s, q, which, place); });
    act(held->grip.what == Grip::What::edge ? "Make an arc of it" : "Make a line of it", "a piece",
        [which](Shape& s, const Quantities& q) { geometry::bend(s, q, which); });
    menu.addAction("Name it", this, [this, held] {
      edge_ = {held->shape, held->grip.which};
      tell(), edgeName_->setFocus(), edgeName_->selectAll();
    });
  }
  if (menu.isEmpty()) return false;
  menu.exec(canvas_.mapToGlobal(at.toPoint()));
  return true;
}

void OutlineTool::start(bool rigid) {
  drawing_ = true, rigid_ = rigid, points_.clear(), next_.reset();
  if (scene_.header().mesh.x.empty() && scene_.header().rigid.empty()) canvas_.goTo(Eigen::Vector3d::Zero(), 60, 0);
  canvas_.setCursor(Qt::CrossCursor), canvas_.setFocus();
  tell();
  emit changed();
}

void OutlineTool::addPoint(const Point2& world) {
  if (!points_.empty() && (points_.back() - world).norm() < 1e-9) return;
  points_.push_back(world);
  tell();
  emit changed();
}

void OutlineTool::back() {
  points_.empty() ? end() : points_.pop_back();
  tell();
  emit changed();
}

void OutlineTool::finish() {
  if (points_.size() < (rigid_ ? 2 : 3))
    return words_->setText(rigid_ ? "Two points at least make a line." : "Three points at least make an outline.");
  const auto points = std::exchange(points_, {});
  end();
  emit drawn(points, rigid_);
}

void OutlineTool::end() {
  drawing_ = false, points_.clear(), next_.reset(), guides_.clear();
  canvas_.setCursor(Qt::ArrowCursor);
  tell();
  emit changed();
}

void OutlineTool::tell() {
  words_->setVisible(drawing_), placeBox_->setVisible(drawing_), findChild<QToolButton*>("outline-done")->setVisible(drawing_);
  edgeWords_->setVisible(!drawing_ && edge_), edgeName_->setVisible(!drawing_ && edge_);
  if (drawing_)
    words_->setText(points_.empty()      ? "Click the first point, or type its coordinates"
                    : points_.size() < 3 ? "Click the next point; Backspace takes one back"
                                         : "Click the first point or press Enter to close it");
  if (const auto* own = part(); edge_ && own && edge_->first < own->shape.size())
    if (const auto& profile = own->shape[edge_->first].profile; profile && edge_->second < profile->path.size())
      edgeName_->setText(QString::fromStdString(profile->path[edge_->second].name));
  setVisible(on_ && (drawing_ || edge_));
}

}  // namespace anvil::app
