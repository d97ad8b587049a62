// Deformable against a rigid body, in space: over the points of the face.
#include <Eigen/Geometry>
#include <boost/container/small_vector.hpp>
#include <cmath>

#include "core/base/dense.hpp"
#include "core/contact/overlap.hpp"
#include "core/contact/plane_kernel.hpp"
#include "core/contact/rotation.hpp"
#include "core/contact/space_touch.hpp"

namespace anvil::contact {
namespace {

/// Points of a face against a rigid body: fine, since the overlap is not cut out.
const std::vector<std::pair<Eigen::Vector2d, double>>& fineRule(int corners) {
  static const auto square = [] {
    static const double x[] = {-0.9061798459386640, -0.5384693101056831, 0, 0.5384693101056831, 0.9061798459386640};
    static const double w[] = {0.2369268850561891, 0.4786286704993665, 0.5688888888888889, 0.4786286704993665,
                               0.2369268850561891};
    std::vector<std::pair<Eigen::Vector2d, double>> r;
    for (int i = 0; i < 5; ++i)
      for (int j = 0; j < 5; ++j) r.push_back({{x[i], x[j]}, w[i] * w[j]});
    return r;
  }();
  static const auto triangle = [] {
    std::vector<std::pair<Eigen::Vector2d, double>> r;  // four twelve-point triangles
    const Eigen::Vector2d c[6] = {{0, 0}, {1, 0}, {0, 1}, {0.5, 0}, {0.5, 0.5}, {0, 0.5}};
    for (const auto& t : {std::array{0, 3, 5}, {3, 1, 4}, {5, 4, 2}, {3, 4, 5}})
      for (const auto& p : triangleRule(true)) r.push_back({p[0] * c[t[0]] + p[1] * c[t[1]] + p[2] * c[t[2]], p[3] / 8});
    return r;
  }();
  return corners == 4 ? square : triangle;
}

/// For faces that are near the body in part: the same on sixteen parts of the face.
const std::vector<std::pair<Eigen::Vector2d, double>>& finerRule(int corners) {
  using Rule = std::vector<std::pair<Eigen::Vector2d, double>>;
  const auto square = [] {
    Rule r;
    for (int i = 0; i < 4; ++i)
      for (int j = 0; j < 4; ++j)
        for (const auto& [x, w] : fineRule(4))
          r.push_back({Eigen::Vector2d(-0.75 + 0.5 * i, -0.75 + 0.5 * j) + 0.25 * x, w / 16});
    return r;
  };
  const auto quartered = [](const Rule& rule) {
    Rule r;
    const Eigen::Vector2d c[6] = {{0, 0}, {1, 0}, {0, 1}, {0.5, 0}, {0.5, 0.5}, {0, 0.5}};
    for (const auto& t : {std::array{0, 3, 5}, {3, 1, 4}, {5, 4, 2}, {4, 5, 3}})
      for (const auto& [x, w] : rule) r.push_back({c[t[0]] + x.x() * (c[t[1]] - c[t[0]]) + x.y() * (c[t[2]] - c[t[0]]), w / 4});
    return r;
  };
  static const Rule parts4 = square(), parts3 = quartered(quartered(fineRule(3)));
  return corners == 4 ? parts4 : parts3;
}

/// Signed distance of a rigid body and its outward normal at a point of its own frame; 2x2 second derivatives come from
/// the outline's feature (line, arc, corner) in its plane, or from the patch of a facet. `facing`: the outward normal of the face
/// that asks (zero where unknown), which inside the edge of a flat end tells the end from the side.
template <int N>
bool distanceTo(const RigidBody& body, const Vec3<Dual<N>>& x, const Point3& facing, Dual<N>& distance, Vec3<Dual<N>>& normal) {
  using D = Dual<N>;
  const auto zero = D(0, Eigen::Matrix<double, N, 1>::Zero());
  if (body.facets) {
    const auto near = body.facets->nearest(plain(x));
    distance = zero + near.distance;
    for (int k = 0; k < 3; ++k) {
      normal[k] = zero + near.normal[k];
      distance.derivatives() += near.normal[k] * x[k].derivatives();
      for (int j = 0; j < 3; ++j) normal[k].derivatives() += near.slope(k, j) * x[j].derivatives();
    }
    return near.found;
  }
  const bool revolved = body.sweep.kind == geometry::Sweep::Kind::revolve;
  D u = x[0], c = zero + 1., s = zero;
  if (revolved) {
    u = sqrt(D(x[0] * x[0] + x[2] * x[2]));
    if (u.value() < 1e-9) return false;
    c = x[0] / u, s = x[2] / u;
    double angle = std::atan2(s.value(), c.value());
    const double full = 2 * 3.14159265358979323846, span = body.sweep.length;
    angle -= full * std::floor((angle - body.sweep.from + 1e-9) / full);
    if (span < full * (1 - 1e-9) && angle > body.sweep.from + span) return false;
  } else if (!body.ends[0] && !body.ends[1] &&
             (x[2].value() < body.sweep.from - 1e-9 || x[2].value() > body.sweep.from + body.sweep.length + 1e-9)) {
    return false;
  }
  const Feature f = nearestFeature(body, {u.value(), x[1].value()});
  if (f.kind == Feature::Kind::none) return false;
  // beyond the nearer flat end, and that end's outward sense
  const double side = x[2].value() < body.sweep.from + 0.5 * body.sweep.length ? -1 : 1;
  const bool ended = body.ends[side > 0];
  const D beyond = (x[2] - (body.sweep.from + (side < 0 ? 0 : body.sweep.length))) * side;
  const auto atEnd = [&] {
    distance = beyond, normal = Vec3<D>{{zero, zero, zero + side}};
    return true;
  };
  if (!body.sides) return ended && f.distance <= 0 && atEnd();
  if (ended && f.distance <= 0) {
    const bool known = !facing.isZero(0), endFaces = known && facing.z() * side < 0,
               sideFaces = known && (f.kind != Feature::Kind::line || facing.head<2>().dot(f.normal) < 0);
    if (beyond.value() > 0 || (sideFaces == endFaces ? beyond.value() > f.distance : endFaces)) return atEnd();
  }
  D nu = zero, nv = zero;
  if (f.kind == Feature::Kind::line) {
    nu = zero + f.normal.x(), nv = zero + f.normal.y();
    distance = (u - f.point.x()) * f.normal.x() + (x[1] - f.point.y()) * f.normal.y();
  } else {
    const D du = u - f.point.x(), dv = x[1] - f.point.y(), r = sqrt(D(du * du + dv * dv));
    const double sign = f.kind == Feature::Kind::arc ? f.sign : 1;
    distance = (r - f.radius) * sign;
    nu = du * sign / r, nv = dv * sign / r;
  }
  normal = revolved ? Vec3<D>{{D(nu * c), nv, D(nu * s)}} : Vec3<D>{{nu, nv, zero}};
  if (ended && beyond.value() > 0) {  // the edge between side and end
    const D away = sqrt(D(distance * distance + beyond * beyond));
    normal = Vec3<D>{{D(nu * distance / away), D(nv * distance / away), D(beyond * side / away)}};
    distance = away;
  }
  return true;
}

/// How far a point of a body's own frame is from it, and how it bulges next to it, where it is smooth, 1/mm.
struct Bulge {
  double distance = 0, greatest = 0, least = 0;  ///< principal curvatures, 0 where it is hollow
};
std::optional<Bulge> bulgeAt(const RigidBody& body, const Point3& own) {
  if (body.facets) {
    const auto near = body.facets->nearest(own);
    if (!near.found) return {};
    const Eigen::Vector3d slopes = symmetricModes((near.slope + near.slope.transpose()) / 2).values;
    const auto curvature = [&](double slope) {  // at the surface; sharp edges have none
      const double radius = slope > 0 ? 1 / slope - near.distance : 0;
      return radius * slope > 1e-3 ? 1 / radius : 0;
    };
    return Bulge{near.distance, curvature(slopes[2]), curvature(slopes[1])};
  }
  const bool revolved = body.sweep.kind == geometry::Sweep::Kind::revolve;
  const Point2 at(revolved ? std::hypot(own.x(), own.z()) : own.x(), own.y());
  const Feature f = nearestFeature(body, at);
  if (f.kind == Feature::Kind::none) return {};
  const double side = own.z() < body.sweep.from + 0.5 * body.sweep.length ? -1 : 1;
  if (body.ends[side > 0]) {  // flat ends, and the sharp edges round them
    const double beyond = (own.z() - (body.sweep.from + (side < 0 ? 0 : body.sweep.length))) * side;
    if (!body.sides || beyond > std::min(f.distance, 0.)) return Bulge{std::hypot(beyond, std::max(0., f.distance))};
  }
  Bulge b{f.distance, f.kind == Feature::Kind::arc && f.sign > 0 ? 1 / f.radius : 0};
  if (revolved && f.kind != Feature::Kind::vertex) {  // round the axis
    const double out = f.kind == Feature::Kind::line ? f.normal.x() : f.sign * (at - f.point).normalized().x();
    if (const double radius = at.x() - f.distance * out; radius > 0 && out > 0) b.least = out / radius;
    if (b.least > b.greatest) std::swap(b.least, b.greatest);
  }
  return b;
}

/// A point's quantities depend on few things: the motion of the face's point against the body's, the face's tangents there, and
/// the body's spin. Their slopes by these are taken in dual numbers, and spread over the dofs by hand.
class AgainstRigid {
  static constexpr int ways = 12, firstTangent = 3, secondTangent = 6, spin = 9;
  using D = Dual<ways>;
  using Gradient = Eigen::Matrix<double, ways, 1>;

 public:
  AgainstRigid(const SpaceFace& slave, const RigidBody& body, const SpacePlace& place,
               const std::array<CornerTraction, 4>& traction, double reach, bool friction, FaceIntegral& out, Depend depend)
      : slave_(slave),
        body_(body),
        place_(place),
        at_(3 * slave.nodes),
        traction_(traction),
        reach_(reach),
        friction_(friction),
        out_(out),
        depend_(depend) {
    R_ = rotationOf(place.now.template tail<3>()), before_ = rotationOf(place.before.template tail<3>()),
    T_ = spinOf(place.now.template tail<3>());
    double longest = 0;
    for (int i = 0; i < slave.corners; ++i)
      longest = std::max(longest, (slave.before[size_t((i + 1) % slave.corners)] - slave.before[size_t(i)]).norm());
    near_ = Nearness::of(longest), length_ = longest;
    pivot_ = body.pivot + place.now.template head<3>();
    const double h = 1e-5;
    for (int j = 0; depend == Depend::slopes && j < 3; ++j) {
      const Point3 e = h * Point3::Unit(j);
      dT_[size_t(j)] = (spinOf(place.now.template tail<3>() + e) - spinOf(place.now.template tail<3>() - e)) / (2 * h);
    }
  }

  bool run() {
    clear(out_, slave_, at_ + 6, friction_, depend_);
    const auto& usual = fineRule(slave_.corners);
    size_t near = 0;
    for (const auto& [xi, weight] : usual) near += lookFrom(xi, weight);
    if (near == 0) return out_.leastGap < 1e300 || out_.lookedOver[0] > 0;
    const bool inPart = near < usual.size();
    leads_ = sideLeads();
    size_t known = 0;
    for (const auto& [xi, weight] : inPart ? finerRule(slave_.corners) : usual)
      if (depend_ != Depend::slopes)
        pointAlone(xi, weight, inPart ? distanceAt(xi) : looked_[known++]);
      else if (!inPart || distanceAt(xi).first < near_.none)
        point(xi, weight);
    out_.stiffness.transposeInPlace();
    return out_.touched || out_.leastGap < 1e300;
  }

 private:
  /// The face's outward normal at a point, in the body's drawing frame; not of length 1.
  Point3 facingAt(const element::FaceShape& s) const {
    const Point3 area = sum(slave_, s.d1, slave_.now).cross(sum(slave_, s.d2, slave_.now));
    return body_.place.turn.transpose() * (R_.transpose() * area);
  }
  /// Distance of a point of the face, without derivatives, and the body's outward normal there; 1e300 where it has none.
  using Off = std::pair<double, Point3>;
  Off distanceAt(const Eigen::Vector2d& xi) const {
    using One = Dual<1>;
    const auto s = element::faceShape(slave_.corners, slave_.nodes > slave_.corners, xi);
    const Point3 x = sum(slave_, s.N, slave_.now);
    const Point3 own = body_.place.turn.transpose() * (R_.transpose() * (x - pivot_) + body_.pivot - body_.place.shift);
    Vec3<One> at, normal;
    for (int k = 0; k < 3; ++k) at[k] = normal[k] = One(own[k], Eigen::Matrix<double, 1, 1>::Zero());
    One distance = at[0];
    if (!distanceTo<1>(body_, at, facingAt(s), distance, normal)) return {1e300, Point3::Zero()};
    return {distance.value(), R_ * body_.place.turn * plain(normal)};
  }
  /// How far pressure acts along the normal of the face, not of the rigid body: as in the plane, by what is nearest at the
  /// increment's start. Not under what is small both ways: a face tilts over a ball, which its pressures must then follow.
  double sideLeads() const {
    const Point3 pivot = body_.pivot + place_.before.template head<3>();
    const auto& rule = fineRule(slave_.corners);
    std::vector<Bulge> seen;
    double least = 1e300;
    for (size_t i = 0; i < rule.size(); i += 2) {
      const auto s = element::faceShape(slave_.corners, slave_.nodes > slave_.corners, rule[i].first);
      const Point3 x = sum(slave_, s.N, slave_.before);
      const Point3 own = body_.place.turn.transpose() * (before_.transpose() * (x - pivot) + body_.pivot - body_.place.shift);
      if (const auto b = bulgeAt(body_, own)) least = std::min(least, std::abs(b->distance)), seen.push_back(*b);
    }
    double greatest = 0, other = 0;
    for (const auto& b : seen)
      if (std::abs(b.distance) < least + near_.none) greatest = std::max(greatest, b.greatest), other = std::max(other, b.least);
    return leadOfSide(length_, greatest) * (1 - leadOfSide(length_, other));
  }
  /// Notes how far a point is off, for those who ask before it is near. True when it is near.
  bool lookFrom(const Eigen::Vector2d& xi, double weight) {
    const auto [distance, away] = looked_.emplace_back(distanceAt(xi));
    if (distance < -reach_) return true;  // inside: that is looked into
    if (distance > reach_) return false;
    const auto s = element::faceShape(slave_.corners, slave_.nodes > slave_.corners, xi);
    const Point3 area = sum(slave_, s.d1, slave_.now).cross(sum(slave_, s.d2, slave_.now));
    if (away.dot(area) > -0.1 * area.norm()) return false;
    const auto shape = element::faceShape(slave_.corners, false, xi).N;
    for (size_t a = 0; a < size_t(slave_.corners); ++a) {
      const double w = shape[a] * area.norm() * weight;
      out_.lookedOver[a] += w, out_.distance[a] += w * distance;
    }
    out_.leastGap = std::min(out_.leastGap, distance);
    return distance < near_.none;
  }

  /// The same as `point`, without slopes.
  void pointAlone(const Eigen::Vector2d& xi, double weight, const Off& off) {
    const auto& [distance, away] = off;
    if (distance > reach_) return;
    const auto s = element::faceShape(slave_.corners, slave_.nodes > slave_.corners, xi);
    const Point3 x = sum(slave_, s.N, slave_.now), area = sum(slave_, s.d1, slave_.now).cross(sum(slave_, s.d2, slave_.now)),
                 then = sum(slave_, s.N, slave_.before);
    if (away.dot(area) > -0.1 * area.norm()) return;
    const Point3 own =
        body_.place.turn.transpose() * (R_.transpose() * (x - distance * away - pivot_) + body_.pivot - body_.place.shift);
    const Point3 before = wasAt(own);
    if (distance < -reach_) {
      if ((then - before).dot(away) > -0.5 * reach_) out_.leastGap = std::min(out_.leastGap, distance);
      return;
    }
    if (distance >= near_.none) return;
    PlainTouch p{area.norm() * weight, distance, -away, Point3::Zero(), element::faceShape(slave_.corners, false, xi).N};
    if (distance > near_.full) p.weight *= near_.weight(distance);
    const Point3 moved = distance * away + before - then;
    if (leads_ > 0) p.normal = (leads_ * area.normalized() + (1 - leads_) * p.normal).normalized();
    if (friction_) p.slide = moved - moved.dot(p.normal) * p.normal;
    const Point3 q = addAtCorners(p, traction_, friction_, out_);
    addOver(out_.force, s, x - pivot_, q);
    if (depend_ == Depend::rows) addRows(p, s, x - pivot_);
  }

  /// Adds a force on the face's point, and its counterpart on the body, to a column over the dofs.
  template <class Column>
  void addOver(Column&& column, const element::FaceShape& s, const Point3& arm, const Point3& f) const {
    for (int a = 0; a < slave_.nodes; ++a) column.template segment<3>(3 * a) += s.N[size_t(a)] * f;
    column.template segment<3>(at_) -= f;
    column.template segment<3>(at_ + 3) -= T_.transpose() * arm.cross(f);
  }
  void addRows(const PlainTouch& p, const element::FaceShape& s, const Point3& arm) {
    for (int A = 0; A < slave_.corners; ++A) {
      const double w = p.linear[size_t(A)] * p.weight;
      addOver(out_.normal.col(A), s, arm, w * p.normal);
      for (int k = 0; friction_ && k < 3; ++k)
        addOver(out_.tangential.col(3 * A + k), s, arm, w * (Point3::Unit(k) - p.normal[k] * p.normal));
    }
  }

  void point(const Eigen::Vector2d& xi, double weight) {
    const auto s = element::faceShape(slave_.corners, slave_.nodes > slave_.corners, xi);
    const Point3 x = sum(slave_, s.N, slave_.now), arm = x - pivot_, t1 = sum(slave_, s.d1, slave_.now),
                 t2 = sum(slave_, s.d2, slave_.now), area = t1.cross(t2), then = sum(slave_, s.N, slave_.before);
    const Eigen::Matrix3d Q = R_ * body_.place.turn;
    const Point3 own = body_.place.turn.transpose() * (R_.transpose() * arm + body_.pivot - body_.place.shift);
    Vec3<Dual<3>> at, ownNormal;
    for (int k = 0; k < 3; ++k) at[k] = Dual<3>(own[k], 3, k);
    Dual<3> distance;
    if (!distanceTo<3>(body_, at, facingAt(s), distance, ownNormal) || distance.value() > reach_) return;
    const Point3 flatNormal = plain(ownNormal), away = Q * flatNormal;
    if (away.dot(area) > -0.1 * area.norm()) return;
    // the touched point of the body, and where it was at the start of the increment
    const Point3 before = wasAt(own - distance.value() * flatNormal);
    if (distance.value() < -reach_) {  // inside the body: of no concern, unless it has just got there
      if ((then - before).dot(away) > -0.5 * reach_) out_.leastGap = std::min(out_.leastGap, distance.value());
      return;
    }
    if (distance.value() >= near_.none) return;
    Eigen::Matrix3d bend;  // of the body's normal, by the point's place in its own frame
    for (int k = 0; k < 3; ++k) bend.row(k) = ownNormal[k].derivatives().transpose();
    const Point3 steep = distance.derivatives();
    const D gap = varying(distance.value(), Q * steep);
    const Eigen::Matrix3d tilt = Q * bend * Q.transpose();
    Vec3<D> normal;
    for (int k = 0; k < 3; ++k) {
      normal[k] = varying(-away[k], -tilt.row(k).transpose());
      for (int j = 0; j < 3; ++j) normal[k].derivatives()[spin + j] = -Point3::Unit(j).cross(away)[k];
    }
    const Vec3<D> face = cross(vector(t1, firstTangent), vector(t2, secondTangent));
    const D jacobian = sqrt(dot(face, face));
    D share = jacobian * weight;
    if (distance.value() > near_.full) share = share * near_.weight(gap);
    Vec3<D> moved;
    if (friction_) {
      const Eigen::Matrix3d old = before_ * body_.place.turn;
      const Eigen::Matrix3d touched =
          old * (Eigen::Matrix3d::Identity() - flatNormal * steep.transpose() - distance.value() * bend) * Q.transpose();
      for (int k = 0; k < 3; ++k) moved[k] = varying(before[k] - then[k], touched.row(k).transpose()) - gap * normal[k];
    }
    if (leads_ > 0) {
      for (int k = 0; k < 3; ++k) normal[k] = leads_ * face[k] / jacobian + (1 - leads_) * normal[k];
      normal = unit(normal);
    }
    add(s, element::faceShape(slave_.corners, false, xi).N, arm, share, gap, normal, moved);
  }

  /// A number that depends on the motion of the face's point against the body's alone.
  static D varying(double value, const Point3& slope) {
    D d(value, Gradient::Zero());
    d.derivatives().head<3>() = slope;
    return d;
  }
  /// A vector of which each component is one of the ways itself.
  static Vec3<D> vector(const Point3& v, int first) {
    Vec3<D> r;
    for (int k = 0; k < 3; ++k) r[k] = D(v[k], ways, first + k);
    return r;
  }

  void add(const element::FaceShape& s, const std::array<double, 8>& linear, const Point3& arm, const D& share, const D& gap,
           const Vec3<D>& normal, const Vec3<D>& moved) {
    PlainTouch p{share.value(), gap.value(), plain(normal), Point3::Zero(), linear};
    double pressure = 0;
    Point3 t = Point3::Zero();
    for (size_t a = 0; a < size_t(slave_.corners); ++a) {
      pressure += linear[a] * traction_[a].pressure;
      if (friction_) t += linear[a] * traction_[a].friction;
    }
    const bool loaded = pressure != 0 || !t.isZero(0);
    constexpr int slips = 2, pulls = 5, moments = 8;
    Eigen::Matrix<double, ways, 11> slopes;
    slopes.col(0) = share.derivatives(), slopes.col(1) = D(share * gap).derivatives();
    if (friction_) {
      const D drift = dot(moved, normal);
      for (int k = 0; k < 3; ++k) {
        const D slide = moved[k] - drift * normal[k];
        p.slide[k] = slide.value(), slopes.col(slips + k) = D(share * slide).derivatives();
      }
    }
    const Point3 q = addAtCorners(p, traction_, friction_, out_);
    addOver(out_.force, s, arm, q);
    addRows(p, s, arm);
    if (loaded) {
      const D along = pressure - (t[0] * normal[0] + t[1] * normal[1] + t[2] * normal[2]);
      Vec3<D> pull, lever = vector(arm, 0);
      for (int k = 0; k < 3; ++k) {
        pull[k] = share * (along * normal[k] + t[k]);
        for (int j = 0; j < 3; ++j) lever[k].derivatives()[spin + j] = Point3::Unit(j).cross(arm)[k];
      }
      const Vec3<D> moment = cross(lever, pull);
      for (int k = 0; k < 3; ++k)
        slopes.col(pulls + k) = pull[k].derivatives(), slopes.col(moments + k) = moment[k].derivatives();
    }
    spread(s, arm, slopes.leftCols(loaded ? 11 : friction_ ? 5 : 2));
    const auto& over = spread_;
    for (int A = 0; A < slave_.corners; ++A) {
      const double w = linear[size_t(A)];
      out_.dKappa.col(A) += w * over.col(0), out_.dGap.col(A) += w * over.col(1);
      for (int k = 0; friction_ && k < 3; ++k) out_.dSlip.col(3 * A + k) += w * over.col(slips + k);
    }
    if (!loaded) return;
    const Point3 m = arm.cross(q);
    for (int k = 0; k < 3; ++k) {  // stored transposed while it is gathered
      for (int a = 0; a < slave_.nodes; ++a) out_.stiffness.col(3 * a + k) += s.N[size_t(a)] * over.col(pulls + k);
      out_.stiffness.col(at_ + k) -= over.col(pulls + k);
      for (int j = 0; j < 3; ++j) out_.stiffness.col(at_ + 3 + j) -= T_(k, j) * over.col(moments + k);
      for (int j = 0; j < 3; ++j) out_.stiffness(at_ + 3 + k, at_ + 3 + j) -= dT_[size_t(k)].col(j).dot(m);
    }
  }

  /// Slopes by the ways, as columns, taken to slopes by the dofs.
  template <class Slopes>
  void spread(const element::FaceShape& s, const Point3& arm, const Slopes& by) {
    spread_.resize(at_ + 6, by.cols());
    const auto towards = by.template topRows<3>();
    for (int a = 0; a < slave_.nodes; ++a)
      spread_.template middleRows<3>(3 * a) = s.N[size_t(a)] * towards +
                                              s.d1[size_t(a)] * by.template middleRows<3>(firstTangent) +
                                              s.d2[size_t(a)] * by.template middleRows<3>(secondTangent);
    spread_.template middleRows<3>(at_) = -towards;
    Eigen::Matrix3d across;  // arm ×
    across << 0, -arm.z(), arm.y(), arm.z(), 0, -arm.x(), -arm.y(), arm.x(), 0;
    spread_.template middleRows<3>(at_ + 3) = T_.transpose() * (by.template middleRows<3>(spin) - across * towards);
  }

  Point3 wasAt(const Point3& own) const {
    const Point3 inPlace = body_.place.turn * own + body_.place.shift - body_.pivot;
    return before_ * inPlace + body_.pivot + place_.before.template head<3>();
  }

  const SpaceFace& slave_;
  const RigidBody& body_;
  const SpacePlace& place_;
  int at_;
  const std::array<CornerTraction, 4>& traction_;
  double reach_;
  bool friction_;
  Nearness near_;
  double length_ = 0, leads_ = 0;
  boost::container::small_vector<Off, 16> looked_;  ///< of the usual rule's points
  FaceIntegral& out_;
  Depend depend_;
  Eigen::Matrix3d R_, T_,
      before_;  ///< the body's turn, how its spin goes with the turn's vector; the turn as the increment began
  std::array<Eigen::Matrix3d, 3> dT_;
  Point3 pivot_;
  Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, 0, 30, 11> spread_;
};

}  // namespace

std::optional<Distance> distanceFrom(const RigidBody& body, const Point3& x, int dim) {
  Distance d;
  if (dim == 2) {
    const Feature f = nearestFeature(body, x.head<2>());
    if (f.kind == Feature::Kind::none) return {};
    d.value = f.distance;
    if (f.kind == Feature::Kind::line)
      d.normal.head<2>() = f.normal;
    else
      d.normal.head<2>() = (f.kind == Feature::Kind::arc ? f.sign : 1) * (x.head<2>() - f.point).normalized();
    return d;
  }
  using D = Dual<1>;
  const Point3 own = body.place.turn.transpose() * (x - body.place.shift);
  Vec3<D> at, normal;
  for (int k = 0; k < 3; ++k) at[k] = normal[k] = D(own[k], Eigen::Matrix<double, 1, 1>::Zero());
  D distance = at[0];
  if (!distanceTo(body, at, Point3::Zero(), distance, normal)) return {};
  d.value = distance.value(), d.normal = body.place.turn * plain(normal);
  return d;
}

bool integrateFaceRigid(const SpaceFace& slave, const RigidBody& body, const SpacePlace& place,
                        const std::array<CornerTraction, 4>& traction, double reach, bool friction, FaceIntegral& out,
                        Depend depend) {
  return AgainstRigid(slave, body, place, traction, reach, friction, out, depend).run();
}

}  // namespace anvil::contact
