#include "app/start_page.hpp"

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QSettings>
#include <QVBoxLayout>

#include "app/scrolled_page.hpp"
#include "app/silhouette.hpp"
#include "app/theme.hpp"
#include "core/base/error.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/json.hpp"
#include "core/model/part.hpp"

namespace anvil::app {
namespace {

/// A card with a drawing of the model and its title.
class ExampleCard : public QWidget {
 public:
  ExampleCard(const QString& path, std::function<void()> open, QWidget* parent) : QWidget(parent), open_(std::move(open)) {
    setFixedSize(280, 204), setCursor(Qt::PointingHandCursor);
    setAccessibleName(QFileInfo(path).completeBaseName());
    try {
      document_ = model::load(path.toStdString());
    } catch (const Error& e) {
      trouble_ = e.what();
    }
  }

 protected:
  void mouseReleaseEvent(QMouseEvent*) override { open_(); }
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(underMouse() ? theme().accent : theme().line, 1)), p.setBrush(theme().raised);
    p.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 6, 6);
    std::vector<std::pair<QPainterPath, int>> shapes;
    QRectF all;
    int index = 0;
    for (const auto& [name, part] : document_.parts) {
      for (const auto& path : silhouette(document_, part))
        shapes.emplace_back(path, part.rigid ? -1 : index), all = all.united(path.boundingRect());
      ++index;
    }
    const QRectF box(24, 20, width() - 48, 124);
    const double scale = std::min(box.width() / std::max(all.width(), 1e-9), box.height() / std::max(all.height(), 1e-9));
    const auto fit = QTransform::fromTranslate(-all.center().x(), -all.center().y()) * QTransform::fromScale(scale, scale) *
                     QTransform::fromTranslate(box.center().x(), box.center().y());
    for (const auto& [path, color] : shapes) {
      p.setPen(QPen(color < 0 ? QColor("#5B6470") : theme().ink, color < 0 ? 2.5 : 0.8));
      p.setBrush(color < 0 ? QBrush(Qt::NoBrush) : QBrush(partColor(color)));
      p.drawPath(fit.map(path));
    }
    p.setPen(theme().ink);
    QFont f = font();
    f.setWeight(QFont::DemiBold), p.setFont(f);
    p.drawText(QRectF(18, 152, width() - 36, 22), Qt::AlignVCenter, QString::fromStdString(document_.title));
    f.setWeight(QFont::Normal), f.setPixelSize(12), p.setFont(f), p.setPen(theme().faint);
    p.drawText(QRectF(18, 172, width() - 36, 20), Qt::AlignVCenter,
               trouble_.isEmpty() ? QString::fromStdString(document_.space) + QString(" · %1 steps").arg(document_.steps.size())
                                  : "cannot be read");
  }

 private:
  model::Document document_;
  QString trouble_;
  std::function<void()> open_;
};

}  // namespace

QString StartPage::examplesFolder() {
  const QString installed = QCoreApplication::applicationDirPath() + "/../share/unyielding-anvil/examples";
  return QDir(installed).exists() ? installed : QString(ANVIL_EXAMPLES);
}

StartPage::StartPage(QWidget* parent) : QWidget(parent) {
  auto* layout = scrolledPage(this);  // more examples than a window is high do not make it higher
  layout->setContentsMargins(64, 48, 64, 32), layout->setSpacing(10);
  auto* title = new QLabel("Unyielding Anvil", this);
  title->setStyleSheet("font-size: 28px; font-weight: 600;");
  layout->addWidget(title);
  auto* line = new QLabel("Contact, yielding and large deflection, step by step.", this);
  line->setStyleSheet("color: " + theme().faint.name() + "; font-size: 15px;");
  layout->addWidget(line);
  auto* row = new QHBoxLayout;
  auto* open = new QPushButton("Open a model…", this);
  auto* fresh = new QPushButton("New model", this);
  auto* geometry = new QPushButton("Start from STEP geometry…", this);
  open->setObjectName("framed"), fresh->setObjectName("framed"), geometry->setObjectName("framed");
  row->addWidget(open), row->addWidget(fresh), row->addWidget(geometry), row->addStretch();
  layout->addSpacing(12);
  layout->addLayout(row);
  connect(open, &QPushButton::clicked, this, &StartPage::openDialogAsked);
  connect(fresh, &QPushButton::clicked, this, &StartPage::newAsked);
  connect(geometry, &QPushButton::clicked, this, &StartPage::geometryAsked);
  layout->addSpacing(20);
  auto* head = new QLabel("EXAMPLES FROM GANNET QUAY", this);
  head->setObjectName("head");
  layout->addWidget(head);
  auto* cards = new QGridLayout;  // three to a row fit the smallest window
  cards->setSpacing(16);
  const QDir folder(examplesFolder());
  auto names = folder.entryList(QDir::Dirs | QDir::NoDotAndDotDot);
  std::stable_partition(names.begin(), names.end(),
                        [](const QString& n) { return n == "ferrule-crimp"; });  // the one to begin with
  for (const auto& name : names)
    if (const auto path = folder.filePath(name + "/" + name + ".anvil"); QFileInfo::exists(path)) {  // others beside it vary it
      const int number = cards->count();
      cards->addWidget(new ExampleCard(
                           path, [this, path] { emit openAsked(path); }, this),
                       number / 3, number % 3);
    }
  cards->setColumnStretch(3, 1);
  layout->addLayout(cards);
  layout->addSpacing(16);
  auto* recentHead = new QLabel("RECENT", this);
  recentHead->setObjectName("head");
  layout->addWidget(recentHead);
  recent_ = new QVBoxLayout;
  recent_->setSpacing(2);
  layout->addLayout(recent_);
  layout->addStretch();
  refresh();
}

QStringList StartPage::recentFiles() {
  auto list = QSettings("GannetQuay", "UnyieldingAnvil").value("recent").toStringList();
  list.removeIf([](const QString& f) { return !QFileInfo::exists(f); });
  return list;
}

void StartPage::remember(const QString& path) {
  QSettings settings("GannetQuay", "UnyieldingAnvil");
  auto list = settings.value("recent").toStringList();
  list.removeAll(path), list.prepend(path);
  settings.setValue("recent", list.mid(0, 8));
}

void StartPage::refresh() {
  while (auto* item = recent_->takeAt(0)) {
    if (item->widget()) item->widget()->deleteLater();
    delete item;
  }
  const auto files = recentFiles();
  if (files.isEmpty()) {
    auto* none = new QLabel("Models you open appear here.", this);
    none->setObjectName("help");
    recent_->addWidget(none);
  }
  for (const auto& f : files.mid(0, 5)) {
    auto* b = new QPushButton(QFileInfo(f).fileName() + "   " + QFileInfo(f).absolutePath(), this);
    b->setStyleSheet("text-align: left;");
    connect(b, &QPushButton::clicked, this, [this, f] { emit openAsked(f); });
    recent_->addWidget(b);
  }
}

}  // namespace anvil::app
