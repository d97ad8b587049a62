// What touches: pairs of faces found near each other, with gap, overlap and area; made into contacts from here.
#pragma once
#include <QWidget>

#include "app/document_store.hpp"
#include "app/preparation.hpp"
#include "core/checks/touching.hpp"

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QVBoxLayout;

namespace anvil::app {

class TouchingList : public QWidget {
  Q_OBJECT
 public:
  TouchingList(DocumentStore& document, Preparation& preparation, QWidget* parent = nullptr);
  /// Looks for pairs in the mesh as it is now, closer than the distance in the field.
  void find();
  const std::vector<checks::Touching>& found() const { return found_; }

 signals:
  /// The faces under the mouse, and their parts.
  void lit(const QStringList& faces, const std::vector<int>& parts);
  void picked(const QString& kind, const QString& name);
  void said(const QString& words);

 protected:
  bool eventFilter(QObject* object, QEvent* e) override;

 private:
  struct Row {
    QWidget* box;
    QCheckBox* wanted;
  };
  void fill();
  void make();
  void count();
  DocumentStore& document_;
  Preparation& preparation_;
  QLineEdit *distance_, *friction_, *size_;
  QComboBox* kind_;
  QPushButton* make_;
  QLabel* words_;
  QVBoxLayout* list_;
  QWidget* body_;
  std::vector<checks::Touching> found_;
  std::vector<Row> rows_;
};

}  // namespace anvil::app
