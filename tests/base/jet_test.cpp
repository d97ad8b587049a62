// Numbers with their derivatives, against differences and each other.
#include "core/base/jet.hpp"

#include <gtest/gtest.h>

namespace anvil {
namespace {

/// x y² - 3 x / z, with 1/z and its derivatives given.
template <class J>
J sample(const J& x, const J& y, const J& z) {
  const double v = z.value;
  return x * y * y - x * z.through(1 / v, -1 / (v * v), 2 / (v * v * v)) * 3;
}

TEST(Jet, DerivativesAreThoseOfTheTextbook) {
  using J = Jet<3>;
  const double x = 1.5, y = -0.7, z = 2.5;
  const auto f = sample(J::variable(x, 0), J::variable(y, 1), J::variable(z, 2));
  EXPECT_DOUBLE_EQ(f.value, x * y * y - 3 * x / z);
  EXPECT_DOUBLE_EQ(f.first[0], y * y - 3 / z);
  EXPECT_DOUBLE_EQ(f.first[1], 2 * x * y);
  EXPECT_DOUBLE_EQ(f.first[2], 3 * x / (z * z));
  Eigen::Matrix3d second;
  second << 0, 2 * y, 3 / (z * z), 2 * y, 2 * x, 0, 3 / (z * z), 0, -6 * x / (z * z * z);
  EXPECT_LT((f.second - second).cwiseAbs().maxCoeff(), 1e-14);
}

TEST(Jet, FirstOrderAgreesWithSecond) {
  using One = Jet<3, 1>;
  using Two = Jet<3>;
  const auto one = sample(One::variable(0.3, 0), One::variable(4, 1), One::variable(-2, 2));
  const auto two = sample(Two::variable(0.3, 0), Two::variable(4, 1), Two::variable(-2, 2));
  EXPECT_DOUBLE_EQ(one.value, two.value);
  EXPECT_EQ(one.first, two.first);
  EXPECT_EQ(one.second.size(), 0);
}

}  // namespace
}  // namespace anvil
