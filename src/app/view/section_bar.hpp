// The strip that moves a section through a solid: its direction, its place, which side stays.
#pragma once
#include <QWidget>

#include "app/document_store.hpp"
#include "app/view/scene.hpp"

class QLineEdit;
class QSlider;
class QToolButton;

namespace anvil::app {

class SectionBar : public QWidget {
  Q_OBJECT
 public:
  SectionBar(const DocumentStore& document, QWidget* parent = nullptr);
  /// The room the section may move in: xmin, xmax, ymin, ymax, zmin, zmax. A place beyond it is brought back.
  void setBounds(const double b[6]);
  const Section& section() const { return section_; }
  void setSection(const Section& section);

  /// Shows what is chosen; with `tell` others hear of it.
  void refresh(bool tell);

 signals:
  void moved();

 private:
  const DocumentStore& document_;
  double bounds_[6] = {-1, 1, -1, 1, -1, 1};
  Section section_;
  QToolButton *axes_[3], *flip_;
  QSlider* slider_;
  QLineEdit* place_;
};

}  // namespace anvil::app
