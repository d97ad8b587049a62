#include "core/checks/held_motions.hpp"

#include <algorithm>
#include <cmath>

#include "core/base/dense.hpp"

namespace anvil::checks {

HeldMotions::HeldMotions(const analysis::Problem& p, const std::vector<int>& nodes) : p_(p) {
  const int modes = p.dim() == 2 ? 3 : 6;
  gram_ = Eigen::MatrixXd::Zero(modes, modes);
  for (int n : nodes) centre_ += p.mesh.x[size_t(n)] / double(nodes.size());
  for (int n : nodes) size_ = std::max(size_, (p.mesh.x[size_t(n)] - centre_).norm());
}

void HeldMotions::hold(const Eigen::Vector3d& shift, const Eigen::Vector3d& turn) {
  Eigen::VectorXd row(gram_.rows());
  if (p_.dim() == 2)
    row << shift.x(), shift.y(), turn.z();
  else
    row << shift, turn;
  gram_ += row * row.transpose();
}

void HeldMotions::shift(const Eigen::Vector3d& place, const Eigen::Vector3d& direction) {
  hold(direction, ((place - centre_) / size_).cross(direction));
}

std::vector<std::string> HeldMotions::free() const {
  const int dim = p_.dim(), modes = int(gram_.rows());
  std::vector<std::string> words;
  if (p_.setting.space == element::Space::axisymmetric) {
    if (gram_(1, 1) < 1e-9) words.push_back("along z");
    return words;
  }
  const auto eigen = symmetricModes(gram_);
  // free modes are any mixture of each other: named are the directions that lie most in what they span, one after the other
  Eigen::MatrixXd free = Eigen::MatrixXd::Zero(modes, modes);
  int count = 0;
  for (int i = 0; i < modes; ++i)
    if (eigen.values[i] <= 1e-9) free += eigen.vectors.col(i) * eigen.vectors.col(i).transpose(), ++count;
  std::vector<int> greatest;
  for (int i = 0; i < count; ++i) {
    int k = 0;
    for (int j = 1; j < modes; ++j)
      if (free(j, j) > free(k, k) + 1e-9) k = j;
    greatest.push_back(k);
    const Eigen::VectorXd taken = free.col(k) / std::sqrt(free(k, k));
    free -= taken * taken.transpose();
  }
  std::sort(greatest.begin(), greatest.end());
  for (int k : greatest)
    words.push_back(k < dim    ? std::string("along ") + p_.axis(k)
                    : dim == 2 ? "turning"
                               : std::string("turning about ") + p_.axis(k - 3));
  return words;
}

}  // namespace anvil::checks
