// The box that finds commands, things of the model and results by words, and runs what is chosen.
#pragma once
#include <QLineEdit>
#include <functional>
#include <vector>

class QListWidget;

namespace anvil::app {

struct Command {
  QString name, keys, help;
  std::function<void()> act;
};

class CommandBox : public QLineEdit {
  Q_OBJECT
 public:
  /// `body`: the widget over which the list hangs.
  explicit CommandBox(QWidget* body);
  void add(const Command& command) { fixed_.push_back(command); }
  const std::vector<Command>& fixed() const { return fixed_; }
  /// What can be done besides, asked for whenever the box is opened.
  void setMore(std::function<std::vector<Command>()> more) { more_ = std::move(more); }
  void open();
  void close();
  bool isOpen() const;
  /// What the list shows, in its order.
  QStringList shown() const;
  /// Does each typed word begin a word of the text? In any order, in capitals or not.
  static bool fits(const QString& text, const QString& typed);

 protected:
  void keyPressEvent(QKeyEvent* e) override;
  bool event(QEvent* e) override;
  void focusInEvent(QFocusEvent* e) override;
  void focusOutEvent(QFocusEvent* e) override;

 private:
  void filter();
  void take();

  std::vector<Command> fixed_, all_;
  std::function<std::vector<Command>()> more_;
  QListWidget* list_;
};

}  // namespace anvil::app
