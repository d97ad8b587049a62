#include "app/theme.hpp"

#include <QApplication>
#include <QFont>
#include <QFontDatabase>
#include <QPalette>
#include <algorithm>
#include <array>
#include <cmath>

/// Of a library that is linked statically: asked for by name, outside of all namespaces.
static void takeIcons() { Q_INIT_RESOURCE(icons); }

namespace anvil::app {
namespace {

Theme current;

struct Stop {
  double t;
  int r, g, b;
};

template <size_t N>
QColor along(const std::array<Stop, N>& stops, double t) {
  t = std::clamp(t, 0., 1.);
  for (size_t i = 1; i < N; ++i)
    if (t <= stops[i].t) {
      const auto &a = stops[i - 1], &b = stops[i];
      const double f = (t - a.t) / (b.t - a.t);
      return QColor(int(a.r + f * (b.r - a.r)), int(a.g + f * (b.g - a.g)), int(a.b + f * (b.b - a.b)));
    }
  return QColor(stops.back().r, stops.back().g, stops.back().b);
}

const char* const styleSheet = R"(
* { font-size: 13px; }
QMainWindow, QWidget#page, QWidget#plain { background: %paper; }
QWidget { color: %ink; }
QWidget#bar { background: %raised; border-bottom: 1px solid %line; }
QWidget#side { background: %paper; }
QLabel#title { font-size: 15px; font-weight: 600; }
QLabel#head { font-size: 12px; font-weight: 600; color: %faint; }
QLabel#help { font-size: 12px; color: %faint; }
QLabel#trouble { color: %readable; }
QToolButton, QPushButton { background: transparent; border: 1px solid transparent; border-radius: 4px; padding: 6px 12px; }
QToolButton[small="true"] { padding: 6px 7px; }
QToolButton[small="true"]::menu-indicator { image: none; }
QToolButton[toggle="true"] { border: 1px solid %line; background: %raised; padding: 4px 9px; }
QToolButton[toggle="true"]:checked { border: 1px solid %accent; color: %readable; border-radius: 4px; }
QToolButton[chip="true"] { border: 1px solid %line; background: %hover; padding: 3px 8px; border-radius: 11px; }
QToolButton#fold { font-weight: 600; padding: 4px 2px; border: none; }
QToolButton#fold:checked { color: %ink; border: none; }
QToolButton:focus, QPushButton:focus { border: 1px solid %accent; }
QLabel#effects { background: %raised; border: 1px solid %line; border-radius: 4px; padding: 7px 9px; }
QLabel#worth, QLabel#unit { font-size: 12px; color: %faint; }
QToolButton#findContacts, QToolButton#contactMap { padding: 6px 5px; min-width: 0; }
QToolButton:hover, QPushButton:hover { background: %hover; }
QToolButton:checked { color: %readable; border-bottom: 2px solid %accent; border-radius: 0; }
QPushButton#mend { border: 1px solid %accent; color: %readable; background: %raised; }
QPushButton[framed="true"], QPushButton#framed, QPushButton#typicalValues,
 QPushButton#curveAndTable, QPushButton#addFeature, QPushButton#addPart, QPushButton#makeContacts { border: 1px solid %line;
  background: %raised; }
QPushButton#run { background: %accent; color: white; font-weight: 600; padding: 7px 20px; }
QPushButton#run:disabled { background: %line; color: %faint; }
QPushButton:disabled { color: %faint; border-style: dashed; }
QLineEdit, QComboBox, QPlainTextEdit, QSpinBox { background: %raised; border: 1px solid %line; border-radius: 4px;
  padding: 5px 8px; selection-background-color: %accent; selection-color: white; }
QLineEdit:focus, QComboBox:focus, QPlainTextEdit:focus { border: 1px solid %accent; }
QComboBox::drop-down { border: none; width: 20px; }
QComboBox::down-arrow { image: url(:/icons/down-%mode.png); width: 10px; height: 6px; }
QComboBoxPrivateScroller { background: %raised; }
QComboBox QAbstractItemView, QListWidget, QMenu, QTableWidget { background: %raised; border: 1px solid %line;
  selection-background-color: %hover; selection-color: %ink; outline: none; }
QMenu::item { padding: 6px 18px; } QMenu::item:selected { background: %hover; }
QScrollArea { border: none; background: transparent; }
QScrollBar:vertical { background: transparent; width: 8px; } QScrollBar::handle:vertical { background: %line;
  border-radius: 4px; min-height: 24px; }
QScrollBar:horizontal { background: transparent; height: 8px; } QScrollBar::handle:horizontal { background: %line;
  border-radius: 4px; min-width: 24px; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
QSplitter::handle { background: %line; }
QHeaderView::section { background: %paper; border: none; border-bottom: 1px solid %line; padding: 4px; }
QToolTip { background: %raised; color: %ink; border: 1px solid %line; padding: 4px; }
)";

}  // namespace

const Theme& theme() { return current; }

void applyTheme(QApplication& application, bool dark) {
  current = dark ? Theme{QColor("#22252A"), QColor("#2B2F35"), QColor("#363B42"), QColor("#E9E6E0"),
                         QColor("#B0ADA5"), QColor("#40444B"), QColor("#C2501D"), QColor("#F08A5D"),
                         QColor("#5A3423"), QColor("#55B5A7"), QColor("#D99A2B"), true}
                 : Theme{QColor("#F6F4F0"), QColor("#FDFCFA"), QColor("#EDE8E0"), QColor("#23282D"),
                         QColor("#656159"), QColor("#D9D4CC"), QColor("#C2501D"), QColor("#B3470F"),
                         QColor("#F3DDD1"), QColor("#226B61"), QColor("#8F5B00"), false};
  takeIcons();
  QFont font("Inter");
  font.setPixelSize(13);
  font.setStyleHint(QFont::SansSerif);
  application.setFont(font);
  QString sheet(styleSheet);
  sheet.replace("%mode", dark ? "dark" : "light");
  const auto put = [&](const char* key, const QColor& c) { sheet.replace(key, c.name()); };
  put("%paper", current.paper), put("%raised", current.raised), put("%ink", current.ink), put("%faint", current.faint);
  put("%line", current.line), put("%accent", current.accent), put("%hover", current.hover), put("%readable", current.accentInk);
  application.setStyleSheet(sheet);
  QPalette palette = application.palette();
  palette.setColor(QPalette::Window, current.paper), palette.setColor(QPalette::WindowText, current.ink),
      palette.setColor(QPalette::Base, current.raised);
  palette.setColor(QPalette::Text, current.ink), palette.setColor(QPalette::PlaceholderText, current.faint);
  palette.setColor(QPalette::Highlight, current.accent), palette.setColor(QPalette::HighlightedText, Qt::white);
  application.setPalette(palette);
}

QColor partColor(int index, const QString& own) {
  if (QColor::isValidColor(own)) return QColor(own);
  static const char* const colors[] = {"#B8925A", "#7D8FA3", "#8AA386", "#A8849B", "#C0A98A", "#6F9AA0"};
  return QColor(colors[index % 6]);
}

QColor contactColor(int status) { return QColor(status == 2 ? "#2B7F74" : status == 1 ? "#D99A2B" : "#9AA5B1"); }

QColor laneColor(const QString& kind) {
  if (kind == "supports") return QColor("#4C6A87");
  if (kind == "motions") return QColor("#8A5A9E");
  if (kind == "loads") return QColor("#B0482C");
  if (kind == "contacts") return QColor("#2B7F74");
  if (kind == "carriers" || kind == "springs") return QColor("#5A6B3C");
  if (kind == "temperatures") return QColor("#B8862D");
  if (kind == "bolts") return QColor("#3F5E73");
  return QColor("#8A7A4A");
}

QColor qualityColor(double q) {
  static const std::array<Stop, 5> stops{
      {{0, 170, 52, 24}, {0.1, 214, 106, 40}, {0.3, 229, 200, 140}, {0.6, 176, 190, 190}, {1, 108, 138, 150}}};
  return along(stops, q);
}

// Stops stand at even distances in CIELAB.
QColor heat(double t) {
  static const std::array<Stop, 11> stops{{{0, 224, 221, 208},
                                           {0.1, 231, 215, 177},
                                           {0.2, 236, 206, 144},
                                           {0.3, 235, 184, 110},
                                           {0.4, 230, 156, 80},
                                           {0.5, 218, 124, 59},
                                           {0.6, 203, 93, 49},
                                           {0.7, 177, 65, 46},
                                           {0.8, 148, 48, 46},
                                           {0.9, 120, 34, 48},
                                           {1, 92, 22, 48}}};
  return along(stops, t);
}

QColor twoEnded(double t) {
  static const std::array<Stop, 11> stops{{{0, 24, 100, 106},
                                           {0.1, 61, 133, 133},
                                           {0.2, 102, 166, 161},
                                           {0.3, 151, 194, 185},
                                           {0.4, 198, 218, 206},
                                           {0.5, 246, 241, 226},
                                           {0.6, 242, 210, 182},
                                           {0.7, 233, 178, 138},
                                           {0.8, 215, 142, 96},
                                           {0.9, 184, 100, 60},
                                           {1, 150, 58, 30}}};
  return along(stops, t);
}

}  // namespace anvil::app
