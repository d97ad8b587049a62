#include "app/desk/row_editor.hpp"

#include <QCheckBox>
#include <QComboBox>
#include <QCompleter>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QStringListModel>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/desk/help_label.hpp"
#include "app/flow_layout.hpp"
#include "app/shown_units.hpp"
#include "app/theme.hpp"
#include "app/typed.hpp"
#include "core/base/error.hpp"
#include "core/model/document.hpp"
#include "core/model/quantities.hpp"

namespace anvil::app {
namespace {

constexpr const char* newThing = "new …";
constexpr int labelWidth = 100;

bool isBare(const QString& text) { return typed(text).number.has_value(); }

}  // namespace

RowEditor::RowEditor(const DocumentStore& document, FormRow row, QWidget* parent)
    : QWidget(parent), document_(document), row_(std::move(row)) {
  using Editor = FormRow::Editor;
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0), layout->setSpacing(2);
  switch (row_.editor) {
    case Editor::choice:
    case Editor::openChoice:
      addChoice(layout);
      break;
    case Editor::check: {
      auto* box = new QCheckBox("yes", this);
      box->setChecked(row_.text == "true"), box->setObjectName("row-" + row_.path.join('/'));
      connect(box, &QCheckBox::toggled, this, [this](bool on) { emit entered(on ? "true" : "false"); });
      layout->addLayout(beside(box));
      break;
    }
    case Editor::line:
      addLine(layout);
      break;
    case Editor::table:
      addTable(layout);
      break;
    case Editor::toggles:
      addToggles(layout);
      break;
    case Editor::places:
      addPlaces(layout);
      break;
  }
  const bool says = QString(row_.help).remove('.').compare(row_.label, Qt::CaseInsensitive) != 0;  // more than the label does
  if (says && !row_.help.isEmpty()) layout->addWidget(new HelpLabel(row_.help, this));
  layout->addSpacing(4);
}

/// The label, the editor, and what stands behind it, on one line.
QLayout* RowEditor::beside(QWidget* editor, QWidget* behind) {
  auto* line = new QHBoxLayout;
  line->setSpacing(6);
  auto* label = new QLabel(row_.label, this);
  label->setFixedWidth(labelWidth), label->setWordWrap(true), label->setBuddy(editor);
  editor->setMinimumWidth(52);  // of boxes of choices less than their words: the desk is not widened
  line->addWidget(label), line->addWidget(editor, 1);
  if (behind) line->addWidget(behind);
  editor->setToolTip(row_.help), editor->setAccessibleName(row_.label), editor->setAccessibleDescription(row_.help);
  return line;
}

void RowEditor::addChoice(QVBoxLayout* layout) {
  auto* box = new QComboBox(this);
  box->setObjectName("row-" + row_.path.join('/'));
  for (const auto& c : row_.choices) box->addItem(c.isEmpty() ? "none" : c, c);
  box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon), box->setMinimumContentsLength(6);
  box->setFocusPolicy(Qt::StrongFocus), box->installEventFilter(this);
  QToolButton* open = nullptr;
  if (row_.editor == FormRow::Editor::openChoice) {
    box->setEditable(true), box->setInsertPolicy(QComboBox::NoInsert), box->setCurrentText(row_.text);
    connect(box->lineEdit(), &QLineEdit::editingFinished, this, [this, box] {
      if (box->currentText() != row_.text) emit entered(box->currentText());
    });
    connect(box, &QComboBox::textActivated, this, [this](const QString& t) {
      if (t != row_.text) emit entered(t);
    });
  } else {
    if (!row_.newKind.isEmpty()) box->addItem(newThing);
    box->setCurrentIndex(std::max(0, box->findData(row_.text)));
    connect(box, &QComboBox::activated, this, [this, box](int index) {
      if (!row_.newKind.isEmpty() && index == box->count() - 1) return emit newAsked();
      emit entered(box->itemData(index).toString());
    });
    if (!row_.newKind.isEmpty() && !row_.text.isEmpty()) {
      open = new QToolButton(this);
      open->setText("Open"), open->setProperty("small", true), open->setObjectName("open-" + row_.path.join('/'));
      open->setToolTip("Go to '" + row_.text + "'");
      connect(open, &QToolButton::clicked, this, [this] { emit openAsked(row_.text); });
    }
  }
  layout->addLayout(beside(box, open));
}

void RowEditor::addLine(QVBoxLayout* layout) {
  line_ = new QLineEdit(shownText(), this);
  line_->setObjectName("row-" + row_.path.join('/'));
  line_->setCursorPosition(0);  // long text is read from its beginning
  worth_ = new QLabel(this);
  worth_->setObjectName("worth"), worth_->setTextFormat(Qt::PlainText);
  connect(line_, &QLineEdit::editingFinished, this, [this] {
    if (line_->text() == shownText()) return;  // looked at, not changed
    emit entered(writtenText(line_->text()));
  });
  unit_ = new QLabel(this);
  unit_->setObjectName("unit");
  layout->addLayout(beside(line_, unit_));
  worth_->setIndent(labelWidth + 6), worth_->setWordWrap(true), layout->addWidget(worth_);
  showWorth();
}

void RowEditor::addTable(QVBoxLayout* layout) {
  QStringList known;  // of bare numbers as they are typed here
  for (const auto& column : row_.columns) known << units().unit(column.kind);
  known.removeAll(QString()), known.removeDuplicates();
  auto* label =
      new QLabel(row_.label + "  <span style='color:" + theme().faint.name() + "'>" + known.join(", ") + "</span>", this);
  label->setObjectName("units-" + row_.path.join('/'));
  layout->addWidget(label);
  auto* box = new QPlainTextEdit(shownText(), this);
  box->setObjectName("row-" + row_.path.join('/')), box->setToolTip(row_.help);
  box->setAccessibleName(row_.label), box->setTabChangesFocus(true), label->setBuddy(box);
  box->setLineWrapMode(QPlainTextEdit::NoWrap);  // a row is a line
  box->setFixedHeight(120);
  box->setPlaceholderText(row_.help.contains("row each") ? QString() : "one row a line; paste from a sheet");
  connect(box, &QPlainTextEdit::textChanged, this, [this, box] { emit entered(writtenText(box->toPlainText())); });
  layout->addWidget(box);
}

QStringList RowEditor::chosen() const {
  QStringList words;
  for (const auto& w : typedList(row_.text)) words << w.trimmed();
  words.removeAll(QString());
  return words;
}

void RowEditor::choose(const QStringList& words) {
  row_.text = shownList(words);
  emit entered(row_.text);
}

void RowEditor::addToggles(QVBoxLayout* layout) {
  auto* label = new QLabel(row_.label, this);
  layout->addWidget(label);
  auto* box = new QWidget(this);
  box->setObjectName("row-" + row_.path.join('/')), box->setAccessibleName(row_.label);
  auto* flow = new FlowLayout(box);
  QStringList words = row_.choices;
  for (const auto& w : chosen())
    if (!words.contains(w)) words << w;  // by another way of writing, or of a thing that is gone
  for (const auto& w : words) {
    auto* b = new QToolButton(box);
    b->setText(w), b->setCheckable(true), b->setChecked(chosen().contains(w)), b->setProperty("toggle", true);
    b->setAccessibleName(row_.label + " " + w);
    b->setObjectName("toggle-" + row_.path.join('/') + "-" + w), b->setFocusPolicy(Qt::StrongFocus);
    connect(b, &QToolButton::clicked, this, [this, w, words](bool on) {
      auto now = chosen();
      on ? now.append(w) : void(now.removeAll(w));
      QStringList ordered;
      for (const auto& each : words)
        if (now.contains(each)) ordered << each;
      choose(ordered);
    });
    flow->addWidget(b);
  }
  layout->addWidget(box);
}

void RowEditor::addPlaces(QVBoxLayout* layout) {
  layout->addWidget(new QLabel(row_.label, this));
  chips_ = new QWidget(this);
  chips_->setObjectName("chips-" + row_.path.join('/'));
  new FlowLayout(chips_);
  layout->addWidget(chips_);
  auto* line = new QHBoxLayout;
  line->setSpacing(6);
  pick_ = new QToolButton(this);
  pick_->setText("Pick in view"), pick_->setCheckable(true), pick_->setProperty("toggle", true);
  pick_->setObjectName("pick-" + row_.path.join('/')), pick_->setFocusPolicy(Qt::StrongFocus);
  pick_->setToolTip("Click faces, edges or parts in the view; Ctrl takes more. Click here again when done.");
  connect(pick_, &QToolButton::toggled, this, [this](bool on) {
    pick_->setText(on ? "Done picking" : "Pick in view");
    if (on) emit pickingBegun();
  });
  line_ = new QLineEdit(this);
  line_->setObjectName("row-" + row_.path.join('/')), line_->setPlaceholderText("or type a name");
  line_->setAccessibleName(row_.label), line_->setToolTip(row_.help);
  connect(line_, &QLineEdit::returnPressed, this, [this] {
    auto words = chosen();
    for (const auto& w : typedList(line_->text()))
      if (!w.trimmed().isEmpty() && !words.contains(w.trimmed())) words << w.trimmed();
    line_->clear();
    choose(words), showChips();
  });
  line->addWidget(pick_), line->addWidget(line_, 1);
  layout->addLayout(line);
  setPlaces({});
  showChips();
}

void RowEditor::setPlaces(const QStringList& names) {
  if (row_.editor != FormRow::Editor::places) return;
  auto* completer = new QCompleter(row_.choices + names, line_);
  completer->setCaseSensitivity(Qt::CaseInsensitive), completer->setFilterMode(Qt::MatchContains);
  line_->setCompleter(completer);
}

void RowEditor::showChips() {
  for (auto* old : chips_->findChildren<QToolButton*>()) chips_->layout()->removeWidget(old), old->hide(), old->deleteLater();
  for (const auto& name : chosen()) {
    auto* chip = new QToolButton(chips_);
    chip->setText(name + "  ×"), chip->setProperty("chip", true), chip->setObjectName("chip-" + name);
    chip->setToolTip("Take '" + name + "' out"), chip->setFocusPolicy(Qt::StrongFocus), chip->installEventFilter(this);
    connect(chip, &QToolButton::clicked, this, [this, name] {
      auto words = chosen();
      words.removeAll(name);
      choose(words);
      emit placesPointedAt(words);
      QMetaObject::invokeMethod(this, &RowEditor::showChips, Qt::QueuedConnection);  // the chip that was clicked goes with it
    });
    chips_->layout()->addWidget(chip), chip->show();
  }
  chips_->setVisible(!chosen().isEmpty());
  chips_->updateGeometry();
}

bool RowEditor::takesPicked() const { return pick_ && pick_->isChecked(); }
void RowEditor::endPicking() {
  if (pick_) pick_->setChecked(false);
}
void RowEditor::setPicked(const QStringList& names) {
  if (names == chosen()) return;
  choose(names), showChips();
}

void RowEditor::setText(const QString& text) {
  row_.text = text;
  if (chips_) {
    showChips();
  } else if (line_) {
    if (!line_->hasFocus()) line_->setText(shownText()), line_->setCursorPosition(0);
  } else if (auto* table = findChild<QPlainTextEdit*>()) {
    const QSignalBlocker quiet(table);
    if (!table->hasFocus() && table->toPlainText() != shownText()) table->setPlainText(shownText());
  } else if (auto* choice = findChild<QComboBox*>()) {
    if (row_.editor == FormRow::Editor::choice) choice->setCurrentIndex(std::max(0, choice->findData(text)));
    if (row_.editor == FormRow::Editor::openChoice && !choice->lineEdit()->hasFocus()) choice->setEditText(text);
  } else if (auto* check = findChild<QCheckBox*>()) {
    const QSignalBlocker quiet(check);
    check->setChecked(text == "true");
  } else if (row_.editor == FormRow::Editor::toggles) {
    for (auto* b : findChildren<QToolButton*>()) b->setChecked(chosen().contains(b->text()));
  }
  showWorth();
}

QString RowEditor::changedCells(const QString& text, Change change) const {
  if (row_.columns.empty()) return text;
  QStringList lines = text.split('\n');
  for (auto& line : lines) {
    const auto before = typedCells(line);
    auto cells = before;
    for (qsizetype i = 0; i < cells.size(); ++i) {
      const auto& c = row_.columns[std::min(size_t(i), row_.columns.size() - 1)];
      cells[i] = (units().*change)(cells[i], c.kind, c.unit.toStdString());
    }
    if (cells != before) line = cells.join('\t');
  }
  return lines.join('\n');
}

QString RowEditor::shownText() const {
  if (row_.editor == FormRow::Editor::table) return changedCells(row_.text, &ShownUnits::withFileUnit);
  if (!row_.quantities) return row_.text;
  QStringList items = row_.quantities == 1 ? QStringList(row_.text) : typedList(row_.text);
  for (auto& item : items) item = units().withFileUnit(item, row_.kind, row_.unit.toStdString());
  return row_.quantities == 1 ? items.front() : shownList(items);
}

QString RowEditor::writtenText(const QString& text) const {
  if (row_.editor == FormRow::Editor::table) return changedCells(text, &ShownUnits::asWritten);
  if (!row_.quantities) return text;
  QStringList items = row_.quantities == 1 ? QStringList(text) : typedList(text);
  for (auto& item : items) item = units().asWritten(item, row_.kind, row_.unit.toStdString());
  return row_.quantities == 1 ? items.front() : shownList(items);
}

/// The unit behind a number that is in it; else what the entry comes to in it.
void RowEditor::showWorth() {
  if (!worth_) return;
  const auto unit = units().unit(row_.kind);
  QString words;
  if (row_.quantities > 0 && !row_.text.isEmpty()) {
    const auto items = row_.quantities == 1 ? QStringList(row_.text) : typedList(row_.text);
    bool other = false;
    QStringList worth;
    try {
      const model::Quantities q(document_.document());
      for (const auto& item : items) {
        other |= (!isBare(item) && !item.endsWith(" " + unit)) || (isBare(item) && !row_.unit.isEmpty() && row_.unit != unit);
        worth << units().number(q(typed(item), row_.kind, ""), row_.kind, 5);
      }
    } catch (const Error&) {  // said where it is entered
      other = false;
    }
    if (other) words = "= " + shownList(worth) + (unit.isEmpty() ? "" : " " + unit);
  }
  worth_->setText(words), worth_->setVisible(!words.isEmpty());
  unit_->setText(unit), unit_->setVisible(row_.quantities > 0 && !unit.isEmpty() && words.isEmpty());
}

/// The wheel scrolls the desk; it must not change a choice that happens to pass under it.
bool RowEditor::eventFilter(QObject* object, QEvent* e) {
  if (e->type() == QEvent::Wheel && qobject_cast<QComboBox*>(object)) {
    e->ignore();
    return true;
  }
  if ((e->type() == QEvent::Enter || e->type() == QEvent::Leave) && object->property("chip").toBool())
    emit placesPointedAt(e->type() == QEvent::Enter ? QStringList(object->objectName().mid(5)) : chosen());
  return QWidget::eventFilter(object, e);
}

}  // namespace anvil::app
