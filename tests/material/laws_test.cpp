// Every law: tangent against differences along a path, energy against work, and what its textbook says.
#include <gtest/gtest.h>

#include <Eigen/Eigenvalues>
#include <random>

#include "core/material/laws.hpp"

using namespace anvil::material;

namespace {

Hardening voce() {
  Hardening h;
  h.form = Hardening::Form::voce, h.yield = 250, h.gain = 120, h.rate = 15, h.slope = 80;
  return h;
}
Hardening power() {
  Hardening h;
  h.form = Hardening::Form::power, h.yield = 250, h.strain = 0.002, h.exponent = 0.2;
  return h;
}
const ElasticLaw metal = ElasticLaw::fromYoung(200000, 0.3);

std::vector<std::pair<const char*, AnyLaw>> laws() {
  J2Law saturating{metal, voce(), 0.3}, swift{metal, power(), 0};
  CyclicLaw cyclic{metal, voce(), {{20000, 100}, {3000, 10}, {500, 0}}};
  CurveElasticLaw curve;
  curve.bulk = 2000, curve.finalSlope = 50;
  curve.curve.add(0, 0), curve.curve.add(0.01, 10), curve.curve.add(0.05, 25), curve.curve.add(0.3, 60);
  RubberLaw mooney, ogden, yeoh;
  mooney.terms = {{0.8, 2}, {-0.2, -2}}, mooney.bulk = 300;
  ogden.terms = {{0.63, 1.3}, {0.0012, 5}, {-0.01, -2}}, ogden.bulk = 300;
  yeoh.yeoh = {0.5, -0.01, 0.001}, yeoh.bulk = 300;
  return {{"elastic", metal}, {"Voce", saturating}, {"power", swift}, {"cyclic", cyclic},
          {"curve", curve},   {"Mooney", mooney},   {"Ogden", ogden}, {"Yeoh", yeoh}};
}

bool isMetal(const AnyLaw& l) {
  return std::holds_alternative<J2Law>(l) || std::holds_alternative<CyclicLaw>(l) || std::holds_alternative<ElasticLaw>(l);
}

TEST(Laws, TangentsMatchFiniteDifferencesAlongAPath) {
  for (const auto& [name, any] : laws())
    std::visit(
        [&, name = name](const auto& law) {
          using Law = std::decay_t<decltype(law)>;
          std::mt19937 gen(3);
          const double size = isMetal(any) ? 0.004 : 0.25;
          std::uniform_real_distribution<double> d(-size, size);
          std::vector<double> old(size_t(Law::stateSize()) + 1, 0), now = old, scratch = old;
          Vec6 E = Vec6::Zero(), plastic = Vec6::Zero();
          for (int step = 0; step < 6; ++step) {
            for (auto& e : E) e += d(gen);
            if (step == 3 && !isMetal(any)) E << 0.3, 0.3, -0.1, 0, 0, 0;  // equal principal strains
            Response r, p, m;
            law.respond(E - plastic, old.data(), now.data(), {}, r);
            for (int j = 0; j < 6; ++j) {
              const double h = size * 1e-5;
              Vec6 e = E - plastic;
              e[j] += h, law.respond(e, old.data(), scratch.data(), {}, p);
              e[j] -= 2 * h, law.respond(e, old.data(), scratch.data(), {}, m);
              EXPECT_LT(((p.T - m.T) / (2 * h) - r.tangent.col(j)).norm(), 2e-6 * r.tangent.norm())
                  << name << " step " << step << " column " << j;
            }
            if (Law::symmetric(true)) {
              EXPECT_LT((r.tangent - r.tangent.transpose()).norm(), 1e-10 * r.tangent.norm()) << name;
            }
            plastic += r.flow, old = now;
          }
        },
        any);
}

TEST(Laws, ElasticStressIsTheSlopeOfItsEnergy) {
  for (const auto& [name, any] : laws()) {
    if (isMetal(any)) continue;
    std::visit(
        [&, name = name](const auto& law) {
          Vec6 E;
          E << 0.3, -0.1, 0.05, 0.2, -0.15, 0.1;
          Response r, p, m;
          law.respond(E, nullptr, nullptr, {}, r);
          for (int j = 0; j < 6; ++j) {
            const double h = 1e-6;
            Vec6 e = E;
            e[j] += h, law.respond(e, nullptr, nullptr, {}, p);
            e[j] -= 2 * h, law.respond(e, nullptr, nullptr, {}, m);
            EXPECT_NEAR((p.strainEnergy - m.strainEnergy) / (2 * h), r.T[j], 1e-5 * r.T.norm()) << name;
          }
        },
        any);
  }
}

TEST(Laws, RubberIsIsotropicAndStressFreeAtRest) {
  RubberLaw law;
  law.terms = {{0.63, 1.3}, {0.0012, 5}}, law.bulk = 500;
  Response r, turned;
  law.respond(Vec6::Zero(), nullptr, nullptr, {}, r);
  EXPECT_LT(r.T.norm(), 1e-13);
  EXPECT_NEAR(r.tangent(3, 3) / 2, law.shearModulus(), 1e-12);
  EXPECT_NEAR(r.strainEnergy, 0, 1e-14);
  Vec6 E;
  E << 0.3, -0.1, 0.05, 0.2, -0.15, 0.1;
  const Mat3 Q = Eigen::SelfAdjointEigenSolver<Mat3>(fromMandel((Vec6() << 1, 2, 3, 0.5, 0.2, -0.4).finished())).eigenvectors();
  law.respond(E, nullptr, nullptr, {}, r);
  law.respond(toMandel(Q * fromMandel(E) * Q.transpose()), nullptr, nullptr, {}, turned);
  EXPECT_LT((toMandel(Q * fromMandel(r.T) * Q.transpose()) - turned.T).norm(), 1e-12);
}

/// Drives a law in uniaxial stress along axial strains; returns the stresses.
template <class Law>
std::vector<double> uniaxial(const Law& law, const std::vector<double>& strains, std::vector<double>* alpha = nullptr) {
  std::vector<double> old(size_t(Law::stateSize()), 0), now = old, stress;
  Vec6 plastic = Vec6::Zero(), E = Vec6::Zero();
  for (double e : strains) {
    E[0] = e;
    Response r;
    for (int i = 0; i < 60; ++i) {
      law.respond(E - plastic, old.data(), now.data(), {false, false}, r);
      const Eigen::Matrix2d K = r.tangent.block<2, 2>(1, 1);
      const Eigen::Vector2d step = K.inverse() * r.T.segment<2>(1);
      E.segment<2>(1) -= step;
      if (step.norm() < 1e-16) break;
    }
    plastic += r.flow, old = now;
    stress.push_back(r.T[0]);
    if (alpha) alpha->push_back(now[Law::alphaAt]);
  }
  return stress;
}

TEST(Laws, TextbookHardeningIsReturnedInTension) {
  std::vector<double> path, alpha;
  for (int i = 1; i <= 60; ++i) path.push_back(0.3 * i / 60);
  for (const auto& h : {voce(), power()}) {
    alpha.clear();
    const auto stress = uniaxial(J2Law{metal, h, 0}, path, &alpha);
    for (size_t i = 0; i < stress.size(); ++i) EXPECT_NEAR(stress[i] / h(alpha[i]), 1, 1e-10);
  }
}

TEST(Laws, BackStressesSaturateAndTheLoopCloses) {
  // σ - σy = Σ C/γ (1 - e^(-γ εp)) in monotonic tension (J. Lemaitre, J. Chaboche, 1990)
  Hardening flat;
  flat.add(0, 250);
  const CyclicLaw law{metal, flat, {{20000, 100}, {3000, 10}}};
  std::vector<double> path, alpha;
  for (int i = 1; i <= 4000; ++i) path.push_back(0.05 * i / 4000);
  const auto stress = uniaxial(law, path, &alpha);
  for (size_t i = 999; i < stress.size(); i += 1000) {
    const double expected = 250 + 200 * (1 - std::exp(-100 * alpha[i])) + 300 * (1 - std::exp(-10 * alpha[i]));
    EXPECT_NEAR(stress[i] / expected, 1, 1e-3) << alpha[i];
  }
  path.clear();
  for (int cycle = 0; cycle < 12; ++cycle)
    for (int i = 1; i <= 400; ++i) path.push_back(0.01 * (i <= 100 ? i / 100. : i <= 300 ? 2 - i / 100. : i / 100. - 4));
  const auto loop = uniaxial(law, path);
  EXPECT_NEAR(loop[11 * 400 + 99], loop[10 * 400 + 99], 0.02) << "stable after some cycles";
  EXPECT_NEAR(loop[11 * 400 + 99], -loop[11 * 400 + 299], 0.5) << "symmetric";
}

TEST(Laws, OneBackStressWithoutRecoveryIsLinearKinematicHardening) {
  Hardening flat, sloped;
  flat.add(0, 250), sloped.add(0, 250), sloped.finalSlope = 2000;
  const CyclicLaw cyclic{metal, flat, {{2000, 0}}};
  const J2Law kinematic{metal, sloped, 1};
  std::vector<double> path;
  for (int i = 1; i <= 200; ++i) path.push_back(0.02 * std::sin(i * 0.05));
  const auto a = uniaxial(cyclic, path), b = uniaxial(kinematic, path);
  for (size_t i = 0; i < a.size(); ++i) EXPECT_NEAR(a[i], b[i], 1e-6 * 250);
}

TEST(Laws, CurveElasticityReturnsItsCurveAndUnloadsOnIt) {
  CurveElasticLaw law;
  law.bulk = 2000, law.finalSlope = 50;
  const std::vector<std::pair<double, double>> rows{{0.02, 15}, {0.08, 30}, {0.4, 60}};
  law.curve.add(0, 0);
  for (const auto& [e, s] : rows) law.curve.add(e - s / (9 * law.bulk), s);
  std::vector<double> old(1), stress;
  Vec6 E = Vec6::Zero();
  const auto at = [&](double e) {
    E[0] = e;
    Response r;
    for (int i = 0; i < 80; ++i) {
      law.respond(E, nullptr, nullptr, {}, r);
      E.segment<2>(1) -= Eigen::Matrix2d(r.tangent.block<2, 2>(1, 1)).inverse() * r.T.segment<2>(1);
    }
    return r.T[0];
  };
  for (const auto& [e, s] : rows) EXPECT_NEAR(at(e), s, 1e-8);
  EXPECT_NEAR(at(0.08), 30, 1e-8) << "the same on the way back";
  EXPECT_NEAR(at(-0.08), -30, 3) << "and nearly the same in compression (the volume differs)";
}

}  // namespace
