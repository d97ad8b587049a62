#include "core/geometry/draw_lines.hpp"

#include <cmath>

#include "core/base/error.hpp"
#include "core/model/document.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"

namespace anvil::geometry {
namespace {

using namespace model;

/// The first of "p1", "p2" … that a list has not.
template <class T>
std::string freshName(const Named<T>& list, const std::string& word) {
  for (int k = 1;; ++k)
    if (const auto name = word + std::to_string(k); !list.find(name)) return name;
}

std::string newPart(Document& d) {
  std::string name = "beam";
  for (int k = 2; d.parts.find(name); ++k) name = "beam " + std::to_string(k);
  auto& part = d.parts(name);
  if (!d.materials.empty()) part.material = d.materials.front().first;
  auto& section = part.slender.emplace().sections("bar");
  section.form = "round", section.diameter = Entry("10 mm");
  return name;
}

size_t orderOf(const Document& d, const std::string& part) {
  size_t i = 0;
  while (i < d.parts.size() && d.parts[i].first != part) ++i;
  return i;
}

class Drawing {
 public:
  Drawing(Document& d, const std::string& part) : d_(d), q_(d), part_(part), slender_(*d.parts.find(part)->slender) {}

  std::string point(const LineEnd& asked) {
    LineEnd end = asked;
    if (auto third = joinedTo(end.point); !third.empty()) end.point = third;
    const auto dot = end.point.find('.');
    const std::string other = end.point.substr(0, dot);
    if (!end.point.empty() && other == part_) return end.point.substr(dot + 1);
    for (const auto& [name, at] : slender_.points) {
      if (at.size() == 1 ? at.front().text == end.point && !end.point.empty() : isAt(at, end.at)) return name;
    }
    const auto name = freshName(slender_.points, "p");
    auto* theirs = pointOf(end.point);
    if (end.point.empty()) {
      slender_.points(name) = written(end.at);
    } else if (!theirs) {
      throw Error("the point '" + end.point + "' is made by an edge that a line runs along, so nothing is joined to it", {},
                  "Select the part '" + other + "' and draw on from there.");
    } else if (checkUnplaced(other); orderOf(d_, other) < orderOf(d_, part_)) {
      slender_.points(name) = {Entry(end.point)};
    } else {  // the later part is joined to the earlier one
      slender_.points(name) = *theirs;
      *theirs = {Entry(part_ + "." + name)};
    }
    return name;
  }

  void checkUnplaced(const std::string& part) const {
    const auto& p = *d_.parts.find(part);
    if (p.place || p.around)
      throw Error("'" + part + "' is " + (p.place ? "placed" : "repeated") + ", so nothing is drawn to it", "parts/" + part,
                  "Draw it where it is, without \"" + std::string(p.place ? "place" : "around") + "\".");
  }

 private:
  /// A point that a slender part of the document has written down.
  Point* pointOf(const std::string& name) const {
    const auto dot = name.find('.');
    auto* part = dot == std::string::npos ? nullptr : d_.parts.find(name.substr(0, dot));
    return part && part->slender ? part->slender->points.find(name.substr(dot + 1)) : nullptr;
  }
  /// The point of another part that a point is, as that has it written down; empty where it is its own.
  std::string joinedTo(const std::string& name) const {
    const auto* at = pointOf(name);
    return at && at->size() == 1 ? at->front().text : std::string();
  }
  bool isAt(const Point& point, const Eigen::Vector3d& at) const {
    const auto v = q_.list(point, Kind::length, "points");
    return v.size() >= 2 && (Eigen::Vector3d(v[0], v[1], v.size() > 2 ? v[2] : 0) - at).norm() < 1e-6 * (1 + at.norm());
  }
  /// In the document's own unit.
  Point written(const Eigen::Vector3d& at) const {
    const auto length = conversion(q_.unitOf(Kind::length), Kind::length);
    Point p;
    for (int k = 0; k < (d_.space == "solid" ? 3 : 2); ++k) p.push_back(std::round(length.fromCore(at[k]) * 1e9) / 1e9 + 0.);
    return p;
  }

  Document& d_;
  const Quantities q_;
  std::string part_;
  Slender& slender_;
};

}  // namespace

DrawnLine drawLine(Document& d, const std::string& asked, const LineEnd& from, const LineEnd& to) {
  if ((from.at - to.at).norm() <= 1e-9 * (1 + from.at.norm()))
    throw Error("the line has no length: both its ends lie at the same place", {}, "Click another place.");
  const auto* known = d.parts.find(asked);
  const std::string part = known && known->slender ? asked : newPart(d);
  Drawing drawing(d, part);
  drawing.checkUnplaced(part);
  const std::string a = drawing.point(from), b = drawing.point(to);
  auto& lines = d.parts.find(part)->slender->lines;
  for (const auto& [name, l] : lines)
    if (l.by.empty() && ((l.from == a && l.to == b) || (l.from == b && l.to == a)))
      throw Error("there is the line '" + name + "' already from '" + a + "' to '" + b + "'", {}, "Click another place.");
  auto& line = lines(freshName(lines, "line "));
  line.from = a, line.to = b;
  return {part, part + "." + a, part + "." + b};
}

std::string drawAlong(Document& d, const std::vector<std::string>& edges) {
  const auto part = newPart(d);
  auto& lines = d.parts.find(part)->slender->lines;
  for (const auto& edge : edges) lines(freshName(lines, "line ")).edge = edge;
  return part;
}

}  // namespace anvil::geometry
