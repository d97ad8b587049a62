#include "app/desk/form_words.hpp"

#include <QRegularExpression>

#include "app/typed.hpp"
#include "core/base/error.hpp"

namespace anvil::app {

using namespace model;

QString pieceWords(const PathPiece& p) {
  QStringList numbers, words;
  for (const auto& e : p.arc.empty() ? p.line : p.arc) numbers << shown(e);
  for (const auto& e : p.arc.empty() ? model::Point{} : p.center) numbers << shown(e);
  words << (p.arc.empty() ? "line " : "arc ") + shownList(numbers);
  if (!p.arc.empty()) words.back() += ", " + QString::fromStdString(p.turn);
  if (p.fillet.given()) words << "fillet=" + shown(p.fillet);
  if (p.count.given()) words << "count=" + shown(p.count);
  if (!p.name.empty()) words << "name=" + QString::fromStdString(p.name);  // last: it may hold spaces
  return words.join("  ");
}

PathPiece pieceOf(const QString& line) {
  PathPiece p;
  const auto fault = [&] {
    return Error("'" + line.trimmed().toStdString() + "' is no piece of a path", {},
                 "Write line x, y or arc x, y, cx, cy, left (x, y, z in space); then fillet=2, count=4 or name=side.");
  };
  QString rest = line.trimmed();
  const auto option = [&](const QString& key, const QString& until) {
    const QRegularExpression wanted("\\b" + key + "=(" + until + ")");
    const auto m = wanted.match(rest);
    if (m.hasMatch()) rest.remove(m.capturedStart(), m.capturedLength());
    return m.captured(1).trimmed();
  };
  p.name = option("name", ".*$").toStdString();
  for (const auto& [key, value] : {std::pair{"fillet", &p.fillet}, {"count", &p.count}})
    if (const auto words = option(key, ".+?(?=\\s{2,}|\\s+(?:fillet|count)=|$)"); !words.isEmpty()) *value = typed(words);
  const bool arc = rest.startsWith("arc");
  if (!arc && !rest.startsWith("line")) throw fault();
  auto words = typedList(rest.mid(arc ? 3 : 4).trimmed());
  if (arc && (words.size() == 5 || words.size() == 7)) p.turn = words.takeLast().trimmed().toStdString();
  const qsizetype dim = words.size() / (arc ? 2 : 1);  // a path in space has three coordinates
  if (words.size() != dim * (arc ? 2 : 1) || (dim != 2 && dim != 3) || (p.turn != "left" && p.turn != "right")) throw fault();
  std::vector<Entry> numbers;
  for (const auto& w : words) numbers.push_back(typed(w));
  (arc ? p.arc : p.line).assign(numbers.begin(), numbers.begin() + dim);
  if (arc) p.center.assign(numbers.begin() + dim, numbers.end());
  return p;
}

QStringList listOf(const std::vector<Entry>& entries) {
  QStringList list;
  for (const auto& e : entries) list << shown(e);
  return list;
}

std::vector<std::vector<Entry>> rowsOf(const QString& text) {
  std::vector<std::vector<Entry>> rows;
  for (const auto& line : text.split('\n', Qt::SkipEmptyParts)) {
    auto& row = rows.emplace_back();
    for (const auto& w : typedCells(line)) row.push_back(typed(w));
  }
  return rows;
}

}  // namespace anvil::app
