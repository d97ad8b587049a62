#include "app/typed.hpp"

#include <QLocale>
#include <QRegularExpression>

namespace anvil::app {
namespace {

bool commas() { return QLocale().decimalPoint() == ","; }

/// The same number, and unit, with another decimal mark; text that is no quantity as it is.
QString withMark(const QString& text, const char* from, const char* to) {
  static const QString form("^(\\s*[+-]?\\d*)%1(\\d+(?:[eE][+-]?\\d+)?(?:[^\\d,;=][^,;=]*)?)$");
  const QRegularExpression quantity(form.arg(QRegularExpression::escape(from)));
  const auto match = quantity.match(text);
  return match.hasMatch() ? match.captured(1) + to + match.captured(2) : text;
}

}  // namespace

QString shown(double value, int digits) {
  const auto plain = QString::number(value, 'g', digits);
  return commas() ? withMark(plain, ".", ",") : plain;
}

QString shown(const model::Entry& e, int digits) {
  if (e.number) return shown(*e.number, digits);
  const auto text = QString::fromStdString(e.text);
  return commas() ? withMark(text, ".", ",") : text;
}

model::Entry typed(const QString& text) {
  const auto plain = (commas() ? withMark(text, ",", ".") : text).trimmed();
  bool isNumber = false;
  const double value = plain.toDouble(&isNumber);
  return isNumber ? model::Entry(value) : model::Entry(plain.toStdString());
}

QString shownList(const QStringList& items) { return items.join(commas() ? "; " : ", "); }

QStringList typedList(const QString& text) {
  static const QRegularExpression usual("\\s*[,;]\\s*"), besideCommas("\\s*;\\s*|\\s*,\\s+");
  return text.split(commas() ? besideCommas : usual, Qt::SkipEmptyParts);
}

QStringList typedCells(const QString& line) {
  static const QRegularExpression usual("[\\s,;]+"), besideCommas("\\s*;\\s*|,?\\s+");
  if (!line.contains('\t')) return line.split(commas() ? besideCommas : usual, Qt::SkipEmptyParts);
  QStringList cells;  // there, units and sums may hold spaces
  for (const auto& c : line.split('\t'))
    if (!c.trimmed().isEmpty()) cells << c.trimmed();
  return cells;
}

}  // namespace anvil::app
