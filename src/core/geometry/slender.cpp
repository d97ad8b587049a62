#include "core/geometry/slender.hpp"

#include <Eigen/Geometry>
#include <algorithm>
#include <cmath>
#include <map>
#include <memory>
#include <numbers>
#include <set>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/geometry/solid_edge.hpp"
#include "core/model/document.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"
#include "core/model/slender.hpp"

namespace anvil::geometry {
namespace {

using Eigen::Vector3d;
using model::Quantities;

/// The way from a to c: straight, an arc, or along an edge.
struct Course {
  bool arc = false;
  Vector3d a, c, centre, normal;
  double angle = 0;
  std::shared_ptr<const SolidEdge> edge = nullptr;
  bool backwards = false;  ///< along the edge
  double length() const { return edge ? edge->length() : arc ? angle * (a - centre).norm() : (c - a).norm(); }
  double turned() const { return edge ? edge->turned() : angle; }
  bool straight() const { return turned() < 1e-9; }
  Vector3d at(double share) const {
    if (edge) return edge->at(backwards ? 1 - share : share);
    if (!arc) return a + share * (c - a);
    return centre + Eigen::AngleAxisd(share * angle, normal) * (a - centre);
  }
};

Course arcThrough(const Vector3d& a, const Vector3d& b, const Vector3d& c, const std::string& path) {
  Course course{true, a, c, a, Vector3d::UnitZ()};
  const Vector3d ab = b - a, ac = c - a, n = ab.cross(ac);
  if (n.norm() < 1e-9 * ab.norm() * ac.norm() || ab.norm() == 0)
    throw Error("the three points of the arc lie on a line", path, "Give a point aside of it, or leave \"by\" out.");
  course.centre = a + (ac.squaredNorm() * n.cross(ab) + ab.squaredNorm() * ac.cross(n)) / (2 * n.squaredNorm());
  course.normal = n.normalized();
  const Vector3d ra = a - course.centre, rc = c - course.centre;
  course.angle = std::atan2(course.normal.dot(ra.cross(rc)), ra.dot(rc));
  if (course.angle <= 0) course.angle += 2 * std::numbers::pi;
  return course;
}

class Lines {
 public:
  Lines(const model::Document& document, const model::Part& part, bool plane, const SlenderFineness& fineness,
        const Quantities& q, const std::string& path)
      : document_(document), part_(part), s_(*part.slender), plane_(plane), fineness_(fineness), q_(q), path_(path) {}

  SlenderShape read() {
    if (s_.lines.empty())
      throw Error("the slender part has no line", path_ + "/lines", "Give points, and lines from one to another.");
    if (s_.sections.empty())
      throw Error("the slender part has no section", path_ + "/sections",
                  "Give one, for example {\"bar\": {\"form\": \"round\", \"diameter\": \"8 mm\"}}.");
    for (const auto& [name, point] : s_.points) {
      out_.points.push_back(name);
      out_.joined.push_back(point.size() == 1 ? point.front().text : std::string());
      out_.at.push_back(out_.joined.back().empty() ? place(point, "points/" + name)
                                                   : placeOfOther(out_.joined.back(), "points/" + name));
    }
    for (const auto& [name, section] : s_.sections)
      out_.sections.push_back(sectionShape(section, plane_, q_, path_ + "/sections/" + name));
    std::vector<std::pair<SlenderLine, Course>> ways(s_.lines.size());
    for (const bool edges : {true, false})  // these make points, which others may name
      for (size_t i = 0; i < s_.lines.size(); ++i) {
        const auto& [name, l] = s_.lines[i];
        if (l.edge.empty() == edges) continue;
        auto& [line, course] = ways[i];
        line.name = name;
        course = edges ? alongEdge(line, l, "lines/" + name) : drawn(line, l, "lines/" + name);
      }
    for (size_t i = 0; i < ways.size(); ++i) add(std::move(ways[i].first), ways[i].second, s_.lines[i].second);
    std::set<size_t> used;
    for (const auto& l : out_.lines) used.insert({l.from, l.to});
    for (size_t i = 0; i < out_.points.size(); ++i)
      if (!used.count(i))
        throw Error("no line begins or ends at the point", path_ + "/points/" + out_.points[i],
                    "Draw a line to it, or take it out.");
    return std::move(out_);
  }

 private:
  Vector3d place(const model::Point& point, const std::string& key) const {
    const auto v = q_.list(point, Kind::length, path_ + "/" + key);
    if (v.size() != (plane_ ? 2 : 3))
      throw Error(plane_ ? "a point needs two coordinates" : "a point needs three coordinates", path_ + "/" + key,
                  plane_ ? "Write [x, y]." : "Write [x, y, z].");
    return {v[0], v[1], plane_ ? 0 : v[2]};
  }

  /// Where the point of another slender part is.
  Vector3d placeOfOther(const std::string& name, const std::string& key) const {
    const std::string here = path_ + "/" + key;
    std::vector<std::string> known;
    for (const auto& [part, p] : document_.parts)
      if (p.slender && &p != &part_)
        for (const auto& [point, at] : p.slender->points) {
          known.push_back(part + "." + point);
          if (known.back() != name) continue;
          if (part_.place || p.place)
            throw Error("parts that are joined at a point are not placed", here,
                        "Take \"place\" out of both; draw them where they are.");
          if (at.size() == 1) throw Error("'" + name + "' is a point of yet another part", here, "Name that one.");
          return Lines(document_, p, plane_, fineness_, q_, "parts/" + part + "/slender").place(at, "points/" + point);
        }
    const auto near = nearest(name, known);
    throw Error("there is no point '" + name + "' of another slender part", here,
                near.empty() ? "Write coordinates, or the name of such a point." : "Did you mean '" + near + "'?");
  }

  template <class T>
  size_t indexOf(const model::Named<T>& list, const std::string& name, const char* kind, const std::string& key) const {
    for (size_t i = 0; i < list.size(); ++i)
      if (list[i].first == name) return i;
    const auto near = nearest(name, list.names());
    throw Error(std::string("there is no ") + kind + " '" + name + "'", path_ + "/" + key,
                !near.empty() ? "Did you mean '" + near + "'?" : "Known: " + inProse(list.names()) + ".");
  }

  size_t pointNamed(const std::string& name, const std::string& key) const {
    const auto& known = out_.points;
    for (size_t i = 0; i < known.size(); ++i)
      if (known[i] == name) return i;
    const auto near = nearest(name, known);
    throw Error("there is no point '" + name + "'", path_ + "/" + key,
                !near.empty() ? "Did you mean '" + near + "'?" : "Known: " + inProse(known) + ".");
  }

  void add(SlenderLine line, const Course& course, const model::SlenderLine& l) {
    const std::string key = "lines/" + line.name;
    if (!l.section.empty()) line.section = indexOf(s_.sections, l.section, "section", key + "/section");
    line.hingedFrom = l.hinged == "from" || l.hinged == "both", line.hingedTo = l.hinged == "to" || l.hinged == "both";
    line.carries = l.carries == "pull" ? Carries::pull : l.carries == "all" ? Carries::all : Carries::pullAndPush;
    line.tension = q_(l.tension, Kind::force, path_ + "/" + key + "/tension");
    if (!(course.length() > 0))
      throw Error("the line has no length: both its ends lie at the same place", path_ + "/" + key, "Give it another end.");
    const bool bar = line.carries != Carries::all;
    if (bar && !course.straight())
      throw Error(
          "what carries no moment is straight", path_ + "/" + key + (course.edge ? "/edge" : "/by"),
          course.edge ? "Set \"carries\": \"all\", or take a straight edge." : "Leave \"by\" out, or set \"carries\": \"all\".");
    const int count = bar ? 1 : std::max(divisions(course, l, key), line.from == line.to ? 3 : 1);
    for (int i = 0; i <= count; ++i) line.places.push_back(course.at(double(i) / count));
    line.places.front() = out_.at[line.from], line.places.back() = out_.at[line.to];
    upright(line, l, key);
    out_.lines.push_back(std::move(line));
  }

  /// From point to point.
  Course drawn(SlenderLine& line, const model::SlenderLine& l, const std::string& key) const {
    line.from = pointNamed(l.from, key + "/from"), line.to = pointNamed(l.to, key + "/to");
    const Vector3d a = out_.at[line.from], c = out_.at[line.to];
    if (!l.by.empty()) return arcThrough(a, place(l.by, key + "/by"), c, path_ + "/" + key + "/by");
    return {false, a, c, a, a};
  }

  /// Along an edge of another part, between points at its ends, which are made where there are none.
  Course alongEdge(SlenderLine& line, const model::SlenderLine& l, const std::string& key) {
    const std::string here = path_ + "/" + key;
    if (plane_) throw Error("plane models have no edges to draw along", here + "/edge", "Draw the line from point to point.");
    if (part_.place)
      throw Error("a part that runs along an edge is not placed", here + "/edge",
                  "Take \"place\" out; the edge says where it is.");
    if (!l.by.empty()) throw Error("the line has an edge and a point that it goes by", here + "/by", "Keep one of them.");
    Course course;
    course.edge = edgeNamed(document_, q_, solids_, l.edge, here + "/edge");
    course.a = course.edge->at(0), course.c = course.edge->at(1);
    const double near = 1e-6 * course.length();
    const auto meets = [&](size_t point, const Vector3d& end) { return (out_.at[point] - end).norm() <= near; };
    if (!l.from.empty()) {
      line.from = pointNamed(l.from, key + "/from");
      course.backwards = !meets(line.from, course.a) && meets(line.from, course.c);
    } else if (!l.to.empty()) {
      const size_t to = pointNamed(l.to, key + "/to");
      course.backwards = !meets(to, course.c) && meets(to, course.a);
    }
    if (course.backwards) std::swap(course.a, course.c);
    line.from = endPoint(l.from, course.a, near, line.name + " from", key + "/from");
    line.to = endPoint(l.to, course.c, near, line.name + " to", key + "/to");
    return course;
  }

  /// The point at an end of an edge: the one named, one that lies there, or a new one.
  size_t endPoint(const std::string& named, const Vector3d& end, double near, const std::string& fresh, const std::string& key) {
    if (!named.empty()) {
      const size_t point = pointNamed(named, key);
      if (!((out_.at[point] - end).norm() <= near))
        throw Error("the point '" + named + "' does not lie at an end of the edge, which is at " + shortNumber(end.x()) + ", " +
                        shortNumber(end.y()) + ", " + shortNumber(end.z()) + " mm",
                    path_ + "/" + key, "Put it there, or leave it out: a point is made there then.");
      return point;
    }
    for (size_t i = 0; i < out_.at.size(); ++i)
      if ((out_.at[i] - end).norm() <= near) return i;
    out_.points.push_back(fresh), out_.joined.emplace_back(), out_.at.push_back(end);
    return out_.at.size() - 1;
  }

  int divisions(const Course& course, const model::SlenderLine& l, const std::string& key) const {
    const auto limited = [&](double n, const std::string& where) {
      if (!(n < 1e5))
        throw Error("the line would be divided into " + shortNumber(n, 3) + " elements", where, "Give fewer; check units.");
      return std::max(1, int(std::lround(n)));
    };
    if (l.count.given())
      return limited(q_.whole(l.count, 1, 100000, path_ + "/" + key + "/count", true) / fineness_.factor,
                     path_ + "/" + key + "/count");
    const std::string mesh = path_.substr(0, path_.rfind('/')) + "/mesh";
    if (part_.mesh.size.given()) {
      const double h = q_(part_.mesh.size, Kind::length, mesh + "/size");
      if (!(h > 0)) throw Error("the element size is " + shortNumber(h) + " mm", mesh + "/size", "Give a value above zero.");
      return limited(course.length() / (h * fineness_.factor), mesh + "/size");
    }
    if (!part_.mesh.count.empty())
      return limited(q_.whole(part_.mesh.count.front(), 1, 100000, mesh + "/count", true) / fineness_.factor, mesh + "/count");
    const double turning = course.turned() / (2 * std::numbers::pi) * fineness_.perCircle;
    return int(std::ceil(std::max(fineness_.perLine / fineness_.factor, turning) - 1e-6));
  }

  /// Up of each piece: what is given, else y as in the view, made square to the piece.
  void upright(SlenderLine& line, const model::SlenderLine& l, const std::string& key) const {
    const std::string here = path_ + "/" + key + "/up";
    if (plane_ && !l.up.empty())
      throw Error("in plane models a section's up is what lies on the line's left", here, "Take \"up\" out.");
    Vector3d up = Vector3d::UnitY();
    if (!l.up.empty()) {
      const auto v = q_.list(l.up, Kind::number, here);
      if (v.size() == 3) up = {v[0], v[1], v[2]};
      if (v.size() != 3 || !(up.norm() > 0)) throw Error("the direction is not understood", here, "Give a vector [a, b, c].");
      up.normalize();
    }
    for (size_t i = 0; i + 1 < line.places.size(); ++i) {
      const Vector3d along = (line.places[i + 1] - line.places[i]).normalized();
      if (plane_) {
        line.up.emplace_back(-along.y(), along.x(), 0);
        continue;
      }
      Vector3d square = up - up.dot(along) * along;
      if (square.norm() < 1e-3) {
        const bool turnsAway = line.carries == Carries::all && !out_.sections[line.section].round();
        if (turnsAway)
          throw Error("the line runs along its section's up, so nothing says how the section stands", here,
                      "Give a direction square to the line, for example [1, 0, 0].");
        square = line.up.empty() ? along.unitOrthogonal() : Vector3d(line.up.back() - line.up.back().dot(along) * along);
      }
      line.up.push_back(square.normalized());
    }
  }

  const model::Document& document_;
  const model::Part& part_;
  const model::Slender& s_;
  bool plane_;
  SlenderFineness fineness_;
  const Quantities& q_;
  std::string path_;
  SlenderShape out_;
  std::map<std::string, Solid> solids_;  ///< whose edges lines run along
};

}  // namespace

SlenderShape slenderShape(const model::Document& document, const model::Part& part, bool plane, const SlenderFineness& fineness,
                          const Quantities& quantities, const std::string& path) {
  return Lines(document, part, plane, fineness, quantities, path).read();
}

}  // namespace anvil::geometry
