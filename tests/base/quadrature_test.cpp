// Points of integration: powers are integrated exactly up to twice their number.
#include "core/base/quadrature.hpp"

#include <gtest/gtest.h>

using namespace anvil;

TEST(Quadrature, GaussPointsIntegratePowersExactly) {
  for (int n = 1; n <= 9; ++n) {
    const auto rule = gaussLine(n);
    ASSERT_EQ(rule.size(), size_t(n));
    for (size_t i = 1; i < rule.size(); ++i) EXPECT_GT(rule[i][0], rule[i - 1][0]);
    for (int power = 0; power < 2 * n; ++power) {
      double sum = 0;
      for (const auto& [x, w] : rule) sum += w * std::pow(x, power);
      EXPECT_NEAR(sum, power % 2 ? 0 : 2. / (power + 1), 1e-14) << n << " points, power " << power;
    }
    double beyond = 0;
    for (const auto& [x, w] : rule) beyond += w * std::pow(x, 2 * n);
    EXPECT_GT(std::abs(beyond - 2. / (2 * n + 1)), 1e-7);
  }
}
