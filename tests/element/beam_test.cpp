// Slender cells: derivatives, free motions, textbook deflections, yielding sections, continuation.
#include "core/element/beam.hpp"

#include <gtest/gtest.h>

#include <Eigen/Geometry>
#include <Eigen/LU>
#include <cmath>
#include <functional>
#include <numbers>

#include "core/base/error.hpp"
#include "core/contact/rotation.hpp"
#include "core/model/document.hpp"
#include "core/model/quantities.hpp"
#include "core/model/slender.hpp"

namespace anvil::element {
namespace {

using Eigen::MatrixXd;
using Eigen::Vector3d;
using Eigen::VectorXd;
constexpr double pi = std::numbers::pi;

geometry::SectionShape shapeOf(const std::function<void(model::Section&)>& with, bool flat = false) {
  model::Document d;
  model::Section s;
  with(s);
  return geometry::sectionShape(s, flat, model::Quantities(d), "section");
}

geometry::SectionShape rectangleShape(double width, double height, bool flat = false) {
  return shapeOf([&](auto& s) { s.width = width, s.height = height; }, flat);
}

material::FibreLaw fibreMetal(double yield = 0, double slope = 0, double kinematic = 0) {
  material::FibreLaw law;
  law.young = 2e5, law.shear = 8e4, law.kinematicShare = kinematic;
  if (yield > 0) law.yields = true, law.hardening.add(0, yield), law.hardening.finalSlope = slope;
  return law;
}

geometry::SlenderLine straightLine(double length, int count, const Vector3d& along = Vector3d::UnitX(),
                                   const Vector3d& up = Vector3d::UnitY()) {
  geometry::SlenderLine line;
  for (int i = 0; i <= count; ++i) line.places.push_back(length * i / count * along);
  line.up.assign(size_t(count), up);
  return line;
}

VectorXd forceOf(Beams& b, const VectorXd& q) {
  VectorXd r(b.dofs());
  EXPECT_FALSE(b.integrate(0, q.data(), r.data(), nullptr, false).failed);
  return r;
}

MatrixXd tangentOf(Beams& b, const VectorXd& q) {
  VectorXd r(b.dofs());
  MatrixXd K(b.dofs(), b.dofs());
  EXPECT_FALSE(b.integrate(0, q.data(), r.data(), K.data(), false).failed);
  return K;
}

/// Largest difference between the tangent and central differences of the forces, over the tangent's largest entry.
double cellTangentError(Beams& b, const VectorXd& q, double h) {
  const MatrixXd K = tangentOf(b, q);
  double most = 0;
  for (int k = 0; k < b.dofs(); ++k) {
    VectorXd plus = q, minus = q;
    plus[k] += h, minus[k] -= h;
    const VectorXd numeric = (forceOf(b, plus) - forceOf(b, minus)) / (2 * h);
    most = std::max(most, (numeric - K.col(k)).cwiseAbs().maxCoeff());
  }
  return most / K.cwiseAbs().maxCoeff();
}

VectorXd bentCell() {
  VectorXd q(12);
  q << 0.3, -0.2, 0.5, 0.4, 0.9, -1.2, 0.1, 0.4, -0.3, 0.7, 0.6, -0.8;
  return q;
}

TEST(BeamTest, TangentIsTheDerivativeOfTheForces) {
  const Vector3d along = Vector3d(1, 2, -1).normalized(), up = along.unitOrthogonal();
  for (const bool large : {true, false})
    for (const double yield : {0., 250.}) {
      const auto b = makeBeams(straightLine(3, 1, along, up), rectangleShape(0.5, 0.8), fibreMetal(yield, 3000), {false, large});
      EXPECT_LT(cellTangentError(*b, bentCell(), yield > 0 ? 1e-8 : 1e-6), yield > 0 ? 2e-6 : 1e-8) << large << ' ' << yield;
      const MatrixXd K = tangentOf(*b, bentCell());
      EXPECT_LT((K - K.transpose()).cwiseAbs().maxCoeff(), 1e-10 * K.cwiseAbs().maxCoeff());
      const auto plane = makeBeams(straightLine(3, 1), rectangleShape(0.5, 0.8, true), fibreMetal(yield, 3000), {true, large});
      VectorXd q(6);
      q << 0.1, -0.2, 0.4, 0.15, 0.3, 1.1;
      EXPECT_LT(cellTangentError(*plane, q, yield > 0 ? 1e-8 : 1e-6), yield > 0 ? 2e-6 : 1e-8);
    }
}

TEST(BeamTest, TangentHoldsForTurnsNearWholeOnesAndSmallOnes) {
  const auto b = makeBeams(straightLine(2, 1), rectangleShape(0.5, 0.8), fibreMetal(), {});
  for (const double angle : {1e-9, 1e-3, 0.05, 0.11, 3.1, 3.4}) {
    VectorXd q = VectorXd::Zero(12);
    const Vector3d axis = Vector3d(1, -2, 0.5).normalized();
    q.segment<3>(3) = angle * axis, q.segment<3>(9) = (angle + 0.02) * axis + Vector3d(0.01, 0, 0.03);
    EXPECT_LT(cellTangentError(*b, q, 1e-6), 1e-7) << angle;
  }
}

TEST(BeamTest, RigidMotionsStrainNothing) {
  const auto b = makeBeams(straightLine(3, 1, Vector3d::UnitX(), Vector3d::UnitZ()), rectangleShape(1, 2), fibreMetal(), {});
  const Vector3d X(3, 0, 0), shift(4, -7, 2);
  Eigen::Matrix3d R = Eigen::Matrix3d::Identity();
  for (const Vector3d& turn : {Vector3d(1.2, 0, 0), Vector3d(0, 2.2, 0), Vector3d(0.4, 0.3, 2.9)}) {
    R = contact::rotationOf(turn) * R;
    const Vector3d theta = contact::rotationVector(R, Vector3d::Zero());
    VectorXd q(12);
    q << shift, theta, shift + R * X - X, theta * (1 - 2 * pi / theta.norm());  // the same rotation, written another way
    EXPECT_LT(forceOf(*b, q).cwiseAbs().maxCoeff(), 1e-8);
  }
}

TEST(BeamTest, ForcesDoNotSeeARigidTurnOnTop) {
  const auto b = makeBeams(straightLine(3, 1), rectangleShape(1, 2), fibreMetal(), {});
  VectorXd q = bentCell() * 0.3;
  const VectorXd before = forceOf(*b, q);
  BeamEnd was[2], is[2];
  b->output(0, was);
  const Eigen::Matrix3d R = contact::rotationOf({0.7, -1.1, 0.9});
  const Vector3d X[2] = {Vector3d::Zero(), Vector3d(3, 0, 0)};
  for (int e = 0; e < 2; ++e) {
    q.segment<3>(6 * e) = R * (X[e] + q.segment<3>(6 * e)) - X[e];
    q.segment<3>(6 * e + 3) = contact::rotationVector(R * contact::rotationOf(q.segment<3>(6 * e + 3)), Vector3d::Zero());
  }
  const VectorXd after = forceOf(*b, q);
  b->output(0, is);
  EXPECT_LT((R * before.head<3>() - after.head<3>()).norm(), 1e-9 * before.norm());
  EXPECT_NEAR(is[0].momentUp, was[0].momentUp, 1e-9 * before.norm());
  EXPECT_NEAR(is[1].torque, was[1].torque, 1e-9 * before.norm());
}

/// Deflection at the end of a cell that is held at its start, by force and moment at its end (small turns).
VectorXd endOf(Beams& b, const VectorXd& load) {
  const int n = b.dofs() / 2;
  VectorXd q = VectorXd::Zero(2 * n);
  for (int i = 0; i < 60; ++i) {
    VectorXd r(2 * n);
    MatrixXd K(2 * n, 2 * n);
    EXPECT_FALSE(b.integrate(0, q.data(), r.data(), K.data(), false).failed);
    const VectorXd step = K.bottomRightCorner(n, n).fullPivLu().solve(load - r.tail(n));
    q.tail(n) += step;
    if (step.norm() < 1e-13 * q.norm()) break;
  }
  return q.tail(n);
}

TEST(BeamTest, OneCellIsExactAtItsEnd) {
  const double L = 4, w = 1, h = 2, E = 2e5, G = 8e4, P = 100;
  const auto b = makeBeams(straightLine(L, 1), rectangleShape(w, h), fibreMetal(), {false, false});
  VectorXd load = VectorXd::Zero(6);
  load[1] = P;
  const double I = w * h * h * h / 12, GA = G * 5 / 6 * w * h;
  EXPECT_NEAR(endOf(*b, load)[1], P * L * L * L / (3 * E * I) + P * L / GA, 1e-12);
  load << 0, 0, P, 0, 0, 0;
  const double other = h * w * w * w / 12;
  const VectorXd across = endOf(*b, load);
  EXPECT_NEAR(across[2], P * L * L * L / (3 * E * other) + P * L / GA, 1e-12);
  EXPECT_NEAR(across[4], -P * L * L / (2 * E * other), 1e-12);
  load << 0, 0, 0, 50, 0, 0;
  EXPECT_NEAR(endOf(*b, load)[3], 50 * L / (G * b->section().torsion), 1e-12);
}

TEST(BeamTest, AShiftedSectionBendsWhenItIsPulled) {
  const double L = 5, w = 2, h = 3, shift = 1.5, P = 1000;
  const auto b = makeBeams(straightLine(L, 1), shapeOf([&](auto& s) {
                             s.width = w, s.height = h, s.shift = {0., shift};
                           }),
                           fibreMetal(), {false, false});
  VectorXd load = VectorXd::Zero(6);
  load[0] = P;
  const VectorXd u = endOf(*b, load);
  const double EI = 2e5 * w * h * h * h / 12, M = P * shift;  // about the section's middle: -P shift
  EXPECT_NEAR(u[5], M * L / EI, 1e-12);
  EXPECT_NEAR(u[0], P * L / (2e5 * w * h) + shift * M * L / EI, 1e-12);
}

TEST(SectionTest, MomentsOfAreaAreThoseOfTheTextbooks) {
  const auto round = shapeOf([](auto& s) { s.form = "round", s.diameter = 6.; });
  EXPECT_NEAR(round.area, pi * 9, 1e-12);
  EXPECT_NEAR(round.inertia.x(), pi * 81 / 4, 1e-12);
  EXPECT_TRUE(round.round());
  const auto tube = shapeOf([](auto& s) { s.form = "tube", s.diameter = 6., s.wall = 1.; });
  EXPECT_NEAR(tube.area, pi * 5, 1e-12);
  EXPECT_NEAR(tube.inertia.y(), pi * (81 - 16) / 4, 1e-12);
  EXPECT_NEAR(tube.torsion, 2 * tube.inertia.y(), 1e-12);
  const auto I = shapeOf([](auto& s) { s.form = "I", s.width = 6., s.height = 10., s.wall = 1., s.flange = 2.; });
  EXPECT_NEAR(I.area, 6 * 10 - 5 * 6, 1e-12);
  EXPECT_NEAR(I.inertia.x(), (6 * 1000. - 5 * 216) / 12, 1e-10);
  const auto angle = shapeOf([](auto& s) { s.form = "angle", s.width = 5., s.height = 5., s.wall = 1.; });
  EXPECT_NEAR(angle.area, 9, 1e-12);
  EXPECT_NEAR(angle.inertia.x(), angle.inertia.y(), 1e-12);
  EXPECT_LT(angle.mixed, -1);
  EXPECT_FALSE(angle.round());
  const auto polygon = shapeOf([](auto& s) {
    s.form = "polygon", s.points = {{0., 0.}, {6., 0.}, {6., 2.}, {2., 2.}, {2., 9.}, {0., 9.}};
  });
  EXPECT_NEAR(polygon.area, 26, 1e-12);
  const double up = (12 * 1. + 14 * 5.5) / 26;
  EXPECT_NEAR(polygon.inertia.x(), 6 * 8. / 12 + 12 * (up - 1) * (up - 1) + 2 * 343. / 12 + 14 * (5.5 - up) * (5.5 - up), 1e-10);
}

TEST(SectionTest, BadSectionsAreRefusedInWords) {
  const auto words = [](const std::function<void(model::Section&)>& with) {
    try {
      shapeOf(with);
    } catch (const Error& e) {
      return std::string(e.what());
    }
    return std::string();
  };
  EXPECT_NE(words([](auto& s) {
              s.form = "polygon", s.points = {{0., 0.}, {1., 1.}, {1., 0.}, {0., 1.}};
            }).find("crosses itself"),
            std::string::npos);
  EXPECT_NE(words([](auto& s) { s.form = "tube", s.diameter = 4., s.wall = 2.; }).find("radius"), std::string::npos);
  EXPECT_NE(words([](auto& s) { s.width = 3.; }).find("section/height: the section has no height"), std::string::npos);
  EXPECT_NE(words([](auto& s) { s.form = "I", s.width = 3., s.height = 3., s.wall = 1., s.flange = 2.; }).find("fill"),
            std::string::npos);
}

/// Moment of a section bent to a curvature, without normal force.
double momentAt(Beams& b, double curvature) {
  const double L = b.length(0);
  VectorXd q = VectorXd::Zero(6);
  q[5] = curvature * L, q[4] = curvature * L * L / 2;
  VectorXd r(6);
  MatrixXd K(6, 6);
  for (int i = 0; i < 50; ++i) {  // lets it lengthen and shift freely
    EXPECT_FALSE(b.integrate(0, q.data(), r.data(), K.data(), false).failed);
    if (r.segment<2>(3).norm() < 1e-8 * std::abs(r[5]) / L) return r[5];
    q.segment<2>(3) -= K.block<2, 2>(3, 3).inverse() * r.segment<2>(3);
  }
  ADD_FAILURE() << "no balance at " << curvature;
  return 0;
}

TEST(BeamTest, YieldingSectionsFollowTheIntegralOverTheSection) {
  const double yield = 250, E = 2e5;
  struct Form {
    const char* name;
    std::function<void(model::Section&)> with;
    double half;                          ///< height
    std::function<double(double)> width;  ///< at a height
    double corner;                        ///< where the width jumps
  };
  const Form forms[] = {
      {"rectangle", [](auto& s) { s.width = 4., s.height = 10.; }, 5, [](double) { return 4.; }, 5},
      {"round", [](auto& s) { s.form = "round", s.diameter = 10.; }, 5, [](double y) { return 2 * std::sqrt(25 - y * y); }, 5},
      {"tube", [](auto& s) { s.form = "tube", s.diameter = 10., s.wall = 0.5; }, 5,
       [](double y) { return 2 * (std::sqrt(25 - y * y) - (y < 4.5 ? std::sqrt(20.25 - y * y) : 0)); }, 4.5},
      {"I", [](auto& s) { s.form = "I", s.width = 6., s.height = 10., s.wall = 0.8, s.flange = 1.; }, 5,
       [](double y) { return y < 4 ? 0.8 : 6.; }, 4}};
  for (const auto& f : forms) {
    const auto b = makeBeams(straightLine(3, 1), shapeOf(f.with, true), fibreMetal(yield), {true, false});
    const double first = yield / E / f.half;
    const auto moment = [&](const std::function<double(double)>& stress) {
      double sum = 0;
      const int n = 200000;
      for (int i = 0; i < n; ++i) {
        const double y = f.half * (i + 0.5) / n;
        sum += 2 * f.width(y) * y * stress(y) * f.half / n;
      }
      return sum;
    };
    for (const double ratio : {0.5, 1.2, 2., 5., 30.}) {
      const double k = ratio * first;
      EXPECT_NEAR(momentAt(*b, k) / moment([&](double y) { return std::min(E * k * y, yield); }), 1, 5e-3) << f.name << ratio;
    }
    b->accept();
    const double loaded = momentAt(*b, 30 * first);
    EXPECT_NEAR(momentAt(*b, 29 * first), loaded - moment([&](double y) { return E * first * y; }), 5e-3 * loaded) << f.name;
  }
}

TEST(BeamTest, ShapeFactors) {
  const auto factor = [](const std::function<void(model::Section&)>& with) {
    const auto s = shapeOf(with);
    double plastic = 0, high = 0;
    for (const auto& f : s.fibres) plastic += f.area * std::abs(f.up), high = std::max(high, std::abs(f.up));
    return plastic / (s.inertia.x() / high);
  };
  EXPECT_NEAR(factor([](auto& s) { s.width = 2., s.height = 7.; }), 1.5, 1.5 * 5e-3);
  EXPECT_NEAR(factor([](auto& s) { s.form = "round", s.diameter = 7.; }), 16 / (3 * pi), 1.7 * 5e-3);
  EXPECT_NEAR(factor([](auto& s) { s.form = "tube", s.diameter = 200., s.wall = 0.5; }), 4 / pi, 1.27 * 5e-3);
}

TEST(BeamTest, EndMomentsOfAPlasticHinge) {
  // held at both ends, one end shifted across: both ends yield; moments there are the plastic one, whatever the mesh
  const double w = 2, h = 6, yield = 250, L = 100;
  const auto b = makeBeams(straightLine(L, 1), rectangleShape(w, h, true), fibreMetal(yield), {true, false});
  VectorXd q = VectorXd::Zero(6);
  VectorXd r;
  for (double shift = 0.5; shift <= 40; shift *= 1.6) q[4] = shift, r = forceOf(*b, q), b->accept();
  const double Mp = yield * w * h * h / 4;
  EXPECT_NEAR(r[2], -Mp, 5e-3 * Mp);
  EXPECT_NEAR(r[5], -Mp, 5e-3 * Mp);
  EXPECT_NEAR(r[4], 2 * Mp / L, 5e-3 * 2 * Mp / L);
}

TEST(BeamTest, KinematicHardeningYieldsEarlierOnTheWayBack) {
  const double E = 2e5, slope = 4000, yield = 200, tangent = E * slope / (E + slope);
  for (const double share : {0., 1.}) {
    const auto law = fibreMetal(yield, slope, share);
    material::FibreState old, now;
    const auto up = law.respond(0.02, old, now, false);
    EXPECT_NEAR(up.stress, yield + tangent * (0.02 - yield / E), 1e-9);
    EXPECT_NEAR(up.tangent, tangent, 1e-6);
    material::FibreState back;
    const double down = law.respond(0.02 - 1.2 * yield / E - up.stress / E, now, back, false).stress;
    if (share == 1)
      EXPECT_GT(back.alpha, now.alpha);
    else
      EXPECT_NEAR(down, -1.2 * yield, 1e-9);
  }
}

TEST(BeamTest, SeveralBackStressesSaturate) {
  auto law = fibreMetal(100);
  law.terms = {{20000, 200}, {3000, 30}};
  material::FibreState state, next;
  double stress = 0;
  for (int i = 1; i <= 20000; ++i) stress = law.respond(0.2 * i / 20000, state, next, false).stress, state = next;
  EXPECT_NEAR(stress, 100 + 20000 / 200. + 3000 / 30. * (1 - std::exp(-30 * state.plastic)), 0.05);
  const double h = 1e-8;
  material::FibreState a, b, c;
  const auto at = law.respond(0.201, state, b, false);
  EXPECT_NEAR((law.respond(0.201 + h, state, a, false).stress - law.respond(0.201 - h, state, c, false).stress) / (2 * h),
              at.tangent, 1e-3 * at.tangent);
}

TEST(BeamTest, StaysGoSlack) {
  const auto stay = makeBeams(straightLine(10, 1), shapeOf([](auto& s) { s.form = "round", s.diameter = 2.; }), fibreMetal(),
                              {false, true, geometry::Carries::pull, 500});
  ASSERT_EQ(stay->dofs(), 6);
  VectorXd q = VectorXd::Zero(6);
  EXPECT_NEAR(forceOf(*stay, q)[3], 500, 1e-9);
  q[3] = 0.01;
  EXPECT_NEAR(forceOf(*stay, q)[3], 500 + 2e5 * pi * 0.001, 1e-9);
  q[4] = 0.4;
  EXPECT_LT(cellTangentError(*stay, q, 1e-6), 1e-8);
  q << 0, 0, 0, -0.2, 0, 0;
  EXPECT_LT(std::abs(forceOf(*stay, q)[3]), 0.02);
}

TEST(BeamTest, GoesOnFromAStoredState) {
  const auto make = [] { return makeBeams(straightLine(3, 1), rectangleShape(0.5, 0.8), fibreMetal(250, 3000, 0.5), {}); };
  const auto one = make(), two = make();
  forceOf(*one, bentCell() * 0.05), one->accept();
  two->setState(one->state());
  EXPECT_LT((forceOf(*one, bentCell() * 0.02) - forceOf(*two, bentCell() * 0.02)).norm(), 1e-8);
  EXPECT_THROW(two->setState({1, 2, 3}), Error);
}

}  // namespace
}  // namespace anvil::element
