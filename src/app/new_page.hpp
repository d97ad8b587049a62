// The beginning of a model: which kind it is, as pictures with a sentence each; then a part to begin with.
#pragma once
#include <QList>
#include <QWidget>

class QLabel;
class QVBoxLayout;

namespace anvil::app {

class PictureCard;

class NewPage : public QWidget {
  Q_OBJECT
 public:
  explicit NewPage(QWidget* parent = nullptr);
  /// From the start, with no kind chosen.
  void begin();
  QString kind() const { return kind_; }

 signals:
  void chosen(const QString& kind, const QString& part);  ///< `part` is empty for none
  void drawAsked(const QString& kind);
  void geometryAsked(const QString& kind);
  void left();  ///< without a new model

 private:
  void choose(const QString& kind);

  QList<PictureCard*> kinds_;
  QVBoxLayout* layout_;
  QWidget* parts_ = nullptr;  ///< of the chosen kind
  QString kind_;
};

}  // namespace anvil::app
