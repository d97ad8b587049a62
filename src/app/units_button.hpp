// The units on show, chosen from a menu: the usual sets, and a mix of one's own.
#pragma once
#include <QToolButton>

namespace anvil::app {

class UnitsButton : public QToolButton {
  Q_OBJECT
 public:
  explicit UnitsButton(QWidget* parent = nullptr);

 private:
  void refresh();
};

}  // namespace anvil::app
