#include "app/view/vtk_canvas.hpp"

#include <vtkCallbackCommand.h>
#include <vtkCamera.h>
#include <vtkMath.h>
#include <vtkMatrix4x4.h>
#include <vtkOpenGLFramebufferObject.h>
#include <vtkOpenGLState.h>
#include <Eigen/Geometry>

#include <QMouseEvent>
#include <QOpenGLContext>
#include <QOpenGLFunctions>
#include <QSurfaceFormat>
#include <cmath>

#include "app/theme.hpp"

namespace anvil::app {

void VtkCanvas::prepareFormat() {
  QSurfaceFormat f;
  f.setRenderableType(QSurfaceFormat::OpenGL);
  f.setVersion(3, 2);
  f.setProfile(QSurfaceFormat::CoreProfile);
  f.setDepthBufferSize(24), f.setStencilBufferSize(8), f.setSamples(0), f.setSwapInterval(0);
  QSurfaceFormat::setDefaultFormat(f);
}

VtkCanvas::VtkCanvas(QWidget* parent) : QOpenGLWidget(parent) {
  window_ = vtkSmartPointer<vtkGenericOpenGLRenderWindow>::New();
  renderer_ = vtkSmartPointer<vtkRenderer>::New();
  window_->SetReadyForRendering(false);
  window_->SetOwnContext(0);
  window_->SetMultiSamples(0);
  window_->SetAlphaBitPlanes(0);
  renderer_->SetBackgroundAlpha(1);
  window_->AddRenderer(renderer_);
  const auto observe = [this](unsigned long event, void (*f)(vtkObject*, unsigned long, void*, void*)) {
    vtkNew<vtkCallbackCommand> command;
    command->SetClientData(this);
    command->SetCallback(f);
    window_->AddObserver(event, command);
  };
  observe(vtkCommand::WindowMakeCurrentEvent, [](vtkObject*, unsigned long, void* self, void*) {
    auto* w = static_cast<VtkCanvas*>(self);
    if (w->isValid() && QOpenGLContext::currentContext() != w->context()) w->makeCurrent();
  });
  observe(vtkCommand::WindowIsCurrentEvent, [](vtkObject*, unsigned long, void* self, void* answer) {
    auto* w = static_cast<VtkCanvas*>(self);
    *static_cast<bool*>(answer) = w->isValid() && QOpenGLContext::currentContext() == w->context();
  });
  renderer_->GetActiveCamera()->ParallelProjectionOn();
  setMouseTracking(true);
  setMinimumSize(200, 150);
}

VtkCanvas::~VtkCanvas() { cleanUp(); }

void VtkCanvas::cleanUp() {
  if (!context() || !isValid()) return;
  makeCurrent();
  window_->Finalize();
  window_->SetReadyForRendering(false);
  doneCurrent();
}

void VtkCanvas::initializeGL() {
  window_->SetReadyForRendering(true);
  window_->SetMapped(true);
  window_->SetIsDirect(true);
  window_->SetSupportsOpenGL(true);
  window_->OpenGLInit();
  window_->SetFrameBlitModeToBlitToCurrent();
  connect(context(), &QOpenGLContext::aboutToBeDestroyed, this, &VtkCanvas::cleanUp, Qt::UniqueConnection);
}

void VtkCanvas::resizeGL(int w, int h) {
  const double ratio = devicePixelRatioF();
  const int width = int(w * ratio), height = int(h * ratio);
  window_->SetDPI(int(72 * ratio));
  window_->SetScreenSize(width, height);
  window_->SetSize(width, height);
  if (fitted_)
    fit(fitted_->bounds.data(), fitted_->right, fitted_->top);
  else
    emit cameraChanged();
}

void VtkCanvas::paintGL() {
  const auto& paper = theme().paper;
  renderer_->SetBackground(paper.redF(), paper.greenF(), paper.blueF());
  window_->GetState()->Reset();
  window_->GetState()->vtkglBindFramebuffer(GL_FRAMEBUFFER, defaultFramebufferObject());
  renderer_->ResetCameraClippingRange();
  window_->Render();
  // what is translucent in the picture must not let the window shine through it
  auto* gl = context()->functions();
  gl->glBindFramebuffer(GL_FRAMEBUFFER, defaultFramebufferObject());
  gl->glDisable(GL_SCISSOR_TEST);
  gl->glColorMask(GL_FALSE, GL_FALSE, GL_FALSE, GL_TRUE);
  gl->glClearColor(0, 0, 0, 1), gl->glClear(GL_COLOR_BUFFER_BIT);
  gl->glColorMask(GL_TRUE, GL_TRUE, GL_TRUE, GL_TRUE);
}

void VtkCanvas::setPlane(bool plane) {
  if (plane_ == plane) return;
  fitted_.reset();
  plane_ = plane;
  auto* camera = renderer_->GetActiveCamera();
  if (plane)
    camera->SetPosition(0, 0, 100), camera->SetFocalPoint(0, 0, 0), camera->SetViewUp(0, 1, 0);
  else
    camera->SetFocalPoint(0, 0, 0), camera->SetPosition(70, 45, 80), camera->SetViewUp(0, 1, 0);
}

void VtkCanvas::fit(const double b[6], double rightMargin, double topMargin) {
  Fitted now{{}, rightMargin, topMargin};
  std::copy(b, b + 6, now.bounds.begin());
  fitted_ = now;
  auto* camera = renderer_->GetActiveCamera();
  const double w = std::max(1, width()), h = std::max(1, height()), usable = std::max(0.3, 1 - rightMargin / w);
  double focal[3], position[3];
  camera->GetFocalPoint(focal), camera->GetPosition(position);
  double direction[3];
  for (int i = 0; i < 3; ++i) direction[i] = position[i] - focal[i];
  const double center[3] = {(b[0] + b[1]) / 2, (b[2] + b[3]) / 2, (b[4] + b[5]) / 2};
  const double size = std::max({b[1] - b[0], b[3] - b[2], b[5] - b[4]}),
               length = std::sqrt(direction[0] * direction[0] + direction[1] * direction[1] + direction[2] * direction[2]);
  double up[3], back[3], right[3];
  camera->OrthogonalizeViewUp();
  camera->GetViewUp(up);
  for (int i = 0; i < 3; ++i) back[i] = direction[i] / length;
  vtkMath::Cross(up, back, right);
  vtkMath::Normalize(right);
  double across = 0, along = 0;  // half extents of the bounds on the screen
  for (int corner = 0; corner < 8; ++corner) {
    double x = 0, y = 0;
    for (int i = 0; i < 3; ++i) {
      const double d = b[2 * i + (corner >> i & 1)] - center[i];
      x += d * right[i], y += d * up[i];
    }
    across = std::max(across, x), along = std::max(along, y);
  }
  const double half = 1.1 * std::max(along / std::max(0.3, 1 - (topMargin + 44) / h), across / usable * h / w);
  camera->SetParallelScale(half);
  // leave room for the legend on the right and the tools above
  const double shift = rightMargin / h * half, lift = (topMargin - 30) / h * half;
  double focus[3], place[3];
  for (int i = 0; i < 3; ++i) focus[i] = center[i] + shift * right[i] + lift * up[i], place[i] = focus[i] + back[i] * 4 * size;
  camera->SetFocalPoint(focus), camera->SetPosition(place);
  emit cameraChanged();
  update();
}

void VtkCanvas::goTo(const Eigen::Vector3d& x, double half, double rightMargin) {
  fitted_.reset();
  auto* camera = renderer_->GetActiveCamera();
  camera->OrthogonalizeViewUp();
  double up[3];
  camera->GetViewUp(up);
  const Eigen::Vector3d back = viewer(), right = Eigen::Vector3d(up[0], up[1], up[2]).cross(back).normalized();
  const Eigen::Vector3d focus = x + rightMargin / std::max(1, height()) * half * right,
                        place = focus + camera->GetDistance() * back;
  camera->SetParallelScale(half), camera->SetFocalPoint(focus.data()), camera->SetPosition(place.data());
  emit cameraChanged();
  update();
}

QPointF VtkCanvas::toScreen(double x, double y, double z) const {
  double p[4] = {x, y, z, 1};
  auto* camera = renderer_->GetActiveCamera();
  const double aspect = double(std::max(1, width())) / std::max(1, height());
  vtkMatrix4x4* m = camera->GetCompositeProjectionTransformMatrix(aspect, -1, 1);
  double q[4];
  m->MultiplyPoint(p, q);
  return {(q[0] / q[3] + 1) / 2 * width(), (1 - q[1] / q[3]) / 2 * height()};
}

Eigen::Vector3d VtkCanvas::viewer() const {
  double d[3];
  renderer_->GetActiveCamera()->GetDirectionOfProjection(d);
  return {-d[0], -d[1], -d[2]};
}

double VtkCanvas::nearness(const Eigen::Vector3d& x) const { return x.dot(viewer()); }

void VtkCanvas::lookFrom(const Eigen::Vector3d& from, const Eigen::Vector3d& up) {
  fitted_.reset();
  auto* camera = renderer_->GetActiveCamera();
  double f[3];
  camera->GetFocalPoint(f);
  const double distance = camera->GetDistance();
  const Eigen::Vector3d p = Eigen::Vector3d(f[0], f[1], f[2]) + distance * from.normalized();
  camera->SetPosition(p.x(), p.y(), p.z()), camera->SetViewUp(up.x(), up.y(), up.z());
  emit cameraChanged();
  update();
}

double VtkCanvas::pixelLength() const { return 2 * renderer_->GetActiveCamera()->GetParallelScale() / std::max(1, height()); }

Eigen::Vector3d VtkCanvas::toSpace(const QPointF& at, const Eigen::Vector3d& depth) const {
  double u[3];
  auto* camera = renderer_->GetActiveCamera();
  camera->OrthogonalizeViewUp();
  camera->GetViewUp(u);
  const Eigen::Vector3d up(u[0], u[1], u[2]), right = up.cross(viewer());
  const QPointF off = at - toScreen(depth);
  return depth + pixelLength() * (off.x() * right - off.y() * up);
}

QPointF VtkCanvas::toPlane(const QPointF& at) const {
  double focal[3];
  renderer_->GetActiveCamera()->GetFocalPoint(focal);
  return {focal[0] + (at.x() - width() / 2.) * pixelLength(), focal[1] - (at.y() - height() / 2.) * pixelLength()};
}

void VtkCanvas::mousePressEvent(QMouseEvent* e) {
  last_ = pressed_ = e->position(), moved_ = false, boxing_ = e->button() == Qt::LeftButton && e->modifiers() & Qt::ShiftModifier;
  grabbed_ = e->button() == Qt::LeftButton && !boxing_ && takesHold && takesHold(e->position());
}

void VtkCanvas::mouseMoveEvent(QMouseEvent* e) {
  const QPointF d = e->position() - last_;
  if (e->buttons() == Qt::NoButton) {
    emit hovered(e->position());
    return;
  }
  const bool began = !moved_ && (e->position() - pressed_).manhattanLength() > 3;
  moved_ = moved_ || began;
  if (!moved_) return;
  last_ = e->position();
  if (grabbed_) return dragged(e->position(), e->modifiers() & Qt::ControlModifier);
  if (began && !boxing_) emit moving(true);
  if (boxing_) {
    emit boxDrawn(QRectF(pressed_, last_).normalized(), false);
    return;
  }
  fitted_.reset();
  auto* camera = renderer_->GetActiveCamera();
  if (!plane_ && e->buttons() & Qt::LeftButton) {
    camera->Azimuth(-d.x() * 0.4);
    camera->Elevation(d.y() * 0.4);
    camera->OrthogonalizeViewUp();
  } else {
    double right[3], up[3], normal[3], f[3], p[3];
    camera->GetViewUp(up), camera->GetDirectionOfProjection(normal);
    vtkMath::Cross(normal, up, right);
    vtkMath::Normalize(right);
    camera->GetFocalPoint(f), camera->GetPosition(p);
    for (int i = 0; i < 3; ++i) {
      const double shift = pixelLength() * (-d.x() * right[i] + d.y() * up[i]);
      f[i] += shift, p[i] += shift;
    }
    camera->SetFocalPoint(f), camera->SetPosition(p);
  }
  emit cameraChanged();
  update();
}

void VtkCanvas::mouseReleaseEvent(QMouseEvent* e) {
  if (moved_ && !boxing_ && !grabbed_) emit moving(false), update();
  if (grabbed_ && e->button() == Qt::LeftButton) {
    grabbed_ = false, letGo();
    if (moved_) return;  // a click picks what lies there
  }
  if (e->button() == Qt::RightButton && !moved_) emit menuAsked(e->position());
  if (e->button() != Qt::LeftButton) return;
  if (!moved_)
    emit clicked(e->position(), e->modifiers() & Qt::ControlModifier);
  else if (boxing_)
    emit boxDrawn(QRectF(pressed_, e->position()).normalized(), true);
  boxing_ = false;
}

void VtkCanvas::wheelEvent(QWheelEvent* e) {
  fitted_.reset();
  const double factor = std::pow(0.85, e->angleDelta().y() / 120.);
  auto* camera = renderer_->GetActiveCamera();
  if (plane_) {  // the point under the pointer stays
    const QPointF before = toPlane(e->position());
    camera->SetParallelScale(camera->GetParallelScale() * factor);
    const QPointF after = toPlane(e->position());
    double f[3], p[3];
    camera->GetFocalPoint(f), camera->GetPosition(p);
    const double dx = before.x() - after.x(), dy = before.y() - after.y();
    camera->SetFocalPoint(f[0] + dx, f[1] + dy, f[2]), camera->SetPosition(p[0] + dx, p[1] + dy, p[2]);
  } else {
    camera->SetParallelScale(camera->GetParallelScale() * factor);
  }
  emit cameraChanged();
  update();
}

}  // namespace anvil::app
