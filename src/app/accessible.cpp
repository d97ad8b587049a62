#include "app/accessible.hpp"

#include <QAbstractButton>
#include <QAbstractItemView>
#include <QAbstractSlider>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>

namespace anvil::app {

void nameForAssistiveTools(QWidget* root) {
  for (auto* label : root->findChildren<QLabel*>())
    if (auto* of = label->buddy(); of && of->accessibleName().isEmpty()) of->setAccessibleName(label->text());
  for (auto* w : root->findChildren<QWidget*>()) {
    if (!w->accessibleName().isEmpty() || w->focusPolicy() == Qt::NoFocus) continue;
    const auto* line = qobject_cast<QLineEdit*>(w);
    const auto* text = qobject_cast<QPlainTextEdit*>(w);
    const bool entry =
        line || text || qobject_cast<QComboBox*>(w) || qobject_cast<QAbstractItemView*>(w) || qobject_cast<QAbstractSlider*>(w);
    const auto* button = qobject_cast<QAbstractButton*>(w);
    if (!entry && !(button && button->text().size() < 2)) continue;  // "+" says nothing
    const auto first = w->toolTip().section('.', 0, 0).section(';', 0, 0);
    const auto inside = line ? line->placeholderText() : text ? text->placeholderText() : QString();
    w->setAccessibleName(first.isEmpty() ? inside : first);
  }
}

}  // namespace anvil::app
