// VTK's renderer inside a QOpenGLWidget of our own, with our own camera control.
#pragma once
#include <vtkGenericOpenGLRenderWindow.h>
#include <vtkRenderer.h>
#include <vtkSmartPointer.h>

#include <Eigen/Core>
#include <QOpenGLWidget>
#include <array>
#include <functional>
#include <optional>

namespace anvil::app {

class VtkCanvas : public QOpenGLWidget {
  Q_OBJECT
 public:
  explicit VtkCanvas(QWidget* parent = nullptr);
  ~VtkCanvas() override;

  vtkRenderer* renderer() { return renderer_; }
  /// Surface format that must be the default before the application is made.
  static void prepareFormat();

  /// Plane view (pan, zoom) or space view (turn as well).
  void setPlane(bool plane);
  bool plane() const { return plane_; }
  /// Shows the whole of the bounds, leaving room (pixels) for the legend and the tools; until the view is moved, also
  /// when the widget's size changes.
  void fit(const double bounds[6], double rightMargin, double topMargin);
  /// Puts a point into the middle of what the legend leaves, with `half` (mm) of the scene above and below it.
  void goTo(const Eigen::Vector3d& x, double half, double rightMargin);
  /// Widget place (logical pixels) of a world point.
  QPointF toScreen(double x, double y, double z) const;
  QPointF toScreen(const Eigen::Vector3d& x) const { return toScreen(x.x(), x.y(), x.z()); }
  /// Distance towards the viewer: larger is nearer.
  double nearness(const Eigen::Vector3d& x) const;
  /// Unit direction from the scene to the viewer.
  Eigen::Vector3d viewer() const;
  /// Looks from a direction in space; `up` is up on the screen.
  void lookFrom(const Eigen::Vector3d& from, const Eigen::Vector3d& up);
  /// World point of the plane z = 0 under a widget place.
  QPointF toPlane(const QPointF& at) const;
  /// World point under a widget place, at the depth of another point.
  Eigen::Vector3d toSpace(const QPointF& at, const Eigen::Vector3d& depth) const;
  /// World length of one logical pixel in a plane view.
  double pixelLength() const;

  /// Who takes the left button before the camera does: true where something is got hold of there, which is then dragged.
  std::function<bool(const QPointF& at)> takesHold;
  std::function<void(const QPointF& at, bool free)> dragged;  ///< `free`: with Ctrl
  std::function<void()> letGo;

 signals:
  void cameraChanged();
  void moving(bool now);                       ///< the mouse turns or shifts the view, or has let go
  void clicked(const QPointF& at, bool more);  ///< `more`: with Ctrl, beside what is picked already
  void menuAsked(const QPointF& at);           ///< the right button, let go where it was pressed
  void hovered(const QPointF& at);
  /// A box drawn with Shift held; `done` when the button is let go.
  void boxDrawn(const QRectF& box, bool done);

 protected:
  void initializeGL() override;
  void resizeGL(int w, int h) override;
  void paintGL() override;
  void mousePressEvent(QMouseEvent* e) override;
  void mouseMoveEvent(QMouseEvent* e) override;
  void mouseReleaseEvent(QMouseEvent* e) override;
  void wheelEvent(QWheelEvent* e) override;

 private:
  struct Fitted {
    std::array<double, 6> bounds;
    double right, top;
  };
  void cleanUp();
  vtkSmartPointer<vtkGenericOpenGLRenderWindow> window_;
  vtkSmartPointer<vtkRenderer> renderer_;
  QPointF last_, pressed_;
  std::optional<Fitted> fitted_;  ///< what the view still shows as `fit` set it
  bool plane_ = true, moved_ = false, boxing_ = false, grabbed_ = false;
};

}  // namespace anvil::app
