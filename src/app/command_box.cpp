#include "app/command_box.hpp"

#include <QKeyEvent>
#include <QListWidget>
#include <QPainter>
#include <QRegularExpression>
#include <QSettings>
#include <QStyledItemDelegate>
#include <algorithm>

#include "app/theme.hpp"

namespace anvil::app {
namespace {

constexpr int helpRole = Qt::UserRole + 1, keysRole = Qt::UserRole + 2, listWidth = 460, rowHeight = 26;
constexpr qsizetype remembered = 12;
const char* const recentKey = "recentCommands";

/// A row: name, what it does, its keys.
class RowPainter : public QStyledItemDelegate {
 public:
  using QStyledItemDelegate::QStyledItemDelegate;
  QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override { return {listWidth - 20, rowHeight}; }
  void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
    const bool chosen = option.state & QStyle::State_Selected;
    if (chosen) p->fillRect(option.rect, theme().accentSoft);
    QRect room = option.rect.adjusted(8, 0, -8, 0);
    const auto name = index.data().toString(), keys = index.data(keysRole).toString(), help = index.data(helpRole).toString();
    const bool dead = !(index.flags() & Qt::ItemIsEnabled);
    p->setPen(theme().faint);
    p->drawText(room, Qt::AlignRight | Qt::AlignVCenter, keys);
    if (!keys.isEmpty()) room.setRight(room.right() - p->fontMetrics().horizontalAdvance(keys) - 12);
    p->setPen(dead ? theme().faint : theme().ink);
    p->drawText(room, Qt::AlignLeft | Qt::AlignVCenter, p->fontMetrics().elidedText(name, Qt::ElideRight, room.width()));
    room.setLeft(room.left() + p->fontMetrics().horizontalAdvance(name) + 14);
    if (room.width() < 60) return;
    p->setPen(theme().faint);
    p->drawText(room, Qt::AlignLeft | Qt::AlignVCenter, p->fontMetrics().elidedText(help, Qt::ElideRight, room.width()));
  }
};

QStringList recent() { return QSettings("GannetQuay", "UnyieldingAnvil").value(recentKey).toStringList(); }

QStringList wordsOf(const QString& text) {
  static const QRegularExpression apart("[^\\p{L}\\p{N}]+");
  return text.split(apart, Qt::SkipEmptyParts);
}

}  // namespace

CommandBox::CommandBox(QWidget* body) : QLineEdit(body), list_(new QListWidget(body)) {
  setObjectName("commandBox");
  setPlaceholderText("Find a command, part or result   Ctrl+K");
  setAccessibleName("Find a command, part or result");
  list_->setObjectName("commandList"), list_->setFocusPolicy(Qt::NoFocus), list_->setItemDelegate(new RowPainter(list_));
  list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  list_->hide();
  connect(this, &QLineEdit::textEdited, this, &CommandBox::filter);
  connect(this, &QLineEdit::returnPressed, this, &CommandBox::take);
  connect(list_, &QListWidget::itemClicked, this, [this](QListWidgetItem* item) { list_->setCurrentItem(item), take(); });
}

bool CommandBox::fits(const QString& text, const QString& typed) {
  const auto words = wordsOf(text), asked = wordsOf(typed);
  return std::all_of(asked.begin(), asked.end(), [&](const QString& a) {
    return std::any_of(words.begin(), words.end(), [&](const QString& w) { return w.startsWith(a, Qt::CaseInsensitive); });
  });
}

void CommandBox::open() {
  list_->hide();
  setFocus(Qt::ShortcutFocusReason);
  selectAll();
  filter();
}

void CommandBox::close() {
  list_->hide();
  clear(), clearFocus();
}

bool CommandBox::isOpen() const { return !list_->isHidden(); }

QStringList CommandBox::shown() const {
  QStringList names;
  for (int i = 0; i < list_->count(); ++i) names << list_->item(i)->text();
  return names;
}

/// Recent ones first, then names that begin with what is typed, then the rest in their order.
void CommandBox::filter() {
  if (!isOpen()) {
    all_ = fixed_;
    if (more_)
      for (auto& c : more_()) all_.push_back(std::move(c));
  }
  const auto typed = text().trimmed();
  const auto before = recent();
  std::vector<std::pair<qsizetype, int>> order;
  for (size_t i = 0; i < all_.size(); ++i) {
    const auto& c = all_[i];
    if (!fits(c.name + " " + c.help, typed)) continue;
    const bool byName = fits(c.name, typed);
    const auto used = before.indexOf(c.name);
    order.emplace_back((byName ? 0 : 1000) + (used >= 0                                       ? used
                                              : c.name.startsWith(typed, Qt::CaseInsensitive) ? 100
                                                                                              : 200),
                       int(i));
  }
  std::stable_sort(order.begin(), order.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
  list_->clear();
  for (const auto& [rank, i] : order) {
    const auto& c = all_[size_t(i)];
    auto* item = new QListWidgetItem(c.name, list_);
    item->setData(Qt::UserRole, i), item->setData(keysRole, c.keys), item->setData(helpRole, c.help);
    item->setToolTip(c.help);
  }
  if (list_->count() == 0) (new QListWidgetItem("Nothing of that name", list_))->setFlags(Qt::NoItemFlags);
  list_->setCurrentRow(0);
  auto* body = list_->parentWidget();
  const QPoint at = mapTo(body, QPoint(0, height() + 4));
  const int left = std::max(8, std::min(at.x() - 60, body->width() - listWidth - 8));
  list_->setGeometry(left, at.y(), listWidth, std::min(14 * rowHeight + 8, rowHeight * list_->count() + 8));
  list_->raise(), list_->show();
}

void CommandBox::take() {
  const auto* item = list_->currentItem();
  if (!isOpen() || !item || !item->data(Qt::UserRole).isValid()) return;
  const auto command = all_[size_t(item->data(Qt::UserRole).toInt())];
  auto names = recent();
  names.removeAll(command.name), names.prepend(command.name);
  QSettings("GannetQuay", "UnyieldingAnvil").setValue(recentKey, names.mid(0, remembered));
  close();
  command.act();
}

bool CommandBox::event(QEvent* e) {
  if (e->type() == QEvent::ShortcutOverride && isOpen()) {  // keys of the list are not the window's
    const int key = static_cast<QKeyEvent*>(e)->key();
    if (key == Qt::Key_Up || key == Qt::Key_Down || key == Qt::Key_PageUp || key == Qt::Key_PageDown) e->accept();
  }
  return QLineEdit::event(e);
}

void CommandBox::keyPressEvent(QKeyEvent* e) {
  const int step = e->key() == Qt::Key_Down       ? 1
                   : e->key() == Qt::Key_Up       ? -1
                   : e->key() == Qt::Key_PageDown ? 10
                   : e->key() == Qt::Key_PageUp   ? -10
                                                  : 0;
  if (!step) return QLineEdit::keyPressEvent(e);
  if (!isOpen()) filter();
  list_->setCurrentRow(std::clamp(list_->currentRow() + step, 0, list_->count() - 1));
  list_->scrollToItem(list_->currentItem());
}

void CommandBox::focusInEvent(QFocusEvent* e) {
  QLineEdit::focusInEvent(e);
  if (e->reason() == Qt::MouseFocusReason) filter();
}

void CommandBox::focusOutEvent(QFocusEvent* e) {
  QLineEdit::focusOutEvent(e);
  list_->hide();
}

}  // namespace anvil::app
