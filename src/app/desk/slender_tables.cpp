#include "app/desk/slender_tables.hpp"

#include <algorithm>

#include "app/typed.hpp"
#include "core/model/slender.hpp"

namespace anvil::app {

using namespace model;

QStringList slenderRows(const Value& v) {
  QStringList lines;
  for (size_t i = 0; i < v.size(); ++i) {
    QStringList cells{QString::fromStdString(v.name(i))};
    if (v.is<Named<Point>>())
      for (const auto& e : v.at(i).as<Point>()) cells << shown(e);
    if (v.is<Named<SlenderLine>>())
      cells << QString::fromStdString(v.at(i).as<SlenderLine>().from) << QString::fromStdString(v.at(i).as<SlenderLine>().to);
    if (v.is<Named<Section>>()) cells << QString::fromStdString(v.at(i).as<Section>().form);
    lines << cells.join("\t");
  }
  return lines;
}

QString slenderHint(const Value& v) {
  return v.is<Named<Point>>()         ? " A row each: name, x, y, z."
         : v.is<Named<SlenderLine>>() ? " A row each: name, from, to."
                                      : " A row each: name, form.";
}

namespace {

using Renamed = std::vector<std::pair<std::string, std::string>>;

/// Sets named things from the rows of their table: name, then what `fill` takes. What keeps its name keeps the rest of what it
/// is, and so does what is renamed where it stands.
template <class T, class Fill>
Renamed setTable(Named<T>& list, const QString& text, const Fill& fill) {
  std::vector<QStringList> rows;
  for (const auto& line : text.split('\n', Qt::SkipEmptyParts)) {
    auto cells = line.contains('\t') ? line.split('\t') : typedCells(line);
    for (auto& c : cells) c = c.trimmed();
    while (cells.size() > 1 && cells.back().isEmpty()) cells.removeLast();
    if (!cells.isEmpty() && !cells.front().isEmpty()) rows.push_back(cells);
  }
  const auto isThere = [&](const std::string& name) {
    return std::any_of(rows.begin(), rows.end(), [&](const QStringList& r) { return r.front().toStdString() == name; });
  };
  Named<T> now;
  Renamed renamed;
  for (size_t i = 0; i < rows.size(); ++i) {
    const auto name = rows[i].front().toStdString();
    if (now.find(name)) continue;
    T thing;
    if (const T* same = list.find(name))
      thing = *same;
    else if (i < list.size() && !isThere(list[i].first))
      thing = list[i].second, renamed.emplace_back(list[i].first, name);
    fill(thing, rows[i].mid(1));
    now.emplace_back(name, thing);
  }
  list = now;
  return renamed;
}

}  // namespace

std::vector<std::pair<std::string, std::string>> setSlender(const Value& v, const QString& text) {
  if (v.is<Named<Point>>())
    return setTable(v.as<Named<Point>>(), text, [](Point& point, const QStringList& cells) {
      point.clear();
      for (const auto& c : cells) point.push_back(typed(c));
    });
  if (v.is<Named<SlenderLine>>())
    return setTable(v.as<Named<SlenderLine>>(), text, [](SlenderLine& l, const QStringList& cells) {
      l.from = cells.value(0).toStdString(), l.to = cells.value(1).toStdString();
    });
  if (v.is<Named<Section>>())
    return setTable(v.as<Named<Section>>(), text, [](Section& section, const QStringList& cells) {
      if (!cells.isEmpty()) section.form = cells.front().toStdString();
    });
  return {};
}

}  // namespace anvil::app
