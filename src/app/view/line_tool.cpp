#include "app/view/line_tool.hpp"

#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPainter>
#include <QToolButton>
#include <algorithm>
#include <cmath>

#include "app/shown_units.hpp"
#include "app/theme.hpp"
#include "app/typed.hpp"
#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/mesh/meeting.hpp"
#include "core/model/place_words.hpp"
#include "core/model/quantities.hpp"

namespace anvil::app {

using Eigen::Vector3d;
using geometry::LineEnd;

static QString placeWords(const Vector3d& x, bool plane) {
  QString words;
  for (int k = 0; k < (plane ? 2 : 3); ++k) words += (k ? ", " : "") + QString::fromStdString(shortNumber(x[k] + 0., 5));
  return words;
}

LineTool::LineTool(const DocumentStore& document, const Scene& scene, VtkCanvas& canvas, QWidget* parent)
    : QWidget(parent), document_(document), scene_(scene), canvas_(canvas) {
  setObjectName("plain"), setAttribute(Qt::WA_StyledBackground);
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(12, 0, 12, 6);
  words_ = new QLabel(this);
  words_->setObjectName("line-words");
  row->addWidget(words_);
  place_ = new QLineEdit(this);
  place_->setObjectName("line-place"), place_->setFixedWidth(150),
      place_->setToolTip("Coordinates of the next point, parted by commas; units may be given. Enter sets it");
  connect(place_, &QLineEdit::returnPressed, this, [this] { take(place_->text()); });
  row->addWidget(place_);
  auto* done = new QToolButton(this);
  done->setText("Done"), done->setObjectName("line-done"), done->setToolTip("End drawing (Esc)");
  connect(done, &QToolButton::clicked, this, &LineTool::end);
  row->addWidget(done), row->addStretch();
  hide();
}

void LineTool::start() {
  active_ = true, last_.reset(), next_.reset();
  if (scene_.header().mesh.x.empty() && scene_.header().rigid.empty()) canvas_.goTo(Vector3d::Zero(), 150, 0);
  canvas_.setCursor(Qt::CrossCursor);
  show(), tell();
}

void LineTool::back() { last_ ? last_.reset() : void(end()), tell(); }

void LineTool::end() {
  active_ = false, last_.reset(), next_.reset();
  canvas_.setCursor(Qt::ArrowCursor);
  hide(), tell();
}

void LineTool::tell() {
  words_->setText(last_ ? "Click where the line ends, or type its coordinates"
                        : "Click where a line begins, or type coordinates");
  place_->setPlaceholderText(canvas_.plane() ? "x, y" : "x, y, z");
  emit changed();
}

int LineTool::level() const {
  int axis = 2;
  const Vector3d out = canvas_.viewer();
  if (!canvas_.plane()) out.cwiseAbs().maxCoeff(&axis);
  return axis;
}

double LineTool::step() const {
  const double want = 12 * canvas_.pixelLength(), power = std::pow(10, std::floor(std::log10(want)));
  return want / power > 5 ? 10 * power : want / power > 2 ? 5 * power : 2 * power;
}

LineEnd LineTool::under(const QPointF& at) const {
  const auto& mesh = scene_.header().mesh;
  LineEnd best;
  double least = 1e300;
  bool any = false;
  const auto offer = [&](int node, const std::string& point) {
    const Vector3d x = scene_.place(node);
    const QPointF off = canvas_.toScreen(x) - at;
    // of two that are as near on the screen the one in front
    const double r = std::hypot(off.x(), off.y()), cost = r - 1e-3 * canvas_.nearness(x) / canvas_.pixelLength();
    if (r < 10 && cost < least - 1e-9) least = cost, best = {x, point}, any = true;
  };
  for (const auto& s : mesh.spots) offer(s.node, s.name);
  if (!corners_) {
    corners_.emplace();
    for (const auto& corner : mesh::cornersOfShapes(mesh))
      corners_->insert(corners_->end(), corner.nodes.begin(), corner.nodes.end());
  }
  for (int n : *corners_) offer(n, {});
  if (any) return best;
  const int axis = level();
  const Vector3d out = canvas_.viewer(), depth = last_ ? last_->at : Vector3d::Zero();
  Vector3d x = canvas_.toSpace(at, depth);
  if (canvas_.plane())
    x.z() = 0;
  else
    x += (depth[axis] - x[axis]) / out[axis] * out;
  for (int k = 0; k < 3; ++k) x[k] = k == axis ? depth[axis] : step() * std::round(x[k] / step());
  return {x, {}};
}

void LineTool::hover(const QPointF& at) {
  next_ = under(at);
  emit changed();
}

void LineTool::click(const QPointF& at) { set(under(at)); }

void LineTool::set(const LineEnd& end) {
  const auto before = last_;
  last_ = end;
  tell();
  if (before) emit drawn(*before, end);
}

void LineTool::take(const QString& text) {
  try {
    model::Point point;
    for (const auto& cell : typedList(text)) point.push_back(typed(cell));
    const auto v = model::Quantities(document_.document()).list(point, Kind::length, "point");
    if (v.size() != (canvas_.plane() ? 2 : 3))
      throw Error(canvas_.plane() ? "two coordinates are needed" : "three coordinates are needed");
    place_->clear();
    set({{v[0], v[1], v.size() > 2 ? v[2] : 0}, {}});
  } catch (const Error& e) {
    words_->setText(QString::fromStdString(model::inWords(e)));
  }
}

void LineTool::paint(QPainter& p) const {
  if (!active_) return;
  const int axis = level(), one = (axis + 1) % 3, other = (axis + 2) % 3;
  const double h = step();
  const Vector3d depth = last_ ? last_->at : Vector3d::Zero(), out = canvas_.viewer();
  // the grid, as far as it is in sight
  Vector3d low = Vector3d::Constant(1e300), high = -low;
  for (const QPointF corner :
       {QPointF(0, 0), QPointF(canvas_.width(), 0), QPointF(0, canvas_.height()), QPointF(canvas_.width(), canvas_.height())}) {
    Vector3d x = canvas_.toSpace(corner, depth);
    x += (depth[axis] - x[axis]) / out[axis] * out;
    low = low.cwiseMin(x), high = high.cwiseMax(x);
  }
  QColor dot = theme().faint;
  dot.setAlpha(120);
  p.setPen(QPen(dot, 1.5));
  if ((high[one] - low[one]) * (high[other] - low[other]) / (h * h) < 20000)
    for (double a = h * std::ceil(low[one] / h); a <= high[one]; a += h)
      for (double b = h * std::ceil(low[other] / h); b <= high[other]; b += h) {
        Vector3d x = depth;
        x[one] = a, x[other] = b;
        p.drawPoint(canvas_.toScreen(x));
      }
  if (last_ && next_) {
    p.setPen(QPen(theme().accent, 2)), p.drawLine(canvas_.toScreen(last_->at), canvas_.toScreen(next_->at));
  }
  p.setPen(QPen(theme().raised, 1.5)), p.setBrush(theme().accent);
  if (last_) p.drawEllipse(canvas_.toScreen(last_->at), 5, 5);
  if (!next_) return;
  const QPointF at = canvas_.toScreen(next_->at);
  p.setPen(QPen(theme().accent, 2)), p.setBrush(Qt::NoBrush), p.drawEllipse(at, 6, 6);
  QString words = placeWords(next_->at, canvas_.plane()) + units().behind(Kind::length).mid(1);
  if (!next_->point.empty()) words = QString::fromStdString(next_->point) + ": " + words;
  if (last_) words += QString("   ·   %1 long").arg(units().quantity((next_->at - last_->at).norm(), Kind::length));
  QRectF box(at.x() + 14, at.y() - 30, p.fontMetrics().horizontalAdvance(words) + 14, 22);
  if (box.right() > canvas_.width() - 4) box.moveRight(at.x() - 14);
  if (box.top() < 4) box.moveTop(at.y() + 12);
  p.setPen(QPen(theme().accent, 1)), p.setBrush(theme().raised), p.drawRoundedRect(box, 4, 4);
  p.setPen(theme().ink), p.drawText(box, Qt::AlignCenter, words);
}

}  // namespace anvil::app
