// What a run will cost: the factor's size and work against closed forms, and how they grow with the mesh.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "core/checks/estimate.hpp"
#include "core/linear/direct_solver.hpp"
#include "core/lower/lower.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/model/quantities.hpp"
#include "core/problem/problem.hpp"
#include "core/run/assembly.hpp"
#include "core/run/constraints.hpp"

using namespace anvil;

namespace {

linear::SparsePattern dense(int n) {
  linear::SparsePattern p;
  p.start.push_back(0);
  for (int i = 0; i < n; ++i) {
    for (int j = 0; j < n; ++j) p.column.push_back(j);
    p.start.push_back(int(p.column.size()));
  }
  return p;
}

checks::Estimate of(const std::string& element, int count, const std::string& more = "") {
  const auto d = model::parse(
      R"({"anvil": 1, "space": "solid", "materials": {"m": {"elastic": {"E": 1000, "nu": 0.3}}},
    "parts": {"p": {"material": "m", "element": ")" +
      element + R"(", "shape": {"rectangle": {"at": [0, 0], "size": [10, 10]}}, "mesh": {"count": [)" + std::to_string(count) +
      ", " + std::to_string(count) + R"(]}, "extrude": {"depth": 10, "count": )" + std::to_string(count) +
      R"(}}}, "steps": {"a": {}, "b": {}}, "supports": {"s": {"on": "p.left", "fix": ["x", "y", "z"]}})" + more + "}");
  return checks::estimate(d, analysis::buildMesh(d, model::Quantities(d)));
}

}  // namespace

TEST(FactorCost, OfADenseMatrixIsItsTriangle) {
  for (const int n : {30, 120}) {
    const auto c = linear::factorCost(dense(n));
    EXPECT_NEAR(c.entries, n * (n + 1) / 2., 1e-9);
    EXPECT_NEAR(c.operations / (std::pow(n, 3) / 3), 1, 0.1);
  }
}

TEST(FactorCost, OfAChainGrowsWithItsLength) {
  linear::SparsePattern p;
  const int n = 2000;
  p.start.push_back(0);
  for (int i = 0; i < n; ++i) {
    for (int j = std::max(0, i - 1); j <= std::min(n - 1, i + 1); ++j) p.column.push_back(j);
    p.start.push_back(int(p.column.size()));
  }
  const auto c = linear::factorCost(p);
  EXPECT_GE(c.entries, 2 * n - 1);
  EXPECT_LT(c.entries, 4 * n) << "nested dissection of a chain fills little";
}

TEST(Estimate, CountsWhatThereIs) {
  const auto e = of("hex20", 4);
  EXPECT_EQ(e.cells, 64u);
  EXPECT_EQ(e.unknowns, 3 * e.nodes);
  EXPECT_EQ(e.steps, 2);
  EXPECT_TRUE(e.symmetric);
  EXPECT_FALSE(of("hex20", 2, R"(, "loads": {"p": {"on": "p.right", "course": 1}})").symmetric) << "a pressure that follows";
  EXPECT_TRUE(of("hex20", 2, R"(, "loads": {"p": {"on": "p.right", "kind": "force", "along": "x", "course": 1}})").symmetric);
}

TEST(Estimate, GrowsAsNestedDissectionDoes) {
  // in three dimensions factors grow as n^(4/3), work as n^2 (A. George, SIAM J. Numer. Anal. 10, 1973)
  const auto small = of("hex8", 8), large = of("hex8", 24);
  const double n = double(large.unknowns) / double(small.unknowns);
  const double memory = std::log((large.memory - 50) / (small.memory - 50)) / std::log(n);
  EXPECT_GT(memory, 1.05);
  EXPECT_LT(memory, 1.6);
  EXPECT_GT(large.iteration, small.iteration * n) << "work grows faster than the unknowns";
}

TEST(Estimate, MemoryIsThatOfTheFactors) {
  // against the factors of a matrix with these very couplings, three unknowns to a node
  const auto d = model::parse(R"({"anvil": 1, "space": "solid", "materials": {"m": {"elastic": {"E": 1000, "nu": 0.3}}},
    "parts": {"p": {"material": "m", "element": "hex8", "shape": {"rectangle": {"at": [0, 0], "size": [10, 10]}}, "mesh": {
      "count": [14, 14]}, "extrude": {"depth": 10, "count": 14}}}, "steps": {"a": {}}})");
  const auto mesh = analysis::buildMesh(d, model::Quantities(d));
  std::vector<std::vector<int>> rows(3 * mesh.x.size());
  for (const auto& b : mesh.blocks)
    for (size_t c = 0; c < b.count(); ++c)
      for (int i = 0; i < 24; ++i)
        for (int j = 0; j < 24; ++j) rows[size_t(3 * b.cell(c)[i / 3] + i % 3)].push_back(3 * b.cell(c)[j / 3] + j % 3);
  linear::SparsePattern p;
  p.start.push_back(0);
  for (auto& r : rows) {
    std::sort(r.begin(), r.end());
    r.erase(std::unique(r.begin(), r.end()), r.end());
    p.column.insert(p.column.end(), r.begin(), r.end());
    p.start.push_back(int(p.column.size()));
  }
  const double factors = 8e-6 * linear::factorCost(p).entries, said = checks::estimate(d, mesh).memory;
  EXPECT_GT(said, factors);
  EXPECT_LT(said, 2 * factors + 120) << "the matrix and the elements' state beside them";
}

TEST(Estimate, KnowsWhatContactCouples) {
  // two slabs on each other: the factor of the equations that the run itself sets up
  const auto d = model::parse(R"({"anvil": 1, "space": "solid", "materials": {"m": {"elastic": {"E": 1000, "nu": 0.3}}},
    "parts": {"low": {"material": "m", "element": "hex20", "shape": {"rectangle": {"at": [0, 0], "size": [20, 20]}}, "extrude": {
        "depth": 6, "count": 3}, "mesh": {"count": [8, 8]}},
      "high": {"material": "m", "element": "hex20", "shape": {"rectangle": {"at": [0.4, 0.3], "size": [19, 20]}}, "extrude": {
        "from": 6, "depth": 6, "count": 3}, "mesh": {"count": [7, 9]}}},
    "contacts": {"c": {"between": ["low.back", "high.front"], "friction": 0.2}}, "steps": {"s": {}},
    "supports": {"foot": {"on": "low.front", "fix": ["x", "y", "z"]}},
    "motions": {"m": {"on": "high.back", "along": "z", "course": -0.02}}})");
  auto p = analysis::lower(d);
  const analysis::Constraints constraints(*p, 0);
  analysis::Assembly assembly(*p);
  assembly.setConstraints(constraints);
  Eigen::VectorXd u = Eigen::VectorXd::Zero(p->dofs());
  const Eigen::VectorXd before = u;
  for (int n = 0; n < p->nodeCount(); ++n)
    if (p->mesh.x[size_t(n)].z() > 7) u[3 * n + 2] = -0.01;
  for (auto& pair : p->pairs) (void)pair.measureInitial({3, &p->mesh.x, &before, &before, &p->rigid, p->depth()});
  analysis::LoadLevel m;
  m.before = m.stepStart = &before, m.time = 0.5, m.size = 0.5, m.stepShare = 0.5;
  assembly.evaluate(u, m, true, true, false, nullptr);
  ASSERT_FALSE(assembly.symmetric());
  const double factors = 8e-6 * linear::factorCost(assembly.pattern()).entries;  // of one triangle
  const double said = checks::costOf(d, p->mesh).memory;
  EXPECT_GT(said, 2 * factors);
  EXPECT_LT(said, 3.5 * factors + 120);
}

TEST(Estimate, IsSaidInOneSentence) {
  const auto words = checks::inWords(of("hex8", 3));
  EXPECT_NE(words.find("MB of memory"), std::string::npos) << words;
  EXPECT_NE(words.find("an iteration"), std::string::npos) << words;
  EXPECT_NE(words.find("2 steps"), std::string::npos) << words;
  checks::Estimate huge;
  huge.memory = 1e9, huge.iteration = 5000, huge.steps = 1;
  EXPECT_NE(checks::inWords(huge).find("are free"), std::string::npos) << "more than the machine has";
}
