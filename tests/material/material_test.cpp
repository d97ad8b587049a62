// Materials: the logarithmic-strain wrapper and the J2 box against finite differences and closed forms.
#include <gtest/gtest.h>

#include <Eigen/Geometry>
#include <Eigen/LU>
#include <random>

#include "core/material/laws.hpp"
#include "core/material/log_strain.hpp"
#include "core/material/principal.hpp"

using namespace anvil::material;

namespace {

Mat3 randomDeformation(std::mt19937& gen, double size) {
  std::uniform_real_distribution<double> d(-size, size);
  Mat3 F = Mat3::Identity();
  for (int i = 0; i < 9; ++i) F(i / 3, i % 3) += d(gen);
  return F;
}

J2Law hardSteel(double kinematic) {
  J2Law law;
  law.elastic = ElasticLaw::fromYoung(200000, 0.3);
  law.hardening.add(0, 250), law.hardening.add(0.05, 350), law.hardening.add(0.3, 500);
  law.hardening.finalSlope = 100;
  law.kinematicShare = kinematic;
  return law;
}

TEST(LogStrain, DividedDifferencesAreContinuousWhereNumbersMeet) {
  EXPECT_NEAR(logDifference(4, 1), 0.5 * std::log(4.) / 3, 1e-15);
  for (double d : {0., 1e-12, 1e-8, 1e-4, 0.01, 0.019, 0.021}) {
    const double a = 1.3, b = 1.3 * (1 + d);
    const double exact = d == 0 ? 0.5 / a : 0.5 * std::log1p(d) / (a * d);
    EXPECT_NEAR(logDifference(a, b), exact, 1e-13) << d;
  }
}

TEST(Principal, ValuesAndDirectionsGiveTheTensorBack) {
  std::mt19937 gen(4);
  std::uniform_real_distribution<double> d(-1, 1);
  for (int i = 0; i < 200; ++i) {
    Mat3 a = Mat3::Zero();
    for (int r = 0; r < 3; ++r)
      for (int c = 0; c <= r; ++c) a(r, c) = a(c, r) = d(gen);
    if (i % 4 == 1) a = Mat3::Identity() + 1e-9 * a;            // all but equal
    if (i % 4 == 2) a(0, 2) = a(2, 0) = a(1, 2) = a(2, 1) = 0;  // as in the plane
    if (i % 4 == 3)
      a = (Vec3(a.col(0)) * Vec3(a.col(0)).transpose()).eval() + 1e-12 * Mat3::Identity();  // of very different size
    const auto p = principalOf(a);
    EXPECT_LT((p.directions * p.values.asDiagonal() * p.directions.transpose() - a).norm(), 4e-15 * a.norm()) << i;
    EXPECT_LT((p.directions.transpose() * p.directions - Mat3::Identity()).norm(), 4e-15) << i;
    EXPECT_NEAR(p.values.sum(), a.trace(), 4e-15 * a.norm());
  }
  EXPECT_EQ(principalOf(Mat3::Zero()).values.norm(), 0);
}

TEST(LogStrain, InThePlaneFourComponentsAreAll) {
  Mat3 F = Mat3::Identity();
  F.topLeftCorner<2, 2>() << 1.1, 0.3, -0.2, 0.9;
  F(2, 2) = 1.05;
  const Mat6 C = ElasticLaw::fromYoung(200000, 0.3).stiffness();
  Mat3 flowed = Mat3::Identity();
  flowed.topLeftCorner<2, 2>() << 1.2, 0.1, 0.1, 0.8;
  for (const Mat3& G : {Mat3(Mat3::Identity()), flowed}) {
    const LogStrain log(F, G);
    const Vec6 T = C * log.strain();
    const Mat6 whole = log.tangent(T, C);
    EXPECT_LT((log.tangent<4>(T, C) - whole.topLeftCorner<4, 4>()).norm(), 1e-13 * whole.norm());
    EXPECT_EQ((whole.topRightCorner<4, 2>().norm()), 0);
  }
}

TEST(LogStrain, StretchAndRotationGiveTheirLogarithms) {
  const Mat3 R = Eigen::AngleAxisd(0.7, Vec3(1, 2, 3).normalized()).toRotationMatrix();
  const Mat3 U = Vec3(1.5, 0.8, 1.5).asDiagonal();
  const LogStrain log(R * U);
  EXPECT_NEAR(log.strain()[0], std::log(1.5), 1e-14);
  EXPECT_NEAR(log.strain()[1], std::log(0.8), 1e-14);
  EXPECT_LT((log.spatial(R * U) - toMandel(R * fromMandel(log.strain()) * R.transpose())).norm(), 1e-13);
}

TEST(LogStrain, TangentMatchesFiniteDifferences) {
  std::mt19937 gen(1);
  const J2Law law = hardSteel(0.4);
  for (int round = 0; round < 30; ++round) {
    Mat3 F = randomDeformation(gen, 0.3);
    if (round % 3 == 0)
      F = Mat3::Identity() * (1 + 0.01 * round) + randomDeformation(gen, 1e-9) - Mat3::Identity();  // equal eigenvalues
    std::vector<double> old(8, 0), now(8);
    const Mat3 plastic = randomDeformation(gen, 0.2),
               metric = plastic * plastic.transpose() / std::pow((plastic * plastic.transpose()).determinant(), 1. / 3);
    const auto stress = [&](const Mat3& G, Mat6* tangent) {
      const LogStrain log(G, metric);
      Response r;
      law.respond(log.strain(), old.data(), now.data(), {}, r);
      if (tangent) *tangent = log.tangent(r.T, r.tangent);
      return log.secondPiola(r.T);
    };
    Mat6 tangent;
    stress(F, &tangent);
    const Mat3 D = randomDeformation(gen, 1) - Mat3::Identity();
    const double h = 1e-6;
    const Vec6 numeric = (stress(F + h * D, nullptr) - stress(F - h * D, nullptr)) / (2 * h);
    const Vec6 exact = tangent * toMandel((F.transpose() * D + D.transpose() * F) / 2);
    EXPECT_LT((numeric - exact).norm(), 2e-6 * exact.norm()) << round;
  }
}

class J2 : public ::testing::TestWithParam<double> {};

TEST_P(J2, TangentMatchesFiniteDifferencesAlongAPath) {
  const J2Law law = hardSteel(GetParam());
  std::mt19937 gen(7);
  std::uniform_real_distribution<double> d(-0.02, 0.02);
  for (bool finite : {true, false}) {
    std::vector<double> old(8, 0), now(8), scratch(8);
    Vec6 E = Vec6::Zero();
    for (int step = 0; step < 12; ++step) {
      for (int i = 0; i < 6; ++i) E[i] += d(gen);
      Response r, plus, minus;
      law.respond(E, old.data(), now.data(), {finite, false}, r);
      for (int i = 0; i < 6; ++i) {
        const double h = 1e-7;
        Vec6 e = E;
        e[i] += h;
        law.respond(e, old.data(), scratch.data(), {finite, false}, plus);
        e[i] -= 2 * h;
        law.respond(e, old.data(), scratch.data(), {finite, false}, minus);
        EXPECT_LT(((plus.T - minus.T) / (2 * h) - r.tangent.col(i)).norm(), 1e-6 * r.tangent.norm()) << step << " " << i;
      }
      old = now;
      E -= r.flow;
    }
  }
}

TEST_P(J2, StressStaysOnTheYieldSurface) {
  const J2Law law = hardSteel(GetParam());
  std::vector<double> old(8, 0), now(8);
  Vec6 E = Vec6::Zero();
  for (int i = 1; i <= 40; ++i) {
    E[0] += 0.01, E[3] += 0.004, E[1] -= 0.004;
    Response r;
    law.respond(E, old.data(), now.data(), {}, r);
    const Vec6 s = deviator(r.T) / std::exp(trace(E)), back = Eigen::Map<Vec6>(now.data());
    E -= r.flow;
    old = now;
    const double alpha = now[J2Law::alphaAt];
    const double radius = (1 - GetParam()) * law.yieldAt(alpha) + GetParam() * law.yieldAt(0);
    EXPECT_NEAR(std::sqrt(1.5) * (s - back).norm(), radius, 1e-8 * radius);
  }
}

TEST(LogStrain, PlasticFlowKeepsTheVolumeAndLeavesTheElasticStrain) {
  std::mt19937 gen(9);
  const J2Law law = hardSteel(0);
  Mat3 metric = Mat3::Identity();
  std::vector<double> old(8, 0), now(8);
  for (int step = 0; step < 10; ++step) {
    const Mat3 F = randomDeformation(gen, 0.3);
    const LogStrain log(F, metric);
    Response r;
    law.respond(log.strain(), old.data(), now.data(), {}, r);
    metric = log.metricAfter(r.flow);
    old = now;
    EXPECT_NEAR(metric.determinant(), 1, 1e-10);
    EXPECT_LT((LogStrain(F, metric).strain() - (log.strain() - r.flow)).norm(), 1e-12);
  }
}

INSTANTIATE_TEST_SUITE_P(Hardening, J2, ::testing::Values(0., 0.35, 1.));

TEST(J2Law, ElasticStepsKeepTheState) {
  const J2Law law = hardSteel(0);
  std::vector<double> old(8, 0), now(8, 5);
  Vec6 E = Vec6::Zero();
  E[0] = 0.001;
  Response r;
  law.respond(E, old.data(), now.data(), {}, r);
  EXPECT_EQ(old, now);
  EXPECT_LT((r.T - law.elastic.stiffness() * E).norm(), 1e-10);
}

TEST(PlaneStressLaw, HasNoStressAcrossAndAConsistentTangent) {
  PlaneStress<J2Law> law{hardSteel(0.5)};
  std::vector<double> old(9, 0), now(9), scratch(9);
  std::mt19937 gen(3);
  std::uniform_real_distribution<double> d(-0.02, 0.02);
  Vec6 E = Vec6::Zero();
  for (int step = 0; step < 8; ++step) {
    E[0] += d(gen), E[1] += d(gen), E[3] += d(gen);
    Response r, plus, minus;
    law.respond(E, old.data(), now.data(), {}, r);
    EXPECT_EQ(r.T[2], 0);
    for (int i : {0, 1, 3}) {
      Vec6 e = E;
      const double h = 1e-7;
      e[i] += h;
      law.respond(e, old.data(), scratch.data(), {}, plus);
      e[i] -= 2 * h;
      law.respond(e, old.data(), scratch.data(), {}, minus);
      EXPECT_LT(((plus.T - minus.T) / (2 * h) - r.tangent.col(i)).norm(), 2e-6 * r.tangent.norm()) << step << " " << i;
    }
    old = now;
    E -= r.flow;
  }
}

}  // namespace
