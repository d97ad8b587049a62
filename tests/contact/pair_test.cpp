// One pair by itself, moved by hand: gaps and the share of a way to touch against closed forms, what both sides are given in
// balance, its memory, and its switches. Faces that do not match, in the plane and in space.
#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/base/error.hpp"
#include "core/contact/rotation.hpp"
#include "core/lower/lower.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "run/small_runs.hpp"

using namespace anvil;
using Eigen::Vector3d;
using Eigen::VectorXd;

namespace {

struct Stack {
  std::unique_ptr<analysis::Problem> p;
  VectorXd u, before;
  contact::Configuration configuration() { return {p->dim(), &p->mesh.x, &u, &before, &p->rigid, p->depth()}; }
  contact::Pair& pair() { return p->pairs.front(); }

  /// The upper block moved from its undeformed place.
  void moveHigh(const Vector3d& by) {
    for (const auto& b : p->mesh.blocks)
      if (p->mesh.parts[size_t(b.part)] == "high")
        for (int n : b.nodes)
          for (int k = 0; k < p->dim(); ++k) u[p->dim() * n + k] = by[k];
  }
};

/// A block of 6 × 3 (× 2) and another above it, `gap` away, their divisions unlike each other.
Stack stackOf(const std::string& space, double gap, const std::string& contact = "") {
  const auto part = [&](double y, double width, int across, const char* deep) {
    return fmt::format(
        R"({{"material": "m", "element": "{}", "shape": {{"rectangle": {{"at": [{}, {}], "size": [{}, 3]}}}}, "mesh": {{
        "count": [{}, 2]}}{}}})",
        space == "solid" ? "hex8" : "quad4", (6 - width) / 2, y, width, across, space == "solid" ? deep : "");
  };
  Stack s;
  s.p = analysis::lower(
      model::parse(fmt::format(R"({{"anvil": 1, "space": "{}", "materials": {{"m": {{"elastic": {{"E": 1000, "nu": 0.3}}}}}},
    "parts": {{"low": {}, "high": {}}}, "contacts": {{"touch": {{"between": ["high.bottom", "low.top"]{}}}}}, "steps":
      {{"s": {{}}}}}})",
                               space, part(0, 6, 5, R"(, "extrude": {"from": 0, "depth": 2, "count": 3})"),
                               part(3 + gap, 4, 3, R"(, "extrude": {"from": 0.25, "depth": 1.5, "count": 2})"), contact)));
  s.u = s.before = VectorXd::Zero(s.p->dofs());
  return s;
}

class PairBy : public ::testing::TestWithParam<std::string> {
 protected:
  double area() const { return GetParam() == "solid" ? 6 : 4; }
};

TEST_P(PairBy, GapsOfParallelFacesAreExact) {
  auto s = stackOf(GetParam(), 0.2);
  const auto start = s.pair().measureInitial(s.configuration());
  EXPECT_NEAR(start.leastGap, 0.2, 1e-12);
  EXPECT_NEAR(start.greatestGap, 0.2, 1e-12);
  EXPECT_EQ(start.nodes, int(s.pair().states().size())) << "all of the slave's corners are at least partly under the other";
  for (const auto& state : s.pair().states()) EXPECT_EQ(state.status, contact::Status::open);
}

TEST_P(PairBy, TheShareOfTheWayToTouch) {
  auto s = stackOf(GetParam(), 0.2);
  s.pair().measureInitial(s.configuration());
  s.pair().begin();
  s.moveHigh({0, -0.5, 0});
  EXPECT_NEAR(s.pair().shareToTouch(s.configuration(), 0.01), 0.2 / 0.5, 1e-9);
  s.moveHigh({0, -0.19, 0});
  EXPECT_EQ(s.pair().shareToTouch(s.configuration(), 0.01), 1) << "it does not get there";
  s.moveHigh({0, -0.5, 0});
  s.pair().setActive(false);
  EXPECT_EQ(s.pair().shareToTouch(s.configuration(), 0.01), 1) << "switched off there is nothing to touch";
}

TEST_P(PairBy, TiedFacesTurnedTogetherStayTogether) {
  auto s = stackOf(GetParam(), 0, R"(, "kind": "tied")");
  s.pair().measureInitial(s.configuration());
  s.pair().begin();
  const Eigen::Matrix3d turn =
      contact::rotationOf(Vector3d(GetParam() == "solid" ? 0.4 : 0, GetParam() == "solid" ? -0.3 : 0, 1.1));
  for (size_t n = 0; n < s.p->mesh.x.size(); ++n) {
    const Vector3d moved = turn * s.p->mesh.x[n] + Vector3d(7, -3, 0) - s.p->mesh.x[n];
    for (int k = 0; k < s.p->dim(); ++k) s.u[s.p->dim() * int(n) + k] = moved[k];
  }
  std::vector<contact::Contribution> parts;
  const auto report = s.pair().evaluate(s.configuration(), true, true, parts);
  EXPECT_EQ(report.active, int(s.pair().states().size()));
  EXPECT_LT(report.gapError, 1e-12) << "neither gap nor slip";
  EXPECT_LT(report.violation, 1e-18);
}

TEST_P(PairBy, WhatTiedFacesSlipIsWhatOneWasMoved) {
  auto s = stackOf(GetParam(), 0, R"(, "kind": "tied")");
  s.pair().measureInitial(s.configuration());
  s.pair().begin();
  s.moveHigh({0.03, 0, 0});
  std::vector<contact::Contribution> parts;
  s.pair().evaluate(s.configuration(), true, true, parts);
  s.pair().accept();
  for (double slip : s.pair().slips()) EXPECT_NEAR(std::abs(slip), 0.03, 1e-12) << "over the same places as at the start";
  for (double gap : s.pair().gaps()) EXPECT_NEAR(gap, 0, 1e-12);
}

TEST_P(PairBy, PressesBothSidesAlike) {
  auto s = stackOf(GetParam(), 0.2);
  s.pair().measureInitial(s.configuration());
  s.pair().begin();
  const double depth = 0.004;
  s.moveHigh({0.07, -0.2 - depth, 0});
  s.pair().setHardness(1e-3);  // pressure by the gap alone
  std::vector<contact::Contribution> parts;
  const auto report = s.pair().evaluate(s.configuration(), false, true, parts);
  EXPECT_EQ(report.active, int(s.pair().states().size()));
  parts.clear();
  s.pair().evaluate(s.configuration(), false, true, parts);
  const double pressure = s.pair().states().front().pressure;
  EXPECT_GT(pressure, 0);
  for (const auto& state : s.pair().states())
    EXPECT_NEAR(state.pressure, pressure, 1e-9 * pressure) << "a uniform overlap presses uniformly";
  Vector3d force = Vector3d::Zero(), moment = force, onHigh = force;
  const int dim = s.p->dim();
  for (const auto& part : parts)
    for (size_t i = 0; i < part.dofs.size(); ++i) {
      const int node = part.dofs[i] / dim, k = part.dofs[i] % dim;
      Vector3d at = s.p->mesh.x[size_t(node)], f = Vector3d::Zero();
      for (int j = 0; j < dim; ++j) at[j] += s.u[dim * node + j];
      f[k] = -part.force[Eigen::Index(i)];  // a residual is minus what acts
      force += f, moment += at.cross(f);
      if (s.p->mesh.x[size_t(node)].y() > 3.1) onHigh += f;
    }
  EXPECT_NEAR(onHigh.y(), pressure * area(), 1e-9 * pressure);
  EXPECT_LT(force.norm(), 1e-11 * pressure);
  EXPECT_LT(moment.norm(), 1e-10 * pressure);
  const auto sum = s.pair().resultant(s.configuration());
  EXPECT_NEAR(sum.area, area(), 1e-10);
  EXPECT_NEAR(sum.pressureIntegral, pressure * area(), 1e-9 * pressure);
  const double up =
      s.pair().setup().slave.name.starts_with("high") ? 1 : -1;  // the sums are those on the slave, which the program chooses
  EXPECT_NEAR(sum.normalForce.y(), up * pressure * area(), 1e-9 * pressure);
  EXPECT_NEAR(sum.greatestPenetration, depth, 1e-12);
}

TEST_P(PairBy, DecidesWithoutAnotherIntegrationAsItDoesWithOne) {
  for (const char* contact : {"", R"(, "friction": 0.3)", R"(, "kind": "rough")"})
    for (const double depth : {-0.01, 0.004}) {
      auto one = stackOf(GetParam(), 0.2, contact), other = stackOf(GetParam(), 0.2, contact);
      for (auto* s : {&one, &other}) {
        s->pair().measureInitial(s->configuration());
        s->pair().begin();
        s->moveHigh({0.07, -0.2 - depth, 0});
      }
      std::vector<contact::Contribution> parts;
      const auto whole = one.pair().evaluate(one.configuration(), false, true, parts);
      const auto first = other.pair().evaluate(other.configuration(), false, false, parts);
      EXPECT_EQ(first.changes, 0);
      const auto later = other.pair().decide();
      EXPECT_EQ(later.changes, whole.changes);
      EXPECT_EQ(later.changes > 0, depth > 0) << contact << depth;
      EXPECT_EQ(later.turned, whole.turned);
      EXPECT_EQ(later.active, whole.active);
      EXPECT_EQ(later.sticking, whole.sticking);
      EXPECT_EQ(later.gapError, whole.gapError);
      EXPECT_EQ(later.leastGap, whole.leastGap);
      EXPECT_EQ(later.violation, whole.violation);
      EXPECT_EQ(other.pair().decide().changes, 0) << "it is settled";
    }
}

/// Matrix and right-hand side of contributions, over all dofs.
std::pair<Eigen::MatrixXd, VectorXd> summed(const Stack& s, const std::vector<contact::Contribution>& parts) {
  std::pair<Eigen::MatrixXd, VectorXd> sum{Eigen::MatrixXd::Zero(s.u.size(), s.u.size()), VectorXd::Zero(s.u.size())};
  for (const auto& part : parts) {
    Eigen::MatrixXd K = Eigen::MatrixXd::Zero(Eigen::Index(part.dofs.size()), Eigen::Index(part.dofs.size()));
    if (part.stiffness.size()) K += part.stiffness;
    if (part.left.size()) K += part.left * part.right.transpose();
    for (size_t i = 0; i < part.dofs.size(); ++i) {
      sum.second[part.dofs[i]] += part.condensed[Eigen::Index(i)];
      for (size_t j = 0; j < part.dofs.size(); ++j) sum.first(part.dofs[i], part.dofs[j]) += K(Eigen::Index(i), Eigen::Index(j));
    }
  }
  return sum;
}

TEST_P(PairBy, ReleasedCornersChangeTheEquationsAsANewEvaluationWould) {
  auto s = stackOf(GetParam(), 0.2, R"(, "friction": 0.3)");
  s.pair().measureInitial(s.configuration());
  s.pair().begin();
  s.moveHigh({0.02, -0.204, 0});
  std::vector<contact::Contribution> parts;
  s.pair().evaluate(s.configuration(), true, true, parts);
  VectorXd du = VectorXd::Zero(s.u.size());
  s.pair().solveMultipliers(du), s.pair().step(1);  // now they press
  parts.clear();
  s.pair().evaluate(s.configuration(), true, true, parts);
  for (int n = 0; n < s.p->nodeCount(); ++n)  // the right half is drawn off
    if (const auto& x = s.p->mesh.x[size_t(n)]; x.y() > 3.1 && x.x() > 3.2) du[s.p->dim() * n + 1] = 0.02;
  s.pair().solveMultipliers(du);
  std::vector<contact::Contribution> changes, anew;
  ASSERT_TRUE(s.pair().releasePulling(changes));
  auto changed = summed(s, parts);
  const auto by = summed(s, changes);
  EXPECT_GT(by.first.norm(), 1e-3 * changed.first.norm());
  changed.first += by.first, changed.second += by.second;
  s.pair().evaluate(s.configuration(), true, false, anew);
  const auto whole = summed(s, anew);
  EXPECT_LT((changed.first - whole.first).norm(), 1e-10 * whole.first.norm());
  EXPECT_LT((changed.second - whole.second).norm(), 1e-10 * whole.second.norm());
  EXPECT_FALSE(s.pair().releasePulling(changes)) << "they are open";
}

TEST_P(PairBy, LetsGoWhatHangsOverTheEdge) {
  auto s = stackOf(GetParam(), 0.2);
  s.pair().measureInitial(s.configuration());
  s.pair().begin();
  s.pair().setHardness(1e-3);
  s.moveHigh({3, -0.204, 0});  // two of its four hang over
  std::vector<contact::Contribution> parts;
  s.pair().evaluate(s.configuration(), false, true, parts);
  parts.clear();
  s.pair().evaluate(s.configuration(), false, true, parts);
  EXPECT_NEAR(s.pair().resultant(s.configuration()).area, area() / 2, 1e-10);
}

TEST_P(PairBy, WhatFacesIsSoughtAgainAsTheBodiesMove) {
  auto moved = stackOf(GetParam(), 0.01);
  moved.pair().measureInitial(moved.configuration());
  std::vector<contact::Contribution> parts;
  for (int step = 1; step <= 40; ++step) {  // by a twentieth of an edge, sideways and down, over the rim in the end
    moved.pair().begin();
    moved.before = moved.u;
    moved.moveHigh({0.07 * step, -2.5e-4 * step, 0.004 * step});
    parts.clear();
    moved.pair().evaluate(moved.configuration(), true, false, parts);
    auto anew = stackOf(GetParam(), 0.01);
    anew.u = moved.u, anew.before = moved.before;
    anew.pair().begin();
    parts.clear();
    anew.pair().evaluate(anew.configuration(), true, false, parts);
    ASSERT_EQ(moved.pair().gaps(), anew.pair().gaps()) << "to the last bit, step " << step;
    const auto one = moved.pair().shown(), other = anew.pair().shown();
    for (size_t a = 0; a < one.size(); ++a) ASSERT_EQ(one[a].area, other[a].area) << step;
    if (step == 10) {
      EXPECT_NEAR(*std::min_element(moved.pair().gaps().begin(), moved.pair().gaps().end()), 0.0075, 1e-9);
    }
  }
}

TEST_P(PairBy, AnOverlapByNumberCountsLikeOneInSpace) {
  auto moved = stackOf(GetParam(), 0.2), given = stackOf(GetParam(), 0.2);
  for (auto* s : {&moved, &given}) s->pair().measureInitial(s->configuration()), s->pair().begin(), s->pair().setHardness(1e-3);
  moved.moveHigh({0, -0.2 - 0.01, 0});
  given.moveHigh({0, -0.2, 0});
  given.pair().setInterference(0.01, 1);
  for (auto* s : {&moved, &given})
    for (int k = 0; k < 2; ++k) {
      std::vector<contact::Contribution> parts;
      s->pair().evaluate(s->configuration(), false, true, parts);
    }
  for (size_t a = 0; a < moved.pair().states().size(); ++a)
    EXPECT_NEAR(given.pair().states()[a].pressure / moved.pair().states()[a].pressure, 1, 1e-9);
}

TEST_P(PairBy, WhatIsStoredComesBack) {
  auto s = stackOf(GetParam(), 0.2, R"(, "friction": 0.3)");
  s.pair().measureInitial(s.configuration());
  s.pair().begin();
  s.pair().setHardness(1e-3);
  s.moveHigh({0.01, -0.21, 0});
  std::vector<contact::Contribution> parts;
  for (int k = 0; k < 2; ++k) parts.clear(), s.pair().evaluate(s.configuration(), false, true, parts);
  s.pair().accept();
  const auto stored = s.pair().save();
  auto other = stackOf(GetParam(), 0.2, R"(, "friction": 0.3)");
  other.pair().measureInitial(other.configuration());
  other.pair().restore(stored);
  EXPECT_EQ(other.pair().save(), stored);
  for (size_t a = 0; a < s.pair().states().size(); ++a) {
    EXPECT_EQ(other.pair().states()[a].pressure, s.pair().states()[a].pressure);
    EXPECT_EQ(other.pair().states()[a].status, s.pair().states()[a].status);
  }
  auto cut = stored;
  cut.pop_back();
  EXPECT_THROW(other.pair().restore(cut), Error) << "of another mesh";
}

TEST_P(PairBy, SwitchedOffItGivesNothing) {
  auto s = stackOf(GetParam(), 0.2);
  s.pair().measureInitial(s.configuration());
  s.pair().begin();
  s.pair().setActive(false);
  s.moveHigh({0, -0.3, 0});
  std::vector<contact::Contribution> parts;
  const auto report = s.pair().evaluate(s.configuration(), true, true, parts);
  EXPECT_EQ(report.active, 0);
  double most = 0;
  for (const auto& part : parts)
    if (part.force.size()) most = std::max(most, part.force.cwiseAbs().maxCoeff());
  EXPECT_EQ(most, 0);
}

TEST_P(PairBy, SofterStickingDoesNotStay) {
  auto s = stackOf(GetParam(), 0.2, R"(, "friction": 0.3)");
  auto& pair = s.pair();
  pair.measureInitial(s.configuration());
  pair.begin();
  const auto evaluate = [&] {
    std::vector<contact::Contribution> parts;
    pair.evaluate(s.configuration(), true, true, parts);
    VectorXd du = VectorXd::Zero(s.p->dofs());
    pair.solveMultipliers(du), pair.step(1);
  };
  s.moveHigh({0, -0.2001, 0});
  evaluate(), evaluate(), pair.accept(), s.before = s.u;
  s.moveHigh({1e-7, -0.2001, 0});  // far below the friction bound: it sticks
  const auto friction = [&] {
    pair.begin();
    evaluate(), evaluate();
    for (const auto& state : pair.states()) EXPECT_EQ(state.status, contact::Status::sticking);
    return pair.states().front().friction.norm();
  };
  friction(), pair.accept(), s.before = s.u;  // touched for the first time before
  const auto slide = [&](double to) {
    s.moveHigh({to, -0.2001, 0});
    const double before = pair.states().front().friction.norm(), after = friction();
    pair.accept(), s.before = s.u;
    return after - before;
  };
  const double stiff = slide(2e-7);
  ASSERT_GT(stiff, 0);
  pair.soften(), pair.soften();
  EXPECT_NEAR(slide(3e-7) / stiff, 0.09, 1e-6);
  double before = 0.09;
  for (int k = 0; k < 8; ++k) {
    const double now = slide((4 + k) * 1e-7) / stiff;
    EXPECT_TRUE(now > 1.2 * before || now > 1 - 1e-6) << "harder with each increment";
    before = now;
  }
  EXPECT_NEAR(before, 1, 1e-6);
}

TEST(Pair, CouplesNothingInSpaceUntilItIsAboutToClose) {
  auto s = stackOf("solid", 0.2);
  s.pair().measureInitial(s.configuration());
  s.pair().begin();
  const auto coupled = [&](double down) {
    s.moveHigh({0, -down, 0});
    std::vector<contact::Contribution> parts;
    const auto report = s.pair().evaluate(s.configuration(), true, true, parts);
    EXPECT_NEAR(report.leastGap, 0.2 - down, 1e-12) << "how far they are is known in any case";
    for (double gap : s.pair().gaps()) EXPECT_NEAR(gap, 0.2 - down, 1e-12);
    return std::pair{report.active, std::any_of(parts.begin(), parts.end(), [](const auto& p) { return !p.dofs.empty(); })};
  };
  EXPECT_EQ(coupled(0.05), std::pair(0, false));
  EXPECT_EQ(coupled(0.199), std::pair(0, true)) << "the next correction may close it";
  EXPECT_EQ(coupled(0.201), std::pair(int(s.pair().states().size()), true));
  s.pair().begin();
  EXPECT_EQ(coupled(0.05), std::pair(0, false)) << "let go, it sleeps again";
  EXPECT_EQ(coupled(0.25), std::pair(int(s.pair().states().size()), true)) << "passed through in one go it is seen as well";
}

INSTANTIATE_TEST_SUITE_P(Spaces, PairBy, ::testing::Values("plane strain", "solid"), [](const auto& info) {
  return info.param == "solid" ? std::string("InSpace") : std::string("InThePlane");
});

}  // namespace
