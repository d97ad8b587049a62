// Colours and type of the interface, in one place.
#pragma once
#include <QColor>
#include <QString>

class QApplication;

namespace anvil::app {

struct Theme {
  /// `accentInk` is the accent where it is read: words have a contrast of 4.5 to what lies behind them.
  QColor paper, raised, hover, ink, faint, line, accent, accentInk, accentSoft, good, warn;
  bool dark = false;
};

const Theme& theme();
/// Applies a theme to the whole application.
void applyTheme(QApplication& application, bool dark);

/// A part's colour: its own when it names one, else by its place in the list, distinct and calm.
QColor partColor(int index, const QString& own = {});
/// Contact status: open pale slate, sliding amber, sticking teal.
QColor contactColor(int status);
/// Elements by their scaled Jacobian: ember where they are folded or thin, by way of sand to slate where they are sound.
QColor qualityColor(double scaledJacobian);
/// Colour of an acting thing by kind: "supports", "motions", "loads", "contacts", "stabilisations".
QColor laneColor(const QString& kind);

/// Field colours at t in [0, 1], even to the eye: magnitudes from pale grey by sand and ember to plum, ever darker; signed values
/// teal, ivory, rust, ever darker to both ends.
QColor heat(double t);
QColor twoEnded(double t);

}  // namespace anvil::app
